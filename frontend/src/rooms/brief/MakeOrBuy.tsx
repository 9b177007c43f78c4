import { useMemo } from "react";
import { pointer } from "../../api/client";
import { useActs, useDesign } from "../../api/design";
import type { Column } from "../../components/columns";
import { EntryGrid, type EntryRow } from "../../components/EntryGrid";
import type { FieldSpec } from "../../components/fields";
import { Sentence } from "../../components/Sentence";
import { length, lengthUnit, unitsOf } from "../../format";

const READY_MADE: FieldSpec[] = [
  { key: "name", label: "Lead", kind: "text", width: "minmax(100px,1fr)" },
  { key: "length_mm", label: "Length", kind: "figure", unit: "mm", width: "96px" },
  { key: "price", label: "Price", kind: "figure", width: "76px" },
  { key: "chosen", label: "Bought", kind: "flag", hint: "instead of making one", width: "76px" },
  { key: "reason", label: "Because", kind: "text", width: "minmax(80px,1fr)" },
];

/** A lead that can be bought made, against the length that is wanted. */
export function MakeOrBuy() {
  const { design } = useDesign();
  const { act, doIt } = useActs();
  const units = unitsOf(design.document);
  const { make_or_buy: found } = design.evaluation.brief;
  const entries = design.document.brief.ready_made;
  const derived = useMemo<Column<EntryRow>[]>(() => {
    const of = ([id]: EntryRow) => found.offers.find((o) => o.id === id);
    return [
      {
        key: "margin",
        head: "To spare",
        unit: lengthUnit(units),
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
        width: "minmax(150px,1.6fr)",
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
