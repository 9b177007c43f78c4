import type { Spot } from "./labels";

/** A branch as it lies on the drawing, from a to b. */
export interface Laid {
  id: string;
  branch: { from_point: string; to_point: string; length_mm: number };
  a: Spot;
  b: Spot;
  bundle_mm: number;
  thick: number;
  title: string;
}

/** A place so many millimetres along a branch. */
export function along({ a, b, branch }: Laid, mm: number): Spot {
  const share = branch.length_mm > 0 ? Math.min(Math.max(mm / branch.length_mm, 0), 1) : 0;
  return { x: a.x + (b.x - a.x) * share, y: a.y + (b.y - a.y) * share };
}
