import { length, unitsOf } from "../format";
import { kept } from "../kept";
import type { DesignReply, Evaluation } from "./client";

/** One figure that an edit changed, and the room in which it stands. */
export interface Change {
  room: string;
  of: string;
  what: string;
  was: string;
  now: string;
}

type Figures = Record<string, { room: string; figures: Record<string, string> }>;

/** What a builder reads of a thing, by its name: two of these are compared. */
const figuresOf = kept((reply: DesignReply): Figures => {
  const { evaluation, document } = reply;
  const units = unitsOf(document);
  const all: Figures = {};
  for (const wire of Object.values(evaluation.wire.wires))
    all[wire.label] = {
      room: "wire",
      figures: { gauge: wire.gauge, family: wire.family, colour: wire.colour, decides: wire.governs },
    };
  for (const [key, fuse] of Object.entries(evaluation.circuits.fuses))
    all[key] = { room: "circuits", figures: { fuse: `${fuse.rating_a} A` } };
  for (const connector of Object.values(evaluation.ends.connectors))
    for (const cavity of connector.cavities)
      if (cavity.pin)
        all[`${connector.id}-${cavity.cavity}`] = {
          room: "ends",
          figures: { contact: cavity.contact ?? "none", seal: cavity.seal ?? "none" },
        };
  for (const cut of evaluation.cut.cuts)
    all[`${cut.label} cut`] = { room: "cut", figures: { length: length(cut.cut_mm, units) } };
  return all;
});

/** What an edit changed, thing by thing; what came and what went too. */
export function changesOf(before: DesignReply, after: DesignReply): Change[] {
  const one = figuresOf(before);
  const other = figuresOf(after);
  const changes: Change[] = [];
  for (const [of, { room, figures }] of Object.entries(other)) {
    const old = one[of];
    if (!old) changes.push({ room, of, what: "new", was: "", now: Object.values(figures)[0] ?? "" });
    else
      for (const [what, now] of Object.entries(figures)) {
        const was = old.figures[what] ?? "";
        if (was !== now) changes.push({ room, of, what, was, now });
      }
  }
  for (const [of, { room, figures }] of Object.entries(one))
    if (!(of in other)) changes.push({ room, of, what: "gone", was: Object.values(figures)[0] ?? "", now: "" });
  return [...changes, ...findingsOf(before.evaluation, after.evaluation)];
}

function findingsOf(before: Evaluation, after: Evaluation): Change[] {
  const key = (f: Evaluation["findings"][number]) => `${f.severity} ${f.title} ${f.what}`;
  const one = new Set(before.findings.map(key));
  const other = new Set(after.findings.map(key));
  const change = (what: string) => (f: Evaluation["findings"][number]) => ({
    room: "findings",
    of: f.title,
    what: `${what} (${f.severity})`,
    was: what === "gone" ? f.what : "",
    now: what === "gone" ? "" : f.what,
  });
  return [
    ...after.findings.filter((f) => !one.has(key(f))).map(change("new")),
    ...before.findings.filter((f) => !other.has(key(f))).map(change("gone")),
  ];
}

const NAMED = 3;

/** What an edit changed, in a sentence to be read aloud. */
export function changesInWords(before: DesignReply, after: DesignReply): string {
  const changes = changesOf(before, after);
  const figures = changes.filter((c) => c.room !== "findings" && c.room !== "cut");
  const said = figures
    .slice(0, NAMED)
    .map((c) => (c.what === "new" || c.what === "gone" ? `${c.of} ${c.what}` : `${c.of}: ${c.now}, was ${c.was}`));
  const more = figures.length - said.length;
  const { stops, fixes } = after.evaluation.tally;
  const tally = [stops ? `${stops} to stop for` : "", fixes ? `${fixes} to fix` : ""].filter(Boolean).join(", ");
  return [...said, more > 0 ? `${more} more changed` : "", tally || "nothing to stop for"].filter(Boolean).join("; ");
}
