import { expect, it } from "vitest";
import { amount, atHand, ordered, soldApart, type Line } from "./lines";

it("never rounds down what is needed, nor up what there is", () => {
  expect(amount(1.2341, "m")).toBe("1.24 m");
  expect(amount(1.23, "m")).toBe("1.23 m");
  expect(amount(0.1 + 0.2, "m")).toBe("0.30 m");
  expect(atHand(1.2391, "m")).toBe("1.23 m");
  expect(amount(3, "pcs")).toBe("3");
  const line = { quantity: 4, spares: 1, bought: null, included: false, group: "seal" } as unknown as Line;
  expect(ordered(line)).toBe(5);
  expect(ordered({ ...line, bought: 2 })).toBe(2);
  expect(soldApart(line)).toBe(true);
  expect(soldApart({ ...line, included: true })).toBe(false);
});
