import { useCallback, useMemo } from "react";
import { useParams } from "react-router";
import { pointer, type Catalogue, type DesignReply, type HarnessDocument, type Problem } from "../../api/client";
import { useCatalogue, useDesign, useActs } from "../../api/design";
import { EntryGrid, type EntryRow } from "../../components/EntryGrid";
import type { FieldSpec } from "../../components/fields";
import type { Column } from "../../components/columns";
import { Grid } from "../../components/Grid";
import { Leaves } from "../../components/Leaves";
import { Room } from "../../components/Room";
import { Sheet } from "../../components/Sheet";
import { Sentence } from "../../components/Sentence";
import { ChoiceField, TypedField } from "../../components/TypedField";
import { TypedLine } from "../../components/TypedLine";
import { inOrder, length, nextOrder, trim } from "../../format";
import { switchTheme } from "../../theme";
import { TextLeaf } from "./TextLeaf";

type Zoned = HarnessDocument["brief"]["zones"][string];

const CONDITIONS = [
  ["wet", "wet"],
  ["jets", "jets"],
  ["salt", "salt"],
  ["vibration", "vibration"],
  ["flex", "flex"],
  ["dust", "dust"],
  ["abrasion", "rubbing"],
  ["engine_space", "engine space"],
  ["noisy", "noisy"],
  ["sensitive", "sensitive"],
  ["no_structure", "wood"],
] as const;

/** What is so in a zone, in the words that say it. */
function conditions(zone: Zoned): string {
  const under = zone.immersed
    ? ["under water", zone.immersed_m && `${zone.immersed_m} m`, zone.immersed_min && `${zone.immersed_min} min`]
        .filter(Boolean)
        .join(" ")
    : "";
  const said = [under, ...CONDITIONS.filter(([key]) => zone[key]).map(([, word]) => word), zone.fluids].filter(Boolean);
  return said.join(", ") || "dry";
}

const JOBS = [
  { value: "new", label: "new harness" },
  { value: "replacement", label: "replacement of an old one" },
  { value: "extension", label: "extension of one that stays" },
  { value: "adapter", label: "adapter between two" },
  { value: "trial lead", label: "trial lead, to prove a place" },
];

const LEAVES = [
  ["", "What is made"],
  ["text", "As text"],
] as const;

/** What is made, to which practice, from what supply, in what zones, under which rules. */
export function BriefRoom() {
  const { leaf = "" } = useParams();
  if (leaf === "text") {
    return (
      <Room room="brief" title="Brief">
        <Leaves room="brief" leaves={LEAVES} />
        <TextLeaf />
      </Room>
    );
  }
  return <WhatIsMade />;
}

