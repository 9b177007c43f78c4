import { useDesign } from "../../api/design";
import { length } from "../../format";
import { Labels, type Spot } from "./labels";

const WIDTH = 760;
const HEIGHT = 350;
const MARGIN = 48;

/** The route as it will lie on the board: straight branches to scale, lengths on them, zones as tints. */
export function RouteDrawing({ chosen, onChoose }: { chosen: string | null; onChoose: (branch: string) => void }) {
  const { design } = useDesign();
  const { document, evaluation } = design;
  const units = document.brief.units;
  const laid = evaluation.route.points;
  const points = Object.values(laid);
  const span = (values: number[]) => [Math.min(...values), Math.max(...values)] as const;
  const [left, right] = span(points.map((p) => p.x_mm));
  const [top, bottom] = span(points.map((p) => p.y_mm));
  const scale = Math.min((WIDTH - 2 * MARGIN - 30) / Math.max(right - left, 1), (HEIGHT - 2 * MARGIN) / Math.max(bottom - top, 1), 1.2);
  const offsetX = (WIDTH - (right - left) * scale) / 2 - left * scale;
  const offsetY = (HEIGHT - (bottom - top) * scale) / 2 - top * scale;
  const at = (point: string): Spot => {
    const p = laid[point];
    return p ? { x: p.x_mm * scale + offsetX, y: p.y_mm * scale + offsetY } : { x: 0, y: 0 };
  };
  const connectorsAt: Record<string, string[]> = {};
  for (const [id, c] of Object.entries(document.ends.connectors)) {
    if (c.point) (connectorsAt[c.point] ??= []).push(id);
  }
  const branches = Object.entries(document.route.branches).map(([id, b]) => {
    const a = at(b.from_point);
    const c = at(b.to_point);
    const bundle = evaluation.route.branches[id]?.bundle.loose_mm ?? 0;
    return { id, b, a, c, bundle, thick: Math.max(3, Math.min(14, bundle * 1.3)), middle: { x: (a.x + c.x) / 2, y: (a.y + c.y) / 2 } };
  });

  // What is written keeps off what is already written and off the branches.
  const labels = new Labels(branches.map((x) => [x.a, x.c]));
  for (const id of Object.keys(laid)) labels.block(at(id), 11, 11);
  const lengths = branches.map((x) => {
    const text = length(x.b.length_mm, units).replace(" mm", "");
    return { ...x, text, spot: labels.beside(x.a, x.c, text.length * 8.5, 14, x.thick / 2 + 4) };
  });
  const names = Object.entries(document.route.points).map(([id, p]) => {
    const here = connectorsAt[id] ?? [];
    const connectors = here.length > 3 ? `${here.slice(0, 2).join(" ")} +${here.length - 2}` : here.join(" ");
    const name = p.name || (connectors ? "" : id);
    const wide = Math.max(connectors.length * 8.5, name.length * 6.6);
    return { id, connectors, name, spot: labels.around(at(id), wide, connectors && name ? 30 : 15) };
  });
  const zones = Object.entries(document.brief.zones).flatMap(([id, z]) => {
    const here = branches.filter((x) => x.b.zone === id);
    const text = `${z.name} ${z.ambient_c} °C${z.wet ? ", wet" : ""}`;
    const spot = labels.firstBeside(
      here.map((x) => [x.a, x.c]),
      text.length * 6.9,
      15,
      20,
    );
    return spot ? [{ id, text, spot, hot: z.ambient_c >= 60 }] : [];
  });
  const bar = scaleBar(scale);
  return (
    <svg viewBox={`0 0 ${WIDTH} ${HEIGHT}`} className="max-h-[360px] w-full border border-ink bg-sheet" role="img" aria-label="The route, drawn to scale">
      {branches.map(({ id, b, a, c }) =>
        b.zone ? (
          <line
            key={id}
            x1={a.x}
            y1={a.y}
            x2={c.x}
            y2={c.y}
            stroke={(document.brief.zones[b.zone]?.ambient_c ?? 0) >= 60 ? "var(--zone-hot)" : "var(--zone-cool)"}
            strokeWidth={38}
          />
        ) : null,
      )}
      {branches.map(({ id, a, c, bundle, thick }) => (
        <g key={id} onClick={() => onChoose(id)} className="cursor-pointer">
          <line x1={a.x} y1={a.y} x2={c.x} y2={c.y} stroke={chosen === id ? "var(--madder)" : "var(--ink)"} strokeWidth={thick} strokeLinecap="round" />
          {bundle > 0 && <line x1={a.x} y1={a.y} x2={c.x} y2={c.y} stroke="var(--sheet)" strokeOpacity={0.4} strokeWidth={1} strokeDasharray="5 5" />}
          <line x1={a.x} y1={a.y} x2={c.x} y2={c.y} stroke="transparent" strokeWidth={24} />
        </g>
      ))}
      {zones.map((z) => (
        <text key={z.id} x={z.spot.x} y={z.spot.y + 5} textAnchor="middle" className={`text-[14px] ${z.hot ? "fill-ochre" : "fill-blue"}`}>
          {z.text}
        </text>
      ))}
      {lengths.map(({ id, text, spot }) => (
        <text
          key={id}
          x={spot.x}
          y={spot.y + 5}
          textAnchor="middle"
          className="pointer-events-none fill-ink font-figures text-[15px] font-semibold"
          stroke="var(--sheet)"
          strokeWidth={3}
          paintOrder="stroke"
        >
          {text}
        </text>
      ))}
      {Object.entries(evaluation.route.splices).map(([splice, s]) => {
        const here = at(s.point);
        const b = s.branch ? document.route.branches[s.branch] : undefined;
        const other = b ? at(b.from_point === s.point ? b.to_point : b.from_point) : here;
        const far = Math.hypot(other.x - here.x, other.y - here.y) || 1;
        const share = Math.min((s.offset_mm * scale) / far, 1);
        return (
          <ellipse key={splice} cx={here.x + (other.x - here.x) * share} cy={here.y + (other.y - here.y) * share} rx={10} ry={7} fill="var(--copper)" stroke="var(--ink)" strokeWidth={1.5}>
            <title>{`Splice of ${document.circuits.circuits[s.circuit]?.name || s.circuit}`}</title>
          </ellipse>
        );
      })}
      {names.map(({ id, connectors, name, spot }) => {
        const here = at(id);
        return (
          <g key={id}>
            {connectors ? (
              <rect x={here.x - 8} y={here.y - 8} width={16} height={16} fill="var(--sheet)" stroke="var(--ink)" strokeWidth={2} />
            ) : (
              <circle cx={here.x} cy={here.y} r={4.5} fill="var(--sheet)" stroke="var(--ink)" strokeWidth={2} />
            )}
            <text textAnchor="middle" className="fill-ink text-[14px]" stroke="var(--sheet)" strokeWidth={3} paintOrder="stroke">
              {connectors && (
                <tspan x={spot.x} y={spot.y + (name ? -3 : 5)} className="font-bold">
                  {connectors}
                </tspan>
              )}
              <tspan x={spot.x} y={spot.y + (connectors ? 12 : 5)} className="fill-second text-[13px]">
                {name}
              </tspan>
            </text>
          </g>
        );
      })}
      <g transform={`translate(${WIDTH - 24 - bar.px} ${HEIGHT - 18})`} className="fill-second text-[13px]">
        <line x1={0} x2={bar.px} y1={0} y2={0} stroke="var(--ink)" strokeWidth={1.5} />
        <line x1={0} x2={0} y1={-5} y2={5} stroke="var(--ink)" strokeWidth={1.5} />
        <line x1={bar.px} x2={bar.px} y1={-5} y2={5} stroke="var(--ink)" strokeWidth={1.5} />
        <text x={bar.px / 2} y={-8} textAnchor="middle">
          {length(bar.mm, units)}
        </text>
      </g>
    </svg>
  );
}

function scaleBar(scale: number): { mm: number; px: number } {
  const sizes = [10, 25, 50, 100, 250, 500, 1000, 2500, 5000, 10000, 25000];
  const mm = sizes.find((s) => s * scale >= 70) ?? 50000;
  return { mm, px: mm * scale };
}
