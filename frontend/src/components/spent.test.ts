import { expect, it } from "vitest";
import { spent } from "./spent";

it("empties a field that still says what was put in, and leaves what was typed since", () => {
  expect(spent("M1 pump 4 A")("M1 pump 4 A")).toBe("");
  expect(spent("M1 pump 4 A")("M1 pump 4 A, peak 9 A")).toBe("M1 pump 4 A, peak 9 A");
  expect(spent("M1 pump 4 A")("M2")).toBe("M2");
});
