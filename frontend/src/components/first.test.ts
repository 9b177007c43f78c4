import { expect, it } from "vitest";
import type { DesignReply } from "../api/client";
import { FIRST_STEPS, stepOf } from "./first";

function harness(loads: number, branches: number): DesignReply {
  const many = (n: number) => Object.fromEntries(Array.from({ length: n }, (_, i) => [String(i), {}]));
  return {
    document: { circuits: { loads: many(loads) }, route: { branches: many(branches) } },
  } as unknown as DesignReply;
}

it("asks for what is not there yet, whatever was looked at before", () => {
  expect(stepOf(harness(0, 0), [])).toBe(0);
  expect(stepOf(harness(1, 0), ["wire", "cut"])).toBe(1);
  expect(stepOf(harness(1, 2), [])).toBe(2);
  expect(stepOf(harness(1, 2), ["wire"])).toBe(3);
  expect(stepOf(harness(0, 2), ["wire", "ends", "cut", "build"])).toBe(0);
});

it("is over when all is there and every room was looked at", () => {
  expect(
    stepOf(
      harness(1, 2),
      FIRST_STEPS.map((s) => s.room),
    ),
  ).toBeNull();
});
