import { useMemo, useState, type ReactNode } from "react";
import { useParams } from "react-router";
import { pointer, type HarnessDocument } from "../../api/client";
import { useCatalogue, useDesign, useActs, useWhy } from "../../api/design";
import { listed } from "../../components/fields";
import type { Column } from "../../components/columns";
import { Grid } from "../../components/Grid";
import { Leaves } from "../../components/Leaves";
import { Room } from "../../components/Room";
import { TypedLine } from "../../components/TypedLine";
import { amperes, inOrder } from "../../format";
import { CircuitCard } from "./CircuitCard";
import { DeviceCard } from "./DeviceCard";
import { moments } from "./specs";
import { LibraryLeaf } from "./LibraryLeaf";
import { PasteLeaf } from "./PasteLeaf";
import { PatternsLeaf } from "./PatternsLeaf";
import { SchematicLeaf } from "./SchematicLeaf";
import { SupplyLeaf } from "./SupplyLeaf";
import { TogetherLeaf } from "./TogetherLeaf";
import { LEAVES } from "../../components/leaves";

type Device = [string, HarnessDocument["circuits"]["devices"][string]];
type Circuit = [string, HarnessDocument["circuits"]["circuits"][string]];

/** Devices and loads, the circuits that join them, and what each carries. */
export function CircuitsRoom() {
  const { leaf = "" } = useParams();
  const leaves = <Leaves room="circuits" leaves={LEAVES.circuits} />;
  const other =
    leaf === "supply" ? (
      <SupplyLeaf />
    ) : leaf === "together" ? (
      <TogetherLeaf />
    ) : leaf === "schematic" ? (
      <SchematicLeaf />
    ) : leaf === "patterns" ? (
      <PatternsLeaf />
    ) : leaf === "paste" ? (
      <PasteLeaf />
    ) : leaf === "library" ? (
      <LibraryLeaf />
    ) : null;
  if (other) {
    return (
      <Room room="circuits" title="Circuits">
        {leaves}
        {other}
      </Room>
    );
  }
  return <DevicesLeaf leaves={leaves} />;
}

function DevicesLeaf({ leaves }: { leaves: ReactNode }) {
  const { design } = useDesign();
  const { act } = useActs();
  const [chosen, setChosen] = useState<{ device?: string; circuit?: string }>({});
  const { devices, circuits } = design.document.circuits;
  const device = chosen.device && devices[chosen.device] ? chosen.device : null;
  const circuit = chosen.circuit && circuits[chosen.circuit] ? chosen.circuit : null;
  const card = device ? (
    <DeviceCard key={device} device={device} />
  ) : circuit ? (
    <CircuitCard key={circuit} circuit={circuit} />
  ) : undefined;
  return (
    <Room room="circuits" title="Circuits" beside={card}>
      {leaves}
      <TypedLine
        label="add"
        act="feed"
        example="B1 battery > F1 fuse > M1 lift pump 5 A > B1"
        onCommit={(text) => act("feed", text)}
      />
      {Object.keys(devices).length === 0 && <HowTo />}
      <Devices chosen={device} onChoose={(id) => setChosen({ device: id })} />
      <h2 className="mb-1 mt-7 text-head">What is joined</h2>
      <CircuitGrid chosen={circuit} onChoose={(id) => setChosen({ circuit: id })} />
    </Room>
  );
}

function HowTo() {
  return (
    <div className="mb-4 max-w-[72ch] border-l-[3px] border-madder pl-4">
      <p>
        Type a feed as the current runs: out of the source, through its fuse, through the load, back to the source. What
        is new is put in; what is there is joined. A fuse block gives every feed a fuse of its own; F1.out1 names the
        one to share.
      </p>
      <p className="mt-2 font-figures text-plain">
        B1 battery &gt; F1 fuse block &gt; M1 lift pump 5 A &gt; B1
        <br />
        F1 &gt; E1 rain lamps 2x21 W &gt; B1
        <br />
        F1 &gt; M2 fan 11 A, peak 30 A for 2 s &gt; B1
        <br />
        A1 controller &nbsp;then&nbsp; A1.I1 &gt; T1 oil sensor &gt; A1.N1
      </p>
    </div>
  );
}

