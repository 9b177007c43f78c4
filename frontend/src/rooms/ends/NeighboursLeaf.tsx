import { useMemo, useState } from "react";
import type { DesignReply } from "../../api/client";
import { useDesign } from "../../api/design";
import { useNeighbours, usePinout } from "../../api/ends";

/** A way by its number and the circuit that is in it. */
function inWords(design: DesignReply, connector: string): (cavity: string) => string {
  const { pinout } = design.document.ends;
  const circuits = Object.entries(design.document.circuits.circuits);
  const named = new Map(
    Object.entries(pinout)
      .filter(([, entry]) => entry.connector === connector)
      .map(([pin, entry]) => {
        const [id = "", circuit] = circuits.find(([, c]) => pin in c.ends) ?? [];
        return [entry.cavity, circuit?.name || id] as const;
      }),
  );
  return (cavity) => [cavity, named.get(cavity)].filter(Boolean).join(" ");
}

/** What a bent pin or a drop of water does between neighbours, and an order that does better. */
export function NeighboursLeaf({ id }: { id: string }) {
  const { data, error, isFetching } = useNeighbours(id);
  const { act } = usePinout();
  const { design } = useDesign();
  const way = useMemo(() => inWords(design, id), [design, id]);
  const [problem, setProblem] = useState<string | null>(null);
  if (error) return <p className="text-madder">{error.message}</p>;
  if (!data) return <p className="text-second">Bending one pin after another ...</p>;
  const { standing, proposal } = data;
  const [worst] = standing.bridges;
  return (
    <div className={isFetching ? "opacity-60" : ""}>
      <p className="mb-1 text-lead">
        {worst ? (
          <>
            Worst: <strong className="font-bold">{`${way(worst.a)} beside ${way(worst.b)}`}</strong>; {worst.words}.
          </>
        ) : standing.split.length === 0 ? (
          "No two neighbours harm each other."
        ) : null}{" "}
        {standing.split.length > 0 && <>Apart that belong together: {standing.split.join(", ")}.</>}
      </p>
      <p className="mb-3 max-w-[86ch] text-second">
        A bent pin or a water bridge joins two neighbours. What it would do is scored from 1 to 10, so that one order of
        the ways can be held against another; this one scores <strong className="font-figures">{standing.score}</strong>
        , which means nothing beyond that.
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
        <table className="w-full max-w-[900px] text-plain" aria-label="Neighbours">
          <thead className="text-left text-fine text-second">
            <tr className="border-b border-ink">
              <th className="w-[38%] py-1">Neighbours</th>
              <th className="w-[70px] text-right">Score</th>
              <th className="w-[14%] pl-5">
                <span className="sr-only">Score as a bar</span>
              </th>
              <th className="pl-3">A bridge</th>
            </tr>
          </thead>
          <tbody>
            {standing.bridges.slice(0, 40).map((b) => (
              <tr key={`${b.a}-${b.b}`} className="border-b border-faint">
                <td className="py-1.5 font-semibold">{`${way(b.a)} beside ${way(b.b)}`}</td>
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
