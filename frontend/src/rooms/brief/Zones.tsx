import { useMemo } from "react";
import { pointer } from "../../api/client";
import { useActs, useDesign } from "../../api/design";
import type { Column } from "../../components/columns";
import { Grid } from "../../components/Grid";
import { TypedLine } from "../../components/TypedLine";
import { degrees, inOrder, unitsOf } from "../../format";

/** The zones of the machine: how warm, how cold, what is so there. */
export function Zones() {
  const { design } = useDesign();
  const { edit, act, actNow } = useActs();
  const zones = design.document.brief.zones;
  const units = unitsOf(design.document);
  const { conditions } = design.evaluation.brief;
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
        needed: true,
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
        unit: `°${units.temperature}`,
        text: ([, z]) => degrees(z.ambient_c, units),
        commit: ([id], v) => set(id, "ambient_c", v),
      },
      {
        key: "least",
        head: "Down to",
        width: "72px",
        align: "right",
        figures: true,
        text: ([, z]) => (z.least_c === null ? "–" : degrees(z.least_c, units)),
        unit: `°${units.temperature}`,
        title: () => "the coldest it gets here",
        begin: ([, z]) => (z.least_c === null ? "" : degrees(z.least_c, units)),
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
        text: ([id]) => conditions[id] || "dry",
        title: () =>
          "dry, wet, salt, jets, under water 2 m 90 min, vibration, flex, dust, rubbing, engine space, noisy, sensitive, wood, and what splashes there: fuel, oil, coolant",
        begin: ([id]) => conditions[id] || "dry",
        commit: ([id], v) => act("zone_is", v, id),
      },
    ];
  }, [act, conditions, edit, units]);
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
