import { usePrinting, usePrints } from "../../api/printing";
import { useSay } from "../../components/Notice";
import { trim } from "../../format";

const TONE: Record<string, string> = { printed: "text-verdigris", refused: "text-madder", "not known": "text-ochre" };

/** The label printer: what is loaded, what waits, what could not be printed and what to do about it. */
export function Printing() {
  const { data } = usePrints();
  const { print, again, remove, load } = usePrinting();
  const say = useSay();
  if (!data) return null;
  const told = (sent: Promise<{ detail: string } | null>) => void sent.then((p) => p && say(p.detail));
  return (
    <section aria-label="Label printer" className="mb-4 max-w-[860px] border-y border-rule py-2">
      <p className="flex flex-wrap items-center gap-3">
        <button className="press" onClick={() => told(print())}>
          Print the labels
        </button>
        <span className="text-plain text-second">
          {data.there
            ? `${data.sleeve} is loaded, ${trim(data.left_mm / 1000, 2)} m of it${data.jammed ? "; it is jammed" : ""}`
            : `No printer answers at port ${data.port}.`}
        </span>
      </p>
      {data.jobs.length > 0 && (
        <table className="mt-2 w-full text-plain" aria-label="Label jobs">
          <tbody>
            {data.jobs.map((j) => (
              <tr key={j.id} className="border-t border-faint align-baseline">
                <td className="w-[96px] py-1 font-figures font-bold">{j.sleeve}</td>
                <td className="w-[92px]">
                  {j.labels} {j.labels === 1 ? "label" : "labels"}
                </td>
                <td className={`w-[88px] ${TONE[j.state] ?? "text-second"}`}>{j.state}</td>
                <td>{j.says}</td>
                <td className="whitespace-nowrap text-right">
                  {j.state !== "printed" && data.there && data.sleeve !== j.sleeve && (
                    <button className="quiet ml-3" onClick={() => told(load(j.sleeve))}>
                      {j.sleeve} is in
                    </button>
                  )}
                  {j.state !== "printed" && j.state !== "waiting" && (
                    <button className="quiet ml-3" onClick={() => told(again(j.id))}>
                      send again
                    </button>
                  )}
                  <button className="quiet ml-3" onClick={() => told(remove(j.id))}>
                    take out
                  </button>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </section>
  );
}
