import { useMemo } from "react";
import { Link } from "react-router";
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
      {design.evaluation.parts.tools.length > 0 && <ToolList />}
    </Room>
  );
}

/** The tools that the ends ask for: owned, or to buy or borrow. */
function ToolList() {
  const { tools, tooling_total } = useDesign().design.evaluation.parts;
  return (
    <section className="mt-6">
      <h2 className="text-[20px]">Tools for it</h2>
      <p className="mb-1 text-[14px] text-second">
        {tooling_total > 0 ? (
          <>
            What is not owned comes to <strong className="font-figures">{tooling_total.toFixed(0)}</strong>, beside the parts.
          </>
        ) : (
          "All of them are owned."
        )}{" "}
        <Link className="quiet" to="/drawers/tools">
          say which tools are yours
        </Link>
      </p>
      <table className="w-full max-w-[980px] text-[14.5px]" aria-label="Tools">
        <thead className="text-left text-[13px] text-second">
          <tr className="border-b border-ink">
            <th className="w-[90px] py-1">Tool</th>
            <th>In words</th>
            <th className="w-[26%]">Set to</th>
            <th className="w-[20%]">For</th>
            <th className="w-[70px] text-right">Price</th>
            <th className="w-[130px] pl-4">Owned</th>
          </tr>
        </thead>
        <tbody>
          {tools.map((t) => (
            <tr key={t.code} className="border-b border-faint align-top">
              <td className="py-1.5 font-figures font-bold">{t.code}</td>
              <td className="py-1.5">{t.description}</td>
              <td className="py-1.5 font-figures text-[13px]">{t.settings.join("; ")}</td>
              <td className="py-1.5 font-figures text-[13px]">{t.used_for}</td>
              <td className="py-1.5 text-right font-figures">{t.price.toFixed(0)}</td>
              <td className={`py-1.5 pl-4 ${t.status === "worn" ? "text-madder" : ""}`}>{t.owned ? t.status : <span className="text-second">{t.status}</span>}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}
