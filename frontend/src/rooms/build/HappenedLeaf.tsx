import { useMemo, useState } from "react";
import { useDesign } from "../../api/design";
import { useWorkActs, useWorkState, wentWell, type Work } from "../../api/work";
import { useSay } from "../../components/Notice";

/** What was spoiled, done otherwise or noted at the bench, the newest first. */
export function HappenedLeaf({ work }: { work: Work }) {
  const { id } = useDesign();
  const [number, setNumber] = useState(1);
  const { data: state } = useWorkState(number, "desk");
  const acts = useWorkActs(number, "");
  const say = useSay();
  const words = useMemo(() => new Map(work.steps.map((s) => [s.id, s.words])), [work]);
  const photo = (happening: number) => `/api/designs/${encodeURIComponent(id)}/work/photos/${happening}`;
  const strike = async (id: number) => {
    const reply = await acts.strike(id);
    if (!wentWell(reply)) say(reply.detail);
  };
  return (
    <>
      {state && state.quantity > 1 && (
        <label className="mb-2 flex items-center gap-2">
          Harness
          <input
            className="inkbox w-[70px] font-figures"
            type="number"
            min={1}
            max={state.quantity}
            value={number}
            onChange={(e) => setNumber(Math.min(Math.max(Number(e.target.value) || 1, 1), state.quantity))}
          />
          of {state.quantity}
        </label>
      )}
      {state?.findings.map((f) => (
        <p key={f.what} className="mb-2 max-w-[92ch]">
          <strong className="text-madder">{f.what}</strong> {f.why} {f.remedies.map((r) => r.text).join(" ")}
        </p>
      ))}
      {!state?.happened.length ? (
        <p className="text-second">
          Nothing was noted yet. At the bench, N notes what was spoiled, trimmed, set or made otherwise.
        </p>
      ) : (
        <table className="w-full" aria-label="What happened">
          <thead>
            <tr className="border-b border-ink text-left text-fine text-second">
              <th className="py-1 font-semibold">When</th>
              <th className="font-semibold">What</th>
              <th className="font-semibold">At</th>
              <th className="font-semibold">Note</th>
              <th className="font-semibold">Who</th>
              <th>
                <span className="sr-only">What to do</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {state.happened.map((h) => (
              <tr key={h.id} className="border-b border-faint align-top">
                <td className="whitespace-nowrap py-1 pr-4 font-figures text-fine">
                  {new Date(h.at).toLocaleString([], { dateStyle: "short", timeStyle: "short" })}
                </td>
                <td className="pr-4 font-bold">
                  {h.kind}
                  {h.part && <span className="font-figures font-normal"> {h.part}</span>}
                </td>
                <td className="pr-4">{words.get(h.step) ?? h.step}</td>
                <td className="pr-4">
                  {h.note}
                  {h.photo && (
                    <a href={photo(h.id)} target="_blank" rel="noreferrer" className="block">
                      <img
                        src={photo(h.id)}
                        alt={`Photograph: ${words.get(h.step) ?? h.step}`}
                        className="h-[90px] w-auto"
                      />
                    </a>
                  )}
                </td>
                <td className="pr-4">{h.who}</td>
                <td>
                  <button className="quiet" onClick={() => void strike(h.id)}>
                    Take out
                  </button>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </>
  );
}
