import type { CSSProperties } from "react";
import { useCatalogue } from "../api/design";

/** A short tube of wire in its colours, its tracer along it, and the letters beside it. */
/** A piece of insulation, with its tracer along it and the light on its back. */
function jacket(width: number, base = "#999", tracer?: string): CSSProperties {
  const band = tracer ? `linear-gradient(transparent 4px, ${tracer} 4px 8px, transparent 8px),` : "";
  const light = "linear-gradient(transparent 1.5px, rgb(255 255 255 / 0.28) 1.5px 3px, transparent 3px)";
  return { width, backgroundColor: base, backgroundImage: `${band} ${light}` };
}

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
      <span aria-hidden="true" className="jacket" style={jacket(width, hex[base], tracer ? hex[tracer] : undefined)} />
      {letters && <span className="font-figures text-fine text-second">{colour}</span>}
    </span>
  );
}
