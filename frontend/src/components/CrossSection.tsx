import { useCatalogue, useCrossSection, useDesign } from "../api/design";

/** A branch cut across, its wires as they lie, in their colours; what fills a ring is pale. */
export function CrossSection({ branch }: { branch: string }) {
  const { design } = useDesign();
  const hex = useCatalogue()?.colours ?? {};
  const { data } = useCrossSection(branch);
  const circles = data?.circles ?? [];
  if (circles.length === 0) return null;
  const reach = Math.max(...circles.map((c) => Math.hypot(c.x_mm, c.y_mm) + c.diameter_mm / 2));
  const size = reach * 2.12;
  const wires = design.evaluation.wire.wires;
  const groups = design.document.circuits.groups;
  return (
    <svg
      viewBox={`${-size / 2} ${-size / 2} ${size} ${size}`}
      className="mx-auto mt-2 h-[132px] w-full"
      role="img"
      aria-label={`${branch} cut across`}
    >
      <circle
        r={reach}
        fill="none"
        stroke="var(--ink-second)"
        strokeWidth={size / 260}
        strokeDasharray={`${size / 60} ${size / 60}`}
      />
      {circles.map((c) => {
        const wire = wires[c.thing];
        const [base = "", tracer] = (wire?.colour ?? "").split("/");
        const filler = c.thing.startsWith("filler ");
        const cable = c.thing.startsWith("cable ") ? c.thing.slice(6) : null;
        return (
          <g key={c.thing}>
            <title>
              {wire
                ? `${wire.label}, ${wire.gauge}, ${wire.colour}, ${c.diameter_mm} mm`
                : filler
                  ? `filler, ${c.diameter_mm} mm`
                  : `${groups[cable ?? ""]?.name || c.thing}, ${c.diameter_mm} mm`}
            </title>
            <circle
              cx={c.x_mm}
              cy={c.y_mm}
              r={(c.diameter_mm / 2) * 0.97}
              fill={cable || filler ? "var(--wash)" : (hex[base] ?? "var(--bar)")}
              stroke={filler ? "var(--rule)" : "var(--ink)"}
              strokeWidth={size / 220}
            />
            {tracer && (
              <path
                d={`M ${c.x_mm} ${c.y_mm - c.diameter_mm * 0.44} V ${c.y_mm + c.diameter_mm * 0.44}`}
                stroke={hex[tracer] ?? "var(--ink)"}
                strokeWidth={c.diameter_mm * 0.2}
              />
            )}
            <circle cx={c.x_mm} cy={c.y_mm} r={((wire?.conductor_mm ?? 0) / 2) * 0.95} fill="var(--copper)" />
          </g>
        );
      })}
    </svg>
  );
}
