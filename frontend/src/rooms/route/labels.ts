/** Where to write on the drawing so that nothing is written over: boxes tried in turn; what finds no free place waits. */

export interface Spot {
  x: number;
  y: number;
}

export type Line = readonly [Spot, Spot];

interface Box {
  x: number;
  y: number;
  w: number;
  h: number;
  /** A place kept free: a leader may pass it, nothing is written there. */
  mark?: boolean;
}

/** How much of a line may lie under a label before the place counts as taken. */
const GRAZE = 1;

/** How far off a name may stand, in pixels; close by first. */
export const NEAR = [0] as const;
const NEAR_AND_FAR = [0, 22, 44, 70, 96] as const;

export class Labels {
  private readonly boxes: Box[] = [];
  private readonly lines: Line[];
  private readonly edge: { w: number; h: number };

  constructor(lines: readonly Line[], width: number, height: number) {
    this.lines = [...lines];
    this.edge = { w: width, h: height };
  }

  /** Keep a place free. */
  block(at: Spot, w: number, h: number): void {
    this.boxes.push({ x: at.x, y: at.y, w: w * 2, h: h * 2, mark: true });
  }

  /** Beside a line, clear of it; null where there is no room. */
  beside(a: Spot, b: Spot, w: number, h: number, gap: number): Spot | null {
    return this.first(this.besides(a, b, w, h, gap), w, h);
  }

  /** At the first of these places that is free. */
  at(spots: readonly Spot[], w: number, h: number): Spot | null {
    return this.first(spots, w, h);
  }

  /** Beside any of the lines, the first place that is free. */
  firstBeside(lines: readonly Line[], w: number, h: number, gap: number): Spot | null {
    return this.first(
      lines.flatMap(([a, b]) => this.besides(a, b, w, h, gap)),
      w,
      h,
    );
  }

  /** Around a point, close by and then farther out with a leader, which keeps off what is written too. */
  around(
    at: Spot,
    w: number,
    h: number,
    rings: readonly number[] = NEAR_AND_FAR,
  ): (Spot & { leader: Line | null }) | null {
    for (const ring of rings) {
      for (const degrees of [90, 270, 0, 180, 45, 135, 225, 315, 65, 115, 245, 295]) {
        const angle = (degrees * Math.PI) / 180;
        const spot = {
          x: at.x + Math.cos(angle) * (w / 2 + 13 + ring),
          y: at.y + Math.sin(angle) * (h / 2 + 11 + ring),
        };
        const box = { ...spot, w, h };
        if (!this.free(box)) continue;
        const leader: Line | null = ring > 0 ? [at, nearest(box, at)] : null;
        if (leader && this.boxes.some((b) => !b.mark && !holds(b, at) && underneath(b, ...leader) > GRAZE)) continue;
        if (leader && this.lines.some((line) => !touches(line, at) && cross(line, leader))) continue;
        this.boxes.push(box);
        if (leader) this.lines.push(leader);
        return { ...spot, leader };
      }
    }
    return null;
  }

  private besides(a: Spot, b: Spot, w: number, h: number, gap: number): Spot[] {
    const far = Math.hypot(b.x - a.x, b.y - a.y) || 1;
    const nx = -(b.y - a.y) / far;
    const ny = (b.x - a.x) / far;
    // Half the box along the normal, so that a wide word stands off a steep line by its width.
    const off = gap + (Math.abs(nx) * w + Math.abs(ny) * h) / 2;
    const up = ny > 0 ? -1 : 1;
    return [0.5, 0.38, 0.62, 0.25, 0.75].flatMap((share) => {
      const x = a.x + (b.x - a.x) * share;
      const y = a.y + (b.y - a.y) * share;
      return [up, -up].map((side) => ({ x: x + nx * off * side, y: y + ny * off * side }));
    });
  }

  private first(spots: readonly Spot[], w: number, h: number): Spot | null {
    const found = spots.find((spot) => this.free({ ...spot, w, h }));
    if (!found) return null;
    this.boxes.push({ ...found, w, h });
    return found;
  }

  private free(box: Box): boolean {
    const { w, h } = this.edge;
    if (box.x - box.w / 2 < 2 || box.x + box.w / 2 > w - 2 || box.y - box.h / 2 < 2 || box.y + box.h / 2 > h - 2)
      return false;
    for (const other of this.boxes) {
      const over =
        Math.min(box.x + box.w / 2, other.x + other.w / 2) - Math.max(box.x - box.w / 2, other.x - other.w / 2);
      const deep =
        Math.min(box.y + box.h / 2, other.y + other.h / 2) - Math.max(box.y - box.h / 2, other.y - other.h / 2);
      if (over > 0 && deep > 0) return false;
    }
    return this.lines.every(([a, b]) => underneath(box, a, b) <= GRAZE);
  }
}

function holds(box: Box, p: Spot): boolean {
  return Math.abs(p.x - box.x) < box.w / 2 && Math.abs(p.y - box.y) < box.h / 2;
}

function touches([a, b]: Line, p: Spot): boolean {
  return Math.hypot(a.x - p.x, a.y - p.y) < 1 || Math.hypot(b.x - p.x, b.y - p.y) < 1;
}

/** Whether two lines cross. */
function cross([a, b]: Line, [c, d]: Line): boolean {
  const side = (p: Spot, q: Spot, r: Spot) => (q.x - p.x) * (r.y - p.y) - (q.y - p.y) * (r.x - p.x);
  return side(a, b, c) * side(a, b, d) < 0 && side(c, d, a) * side(c, d, b) < 0;
}

/** The place on a box's edge that lies nearest a point outside it. */
function nearest(box: Box, p: Spot): Spot {
  const within = (v: number, middle: number, reach: number) => Math.min(Math.max(v, middle - reach), middle + reach);
  return { x: within(p.x, box.x, box.w / 2), y: within(p.y, box.y, box.h / 2) };
}

/** Length of a line inside a box, clipped against its four sides. */
function underneath(box: Box, a: Spot, b: Spot): number {
  let enter = 0;
  let leave = 1;
  const dx = b.x - a.x;
  const dy = b.y - a.y;
  for (const [p, q] of [
    [-dx, a.x - (box.x - box.w / 2)],
    [dx, box.x + box.w / 2 - a.x],
    [-dy, a.y - (box.y - box.h / 2)],
    [dy, box.y + box.h / 2 - a.y],
  ] as const) {
    if (p === 0) {
      if (q < 0) return 0;
      continue;
    }
    const t = q / p;
    if (p < 0) enter = Math.max(enter, t);
    else leave = Math.min(leave, t);
  }
  return leave > enter ? (leave - enter) * Math.hypot(dx, dy) : 0;
}
