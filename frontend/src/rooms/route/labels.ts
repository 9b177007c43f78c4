/** Where to write on the drawing so that nothing is written over: boxes tried in turn. */

export interface Spot {
  x: number;
  y: number;
}

type Line = [Spot, Spot];

interface Box {
  x: number;
  y: number;
  w: number;
  h: number;
}

export class Labels {
  private readonly boxes: Box[] = [];
  private readonly lines: Line[];

  constructor(lines: Line[]) {
    this.lines = lines;
  }

  /** Keep a place free. */
  block(at: Spot, w: number, h: number): void {
    this.boxes.push({ x: at.x, y: at.y, w: w * 2, h: h * 2 });
  }

  /** Beside the middle of a line, clear of it. */
  beside(a: Spot, b: Spot, w: number, h: number, gap: number): Spot {
    return this.best(this.besides(a, b, w, h, gap), w, h);
  }

  /** Beside any of the lines, the first place that is free; null where there is no line. */
  firstBeside(lines: Line[], w: number, h: number, gap: number): Spot | null {
    const spots = lines.flatMap(([a, b]) => this.besides(a, b, w, h, gap));
    return spots.length ? this.best(spots, w, h) : null;
  }

  /** Around a point: below, above, right, left. */
  around(at: Spot, w: number, h: number): Spot {
    const dy = h / 2 + 11;
    const dx = w / 2 + 13;
    const spots = [
      { x: at.x, y: at.y + dy },
      { x: at.x, y: at.y - dy },
      { x: at.x + dx, y: at.y },
      { x: at.x - dx, y: at.y },
      { x: at.x + dx * 0.8, y: at.y + dy },
      { x: at.x - dx * 0.8, y: at.y + dy },
      { x: at.x + dx * 0.8, y: at.y - dy },
      { x: at.x - dx * 0.8, y: at.y - dy },
    ];
    return this.best(spots, w, h);
  }

  private besides(a: Spot, b: Spot, w: number, h: number, gap: number): Spot[] {
    const far = Math.hypot(b.x - a.x, b.y - a.y) || 1;
    const nx = -(b.y - a.y) / far;
    const ny = (b.x - a.x) / far;
    // Half the box along the normal, so that a wide word stands off a steep line by its width.
    const off = gap + (Math.abs(nx) * w + Math.abs(ny) * h) / 2;
    const up = ny > 0 ? -1 : 1;
    return [0.5, 0.36, 0.64].flatMap((share) => {
      const x = a.x + (b.x - a.x) * share;
      const y = a.y + (b.y - a.y) * share;
      return [up, -up].map((side) => ({ x: x + nx * off * side, y: y + ny * off * side }));
    });
  }

  private best(spots: Spot[], w: number, h: number): Spot {
    let chosen = spots[0] ?? { x: 0, y: 0 };
    let least = Infinity;
    for (const spot of spots) {
      const cost = this.cost({ ...spot, w, h });
      if (cost < least) {
        least = cost;
        chosen = spot;
      }
      if (cost === 0) break;
    }
    this.boxes.push({ ...chosen, w, h });
    return chosen;
  }

  private cost(box: Box): number {
    let cost = 0;
    for (const other of this.boxes) {
      const over = Math.min(box.x + box.w / 2, other.x + other.w / 2) - Math.max(box.x - box.w / 2, other.x - other.w / 2);
      const deep = Math.min(box.y + box.h / 2, other.y + other.h / 2) - Math.max(box.y - box.h / 2, other.y - other.h / 2);
      if (over > 0 && deep > 0) cost += over * deep;
    }
    for (const [a, b] of this.lines) cost += crossing(box, a, b) * 40;
    return cost;
  }
}

/** How much of a line lies in a box, by samples. */
function crossing(box: Box, a: Spot, b: Spot): number {
  let inside = 0;
  for (let i = 1; i < 20; i += 1) {
    const x = a.x + ((b.x - a.x) * i) / 20;
    const y = a.y + ((b.y - a.y) * i) / 20;
    if (Math.abs(x - box.x) < box.w / 2 && Math.abs(y - box.y) < box.h / 2) inside += 1;
  }
  return inside;
}
