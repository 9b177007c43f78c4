/** Escape one part of a JSON Pointer. */
export function part(text: string): string {
  return text.replaceAll("~", "~0").replaceAll("/", "~1");
}

/** A JSON Pointer of its parts. */
export function pointer(...parts: string[]): string {
  return parts.map((p) => `/${part(p)}`).join("");
}
