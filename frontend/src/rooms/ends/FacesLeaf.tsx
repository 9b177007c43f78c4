import { useState } from "react";
import { useDesign } from "../../api/design";
import { Face, type FaceWire } from "../../components/Face";
import { Swatch } from "../../components/Swatch";
import { fine, unitsOf } from "../../format";
import type { Connector } from "./types";

interface Props {
  connector: Connector;
  chosen: string | null;
  onChoose: (c: string) => void;
}

function useFaces({ connector, chosen, onChoose }: Props) {
  const { design } = useDesign();
  const wires: Record<string, FaceWire> = {};
  for (const c of connector.cavities) {
    const wire = c.wire ? design.evaluation.wire.wires[c.wire] : undefined;
    if (wire) wires[c.cavity] = { cavity: c.cavity, colour: wire.colour, label: wire.label };
  }
  const plugged = new Set(connector.cavities.filter((c) => c.cavity_plug).map((c) => c.cavity));
  const loose = connector.shell === "none";
  const face = design.evaluation.ends.faces[connector.face];
  if (!face) return null;
  const sides = [
    { view: face.wire_side, marks: face.wire_marks },
    { view: face.mating_side, marks: face.mating_marks },
  ]
    .filter(({ view }) => !loose || view.side === "wire")
    .map(({ view, marks }) => ({
      side: view.side,
      caption: loose ? "one terminal for each, in order" : view.caption,
      width: face.width_mm,
      height: face.height_mm,
      diameter: face.cavity_diameter_mm,
      outline: face.outline,
      cavities: view.cavities,
      marks,
      wires,
      plugged,
      gender: connector.contact_gender,
      loose,
      chosen,
      onChoose,
    }));
  return { face, sides, loose };
}

/** Both faces beside the pinout; of a wide one the wire side above it. */
export function Faces(props: Props & { wide: boolean }) {
  const found = useFaces(props);
  if (!found) return null;
  return (
    <div>
      {!found.loose && <p className="text-center text-fine text-second">{found.face.latch}</p>}
      {found.sides.map((s) => (!props.wide || s.side === "wire") && <Face key={s.side} {...s} />)}
    </div>
  );
}

/** The colours of the ways in letters: nothing is said by colour alone. */
function Letters({ connector }: { connector: Connector }) {
  const { design } = useDesign();
  const used = connector.cavities.filter((c) => c.wire);
  if (used.length === 0) return null;
  return (
    <ul
      aria-label="Colours in letters"
      className="mt-2 grid grid-cols-[repeat(auto-fill,minmax(108px,1fr))] gap-x-3 gap-y-1"
    >
      {used.map((c) => (
        <li key={`${c.cavity} ${c.wire ?? ""}`} className="flex items-center gap-2">
          <strong className="min-w-[24px] text-right font-figures">{c.cavity}</strong>
          <Swatch colour={design.evaluation.wire.wires[c.wire ?? ""]?.colour ?? ""} width={30} />
        </li>
      ))}
    </ul>
  );
}

const RULER_KEY = "inkthread-ruler";

