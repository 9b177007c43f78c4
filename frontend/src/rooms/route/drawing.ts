import { bareText } from "../../components/columns";
import type { DesignReply } from "../../api/client";
import { degrees, fine, length, millimetres, type Units, unitsOf } from "../../format";
import { Labels, NEAR, type Line, type Spot } from "./labels";
import { along, type Laid } from "./laid";
import { clampMarks, scaleBar, stationMarks, type Extras, type Mark } from "./marks";

export const HEIGHT = 400;
const MARGIN = 46;

export interface View {
  /** Times the scale at which all of it fits. */
  zoom: number;
  /** Moved by so many pixels. */
  dx: number;
  dy: number;
}

interface Tint {
  a: Spot;
  b: Spot;
  hot: boolean;
  wide: number;
  title: string;
  zone: string;
  line: Line;
}

interface PointMark {
  id: string;
  at: Spot;
  square: boolean;
  kind: string;
  title: string;
  connectors: string[];
  name: string;
}

export interface Picture {
  tints: Tint[];
  branches: Laid[];
  lengths: { id: string; text: string; spot: Spot }[];
  points: PointMark[];
  names: Placed[];
  zones: { id: string; text: string; spot: Spot; hot: boolean }[];
  splices: { id: string; at: Spot; angle: number; title: string }[];
  marks: Mark[];
  waiting: number;
  bar: { mm: number; px: number };
}

interface Paper {
  scale: number;
  at: (point: string) => Spot;
  /** Whether a place is on the paper, or so many pixels beside it. */
  seen: (spot: Spot, by?: number) => boolean;
}

/** Everything placed, in pixels. What is written keeps off what is already written and off the branches. */
export function draw(design: DesignReply, view: View, width: number, extras: Extras, chosen: string | null): Picture {
  const units = unitsOf(design.document);
  const paper = paperOf(design, view, width);
  const branches = branchesOn(design, paper);
  const tints = tintsOn(design, branches);
  const labels = new Labels(
    branches.map((branch) => [branch.a, branch.b]),
    width,
    HEIGHT,
  );
  for (const id of Object.keys(design.evaluation.route.points)) labels.block(paper.at(id), 9, 9);
  const points = pointsOn(design, paper);
  // Names that find room close by come first, then the lengths, then names that need a leader.
  const wanted = namesWanted(points);
  const close = wanted.flatMap((name) => {
    const spot = name.connectors ? labels.around(name.at, name.wide, name.high, NEAR) : null;
    return spot ? [{ ...name, spot }] : [];
  });
  const middled = branches.filter(({ a, b }) => paper.seen({ x: (a.x + b.x) / 2, y: (a.y + b.y) / 2 }));
  const lengths = lengthsPlaced(middled, labels, units, chosen);
  const placed = new Set(close.map((name) => name.id));
  const far = wanted
    .filter((name) => !placed.has(name.id))
    .flatMap((name) => {
      const spot = labels.around(name.at, name.wide, name.high);
      return spot ? [{ ...name, spot }] : [];
    });
  const names = [...close, ...far];
  return {
    tints,
    branches,
    lengths,
    points,
    names,
    zones: zoneNames(design, tints, labels),
    splices: splicesOn(design, branches, paper),
    marks: branches.flatMap((laid) => [
      ...(extras.clamps ? clampMarks(design, laid) : []),
      ...(extras.stations ? stationMarks(design, laid, labels, paper.scale, units) : []),
    ]),
    waiting: middled.length - lengths.length + wanted.length - names.length,
    bar: scaleBar(paper.scale, units),
  };
}

function paperOf(design: DesignReply, view: View, width: number): Paper {
  const laid = design.evaluation.route.points;
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
  return {
    scale,
    at: (point) => {
      const p = laid[point];
      if (!p) return { x: 0, y: 0 };
      return {
        x: (p.x_mm - (left + right) / 2) * scale + width / 2 + view.dx,
        y: (p.y_mm - (top + bottom) / 2) * scale + HEIGHT / 2 + view.dy,
      };
    },
    seen: (spot, by = 0) => spot.x > -by && spot.x < width + by && spot.y > -by && spot.y < HEIGHT + by,
  };
}

function branchesOn({ document, evaluation }: DesignReply, { at, scale }: Paper): Laid[] {
  const name = (point: string) => document.route.points[point]?.name || point;
  return Object.entries(document.route.branches).map(([id, branch]) => {
    const bundle_mm = evaluation.dress.bundles[id]?.loose_mm ?? 0;
    const ends = `${name(branch.from_point)} to ${name(branch.to_point)}`;
    const thickness = bundle_mm ? `, ${fine(bundle_mm, unitsOf(document))} thick` : "";
    return {
      id,
      branch,
      a: at(branch.from_point),
      b: at(branch.to_point),
      bundle_mm,
      thick: Math.max(3, Math.min(18, Math.max(bundle_mm * 1.3, bundle_mm * scale))),
      title: `${id}, ${ends}, ${length(branch.length_mm, unitsOf(document))}${thickness}`,
    };
  });
}