function WhatIsMade() {
  const { design } = useDesign();
  const { edit } = useActs();
  const catalogue = useCatalogue();
  const brief = design.document.brief;
  const set = (field: string, value: unknown, label: string) =>
    edit([{ op: "replace", path: pointer("brief", field), value }], label);
  const family = design.document.wire.family;
  const engine =
    brief.engine !== "not said" || design.evaluation.findings.some((f) => f.code === "engine-bond-not-said");
  const preset = design.evaluation.brief.family;
  return (
    <Room
      room="brief"
      title="Brief"
      beside={
        <Sheet label="Cautions">
          <h2 className="text-head">Before you cut</h2>
          <ul className="mt-2 space-y-2">
            {design.evaluation.brief.cautions.map((c) => (
              <li key={c}>{c}</li>
            ))}
          </ul>
          <p className="mt-4 border-t border-rule pt-3 text-plain">
            <a className="quiet" href={`/api/designs/${design.id}/file`}>
              Export design file
            </a>
            <br />
            <button className="quiet" onClick={switchTheme}>
              Light or garage
            </button>
          </p>
          <p className="mt-3 text-plain text-second">
            <kbd>Ctrl</kbd> <kbd>Z</kbd> takes an edit back{design.undo_label ? `: ${design.undo_label}` : ""}.{" "}
            <kbd>Alt</kbd> <kbd>↓</kbd> goes on along the thread.
          </p>
        </Sheet>
      }
    >
      <Leaves room="brief" leaves={LEAVES} />
      <div className="max-w-[640px]">
        <TypedField label="Name" value={brief.name} onCommit={(v) => set("name", v, "name")} />
        <TypedField label="Machine" value={brief.machine} onCommit={(v) => set("machine", v, "machine")} />
        <ChoiceField
          label="Job"
          value={brief.job}
          choices={JOBS}
          onCommit={(v) => set("job", v, `a ${v}`)}
          hint="What must meet an old harness is asked how its mates, colours and pins are known."
        />
        {engine && (
          <ChoiceField
            label="Engine to frame"
            value={brief.engine}
            choices={[
              { value: "not said", label: "not said" },
              { value: "strap", label: "by a strap" },
              { value: "bolted bare", label: "bolted, metal on bare metal" },
            ]}
            onCommit={(v) => set("engine", v, `engine to frame: ${v}`)}
            hint="How starter and charging current come home."
          />
        )}
        <ChoiceField
          label="Practice"
          value={brief.practice}
          choices={(catalogue?.practices ?? [brief.practice]).map((p) => ({ value: p, label: p }))}
          onCommit={(v) => set("practice", v, `practice ${v}`)}
          hint="Sets drop limits, least gauge, slack and the wire family, each shown below."
        />
        <TypedField
          figures
          label="Supply, nominal"
          value={`${brief.supply_nominal_v} V`}
          onCommit={(v) => set("supply_nominal_v", v, "nominal supply")}
          hint="What the machine is called: 12, 14, 24, 28."
        />
        <TypedField
          figures
          label="Supply, working"
          value={`${brief.supply_working_v} V`}
          onCommit={(v) => set("supply_working_v", v, "working supply")}
          hint="What a meter shows when it runs. Drop is reckoned from this."
        />
        <TypedField
          figures
          label="Supply, least"
          value={brief.supply_least_v === null ? "" : `${brief.supply_least_v} V`}
          placeholder="a tenth below working"
          onCommit={(v) => set("supply_least_v", v.trim() || null, "least supply")}
          hint="What it falls to in use. Loads are judged by what they still get."
        />
        <TypedField
          figures
          label="Supply, most"
          value={brief.supply_most_v === null ? "" : `${brief.supply_most_v} V`}
          placeholder="working"
          onCommit={(v) => set("supply_most_v", v.trim() || null, "most supply")}
          hint="What it rises to on charge. A resistive load draws the most then, and its wire and fuse are sized for it."
        />
        <TypedField
          figures
          label="Altitude"
          value={`${brief.altitude_m} m`}
          onCommit={(v) => set("altitude_m", v, "altitude")}
          hint="Thin air cools less."
        />
        <TypedField
          figures
          label="Mass, at most"
          value={brief.mass_budget_g === null ? "" : `${brief.mass_budget_g} g`}
          placeholder="no limit"
          onCommit={(v) => set("mass_budget_g", v.trim() || null, "mass budget")}
          hint="Of one harness, connectors and all."
        />
        <TypedField
          figures
          label="How many"
          value={String(brief.quantity)}
          onCommit={(v) => set("quantity", v, "quantity")}
        />
        <ChoiceField
          label="Lengths in"
          value={brief.units}
          choices={[
            { value: "metric", label: "millimetres" },
            { value: "inch", label: "inches" },
          ]}
          onCommit={(v) => set("units", v, `lengths in ${v}`)}
        />
        <ChoiceField
          label="Wire family"
          value={family ?? ""}
          choices={[
            { value: "", label: `the practice's own${family ? "" : ` (${preset})`}` },
            ...(catalogue?.wires ?? []).map((w) => ({
              value: w.code,
              label: `${w.code}, ${w.name}, ${w.temperature_c} °C`,
            })),
          ]}
          onCommit={(v) =>
            edit([{ op: "replace", path: "/wire/family", value: v || null }], `wire family ${v || "of the practice"}`)
          }
        />
      </div>
      <h2 className="mb-1 mt-7 text-head">Zones</h2>
      <Zones />
      <h2 className="mb-1 mt-7 text-head">Make or buy</h2>
      <MakeOrBuy />
      <h2 className="mb-1 mt-7 text-head">House rules</h2>
      <p className="mb-2 text-second">Type over a value to make it your own; empty it to go back to the practice's.</p>
      <Rules />
    </Room>
  );
}

