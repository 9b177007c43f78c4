import {
  useCallback,
  useEffect,
  useLayoutEffect,
  useMemo,
  useRef,
  useState,
  type KeyboardEvent,
  type PointerEvent,
} from "react";
import type { DesignReply } from "../../api/client";
import { useDesign } from "../../api/design";
import { length, type Units } from "../../format";
import { Labels, NEAR, type Line, type Spot } from "./labels";

const HEIGHT = 400;
const MARGIN = 46;
const CLOSEST = 24;

interface View {
  /** Times the scale at which all of it fits. */
  zoom: number;
  /** Moved by so many pixels. */
  dx: number;
  dy: number;
}

const FIT: View = { zoom: 1, dx: 0, dy: 0 };

/** The route as it will lie on the board: straight branches to scale, lengths on them, zones as tints along them. */
export function RouteDrawing({ chosen, onChoose }: { chosen: string | null; onChoose: (branch: string) => void }) {
  const { design } = useDesign();
  const [view, setView] = useState<View>(FIT);
  const [extras, setExtras] = useState({ stations: false, clamps: false });
  const frame = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(760);
  useLayoutEffect(() => {
    const box = frame.current;
    if (!box) return;
    const watch = new ResizeObserver(() => setWidth(Math.max(320, box.clientWidth)));
    watch.observe(box);
    return () => watch.disconnect();
  }, []);
  const closer = useCallback((by: number, at?: Spot) => {
    setView((v) => {
      const zoom = Math.min(CLOSEST, Math.max(1, v.zoom * by));
      if (zoom === 1) return FIT;
      // What lies under the pointer stays there.
      const ratio = zoom / v.zoom;
      const from = at ?? { x: 0, y: 0 };
      return { zoom, dx: from.x - (from.x - v.dx) * ratio, dy: from.y - (from.y - v.dy) * ratio };
    });
  }, []);
  const svg = useRef<SVGSVGElement>(null);
  useEffect(() => {
    const box = svg.current;
    if (!box) return;
    // A wheel with Ctrl, or two fingers spread, comes closer; a plain wheel scrolls the page.
    const onWheel = (e: WheelEvent) => {
      if (!e.ctrlKey && !e.metaKey) return;
      e.preventDefault();
      const rect = box.getBoundingClientRect();
      closer(Math.exp(-e.deltaY / 300), {
        x: e.clientX - rect.left - rect.width / 2,
        y: e.clientY - rect.top - rect.height / 2,
      });
    };
    box.addEventListener("wheel", onWheel, { passive: false });
    return () => box.removeEventListener("wheel", onWheel);
  }, [closer]);
  const drag = useRef<{ x: number; y: number; from: View } | null>(null);
  const onPointerDown = (e: PointerEvent<SVGSVGElement>) => {
    drag.current = { x: e.clientX, y: e.clientY, from: view };
  };
  const onPointerMove = (e: PointerEvent<SVGSVGElement>) => {
    const held = drag.current;
    if (held && e.buttons)
      setView({ ...held.from, dx: held.from.dx + e.clientX - held.x, dy: held.from.dy + e.clientY - held.y });
  };
  const onKeyDown = (e: KeyboardEvent) => {
    const by: Record<string, () => void> = {
      "+": () => closer(1.4),
      "=": () => closer(1.4),
      "-": () => closer(1 / 1.4),
      "0": () => setView(FIT),
      ArrowLeft: () => setView((v) => ({ ...v, dx: v.dx + 60 })),
      ArrowRight: () => setView((v) => ({ ...v, dx: v.dx - 60 })),
      ArrowUp: () => setView((v) => ({ ...v, dy: v.dy + 60 })),
      ArrowDown: () => setView((v) => ({ ...v, dy: v.dy - 60 })),
    };
    const done = by[e.key];
    if (!done || e.ctrlKey || e.altKey || e.metaKey) return;
    e.preventDefault();
    done();
  };
  const picture = useMemo(() => draw(design, view, width, extras, chosen), [design, view, width, extras, chosen]);
  const units = design.document.brief.units;
  const dated = Object.values(design.evaluation.route.points).some((p) => p.station_mm !== null);
  return (
    <div ref={frame}>
      <svg
        ref={svg}
        viewBox={`0 0 ${width} ${HEIGHT}`}
        width={width}
        height={HEIGHT}
        tabIndex={0}
        className="w-full touch-pan-y select-none border border-ink bg-sheet"
        role="img"
        aria-label="The route, drawn to scale. Plus and minus come closer and go back, arrows move it, 0 shows all of it."
        onPointerDown={onPointerDown}
        onPointerMove={onPointerMove}
        onPointerUp={() => (drag.current = null)}
        onPointerLeave={() => (drag.current = null)}
        onKeyDown={onKeyDown}
      >
        {picture.tints.map((t, i) => (
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
        {picture.branches.map(({ id, a, c, bundle, thick, title }) => (
          <g key={id} onClick={() => onChoose(id)} className="cursor-pointer">
            <title>{title}</title>
            <line
              x1={a.x}
              y1={a.y}
              x2={c.x}
              y2={c.y}
              stroke={chosen === id ? "var(--madder)" : "var(--ink)"}
              strokeWidth={thick}
              strokeLinecap="round"
            />
            {bundle > 0 && (
              <line
                x1={a.x}
                y1={a.y}
                x2={c.x}
                y2={c.y}
                stroke="var(--sheet)"
                strokeOpacity={0.4}
                strokeWidth={1}
                strokeDasharray="5 5"
              />
            )}
            <line x1={a.x} y1={a.y} x2={c.x} y2={c.y} stroke="transparent" strokeWidth={Math.max(18, thick)} />
          </g>
        ))}
        {picture.marks.map((m, i) => (
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
        {picture.zones.map((z) => (
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
        {picture.lengths.map(({ id, text, spot }) => (
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
        {picture.splices.map((s) => (
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
        {picture.points.map((p) =>
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
        {picture.names.map(({ id, connectors, name, spot }) => (
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
        <g transform={`translate(${width - 24 - picture.bar.px} ${HEIGHT - 14})`} className="fill-second text-fine">
          <rect x={-8} y={-26} width={picture.bar.px + 16} height={36} fill="var(--sheet)" fillOpacity={0.85} />
          <line x1={0} x2={picture.bar.px} y1={0} y2={0} stroke="var(--ink)" strokeWidth={1.5} />
          <line x1={0} x2={0} y1={-5} y2={5} stroke="var(--ink)" strokeWidth={1.5} />
          <line x1={picture.bar.px} x2={picture.bar.px} y1={-5} y2={5} stroke="var(--ink)" strokeWidth={1.5} />
          <text x={picture.bar.px / 2} y={-8} textAnchor="middle">
            {length(picture.bar.mm, units)}
          </text>
        </g>
      </svg>
      <p className="mt-1 flex flex-wrap items-center gap-x-4 gap-y-1 text-plain text-second">
        <span className="flex gap-1">
          <button
            className="press px-2.5 py-0"
            aria-label="Closer"
            title="Closer: + or Ctrl and the wheel"
            onClick={() => closer(1.5)}
          >
            +
          </button>
          <button className="press px-2.5 py-0" aria-label="Farther" title="Farther: -" onClick={() => closer(1 / 1.5)}>
            −
          </button>
          <button className="press px-2.5 py-0" title="All of it: 0" onClick={() => setView(FIT)}>
            All of it
          </button>
        </span>
        <label className="flex items-center gap-1.5">
          <input
            type="checkbox"
            className="accent-(--ink)"
            checked={extras.clamps}
            onChange={(e) => setExtras({ ...extras, clamps: e.target.checked })}
          />
          clamps
        </label>
        <label className="flex items-center gap-1.5" title={dated ? "" : "Mark a point as the datum under Points"}>
          <input
            type="checkbox"
            className="accent-(--ink)"
            disabled={!dated}
            checked={extras.stations && dated}
            onChange={(e) => setExtras({ ...extras, stations: e.target.checked })}
          />
          stations from the datum
        </label>
        {picture.waiting > 0 && (
          <span>
            {picture.waiting === 1 ? "One name or length waits" : `${picture.waiting} names and lengths wait`} for a
            closer look.
          </span>
        )}
      </p>
    </div>
  );
}

interface Extras {
  stations: boolean;
  clamps: boolean;
}

/** Everything placed, in pixels. What is written keeps off what is already written and off the branches. */
function draw(design: DesignReply, view: View, width: number, extras: Extras, chosen: string | null) {
  const { document, evaluation } = design;
  const units = document.brief.units;
  const laid = evaluation.route.points;
  const all = Object.values(laid);
  const span = (values: number[]) => [Math.min(...values), Math.max(...values)] as const;
  const [left, right] = span(all.map((p) => p.x_mm));
  const [top, bottom] = span(all.map((p) => p.y_mm));
  const fit = Math.min(
    (width - 2 * MARGIN - 40) / Math.max(right - left, 1),
    (HEIGHT - 2 * MARGIN) / Math.max(bottom - top, 1),
    1.2,
  );
  const scale = fit * view.zoom;
  const at = (point: string): Spot => {
    const p = laid[point];
    if (!p) return { x: 0, y: 0 };
    return {
      x: (p.x_mm - (left + right) / 2) * scale + width / 2 + view.dx,
      y: (p.y_mm - (top + bottom) / 2) * scale + HEIGHT / 2 + view.dy,
    };
  };
  const seen = (p: Spot, by = 0) => p.x > -by && p.x < width + by && p.y > -by && p.y < HEIGHT + by;
  const connectorsAt: Record<string, string[]> = {};
  for (const [id, c] of Object.entries(document.ends.connectors)) if (c.point) (connectorsAt[c.point] ??= []).push(id);
  const branches = Object.entries(document.route.branches).map(([id, b]) => {
    const bundle = evaluation.dress.bundles[id]?.loose_mm ?? 0;
    const a = at(b.from_point);
    const c = at(b.to_point);
    const name = (p: string) => document.route.points[p]?.name || p;
    return {
      id,
      b,
      a,
      c,
      bundle,
      thick: Math.max(3, Math.min(18, Math.max(bundle * 1.3, bundle * scale))),
      title: `${id}, ${name(b.from_point)} to ${name(b.to_point)}, ${length(b.length_mm, units)}${bundle ? `, ${bundle.toFixed(1)} mm thick` : ""}`,
    };
  });
  const along = (x: { a: Spot; c: Spot; b: { length_mm: number } }, mm: number): Spot => {
    const share = x.b.length_mm > 0 ? Math.min(Math.max(mm / x.b.length_mm, 0), 1) : 0;
    return { x: x.a.x + (x.c.x - x.a.x) * share, y: x.a.y + (x.c.y - x.a.y) * share };
  };
  const hot = new Set(evaluation.brief.hot_zones);
  const tinted: { a: Spot; b: Spot; hot: boolean; wide: number; title: string; zone: string; line: Line }[] = [];
  for (const x of branches) {
    for (const { zone, from_mm: from, to_mm: to } of evaluation.route.branches[x.id]?.stretches ?? []) {
      const z = document.brief.zones[zone];
      if (!z) continue;
      const a = along(x, from);
      const b = along(x, to);
      tinted.push({
        a,
        b,
        hot: hot.has(zone),
        wide: x.thick + 24,
        title: `${z.name}, ${z.ambient_c} °C, ${length(to - from, units)} of ${x.id}`,
        zone,
        line: [a, b],
      });
    }
  }
  const labels = new Labels(
    branches.map((x) => [x.a, x.c]),
    width,
    HEIGHT,
  );
  let waiting = 0;
  for (const id of Object.keys(laid)) labels.block(at(id), 9, 9);
  const points = Object.entries(document.route.points)
    .map(([id, p]) => {
      const here = connectorsAt[id] ?? [];
      const station = laid[id]?.station_mm;
      const title = [
        `${id}${p.name && p.name !== id ? ` ${p.name}` : ""}, ${p.kind}`,
        here.length ? `holds ${here.join(" ")}` : "",
        typeof station === "number" ? `${length(station, units)} from the datum` : "",
      ]
        .filter(Boolean)
        .join("; ");
      return { id, at: at(id), square: here.length > 0, kind: p.kind, title, here, name: p.name };
    })
    .filter((p) => seen(p.at, 10));
  const wanted = [...points]
    .sort((p, q) => Number(q.square) - Number(p.square))
    .map((p) => {
      const connectors = p.here.length > 3 ? `${p.here.slice(0, 2).join(" ")} +${p.here.length - 2}` : p.here.join(" ");
      const name = p.name || (connectors ? "" : p.id);
      return {
        id: p.id,
        at: p.at,
        connectors,
        name,
        wide: Math.max(connectors.length * 8.6, name.length * 6.8) + 4,
        high: connectors && name ? 30 : 16,
      };
    });
  // Names that find room close by come first, then the lengths, then names that need a leader.
  const close = wanted.flatMap((p) => {
    const spot = p.connectors ? labels.around(p.at, p.wide, p.high, NEAR) : null;
    return spot ? [{ ...p, spot }] : [];
  });
  const first = (id: string) => (id === chosen ? 0 : 1);
  const lengths = [...branches]
    .sort((p, q) => first(p.id) - first(q.id) || q.b.length_mm - p.b.length_mm)
    .filter((x) => seen({ x: (x.a.x + x.c.x) / 2, y: (x.a.y + x.c.y) / 2 }))
    .flatMap((x) => {
      const text = length(x.b.length_mm, units).replace(" mm", "");
      const spot = labels.beside(x.a, x.c, text.length * 8.6 + 4, 15, x.thick / 2 + 3);
      if (!spot) waiting += 1;
      return spot ? [{ id: x.id, text, spot }] : [];
    });
  const placed = new Set(close.map((p) => p.id));
  const names = [
    ...close,
    ...wanted
      .filter((p) => !placed.has(p.id))
      .flatMap((p) => {
        const spot = labels.around(p.at, p.wide, p.high);
        if (!spot) waiting += 1;
        return spot ? [{ ...p, spot }] : [];
      }),
  ];
  const zones = Object.entries(document.brief.zones).flatMap(([id, z]) => {
    const here = tinted.filter((t) => t.zone === id).map((t) => t.line);
    const text = `${z.name} ${z.ambient_c} °C${z.wet ? ", wet" : ""}`;
    const spot = here.length ? labels.firstBeside(here, text.length * 7.2, 16, 20) : null;
    return spot ? [{ id, text, spot, hot: hot.has(id) }] : [];
  });
  const splices = Object.entries(evaluation.route.splices).map(([id, s]) => {
    const x = branches.find((q) => q.id === s.branch);
    const here = x ? along(x, x.b.from_point === s.point ? s.offset_mm : x.b.length_mm - s.offset_mm) : at(s.point);
    const angle = x ? (Math.atan2(x.c.y - x.a.y, x.c.x - x.a.x) * 180) / Math.PI : 0;
    const name = document.route.points[s.point]?.name || s.point;
    const circuit = document.circuits.circuits[s.circuit]?.name || s.circuit;
    return {
      id,
      at: here,
      angle,
      title: `Splice of ${circuit}, ${s.offset_mm ? `${length(s.offset_mm, units)} from ${name} along ${s.branch ?? ""}` : `at ${name}`}`,
    };
  });
  const marks = extras.clamps || extras.stations ? ticks(design, branches, along, labels, extras, scale, units) : [];
  return {
    tints: tinted,
    branches,
    lengths,
    points,
    names,
    zones,
    splices,
    marks,
    waiting,
    bar: scaleBar(scale, units),
  };
}

type Laid = {
  id: string;
  b: { from_point: string; to_point: string; length_mm: number };
  a: Spot;
  c: Spot;
  thick: number;
};

interface Mark {
  a: Spot;
  b: Spot;
  at: Spot;
  text: string;
  colour: string;
  wide: number;
}

/** Clamps as advised, and stations at round distances from the datum. */
function ticks(
  design: DesignReply,
  branches: Laid[],
  along: (x: Laid, mm: number) => Spot,
  labels: Labels,
  extras: Extras,
  scale: number,
  units: Units,
): Mark[] {
  const { evaluation } = design;
  const found: Mark[] = [];
  const across = (x: Laid, mm: number, reach: number, colour: string, wide: number, text: string) => {
    const here = along(x, mm);
    const far = Math.hypot(x.c.x - x.a.x, x.c.y - x.a.y) || 1;
    const n = { x: -(x.c.y - x.a.y) / far, y: (x.c.x - x.a.x) / far };
    const a = { x: here.x + n.x * reach, y: here.y + n.y * reach };
    const b = { x: here.x - n.x * reach, y: here.y - n.y * reach };
    const broad = text.length * 7.4;
    const off = reach + 2 + (Math.abs(n.x) * broad + Math.abs(n.y) * 13) / 2;
    const ends = [off, -off].map((by) => ({ x: here.x + n.x * by, y: here.y + n.y * by }));
    const spot = text ? labels.at(ends, broad, 13) : null;
    found.push({ a, b, at: spot ?? here, text: spot ? text : "", colour, wide });
  };
  for (const x of branches) {
    const bundle = evaluation.dress.bundles[x.id];
    if (extras.clamps && bundle) {
      for (let n = 1; n <= bundle.clamps; n += 1)
        across(x, bundle.clamp_every_mm * n, x.thick / 2 + 5, "var(--verdigris)", 4, "");
    }
    const begin = evaluation.route.points[x.b.from_point]?.station_mm;
    const end = evaluation.route.points[x.b.to_point]?.station_mm;
    if (!extras.stations || typeof begin !== "number" || typeof end !== "number") continue;
    const step =
      (units === "inch"
        ? [2, 4, 10, 20, 40, 100, 200].map((inch) => inch * 25.4)
        : [50, 100, 250, 500, 1000, 2500, 5000]
      ).find((s) => s * scale >= 56) ?? 10000;
    const [low, high] = begin < end ? [begin, end] : [end, begin];
    for (let s = Math.ceil(low / step + 1e-9) * step; s < high; s += step) {
      across(
        x,
        begin < end ? s - begin : begin - s,
        x.thick / 2 + 6,
        "var(--blue)",
        1.5,
        length(s, units).replace(" mm", ""),
      );
    }
  }
  return found;
}

function scaleBar(scale: number, units: Units): { mm: number; px: number } {
  const round =
    units === "inch"
      ? [0.5, 1, 2, 4, 10, 20, 40, 100, 200, 400, 1000].map((inch) => inch * 25.4)
      : [10, 25, 50, 100, 250, 500, 1000, 2500, 5000, 10000, 25000];
  const mm = round.find((s) => s * scale >= 70) ?? 50000;
  return { mm, px: mm * scale };
}
