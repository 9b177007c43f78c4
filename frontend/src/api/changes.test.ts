import { expect, it } from "vitest";
import { changesInWords, changesOf } from "./changes";
import type { DesignReply, Evaluation } from "./client";

interface Stated {
  gauge?: string;
  wires?: string[];
  stops?: string[];
}

/** As much of an evaluation as changes are read from. */
function evaluation({ gauge = "16 AWG", wires = ["C1"], stops = [] }: Stated): Evaluation {
  return {
    wire: {
      wires: Object.fromEntries(
        wires.map((key) => [key, { key, label: key, gauge, family: "F", colour: "RD", governs: "drop" }]),
      ),
    },
    circuits: { fuses: { "F1.1": { rating_a: 10 } } },
    ends: { connectors: { J1: { id: "J1", cavities: [{ cavity: "1", pin: "M1.+", contact: "S16", seal: null }] } } },
    cut: { cuts: wires.map((label) => ({ label, cut_mm: 250 })) },
    findings: stops.map((title) => ({ severity: "stop", title, what: title })),
    tally: { stops: stops.length, fixes: 0 },
  } as unknown as Evaluation;
}

function reply(stated: Stated): DesignReply {
  return { evaluation: evaluation(stated), document: { brief: { units: "metric" } } } as unknown as DesignReply;
}

it("names what changed with what it was, what came and what went", () => {
  const changes = changesOf(reply({}), reply({ gauge: "12 AWG", wires: ["C1", "C2"] }));
  expect(changes).toContainEqual({ room: "wire", of: "C1", what: "gauge", was: "16 AWG", now: "12 AWG" });
  expect(changes.filter((c) => c.what === "new").map((c) => c.of)).toEqual(["C2", "C2 cut"]);
  expect(changesOf(reply({}), reply({}))).toEqual([]);
  const fewer = changesOf(reply({ wires: ["C1", "C2"] }), reply({}));
  expect(fewer.map((c) => c.what)).toEqual(["gone", "gone"]);
});

it("names findings that came and went", () => {
  const changes = changesOf(reply({ stops: ["old"] }), reply({ stops: ["fresh"] }));
  expect(changes.map((c) => `${c.of} ${c.what}`)).toEqual(["fresh new (stop)", "old gone (stop)"]);
});

it("says a few aloud, counts the rest and what is to stop for", () => {
  expect(changesInWords(reply({}), reply({ gauge: "12 AWG", stops: ["a"] }))).toBe(
    "C1: 12 AWG, was 16 AWG; 1 to stop for",
  );
  const many = { wires: ["C1", "C2", "C3", "C4", "C5"] };
  expect(changesInWords(reply(many), reply({ ...many, gauge: "12 AWG" }))).toContain("2 more changed");
  expect(changesInWords(reply({}), reply({}))).toBe("nothing to stop for");
});
