import { useMemo } from "react";
import type { Evaluation } from "../../api/client";
import { useDesign } from "../../api/design";
import { Grid, type Column } from "../../components/Grid";
import { Room } from "../../components/Room";
import { Swatch } from "../../components/Swatch";
import { length, otherLength, trim } from "../../format";

type Cut = Evaluation["cut"]["cuts"][number];

/** Every piece to cut, longest first, with its strips. */
export function CutRoom() {
  const { design, why, askWhy } = useDesign();
  const units = design.document.brief.units;
  const columns = useMemo<Column<Cut>[]>(
    () => [
      { key: "wire", head: "Wire", width: "58px", figures: true, text: (c) => c.label, show: (c) => <strong>{c.label}</strong> },
      { key: "colour", head: "Colour", width: "104px", text: (c) => c.colour, show: (c) => <Swatch colour={c.colour} /> },
      { key: "part", head: "Wire to use", width: "minmax(130px,1fr)", figures: true, text: (c) => c.part },
      {
        key: "cut",
        head: "Cut",
        width: "104px",
        align: "right",
        figures: true,
        text: (c) => length(c.cut_mm, units),
        title: (c) => otherLength(c.cut_mm, units),
        show: (c) => <strong className="text-figure">{length(c.cut_mm, units)}</strong>,
      },
      { key: "strip", head: "Strip, from end", width: "minmax(150px,1.2fr)", text: (c) => `${trim(c.strip_a_mm, 1)} mm at ${c.from_text}`, title: (c) => otherLength(c.strip_a_mm, "metric") },
      { key: "stripb", head: "Strip, to end", width: "minmax(150px,1.2fr)", text: (c) => `${trim(c.strip_b_mm, 1)} mm at ${c.to_text}`, title: (c) => otherLength(c.strip_b_mm, "metric") },
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