function Zones() {
  const { design } = useDesign();
  const { edit, act, actNow } = useActs();
  const zones = design.document.brief.zones;
  type Zone = [string, (typeof zones)[string]];
  const rows = inOrder(zones);
  const columns = useMemo<Column<Zone>[]>(() => {
    const set = (id: string, field: string, value: unknown) =>
      edit([{ op: "replace", path: pointer("brief", "zones", id, field), value }], `zone ${id}`);
    return [
      {
        key: "id",
        head: "Zone",
        width: "84px",
        figures: true,
        text: ([id]) => id,
        title: () => "its id, as typed in Route; renamed everywhere",
        commit: ([id], v) => act("rename", v, `zones/${id}`),
        show: ([id]) => <strong>{id}</strong>,
      },
      {
        key: "name",
        head: "Name",
        width: "minmax(96px,1fr)",
        text: ([, z]) => z.name,
        commit: ([id], v) => set(id, "name", v),
      },
      {
        key: "ambient",
        head: "Air to",
        width: "72px",
        align: "right",
        figures: true,
        text: ([, z]) => `${z.ambient_c} °C`,
        commit: ([id], v) => set(id, "ambient_c", v),
      },
      {
        key: "least",
        head: "Down to",
        width: "72px",
        align: "right",
        figures: true,
        text: ([, z]) => (z.least_c === null ? "–" : `${z.least_c} °C`),
        title: () => "the coldest it gets here",
        begin: ([, z]) => (z.least_c === null ? "" : String(z.least_c)),
        commit: ([id], v) => set(id, "least_c", v.trim() === "" || v.trim() === "–" ? null : v),
      },
      {
        key: "radiant",
        head: "Shone on",
        width: "84px",
        align: "right",
        figures: true,
        text: ([, z]) => (z.radiant_w_per_m2 ? `${z.radiant_w_per_m2} W/m²` : "no"),
        title: () => "sun or a hot part: full sun is about 1000 W/m²",
        begin: ([, z]) => String(z.radiant_w_per_m2),
        commit: ([id], v) => set(id, "radiant_w_per_m2", v.trim().toLowerCase() === "no" ? 0 : v),
      },
      {
        key: "is",
        head: "What is so there",
        width: "minmax(240px,2.4fr)",
        text: ([, z]) => conditions(z),
        title: () =>
          "dry, wet, salt, jets, under water 2 m 90 min, vibration, flex, dust, rubbing, engine space, noisy, sensitive, wood, and what splashes there: fuel, oil, coolant",
        begin: ([, z]) => conditions(z),
        commit: ([id], v) => act("zone_is", v, id),
      },
    ];
  }, [act, edit]);
  return (
    <div>
      <TypedLine
        label="add a zone"
        act="zone"
        example="engine bay, -20 to 85 C, wet, vibration, fuel"
        onCommit={(text) => act("zone", text)}
      />
      <Grid
        label="Zones"
        rows={rows}
        columns={columns}
        rowKey={([id]) => id}
        onDelete={([id]) => void actNow("take_out_zone", id)}
      />
    </div>
  );
}

/** A lead that can be bought made, against the length that is wanted. */
function MakeOrBuy() {
  const { design } = useDesign();
  const { act, doIt } = useActs();
  const units = design.document.brief.units;
  const { make_or_buy: found } = design.evaluation.brief;
  const entries = design.document.brief.ready_made;
  const derived = useMemo<Column<EntryRow>[]>(() => {
    const of = ([id]: EntryRow) => found.offers.find((o) => o.id === id);
    return [
      {
        key: "margin",
        head: "To spare",
        width: "104px",
        align: "right",
        figures: true,
        text: (row) => {
          const o = of(row);
          return o ? length(o.margin_mm, units) : "";
        },
      },
      {
        key: "why",
        head: "So",
        width: "minmax(180px,1.6fr)",
        text: (row) => of(row)?.why ?? "",
        show: (row) => <span className={of(row)?.fits ? "" : "text-madder"}>{of(row)?.why}</span>,
      },
    ];
  }, [found, units]);
  return (
    <>
      <p className="mb-2 text-second">
        {found.offers.length > 0 ? (
          <Sentence text={found.sentence} />
        ) : (
          "Where a lead that is sold ready-made might do, type its name, its length and its price: it is held against the length wanted here."
        )}
      </p>
      <EntryGrid
        label="Ready-made leads"
        at={["brief", "ready_made"]}
        entries={entries}
        specs={READY_MADE}
        derived={derived}
        onNew={{ prompt: '"stock lead" 600 mm at 12', commit: (typed) => act("ready_made", typed) }}
        onDelete={(id) => void doIt([{ op: "remove", path: pointer("brief", "ready_made", id) }], `take out ${id}`)}
      />
    </>
  );
}

const READY_MADE: FieldSpec[] = [
  { key: "name", label: "Lead", kind: "text", width: "minmax(120px,1fr)" },
  { key: "length_mm", label: "Length", kind: "figure", unit: "mm", width: "96px" },
  { key: "price", label: "Price", kind: "figure", width: "76px" },
  { key: "chosen", label: "Bought", kind: "flag", hint: "instead of making one", width: "76px" },
  { key: "reason", label: "Because", kind: "text", width: "minmax(100px,1fr)" },
];

type RuleRow = [string, DesignReply["evaluation"]["brief"]["rules"][string]];

