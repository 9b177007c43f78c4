/** The stated fields of what the circuits room holds. */
import type { HarnessDocument } from "../../api/client";
import { FITTED, GROUP_KINDS, LOAD_KINDS, PIN_DATA_FROM, SERVICES, SHIELD_RULES, SOURCE_KINDS } from "../../api/values";
import { spoken, type FieldSpec } from "../../components/fields";
import { amperes } from "../../format";

export const DEVICE: FieldSpec[] = [
  { key: "fitted", label: "has", kind: "choice", choices: spoken(FITTED) },
  { key: "lead_mm", label: "leads", kind: "figure", unit: "mm", empty: "none" },
  { key: "lead_gauge", label: "gauge of its leads", kind: "text", empty: "not known" },
  { key: "polarised", label: "polarised", kind: "flag", hint: "a two-wire switch that works one way round only" },
  { key: "moving", label: "moves", kind: "flag", hint: "on the machine, so that its wires bend" },
];

export const PIN_DATA: FieldSpec[] = [
  {
    key: "pin_data",
    label: "known from",
    kind: "choice",
    choices: spoken(PIN_DATA_FROM),
  },
  { key: "pin_document", label: "which", kind: "text", hint: "its name, or the file of a photograph" },
  { key: "pin_page", label: "page", kind: "text" },
  { key: "pin_date", label: "date", kind: "text", empty: "2026-03-31" },
];

export const STRUCTURE: FieldSpec[] = [
  { key: "structure", label: "is chassis ground", kind: "flag", hint: "a stud on the frame, used as a return" },
  { key: "structure_mohm", label: "to source", kind: "figure", unit: "mohm", hint: "of the frame, as measured" },
];

export const SENSOR: FieldSpec[] = [
  {
    key: "slope_mv",
    label: "signal",
    kind: "figure",
    unit: "mV",
    empty: "not a sensor",
    hint: "for one unit of what it measures",
  },
  { key: "slope_unit", label: "per", kind: "text", empty: "bar, °C, %" },
];

export const LOAD: FieldSpec[] = [
  { key: "current_a", label: "load current", kind: "figure", unit: "A" },
  { key: "kind", label: "as", kind: "choice", choices: spoken(LOAD_KINDS) },
  { key: "service", label: "service", kind: "choice", choices: spoken(SERVICES) },
  { key: "rated_v", label: "at", kind: "figure", unit: "V", empty: "the working supply" },
  {
    key: "least_v",
    label: "needs",
    kind: "figure",
    unit: "V",
    empty: "not known",
    hint: "below this it does not work",
  },
  {
    key: "critical",
    label: "relied on",
    kind: "maybe",
    empty: "by what it is",
    hint: "critical: its drop is held to the stricter limit, and unverified tools are kept from it",
  },
  { key: "duty_percent", label: "duty", kind: "figure", unit: "%" },
  {
    key: "cycle_s",
    label: "of each",
    kind: "figure",
    unit: "s",
    empty: "on for good",
    hint: "how long one turn of on and off takes; a duty says nothing of heat without it",
  },
];

export const LOAD_PEAKS: FieldSpec[] = [
  { key: "peak_a", label: "peak", kind: "figure", unit: "A", empty: "none", hint: "stall, crank or transmit" },
  { key: "peak_s", label: "for", kind: "figure", unit: "s", empty: "not known" },
  { key: "peak_repeats", label: "times", kind: "figure" },
  { key: "peak_pause_s", label: "pause", kind: "figure", unit: "s" },
  {
    key: "inrush_a",
    label: "inrush",
    kind: "figure",
    unit: "A",
    empty: "none",
    hint: "at switching on; what a fuse must sit out",
  },
  { key: "inrush_s", label: "for", kind: "figure", unit: "s", empty: "not known" },
  {
    key: "starts_with",
    label: "starts with",
    kind: "text",
    empty: "by itself",
    hint: "a name shared by loads that one switch or event starts together; their peaks are added",
  },
];

