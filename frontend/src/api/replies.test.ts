import { expect, test } from "vitest";
import type { DesignReply } from "./client";
import { changed, whole } from "./replies";

const HELD = {
  wires: { C1: { gauge: "18", limits: [1, 2] }, C2: { gauge: "20", limits: [3, 4] }, C3: { gauge: "22", limits: [] } },
  findings: [{ code: "a" }, { code: "b" }, { code: "c" }],
};

test("what is put stands there, and what nobody touched is the same object", () => {
  const now = changed(HELD, [{ at: ["wires", "C1", "gauge"], put: "16" }]);
  expect(now.wires.C1).toEqual({ gauge: "16", limits: [1, 2] });
  expect(now.wires.C1.limits).toBe(HELD.wires.C1.limits);
  expect(now.wires.C2).toBe(HELD.wires.C2);
  expect(now.findings).toBe(HELD.findings);
  expect(HELD.wires.C1.gauge, "the reply held stays as it is").toBe("18");
});

test("null can be put, and a new key comes last", () => {
  const now = changed(HELD, [
    { at: ["wires", "C2", "gauge"], put: null },
    { at: ["wires", "C4"], put: { gauge: "12", limits: [] } },
  ]);
  expect(now.wires.C2.gauge).toBeNull();
  expect(Object.keys(now.wires)).toEqual(["C1", "C2", "C3", "C4"]);
});

test("keys are taken out", () => {
  const now = changed(HELD, [{ at: ["wires"], take: ["C1", "C3"] }]);
  expect(Object.keys(now.wires)).toEqual(["C2"]);
  expect(Object.keys(HELD.wires)).toHaveLength(3);
});

test("a list is arranged of stretches and of what is new", () => {
  const now = changed(HELD, [{ at: ["findings"], arrange: [[1, 2], { new: { code: "d" } }, [0, 1]] }]);
  expect(now.findings.map((f) => f.code)).toEqual(["b", "c", "d", "a"]);
  expect(now.findings[0]).toBe(HELD.findings[1]);
});

test("changes of another reply than the one held make nothing", () => {
  const reply = { id: "h", version: 3, etag: "3-a", undo_label: null, redo_label: null } as unknown as DesignReply;
  const sent = { id: "h", version: 4, etag: "4-a", held: "3-a", undo_label: "M1", redo_label: null, changes: [] };
  expect(whole(sent, reply)).toEqual({ ...reply, version: 4, etag: "4-a", undo_label: "M1" });
  expect(whole({ ...sent, held: "2-a" }, reply)).toBeNull();
  expect(whole(sent, undefined)).toBeNull();
  expect(whole(reply, undefined)).toBe(reply);
});