/** Both faces as large as they go, or at true size; what to print and lay the part on. */
export function FacesLeaf(props: Props) {
  const { design } = useDesign();
  const units = unitsOf(design.document);
  const found = useFaces(props);
  const [trueSize, setTrueSize] = useState(false);
  const [turn, setTurn] = useState(0);
  const [dotted, setDotted] = useState(false);
  const [ruler, setRuler] = useState(() => Number(window.localStorage.getItem(RULER_KEY)) || 100);
  if (!found) return null;
  const { face, loose } = found;
  const wide = face.width_mm > 1.5 * face.height_mm && props.connector.ways > 4;
  const places = Object.values(face.wire_side.cavities);
  const apart = Math.min(
    ...places.flatMap(([x = 0, y = 0], i) => places.slice(i + 1).map(([u = 0, v = 0]) => Math.hypot(x - u, y - v))),
  );
  const scale = trueSize ? 100 / ruler : undefined;
  const c = props.connector;
  return (
    <div className="print-faces">
      <h2 className="hidden text-head print:block">
        {design.document.brief.name}: {c.id} {c.name}, {c.ways} way {c.family}
      </h2>
      <p className="mb-2 max-w-[86ch] text-second">
        {loose
          ? "Loose terminals have no face."
          : `${c.shell === "none" ? "" : `This half: ${c.shell} shell with ${c.contact_gender}s. `}${face.numbering}`}{" "}
        {!loose && (
          <>
            Way {face.first} has the amber ring. The two faces are mirror images: turn the part over left for right
            {turn ? "" : `, ${face.latch} still up`}.
          </>
        )}
      </p>
      <p className="mb-3 flex flex-wrap items-center gap-x-5 gap-y-1 print:hidden">
        <label className="flex items-center gap-2">
          <input
            type="checkbox"
            className="h-4 w-4 accent-(--ink)"
            checked={trueSize}
            onChange={(e) => setTrueSize(e.target.checked)}
          />{" "}
          true size on this screen
        </label>
        {!loose && (
          <label className="flex items-center gap-2">
            turned
            <input
              aria-label="Turned by degrees"
              className="inkbox w-[68px] font-figures"
              type="number"
              step={15}
              value={turn}
              onChange={(e) => setTurn(((Number(e.target.value) % 360) + 360) % 360)}
            />
            ° as it lies in the hand
          </label>
        )}
        {!loose && (
          <label className="flex items-center gap-2">
            <input
              type="checkbox"
              className="h-4 w-4 accent-(--ink)"
              checked={dotted}
              onChange={(e) => setDotted(e.target.checked)}
            />{" "}
            dot way {props.chosen ?? face.first}
          </label>
        )}
        <button className="press" onClick={() => window.print()}>
          Print at true size
        </button>
        {trueSize && (
          <label className="flex items-center gap-2">
            <span className="text-second">Lay a ruler on the bar. It measures</span>
            <input
              className="inkbox w-[76px] font-figures"
              type="number"
              min={40}
              max={250}
              step={0.5}
              value={ruler}
              onChange={(e) => {
                const measured = Number(e.target.value);
                setRuler(measured);
                if (measured >= 40 && measured <= 250) window.localStorage.setItem(RULER_KEY, String(measured));
              }}
            />
            mm
          </label>
        )}
      </p>
      {trueSize && (
        <div className="mb-3 print:hidden">
          <div style={{ width: "100mm" }} className="h-[10px] border-x-2 border-b-2 border-ink" aria-hidden="true" />
          <span className="text-fine text-second">
            Once it measures right, the faces below are as large as the part: {fine(face.width_mm, units)} by{" "}
            {fine(face.height_mm, units)}.
          </span>
        </div>
      )}
      <div
        className={`print:hidden ${trueSize ? "flex flex-wrap gap-10" : `grid gap-6 ${wide ? "" : "min-[1000px]:grid-cols-2"}`}`}
      >
        {found.sides.map((s) => (
          <Face
            key={s.side}
            {...s}
            turn={s.side === "wire" ? turn : -turn}
            dotted={dotted}
            {...(scale ? { scale } : {})}
            tall
            named={!trueSize && face.cavity_diameter_mm >= 4 && apart > face.cavity_diameter_mm * 1.25}
          />
        ))}
      </div>
      <Letters connector={c} />
      <div className="hidden print:block">
        <div className="flex gap-10">
          {found.sides.map((s) => (
            <Face key={`print-${s.side}`} {...s} turn={s.side === "wire" ? turn : -turn} dotted={dotted} scale={1} />
          ))}
        </div>
        <p>
          Printed at true size: this part is {fine(face.width_mm, units)} wide. Check with a ruler; print without
          fitting to the page.
        </p>
      </div>
    </div>
  );
}
