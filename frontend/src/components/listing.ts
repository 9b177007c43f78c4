/** How lists are put in order, found in and copied: texts as they are shown, figures by what they mean. */

const PREFIX: Record<string, number> = { p: 1e-12, n: 1e-9, µ: 1e-6, u: 1e-6, m: 1e-3, k: 1e3, M: 1e6, G: 1e9 };
const UNITS = ["A", "V", "W", "Ω", "ohm", "F", "H", "N", "g"];
const PLAIN: Record<string, number> = {
  mm: 1,
  cm: 10,
  m: 1000,
  in: 25.4,
  ft: 304.8,
  "%": 1,
  "°C": 1,
  "mm²": 1,
  min: 1,
  h: 60,
};
const FIGURE = /^(-?)([\d.,]+)\s*([^\d\s]*)/;
const natural = new Intl.Collator("en", { numeric: true, sensitivity: "base" });

/** What a figure with its unit comes to, so that 334 mA stands before 5 A; null of what is no figure. */
export function magnitude(text: string): number | null {
  const match = FIGURE.exec(text.trim());
  if (!match) return null;
  const number = Number((match[2] ?? "").replaceAll(",", ""));
  if (Number.isNaN(number)) return null;
  return (match[1] === "-" ? -number : number) * scale(match[3] ?? "");
}

function scale(unit: string): number {
  if (unit in PLAIN) return PLAIN[unit] ?? 1;
  const prefix = PREFIX[unit[0] ?? ""];
  return prefix !== undefined && UNITS.includes(unit.slice(1)) ? prefix : 1;
}

/** Two cells in order: figures by what they come to, names by their letters and numbers, empty ones last. */
export function compareCells(a: string, b: string): number {
  if (!a || !b) return a ? -1 : b ? 1 : 0;
  const one = magnitude(a);
  const other = magnitude(b);
  if (one !== null && other !== null && one !== other) return one - other;
  return natural.compare(a, b);
}

/** Whether every word that is sought stands in one of the texts. */
export function finds(sought: string, texts: readonly string[]): boolean {
  const words = sought.toLowerCase().split(/\s+/).filter(Boolean);
  const all = texts.join("\n").toLowerCase();
  return words.every((word) => all.includes(word));
}

/** Where a new group begins in rows in order: the number of its first row, and how many it has. */
export function groupsOf(keys: readonly string[]): Map<number, { name: string; count: number }> {
  const groups = new Map<number, { name: string; count: number }>();
  let first = 0;
  keys.forEach((name, n) => {
    if (n === 0 || name !== keys[n - 1]) {
      first = n;
      groups.set(n, { name, count: 0 });
    }
    const group = groups.get(first);
    if (group) group.count += 1;
  });
  return groups;
}

/** The rows from one to another, whichever comes first. */
export function between(a: number, b: number): number[] {
  const low = Math.min(a, b);
  return Array.from({ length: Math.abs(a - b) + 1 }, (_, n) => low + n);
}
