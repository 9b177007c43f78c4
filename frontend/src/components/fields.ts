/** One stated field of an entry: how it is shown, and what is sent for what is typed. Used by forms and grids alike. */
import { degrees, fine, length, lengthUnit, mass, trim, words, type Units } from "../format";

export interface FieldSpec {
  key: string;
  label: string;
  /** `maybe` is yes, no, or left to the program. */
  kind: "text" | "figure" | "choice" | "flag" | "maybe" | "list";
  /** Written behind a figure; `mm` follows the document's units. */
  unit?: string;
  choices?: { value: string; label: string }[];
  /** What stands where nothing is stated; the field may then be emptied. */
  empty?: string;
  hint?: string;
  /** CSS width in a grid. */
  width?: string;
}

export type Entry = Record<string, unknown>;

/** The words of a choice as they are spoken. */
export function spoken(values: readonly string[]): { value: string; label: string }[] {
  return values.map((v) => ({ value: v, label: words(v) }));
}

export function shown(spec: FieldSpec, entry: Entry, units: Units): string {
  const value = entry[spec.key];
  if (spec.kind === "flag") return value ? "yes" : "no";
  if (spec.kind === "maybe") return value === null || value === undefined ? "" : value ? "yes" : "no";
  if (value === null || value === undefined || value === "") return "";
  if (spec.kind === "list") return Object.keys(value as object).join(" ");
  if (spec.kind === "figure" && typeof value === "number") {
    // Insulation and strands are told by hundredths.
    if (spec.unit === "mm") return value < 20 ? fine(value, units, 2) : length(value, units);
    if (spec.unit === "C") return degrees(value, units);
    if (spec.unit === "g") return mass(value, units, 1);
    return `${trim(value, 6)} ${(spec.unit ?? "").replace("mohm", "mΩ")}`.trim();
  }
  if (spec.kind === "choice") return spec.choices?.find((c) => c.value === value)?.label ?? text(value);
  return text(value);
}

/** The unit that heads a column of it, where figures of it are all in one. */
export function headUnit(spec: FieldSpec, units: Units): { unit?: string } {
  const unit = { mm: lengthUnit(units), C: `°${units.temperature}`, g: units.mass }[spec.unit ?? ""];
  return unit ? { unit } : {};
}

function text(value: unknown): string {
  return typeof value === "string" ? value : JSON.stringify(value);
}

export function sent(spec: FieldSpec, typed: string): unknown {
  if (spec.kind === "flag") return typed === "yes";
  if (spec.kind === "maybe") return typed === "" ? null : typed === "yes";
  if (spec.kind === "list") return listed(typed);
  if (spec.empty !== undefined && spec.kind !== "text" && typed.trim() === "") return null;
  return typed;
}

/** Names with spaces or commas between, as a collection keyed by name. */
export function listed(typed: string): Record<string, { order: number }> {
  const names = typed.split(/[\s,;]+/).filter(Boolean);
  return Object.fromEntries(names.map((name, i) => [name, { order: i + 1 }]));
}

/** An id made of a name, free in a collection. */
export function freeId(name: string, taken: Record<string, unknown>): string {
  const base =
    name
      .toLowerCase()
      .replace(/[^a-z0-9]+/g, "-")
      .replace(/^-+|-+$/g, "")
      .slice(0, 30) || "one";
  let id = base;
  for (let n = 2; id in taken; n += 1) id = `${base}-${n}`;
  return id;
}

export const YES_NO = [
  { value: "yes", label: "yes" },
  { value: "no", label: "no" },
];
