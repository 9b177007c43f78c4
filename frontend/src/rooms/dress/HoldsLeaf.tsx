import { useMemo } from "react";
import type { DressSheet } from "../../api/dress";
import { useDesign } from "../../api/design";
import type { Column } from "../../components/columns";
import { Grid } from "../../components/Grid";
import { fine, length, lengthUnit, mass, unitsOf } from "../../format";

type Hold = DressSheet["holds"][number];

const HEAVY = "what one clamp carries";

/** What the harness is held by: clamps, ties, grommets, by the bundle and its cover. */
export function HoldsLeaf({ sheet }: { sheet: DressSheet }) {
  const { design } = useDesign();
  const units = unitsOf(design.document);
  const columns = useMemo<Column<Hold>[]>(
    () => [
      {
        key: "place",
        head: "On",
        width: "90px",
        figures: true,
        text: (h) => h.place,
        show: (h) => <strong>{h.place}</strong>,
      },
      { key: "kind", head: "Held by", width: "110px", text: (h) => `${h.count} ${h.kind}${h.count === 1 ? "" : "s"}` },
      {
        key: "over",
        head: "Goes round",
        width: "110px",
        align: "right",
        figures: true,
        unit: lengthUnit(units),
        text: (h) => fine(h.over_mm, units),
      },
      {
        key: "code",
        head: "Part",
        width: "110px",
        figures: true,
        text: (h) => h.code,
        show: (h) => <span className={h.fits ? "" : "text-madder"}>{h.code}</span>,
      },
      {
        key: "every",
        head: "One every",
        width: "110px",
        align: "right",
        figures: true,
        unit: lengthUnit(units),
        text: (h) => (h.every_mm ? length(h.every_mm, units) : "–"),
      },
      {
        key: "mass",
        head: "Mass",
        width: "80px",
        align: "right",
        figures: true,
        unit: units.mass,
        text: (h) => mass(h.mass_g * h.count, units, 1),
      },
      {
        key: "because",
        head: "Because",
        width: "minmax(120px,1fr)",
        small: true,
        text: (h) => (h.kind === "clamp" ? (h.by_mass ? HEAVY : "distance") : ""),
      },
    ],
    [units],
  );
  return (
    <Grid
      label="Clamps and ties"
      rows={sheet.holds as Hold[]}
      columns={columns}
      rowKey={(h) => `${h.place} ${h.kind}`}
      empty="Nothing needs to be held."
    />
  );
}
