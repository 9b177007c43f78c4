import { useWeakest } from "../../api/ends";
import { amperes, trim } from "../../format";

/** The weakest link of every circuit, the least to spare first. */
export function LinksLeaf() {
  const { data, error, isFetching } = useWeakest();
  if (error) return <p className="text-madder">{error.message}</p>;
  if (!data) return <p className="text-second">Looking along every circuit ...</p>;
  if (data.links.length === 0) return <p className="text-second">No wire yet, so no link.</p>;
  const [first] = data.links;
  return (
    <div className={isFetching ? "opacity-60" : ""}>
      {first && (
        <p className="mb-1 text-lead">
          Least to spare: <strong className="font-bold">{first.name}</strong>, {amperes(first.carries_a)} of{" "}
          {amperes(first.holds_a)} that its {first.kind === "protection" ? "fuse" : first.kind} holds.
        </p>
      )}
      <p className="mb-2 max-w-[86ch] text-second">
        Wire, contact, terminal, splice or fuse: the one that gives out first in each circuit, and what it holds for
        good where it lies.
      </p>
      <table className="w-full text-plain" aria-label="Weakest links">
        <thead className="text-left text-fine text-second">
          <tr className="border-b border-ink">
            <th className="py-1">Circuit</th>
            <th className="w-[90px] text-right">Current</th>
            <th className="w-[90px] text-right">Holds</th>
            <th className="w-[18%] pl-5">Used</th>
            <th className="pl-3">Weakest</th>
          </tr>
        </thead>
        <tbody>
          {data.links.map((x) => {
            const share = x.holds_a > 0 ? x.carries_a / x.holds_a : 1;
            return (
              <tr key={x.circuit} className="border-b border-faint">
                <td className="py-1.5">
                  <span className="font-figures">{x.circuit}</span> {x.name === x.circuit ? "" : x.name}
                </td>
                <td className="text-right font-figures">{amperes(x.carries_a)}</td>
                <td className="text-right font-figures font-bold">{trim(x.holds_a, x.holds_a < 10 ? 2 : 1)} A</td>
                <td className="pl-5">
                  <svg width="100%" height={10} aria-hidden="true">
                    <rect width="100%" height="10" fill="var(--rule-faint)" />
                    <rect
                      width={`${Math.min(share, 1) * 100}%`}
                      height="10"
                      fill={share > 1 ? "var(--ochre)" : "var(--verdigris)"}
                    />
                  </svg>
                </td>
                <td className="pl-3">{x.link}</td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </div>
  );
}