/** House rules: figures in a grid, and below it what builders differ on, with who holds which view and why. */
function Rules() {
  const { design } = useDesign();
  const { edit } = useActs();
  const catalogue = useCatalogue();
  const known = useMemo(() => catalogue?.rules ?? {}, [catalogue]);
  const own = design.document.brief.house_rules;
  const rows: RuleRow[] = Object.entries(design.evaluation.brief.rules).filter(([id]) => known[id]);
  const put = useCallback(
    (id: string, value: unknown, reason: string) =>
      edit(
        [
          {
            op: own[id] ? "replace" : "add",
            path: pointer("brief", "house_rules", id),
            value: { order: own[id]?.order ?? nextOrder(own), value, reason },
          },
        ],
        `house rule ${known[id]?.label ?? id}`,
      ),
    [edit, known, own],
  );
  const back = useCallback(
    (id: string) =>
      own[id]
        ? edit(
            [{ op: "remove", path: pointer("brief", "house_rules", id) }],
            `${known[id]?.label ?? id} as the practice has it`,
          )
        : Promise.resolve(null),
    [edit, known, own],
  );
  const columns = useMemo<Column<RuleRow>[]>(
    () => [
      {
        key: "label",
        head: "Rule",
        width: "minmax(220px,1.3fr)",
        text: ([id]) => known[id]?.label ?? id,
        title: ([id]) => known[id]?.why ?? "",
      },
      {
        key: "value",
        head: "Value",
        width: "110px",
        align: "right",
        figures: true,
        text: ([id, r]) => (r.value === null ? "by table" : `${trim(r.value, 3)} ${known[id]?.unit ?? ""}`.trim()),
        begin: ([, r]) => (r.value === null ? "" : trim(r.value, 3)),
        commit: ([id], v) => (v.trim() === "" ? back(id) : put(id, v, own[id]?.reason ?? "")),
      },
      {
        key: "origin",
        head: "From",
        width: "90px",
        text: ([, r]) => (r.origin === "house" ? "yours" : r.origin),
        show: ([, r]) => (
          <span className={r.origin === "house" ? "font-semibold text-blue" : "text-second"}>
            {r.origin === "house" ? "yours" : r.origin}
          </span>
        ),
      },
      {
        key: "reason",
        head: "Because",
        width: "minmax(200px,2fr)",
        text: ([id, r]) => (r.origin === "house" ? r.reason || "why? type your reason" : (known[id]?.why ?? "")),
        title: ([id]) => `${known[id]?.why} Source: ${known[id]?.source}.`,
        show: ([id, r]) =>
          r.origin === "house" ? (
            <span className={r.reason ? "" : "text-ochre"}>{r.reason || "why? type your reason"}</span>
          ) : (
            <span className="text-second">{known[id]?.why}</span>
          ),
        begin: ([id]) => own[id]?.reason ?? "",
        commit: ([id, r], v) => put(id, own[id]?.value ?? r.value ?? 0, v),
      },
    ],
    [back, known, own, put],
  );
  return (
    <>
      <Grid
        label="House rules"
        rows={rows.filter(([id]) => known[id]?.choices.length === 0)}
        columns={columns}
        rowKey={([id]) => id}
      />
      <h3 className="mb-1 mt-5 text-lead">Where builders differ</h3>
      <div className="max-w-[860px]">
        {rows
          .filter(([id]) => known[id]?.choices.length)
          .map(([id, r]) => {
            const about = known[id];
            return (
              about && (
                <Differ key={id} id={id} rule={r} about={about} reason={own[id]?.reason ?? ""} put={put} back={back} />
              )
            );
          })}
      </div>
    </>
  );
}

interface DifferProps {
  id: string;
  rule: RuleRow[1];
  about: Catalogue["rules"][string];
  reason: string;
  put: (id: string, value: unknown, reason: string) => Promise<Problem | null>;
  back: (id: string) => Promise<Problem | null>;
}

/** One thing builders differ on: the view in force, who holds it and why, and the others. */
function Differ({ id, rule, about, reason, put, back }: DifferProps) {
  const mine = rule.origin === "house";
  const choices = about.choices.map((c) => ({
    value: String(c.value),
    label: `${c.label}${c.value === rule.preset_value ? ", as the practice" : ""}`,
  }));
  return (
    <div className="pb-1.5">
      <ChoiceField
        narrow={false}
        label={about.label}
        value={String(rule.value)}
        choices={choices}
        hint={about.choices.find((c) => c.value === rule.value)?.why ?? ""}
        onCommit={(v) => (Number(v) === rule.preset_value ? back(id) : put(id, Number(v), reason))}
      />
      {mine && (
        <TypedField
          label="because"
          value={reason}
          placeholder="why? type your reason"
          onCommit={(v) => put(id, rule.value, v)}
        />
      )}
      <details className="ml-[162px] text-fine text-second">
        <summary className="cursor-pointer">what others hold</summary>
        <p>{about.why}</p>
        {about.choices
          .filter((c) => c.value !== rule.value)
          .map((c) => (
            <p key={c.value}>
              <strong>{c.label}</strong>: {c.why}
            </p>
          ))}
        <p>Source: {about.source}.</p>
      </details>
    </div>
  );
}
