import type { HarnessDocument } from "../../api/client";

/** A shop's conventions with the units, the money and the paper of a harness in place of what they said of them. */
export function shopLines(conventions: string, brief: HarnessDocument["brief"]): string {
  const others = conventions.split("\n").filter((line) => !/^\s*(units|money)\b/i.test(line));
  const before = brief.currency && brief.currency_first ? " before" : "";
  return [
    ...others.join("\n").trim().split("\n").filter(Boolean),
    `units ${brief.units}, ${brief.mass_unit}, ${brief.temperature_unit}, ${brief.paper}`,
    `money ${brief.currency || "none"}${before}`,
  ].join("\n");
}
