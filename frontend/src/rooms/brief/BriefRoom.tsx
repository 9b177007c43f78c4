import { useParams } from "react-router";
import { pointer, type HarnessDocument } from "../../api/client";
import { useCatalogue, useDesign, useActs } from "../../api/design";
import { useGlossary } from "../../api/words";
import { Leaves } from "../../components/Leaves";
import { Room } from "../../components/Room";
import { Sheet } from "../../components/Sheet";
import { ChoiceField, TypedField } from "../../components/TypedField";
import { switchTheme } from "../../theme";
import { HouseRules } from "./HouseRules";
import { MakeOrBuy } from "./MakeOrBuy";
import { ShownIn } from "./ShownIn";
import { TextLeaf } from "./TextLeaf";
import { Zones } from "./Zones";
import { LEAVES } from "../../components/leaves";
import { degrees, mass, unitsOf } from "../../format";

const JOBS: Record<HarnessDocument["brief"]["job"], string> = {
  new: "new harness",
  replacement: "replacement of an old one",
  extension: "extension of one that stays",
  adapter: "adapter between two",
  "trial lead": "trial lead, to prove a place",
};

/** What is made, to which practice, from what supply, in what zones, under which rules. */
export function BriefRoom() {
  const { leaf = "" } = useParams();
  if (leaf === "text") {
    return (
      <Room room="brief" title="Brief">
        <Leaves room="brief" leaves={LEAVES.brief} />
        <TextLeaf />
      </Room>
    );
  }
  return <WhatIsMade />;
}

function WhatIsMade() {
  return (
    <Room room="brief" title="Brief" beside={<BeforeYouCut />}>
      <Leaves room="brief" leaves={LEAVES.brief} />
      <Facts />
      <h2 className="mb-1 mt-7 text-head">Zones</h2>
      <Zones />
      <h2 className="mb-1 mt-7 text-head">Units, money, paper</h2>
      <ShownIn />
      <h2 className="mb-1 mt-7 text-head">Make or buy</h2>
      <MakeOrBuy />
      <h2 className="mb-1 mt-7 text-head">House rules</h2>
      <p className="mb-2 text-second">Type over a value to make it your own; empty it to go back to the practice's.</p>
      <HouseRules />
    </Room>
  );
}

function BeforeYouCut() {
  const { design } = useDesign();
  return (
    <Sheet label="Cautions">
      <h2 className="text-head">Before you cut</h2>
      <ul className="mt-2 space-y-2">
        {design.evaluation.brief.cautions.map((c) => (
          <li key={c}>{c}</li>
        ))}
      </ul>
      <p className="mt-4 grid justify-items-start gap-1.5 border-t border-rule pt-3 text-plain">
        <a className="quiet" href={`/api/designs/${design.id}/file`}>
          Export design file
        </a>
        <button className="quiet" onClick={switchTheme}>
          Theme: light or dark
        </button>
      </p>
      <p className="mt-3 text-plain text-second">
        <kbd>Ctrl</kbd> <kbd>Z</kbd> takes an edit back{design.undo_label ? `: ${design.undo_label}` : ""}.{" "}
        <kbd>Alt</kbd> <kbd>↓</kbd> goes on along the thread.
      </p>
    </Sheet>
  );
}

/** What is made, for whom it must do, and from what supply. */
function Facts() {
  const { design } = useDesign();
  const units = unitsOf(design.document);
  const { edit } = useActs();
  const catalogue = useCatalogue();
  const brief = design.document.brief;
  const set = (field: string, value: unknown, label: string) =>
    edit([{ op: "replace", path: pointer("brief", field), value }], label);
  const family = design.document.wire.family;
  const engine =
    brief.engine !== "not said" || design.evaluation.findings.some((f) => f.code === "engine-bond-not-said");
  const preset = design.evaluation.brief.family;
  const says = useGlossary()?.practices[brief.practice];
  return (
    <div className="max-w-[640px]">
      <TypedField label="Name" value={brief.name} onCommit={(v) => set("name", v, "name")} />
      <TypedField label="Machine" value={brief.machine} onCommit={(v) => set("machine", v, "machine")} />
      <ChoiceField
        label="Job"
        value={brief.job}
        choices={Object.entries(JOBS).map(([value, label]) => ({ value, label }))}
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
        hint={says ?? "Sets drop limits, least gauge, slack and the wire type, each shown below."}
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
        hint="What a meter shows when it runs. Drop is calculated from this."
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
        value={brief.mass_budget_g === null ? "" : mass(brief.mass_budget_g, units, 1)}
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
        label="Wire type"
        value={family ?? ""}
        choices={[
          { value: "", label: `the practice's own${family ? "" : ` (${preset})`}` },
          ...(catalogue?.wires ?? []).map((w) => ({
            value: w.code,
            label: `${w.code}, ${w.name}, ${degrees(w.temperature_c, units)}`,
          })),
        ]}
        onCommit={(v) =>
          edit([{ op: "replace", path: "/wire/family", value: v || null }], `wire type ${v || "of the practice"}`)
        }
      />
    </div>
  );
}
