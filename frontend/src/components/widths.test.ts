import { expect, it } from "vitest";
import type { Column } from "./columns";
import { templateOf } from "./widths";

const figures: Column<string> = { key: "f", head: "Draws", width: "60px", figures: true, text: (row) => row };
const name: Column<string> = { key: "n", head: "Name", width: "minmax(80px,1fr)", text: (row) => row };

it("gives figures the room that the longest of them takes, and leaves names theirs", () => {
  const [short = "", long = ""] = [["5 A"], ["5 A", "0.3345678 A"]].map((rows) => templateOf([figures], rows));
  expect(Number.parseInt(long)).toBeGreaterThan(Number.parseInt(short));
  expect(Number.parseInt(long)).toBeGreaterThanOrEqual("0.3345678 A".length * 8.9);
  expect(templateOf([name], ["a very long name that is cut short"])).toBe("minmax(80px,1fr)");
});

it("asks no room for words among figures, and some for what is drawn beside them", () => {
  expect(templateOf([figures], ["5 A", "sensor return"])).toBe(templateOf([figures], ["5 A"]));
  const [plain = "", marked = ""] = [figures, { ...figures, beside: 18 }].map((c) => templateOf([c], ["123456789 A"]));
  expect(Number.parseInt(marked) - Number.parseInt(plain)).toBe(18);
});

it("leaves what is drawn its stated width at least", () => {
  expect(templateOf([{ ...figures, width: "90px", show: () => null }], ["1"])).toBe("90px");
});

it("is never narrower than its heading", () => {
  expect(Number.parseInt(templateOf([{ ...figures, head: "Open-circuit volts" }], ["1"]))).toBeGreaterThan(120);
});

it("does not let a long list push the other columns out", () => {
  const list = { ...figures, width: "minmax(90px,1fr)" };
  expect(Number.parseInt(templateOf([list], ["1 ".repeat(200)]).slice(7))).toBeLessThanOrEqual(130);
  expect(templateOf([{ ...figures, width: "minmax(170px,1fr)" }], ["1"])).toBe("minmax(170px,1fr)");
});

it("keeps the share of a column that may grow", () => {
  expect(templateOf([{ ...figures, width: "minmax(40px,1.5fr)" }], ["1234567890"])).toMatch(/^minmax\(\d+px,1.5fr\)$/);
});
