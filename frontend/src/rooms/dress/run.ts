import type { HarnessDocument } from "../../api/client";

type Branches = HarnessDocument["route"]["branches"];

export interface Step {
  branch: string;
  /** Whether it is passed from its second point to its first. */
  back: boolean;
  from: string;
  to: string;
  /** Where it begins on the drawing, in mm from the run's first point. */
  at: number;
  length: number;
}

/** The longest run through a branch, from end to end: what is drawn straight. */
export function runThrough(branches: Branches, branch: string): Step[] {
  const near = new Map<string, [string, string][]>();
  for (const [id, b] of Object.entries(branches)) {
    near.set(b.from_point, [...(near.get(b.from_point) ?? []), [id, b.to_point]]);
    near.set(b.to_point, [...(near.get(b.to_point) ?? []), [id, b.from_point]]);
  }
  const chosen = branches[branch];
  if (!chosen) return [];
  // A route that closes on itself is followed to where it would meet what was passed already.
  const away = (point: string, by: string, passed: readonly string[]): [string, string][] => {
    let best: { length: number; steps: [string, string][] } = { length: 0, steps: [] };
    for (const [id, other] of near.get(point) ?? []) {
      if (id === by || passed.includes(other)) continue;
      const steps: [string, string][] = [[id, other], ...away(other, id, [...passed, other])];
      const length = steps.reduce((sum, [b]) => sum + (branches[b]?.length_mm ?? 0), 0);
      if (length > best.length || best.steps.length === 0) best = { length, steps };
    }
    return best.steps;
  };
  const ends = [chosen.from_point, chosen.to_point];
  const before = away(chosen.from_point, branch, ends);
  const after = away(chosen.to_point, branch, [...ends, ...before.map(([, point]) => point)]);
  const path: [string, string][] = [
    ...before.map(([b], n) => [b, before[n - 1]?.[1] ?? chosen.from_point] as [string, string]),
  ]
    .reverse()
    .concat([[branch, chosen.to_point]], after);
  let at = 0;
  let from = before.at(-1)?.[1] ?? chosen.from_point;
  return path.map(([id, to]) => {
    const b = branches[id];
    const length = b?.length_mm ?? 0;
    const step = { branch: id, back: b?.from_point !== from, from, to, at, length };
    at += length;
    from = to;
    return step;
  });
}

/** The run in rows of at most so many mm: a long one is folded like a page. */
export function folded(steps: Step[], rowMm: number): { from: number; to: number }[] {
  const whole = steps.reduce((sum, s) => sum + s.length, 0);
  const rows = Math.max(1, Math.ceil(whole / rowMm));
  const each = whole / rows;
  return Array.from({ length: rows }, (_, n) => ({ from: n * each, to: (n + 1) * each }));
}
