/** How figures are written. Only formatting: no arithmetic of the trade. */

import type { HarnessDocument } from "./api/client";
import { kept } from "./kept";

type Brief = HarnessDocument["brief"];

/** The units that a harness is shown in; one object for each choice, so that it can be told by itself. */
export interface Units {
  length: Brief["units"];
  mass: Brief["mass_unit"];
  temperature: Brief["temperature_unit"];
}

const CHOSEN = new Map<string, Units>();

export function unitsOf({ brief }: HarnessDocument): Units {
  const key = `${brief.units} ${brief.mass_unit} ${brief.temperature_unit}`;
  const known = CHOSEN.get(key);
  if (known) return known;
  const units = { length: brief.units, mass: brief.mass_unit, temperature: brief.temperature_unit };
  CHOSEN.set(key, units);
  return units;
}

/** Whether two versions of a harness write the same figure alike: what does not differ then was not changed. */
export function writtenAlike(one: HarnessDocument, other: HarnessDocument): boolean {
  const [a, b] = [one.brief, other.brief];
  return unitsOf(one) === unitsOf(other) && a.currency === b.currency && a.currency_first === b.currency_first;
}

const MM_PER_INCH = 25.4;
const GRAMS_PER_OUNCE = 28.349523125;
const FINE_MM = 20;

export function millimetres(value: number): string {
  return value >= FINE_MM ? `${Math.round(value)} mm` : `${value.toFixed(1)} mm`;
}

/** Sixteenths, which are too coarse for a strip or a seal: below 20 mm hundredths. */
export function inches(value: number): string {
  if (value < FINE_MM) return `${(value / MM_PER_INCH).toFixed(2)} in`;
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
  if (units.length === "both") return `${millimetres(value)} (${inches(value)})`;
  return units.length === "inch" ? inches(value) : millimetres(value);
}

/** The other system, for a hover. */
export function otherLength(value: number, units: Units): string {
  return units.length === "inch" ? millimetres(value) : inches(value);
}

/** A width, a thickness: a tenth of a millimetre matters. */
export function fine(value: number, units: Units, digits = 1): string {
  const metric = `${trim(value, digits)} mm`;
  const inch = `${(value / MM_PER_INCH).toFixed(digits + 1)} in`;
  if (units.length === "both") return `${metric} (${inch})`;
  return units.length === "inch" ? inch : metric;
}

/** The unit of lengths, for the heading of a column. */
export function lengthUnit(units: Units): string {
  return { metric: "mm", inch: "in", both: "mm, in" }[units.length];
}

export function mass(value: number, units: Units, digits = 0): string {
  return units.mass === "oz" ? `${(value / GRAMS_PER_OUNCE).toFixed(digits + 1)} oz` : `${value.toFixed(digits)} g`;
}

export function degrees(value: number, units: Units): string {
  return units.temperature === "F" ? `${Math.round(value * 1.8 + 32)} °F` : `${Math.round(value)} °C`;
}

/** A price as the harness writes money. */
export function money(value: number, brief: Brief, digits = 2): string {
  const figure = value.toFixed(digits);
  if (!brief.currency) return figure;
  if (!brief.currency_first) return `${figure} ${brief.currency}`;
  return brief.currency.length > 1 ? `${brief.currency} ${figure}` : `${brief.currency}${figure}`;
}

/** A figure with as many digits, and no fewer than asked, as tell it from its limit; three more at most. */
export function toldApart(value: number, limit: number, digits: number): string {
  for (let more = 0; more <= 3; more += 1) {
    const said = value.toFixed(digits + more);
    if (Math.sign(Number(said) - limit) === Math.sign(value - limit)) return said;
  }
  return value.toFixed(digits);
}

export function trim(value: number, digits: number): string {
  return String(Number(value.toFixed(digits)));
}

export function amperes(value: number): string {
  if (value === 0) return "–";
  return value < 0.1 ? `${trim(value * 1000, 1)} mA` : `${Number(value.toPrecision(3))} A`;
}

export function percent(ratio: number): string {
  return `${toldApart(Math.min(ratio, 99) * 100, 100, 0)} %`;
}

export function words(role: string): string {
  return role.replaceAll("_", " ");
}

const ordered = kept((collection: Record<string, { order: number }>) =>
  Object.entries(collection).sort((a, b) => a[1].order - b[1].order),
);

/** Entries of a collection keyed by id, in their order; of the same collection the same list. */
export function inOrder<T extends { order: number }>(collection: Record<string, T>): [string, T][] {
  return ordered(collection) as [string, T][];
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
