import { expect, it } from "vitest";
import { byName, sought, type Word } from "./glossary";

const WORDS: Word[] = [
  { word: "gauge", also: ["AWG"], room: "wire", means: "The size of the copper." },
  { word: "seal", also: [], room: "ends", means: "Rubber that keeps water off copper." },
];

it("knows a word by all its names, large or small", () => {
  expect(byName(WORDS).get("awg")?.word).toBe("gauge");
  expect(byName(WORDS).get("copper")).toBeUndefined();
});

it("finds by name before it finds by meaning", () => {
  expect(sought(WORDS, "COPPER").map((w) => w.word)).toEqual(["gauge", "seal"]);
  expect(sought(WORDS, "sea").map((w) => w.word)).toEqual(["seal"]);
  expect(sought(WORDS, " ")).toHaveLength(2);
  expect(sought(WORDS, "xyz")).toEqual([]);
});
