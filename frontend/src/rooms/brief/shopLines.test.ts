import { expect, it } from "vitest";
import type { HarnessDocument } from "../../api/client";
import { shopLines } from "./shopLines";

const BRIEF = {
  units: "inch",
  mass_unit: "oz",
  temperature_unit: "F",
  paper: "Letter",
  currency: "£",
  currency_first: true,
} as HarnessDocument["brief"];

it("puts a harness's units in place of those that the shop had, and leaves the rest", () => {
  const kept = "# ours\ncolours supply: RD OG\nunits both\nmoney EUR";
  expect(shopLines(kept, BRIEF)).toBe("# ours\ncolours supply: RD OG\nunits inch, oz, F, Letter\nmoney £ before");
  expect(shopLines("", { ...BRIEF, currency: "" })).toBe("units inch, oz, F, Letter\nmoney none");
});
