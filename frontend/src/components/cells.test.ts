import { expect, it } from "vitest";
import { asText } from "./copied";
import { bare, headed, type Column } from "./columns";
import { freeId, headUnit, listed, sent, shown, type FieldSpec } from "./fields";

const METRIC = { length: "metric", mass: "g", temperature: "C" } as const;
const BOTH = { length: "both", mass: "oz", temperature: "F" } as const;

it("says a unit once, in the heading", () => {
  const column: Column<string> = { key: "l", head: "Length", width: "80px", unit: "mm", text: (r) => r };
  expect(headed(column)).toBe("Length (mm)");
  expect(bare(column, "340 mm")).toBe("340");
  expect(bare(column, "340 mm (13 3/8 in)")).toBe("340 (13 3/8)");
  expect(bare(column, "left long")).toBe("left long");
  expect(bare({ key: "l", head: "L", width: "1px", text: (r) => r }, "340 mm")).toBe("340 mm");
});

it("shows a field in the harness's units, what is thin by hundredths", () => {
  const field = (unit: string): FieldSpec => ({ key: "x", label: "X", kind: "figure", unit, empty: "none" });
  expect(shown(field("mm"), { x: 1.92 }, METRIC)).toBe("1.92 mm");
  expect(shown(field("mm"), { x: 340 }, BOTH)).toBe("340 mm (13 3/8 in)");
  expect(shown(field("C"), { x: 100 }, BOTH)).toBe("212 °F");
  expect(shown(field("mohm"), { x: 8 }, METRIC)).toBe("8 mΩ");
  expect(shown(field("mm"), { x: null }, METRIC)).toBe("");
  expect(headUnit(field("mm"), BOTH)).toEqual({ unit: "mm, in" });
  expect(headUnit(field("V"), BOTH)).toEqual({});
});

it("sends nothing for what is emptied, yes and no as they are, lists by their names", () => {
  expect(sent({ key: "x", label: "X", kind: "figure", empty: "none" }, " ")).toBeNull();
  expect(sent({ key: "x", label: "X", kind: "flag" }, "yes")).toBe(true);
  expect(sent({ key: "x", label: "X", kind: "maybe" }, "")).toBeNull();
  expect(Object.keys(listed("a, b  c"))).toEqual(["a", "b", "c"]);
  expect(freeId("Fuel pump!", { "fuel-pump": {} })).toBe("fuel-pump-2");
});

it("copies cells as a spreadsheet takes them", () => {
  expect(
    asText([
      ["Wire", "Gauge"],
      ["C1", " 16\nAWG "],
    ]),
  ).toBe("Wire\tGauge\nC1\t16 AWG");
});
