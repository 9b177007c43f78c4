/** How figures are written. Only formatting: no arithmetic of the trade. */

import type { HarnessDocument } from "./api/client";

export type Units = HarnessDocument["brief"]["units"];

const MM_PER_INCH = 25.4;

export function millimetres(value: number): string {
  return value >= 20 ? `${Math.round(value)} mm` : `${value.toFixed(1)} mm`;
}

export function inches(value: number): string {
  const sixteenths = Math.round((value / MM_PER_INCH) * 16);
  const whole = Math.floor(sixteenths / 16);
  let top = sixteenths % 16;
  let bottom = 16;
  if (top === 0) return `${whole} in`;
  while (top % 2 === 0) {
    top /= 2;
    bottom /= 2;
  }
  return whole ? `${whole} ${top}/${bottom} in` : `${top}/${bottom} in`;
}

export function length(value: number, units: Units): string {
  return units === "inch" ? inches(value) : millimetres(value);
}

/** The other system, for a hover. */
export function otherLength(value: number, units: Units): string {
  return units === "inch" ? millimetres(value) : inches(value);
}

export function trim(value: number, digits: number): string {
  return String(Number(value.toFixed(digits)));
}

export function amperes(value: number): string {
  if (value === 0) return "–";
  return value < 0.1 ? `${trim(value * 1000, 1)} mA` : `${Number(value.toPrecision(3))} A`;
}

export function degrees(value: number, units: Units): string {
  return units === "inch" ? `${Math.round(value)} °C (${Math.round(value * 1.8 + 32)} °F)` : `${Math.round(value)} °C`;
}

export function percent(ratio: number): string {
  return `${Math.round(Math.min(ratio, 99) * 100)} %`;
}

export function words(role: string): string {
  return role.replaceAll("_", " ");
}

/** Entries of a collection keyed by id, in their order. */
export function inOrder<T extends { order: number }>(collection: Record<string, T>): [string, T][] {
  return Object.entries(collection).sort((a, b) => a[1].order - b[1].order);
}

export function nextOrder(collection: Record<string, { order: number }>): number {
  return Math.max(0, ...Object.values(collection).map((e) => e.order)) + 1;
}

/** Gauge first: it is what is looked for on the spool. */
export function turned(part: string): string {
  const [family = "", ...gauge] = part.split(" ");
  return `${gauge.join(" ")} ${family}`;
}

/** How often, as it is spoken. */
export function often(times: number): string {
  return times === 1 ? "once" : times === 2 ? "twice" : times === 0 ? "not once" : `${times} times`;
}

const OHMS = [
  [1e6, "MΩ"],
  [1e3, "kΩ"],
  [1, "Ω"],
  [1e-3, "mΩ"],
] as const;

/** A resistance as a meter shows it; null is open. */
export function ohms(value: number | null): string {
  if (value === null) return "open";
  const [least, unit] = OHMS.find(([from]) => value >= from) ?? OHMS[3];
  return `${Number((value / least).toPrecision(3))} ${unit}`;
}

/** A band of resistance, both ends in the unit of the greater. */
export function ohmsBetween(low: number, high: number): string {
  const [least, unit] = OHMS.find(([from]) => high >= from) ?? OHMS[3];
  return `${Number((low / least).toPrecision(3))} … ${Number((high / least).toPrecision(3))} ${unit}`;
}

/** A moment as this machine writes it, without seconds. */
export function when(at: string): string {
  return new Date(at).toLocaleString(undefined, { dateStyle: "short", timeStyle: "short" });
}
