import { Link } from "react-router";
import type { Finding, Operation } from "../api/client";
import { useDesign, useActs } from "../api/design";
import { placeLink } from "../components/places";
import { Room } from "../components/Room";

const TONE: Record<string, string> = { stop: "text-madder", fix: "text-ochre", consider: "text-second" };
const MARK: Record<string, string> = { stop: "bg-madder", fix: "bg-ochre", consider: "bg-second" };

/** Everything that is wrong, worst first, with why and what to do. */
export function Findings() {
  const { design } = useDesign();
  const all = design.evaluation.findings;
  const t = design.evaluation.tally;
  const sentence =
    all.length === 0
      ? "Nothing found. That is not a promise: look, tug and measure."
      : `${[
          t.stops && `**${t.stops}** to stop for`,
          t.fixes && `**${t.fixes}** to fix`,
          t.considers && `**${t.considers}** to consider`,
        ]
          .filter(Boolean)
          .join(", ")}. Worst first.`;
  return (
    <Room room="findings" title="Findings" sentence={sentence}>
      <ol className="max-w-[860px]">
        {all.map((f, i) =>
          f.follows === null ? (
            <Entry key={`${f.code}-${i}`} finding={f} brings={all.filter((x) => x.follows === i)} />
          ) : null,
        )}
      </ol>
    </Room>
  );
}

/** A finding, and within it what only follows from it. */
function Entry({ finding, brings }: { finding: Finding; brings: Finding[] }) {
  const { design } = useDesign();
  const { doIt } = useActs();
  const link = placeLink(design, finding);
  return (
    <li className="grid grid-cols-[96px_1fr] gap-3 border-b border-faint py-3.5" data-code={finding.code}>
      <span className={`flex items-center gap-2 self-start font-bold ${TONE[finding.severity] ?? ""}`}>
        <span className={`h-2.5 w-2.5 rounded-full ${MARK[finding.severity] ?? ""}`} />
        {finding.severity}
      </span>
      <div>
        <h2 className="text-lead">{finding.title}</h2>
        <p>{finding.what}</p>
        <p className="mt-0.5 text-second">{finding.why}</p>
        <ul className="mt-1.5 space-y-1">
          {finding.remedies.map((r) => (
            <li key={r.text} className="flex items-baseline gap-2">
              <span aria-hidden="true" className="text-madder">
                –
              </span>
              <span>{r.text}</span>
              {r.operations.length > 0 && (
                <button
                  className="press py-0.5 text-plain"
                  onClick={() => void doIt(r.operations as unknown as Operation[], finding.title)}
                >
                  Do it
                </button>
              )}
            </li>
          ))}
        </ul>
        {brings.length > 0 && (
          <details className="mt-1.5 text-plain" open={brings.length <= 3}>
            <summary className="cursor-pointer text-second">What follows from it ({brings.length})</summary>
            <ul className="list-disc pl-5">
              {brings.map((b) => (
                <li key={b.what}>{b.what}</li>
              ))}
            </ul>
          </details>
        )}
        {link && (
          <Link to={link.to} className="quiet mt-1.5 inline-block text-plain">
            {link.text}
          </Link>
        )}
      </div>
    </li>
  );
}
