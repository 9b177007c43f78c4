import type { Card, Work } from "../../api/work";

/** Steps that are looked at together: all cuts, one connector, all dressing. */
export interface Group {
  key: string;
  label: string;
  steps: string[];
}

const PLAIN: Record<string, string> = {
  cut: "Cutting",
  mark: "Marking and twisting",
  twist: "Marking and twisting",
  prepare: "Cables prepared",
  splice: "Splices",
  strip: "Stripping, by setting",
  crimp: "Crimping, by setting",
  thread: "Led over bundles",
  dress: "Covers, tube, clamps and ties",
  label: "Labels shrunk",
};

/** What a card belongs to: its connector, or the sort of its batch. */
export function groupOf(card: Card): string {
  return PLAIN[card.kind] ?? (card.place || card.title);
}

/** Groups in the order of work. */
export function groupsOf(work: Work): Group[] {
  const groups = new Map<string, Group>();
  for (const card of work.cards) {
    const key = groupOf(card);
    const group = groups.get(key) ?? { key, label: key, steps: [] };
    group.steps.push(...card.steps);
    groups.set(key, group);
  }
  return [...groups.values()];
}
