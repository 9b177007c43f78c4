import { useMemo, useState } from "react";
import { useNavigate, useParams } from "react-router";
import { pointer, type Evaluation } from "../../api/client";
import { useDesign } from "../../api/design";
import { Face, type FaceWire } from "../../components/Face";
import { Grid, type Column } from "../../components/Grid";
import { Room } from "../../components/Room";
import { Swatch } from "../../components/Swatch";
import { CavityCard } from "./CavityCard";
import { ConnectorFields } from "./ConnectorFields";

type Connector = Evaluation["ends"]["connectors"][string];
type Cavity = Connector["cavities"][number];

/** What every wire ends in: connectors, both faces, and the pinout. */
export function EndsRoom() {
  const { design } = useDesign();
  const { connector: asked } = useParams();
  const connectors = design.evaluation.ends.connectors;
  const ids = Object.keys(connectors);
  const id = asked && connectors[asked] ? asked : ids[0];
  const connector = id ? connectors[id] : undefined;
  const [cavity, setCavity] = useState<string | null>(null);
  if (!connector || !id) {
    return (
      <Room room="ends" title="Ends">
        <p className="max-w-[70ch] text-second">Each device you put in under Circuits brings a connector of the usual kind for it. You change it here.</p>
      </Room>
    );
  }
  const chosen = connector.cavities.find((c) => c.cavity === cavity) ?? connector.cavities[0];
  return (
    <Room room="ends" title="Ends" sentence={connector.sentence} beside={chosen ? <CavityCard connector={connector} cavity={chosen} /> : undefined}>
      <div className="grid gap-4 grid-cols-[112px_minmax(0,1fr)] min-[1000px]:grid-cols-[112px_296px_minmax(0,1fr)]">
        <ConnectorList ids={ids} chosen={id} onChoose={() => setCavity(null)} />
        <Faces connector={connector} chosen={chosen?.cavity ?? null} onChoose={setCavity} />
        <div className="min-w-0">
          <Cavities key={id} connector={connector} chosen={chosen?.cavity ?? null} onChoose={setCavity} />
          <p className="mb-4 mt-2 text-[14px] text-second">{connector.mates_with}</p>
          <ConnectorFields id={id} />
        </div>
      </div>
    </Room>
  );
}

function ConnectorList({ ids, chosen, onChoose }: { ids: string[]; chosen: string; onChoose: () => void }) {
  const { design } = useDesign();
  const navigate = useNavigate();
  const connectors = design.evaluation.ends.connectors;
  return (
    <ul aria-label="Connectors">
      {ids.map((id) => {
        const c = connectors[id];
        const device = design.document.circuits.devices[id]?.name;
        const wrong = c?.cavities.some((x) => !x.fits);
        return (
          <li key={id}>
            <button
              aria-pressed={id === chosen}
              onClick={() => {
                onChoose();
                void navigate(`/d/${design.id}/ends/${id}`);
              }}
              className={`w-full border-b border-faint px-2.5 py-2 text-left leading-tight ${id === chosen ? "bg-ink text-on-ink" : "hover:bg-wash"}`}
            >
              <span className="block truncate">
                <strong className="font-figures">{id}</strong> {c?.name || device || ""}
              </span>
              <span className={`text-[13px] ${id === chosen ? "" : "text-second"}`}>
                {c?.ways} way {c?.family}
                {wrong ? ", does not fit" : ""}
              </span>
            </button>
          </li>
        );
      })}
    </ul>
  );
}

function Faces({ connector, chosen, onChoose }: { connector: Connector; chosen: string | null; onChoose: (c: string) => void }) {
  const { design } = useDesign();
  const wires: Record<string, FaceWire> = {};
  for (const c of connector.cavities) {
    const wire = c.wire ? design.evaluation.wire.wires[c.wire] : undefined;
    if (wire) wires[c.cavity] = { cavity: c.cavity, colour: wire.colour, label: wire.label };
  }
  const plugged = new Set(connector.cavities.filter((c) => c.plug).map((c) => c.cavity));
  const loose = connector.shell === "none";
  const face = design.evaluation.ends.faces[connector.face];
  if (!face) return null;
  return (
    <div>
      {!loose && <p className="text-center text-[13px] text-second">{face.latch}</p>}
      {[face.wire_side, face.mating_side].map(
        (f) =>
          (!loose || f.side === "wire") && (
            <Face
              key={f.side}
              side={f.side}
              caption={loose ? "one terminal for each, in order" : f.caption}
              width={face.width_mm}
              height={face.height_mm}
              diameter={face.cavity_diameter_mm}
              latch={face.latch}
              cavities={f.cavities}
              wires={wires}
              plugged={plugged}
              gender={connector.contact_gender}
              loose={loose}
              chosen={chosen}
              onChoose={onChoose}
            />
          ),
      )}
    </div>
  );
}

