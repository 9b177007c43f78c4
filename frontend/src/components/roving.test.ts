import { expect, it } from "vitest";
import { nearest, placeOf } from "./roving";

it("goes through a list and stops at its ends", () => {
  expect(placeOf("ArrowDown", 0, 3)).toBe(1);
  expect(placeOf("ArrowDown", 2, 3)).toBe(2);
  expect(placeOf("ArrowUp", 0, 3)).toBe(0);
  expect(placeOf("End", 0, 3)).toBe(2);
  expect(placeOf("Home", 2, 3)).toBe(0);
  expect(placeOf("x", 0, 3)).toBeNull();
  expect(placeOf("End", -1, 0)).toBeNull();
});

it("goes from way to way of a face as they lie, rows staggered or not", () => {
  const face = { 1: [0, 0], 2: [4, 0], 3: [8, 0], 4: [2, -4], 5: [6, -4] };
  expect(nearest("ArrowRight", "1", face)).toBe("2");
  expect(nearest("ArrowRight", "3", face)).toBeNull();
  expect(nearest("ArrowLeft", "3", face)).toBe("2");
  expect(["4", "5"]).toContain(nearest("ArrowDown", "2", face));
  expect(nearest("ArrowUp", "5", face)).toMatch(/^[23]$/);
  expect(nearest("ArrowUp", "1", face)).toBeNull();
  expect(nearest("Enter", "1", face)).toBeNull();
});