/** A small peak: it draws more for a moment. */
function Peak() {
  return (
    <svg
      width="13"
      height="10"
      viewBox="0 0 13 10"
      className="mr-1.5 inline-block text-second"
      role="img"
      aria-label="more for a moment"
    >
      <path d="M0.5 9h3l2.5-8 2.5 8h4" fill="none" stroke="currentColor" strokeWidth="1.3" />
    </svg>
  );
}

function Devices({ chosen, onChoose }: { chosen: string | null; onChoose: (id: string) => void }) {
  const { design } = useDesign();
  const { edit, act, actNow } = useActs();
  const { askWhy, closeWhy } = useWhy();
  const catalogue = useCatalogue();
  const document = design.document;
  const fuses = design.evaluation.circuits.fuses;
  const rows = inOrder(document.circuits.devices);
  const columns = useMemo<Column<Device>[]>(() => {
    const loads = new Map<string, [string, HarnessDocument["circuits"]["loads"][string]]>();
    for (const entry of Object.entries(document.circuits.loads))
      if (!loads.has(entry[1].device)) loads.set(entry[1].device, entry);
    const loadOf = (id: string) => loads.get(id);
    const drawn = ([id]: Device) => {
      const load = loadOf(id);
      return load ? amperes(load[1].current_a).replace("–", "0 A") : "";
    };
    const peaks = (id: string) => Boolean(loadOf(id)?.[1].peak_a ?? loadOf(id)?.[1].inrush_a);
    const fusesOf = new Map<string, (typeof fuses)[string][]>();
    for (const f of Object.values(fuses)) fusesOf.set(f.device, [...(fusesOf.get(f.device) ?? []), f]);
    const kinds = Object.fromEntries((catalogue?.kinds ?? []).map((k) => [k.id, k.label]));
    const set = (id: string, field: string, value: unknown) =>
      edit([{ op: "replace", path: pointer("circuits", "devices", id, field), value }], `${id} ${field}`);
    return [
      {
        key: "id",
        head: "Device",
        width: "72px",
        figures: true,
        text: ([id]) => id,
        title: () => "its id; renamed everywhere",
        needed: true,
        commit: ([id], v) => act("rename", v, `devices/${id}`),
        show: ([id]) => <strong>{id}</strong>,
      },
      {
        key: "name",
        head: "Name",
        width: "minmax(130px,1.5fr)",
        text: ([, d]) => d.name,
        commit: ([id], v) => set(id, "name", v),
      },
      { key: "kind", head: "Kind", width: "minmax(124px,1.1fr)", text: ([, d]) => kinds[d.kind] ?? d.kind },
      {
        key: "draws",
        head: "Load current",
        width: "90px",
        beside: 20,
        align: "right",
        figures: true,
        text: drawn,
        show: ([id, d]) => (
          <>
            {peaks(id) && <Peak />}
            {drawn([id, d])}
          </>
        ),
        title: ([id]) => {
          const load = loadOf(id)?.[1];
          return load ? moments(load) : "";
        },
        commit: ([id, d], v) => {
          const load = loadOf(id);
          if (load)
            return edit(
              [{ op: "replace", path: pointer("circuits", "loads", load[0], "current_a"), value: v }],
              `${d.name || id} draws ${v}`,
            );
          const pins = inOrder(d.pins);
          const supply = pins.find(([, p]) => p.role === "supply_in")?.[0];
          const back = pins.find(([, p]) => p.role === "ground")?.[0];
          return edit(
            [
              {
                op: "add",
                path: pointer("circuits", "loads", id),
                value: {
                  order: 1000,
                  device: id,
                  supply_pin: supply ?? "",
                  return_pin: back ?? "",
                  current_a: v,
                  service: "continuous",
                },
              },
            ],
            `${d.name || id} draws ${v}`,
          );
        },
      },
      {
        key: "service",
        head: "Service",
        width: "98px",
        text: ([id]) => loadOf(id)?.[1].service ?? "",
        choices: () => ["continuous", "intermittent"].map((s) => ({ value: s, label: s })),
        commit: ([id], v) => {
          const load = loadOf(id);
          return load
            ? edit([{ op: "replace", path: pointer("circuits", "loads", load[0], "service"), value: v }], `${id} ${v}`)
            : Promise.resolve(null);
        },
      },
      {
        key: "fuse",
        head: "Fuse",
        width: "104px",
        figures: true,
        text: ([id]) => {
          const held = fusesOf.get(id) ?? [];
          if (held.length > 2) return `${held.length} fuses`;
          return held.map((f) => `${f.rating_a}${f.fixed ? "*" : ""} A`).join(", ");
        },
        title: ([id]) =>
          (fusesOf.get(id) ?? []).map((f) => `${f.rating_a} A${f.fixed ? ", fixed by you" : ""}`).join(", "),
      },
      {
        key: "pins",
        head: "Pins",
        width: "56px",
        align: "right",
        figures: true,
        text: ([, d]) => String(Object.keys(d.pins).length),
      },
    ];
  }, [act, catalogue, document, edit, fuses]);
  return (
    <Grid
      label="Devices"
      steady
      rows={rows}
      columns={columns}
      rowKey={([id]) => id}
      selected={chosen}
      onSelect={([id]) => {
        closeWhy();
        onChoose(id);
      }}
      onDelete={([id]) => void actNow("take_out_device", id)}
      onDuplicate={([id]) => void actNow("copy_device", id)}
      onWhy={([id]) => {
        const fuse = Object.entries(fuses).find(([, f]) => f.device === id);
        const load = Object.entries(document.circuits.loads).find(([, l]) => l.device === id);
        if (fuse) askWhy("fuse", fuse[0]);
        else if (load) askWhy("drop", load[0]);
      }}
      onNew={{ prompt: "new device: lamp 2 A", commit: (typed) => act("feed", typed) }}
    />
  );
}

