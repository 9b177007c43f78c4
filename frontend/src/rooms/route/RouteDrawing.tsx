import { useDesign } from "../../api/design";
import { length } from "../../format";

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
  const at = (point: string) => {
    const p = laid[point];
    return p ? { x: p.x_mm * scale + offsetX, y: p.y_mm * scale + offsetY } : { x: 0, y: 0 };
  };
  const connectorsAt: Record<string, string[]> = {};
  for (const [id, c] of Object.entries(document.ends.connectors)) {
    if (c.point) (connectorsAt[c.point] ??= []).push(id);
  }
  const branches = Object.entries(document.route.branches);
  // A zone is named once, beside its longest branch, on the side its length is not on.
  const zoneLabels = new Map<string, string>();
  for (const [id, b] of branches) {
    const longest = zoneLabels.get(b.zone ?? "");
    if (b.zone && b.length_mm > (longest ? (document.route.branches[longest]?.length_mm ?? 0) : 0)) zoneLabels.set(b.zone, id);
  }
  const bar = scaleBar(scale);
  return (
    <svg viewBox={`0 0 ${WIDTH} ${HEIGHT}`} className="w-full border border-ink bg-sheet" role="img" aria-label="The route, drawn to scale">
      {branches.map(([id, b]) => {
        if (!b.zone) return null;
        const a = at(b.from_point);
        const c = at(b.to_point);
        const zone = document.brief.zones[b.zone];
        const hot = (zone?.ambient_c ?? 0) >= 60;
        return <line key={id} x1={a.x} y1={a.y} x2={c.x} y2={c.y} stroke={hot ? "var(--zone-hot)" : "var(--zone-cool)"} strokeWidth={44} strokeLinecap="round" />;
      })}
      {branches.map(([id, b]) => {
        const a = at(b.from_point);
        const c = at(b.to_point);
        const bundle = evaluation.route.branches[id]?.bundle_mm ?? 0;
        const thick = Math.max(3, Math.min(16, bundle * 1.4));
        const lean = Math.atan2(c.y - a.y, c.x - a.x);
        const up = Math.abs(Math.cos(lean)) > 0.85;
        const middle = { x: (a.x + c.x) / 2, y: (a.y + c.y) / 2 };
        return (
          <g key={id} onClick={() => onChoose(id)} className="cursor-pointer">
            <line x1={a.x} y1={a.y} x2={c.x} y2={c.y} stroke={chosen === id ? "var(--madder)" : "var(--ink)"} strokeWidth={thick} strokeLinecap="round" />
            {bundle > 0 && <line x1={a.x} y1={a.y} x2={c.x} y2={c.y} stroke="var(--sheet)" strokeOpacity={0.4} strokeWidth={1} strokeDasharray="5 5" />}
            <line x1={a.x} y1={a.y} x2={c.x} y2={c.y} stroke="transparent" strokeWidth={24} />
            <text
              x={middle.x + (up ? 0 : -14 * Math.sign(Math.sin(lean) || 1) - 6)}
              y={middle.y + (up ? -thick / 2 - 9 : 5)}
              textAnchor={up ? "middle" : "end"}
              className="fill-ink font-figures text-[15px] font-semibold"
              stroke="var(--sheet)"
              strokeWidth={4}
              paintOrder="stroke"
            >
              {length(b.length_mm, units).replace(" mm", "")}
            </text>
          </g>
        );
      })}
      {[...zoneLabels].map(([zone, id]) => {
        const b = document.route.branches[id];
        const z = document.brief.zones[zone];
        if (!b || !z) return null;
        const a = at(b.from_point);
        const c = at(b.to_point);
        return (
          <text key={zone} x={(a.x + c.x) / 2} y={(a.y + c.y) / 2 + 22} textAnchor="middle" stroke="var(--sheet)" strokeWidth={3} paintOrder="stroke" className={`text-[14px] ${z.ambient_c >= 60 ? "fill-ochre" : "fill-blue"}`}>
            {z.name} {z.ambient_c} °C{z.wet ? ", wet" : ""}
          </text>
        );
      })}
      {Object.values(evaluation.route.splices).map((s) => {
        const here = at(s.point);
        const b = s.branch ? document.route.branches[s.branch] : undefined;
        const other = b ? at(b.from_point === s.point ? b.to_point : b.from_point) : here;
        const far = Math.hypot(other.x - here.x, other.y - here.y) || 1;
        const share = Math.min((s.offset_mm * scale) / far, 1);
        return (
          <ellipse key={s.circuit + s.point} cx={here.x + (other.x - here.x) * share} cy={here.y + (other.y - here.y) * share} rx={10} ry={7} fill="var(--copper)" stroke="var(--ink)" strokeWidth={1.5}>
            <title>{`Splice of ${document.circuits.circuits[s.circuit]?.name || s.circuit}`}</title>
          </ellipse>
        );
      })}
      {Object.entries(document.route.points).map(([id, p]) => {
        const here = at(id);
        const connectors = connectorsAt[id];
        const low = here.y > offsetY + 4;
        const dy = connectors ? (low ? 27 : -28) : 21;
        return (
          <g key={id}>
            {connectors ? (
              <rect x={here.x - 9} y={here.y - 9} width={18} height={18} fill="var(--sheet)" stroke="var(--ink)" strokeWidth={2} />
            ) : (
              <circle cx={here.x} cy={here.y} r={5} fill="var(--sheet)" stroke="var(--ink)" strokeWidth={2} />
            )}
            <text x={here.x} y={here.y + dy} textAnchor="middle" className="fill-ink text-[14px]" stroke="var(--sheet)" strokeWidth={4} paintOrder="stroke">
              <tspan className="font-bold">{connectors ? connectors.join(" ") : ""}</tspan>
              <tspan x={here.x} dy={connectors ? 15 : 0} className="fill-second text-[13px]">
                {p.name || (connectors ? "" : id)}
              </tspan>
            </text>
          </g>
        );
      })}
      <g transform={`translate(${WIDTH - 40 - bar.px} ${HEIGHT - 24})`} className="fill-second text-[13px]">
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
