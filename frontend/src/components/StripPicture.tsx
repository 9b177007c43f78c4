import { useCatalogue, useDesign } from "../api/design";
import { bareText } from "./columns";
import { fine, otherLength, unitsOf } from "../format";

interface Props {
  colour: string;
  odMm: number;
  conductorMm: number;
  stripMm: number;
  toleranceMm: number;
  /** Millimetres of screen for one of the wire; as large as it goes where it is absent. */
  scale?: number;
}

/** The end as it should look when stripped; drawn large, in proportion. */
export function StripPicture({ colour, odMm, conductorMm, stripMm, toleranceMm, scale }: Props) {
  const { design } = useDesign();
  const units = unitsOf(design.document);
  const hex = useCatalogue()?.colours ?? {};
  const [base = "", tracer] = colour.split("/");
  const all = stripMm + 14;
  return (
    <figure className="my-3">
      <figcaption className="text-fine text-second">{scale ? "strip, at true size" : "strip, drawn large"}</figcaption>
      <svg
        viewBox={`0 ${-odMm / 2 - 1} ${all + 2} ${odMm + 7}`}
        className={scale ? "" : "w-full max-w-[330px]"}
        style={scale ? { width: `${(all + 2) * scale}mm`, height: `${(odMm + 8) * scale}mm` } : undefined}
        role="img"
        aria-label={`Strip ${stripMm} mm`}
      >
        <rect x={13} y={-conductorMm / 2} width={stripMm + 1} height={conductorMm} fill="var(--copper)" />
        <rect
          x={0}
          y={-odMm / 2}
          width={14}
          height={odMm}
          rx={0.3}
          fill={hex[base] ?? "#888"}
          stroke="#1a2433"
          strokeWidth={0.1}
        />
        {tracer && <rect x={0} y={-odMm / 7} width={14} height={odMm / 3.5} fill={hex[tracer] ?? "#888"} />}
        <g stroke="var(--ink)" strokeWidth={0.15}>
          <line x1={14} x2={14 + stripMm} y1={odMm / 2 + 1.6} y2={odMm / 2 + 1.6} />
          <line x1={14} x2={14} y1={odMm / 2 + 0.8} y2={odMm / 2 + 2.4} />
          <line x1={14 + stripMm} x2={14 + stripMm} y1={odMm / 2 + 0.8} y2={odMm / 2 + 2.4} />
        </g>
        {!scale && (
          <text
            x={14 + stripMm}
            y={odMm / 2 + 4.4}
            textAnchor="end"
            fontSize={1.3}
            fontWeight={700}
            fill="var(--ink)"
            className="font-figures"
          >
            {`${bareText(fine(stripMm, units), "mm")} ± ${fine(toleranceMm, units)}`}
          </text>
        )}
      </svg>
      <span className="text-fine text-second">about {otherLength(stripMm, units)}</span>
    </figure>
  );
}
