import { useMemo } from "react";
import type { Evaluation } from "../../api/client";
import { useDesign } from "../../api/design";
import { Grid, type Column } from "../../components/Grid";
import { Room } from "../../components/Room";
import { Swatch } from "../../components/Swatch";
import { length, otherLength, trim } from "../../format";

type Cut = Evaluation["cut"]["cuts"][number];

/** Gauge first: it is what is looked for on the spool. */
function turned(part: string): string {
  const [family = "", ...gauge] = part.split(" ");
  return `${gauge.join(" ")} ${family}`;
}

function strip(key: string, of: (cut: Cut) => number): Column<Cut> {
  return {
    key,
    head: "Strip",
    width: "72px",
    align: "right",
    figures: true,
    text: (c) => `${trim(of(c), 1)} mm`,
    title: (c) => otherLength(of(c), "metric"),
  };
}

/** Every piece to cut, longest first, with its strips. */
export function CutRoom() {
  const { design, why, askWhy } = useDesign();
  const units = design.document.brief.units;
  const columns = useMemo<Column<Cut>[]>(
    () => [
      { key: "wire", head: "Wire", width: "50px", figures: true, text: (c) => c.label, show: (c) => <strong>{c.label}</strong> },
      { key: "colour", head: "Colour", width: "108px", text: (c) => c.colour, show: (c) => <Swatch colour={c.colour} /> },
      { key: "part", head: "Wire to use", width: "150px", figures: true, text: (c) => turned(c.part), title: (c) => c.part },
      {
        key: "cut",
        head: "Cut",
        width: "84px",
        align: "right",
        figures: true,
        text: (c) => length(c.cut_mm, units),
        title: (c) => otherLength(c.cut_mm, units),
        show: (c) => <strong className="text-figure">{length(c.cut_mm, units)}</strong>,
      },
      strip("strip-from", (c) => c.strip_a_mm),
      { key: "from", head: "at", width: "minmax(70px,1fr)", small: true, text: (c) => c.from_text, title: (c) => c.from_text },
      strip("strip-to", (c) => c.strip_b_mm),
      { key: "to", head: "at", width: "minmax(70px,1fr)", small: true, text: (c) => c.to_text, title: (c) => c.to_text },
    ],
    [units],
  );
  return (
    <Room room="cut" title="Cut">
      <Grid
        label="Cut list"
        rows={design.evaluation.cut.cuts as Cut[]}
        columns={columns}
        rowKey={(c) => c.wire}
        selected={why?.id ?? null}
        onSelect={(c) => why && askWhy("cut", c.wire)}
        onWhy={(c) => askWhy("cut", c.wire)}
        empty="Nothing to cut yet."
      />
      {design.evaluation.cut.cuts.length > 0 && (
        <p className="mt-3 text-[14px] text-second">
          <kbd>w</kbd> why this length &nbsp;
          <a className="quiet" href={`/api/designs/${design.id}/tables/cut`}>
            cut list as CSV
          </a>
        </p>
      )}
    </Room>
  );
}
