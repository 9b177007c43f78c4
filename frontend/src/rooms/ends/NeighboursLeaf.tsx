import { useState } from "react";
import { useNeighbours, usePinout } from "../../api/ends";

/** What a bent pin or a drop of water does between neighbours, and an order that does better. */
export function NeighboursLeaf({ id }: { id: string }) {
  const { data, error, isFetching } = useNeighbours(id);
  const { act } = usePinout();
  const [problem, setProblem] = useState<string | null>(null);
  if (error) return <p className="text-madder">{error.message}</p>;
  if (!data) return <p className="text-second">Bending one pin after another ...</p>;
  const { standing, proposal } = data;
  return (
    <div className={isFetching ? "opacity-60" : ""}>
      <p className="mb-3 max-w-[86ch] text-second">
        A bent pin or a water bridge joins two neighbours. What it would do is scored from 1 to 10, so that one order of
        the ways can be held against another; the scores mean nothing beyond that.
      </p>
      <p className="mb-3 text-lead">
        This order scores <strong className="font-figures">{standing.score}</strong>
        {standing.bridges.length === 0 && standing.split.length === 0
          ? ": no two neighbours harm each other."
          : "."}{" "}
        {standing.split.length > 0 && <>Apart that belong together: {standing.split.join(", ")}.</>}
      </p>
      {proposal ? (
        <div className="mb-4 flex flex-wrap items-baseline gap-3 border border-ink bg-sheet px-4 py-3">
          <span>
            Moving {proposal.moves} pins brings it to <strong className="font-figures">{proposal.score}</strong>. What
            is locked or kept stays.
          </span>
          <button
            className="press"
            onClick={() =>
              void act({ connector: id, act: "propose", a: "", b: "" }).then((p) => setProblem(p?.detail ?? null))
            }
          >
            Take that order
          </button>
          {problem && (
            <span role="alert" className="text-madder">
              {problem}
            </span>
          )}
        </div>
      ) : (
        <p className="mb-4 text-second">
          No exchange of two ways does better. Only change the order where the device leaves you free to.
        </p>
      )}
      {standing.bridges.length > 0 && (
        <table className="w-full max-w-[760px] text-plain" aria-label="Neighbours">
          <thead className="text-left text-fine text-second">
            <tr className="border-b border-ink">
              <th className="w-[120px] py-1">Ways</th>
              <th className="w-[70px] text-right">Score</th>
              <th className="w-[20%] pl-5" aria-label="Score as a bar" />
              <th className="pl-3">A bridge</th>
            </tr>
          </thead>
          <tbody>
            {standing.bridges.slice(0, 40).map((b) => (
              <tr key={`${b.a}-${b.b}`} className="border-b border-faint">
                <td className="py-1.5 font-figures font-bold">
                  {b.a} and {b.b}
                </td>
                <td className="text-right font-figures">{b.score}</td>
                <td className="pl-5">
                  <svg width="100%" height={10} aria-hidden="true">
                    <rect width="100%" height="10" fill="var(--rule-faint)" />
                    <rect
                      width={`${b.score * 10}%`}
                      height="10"
                      fill={b.score >= 8 ? "var(--madder)" : b.score >= 4 ? "var(--ochre)" : "var(--verdigris)"}
                    />
                  </svg>
                </td>
                <td className="pl-3">{b.words}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </div>
  );
}