function tintsOn({ document, evaluation }: DesignReply, branches: Laid[]): Tint[] {
  const hot = new Set(evaluation.brief.hot_zones);
  return branches.flatMap((laid) =>
    (evaluation.route.branches[laid.id]?.stretches ?? []).flatMap(({ zone, from_mm, to_mm }) => {
      const known = document.brief.zones[zone];
      if (!known) return [];
      const a = along(laid, from_mm);
      const b = along(laid, to_mm);
      const stretch = `${length(to_mm - from_mm, unitsOf(document))} of ${laid.id}`;
      const title = `${known.name}, ${degrees(known.ambient_c, unitsOf(document))}, ${stretch}`;
      return [{ a, b, hot: hot.has(zone), wide: laid.thick + 24, title, zone, line: [a, b] as const }];
    }),
  );
}

function pointsOn({ document, evaluation }: DesignReply, { at, seen }: Paper): PointMark[] {
  const units = unitsOf(document);
  const connectorsAt: Record<string, string[]> = {};
  for (const [id, c] of Object.entries(document.ends.connectors)) if (c.point) (connectorsAt[c.point] ??= []).push(id);
  return Object.entries(document.route.points)
    .map(([id, p]) => {
      const connectors = connectorsAt[id] ?? [];
      const station = evaluation.route.points[id]?.station_mm;
      const title = [
        `${id}${p.name && p.name !== id ? ` ${p.name}` : ""}, ${p.kind}`,
        connectors.length ? `holds ${connectors.join(" ")}` : "",
        typeof station === "number" ? `${length(station, units)} from the datum` : "",
      ]
        .filter(Boolean)
        .join("; ");
      return { id, at: at(id), square: connectors.length > 0, kind: p.kind, title, connectors, name: p.name };
    })
    .filter((p) => seen(p.at, 10));
}

interface Wanted {
  id: string;
  at: Spot;
  connectors: string;
  name: string;
  wide: number;
  high: number;
}

type Placed = Wanted & { spot: NonNullable<ReturnType<Labels["around"]>> };

/** What is to be written at the points, those with connectors first. */
function namesWanted(points: PointMark[]): Wanted[] {
  return [...points]
    .sort((p, q) => Number(q.square) - Number(p.square))
    .map((p) => {
      const several = p.connectors.length > 3;
      const connectors = several
        ? `${p.connectors.slice(0, 2).join(" ")} +${p.connectors.length - 2}`
        : p.connectors.join(" ");
      const name = p.name || (connectors ? "" : p.id);
      const wide = Math.max(connectors.length * 8.6, name.length * 6.8) + 4;
      return { id: p.id, at: p.at, connectors, name, wide, high: connectors && name ? 30 : 16 };
    });
}

/** Lengths beside their branches: the chosen one first, then the longest. */
function lengthsPlaced(branches: Laid[], labels: Labels, units: Units, chosen: string | null): Picture["lengths"] {
  const first = (id: string) => (id === chosen ? 0 : 1);
  return [...branches]
    .sort((p, q) => first(p.id) - first(q.id) || q.branch.length_mm - p.branch.length_mm)
    .flatMap(({ id, a, b, branch, thick }) => {
      const text = bareText(
        units.length === "both" ? millimetres(branch.length_mm) : length(branch.length_mm, units),
        "mm",
      );
      const spot = labels.beside(a, b, text.length * 8.6 + 4, 15, thick / 2 + 3);
      return spot ? [{ id, text, spot }] : [];
    });
}

function zoneNames({ document, evaluation }: DesignReply, tints: Tint[], labels: Labels): Picture["zones"] {
  const hot = new Set(evaluation.brief.hot_zones);
  return Object.entries(document.brief.zones).flatMap(([id, zone]) => {
    const lines = tints.filter((tint) => tint.zone === id).map((tint) => tint.line);
    const text = `${zone.name} ${degrees(zone.ambient_c, unitsOf(document))}${zone.wet ? ", wet" : ""}`;
    const spot = lines.length ? labels.firstBeside(lines, text.length * 7.2, 16, 20) : null;
    return spot ? [{ id, text, spot, hot: hot.has(id) }] : [];
  });
}

function splicesOn({ document, evaluation }: DesignReply, branches: Laid[], { at }: Paper): Picture["splices"] {
  const units = unitsOf(document);
  return Object.entries(evaluation.route.splices).map(([id, splice]) => {
    const laid = branches.find((branch) => branch.id === splice.branch);
    const name = document.route.points[splice.point]?.name || splice.point;
    const circuit = document.circuits.circuits[splice.circuit]?.name || splice.circuit;
    const where = splice.offset_mm
      ? `${length(splice.offset_mm, units)} from ${name} along ${splice.branch ?? ""}`
      : `at ${name}`;
    const title = `Splice of ${circuit}, ${where}`;
    if (!laid) return { id, at: at(splice.point), angle: 0, title };
    const forward = laid.branch.from_point === splice.point;
    return {
      id,
      at: along(laid, forward ? splice.offset_mm : laid.branch.length_mm - splice.offset_mm),
      angle: (Math.atan2(laid.b.y - laid.a.y, laid.b.x - laid.a.x) * 180) / Math.PI,
      title,
    };
  });
}
