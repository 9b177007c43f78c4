import { expect, it } from "vitest";
import { amperes, inches, length, otherLength, percent } from "./format";

it("writes lengths in the builder's units, the other beside it", () => {
  expect(length(980.4, "metric")).toBe("980 mm");
  expect(length(6.35, "metric")).toBe("6.3 mm");
  expect(inches(193.7)).toBe("7 5/8 in");
  expect(inches(4.7625)).toBe("3/16 in");
  expect(otherLength(25.4, "metric")).toBe("1 in");
});

it("writes small currents in milliamperes", () => {
  expect(amperes(0.0604)).toBe("60.4 mA");
  expect(amperes(7.5)).toBe("7.5 A");
  expect(amperes(0)).toBe("–");
  expect(percent(0.334)).toBe("33 %");
});
