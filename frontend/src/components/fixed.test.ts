import { expect, test } from "vitest";
import type { HarnessDocument } from "../api/client";
import { fixWire } from "./fixed";

const entry = (change: object) => ({
  order: 4,
  reason: "spool at hand",
  gauge: null,
  colour: null,
  family: null,
  ...change,
});
const document = (fixed: object) => ({ wire: { fixed } }) as unknown as HarnessDocument;

test("a wire is fixed with what else is fixed of it", () => {
  expect(fixWire(document({}), "a>b", { gauge: "2 AWG" })).toEqual([
    { op: "add", path: "/wire/fixed/a>b", value: entry({ order: 1, reason: "", gauge: "2 AWG" }) },
  ]);
  const known = document({ "a>b": entry({ colour: "RD" }) });
  expect(fixWire(known, "a>b", { gauge: "2 AWG" })).toEqual([
    { op: "replace", path: "/wire/fixed/a>b", value: entry({ gauge: "2 AWG", colour: "RD" }) },
  ]);
});

test("letting a gauge go keeps the colour, and what fixes nothing goes", () => {
  const both = document({ "a>b": entry({ gauge: "2 AWG", colour: "RD" }) });
  expect(fixWire(both, "a>b", { gauge: null })).toEqual([
    { op: "replace", path: "/wire/fixed/a>b", value: entry({ colour: "RD" }) },
  ]);
  expect(fixWire(document({ "a>b": entry({ gauge: "2 AWG" }) }), "a>b", { gauge: null })).toEqual([
    { op: "remove", path: "/wire/fixed/a>b" },
  ]);
  expect(fixWire(document({}), "a>b", { gauge: null })).toEqual([]);
});
