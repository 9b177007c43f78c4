import { length, type Units } from "../../format";
import type { Picture } from "./drawing";

/** Zones as tints along the branches. */
export function Tints({ tints }: { tints: Picture["tints"] }) {
  return (
    <>
      {tints.map((t, i) => (
        <line
          key={i}
          x1={t.a.x}
          y1={t.a.y}
          x2={t.b.x}
          y2={t.b.y}
          stroke={t.hot ? "var(--zone-hot)" : "var(--zone-cool)"}
          strokeWidth={t.wide}
        >
          <title>{t.title}</title>
        </line>
      ))}
    </>
  );
}

/** The branches, as thick as their bundles. */
export function Branches({
  branches,
  chosen,
  onChoose,
}: {
  branches: Picture["branches"];
  chosen: string | null;
  onChoose: (branch: string) => void;
}) {
  return (
    <>
      {branches.map(({ id, a, b, bundle_mm, thick, title }) => (
        <g key={id} onClick={() => onChoose(id)} className="cursor-pointer">
          <title>{title}</title>
          <line
            x1={a.x}
            y1={a.y}
            x2={b.x}
            y2={b.y}
            stroke={chosen === id ? "var(--madder)" : "var(--ink)"}
            strokeWidth={thick}
            strokeLinecap="round"
          />
          {bundle_mm > 0 && (
            <line
              x1={a.x}
              y1={a.y}
              x2={b.x}
              y2={b.y}
              stroke="var(--sheet)"
              strokeOpacity={0.4}
              strokeWidth={1}
              strokeDasharray="5 5"
            />
          )}
          <line x1={a.x} y1={a.y} x2={b.x} y2={b.y} stroke="transparent" strokeWidth={Math.max(18, thick)} />
        </g>
      ))}
    </>
  );
}

/** Clamps and stations. */
export function Marks({ marks }: { marks: Picture["marks"] }) {
  return (
    <>
      {marks.map((m, i) => (
        <g key={i} className="pointer-events-none">
          <line x1={m.a.x} y1={m.a.y} x2={m.b.x} y2={m.b.y} stroke={m.colour} strokeWidth={m.wide} />
          {m.text && (
            <text
              x={m.at.x}
              y={m.at.y + 4}
              textAnchor="middle"
              className="fill-blue font-figures text-fine"
              stroke="var(--sheet)"
              strokeWidth={3}
              paintOrder="stroke"
            >
              {m.text}
            </text>
          )}
        </g>
      ))}
    </>
  );
}

/** What zones are called. */
export function ZoneNames({ zones }: { zones: Picture["zones"] }) {
  return (
    <>
      {zones.map((z) => (
        <text
          key={z.id}
          x={z.spot.x}
          y={z.spot.y + 5}
          textAnchor="middle"
          className={`pointer-events-none text-plain ${z.hot ? "fill-ochre" : "fill-blue"}`}
        >
          {z.text}
        </text>
      ))}
    </>
  );
}

/** Lengths of branches. */
export function Lengths({ lengths, chosen }: { lengths: Picture["lengths"]; chosen: string | null }) {
  return (
    <>
      {lengths.map(({ id, text, spot }) => (
        <text
          key={id}
          x={spot.x}
          y={spot.y + 5}
          textAnchor="middle"
          className={`pointer-events-none font-figures text-plain font-semibold ${chosen === id ? "fill-madder" : "fill-ink"}`}
        >
          {text}
        </text>
      ))}
    </>
  );
}

/** Splices where they lie. */
export function Splices({ splices }: { splices: Picture["splices"] }) {
  return (
    <>
      {splices.map((s) => (
        <ellipse
          key={s.id}
          cx={s.at.x}
          cy={s.at.y}
          rx={8}
          ry={5.5}
          transform={`rotate(${s.angle} ${s.at.x} ${s.at.y})`}
          fill="var(--copper)"
          stroke="var(--ink)"
          strokeWidth={1.5}
        >
          <title>{s.title}</title>
        </ellipse>
      ))}
    </>
  );
}

/** Points: a square holds connectors, a double ring is an opening. */
export function Points({ points }: { points: Picture["points"] }) {
  return (
    <>
      {points.map((p) =>
        p.square ? (
          <rect
            key={p.id}
            x={p.at.x - 7}
            y={p.at.y - 7}
            width={14}
            height={14}
            fill="var(--sheet)"
            stroke="var(--ink)"
            strokeWidth={2}
          >
            <title>{p.title}</title>
          </rect>
        ) : p.kind === "opening" ? (
          <g key={p.id}>
            <title>{p.title}</title>
            <circle cx={p.at.x} cy={p.at.y} r={9} fill="none" stroke="var(--ink)" strokeWidth={2} />
            <circle cx={p.at.x} cy={p.at.y} r={5} fill="var(--sheet)" stroke="var(--ink)" strokeWidth={1.5} />
          </g>
        ) : (
          <circle key={p.id} cx={p.at.x} cy={p.at.y} r={4.5} fill="var(--sheet)" stroke="var(--ink)" strokeWidth={2}>
            <title>{p.title}</title>
          </circle>
        ),
      )}
    </>
  );
}

/** What points and their connectors are called. */
export function Names({ names }: { names: Picture["names"] }) {
  return (
    <>
      {names.map(({ id, connectors, name, spot }) => (
        <g key={id} className="pointer-events-none">
          {spot.leader && (
            <line
              x1={spot.leader[0].x}
              y1={spot.leader[0].y}
              x2={spot.leader[1].x}
              y2={spot.leader[1].y}
              stroke="var(--ink-second)"
              strokeWidth={0.9}
            />
          )}
          <text
            textAnchor="middle"
            className="fill-ink text-plain"
            stroke="var(--sheet)"
            strokeWidth={3}
            paintOrder="stroke"
          >
            {connectors && (
              <tspan x={spot.x} y={spot.y + (name ? -3 : 5)} className="font-bold">
                {connectors}
              </tspan>
            )}
            <tspan x={spot.x} y={spot.y + (connectors ? 12 : 5)} className="fill-second text-fine">
              {name}
            </tspan>
          </text>
        </g>
      ))}
    </>
  );
}

/** A length to go by. */
export function ScaleBar({
  bar,
  units,
  right,
  low,
}: {
  bar: Picture["bar"];
  units: Units;
  right: number;
  low: number;
}) {
  return (
    <g transform={`translate(${right - bar.px} ${low})`} className="fill-second text-fine">
      <rect x={-8} y={-26} width={bar.px + 16} height={36} fill="var(--sheet)" fillOpacity={0.85} />
      <line x1={0} x2={bar.px} y1={0} y2={0} stroke="var(--ink)" strokeWidth={1.5} />
      <line x1={0} x2={0} y1={-5} y2={5} stroke="var(--ink)" strokeWidth={1.5} />
      <line x1={bar.px} x2={bar.px} y1={-5} y2={5} stroke="var(--ink)" strokeWidth={1.5} />
      <text x={bar.px / 2} y={-8} textAnchor="middle">
        {length(bar.mm, units)}
      </text>
    </g>
  );
}
