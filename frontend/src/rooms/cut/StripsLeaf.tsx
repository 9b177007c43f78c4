import { useMemo } from "react";
import type { Evaluation } from "../../api/client";
import { useCatalogue, useDesign } from "../../api/design";
import { fine, trim, turned, unitsOf } from "../../format";

type Cut = Evaluation["cut"]["cuts"][number];

interface Strip {
  key: string;
  part: string;
  colour: string;
  contact: string;
  odMm: number;
  conductorMm: number;
  stripMm: number;
  bareMm: number;
  ends: string[];
}

const INSULATION_MM = 22;
const RULER_MM = 100;

/** One strip for every wire part and contact, at its true size on paper, with a ruler to prove it. */
export function StripsLeaf() {
  const { design } = useDesign();
  const units = unitsOf(design.document);
  const strips = useMemo(() => stripsOf(design.evaluation), [design.evaluation]);
  if (strips.length === 0) return <p className="text-second">Nothing is stripped yet.</p>;
  return (
    <div className="printed">
      <p className="mb-3 max-w-[92ch] text-second print:hidden">
        Print it at 100 %, and lay the wire on it. On paper the ruler measures {RULER_MM} mm; on a screen sizes are only
        near.{" "}
        <button className="press ml-2" onClick={() => window.print()}>
          Print
        </button>
      </p>
      <Ruler />
      <ul className="mt-4 grid grid-cols-[repeat(auto-fill,minmax(64mm,1fr))] gap-x-6 gap-y-3">
        {strips.map((s) => (
          <li key={s.key} className="break-inside-avoid border-b border-faint pb-2">
            <p className="text-plain">
              <strong className="font-figures">{turned(s.part)}</strong> in{" "}
              <span className="font-figures">{s.contact}</span>
            </p>
            <Picture strip={s} />
            <p className="text-fine text-second">
              {fine(s.stripMm, units)}
              {s.bareMm < s.stripMm ? `, folded to ${fine(s.bareMm, units)}` : ""}: {s.ends[0]}
              {s.ends.length > 1 ? ` and ${s.ends.length - 1} more` : ""}
            </p>
          </li>
        ))}
      </ul>
    </div>
  );
}

function Ruler() {
  const marks = Array.from({ length: RULER_MM + 1 }, (_, mm) => mm);
  return (
    <svg
      style={{ width: `${RULER_MM + 12}mm`, height: "12mm" }}
      viewBox={`-4 0 ${RULER_MM + 12} 12`}
      role="img"
      aria-label={`Ruler of ${RULER_MM} mm`}
    >
      <line x1={0} x2={RULER_MM} y1={1} y2={1} stroke="var(--ink)" strokeWidth={0.2} />
      {marks.map((mm) => (
        <line
          key={mm}
          x1={mm}
          x2={mm}
          y1={1}
          y2={mm % 10 === 0 ? 6 : mm % 5 === 0 ? 4.4 : 3}
          stroke="var(--ink)"
          strokeWidth={0.15}
        />
      ))}
      {marks
        .filter((mm) => mm % 10 === 0)
        .map((mm) => (
          <text key={mm} x={mm} y={9.6} fontSize={3} textAnchor="middle" fill="var(--ink)" className="font-figures">
            {mm}
          </text>
        ))}
    </svg>
  );
}

/** Insulation, then copper as long as it is stripped: every mm of it one mm on paper. */
function Picture({ strip: s }: { strip: Strip }) {
  const hex = useCatalogue()?.colours ?? {};
  const [base = "", tracer] = s.colour.split("/");
  const high = Math.max(s.odMm, 1) + 7;
  const wide = INSULATION_MM + s.stripMm + 2;
  const end = INSULATION_MM + s.stripMm;
  return (
    <svg
      style={{ width: `${wide}mm`, height: `${high}mm` }}
      viewBox={`0 ${-s.odMm / 2 - 1} ${wide} ${high}`}
      role="img"
      aria-label={`${s.part} stripped ${s.stripMm} mm`}
    >
      <rect
        x={INSULATION_MM - 0.5}
        y={-s.conductorMm / 2}
        width={s.stripMm + 0.5}
        height={s.conductorMm}
        fill="var(--copper)"
      />
      <rect
        x={0}
        y={-s.odMm / 2}
        width={INSULATION_MM}
        height={s.odMm}
        fill={hex[base] ?? "#888"}
        stroke="var(--ink)"
        strokeWidth={0.12}
      />
      {tracer && (
        <rect x={0} y={-s.odMm / 7} width={INSULATION_MM} height={s.odMm / 3.5} fill={hex[tracer] ?? "#888"} />
      )}
      <g stroke="var(--ink)" strokeWidth={0.15}>
        {[INSULATION_MM, end].map((x) => (
          <line key={x} x1={x} x2={x} y1={s.odMm / 2 + 0.6} y2={s.odMm / 2 + 2.6} />
        ))}
        <line x1={INSULATION_MM} x2={end} y1={s.odMm / 2 + 1.6} y2={s.odMm / 2 + 1.6} />
      </g>
      <text x={INSULATION_MM} y={s.odMm / 2 + 5.4} fontSize={2.8} fill="var(--ink)" className="font-figures">
        {trim(s.stripMm, 1)}
      </text>
      <text x={0} y={s.odMm / 2 + 5.4} fontSize={2.8} fill="var(--ink)" className="font-figures">
        {s.colour}
      </text>
    </svg>
  );
}

function stripsOf(evaluation: Evaluation): Strip[] {
  const contacts = new Map<string, string>();
  for (const connector of Object.values(evaluation.ends.connectors))
    for (const cavity of connector.cavities)
      if (cavity.pin && cavity.wire && cavity.contact) contacts.set(`${cavity.pin} ${cavity.wire}`, cavity.contact);
  const strips = new Map<string, Strip>();
  const put = (cut: Cut, end: Cut["a"], text: string) => {
    const wire = evaluation.wire.wires[cut.wire];
    const contact = contacts.get(`${end.pin ?? ""} ${cut.wire}`);
    if (!wire || !contact || end.strip_mm <= 0) return;
    const key = `${cut.part} ${contact} ${end.strip_mm} ${end.bare_mm}`;
    const known = strips.get(key);
    if (known) known.ends.push(text);
    else
      strips.set(key, {
        key,
        part: cut.part,
        colour: cut.colour,
        contact,
        odMm: wire.od_mm,
        conductorMm: wire.conductor_mm,
        stripMm: end.strip_mm,
        bareMm: end.bare_mm,
        ends: [text],
      });
  };
  for (const cut of evaluation.cut.cuts) {
    put(cut, cut.a, cut.from_text);
    put(cut, cut.b, cut.to_text);
  }
  return [...strips.values()].sort((x, y) => x.key.localeCompare(y.key, "en", { numeric: true }));
}
