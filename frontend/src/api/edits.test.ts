import { expect, it } from "vitest";
import { liveOf } from "./edits";

/** Versions from the oldest on, as letters: e an edit, u an undo, r a redo. */
function live(acts: string): number[] {
  const NAMES: Record<string, string> = { e: "edit", u: "undo", r: "redo" };
  return liveOf([...acts].map((a, n) => ({ version: n + 1, act: NAMES[a] ?? "" })).reverse());
}

it("counts edits that stand, the newest first", () => {
  expect(live("eee")).toEqual([3, 2, 1]);
  expect(live("eeu")).toEqual([1]);
  expect(live("eeur")).toEqual([2, 1]);
  expect(live("eeuu")).toEqual([]);
});

it("forgets what was taken back once something else is done", () => {
  expect(live("eeuer")).toEqual([4, 1]);
});
