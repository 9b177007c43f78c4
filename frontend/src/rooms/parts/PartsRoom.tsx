import { useCallback, useMemo, useState } from "react";
import { Link } from "react-router";
import { pointer, type Evaluation } from "../../api/client";
import { useActs, useCoverage, useDesign, useWhy } from "../../api/design";
import { Figure } from "../../components/Figure";
import type { Column } from "../../components/columns";
import { Grid } from "../../components/Grid";
import { Room } from "../../components/Room";
import { Swatch } from "../../components/Swatch";
import { nextOrder, turned } from "../../format";

type Line = Evaluation["parts"]["lines"][number];

function amount(count: number, unit: string): string {
  return unit === "m" ? `${count.toFixed(2)} m` : String(count);
}

/** What is bought: what is used with its spares, unless the builder says otherwise. */
function ordered(line: Line): number {
  return line.bought ?? line.quantity + (line.spares ?? 0);
}

function partKey(line: { code: string; colour: string }): string {
  return `${line.code} ${line.colour}`.trim();
}

type Sort = "kind" | "cost" | "mass" | "part";

function sorted(lines: Line[], sort: Sort): Line[] {
  if (sort === "kind") return lines;
  return [...lines].sort((x, y) =>
    sort === "cost" ? y.cost - x.cost : sort === "mass" ? y.mass_g - x.mass_g : x.code.localeCompare(y.code),
  );
}

function speaks(line: Line, search: string): boolean {
  const words = search.toLowerCase().split(/\s+/).filter(Boolean);
  const text = `${line.group} ${line.code} ${line.description} ${line.colour} ${line.used_at}`.toLowerCase();
  return words.every((word) => text.includes(word));
}

function billKey(line: { group: string; code: string; colour: string }): string {
  return `${line.group} ${line.code} ${line.colour}`;
}

