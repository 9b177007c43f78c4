import { useState } from "react";
import { useDesign } from "../../api/design";
import { isState, usePieceActs, type PieceState } from "../../api/prove";
import { whoWorks } from "../../api/who";
import { useSay } from "../../components/Notice";
import { spent } from "../../components/spent";

/** Batches that went into a piece, and photographs that were taken as it was made. */
export function Batches({ state }: { state: PieceState }) {
  const { id, design } = useDesign();
  const say = useSay();
  const acts = usePieceActs(state.piece.serial, whoWorks());
  const [part, setPart] = useState("");
  const [batch, setBatch] = useState("");
  const closed = state.piece.signed_at !== null;
  const parts = [...new Set(design.evaluation.parts.lines.map((l) => l.code))];
  const put = async (of: string, text: string) => {
    const reply = await acts.batch(of, text);
    if (isState(reply)) setBatch(spent(text));
    else say(reply.errors[0]?.message ?? reply.detail);
  };
  if (closed && state.batches.length + state.photos.length === 0) return null;
  return (
    <section className="mt-5 border-t border-rule pt-3">
      <h2 className="text-head">What went into {state.piece.serial}</h2>
      <ul aria-label="Batches">
        {state.batches.map((b) => (
          <li key={b.part} className="flex gap-4 border-b border-faint py-1">
            <span className="font-figures font-bold">{b.part}</span>
            <span className="font-figures">{b.batch}</span>
            {!closed && (
              <button className="quiet text-fine" onClick={() => void put(b.part, "")}>
                take out
              </button>
            )}
          </li>
        ))}
      </ul>
      {!closed && (
        <form
          className="mt-1 flex flex-wrap items-baseline gap-x-4"
          onSubmit={(e) => {
            e.preventDefault();
            void put(part, batch);
          }}
        >
          <label>
            part{" "}
            <input
              className="inkbox w-[200px] font-figures"
              list="parts-of-bill"
              value={part}
              maxLength={80}
              onChange={(e) => setPart(e.target.value)}
            />
          </label>
          <datalist id="parts-of-bill">
            {parts.map((code) => (
              <option key={code} value={code} />
            ))}
          </datalist>
          <label>
            batch{" "}
            <input
              className="inkbox w-[150px] font-figures"
              value={batch}
              maxLength={60}
              onChange={(e) => setBatch(e.target.value)}
            />
          </label>
          <button className="press" disabled={part.trim() === "" || batch.trim() === ""}>
            Note it
          </button>
        </form>
      )}
      {state.photos.length > 0 && (
        <p className="mt-2 flex flex-wrap gap-3">
          {state.photos.map((p) => (
            <a
              key={p.id}
              href={`/api/designs/${encodeURIComponent(id)}/work/photos/${p.id}`}
              title={`${p.step} ${p.note}`}
            >
              <img
                className="h-[90px] border border-rule"
                src={`/api/designs/${encodeURIComponent(id)}/work/photos/${p.id}`}
                alt={p.note || p.step}
              />
            </a>
          ))}
        </p>
      )}
    </section>
  );
}
