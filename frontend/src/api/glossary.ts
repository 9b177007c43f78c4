import type { Schemas } from "./client";

export type Word = Schemas["WordItem"];

const KNOWN = new WeakMap<readonly Word[], Map<string, Word>>();

/** Words by every name that they go by, in small letters. */
export function byName(words: readonly Word[]): Map<string, Word> {
  const ready = KNOWN.get(words);
  if (ready) return ready;
  const known = new Map(words.flatMap((w) => [w.word, ...w.also].map((name) => [name.toLowerCase(), w] as const)));
  KNOWN.set(words, known);
  return known;
}

/** Words that hold what is sought: by name first, then by what they mean. */
export function sought(words: readonly Word[], text: string): Word[] {
  const wanted = text.trim().toLowerCase();
  if (!wanted) return [...words];
  const named = words.filter((w) => [w.word, ...w.also].some((name) => name.toLowerCase().includes(wanted)));
  return [...named, ...words.filter((w) => !named.includes(w) && w.means.toLowerCase().includes(wanted))];
}
