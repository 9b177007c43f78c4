import { useMemo } from "react";
import type { Evaluation } from "../../api/client";
import { useActs, useDesign, useWhy } from "../../api/design";
import { useDress } from "../../api/dress";
import { CUT_ORDERS } from "../../api/values";
import { bareText, type Column } from "../../components/columns";
import { Grid } from "../../components/Grid";
import { Swatch } from "../../components/Swatch";
import { fine, length, lengthUnit, otherLength, trim, turned, type Units, unitsOf } from "../../format";
import { Cables } from "./Cables";
import { Tick } from "./Tick";
import { useTicks } from "./useTicks";

type Cut = Evaluation["cut"]["cuts"][number];
type End = Cut["a"];

const FIRST: Record<(typeof CUT_ORDERS)[number], string> = {
  longest: "the longest",
  "wire part": "all of one wire",
  connector: "all of one connector",
  furthest: "what ends farthest away",
};

function strip(key: string, of: (cut: Cut) => End, units: Units): Column<Cut> {
  return {
    key,
    head: "Strip",
    width: "74px",
    align: "right",
    figures: true,
    unit: lengthUnit(units),
    text: (c) => (of(c).left_long ? "left long" : fine(of(c).strip_mm, units)),
    title: (c) => (of(c).left_long ? of(c).left_long : otherLength(of(c).strip_mm, units)),
    show: (c) =>
      of(c).left_long ? (
        <span className="text-ochre">left long</span>
      ) : (
        <>
          {bareText(fine(of(c).strip_mm, units), "mm")}
          {of(c).bare_mm < of(c).strip_mm && <span className="text-second"> folded</span>}
        </>
      ),
  };
}

/** What is left over a length that is not final, set apart from it. */
function Length({ cut, units }: { cut: Cut; units: Units }) {
  const long = cut.a.surplus_mm + cut.b.surplus_mm;
  const text = (mm: number) => bareText(length(mm, units), "mm");
  if (long <= 0) return <>{text(cut.cut_mm)}</>;
  return (
    <>
      {text(cut.cut_mm - long)} <span className="text-ochre">+ {text(long)}</span>
    </>
  );
}

/** Every piece in the order it is cut, with its strips; ticked with a thumb or the space bar. */
export function CutList() {
  const { design, before } = useDesign();
  const was = useMemo(() => {
    const earlier = new Map((before?.evaluation.cut.cuts ?? []).map((c) => [c.wire, c as Cut]));
    return (c: Cut) => earlier.get(c.wire);
  }, [before]);
  const { edit } = useActs();
  const { why, askWhy } = useWhy();
  const { ticks, toggle } = useTicks();
  const units = unitsOf(design.document);
  const { cuts, cables } = design.evaluation.cut;
  const shields = useMemo(() => new Set(cables.map((c) => c.shield)), [cables]);
  const sheet = useDress().data?.sheet;
  const labels = useMemo(
    () => new Map(sheet?.labels.map((own) => [own.of, own.text] as const).reverse() ?? []),
    [sheet],
  );
  const columns = useMemo<Column<Cut>[]>(
    () => [
      {
        key: "tick",
        head: "",
        width: "46px",
        text: (c) => (c.cable ? "" : `${ticks.get(c.wire)?.done ?? 0}`),
        show: (c) =>
          c.cable ? null : <Tick label={c.label} tick={ticks.get(c.wire)} onToggle={() => toggle(c.wire, c.label)} />,
      },
      {
        key: "wire",
        head: "Wire",
        width: "50px",
        figures: true,
        text: (c) => c.label,
        show: (c) => <strong>{c.label}</strong>,
      },
      {
        key: "colour",
        head: "Colour",
        width: "104px",
        text: (c) => c.colour,
        show: (c) => <Swatch colour={c.colour} />,
      },
      {
        key: "part",
        head: "Wire to use",
        width: labels.size > 0 ? "194px" : "150px",
        figures: true,
        text: (c) => (c.cable ? `core of ${c.cable}` : turned(c.part)),
        title: (c) => c.part,
        stamp: (c) => labels.get(c.wire) ?? "",
        show: (c) =>
          c.cable ? (
            <span className="text-second">
              {shields.has(c.wire) ? "shield of" : "core of"} {c.cable}
            </span>
          ) : (
            <>
              {turned(c.part)}
              {labels.has(c.wire) && (
                <span className="block truncate text-fine text-second" title={`its label: ${labels.get(c.wire)}`}>
                  ‹{labels.get(c.wire)}›
                </span>
              )}
            </>
          ),
      },
      {
        key: "cut",
        head: "Cut",
        width: "136px",
        align: "right",
        figures: true,
        unit: lengthUnit(units),
        text: (c) => length(c.cut_mm, units),
        title: (c) => `${otherLength(c.cut_mm, units)}; finished ± ${length(c.unsure_mm, units)}`,
        stamp: (c) => `${c.a.surplus_mm} ${c.b.surplus_mm}`,
        show: (c) =>
          c.cable ? (
            <span className="text-second">{bareText(length(c.cut_mm, units), "mm")}</span>
          ) : (
            <strong className="text-figure">
              <Length cut={c} units={units} />
            </strong>
          ),
      },
      strip("strip-from", (c) => c.a, units),
      {
        key: "from",
        head: "at",
        width: "minmax(70px,1fr)",
        small: true,
        text: (c) => c.from_text,
        title: (c) => c.from_text,
      },
      strip("strip-to", (c) => c.b, units),
      {
        key: "to",
        head: "at",
        width: "minmax(70px,1fr)",
        small: true,
        text: (c) => c.to_text,
        title: (c) => c.to_text,
        show: (c) =>
          c.lead_ohm ? (
            <>
              {c.to_text}{" "}
              <span className="text-second">
                measures {trim(c.lead_ohm[0], 0)} to {trim(c.lead_ohm[1], 0)} Ω
              </span>
            </>
          ) : (
            c.to_text
          ),
      },
    ],
    [labels, shields, ticks, toggle, units],
  );
  return (
    <>
      <Cables ticks={ticks} onToggle={toggle} />
      {cuts.length > 0 && (
        <label className="mb-2 flex items-center gap-2 text-plain text-second">
          cut first
          <select
            className="inkbox py-0.5 text-ink"
            value={design.document.cut.first}
            onChange={(e) =>
              void edit([{ op: "replace", path: "/cut/first", value: e.target.value }], "what is cut first")
            }
          >
            {CUT_ORDERS.map((first) => (
              <option key={first} value={first}>
                {FIRST[first]}
              </option>
            ))}
          </select>
        </label>
      )}
      <Grid
        label="Cut list"
        rows={cuts as Cut[]}
        columns={columns}
        rowHeight={labels.size > 0 ? 48 : 34}
        rowKey={(c) => c.wire}
        was={was}
        selected={why?.id ?? null}
        onSelect={(c) => why && askWhy("cut", c.wire)}
        onWhy={(c) => askWhy("cut", c.wire)}
        onSpace={(c) => !c.cable && toggle(c.wire, c.label)}
        empty="Nothing to cut yet."
      />
      {cuts.length > 0 && (
        <p className="mt-3 text-plain text-second">
          <kbd>w</kbd> why this length &nbsp; <kbd>space</kbd> it is cut &nbsp;
          <a className="quiet" href={`/api/designs/${design.id}/tables/cut`}>
            cut list as CSV
          </a>
        </p>
      )}
    </>
  );
}