function Cavities({ connector, chosen, onChoose }: { connector: Connector; chosen: string | null; onChoose: (c: string) => void }) {
  const { design, edit, doIt, askWhy, closeWhy } = useDesign();
  const { document, evaluation } = design;
  const columns = useMemo<Column<Cavity>[]>(() => {
    const free = Object.entries(document.circuits.devices).flatMap(([id, d]) =>
      Object.entries(d.pins)
        .filter(([pin]) => !(`${id}.${pin}` in document.ends.pinout))
        .map(([pin, p]) => ({ value: `${id}.${pin}`, label: `${id}.${pin} ${p.name}` })),
    );
    return [
      { key: "cavity", head: "Way", width: "38px", figures: true, text: (c) => c.cavity, show: (c) => <strong className="text-[17px]">{c.cavity}</strong> },
      {
        key: "pin",
        head: "Device pin",
        width: "minmax(70px,1fr)",
        text: (c) => c.pin ?? "",
        show: (c) => (c.pin ? (c.pin.startsWith(`${connector.id}.`) ? c.pin_name : `${c.pin.split(".")[0] ?? ""} ${c.pin_name}`) : <span className="text-second">{c.plug ? "spare, plugged" : "spare"}</span>),
        title: (c) => c.pin ?? "",
        choices: (c) => [...(c.pin ? [{ value: "free", label: "leave it free" }] : []), ...free],
        begin: () => "",
        commit: (c, v) => {
          const remove = c.pin ? [{ op: "remove" as const, path: pointer("ends", "pinout", c.pin) }] : [];
          if (v === "free" || v === "") return edit(remove, `free ${connector.id}-${c.cavity}`);
          const order = Math.max(0, ...Object.values(document.ends.pinout).map((e) => e.order)) + 1;
          const moved = v in document.ends.pinout;
          return edit(
            [...remove, { op: moved ? "replace" : "add", path: pointer("ends", "pinout", v), value: { order, connector: connector.id, cavity: c.cavity } }],
            `${v} to ${connector.id}-${c.cavity}`,
          );
        },
      },
      {
        key: "wire",
        head: "Wire",
        width: "150px",
        text: (c) => (c.wire ? (evaluation.wire.wires[c.wire]?.label ?? "") : ""),
        show: (c) => {
          const wire = c.wire ? evaluation.wire.wires[c.wire] : undefined;
          return wire ? (
            <>
              <Swatch colour={wire.colour} width={28} /> <strong className="font-figures text-[13px]" title={wire.label}>{wire.label}</strong>
            </>
          ) : (
            ""
          );
        },
      },
    ];
  }, [connector.id, document, edit, evaluation]);
  return (
    <Grid
      label={`Ways of ${connector.id}`}
      rows={connector.cavities as Cavity[]}
      columns={columns}
      rowKey={(c) => `${c.cavity}${c.pin ? `:${c.pin}` : ""}`}
      selected={connector.cavities.filter((c) => c.cavity === chosen).map((c) => `${c.cavity}${c.pin ? `:${c.pin}` : ""}`)[0] ?? null}
      onSelect={(c) => {
        closeWhy();
        onChoose(c.cavity);
      }}
      onWhy={(c) => c.wire && c.pin && askWhy("contact", c.pin)}
      onDelete={(c) => {
        if (c.pin) void doIt([{ op: "remove", path: pointer("ends", "pinout", c.pin) }], `free ${connector.id}-${c.cavity}`);
      }}
      rowHeight={36}
    />
  );
}
