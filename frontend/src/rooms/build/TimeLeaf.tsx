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
      <p className="mb-3">
        {work.labour === null ? (
          <span className="text-second">
            What an hour costs is a house rule in Brief: with it, the hand work is priced here.
          </span>
        ) : (
          <>
            Hand work of all of them:{" "}
            <strong className="font-figures">
              {work.labour.toFixed(2)} {work.currency}
            </strong>
          </>
        )}
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
      {work.sessions.length > 0 && (
        <>
          <h2 className="mt-6 text-head">Sessions</h2>
          <ul aria-label="Sessions" className="max-w-[760px]">
            {work.sessions.map((s) => (
              <li key={`${s.began} ${s.who}`} className="flex gap-5 border-b border-faint py-1">
                <span className="font-figures text-second">
                  {new Date(s.began).toLocaleString([], { dateStyle: "short", timeStyle: "short" })}
                </span>
                <span className="flex-1">{s.who || "no name"}</span>
                <span className="font-figures">{hours(s.minutes)}</span>
                <span className="font-figures text-second">{s.steps} steps</span>
              </li>
            ))}
          </ul>
        </>
      )}
    </>
  );
}

function here(learned: Work["learned"][string] | undefined): string {
  return learned ? `of ${learned.timed} timed at the bench` : "none timed yet";
}
