import { expect, it } from "vitest";
import type { DesignReply } from "../api/client";
import { nextOf } from "./next";
import { ROOMS } from "./rooms";

interface Wrong {
  room: string;
  severity: string;
  title: string;
  follows?: number;
}

function harness(lacking: string[], wrong: Wrong[] = []): DesignReply {
  return {
    id: "h",
    document: { ends: { pinout: {} } },
    evaluation: {
      rooms: Object.fromEntries(ROOMS.map(([r]) => [r, { progress: lacking.includes(r) ? "empty" : "full" }])),
      findings: wrong.map(({ room, severity, title, follows }) => ({
        severity,
        title,
        follows: follows ?? null,
        places: [{ room, kind: "load", id: "M1" }],
      })),
    },
  } as unknown as DesignReply;
}

it("leads to the room's own worst finding, and counts what stands behind it", () => {
  const one = { room: "circuits", severity: "stop", title: "No feed" };
  const two = { room: "circuits", severity: "consider", title: "No current stated" };
  const after = { room: "circuits", severity: "stop", title: "follows", follows: 0 };
  expect(nextOf("circuits", harness(["route"], [one, after, two]))).toEqual({
    lead: "Next here",
    to: "/d/h/circuits?at=M1",
    text: "No feed",
    more: 1,
  });
});

it("leads to the first room that lacks something, and is silent in it", () => {
  expect(nextOf("wire", harness(["route", "wire"]))?.text).toBe("Route");
  expect(nextOf("route", harness(["route", "wire"]))).toBeNull();
});

it("leads to what is wrong elsewhere when no room lacks anything, but not to what may be considered", () => {
  const considered = { room: "ends", severity: "consider", title: "Look-alikes" };
  const fix = { room: "dress", severity: "fix", title: "Too hot" };
  expect(nextOf("wire", harness([], [fix, considered]))?.to).toBe("/d/h/dress?at=M1");
  expect(nextOf("wire", harness([], [considered]))).toBeNull();
});
