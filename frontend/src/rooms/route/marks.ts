import type { DesignReply } from "../../api/client";
import { length, type Units } from "../../format";
import type { Labels, Spot } from "./labels";
import { along, type Laid } from "./laid";

/** What may be shown on the drawing besides. */
export interface Extras {
  stations: boolean;
  clamps: boolean;
}

/** A stroke across a branch, and what is written at it. */
export interface Mark {
  a: Spot;
  b: Spot;
  at: Spot;
  text: string;
  colour: string;
  wide: number;
}

/** Least pixels between two stations, and least length of the scale bar. */
const STATIONS_APART = 56;
const BAR = 70;

/** Clamps as advised. */
export function clampMarks({ evaluation }: DesignReply, laid: Laid): Mark[] {
  const bundle = evaluation.dress.bundles[laid.id];
  if (!bundle) return [];
  return Array.from({ length: bundle.clamps }, (_, n) => {
    const { a, b, at } = across(laid, bundle.clamp_every_mm * (n + 1), laid.thick / 2 + 5);
    return { a, b, at, text: "", colour: "var(--verdigris)", wide: 4 };
  });
}

/** Stations at round distances from the datum, written where there is room. */
export function stationMarks({ evaluation }: DesignReply, laid: Laid, labels: Labels, scale: number, units: Units) {
  const begin = evaluation.route.points[laid.branch.from_point]?.station_mm;
  const end = evaluation.route.points[laid.branch.to_point]?.station_mm;
  if (typeof begin !== "number" || typeof end !== "number") return [];
  const inches = [2, 4, 10, 20, 40, 100, 200].map((inch) => inch * 25.4);
  const round = units.length === "inch" ? inches : [50, 100, 250, 500, 1000, 2500, 5000];
  const step = round.find((mm) => mm * scale >= STATIONS_APART) ?? 10000;
  const [low, high] = begin < end ? [begin, end] : [end, begin];
  const marks: Mark[] = [];
  for (let station = Math.ceil(low / step + 1e-9) * step; station < high; station += step) {
    const reach = laid.thick / 2 + 6;
    const { a, b, at, normal } = across(laid, Math.abs(station - begin), reach);
    const text = units.length === "inch" ? length(station, units) : String(Math.round(station));
    const broad = text.length * 7.4;
    const off = reach + 2 + (Math.abs(normal.x) * broad + Math.abs(normal.y) * 13) / 2;
    const beside = [off, -off].map((by) => ({ x: at.x + normal.x * by, y: at.y + normal.y * by }));
    const spot = labels.at(beside, broad, 13);
    marks.push({ a, b, at: spot ?? at, text: spot ? text : "", colour: "var(--blue)", wide: 1.5 });
  }
  return marks;
}

/** A stroke across a branch, so many pixels to either side of a place on it. */
function across(laid: Laid, mm: number, reach: number) {
  const at = along(laid, mm);
  const far = Math.hypot(laid.b.x - laid.a.x, laid.b.y - laid.a.y) || 1;
  const normal = { x: -(laid.b.y - laid.a.y) / far, y: (laid.b.x - laid.a.x) / far };
  return {
    a: { x: at.x + normal.x * reach, y: at.y + normal.y * reach },
    b: { x: at.x - normal.x * reach, y: at.y - normal.y * reach },
    at,
    normal,
  };
}

/** A round length to go by, and how long it is on the drawing. */
export function scaleBar(scale: number, units: Units): { mm: number; px: number } {
  const inches = [0.5, 1, 2, 4, 10, 20, 40, 100, 200, 400, 1000].map((inch) => inch * 25.4);
  const round = units.length === "inch" ? inches : [10, 25, 50, 100, 250, 500, 1000, 2500, 5000, 10000, 25000];
  const mm = round.find((of) => of * scale >= BAR) ?? 50000;
  return { mm, px: mm * scale };
}
