import { expect, it } from "vitest";
import type { HarnessDocument } from "./api/client";
import {
  amperes,
  degrees,
  fine,
  inches,
  length,
  mass,
  money,
  otherLength,
  percent,
  toldApart,
  writtenAlike,
} from "./format";

const METRIC = { length: "metric", mass: "g", temperature: "C" } as const;
const INCH = { length: "inch", mass: "oz", temperature: "F" } as const;
const BOTH = { ...METRIC, length: "both" } as const;

it("writes lengths in the builder's units, the other beside it", () => {
  expect(length(980.4, METRIC)).toBe("980 mm");
  expect(length(6.35, METRIC)).toBe("6.3 mm");
  expect(length(193.7, BOTH)).toBe("194 mm (7 5/8 in)");
  expect(inches(193.7)).toBe("7 5/8 in");
  // A strip is not to a sixteenth.
  expect(inches(4.7625)).toBe("0.19 in");
  expect(fine(4.7625, BOTH)).toBe("4.8 mm (0.19 in)");
  expect(fine(1.35, BOTH, 2)).toBe("1.35 mm (0.053 in)");
  expect(otherLength(25.4, METRIC)).toBe("1 in");
});

it("writes mass, temperature and money as the harness asks", () => {
  expect(mass(260, METRIC)).toBe("260 g");
  // The ounce is 28.349523125 g (NIST Handbook 44, appendix C).
  expect(mass(283.5, INCH)).toBe("10.0 oz");
  expect(degrees(105, INCH)).toBe("221 °F");
  const brief = (currency: string, currency_first: boolean) =>
    ({ currency, currency_first }) as unknown as HarnessDocument["brief"];
  expect(money(4.5, brief("", false))).toBe("4.50");
  expect(money(4.5, brief("EUR", false))).toBe("4.50 EUR");
  expect(money(4.5, brief("£", true))).toBe("£4.50");
  expect(money(4.5, brief("CHF", true))).toBe("CHF 4.50");
});

it("knows when two versions of a harness write the same figure alike", () => {
  const written = (brief: object) =>
    ({
      brief: { units: "metric", mass_unit: "g", temperature_unit: "C", currency: "", currency_first: false, ...brief },
    }) as unknown as HarnessDocument;
  expect(writtenAlike(written({}), written({ name: "another" }))).toBe(true);
  for (const other of [
    { units: "inch" },
    { mass_unit: "oz" },
    { temperature_unit: "F" },
    { currency: "EUR" },
    { currency_first: true },
  ]) {
    expect(writtenAlike(written({}), written(other))).toBe(false);
  }
});

it("writes a figure with the digits that tell it from its limit", () => {
  expect(toldApart(3.03, 3, 1)).toBe("3.03");
  expect(toldApart(2.5, 3, 1)).toBe("2.5");
  expect(toldApart(2.998, 3, 1)).toBe("2.998");
  expect(toldApart(3, 3, 1)).toBe("3.0");
  expect(percent(0.996)).toBe("99.6 %");
  expect(percent(1.004)).toBe("100.4 %");
});

it("writes small currents in milliamperes", () => {
  expect(amperes(0.0604)).toBe("60.4 mA");
  expect(amperes(7.5)).toBe("7.5 A");
  expect(amperes(0)).toBe("–");
  expect(percent(0.334)).toBe("33 %");
});
