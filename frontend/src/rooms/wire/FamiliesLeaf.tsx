import { OBJECTIVES } from "../../api/values";
import { useMemo, useState } from "react";
import { pointer } from "../../api/client";
import { useCatalogue, useDesign, useActs } from "../../api/design";
import { EntryGrid } from "../../components/EntryGrid";
import { Fields } from "../../components/Fields";
import { freeId, listed, spoken, type FieldSpec } from "../../components/fields";
import type { Column } from "../../components/columns";
import { Grid } from "../../components/Grid";
import { ChoiceField, TypedField } from "../../components/TypedField";
import { degrees, nextOrder, unitsOf, words } from "../../format";
import { OWN_FAMILY, OWN_SIZE } from "./specs";

/** Which wire may be used, by what it is chosen, its colours, and what was measured of it. */
export function FamiliesLeaf() {
  const { design } = useDesign();
  const units = unitsOf(design.document);
  const { edit } = useActs();
  const catalogue = useCatalogue();
  const { wire, brief } = design.document;
  const codes = useMemo(
    () => [...Object.keys(wire.own_families), ...(catalogue?.wires ?? []).map((w) => w.code)],
    [catalogue, wire.own_families],
  );
  const families = useMemo(() => codes.map((c) => ({ value: c, label: c })), [codes]);
  const sampleSpecs = useMemo<FieldSpec[]>(
    () => [
      { key: "family", label: "Wire type", kind: "choice", choices: families },
      { key: "gauge", label: "Label says", kind: "text", width: "100px" },
      { key: "od_mm", label: "Over all", kind: "figure", unit: "mm", empty: "–" },
      { key: "resistance_mohm_per_m", label: "Resistance", kind: "figure", unit: "mohm/m", empty: "–", width: "116px" },
      { key: "temperature_c", label: "Measured at", kind: "figure", unit: "C", width: "100px" },
      { key: "strands", label: "Strands", kind: "figure", empty: "–", hint: "counted at its cut end", width: "72px" },
      {
        key: "strand_mm",
        label: "of",
        kind: "figure",
        unit: "mm",
        empty: "–",
        hint: "diameter of one strand",
        width: "84px",
      },
      { key: "supplier", label: "Supplier", kind: "text" },
      { key: "lot", label: "Lot", kind: "text", width: "72px" },
      { key: "note", label: "Note", kind: "text" },
    ],
    [families],
  );
  const named = (code: string) => {
    const w = catalogue?.wires.find((x) => x.code === code);
    return w ? `${code}, ${w.name}, ${degrees(w.temperature_c, units)}` : code;
  };
  return (
    <>
      <div className="max-w-[720px]">
        <ChoiceField
          label="Wire type"
          value={wire.family ?? ""}
          choices={[
            { value: "", label: `the practice's own (${design.evaluation.brief.family})` },
            ...codes.map((c) => ({ value: c, label: named(c) })),
          ]}
          onCommit={(v) =>
            edit([{ op: "replace", path: "/wire/family", value: v || null }], `wire type ${v || "of the practice"}`)
          }
        />
        <TypedField
          figures
          label="Also allowed"
          value={Object.keys(wire.also).join(" ")}
          placeholder="none; codes with spaces between"
          hint="Used where the first cannot do: thicker cable for the battery, say."
          onCommit={(v) => edit([{ op: "replace", path: "/wire/also", value: listed(v) }], "wire types also allowed")}
        />
        <Fields
          wide
          at={["wire"]}
          entry={{ ...wire }}
          about="wire"
          specs={[
            {
              key: "objective",
              label: "Choose for",
              kind: "choice",
              choices: spoken(OBJECTIVES),
              hint: "Fewest parts: the fewest different spools, proved.",
            },
            {
              key: "scheme",
              label: "Colour scheme",
              kind: "choice",
              choices: (catalogue?.schemes ?? []).map((s) => ({ value: s, label: words(s) })),
              empty: "the practice's own",
            },
            ...(brief.practice === "aviation"
              ? [
                  {
                    key: "burn_reason",
                    label: "Not burn rated, because",
                    kind: "text" as const,
                    empty: "only burn-rated wire is used",
                  },
                ]
              : []),
          ]}
        />
      </div>
      <h2 className="mb-1 mt-7 text-head">Colours by role</h2>
      <RoleColours />
      <h2 className="mb-1 mt-7 text-head">Wire you measured</h2>
      <p className="mb-1 max-w-[80ch] text-second">
        Caliper over the insulation, ohms over a length. Wire thinner than its label is reckoned as what it is.
      </p>
      <EntryGrid
        label="Measured wire"
        at={["wire", "samples"]}
        entries={wire.samples}
        specs={sampleSpecs}
        onNew={{
          prompt: "new: a wire type and a gauge, like J1128-TXL 18 AWG",
          commit: (typed) => {
            const [family = "", ...gauge] = typed.trim().split(/\s+/);
            return edit(
              [
                {
                  op: "add",
                  path: pointer("wire", "samples", freeId(typed, wire.samples)),
                  value: { order: nextOrder(wire.samples), family, gauge: gauge.join(" ") },
                },
              ],
              `measured ${typed}`,
            );
          },
        }}
      />
      <h2 className="mb-1 mt-7 text-head">Wire types of your own</h2>
      <OwnFamilies />
    </>
  );
}

const ROLES = ["supply", "output", "ground", "signal", "sensor_return", "data", "drain", "ignition"] as const;

