import { expect, it } from "vitest";
import type { HarnessDocument } from "../../api/client";
import { folded, runThrough } from "./run";

function branches(...all: [string, string, string, number][]): HarnessDocument["route"]["branches"] {
  return Object.fromEntries(
    all.map(([id, from_point, to_point, length_mm]) => [id, { from_point, to_point, length_mm }]),
  ) as unknown as HarnessDocument["route"]["branches"];
}

const TREE = branches(["R1", "a", "b", 100], ["R2", "b", "c", 200], ["R3", "b", "d", 50], ["R4", "c", "e", 10]);

it("follows the longest way through a branch, from end to end", () => {
  const run = runThrough(TREE, "R2");
  expect(run.map((s) => s.branch)).toEqual(["R1", "R2", "R4"]);
  expect(run.map((s) => s.at)).toEqual([0, 100, 300]);
  expect(run.every((s) => !s.back)).toBe(true);
  expect(runThrough(TREE, "R3").map((s) => [s.branch, s.back])).toEqual([
    ["R4", true],
    ["R2", true],
    ["R3", false],
  ]);
  expect(runThrough(TREE, "none")).toEqual([]);
});

it("comes to an end where the route closes on itself", () => {
  const ring = branches(["R1", "a", "b", 100], ["R2", "b", "c", 100], ["R3", "c", "a", 100]);
  expect(runThrough(ring, "R1").length).toBeLessThanOrEqual(3);
});

it("is folded into rows of one length", () => {
  expect(folded(runThrough(TREE, "R2"), 200)).toEqual([
    { from: 0, to: 155 },
    { from: 155, to: 310 },
  ]);
});
