import type { KeyboardEvent } from "react";

/** What stands in a list that is one stop of the Tab key: arrows, Home and End go through it. */
export function roving(event: KeyboardEvent<HTMLElement>): void {
  const items = [...event.currentTarget.querySelectorAll<HTMLElement>("a[href], button")];
  const at = items.indexOf(document.activeElement as HTMLElement);
  const to = placeOf(event.key, at, items.length);
  if (to === null || event.altKey || event.ctrlKey || event.metaKey) return;
  event.preventDefault();
  items[to]?.focus();
}

/** Where a key leads from one place in a list of so many; null of a key that does not lead on. */
export function placeOf(key: string, at: number, many: number): number | null {
  if (many === 0) return null;
  if (key === "ArrowDown" || key === "ArrowRight") return Math.min(at + 1, many - 1);
  if (key === "ArrowUp" || key === "ArrowLeft") return Math.max(at - 1, 0);
  if (key === "Home") return 0;
  return key === "End" ? many - 1 : null;
}

type Spot = readonly number[];

const WAYS: Record<string, readonly [number, number]> = {
  ArrowRight: [1, 0],
  ArrowLeft: [-1, 0],
  ArrowUp: [0, 1],
  ArrowDown: [0, -1],
};

/** Of spots on a face, y upwards, the nearest that way, what lies straight ahead before what lies aside; null at its edge. */
export function nearest(key: string, from: string, spots: Readonly<Record<string, Spot>>): string | null {
  const way = WAYS[key];
  const begin = spots[from];
  if (!way || !begin) return null;
  const [x0 = 0, y0 = 0] = begin;
  let best: string | null = null;
  let least = Infinity;
  for (const [name, [x = 0, y = 0]] of Object.entries(spots)) {
    const ahead = (x - x0) * way[0] + (y - y0) * way[1];
    const aside = Math.abs((x - x0) * way[1]) + Math.abs((y - y0) * way[0]);
    if (ahead > 1e-6 && ahead + 2 * aside < least) {
      least = ahead + 2 * aside;
      best = name;
    }
  }
  return best;
}
