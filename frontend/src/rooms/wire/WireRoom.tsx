import { useCallback, useMemo, type ReactNode } from "react";
import { useParams } from "react-router";
import { type Wire } from "../../api/client";
import { useCatalogue, useDesign, useActs, useWhy } from "../../api/design";
import { Figure } from "../../components/Figure";
import type { Column } from "../../components/columns";
import { Grid } from "../../components/Grid";
import { Leaves } from "../../components/Leaves";
import { LimitsStrip } from "../../components/LimitsStrip";
import { Room } from "../../components/Room";
import { fixWire } from "../../components/fixed";
import { Swatch } from "../../components/Swatch";
import { amperes, toldApart } from "../../format";
import { CompareLeaf } from "./CompareLeaf";
import { FamiliesLeaf } from "./FamiliesLeaf";
import { HeadroomLeaf } from "./HeadroomLeaf";
import { LEAVES } from "../../components/leaves";

export function WireRoom() {
  const { leaf = "" } = useParams();
  const leaves = <Leaves room="wire" leaves={LEAVES.wire} />;
  const other =
    leaf === "families" ? (
      <FamiliesLeaf />
    ) : leaf === "compare" ? (
      <CompareLeaf />
    ) : leaf === "headroom" ? (
      <HeadroomLeaf />
    ) : null;
  if (!other) return <WiresLeaf leaves={leaves} />;
  return (
    <Room room="wire" title="Wire">
      {leaves}
      {other}
    </Room>
  );
}

/** Every wire: what it is, what it carries, and which limit decided its gauge. */
function WiresLeaf({ leaves }: { leaves: ReactNode }) {
  const { design, before } = useDesign();
  const was = useCallback((w: Wire) => before?.evaluation.wire.wires[w.key], [before]);
  const { edit } = useActs();
  const { why, askWhy } = useWhy();
  const catalogue = useCatalogue();
  const { document, evaluation } = design;
  const wires = useMemo(() => Object.values(evaluation.wire.wires), [evaluation]);
  const columns = useMemo<Column<Wire>[]>(() => {
    const seen = evaluation.circuits;
    return [
      {
        key: "wire",
        head: "Wire",
        width: "78px",
        figures: true,
        text: (w) => w.label,
        show: (w) => <strong>{w.label}</strong>,
        title: (w) => document.circuits.circuits[w.circuit]?.name ?? "",
      },
      {
        key: "colour",
        head: "Colour",
        width: "98px",
        text: (w) => w.colour,
        show: (w) => <Swatch colour={w.colour} />,
        choices: () => (catalogue?.colour_choices ?? []).map((c) => ({ value: c, label: c })),
        commit: (w, v) =>
          edit(fixWire(document, w.key, { colour: v || null }), `${w.label} in ${v || "its own colour"}`),
      },
      {
        key: "from",
        head: "From",
        width: "minmax(50px,1fr)",
        text: (w) => w.from_text,
        title: (w) => w.from_text,
        small: true,
      },
      {
        key: "to",
        head: "To",
        width: "minmax(50px,1fr)",
        text: (w) => w.to_text,
        title: (w) => w.to_text,
        small: true,
      },
      {
        key: "carries",
        head: "Current",
        width: "76px",
        align: "right",
        figures: true,
        text: (w) => (w.carries_a ? amperes(w.carries_a) : (seen.circuits[w.circuit]?.role ?? "").replaceAll("_", " ")),
        title: (w) => (seen.circuits[w.circuit]?.role ?? "").replaceAll("_", " "),
      },
      {
        key: "gauge",
        head: "Gauge",
        width: "80px",
        beside: 8,
        figures: true,
        text: (w) => w.gauge,
        title: (w) => `${w.family}, ${w.area_mm2} mm²${w.fixed ? ", fixed by you" : ""}`,
        show: (w) => (
          <strong>
            <Figure>{w.gauge}</Figure>
            {w.fixed && <span title="fixed by you"> *</span>}
          </strong>
        ),
        workedOut: true,
        commit: (w, v) =>
          edit(
            fixWire(document, w.key, { gauge: v.trim() || null }),
            v.trim() ? `fix ${w.label} at ${v.trim()}` : `let the program choose ${w.label}`,
          ),
      },
      {
        key: "fuse",
        head: "Fuse",
        width: "60px",
        align: "right",
        figures: true,
        text: (w) => {
          const fuse = seen.fuses[seen.circuits[w.circuit]?.fuse ?? ""];
          return fuse ? `${fuse.rating_a} A` : "";
        },
      },
      {
        key: "limits",
        head: "Limits",
        width: "102px",
        text: (w) => w.governs,
        stamp: (w) => w.limits.join(),
        show: (w) => <LimitsStrip ratios={w.limits} governs={w.governs} />,
      },
      {
        key: "drop",
        head: "Drop",
        unit: "%",
        width: "56px",
        align: "right",
        figures: true,
        text: (w) => (w.drop_v ? toldApart(w.drop_percent, w.drop_percent / (w.limits[1] || 1), 1) : "–"),
        title: () => "around the worst loop that this wire is part of",
      },
    ];
  }, [catalogue, document, edit, evaluation]);
  return (
    <Room room="wire" title="Wire">
      {leaves}
      <Grid
        label="Wires"
        steady
        rows={wires}
        columns={columns}
        rowKey={(w) => w.key}
        was={was}
        selected={why?.id ?? null}
        onSelect={(w) => why && why.kind !== "drop" && askWhy(why.kind, w.key)}
        onWhy={(w, column) => {
          const load = Object.values(evaluation.wire.loops).find((l) => l.wires.includes(w.key));
          if (column.key === "drop" && load) askWhy("drop", load.load);
          else if (column.key === "carries") askWhy("ampacity", w.key);
          else askWhy("gauge", w.key);
        }}
        rowHeight={36}
        empty="A wire appears here when both its ends have a cavity, and the route joins them."
      />
      {wires.length > 0 && (
        <p className="mt-3 text-plain text-second">
          Limits, left to right: current, drop, fuse, strength, ends. The dark bar decides the gauge. <kbd>w</kbd> or{" "}
          <kbd>Enter</kbd> why &nbsp;
          <a className="quiet" href={`/api/designs/${design.id}/tables/wires`}>
            wire list as CSV
          </a>
        </p>
      )}
    </Room>
  );
}
