import type { DesignReply } from "../api/client";
import { LEAVES } from "./leaves";

/** One place to go to: its name, what it is for, where it is. */
export interface Jump {
  group: string;
  name: string;
  what: string;
  to: string;
}

const ROOM_NAMES: Record<keyof typeof LEAVES, string> = {
  brief: "Brief",
  circuits: "Circuits",
  route: "Route",
  wire: "Wire",
  ends: "Ends",
  cut: "Cut",
  dress: "Dress",
  parts: "Parts",
  build: "Build",
  prove: "Prove",
};

const at = (key: string) => `?at=${encodeURIComponent(key)}`;

/** Everything of a harness that has a place on a screen. */
export function jumpsOf(design: DesignReply): Jump[] {
  const { document, evaluation } = design;
  const root = `/d/${design.id}`;
  const name = (id: string) => document.circuits.circuits[id]?.name ?? "";
  return [
    ...(Object.keys(LEAVES) as (keyof typeof LEAVES)[])
      .flatMap((room) =>
        LEAVES[room].map(([leaf, title]) => ({
          group: "Rooms",
          name: leaf ? `${ROOM_NAMES[room]}: ${title}` : ROOM_NAMES[room],
          what: leaf ? "" : title,
          // The leaves of Ends are those of one connector.
          to: room === "ends" ? `${root}/ends` : `${root}/${room}${leaf ? `/${leaf}` : ""}`,
        })),
      )
      .filter((jump, n, all) => all.findIndex((other) => other.to === jump.to) === n),
    { group: "Rooms", name: "Findings", what: "all that is wrong, and what puts it right", to: `${root}/findings` },
    { group: "Rooms", name: "To the bench", what: "cards, one wire end at a time", to: `${root}/build/cards` },
    ...Object.entries(document.circuits.devices).map(([id, device]) => ({
      group: "Devices",
      name: `${id} ${device.name}`.trim(),
      what: device.kind.replaceAll("_", " "),
      to: `${root}/circuits${at(id)}`,
    })),
    ...Object.values(evaluation.ends.connectors).map((c) => ({
      group: "Connectors",
      name: c.name && c.name !== c.id ? `${c.id} ${c.name}` : c.id,
      what: `${c.family}, ${c.ways} way`,
      to: `${root}/ends/${c.id}`,
    })),
    ...Object.values(evaluation.wire.wires).map((w) => ({
      group: "Wires",
      name: w.label,
      what: `${name(w.circuit)}, ${w.gauge}, ${w.colour}`,
      to: `${root}/wire${at(w.key)}`,
    })),
    ...Object.entries(document.circuits.circuits).map(([id, circuit]) => ({
      group: "Circuits",
      name: `${id} ${circuit.name}`.trim(),
      what: Object.keys(circuit.ends).join(", "),
      to: `${root}/circuits${at(id)}`,
    })),
    ...Object.entries(document.route.branches).map(([id, b]) => ({
      group: "Branches",
      name: id,
      what: `${document.route.points[b.from_point]?.name || b.from_point} to ${document.route.points[b.to_point]?.name || b.to_point}`,
      to: `${root}/route?branch=${encodeURIComponent(id)}`,
    })),
    { group: "Elsewhere", name: "The shelf", what: "all harnesses", to: "/" },
    { group: "Elsewhere", name: "The bench", what: "quick calculators without a harness", to: "/bench" },
    { group: "Elsewhere", name: "The drawers", what: "parts, tools, what is at hand", to: "/drawers" },
  ];
}

/** How well a name answers what is typed: its beginning before its middle before what it is for; 0 where not at all. */
export function rank(jump: Jump, typed: string): number {
  const sought = typed.trim().toLowerCase();
  if (!sought) return 1;
  const name = jump.name.toLowerCase();
  if (name === sought || name.startsWith(`${sought} `)) return 1;
  if (name.startsWith(sought)) return 0.8;
  const words = sought.split(/\s+/);
  if (words.every((w) => name.includes(w))) return 0.6;
  return words.every((w) => `${name} ${jump.what.toLowerCase()}`.includes(w)) ? 0.3 : 0;
}
