import { expect, test } from "vitest";
import { BLOCK, blocksOf, gapBefore } from "./blocks";

test("every row lies in one block, in order", () => {
  for (const rows of [0, 1, BLOCK - 1, BLOCK, BLOCK + 1, 3 * BLOCK]) {
    const inBlocks = blocksOf(rows).flatMap(([first, until]) =>
      Array.from({ length: until - first }, (_, n) => first + n),
    );
    expect(inBlocks).toEqual(Array.from({ length: rows }, (_, n) => n));
  }
  expect(blocksOf(2 * BLOCK + 1).at(-1)).toEqual([2 * BLOCK, 2 * BLOCK + 1]);
});

test("what is not made between two blocks takes its room, so that each lies where it would", () => {
  const blocks = [
    { start: 340, end: 1020 },
    { start: 1020, end: 1700 },
    { start: 6800, end: 7480 },
  ];
  expect(blocks.map((_, n) => gapBefore(blocks, n, 340))).toEqual([0, 0, 5100]);
  expect(gapBefore(blocks, 0, 100)).toBe(240);
  expect(gapBefore([], 0, 100)).toBe(0);
});
