import { kept } from "../kept";
import type { Schemas } from "./client";

export type Word = Schemas["WordItem"];

/** Words by every name that they go by, in small letters. */
export const byName = kept(
  (words: readonly Word[]) =>
    new Map(words.flatMap((w) => [w.word, ...w.also].map((name) => [name.toLowerCase(), w] as const))),
);

/** Words that hold what is sought: by name first, then by what they mean. */
export function sought(words: readonly Word[], text: string): Word[] {
  const wanted = text.trim().toLowerCase();
  if (!wanted) return [...words];
  const named = words.filter((w) => [w.word, ...w.also].some((name) => name.toLowerCase().includes(wanted)));
  return [...named, ...words.filter((w) => !named.includes(w) && w.means.toLowerCase().includes(wanted))];
}
