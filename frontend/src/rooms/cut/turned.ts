/** Gauge first: it is what is looked for on the spool. */
export function turned(part: string): string {
  const [family = "", ...gauge] = part.split(" ");
  return `${gauge.join(" ")} ${family}`;
}
