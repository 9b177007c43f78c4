import { useMemo } from "react";
import type { Evaluation } from "../../api/client";
import { useDesign, useWhy } from "../../api/design";
import type { Column } from "../../components/columns";
import { Grid } from "../../components/Grid";
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
  const { design } = useDesign();
  const { why, askWhy } = useWhy();
  const units = design.document.brief.units;
  const cables = design.evaluation.cut.cables;
  const shields = useMemo(() => new Set(cables.map((c) => c.shield)), [cables]);
  const columns = useMemo<Column<Cut>[]>(
    () => [
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
        width: "108px",
        text: (c) => c.colour,
        show: (c) => <Swatch colour={c.colour} />,
      },
      {
        key: "part",
        head: "Wire to use",
        width: "150px",
        figures: true,
        text: (c) => (c.cable ? `core of ${c.cable}` : turned(c.part)),
        title: (c) => c.part,
        show: (c) =>
          c.cable ? (
            <span className="text-second">
              {shields.has(c.wire) ? "shield of" : "core of"} {c.cable}
            </span>
          ) : (
            turned(c.part)
          ),
      },
      {
        key: "cut",
        head: "Cut",
        width: "84px",
        align: "right",
        figures: true,
        text: (c) => length(c.cut_mm, units),
        title: (c) => otherLength(c.cut_mm, units),
        show: (c) =>
          c.cable ? (
            <span className="text-second">{length(c.cut_mm, units)}</span>
          ) : (
            <strong className="text-figure">{length(c.cut_mm, units)}</strong>
          ),
      },
      strip("strip-from", (c) => c.a.strip_mm),
      {
        key: "from",
        head: "at",
        width: "minmax(70px,1fr)",
        small: true,
        text: (c) => c.from_text,
        title: (c) => c.from_text,
      },
      strip("strip-to", (c) => c.b.strip_mm),
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
    [shields, units],
  );
  return (
    <Room room="cut" title="Cut">
      {cables.length > 0 && (
        <>
          <h2 className="mb-1 text-head">Cables, each in one piece</h2>
          <table className="mb-6 w-full text-plain" aria-label="Cables">
            <thead className="text-left text-fine text-second">
              <tr className="border-b border-ink">
                <th className="py-1 pl-1">Cable</th>
                <th>Cable to use</th>
                <th className="text-right">Cores</th>
                <th className="text-right">Cut</th>
                <th className="px-4">Its wires</th>
                <th>From</th>
                <th>To</th>
              </tr>
            </thead>
            <tbody>
              {cables.map((c) => (
                <tr key={c.id} className="border-b border-faint align-baseline [&>td]:py-1.5">
                  <td className="pl-1 pr-3 font-figures font-bold">{c.id}</td>
                  <td className="font-figures">{turned(c.part)}</td>
                  <td
                    className="text-right font-figures"
                    title={c.cores > c.wires.length ? `${c.cores - c.wires.length} not used` : ""}
                  >
                    {c.wires.length === c.cores ? c.cores : `${c.wires.length} of ${c.cores}`}
                  </td>
                  <td
                    className="whitespace-nowrap pl-2 text-right font-figures font-bold text-figure"
                    title={otherLength(c.cut_mm, units)}
                  >
                    {length(c.cut_mm, units)}
                  </td>
                  <td className="px-4 font-figures text-fine">
                    {[...c.wires, ...(c.shield ? [c.shield] : [])]
                      .map((w) => design.evaluation.wire.wires[w]?.label ?? w)
                      .join(" ")}
                    {c.shield ? <span className="font-text text-second"> the last its shield</span> : null}
                    {c.peels.map((p) => (
                      <span key={p} className="block font-text text-second">
                        {p}
                      </span>
                    ))}
                    {c.unused.length > 0 && (
                      <span className="block font-text text-second">
                        not used: {c.unused.join(", ") || "cores"}; cut back and cap
                      </span>
                    )}
                  </td>
                  <td className="pr-3">{c.from_text}</td>
                  <td>{c.to_text}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </>
      )}
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
        <p className="mt-3 text-plain text-second">
          <kbd>w</kbd> why this length &nbsp;
          <a className="quiet" href={`/api/designs/${design.id}/tables/cut`}>
            cut list as CSV
          </a>
        </p>
      )}
    </Room>
  );
}