/** The bill: everything to buy, and what comes along with it. */
export function PartsRoom() {
  const { design } = useDesign();
  const { why, askWhy } = useWhy();
  const { edit } = useActs();
  const [closed, setClosed] = useState<ReadonlySet<string>>(new Set());
  const [search, setSearch] = useState("");
  const [sort, setSort] = useState<Sort>("kind");
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
  const columns = useMemo<Column<Line>[]>(
    () => [
      { key: "group", head: "What", width: "70px", text: (l) => l.group },
      {
        key: "code",
        head: "Part",
        width: "minmax(170px,1fr)",
        figures: true,
        text: (l) => l.code,
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
      ...(counted
        ? [
            {
              key: "buy",
              head: "To buy",
              width: "80px",
              align: "right" as const,
              figures: true,
              text: (l: Line) => amount(toBuy.get(billKey(l))?.to_buy ?? 0, l.unit),
              title: (l: Line) => `${amount(toBuy.get(billKey(l))?.at_hand ?? 0, l.unit)} at hand`,
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
        key: "spares",
        head: "Spares",
        width: "62px",
        align: "right",
        figures: true,
        text: (l) => (l.spares ? `+ ${l.spares}` : ""),
        title: () => "spare, and to practise on, by the house rules",
      },
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
      { key: "mass", head: "Grams", width: "66px", align: "right", figures: true, text: (l) => l.mass_g.toFixed(1) },
      {
        key: "cost",
        head: "Cost",
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
    [choices, counted, order, toBuy],
  );
  const shown = useMemo(
    () =>
      sorted(design.evaluation.parts.lines as Line[], sort).filter((l) => !closed.has(l.group) && speaks(l, search)),
    [closed, design.evaluation.parts.lines, search, sort],
  );
  return (
    <Room room="parts" title="Parts">
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
        search={search}
        onSearch={setSearch}
        sort={sort}
        onSort={setSort}
      />
      <Grid
        label="Bill of materials"
        rows={shown}
        columns={columns}
        rowKey={billKey}
        selected={why?.kind === "bill" ? why.id : null}
        onSelect={(l) => why?.kind === "bill" && askWhy("bill", billKey(l))}
        onWhy={(l) => askWhy("bill", billKey(l))}
        empty="Nothing to buy yet."
      />
      {design.evaluation.parts.lines.length > 0 && (
        <p className="mt-3 text-plain text-second">
          <kbd>w</kbd> why so much &nbsp;
          <button className="quiet" onClick={() => askWhy("mass", "harness")}>
            why {design.evaluation.parts.mass_each_g.toFixed(0)} g
          </button>
          &nbsp; Prices are invented
          {design.document.brief.currency ? `, in ${design.document.brief.currency}` : ", without a currency"}. &nbsp;
          <a className="quiet" href={`/api/designs/${design.id}/tables/bom`}>
            bill as CSV
          </a>{" "}
          &nbsp;{" "}
          <a className="quiet" href={`/api/designs/${design.id}/workbook`}>
            all tables as a workbook
          </a>
        </p>
      )}
      {coverage && design.evaluation.parts.lines.length > 0 && <AtHand coverage={coverage} />}
      {design.evaluation.parts.tools.length > 0 && <ToolList />}
    </Room>
  );
}

interface GroupsProps {
  lines: Line[];
  closed: ReadonlySet<string>;
  onToggle: (group: string) => void;
  search: string;
  onSearch: (text: string) => void;
  sort: Sort;
  onSort: (sort: Sort) => void;
}

/** Kinds of parts with what each comes to: pressed, a kind is closed or opened. Beside them search and order. */
function Groups({ lines, closed, onToggle, search, onSearch, sort, onSort }: GroupsProps) {
  const sums = new Map<string, number>();
  for (const l of lines) sums.set(l.group, (sums.get(l.group) ?? 0) + l.cost);
  if (lines.length === 0) return null;
  return (
    <div className="mb-3">
      <div className="mb-2 flex flex-wrap items-center gap-3">
        <label className="flex items-center gap-2 text-plain text-second">
          find
          <input
            className="inkbox w-[220px] py-0.5 text-ink"
            value={search}
            placeholder="contact, SR16, M1 ..."
            onChange={(e) => onSearch(e.target.value)}
          />
        </label>
        <label className="flex items-center gap-2 text-plain text-second">
          by
          <select
            className="inkbox py-0.5 text-ink"
            aria-label="order of lines"
            value={sort}
            onChange={(e) => onSort(e.target.value as Sort)}
          >
            <option value="kind">kind</option>
            <option value="cost">cost</option>
            <option value="mass">mass</option>
            <option value="part">part</option>
          </select>
        </label>
      </div>
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

/** What the drawers give: whether kits fill their housings, and what to refill when it is made. */
function AtHand({ coverage }: { coverage: NonNullable<ReturnType<typeof useCoverage>["data"]>["coverage"] }) {
  const { kits, refill } = coverage;
  const covered = coverage.lines.filter((l) => l.to_buy === 0).length;
  return (
    <section className="mt-6">
      <h2 className="text-head">From the drawers</h2>
      <p className="mb-1 text-plain text-second">
        {covered === 0
          ? "Nothing of this is noted as at hand."
          : `${covered} of ${coverage.lines.length} lines are at hand.`}{" "}
        <Link className="quiet" to="/drawers/stock">
          say what is at hand
        </Link>
      </p>
      {kits.length > 0 && (
        <table className="w-full max-w-[980px] text-plain" aria-label="Kits">
          <thead className="text-left text-fine text-second">
            <tr className="border-b border-ink">
              <th className="py-1">Kit</th>
              <th>Contacts</th>
              <th className="text-right">Ways</th>
              <th className="text-right">Contacts</th>
              <th className="text-right">Short</th>
              <th className="pl-6">By the wire they take</th>
            </tr>
          </thead>
          <tbody>
            {kits.map((k) => (
              <tr key={`${k.families} ${k.gender}`} className="border-b border-faint align-top">
                <td className="py-1.5 font-figures font-bold">{k.families}</td>
                <td className="py-1.5">{k.gender === "none" ? "genderless" : `${k.gender}s`}</td>
                <td className="py-1.5 text-right font-figures">{k.ways}</td>
                <td className="py-1.5 text-right font-figures">{k.contacts}</td>
                <td className={`py-1.5 text-right font-figures ${k.short > 0 ? "text-madder" : "text-second"}`}>
                  {k.short > 0 ? k.short : "–"}
                </td>
                <td className="py-1.5 pl-6 text-fine">
                  {k.ranges.map((r) => (
                    <span key={r.code} className={`block ${r.needed > r.at_hand ? "text-madder" : ""}`}>
                      <strong className="font-figures">{r.code}</strong> {r.takes}: {r.at_hand} at hand
                      {r.needed > 0 && `, this job takes ${r.needed}`}
                    </span>
                  ))}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {refill.length > 0 && (
        <p className="mt-2 max-w-[92ch]">
          To refill the drawer after it:{" "}
          {refill.map((r, n) => (
            <span key={`${r.code} ${r.colour}`}>
              {n > 0 && ", "}
              <strong className="font-figures">
                {[amount(r.refill, r.unit), r.code, r.colour].filter(Boolean).join(" ")}
              </strong>
            </span>
          ))}
          .
        </p>
      )}
    </section>
  );
}

/** The tools that the ends ask for: owned, or to buy or borrow. */
function ToolList() {
  const { tools, tooling_total } = useDesign().design.evaluation.parts;
  return (
    <section className="mt-6">
      <h2 className="text-head">Tools for it</h2>
      <p className="mb-1 text-plain text-second">
        {tooling_total > 0 ? (
          <>
            What is not owned comes to <strong className="font-figures">{tooling_total.toFixed(0)}</strong>, beside the
            parts.
          </>
        ) : (
          "All of them are owned."
        )}{" "}
        <Link className="quiet" to="/drawers/tools">
          say which tools are yours
        </Link>
      </p>
      <table className="w-full max-w-[980px] text-plain" aria-label="Tools">
        <thead className="text-left text-fine text-second">
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
              <td className="py-1.5 font-figures text-fine">{t.settings.join("; ")}</td>
              <td className="py-1.5 font-figures text-fine">{t.used_for}</td>
              <td className="py-1.5 text-right font-figures">{t.price.toFixed(0)}</td>
              <td className={`py-1.5 pl-4 ${t.status === "worn" ? "text-madder" : ""}`}>
                {t.owned ? t.status : <span className="text-second">{t.status}</span>}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}
