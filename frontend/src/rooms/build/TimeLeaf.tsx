import { trim } from "../../format";
import type { Work } from "../../api/work";
import { hours } from "./hours";

/** Standard minutes by what is done. */
export function TimeLeaf({ work }: { work: Work }) {
  return (
    <>
      <p className="mb-2 max-w-[92ch] text-second">
        One harness takes about <strong className="text-ink">{hours(work.minutes)}</strong> of hand work. Standard
        minutes: {work.source}.
      </p>
      <table className="w-full max-w-[620px]" aria-label="Time">
        <thead>
          <tr className="border-b border-ink text-left text-fine text-second">
            <th className="py-1 font-semibold">What</th>
            <th className="text-right font-semibold">Times</th>
            <th className="text-right font-semibold">Together</th>
          </tr>
        </thead>
        <tbody>
          {work.times.map((t) => (
            <tr key={t.operation} className="border-b border-faint">
              <td className="py-1">{t.operation}</td>
              <td className="text-right font-figures">{trim(t.count, 1)}</td>
              <td className="text-right font-figures">{hours(t.minutes)}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}
