import { useState } from "react";
import {
  useCutActs,
  useCutPlan,
  useSpoolActs,
  useSpools,
  type PlannedPiece,
  type PlannedSpool,
  type SpoolItem,
} from "../../api/cut";
import { useCatalogue, useDesign } from "../../api/design";
import { useSay } from "../../components/Notice";
import { Swatch } from "../../components/Swatch";
import { Underway } from "../../components/Underway";
import { length, trim, turned, unitsOf } from "../../format";
import { spent } from "../../components/spent";

/** Every spool and remnant as a bar at one scale: what comes off it, and what is left. */
export function SpoolsLeaf() {
  const { data, error } = useCutPlan();
  if (error) return <p className="text-madder">{error.message}</p>;
  if (!data) return <Underway text="Fitting pieces to spools" share={0} />;
  const rows = data.plan.parts.flatMap((p) => p.spools);
  const longest = Math.max(1, ...rows.filter((s) => s.pieces.length > 0).map((s) => reach(s)));
  const used = rows.filter((s) => s.pieces.length > 0);
  const missing = data.plan.parts.filter((p) => p.short.length > 0);
  return (
    <>
      <NoteSpools />
      {used.length > 0 && (
        <table className="mb-5 w-full" aria-label="Spools and what comes off them">
          <thead className="text-left text-fine text-second">
            <tr className="border-b border-ink">
              <th className="w-[216px] py-1">Off</th>
              <th>Pieces in the order they are cut</th>
              <th className="w-[92px] text-right">Left</th>
            </tr>
          </thead>
          <tbody>
            {used.map((s) => (
              <Bar key={s.spool} spool={s} longest={longest} />
            ))}
          </tbody>
        </table>
      )}
      {missing.length > 0 && (
        <section className="mb-5">
          <h2 className="text-head">Off no spool yet</h2>
          <ul className="mt-1 text-plain">
            {missing.map((p) => (
              <li key={`${p.part} ${p.colour}`} className="flex items-baseline gap-3 border-b border-faint py-1">
                <span className="w-[190px] font-figures">{turned(p.part)}</span>
                <span className="w-[96px]">{p.colour && <Swatch colour={p.colour} />}</span>
                <strong className="font-figures">{trim(p.short_mm / 1000, 2)} m</strong>
                <span className="text-second">{p.short.map((x) => x.label).join(" ")}</span>
              </li>
            ))}
          </ul>
        </section>
      )}
      <AtHand />
    </>
  );
}

/** A whole spool is drawn no longer than it matters: what is far more than what is cut is broken off. */
function reach(s: PlannedSpool): number {
  const cut = s.pieces.reduce((sum, p) => sum + p.length_mm, 0);
  return Math.min(s.length_mm, Math.max(cut * 1.6, 500));
}

function Bar({ spool: s, longest }: { spool: PlannedSpool; longest: number }) {
  const { design } = useDesign();
  const hex = useCatalogue()?.colours ?? {};
  const units = unitsOf(design.document);
  const base = hex[s.colour.split("/")[0] ?? ""] ?? "#8d99a5";
  const broken = reach(s) < s.length_mm;
  const share = (mm: number) => `${(mm / longest) * 100}%`;
  const cut = s.pieces.reduce((sum, p) => sum + p.length_mm, 0);
  return (
    <tr className="border-b border-faint align-top">
      <td className="py-2">
        <span className="block font-figures font-bold">{turned(s.part)}</span>
        <span className="text-fine text-second">
          {s.colour ? <Swatch colour={s.colour} width={30} /> : "cable"} {s.remnant ? "remnant" : "spool"},{" "}
          {trim(s.length_mm / 1000, 2)} m{s.place ? `, ${s.place}` : ""}
        </span>
      </td>
      <td className="py-2">
        <span className="flex h-[26px] w-full overflow-x-auto overflow-y-hidden">
          {s.pieces.map((p, n) => (
            <Piece
              key={`${p.piece} ${p.number} ${n}`}
              piece={p}
              spool={s.spool}
              width={share(p.length_mm)}
              wide={p.length_mm / longest > 0.085}
              base={base}
            />
          ))}
          {s.left_mm > 0 && (
            <span
              className={`h-full border border-dashed border-second ${broken ? "border-r-0" : ""}`}
              style={{ width: share(Math.max(reach(s) - cut, 0)) }}
              title={`${length(s.left_mm, units)} left`}
            />
          )}
        </span>
      </td>
      <td className="py-2 text-right">
        <span className="block font-figures font-bold">{length(s.left_mm, units)}</span>
        <span className={`text-fine ${s.kept ? "text-second" : "text-ochre"}`}>
          {s.left_mm <= 0 ? "nothing" : s.kept ? "kept" : "waste"}
        </span>
      </td>
    </tr>
  );
}

interface PieceProps {
  piece: PlannedPiece;
  spool: string;
  width: string;
  /** Its figure has room on it. */
  wide: boolean;
  base: string;
}

