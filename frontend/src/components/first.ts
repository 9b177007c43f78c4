import type { DesignReply } from "../api/client";

/** One step of the first harness: where it is done, what is asked, and what is typed there. */
export interface FirstStep {
  room: string;
  title: string;
  text: string;
  line?: { act: "feed" | "run"; text: string };
  /** What has to stand in the harness; a step without it is done when its room was looked at. */
  done?: (design: DesignReply) => boolean;
}

export const FIRST_STEPS: readonly FirstStep[] = [
  {
    room: "circuits",
    title: "Say what is joined",
    text: "A battery feeds a lamp through a fuse, and the lamp leads back. Type it in the add line as the current runs, and press Enter:",
    line: { act: "feed", text: "B1 battery > F1 fuse block > E1 lamp 2 A > B1" },
    done: (d) => Object.keys(d.document.circuits.loads).length > 0,
  },
  {
    room: "route",
    title: "Say how far it is",
    text: "Measure along the machine and type the lengths, from place to place. A bare number is in millimetres; 5 ft is understood too:",
    line: { act: "run", text: "B1 150 > F1 1500 > E1" },
    done: (d) => Object.keys(d.document.route.branches).length > 0,
  },
  {
    room: "wire",
    title: "See what was chosen",
    text: "Every wire has its type, gauge and colour now. Choose one in the list and press w: the card says why, figure by figure.",
  },
  {
    room: "ends",
    title: "See where each wire goes",
    text: "Each device has its connector, and each pin its way in it. The face is drawn as you hold it, the wires towards you.",
  },
  {
    room: "cut",
    title: "See what to cut",
    text: "The lengths hold slack and what the ends take. Tick a wire when it is cut.",
  },
  {
    room: "build",
    title: "Go to the bench",
    text: "The work in its order: what has to be threaded first comes first. Prove holds the test for the end.",
  },
];

/** The step that is asked for now: the first that is not done; null when all are. */
export function stepOf(design: DesignReply, looked: readonly string[]): number | null {
  const at = FIRST_STEPS.findIndex((s) => (s.done ? !s.done(design) : !looked.includes(s.room)));
  return at < 0 ? null : at;
}
