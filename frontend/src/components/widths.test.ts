import { expect, it } from "vitest";
import type { Column } from "./columns";
import { templateOf } from "./widths";

const figures: Column<string> = { key: "f", head: "Draws", width: "60px", figures: true, text: (row) => row };
const name: Column<string> = { key: "n", head: "Name", width: "minmax(80px,1fr)", text: (row) => row };

it("gives figures the room that the longest of them takes, and leaves names theirs", () => {
  const [short = "", long = ""] = [["5 A"], ["5 A", "0.3345678 A"]].map((rows) => templateOf([figures], rows));
  expect(Number.parseInt(long)).toBeGreaterThan(Number.parseInt(short));
  expect(Number.parseInt(long)).toBeGreaterThanOrEqual("0.3345678 A".length * 8.4);
  expect(templateOf([name], ["a very long name that is cut short"])).toBe("minmax(80px,1fr)");
});

it("is never narrower than its heading", () => {
  expect(Number.parseInt(templateOf([{ ...figures, head: "Open-circuit volts" }], ["1"]))).toBeGreaterThan(120);
});

it("keeps the share of a column that may grow", () => {
  expect(templateOf([{ ...figures, width: "minmax(40px,1.5fr)" }], ["1234567890"])).toMatch(/^minmax\(\d+px,1.5fr\)$/);
});
