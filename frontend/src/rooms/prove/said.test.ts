import { expect, it } from "vitest";
import type { PieceState } from "../../api/prove";
import { pieceSaid } from "./said";

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
