import { useCallback, useMemo, useState } from "react";
import { pointer } from "../../api/client";
import { useBuying, useCoverage } from "../../api/buying";
import { useActs, useDesign, useWhy } from "../../api/design";
import { Figure } from "../../components/Figure";
import type { Column } from "../../components/columns";
import { Grid } from "../../components/Grid";
import { useSay } from "../../components/Notice";
import { Swatch } from "../../components/Swatch";
import { mass, nextOrder, turned, unitsOf } from "../../format";
import { atHand, amount, billKey, ordered, partKey, soldApart, type Line } from "./lines";

function money(value: number): string {
  return value.toFixed(value !== 0 && value < 0.1 ? 3 : 2);
}

/** Everything that is needed, and what comes along with it: how much of each, what it weighs and costs. */
export function BillLeaf() {
  const { design, before } = useDesign();
  const units = unitsOf(design.document);
  const { currency } = design.document.brief;
  const was = useMemo(() => {
    const earlier = new Map((before?.evaluation.parts.lines ?? []).map((l) => [billKey(l as Line), l as Line]));
    return (l: Line) => earlier.get(billKey(l));
  }, [before]);
  const { why, askWhy } = useWhy();
  const { edit } = useActs();
  const [closed, setClosed] = useState<ReadonlySet<string>>(new Set());
  const choices = design.document.parts.lines;
  const order = useCallback(
    (line: Line, typed: string) => {
      const at = pointer("parts", "lines", partKey(line));
      const known = choices[partKey(line)];
      const out = typed === "0";
      const value = {
        order: known?.order ?? nextOrder(choices),
        quantity: typed === "" || out ? null : typed,
        left_out: out,
        reason: known?.reason ?? "",
      };
      return edit([{ op: known ? "replace" : "add", path: at, value }], `${line.code} to order`);
    },
    [choices, edit],
  );
  const coverage = useCoverage().data?.coverage;
  const toBuy = useMemo(() => new Map(coverage?.lines.map((l) => [billKey(l), l])), [coverage]);
  const counted = coverage?.lines.some((l) => l.at_hand > 0) ?? false;
  const each = useCallback((line: Line) => toBuy.get(billKey(line))?.price_each ?? 0, [toBuy]);
  const say = useSay();
  const { price: correct } = useBuying();
  const price = useCallback(
    async (line: Line, typed: string) => {
      const before = each(line);
      const problem = await correct(line.code, typed);
      if (!problem)
        say(`${line.code} costs ${typed || "what the catalogue says"} in every harness now.`, {
          label: "Undo",
          run: () => void correct(line.code, String(before)),
        });
      return problem;
    },
    [correct, each, say],
  );
  const columns = useMemo<Column<Line>[]>(
    () => [
      { key: "group", head: "What", width: "70px", text: (l) => l.group },
      {
        key: "code",
        head: "Part",
        width: "120px",
        figures: true,
        text: (l) => (l.group === "wire" ? turned(l.code) : l.code),
        show: (l) => <strong>{l.group === "wire" ? turned(l.code) : l.code}</strong>,
      },
      {
        key: "description",
        head: "In words",
        width: "minmax(140px,1.8fr)",
        text: (l) => l.description,
        title: (l) => l.description,
        show: (l) => (
          <>
            {l.colour && <Swatch colour={l.colour} width={34} />} {l.description}
            {soldApart(l) && <span className="text-second"> sold apart</span>}
          </>
        ),
      },
      {
        key: "quantity",
        head: "Need",
        width: "98px",
        align: "right",
        figures: true,
        text: (l) => `${amount(l.quantity, l.unit)}${l.spares ? ` + ${l.spares}` : ""}`,
        title: (l) => (l.spares ? `${l.spares} spare, or to practise on, by the house rules` : ""),
        show: (l) => (
          <>
            <Figure>{amount(l.quantity, l.unit)}</Figure>
            {l.spares ? <span className="text-second"> + {l.spares}</span> : null}
          </>
        ),
      },
      ...(counted
        ? [
            {
              key: "buy",
              head: "To buy",
              width: "80px",
              align: "right" as const,
              figures: true,
              text: (l: Line) => amount(toBuy.get(billKey(l))?.to_buy ?? 0, l.unit),
              title: (l: Line) => `${atHand(toBuy.get(billKey(l))?.at_hand ?? 0, l.unit)} at hand`,
              show: (l: Line) =>
                toBuy.get(billKey(l))?.to_buy ? (
                  <Figure>{amount(toBuy.get(billKey(l))?.to_buy ?? 0, l.unit)}</Figure>
                ) : (
                  <span className="text-second">at hand</span>
                ),
            },
          ]
        : []),
      {
        key: "order",
        head: "Order",
        width: "84px",
        align: "right",
        figures: true,
        text: (l) => (l.included ? "–" : amount(ordered(l), l.unit)),
        title: (l) =>
          choices[partKey(l)]?.left_out
            ? "left out: empty it to order it"
            : "type how many, 0 leaves it out, empty follows",
        show: (l) =>
          l.included ? (
            <span className="text-second">–</span>
          ) : (
            <span className={l.bought === null || l.bought === undefined ? "" : "text-ochre"}>
              {choices[partKey(l)]?.left_out ? "left out" : amount(ordered(l), l.unit)}
            </span>
          ),
        begin: (l) => String(ordered(l)),
        commit: (l, typed) => order(l, typed.replace(/\s*(m|pcs)$/, "").trim()),
      },
      {
        key: "each",
        head: "Each",
        width: "66px",
        align: "right",
        figures: true,
        text: (l) => (l.included ? "" : money(each(l))),
        title: (l) => `what one ${l.unit === "m" ? "metre" : "piece"} costs here; empty goes back to the catalogue`,
        begin: (l) => money(each(l)),
        commit: (l, typed) => price(l, typed),
      },
      {
        key: "mass",
        head: "Mass",
        width: "66px",
        align: "right",
        unit: units.mass,
        figures: true,
        text: (l) => mass(l.mass_g, units, 1),
      },
      {
        key: "cost",
        head: "Cost",
        ...(currency ? { unit: currency } : {}),
        width: "88px",
        align: "right",
        figures: true,
        text: (l) => (l.included ? "comes with it" : l.cost.toFixed(2)),
        show: (l) =>
          l.included ? (
            <span className="text-second" title="comes with the housing; nothing to buy">
              included
            </span>
          ) : (
            <>{l.cost.toFixed(2)}</>
          ),
      },
      { key: "used", head: "Used at", width: "minmax(64px,1fr)", text: (l) => l.used_at, title: (l) => l.used_at },
    ],
    [choices, counted, currency, each, order, price, toBuy, units],
  );
  const shown = useMemo(
    () => (design.evaluation.parts.lines as Line[]).filter((l) => !closed.has(l.group)),
    [closed, design.evaluation.parts.lines],
  );
  return (
    <>
      <Groups
        lines={design.evaluation.parts.lines as Line[]}
        closed={closed}
        onToggle={(group) =>
          setClosed((was) => {
            const now = new Set(was);
            if (!now.delete(group)) now.add(group);
            return now;
          })
        }
      />
      <Grid
        label="Bill of materials"
        rows={shown}
        columns={columns}
        rowKey={billKey}
        was={was}
        selected={why?.kind === "bill" ? why.id : null}
        onSelect={(l) => why?.kind === "bill" && askWhy("bill", billKey(l))}
        onWhy={(l) => askWhy("bill", billKey(l))}
        empty="Nothing to buy yet."
      />
      {design.evaluation.parts.lines.length > 0 && (
        <p className="mt-3 text-plain text-second">
          <kbd>w</kbd> why so much &nbsp;
          <button className="quiet" onClick={() => askWhy("mass", "harness")}>
            why {mass(design.evaluation.parts.mass_each_g, units)}
          </button>
          &nbsp; Prices are invented
          {currency ? `, in ${currency}` : ", without a currency"}. &nbsp;
          <a className="quiet" href={`/api/designs/${design.id}/tables/bom`}>
            bill as CSV
          </a>{" "}
          &nbsp;{" "}
          <a className="quiet" href={`/api/designs/${design.id}/workbook`}>
            all tables as a workbook
          </a>
        </p>
      )}
    </>
  );
}

interface GroupsProps {
  lines: Line[];
  closed: ReadonlySet<string>;
  onToggle: (group: string) => void;
}

/** Kinds of parts with what each comes to: pressed, a kind is closed or opened. */
function Groups({ lines, closed, onToggle }: GroupsProps) {
  const sums = new Map<string, number>();
  for (const l of lines) sums.set(l.group, (sums.get(l.group) ?? 0) + l.cost);
  if (lines.length === 0) return null;
  return (
    <div className="mb-3">
      <div className="flex flex-wrap gap-x-4 gap-y-1" role="group" aria-label="Kinds of parts">
        {[...sums].map(([group, sum]) => (
          <button
            key={group}
            className={`min-h-6 text-plain ${closed.has(group) ? "text-second line-through" : ""}`}
            aria-pressed={!closed.has(group)}
            onClick={() => onToggle(group)}
          >
            {group} <strong className="font-figures">{sum.toFixed(2)}</strong>
          </button>
        ))}
      </div>
    </div>
  );
}
