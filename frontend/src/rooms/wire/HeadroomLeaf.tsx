import { Link } from "react-router";
import { useDesign, useHeadroom } from "../../api/design";
import { Underway } from "../../components/Underway";
import { amperes, trim } from "../../format";

const PLACES = [
  ["fuse", "Behind each fuse", "Its largest load is raised, the wires as they are."],
  ["source", "Of each source", "What it can give, less what is asked of it in the mode that asks most."],
  ["branch", "In each branch", "All currents in it raised alike, until a wire reaches its temperature."],
] as const;

function more(amps: number): string {
  return amps < 0.01 ? "none" : `${trim(amps, amps < 10 ? 2 : 0)} A`;
}

function lowered(words: string): string {
  return words.charAt(0).toLowerCase() + words.slice(1);
}

/** How many amperes more, until something must change, and what that is. */
export function HeadroomLeaf() {
  const { design } = useDesign();
  const { data, error, isFetching, share } = useHeadroom();
  if (error) return <p className="text-madder">{error.message}</p>;
  const underway = <Underway text="Raising one load after another" share={share} />;
  if (!data) return underway;
  const [first] = data.rows
    .filter((r) => r.more_a !== null)
    .sort((a, b) => (a.more_a ?? Infinity) - (b.more_a ?? Infinity));
  return (
    <div className={isFetching ? "opacity-60" : ""}>
      {isFetching && underway}
      {first && (
        <p className="mb-1 text-lead">
          Tightest: <strong className="font-bold">{first.name}</strong>, {first.more_a !== null && more(first.more_a)}{" "}
          more{first.changes[0] ? `; then ${lowered(first.changes[0])}` : ""}.
        </p>
      )}
      <p className="mb-2 max-w-[86ch] text-second">
        Before you add a lamp or a bigger pump: how many amperes more, until something must change.
      </p>
      {PLACES.map(([place, title, how]) => {
        const rows = data.rows
          .filter((r) => r.place === place)
          .sort((a, b) => (a.more_a ?? Infinity) - (b.more_a ?? Infinity));
        if (rows.length === 0) return null;
        return (
          <section key={place} className="mb-6">
            <h2 className="text-head">{title}</h2>
            <p className="mb-1 text-plain text-second">{how}</p>
            <table className="w-full text-plain" aria-label={title}>
              <thead className="text-left text-fine text-second">
                <tr className="border-b border-ink">
                  <th className="w-[24%] py-1">
                    {place === "branch" ? "Branch" : place === "fuse" ? "Fuse" : "Source"}
                  </th>
                  <th className="w-[10%] text-right">Current</th>
                  <th className="w-[12%] text-right">More</th>
                  <th className="w-[16%] pl-5">Room</th>
                  <th className="pl-3">Then</th>
                </tr>
              </thead>
              <tbody>
                {rows.map((r) => {
                  const share = r.more_a === null ? 1 : r.more_a / Math.max(r.more_a + r.carries_a, 1e-9);
                  return (
                    <tr key={r.id} className="border-b border-faint align-top">
                      <td className="py-1.5">
                        {place === "branch" ? (
                          <Link className="quiet" to={`/d/${design.id}/route?branch=${r.id}`}>
                            <span className="font-figures">{r.id}</span>
                          </Link>
                        ) : null}{" "}
                        {r.name}
                      </td>
                      <td className="py-1.5 text-right font-figures">{amperes(r.carries_a)}</td>
                      <td className="py-1.5 text-right font-figures font-bold">
                        {r.more_a === null ? (r.changes.length ? "ample" : "not limited") : more(r.more_a)}
                      </td>
                      <td className="py-2 pl-5">
                        <svg width="100%" height={12} aria-hidden="true">
                          <rect x="0" y="1" width="100%" height="10" fill="var(--rule-faint)" />
                          <rect
                            x="0"
                            y="1"
                            width={`${Math.min(share, 1) * 100}%`}
                            height="10"
                            fill={share < 0.05 ? "var(--ochre)" : "var(--verdigris)"}
                          />
                        </svg>
                      </td>
                      <td className="py-1.5 pl-3">
                        {r.changes.join("; ") ||
                          (place === "source" ? "It has no stated limit." : "Nothing changes within 500 A.")}
                        <span className="block text-fine text-second">
                          {place === "fuse" ? `added to ${r.at}` : r.at}
                        </span>
                      </td>
                    </tr>
                  );
                })}
              </tbody>
            </table>
          </section>
        );
      })}
    </div>
  );
}
