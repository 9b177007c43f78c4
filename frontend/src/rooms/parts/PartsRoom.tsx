import { useMemo } from "react";
import type { Evaluation } from "../../api/client";
import { useDesign } from "../../api/design";
import { Figure } from "../../components/Figure";
import { Grid, type Column } from "../../components/Grid";
import { Room } from "../../components/Room";
import { Swatch } from "../../components/Swatch";

type Line = Evaluation["parts"]["lines"][number];

function billKey(line: Line): string {
  return `${line.group} ${line.code} ${line.colour}`;
}

/** The bill: everything to buy, and what comes along with it. */
export function PartsRoom() {
  const { design, why, askWhy } = useDesign();
  const columns = useMemo<Column<Line>[]>(
    () => [
      { key: "group", head: "What", width: "70px", text: (l) => l.group },
      { key: "code", head: "Part", width: "minmax(104px,0.9fr)", figures: true, text: (l) => l.code, show: (l) => <strong>{l.code}</strong> },
      {
        key: "description",
        head: "In words",
        width: "minmax(140px,2.2fr)",
        text: (l) => l.description,
        title: (l) => l.description,
        show: (l) => (
          <>
            {l.colour && <Swatch colour={l.colour} width={34} />} {l.description}
          </>
        ),
      },
      {
        key: "quantity",
        head: "Need",
        width: "80px",
        align: "right",
        figures: true,
        text: (l) => (l.unit === "m" ? `${l.quantity.toFixed(2)} m` : String(l.quantity)),
        show: (l) => <Figure>{l.unit === "m" ? `${l.quantity.toFixed(2)} m` : String(l.quantity)}</Figure>,
      },
      { key: "mass", head: "Grams", width: "66px", align: "right", figures: true, text: (l) => l.mass_g.toFixed(1) },
      {
        key: "cost",
        head: "Cost",
        width: "88px",
        align: "right",
        figures: true,
        text: (l) => (l.included ? "comes with it" : l.cost.toFixed(2)),
        show: (l) => (l.included ? <span className="text-second" title="comes with the housing; nothing to buy">included</span> : <>{l.cost.toFixed(2)}</>),
      },
      { key: "used", head: "Used at", width: "minmax(64px,1fr)", text: (l) => l.used_at, title: (l) => l.used_at },
    ],
    [],
  );
  return (
    <Room room="parts" title="Parts">
      <Grid
        label="Bill of materials"
        rows={design.evaluation.parts.lines as Line[]}
        columns={columns}
        rowKey={billKey}
        selected={why?.kind === "bill" ? why.id : null}
        onSelect={(l) => why?.kind === "bill" && askWhy("bill", billKey(l))}
        onWhy={(l) => askWhy("bill", billKey(l))}
        empty="Nothing to buy yet."
      />
      {design.evaluation.parts.lines.length > 0 && (
        <p className="mt-3 text-[14px] text-second">
          <kbd>w</kbd> why so much &nbsp;
          <button className="quiet" onClick={() => askWhy("mass", "harness")}>
            why {design.evaluation.parts.mass_each_g.toFixed(0)} g
          </button>
          &nbsp; Prices are invented, without a currency. &nbsp;
          <a className="quiet" href={`/api/designs/${design.id}/tables/bom`}>
            bill as CSV
          </a>
        </p>
      )}
    </Room>
  );
}
