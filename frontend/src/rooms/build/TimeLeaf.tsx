import { trim } from "../../format";
import type { Work } from "../../api/work";
import { hours } from "./hours";

/** Standard minutes by what is done. */
export function TimeLeaf({ work }: { work: Work }) {
  return (
    <>
      <p className="mb-2 max-w-[92ch] text-second">
        One harness takes about <strong className="text-ink">{hours(work.minutes)}</strong> of hand work. Standard
        minutes: {work.source}. What one takes here is the median of what was ticked at the bench; from five on it is
        what the time left is told by.
      </p>
      <table className="w-full max-w-[760px]" aria-label="Time">
        <thead>
          <tr className="border-b border-ink text-left text-fine text-second">
            <th className="py-1 font-semibold">What</th>
            <th className="text-right font-semibold">Times</th>
            <th className="text-right font-semibold">Together</th>
            <th className="text-right font-semibold">One, standard</th>
            <th className="text-right font-semibold">One, here</th>
          </tr>
        </thead>
        <tbody>
          {work.times.map((t) => (
            <tr key={t.operation} className="border-b border-faint">
              <td className="py-1">{t.operation}</td>
              <td className="text-right font-figures">{trim(t.count, 1)}</td>
              <td className="text-right font-figures">{hours(t.minutes)}</td>
              <td className="text-right font-figures">{trim(t.each, 2)} min</td>
              <td className="text-right font-figures" title={here(work.learned[t.operation])}>
                {work.learned[t.operation] ? `${trim(work.learned[t.operation]?.minutes ?? 0, 2)} min` : "–"}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}

function here(learned: Work["learned"][string] | undefined): string {
  return learned ? `of ${learned.timed} timed at the bench` : "none timed yet";
}
