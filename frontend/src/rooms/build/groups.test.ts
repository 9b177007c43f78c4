import { expect, it } from "vitest";
import type { Card, Work } from "../../api/work";
import { groupOf, groupsOf } from "./groups";
import { hours } from "./hours";

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
