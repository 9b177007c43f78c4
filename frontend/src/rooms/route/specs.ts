/** The stated fields of what the route holds. */
import { EDGES, MEASURED, POINT_KINDS } from "../../api/values";
import { spoken, type FieldSpec } from "../../components/fields";

export function pointFields(zones: { value: string; label: string }[]): FieldSpec[] {
  return [
    { key: "name", label: "Name", kind: "text", width: "minmax(110px,1.4fr)" },
    {
      key: "zone",
      label: "Zone",
      kind: "choice",
      choices: zones,
      empty: "as its branches",
      hint: "what stays at this point lies in its air; where zones meet, the hotter one's unless you say",
      width: "minmax(96px,1fr)",
    },
    {
      key: "kind",
      label: "Is a",
      kind: "choice",
      choices: spoken(POINT_KINDS),
      width: "110px",
    },
    {
      key: "opening_mm",
      label: "Opening",
      kind: "figure",
      unit: "mm",
      empty: "–",
      hint: "diameter of the hole the harness passes here",
    },
    {
      key: "edge",
      label: "Its edge",
      kind: "choice",
      choices: [{ value: "not said", label: "–" }, ...spoken(EDGES.filter((edge) => edge !== "not said"))],
      hint: "what the harness passes at an opening",
      width: "100px",
    },
    {
      key: "after_terminating",
      label: "Passed",
      kind: "flag",
      hint: "yes where it is passed with the connectors on",
      width: "70px",
    },
    { key: "slack_mm", label: "Slack kept", kind: "figure", unit: "mm", empty: "none" },
    { key: "datum", label: "Datum", kind: "flag", hint: "stations are counted from here", width: "68px" },
  ];
}

export const BRANCH: FieldSpec[] = [
  {
    key: "measured",
    label: "measured",
    kind: "choice",
    choices: spoken(MEASURED),
  },
  { key: "measured_on", label: "on", kind: "text", empty: "2026-03-31" },
  { key: "uncertainty_mm", label: "give or take", kind: "figure", unit: "mm", empty: "by the method" },
  { key: "separators", label: "separators", kind: "flag", hint: "combs between ignition leads, that do not conduct" },
  {
    key: "apart_mm",
    label: "kept apart",
    kind: "figure",
    unit: "mm",
    empty: "not known",
    hint: "how far ignition and switching lie from signals",
  },
  {
    key: "support_mm",
    label: "held every",
    kind: "figure",
    unit: "mm",
    empty: "by the house rule",
    hint: "between its clamps, as fitted",
  },
  {
    key: "sheath",
    label: "covered by",
    kind: "choice",
    choices: [
      { value: "none", label: "nothing that counts" },
      { value: "sheath", label: "a sheath or conduit" },
      { value: "enclosure", label: "a box" },
    ],
    hint: "all along: wire ahead of the first fuse may be longer in it",
  },
  { key: "rerouted_on", label: "moved on", kind: "text", empty: "not since", hint: "the day its way was changed" },
];

export function stretchFields(zones: { value: string; label: string }[]): FieldSpec[] {
  return [
    { key: "zone", label: "Zone", kind: "choice", choices: zones },
    { key: "from_mm", label: "from", kind: "figure", unit: "mm", width: "72px" },
    { key: "to_mm", label: "to", kind: "figure", unit: "mm", width: "72px" },
  ];
}
