import { pointer } from "../../api/client";
import { useCatalogue, useDesign } from "../../api/design";
import { ChoiceField } from "../../components/TypedField";

/** What the builder states about one connector on the harness. */
export function ConnectorFields({ id }: { id: string }) {
  const { design, edit } = useDesign();
  const catalogue = useCatalogue();
  const connector = design.document.ends.connectors[id];
  if (!connector || !catalogue) return null;
  const family = catalogue.connectors.find((f) => f.code === connector.family);
  const used = Object.values(design.document.ends.pinout).filter((e) => e.connector === id).length;
  const set = (values: Record<string, unknown>, label: string) =>
    edit(
      Object.entries(values).map(([field, value]) => ({ op: "replace" as const, path: pointer("ends", "connectors", id, field), value })),
      `${id} ${label}`,
    );
  const points = Object.entries(design.document.route.points);
  return (
    <div className="text-[14px]">
      <ChoiceField
        narrow
        label="Family"
        value={connector.family}
        choices={catalogue.connectors.map((f) => ({ value: f.code, label: `${f.code}, ${f.name}` }))}
        onCommit={(code) => {
          const chosen = catalogue.connectors.find((f) => f.code === code);
          const ways = chosen?.ways.find((w) => w >= Math.max(used, 1)) ?? chosen?.ways.at(-1) ?? connector.ways;
          return set(
            {
              family: code,
              ways,
              shell: chosen?.loose ? "none" : connector.shell === "none" ? "plug" : connector.shell,
              stud: chosen?.studs.includes("M6") ? "M6" : (chosen?.studs[0] ?? null),
            },
            `is ${code}`,
          );
        }}
      />
      <ChoiceField
        narrow
        label="Ways"
        value={String(connector.ways)}
        choices={(family?.ways ?? [connector.ways]).map((w) => ({ value: String(w), label: String(w) }))}
        onCommit={(w) => set({ ways: Number(w) }, `has ${w} ways`)}
      />
      {family && !family.loose && (
        <>
          <ChoiceField
        narrow
            label="Shell"
            value={connector.shell}
            choices={[
              { value: "plug", label: "plug" },
              { value: "receptacle", label: "receptacle" },
            ]}
            onCommit={(v) => set({ shell: v }, `shell ${v}`)}
          />
          <ChoiceField
        narrow
            label="Contacts"
            value={connector.contact_gender}
            choices={[
              { value: "socket", label: "sockets" },
              { value: "pin", label: "pins" },
            ]}
            onCommit={(v) => set({ contact_gender: v }, `carries ${v}s`)}
          />
        </>
      )}
      {family && family.studs.length > 0 && (
        <ChoiceField
        narrow
          label="Stud"
          value={connector.stud ?? family.studs[0] ?? ""}
          choices={family.studs.map((s) => ({ value: s, label: s }))}
          onCommit={(v) => set({ stud: v }, `stud ${v}`)}
        />
      )}
      <ChoiceField
        narrow
        label="At point"
        value={connector.point ?? ""}
        choices={[{ value: "", label: "not placed" }, ...points.map(([p, x]) => ({ value: p, label: x.name && x.name !== p ? `${p} ${x.name}` : p }))]}
        onCommit={(v) => set({ point: v || null }, v ? `at ${v}` : "taken off the route")}
      />
    </div>
  );
}
