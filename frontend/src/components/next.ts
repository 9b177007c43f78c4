import type { DesignReply, Finding } from "../api/client";
import { placeLink } from "./places";
import { ROOMS } from "./rooms";

/** What to do next: what leads there, and how many more of its kind wait. */
export interface Next {
  lead: string;
  to: string;
  text: string;
  more: number;
}

/** In a room: its worst finding, else the first room that lacks something, else what is wrong elsewhere. */
export function nextOf(room: string, design: DesignReply): Next | null {
  const { findings, rooms } = design.evaluation;
  const alone = findings.filter((f) => f.follows === null);
  const mend = (lead: string, of: readonly Finding[]): Next | null => {
    const [worst] = of;
    const link = worst && placeLink(design, worst);
    return link ? { lead, to: link.to, text: worst.title, more: of.length - 1 } : null;
  };
  const own = mend(
    "Next here",
    alone.filter((f) => f.places[0]?.room === room),
  );
  if (own) return own;
  const lacking = ROOMS.find(([name]) => rooms[name]?.progress !== "full");
  if (lacking && lacking[0] !== room)
    return { lead: "Next", to: `/d/${design.id}/${lacking[0]}`, text: lacking[1], more: 0 };
  if (lacking) return null;
  return mend(
    "Elsewhere",
    alone.filter((f) => f.severity !== "consider"),
  );
}