function CircuitGrid({ chosen, onChoose }: { chosen: string | null; onChoose: (id: string) => void }) {
  const { design } = useDesign();
  const { edit, act, doIt } = useActs();
  const { closeWhy } = useWhy();
  const circuits = design.document.circuits.circuits;
  const seen = design.evaluation.circuits;
  const rows = inOrder(circuits);
  const columns = useMemo<Column<Circuit>[]>(
    () => [
      {
        key: "id",
        head: "Circuit",
        width: "72px",
        figures: true,
        text: ([id]) => id,
        title: () => "its id; renamed everywhere",
        needed: true,
        commit: ([id], v) => act("rename", v, `circuits/${id}`),
        show: ([id]) => <strong>{id}</strong>,
      },
      {
        key: "name",
        head: "Name",
        width: "minmax(130px,1fr)",
        text: ([, c]) => c.name,
        commit: ([id], v) =>
          edit([{ op: "replace", path: pointer("circuits", "circuits", id, "name"), value: v }], `${id} name`),
      },
      {
        key: "ends",
        head: "Joins",
        width: "minmax(180px,2fr)",
        figures: true,
        text: ([, c]) => ends(c).join(" "),
        title: ([, c]) => ends(c).join(" "),
        commit: ([id, c], v) => {
          const value = listed(v.replaceAll(">", " "));
          const path = pointer("circuits", "circuits", id);
          if (Object.keys(value).length === 0) return edit([{ op: "remove", path }], `take out ${id}`);
          return edit([{ op: "replace", path: `${path}/ends`, value }], `${c.name || id} joins ${v}`);
        },
      },
      { key: "role", head: "Is", width: "98px", text: ([id]) => (seen.circuits[id]?.role ?? "").replaceAll("_", " ") },
      {
        key: "carries",
        head: "Current",
        width: "78px",
        align: "right",
        figures: true,
        text: ([id]) => amperes(seen.circuits[id]?.carries_a ?? 0),
      },
      {
        key: "fuse",
        head: "Behind",
        width: "82px",
        figures: true,
        text: ([id]) => {
          const fuse = seen.fuses[seen.circuits[id]?.fuse ?? ""];
          return fuse ? `${fuse.device} ${fuse.rating_a} A` : "";
        },
      },
    ],
    [act, edit, seen],
  );
  return (
    <Grid
      label="Circuits"
      steady
      rows={rows}
      columns={columns}
      rowKey={([id]) => id}
      selected={chosen}
      onSelect={([id]) => {
        closeWhy();
        onChoose(id);
      }}
      onDelete={([id, c]) =>
        void doIt([{ op: "remove", path: pointer("circuits", "circuits", id) }], `take out ${c.name || id}`)
      }
      empty="No circuit yet. Join pins with a line above, like F1.out > E1.+"
    />
  );
}

function ends(circuit: Circuit[1]): string[] {
  return inOrder(circuit.ends).map(([ref]) => ref);
}