/** A piece on its spool: pale once it is cut, struck through where it was spoiled. Pressed, it is cut. */
function Piece({ piece: p, spool, width, wide, base }: PieceProps) {
  const { design } = useDesign();
  const { act } = useCutActs();
  const say = useSay();
  const units = unitsOf(design.document);
  const state = p.spoiled ? "spoiled" : p.done ? "cut" : "to be cut";
  return (
    <button
      role="checkbox"
      aria-checked={p.done}
      disabled={p.spoiled}
      className={`h-full min-w-[24px] shrink-0 overflow-hidden border-r border-sheet text-center font-figures text-fine ${p.spoiled ? "line-through" : ""}`}
      style={{
        width,
        background: p.done ? `color-mix(in srgb, ${base} 32%, var(--sheet))` : base,
        boxShadow: "inset 0 0 0 1px var(--ink-second)",
      }}
      title={`${p.label}: ${length(p.length_mm, units)}, ${state}`}
      aria-label={`${p.label}, ${length(p.length_mm, units)}, ${state}`}
      onClick={() =>
        void act(p, p.done ? "taken back" : "cut", p.done ? null : spool).then(
          (problem) => problem && say(problem.detail),
        )
      }
    >
      {wide && <span className="bg-sheet/85 px-1 text-ink">{trim(p.length_mm, 0)}</span>}
    </button>
  );
}

function NoteSpools() {
  const { note } = useSpoolActs();
  const [text, setText] = useState("");
  const [problem, setProblem] = useState("");
  const put = async () => {
    const found = await note(text);
    setProblem(found ? found.detail : "");
    if (!found) setText(spent(text));
  };
  return (
    <form
      className="mb-4 max-w-[760px]"
      onSubmit={(e) => {
        e.preventDefault();
        void put();
      }}
    >
      <label className="flex items-start gap-2">
        <span className="pt-1 text-second">at hand</span>
        <textarea
          className="inkbox h-[34px] flex-1 resize-y font-figures text-plain"
          rows={1}
          aria-label="Spools at hand"
          value={text}
          placeholder="AS22759/32 20 AWG RD 30 m in drawer 3"
          aria-invalid={problem !== ""}
          onChange={(e) => {
            setText(e.target.value);
            setProblem("");
          }}
          onKeyDown={(e) => {
            if (e.key === "Enter" && !e.shiftKey && !text.includes("\n")) {
              e.preventDefault();
              void put();
            }
          }}
        />
        <button className="press" disabled={!text.trim()}>
          Note it
        </button>
      </label>
      {problem && (
        <p role="alert" className="mt-1 text-madder">
          {problem}
        </p>
      )}
    </form>
  );
}

/** All wire at hand, whether this harness needs it or not. */
function AtHand() {
  const { data } = useSpools();
  const spools = data?.spools ?? [];
  if (spools.length === 0)
    return (
      <p className="max-w-[72ch] text-second">
        Note what wire lies in the shop, a spool or remnant a line. The plan then says which piece comes off which, what
        is wasted, and what is short before anything is cut.
      </p>
    );
  return (
    <details>
      <summary className="cursor-pointer text-head">All wire at hand</summary>
      <table className="mt-1 w-full text-plain" aria-label="Wire at hand">
        <thead className="text-left text-fine text-second">
          <tr className="border-b border-ink">
            <th className="w-[210px] py-1">Wire</th>
            <th className="w-[110px]">Colour</th>
            <th className="w-[130px] text-right">Left</th>
            <th className="pl-4">Lies in</th>
            <th className="w-[110px]">
              <span className="sr-only">What to do</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {spools.map((s) => (
            <SpoolRow key={`${s.id} ${s.length_mm} ${s.place}`} spool={s} />
          ))}
        </tbody>
      </table>
    </details>
  );
}

function SpoolRow({ spool: s }: { spool: SpoolItem }) {
  const { design } = useDesign();
  const { change, takeOut, putBack } = useSpoolActs();
  const say = useSay();
  const units = unitsOf(design.document);
  const name = `${s.code} ${s.colour}`.trim();
  const left = length(s.length_mm, units);
  return (
    <tr className="border-b border-faint">
      <td className="py-1 font-figures font-bold">{turned(s.code)}</td>
      <td>{s.colour ? <Swatch colour={s.colour} /> : "cable"}</td>
      <td className="text-right">
        <input
          className="inkbox w-[110px] py-0.5 text-right font-figures"
          aria-label={`${name} left`}
          defaultValue={left}
          onKeyDown={(e) => e.key === "Enter" && e.currentTarget.blur()}
          onBlur={(e) => {
            const typed = e.currentTarget.value.trim();
            if (typed !== left) void change(s.id, { length: typed }).then((p) => p && say(`${name}: ${p.detail}`));
          }}
        />
      </td>
      <td className="pl-4">
        <input
          className="inkbox w-full py-0.5"
          aria-label={`${name} lies in`}
          defaultValue={s.place}
          placeholder={s.remnant ? "remnant" : "spool"}
          onKeyDown={(e) => e.key === "Enter" && e.currentTarget.blur()}
          onBlur={(e) => {
            const typed = e.currentTarget.value.trim();
            if (typed !== s.place) void change(s.id, { place: typed }).then((p) => p && say(p.detail));
          }}
        />
      </td>
      <td className="text-right">
        <button
          className="quiet text-plain"
          onClick={() =>
            void takeOut(s.id).then((p) => {
              if (p) say(p.detail);
              else say(`${name} is out.`, { label: "Put it back", run: () => void putBack(s.id) });
            })
          }
        >
          take it out
        </button>
      </td>
    </tr>
  );
}
