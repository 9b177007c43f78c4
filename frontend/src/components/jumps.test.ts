import { expect, it } from "vitest";
import { rank, type Jump } from "./jumps";

const pump: Jump = { group: "Devices", name: "M1 lift pump", what: "motor", to: "/d/x/circuits?at=M1" };

it("answers a name before a part of it, and that before what it is for", () => {
  const ranks = ["m1", "m1 li", "pump", "motor", "lamp"].map((typed) => rank(pump, typed));
  expect(ranks).toEqual([...ranks].sort((a, b) => b - a));
  expect(ranks[0]).toBe(1);
  expect(ranks.at(-1)).toBe(0);
  expect(new Set(ranks).size).toBe(5);
});

it("shows all while nothing is typed", () => {
  expect(rank(pump, "  ")).toBeGreaterThan(0);
});
