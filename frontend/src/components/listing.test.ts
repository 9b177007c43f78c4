import { describe, expect, it } from "vitest";
import { between, compareCells, finds, groupsOf, magnitude } from "./listing";

describe("cells in order", () => {
  it.each([
    ["334 mA", 0.334],
    ["5 A", 5],
    ["1.2 kΩ", 1200],
    ["31 mΩ", 0.031],
    ["2 MΩ", 2e6],
    ["250 mm", 250],
    ["1.2 m", 1200],
    ["4.7 %", 4.7],
    ["-20 °C", -20],
    ["1,200 g", 1200],
  ])("takes %s for what it comes to", (text, value) => {
    expect(magnitude(text)).toBeCloseTo(value, 9);
  });

  it.each(["", "splice at mid", "signal", "–"])("takes %j for no figure", (text) => {
    expect(magnitude(text)).toBeNull();
  });

  it("puts figures by what they come to, names by their numbers, empty ones last", () => {
    expect(["5 A", "334 mA", "", "40 mA"].sort(compareCells)).toEqual(["40 mA", "334 mA", "5 A", ""]);
    expect(["C10", "C2", "C1-M3"].sort(compareCells)).toEqual(["C1-M3", "C2", "C10"]);
    expect(["2 m", "250 mm", "30 cm"].sort(compareCells)).toEqual(["250 mm", "30 cm", "2 m"]);
    expect(compareCells("20 AWG", "4 AWG")).toBeGreaterThan(0);
    expect(compareCells("x", "x")).toBe(0);
  });
});

describe("what is sought", () => {
  it("stands in any column, all words of it", () => {
    const texts = ["C11", "F1-2 fuse block", "M1-1 lift pump"];
    expect(finds("", texts)).toBe(true);
    expect(finds("PUMP fuse", texts)).toBe(true);
    expect(finds("pump lamp", texts)).toBe(false);
  });
});

describe("groups", () => {
  it("begin where the name changes, with their counts", () => {
    expect([...groupsOf(["a", "a", "b", "a"])]).toEqual([
      [0, { name: "a", count: 2 }],
      [2, { name: "b", count: 1 }],
      [3, { name: "a", count: 1 }],
    ]);
    expect(groupsOf([]).size).toBe(0);
  });
});

describe("rows between", () => {
  it("are the same from either end", () => {
    expect(between(2, 4)).toEqual([2, 3, 4]);
    expect(between(4, 2)).toEqual([2, 3, 4]);
    expect(between(3, 3)).toEqual([3]);
  });
});
