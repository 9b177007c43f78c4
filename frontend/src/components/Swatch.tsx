import { useCatalogue } from "../api/design";

/** A short tube of wire in its colours, its tracer along it, and the letters beside it. */
export function Swatch({ colour, width = 42, letters = true }: { colour: string; width?: number; letters?: boolean }) {
  const catalogue = useCatalogue();
  const [base = "", tracer] = colour.split("/");
  const hex = catalogue?.colours ?? {};
  const names = catalogue?.colour_names ?? {};
  const spoken = [names[base], tracer && names[tracer]].filter(Boolean).join(" with ");
  if (!colour) return <span className="text-second">–</span>;
  if (catalogue && !(base in hex)) return <span className="text-second">{colour}</span>;
  return (
    <span className="inline-flex items-center gap-1.5 align-middle" title={spoken}>
      <svg width={width} height={14} aria-hidden="true" className="shrink-0">
        <rect
          x={1}
          y={1}
          width={width - 2}
          height={12}
          rx={6}
          fill={hex[base] ?? "#999"}
          stroke="var(--ink-second)"
          strokeOpacity={0.8}
        />
        {tracer && <rect x={2} y={5} width={width - 4} height={4} fill={hex[tracer] ?? "#999"} />}
        <rect x={5} y={2.5} width={width - 10} height={1.6} rx={0.8} fill="#fff" fillOpacity={0.28} />
      </svg>
      {letters && <span className="font-figures text-fine text-second">{colour}</span>}
    </span>
  );
}