function RoleColours() {
  const { design } = useDesign();
  const { edit } = useActs();
  const catalogue = useCatalogue();
  const own = design.document.wire.role_colours;
  const used = useMemo(() => {
    const found: Record<string, Set<string>> = {};
    for (const w of Object.values(design.evaluation.wire.wires)) {
      const role = design.evaluation.circuits.circuits[w.circuit]?.role;
      if (role) (found[role] ??= new Set()).add(w.colour);
    }
    return found;
  }, [design]);
  const columns = useMemo<Column<string>[]>(
    () => [
      { key: "role", head: "Role", width: "130px", text: (r) => words(r) },
      {
        key: "colours",
        head: "Yours, first choice first",
        width: "minmax(180px,1fr)",
        figures: true,
        text: (r) => own[r]?.colours ?? "",
        show: (r) => own[r]?.colours ?? <span className="text-second">the scheme's</span>,
        title: () =>
          `Codes: ${Object.entries(catalogue?.colour_names ?? {})
            .map(([c, n]) => `${c} ${n}`)
            .join(", ")}; RD/WH is red with a white tracer`,
        commit: (r, typed) => {
          const path = pointer("wire", "role_colours", r);
          if (!typed.trim())
            return own[r]
              ? edit([{ op: "remove", path }], `${words(r)} in the scheme's colours`)
              : Promise.resolve(null);
          return edit(
            [
              {
                op: own[r] ? "replace" : "add",
                path,
                value: { order: own[r]?.order ?? nextOrder(own), colours: typed.trim().toUpperCase() },
              },
            ],
            `${words(r)} in ${typed}`,
          );
        },
      },
      {
        key: "used",
        head: "Used now",
        width: "minmax(160px,1fr)",
        figures: true,
        text: (r) => [...(used[r] ?? [])].join(" ") || "–",
      },
    ],
    [catalogue, edit, own, used],
  );
  return (
    <div className="max-w-[720px]">
      <Grid label="Colours by role" rows={[...ROLES]} columns={columns} rowKey={(r) => r} />
      <CircuitColours />
    </div>
  );
}

const COLOURS: FieldSpec[] = [
  { key: "colours", label: "Colours, first choice first", kind: "text", width: "minmax(180px,1fr)" },
];

/** Colours by words of a circuit's name; the shop's own can be taken as they are kept in the drawers. */
function CircuitColours() {
  const { design } = useDesign();
  const { edit, act } = useActs();
  const named = design.document.wire.circuit_colours;
  const [problem, setProblem] = useState("");
  return (
    <>
      <h3 className="mb-1 mt-5 text-lead">By the name of a circuit</h3>
      <EntryGrid
        label="Colours by circuit"
        at={["wire", "circuit_colours"]}
        entries={named}
        idHead="Name"
        specs={COLOURS}
        onNew={{
          prompt: "new: words of a name, and colours, like fuel pump: OG/BK",
          commit: (typed) => {
            const [words = "", colours = ""] = typed.split(":");
            const key = words.trim().toLowerCase();
            return edit(
              [
                {
                  op: "add",
                  path: pointer("wire", "circuit_colours", key),
                  value: { order: nextOrder(named), colours: colours.trim().toUpperCase() },
                },
              ],
              `${key} in ${colours.trim()}`,
            );
          },
        }}
      />
      <p className="mt-1 text-plain text-second">
        <button
          className="quiet"
          onClick={() => void act("house_colours", "").then((p) => setProblem(p ? p.detail : ""))}
        >
          take the shop's colours
        </button>{" "}
        as the drawers keep them
        {problem && (
          <span role="alert" className="block text-madder">
            {problem}
          </span>
        )}
      </p>
    </>
  );
}

function OwnFamilies() {
  const { design } = useDesign();
  const { edit } = useActs();
  const own = design.document.wire.own_families;
  const [chosen, setChosen] = useState<string | null>(null);
  const open = chosen && own[chosen] ? chosen : null;
  return (
    <>
      <EntryGrid
        label="Own wire types"
        at={["wire", "own_families"]}
        entries={own}
        idHead="Code"
        specs={OWN_FAMILY}
        chosen={open}
        onChoose={setChosen}
        onNew={{
          prompt: "new: its code, like SHOP-PTFE",
          commit: (typed) =>
            edit(
              [
                {
                  op: "add",
                  path: pointer("wire", "own_families", freeId(typed, own).toUpperCase()),
                  value: {
                    order: nextOrder(own),
                    name: typed.trim(),
                    insulation: "not known",
                    temperature_c: 80,
                    source: "not stated",
                  },
                },
              ],
              `own wire type ${typed}`,
            ),
        }}
      />
      {open && (
        <>
          <h3 className="mb-1 mt-4 text-lead">Sizes of {open}</h3>
          <EntryGrid
            label={`Sizes of ${open}`}
            at={["wire", "own_families", open, "sizes"]}
            entries={own[open]?.sizes ?? {}}
            specs={OWN_SIZE}
            onNew={{
              prompt: "new size: gauge, mm², over all, over the strands, mΩ/m, like 18 AWG, 0.96, 1.9, 1.2, 20.9",
              commit: (typed) => {
                const [gauge = "", area = "", over = "", bare = "", ohms = ""] = typed.split(/[,;]\s*/);
                const sizes = own[open]?.sizes ?? {};
                return edit(
                  [
                    {
                      op: "add",
                      path: pointer("wire", "own_families", open, "sizes", freeId(gauge, sizes)),
                      value: {
                        order: nextOrder(sizes),
                        gauge: gauge.trim(),
                        area_mm2: area,
                        od_mm: over,
                        conductor_mm: bare,
                        resistance_mohm_per_m: ohms,
                      },
                    },
                  ],
                  `${open} ${gauge}`,
                );
              },
            }}
          />
        </>
      )}
    </>
  );
}
