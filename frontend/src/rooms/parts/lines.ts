import type { Evaluation } from "../../api/client";

export type Line = Evaluation["parts"]["lines"][number];

const ROUNDING = 1e-6;

/** What is needed: never rounded down. */
export function amount(count: number, unit: string): string {
  return unit === "m" ? `${(Math.ceil(count * 100 - ROUNDING) / 100).toFixed(2)} m` : String(count);
}

/** What there is: never rounded up. */
export function atHand(count: number, unit: string): string {
  return unit === "m" ? `${(Math.floor(count * 100 + ROUNDING) / 100).toFixed(2)} m` : String(count);
}

/** What is bought: what is used with its spares, unless the builder says otherwise. */
export function ordered(line: Line): number {
  return line.bought ?? line.quantity + (line.spares ?? 0);
}

export function partKey(line: { code: string; colour: string }): string {
  return `${line.code} ${line.colour}`.trim();
}

export function billKey(line: { group: string; code: string; colour: string }): string {
  return `${line.group} ${line.code} ${line.colour}`;
}

/** Kinds that a newcomer thinks come along, and that are bought. */
const APART = new Set(["lock", "seal", "cavity plug", "accessory", "contact", "cover"]);

export function soldApart(line: Line): boolean {
  return !line.included && APART.has(line.group);
}
