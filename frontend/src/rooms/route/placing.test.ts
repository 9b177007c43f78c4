import { expect, it } from "vitest";
import { Labels } from "./labels";
import { along, type Laid } from "./laid";
import { scaleBar } from "./marks";

const METRIC = { length: "metric", mass: "g", temperature: "C" } as const;
const INCH = { ...METRIC, length: "inch" } as const;

const LAID: Laid = {
  id: "R1",
  branch: { from_point: "a", to_point: "b", length_mm: 400 },
  a: { x: 100, y: 50 },
  b: { x: 300, y: 50 },
  bundle_mm: 5,
  thick: 6,
  title: "",
};

it("finds a place along a branch, never beyond its ends", () => {
  expect(along(LAID, 100)).toEqual({ x: 150, y: 50 });
  expect(along(LAID, 500)).toEqual({ x: 300, y: 50 });
  expect(along(LAID, -1)).toEqual({ x: 100, y: 50 });
  expect(along({ ...LAID, branch: { ...LAID.branch, length_mm: 0 } }, 10)).toEqual(LAID.a);
});

it("writes beside a line, then on its other side, then nowhere: nothing is written over", () => {
  const labels = new Labels([[LAID.a, LAID.b]], 400, 100);
  const spots = Array.from({ length: 40 }, () => labels.beside(LAID.a, LAID.b, 60, 14, 5));
  const placed = spots.filter((s) => s !== null);
  expect(placed.length).toBeGreaterThan(1);
  expect(spots.at(-1)).toBeNull();
  for (const [n, one] of placed.entries()) {
    // Clear of the line that runs at 50, and of each other.
    expect(Math.abs(one.y - 50)).toBeGreaterThanOrEqual(7 + 5 - 1e-9);
    for (const other of placed.slice(n + 1))
      expect(Math.abs(one.x - other.x) >= 60 || Math.abs(one.y - other.y) >= 14).toBe(true);
  }
});

it("stands farther off with a leader where it is crowded, and waits where there is no room at all", () => {
  const labels = new Labels([], 300, 300);
  const first = labels.around({ x: 150, y: 150 }, 80, 16);
  expect(first?.leader).toBeNull();
  for (let n = 0; n < 12; n += 1) labels.around({ x: 150, y: 150 }, 80, 16);
  const far = labels.around({ x: 150, y: 150 }, 60, 12);
  expect(far === null || far.leader !== null).toBe(true);
  expect(new Labels([], 30, 30).around({ x: 15, y: 15 }, 80, 16)).toBeNull();
});

it("measures the drawing by a round length in either system", () => {
  expect(scaleBar(0.2, METRIC)).toEqual({ mm: 500, px: 100 });
  const inch = scaleBar(0.2, INCH);
  expect(inch.mm / 25.4).toBe(20);
  expect(inch.px).toBeGreaterThanOrEqual(70);
});