export function pathFields(kind: string): FieldSpec[] {
  const loss: FieldSpec = {
    key: "resistance_mohm",
    label: "resistance",
    kind: "figure",
    unit: "mohm",
    empty: "the part's own",
  };
  const contact: FieldSpec = { key: "contact_a", label: "may carry", kind: "figure", unit: "A", empty: "not known" };
  if (kind === "fuse" || kind === "breaker") {
    const parallel: FieldSpec = {
      key: "parallel",
      label: "shares with",
      kind: "text",
      empty: "alone",
      hint: "named alike on fuses side by side on purpose",
    };
    return [loss, parallel, { key: "reason", label: "because", kind: "text" }];
  }
  if (kind === "switch" || kind === "relay" || kind === "contactor") {
    return [
      contact,
      loss,
      {
        key: "throw",
        label: "throw",
        kind: "text",
        empty: "none",
        hint: "paths of one throw are never closed together",
      },
    ];
  }
  if (kind === "regulator" || kind === "supply") {
    return [
      { key: "out_v", label: "gives", kind: "figure", unit: "V", empty: "not known" },
      { key: "limit_a", label: "up to", kind: "figure", unit: "A", empty: "no limit" },
      { key: "efficiency_percent", label: "efficiency", kind: "figure", unit: "%", empty: "linear" },
    ];
  }
  return [loss];
}

export const SOURCE: FieldSpec[] = [
  {
    key: "kind",
    label: "Kind",
    kind: "choice",
    choices: spoken(SOURCE_KINDS),
    width: "minmax(104px,1.2fr)",
  },
  { key: "nominal_v", label: "Nominal", kind: "figure", unit: "V", empty: "brief's" },
  { key: "least_v", label: "Least", kind: "figure", unit: "V", empty: "brief's" },
  { key: "most_v", label: "Most", kind: "figure", unit: "V", empty: "–" },
  {
    key: "internal_mohm",
    label: "Internal resistance",
    kind: "figure",
    unit: "mohm",
    empty: "–",
    width: "104px",
  },
  { key: "fault_a", label: "Short-circuit current", kind: "figure", unit: "A", empty: "worked out", width: "104px" },
  { key: "limit_a", label: "Gives at most", kind: "figure", unit: "A", empty: "no limit", width: "104px" },
  { key: "capacity_ah", label: "Capacity", kind: "figure", unit: "Ah", empty: "–" },
];

export function groupFields(families: { value: string; label: string }[]): FieldSpec[] {
  return [
    { key: "name", label: "Name", kind: "text" },
    {
      key: "kind",
      label: "Is a",
      kind: "choice",
      choices: spoken(GROUP_KINDS),
      width: "118px",
    },
    { key: "members", label: "Circuits", kind: "list", width: "minmax(120px,1.4fr)" },
    {
      key: "shield",
      label: "Shield is",
      kind: "text",
      empty: "none",
      hint: "the circuit that lands the shield",
      width: "84px",
    },
    {
      key: "shield_rule",
      label: "Landed at",
      kind: "choice",
      choices: spoken(SHIELD_RULES),
      width: "108px",
    },
    {
      key: "shield_open",
      label: "Cut back at",
      kind: "text",
      empty: "none",
      hint: "the connector at which the shield is cut back and insulated",
      width: "84px",
    },
    { key: "family", label: "Cable", kind: "choice", choices: families, empty: "by kind", width: "minmax(96px,1fr)" },
    {
      key: "lay_mm",
      label: "One turn in",
      kind: "figure",
      unit: "mm",
      empty: "by gauge",
      hint: "of wires twisted by hand: 30 mm, or 10 turns/ft",
      width: "96px",
    },
  ];
}

export function busFields(standards: string[]): FieldSpec[] {
  return [
    { key: "name", label: "Name", kind: "text" },
    { key: "standard", label: "Standard", kind: "choice", choices: standards.map((s) => ({ value: s, label: s })) },
    { key: "circuits", label: "Circuits", kind: "list" },
    { key: "terminators", label: "Terminators in", kind: "list" },
  ];
}

/** What a load draws for a moment, in words: ``peak 35 A for 0.3 s``. */
export function moments(load: HarnessDocument["circuits"]["loads"][string]): string {
  const said = (word: string, amps: number | null, s: number | null) =>
    amps ? [`${word} ${amperes(amps)}${s ? ` for ${s} s` : ""}`] : [];
  return [...said("peak", load.peak_a, load.peak_s), ...said("inrush", load.inrush_a, load.inrush_s)].join(", ");
}
