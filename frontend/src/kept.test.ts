import { expect, test } from "vitest";
import { kept } from "./kept";

test("what was asked of the same object is not worked out again", () => {
  let asked = 0;
  const first = kept((list: readonly number[]) => {
    asked += 1;
    return list[0];
  });
  const one: number[] = [];
  const other = [3];
  expect([first(one), first(one), first(other), first(other), first([3])]).toEqual([undefined, undefined, 3, 3, 3]);
  expect(asked).toBe(3);
});
