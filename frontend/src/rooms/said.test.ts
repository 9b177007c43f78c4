import { expect, it } from "vitest";
import type { Card, Work } from "../api/work";
import type { PieceState } from "../api/prove";
import { groupOf, groupsOf } from "./build/groups";
import { hours } from "./build/hours";
import { amount, atHand, ordered, soldApart, type Line } from "./parts/lines";
import { pieceSaid } from "./prove/said";

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

it("says minutes as at a bench", () => {
  expect([hours(59.4), hours(60), hours(65)]).toEqual(["59 min", "1 h", "1 h 05"]);
});

it("puts cards together by their connector or their sort, in the order of work", () => {
  const card = (kind: string, place: string, steps: string[]) =>
    ({ kind, place, title: "t", steps }) as unknown as Card;
  const cards = [card("cut", "", ["s1"]), card("end", "J1", ["s2"]), card("cut", "", ["s3"])];
  expect(groupsOf({ cards } as unknown as Work)).toEqual([
    { key: "Cutting", label: "Cutting", steps: ["s1", "s3"] },
    { key: "J1", label: "J1", steps: ["s2"] },
  ]);
  expect(groupOf(card("end", "", []))).toBe("t");
});

it("says what a piece comes to", () => {
  const state = (more: object) =>
    ({
      piece: { serial: "N1", signed_by: "" },
      rows: 10,
      not_read: 0,
      readings: [],
      explanations: [],
      left_over: [],
      ...more,
    }) as unknown as PieceState;
  expect(pieceSaid(state({ verdict: "not read" }))).toBe("Piece **N1**: nothing is read yet.");
  expect(pieceSaid(state({ verdict: "holds" }))).toContain("all hold: it can be signed");
  expect(pieceSaid(state({ verdict: "holds", not_read: 2 }))).toContain("**8** of **10** rows read, and all of these");
  const failing = {
    verdict: "fails",
    readings: [
      { row: "1", verdict: "fails" },
      { row: "1", verdict: "fails" },
    ],
    explanations: [{ faults: [{}] }],
  };
  expect(pieceSaid(state(failing))).toContain("**1** fail; one fault explains them all");
  expect(pieceSaid(state({ ...failing, left_over: ["1"] }))).toContain("no few faults explain them all");
});
