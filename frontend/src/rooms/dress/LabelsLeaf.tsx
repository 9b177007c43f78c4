import { useMemo } from "react";
import { pointer, type Problem } from "../../api/client";
import type { DressSheet, Labelled } from "../../api/dress";
import { useActs, useDesign } from "../../api/design";
import { Fields } from "../../components/Fields";
import type { Column } from "../../components/columns";
import type { FieldSpec } from "../../components/fields";
import { Grid } from "../../components/Grid";
import { fine, length, lengthUnit, nextOrder, trim, unitsOf } from "../../format";
import { Printing } from "./Printing";

const TEMPLATE: FieldSpec[] = [
  {
    key: "template",
    label: "A wire's label",
    kind: "text",
    hint: "{id} {from} {to} {function} {harness} {serial}; what stands between is printed as it is",
  },
  { key: "serial", label: "First serial", kind: "text" },
  { key: "height_mm", label: "Letters high", kind: "figure", unit: "mm", empty: "as high as need be read" },
  {
    key: "square",
    label: "Square code",
    kind: "flag",
    hint: "beside the text of connectors' labels, where the sleeve is wide enough for one to be read",
  },
];

const BY_TEMPLATE: Problem = {
  type: "about:blank",
  title: "Worded by the template",
  status: 422,
  detail: "A wire's label is worded by the template above. Change that, or the label of its connector.",
  errors: [],
};

/** Every label to scale: its text, its sleeve, where it sits and when it is shrunk. */
export function LabelsLeaf({ sheet }: { sheet: DressSheet }) {
  const { design } = useDesign();
  const { edit } = useActs();
  const { document, evaluation } = design;
  const units = unitsOf(document);
  const wishes = document.dress.labels;
  const columns = useMemo<Column<Labelled>[]>(() => {
    const put = (at: string, key: "text" | "behind_mm", value: string | null) => {
      const path = pointer("dress", "labels", at);
      return edit(
        [
          wishes[at]
            ? { op: "replace", path: `${path}/${key}`, value }
            : { op: "add", path, value: { order: nextOrder(wishes), [key]: value } },
        ],
        `${at} label`,
      );
    };
    return [
      {
        key: "of",
        head: "On",
        width: "96px",
        figures: true,
        text: (l) => evaluation.wire.wires[l.of]?.label ?? l.of,
        show: (l) => <strong>{evaluation.wire.wires[l.of]?.label ?? l.of}</strong>,
      },
      { key: "at", head: "At", width: "70px", figures: true, text: (l) => l.at },
      {
        key: "text",
        head: "Text",
        width: "minmax(120px,1fr)",
        text: (l) => l.text,
        title: (l) => l.text,
        commit: (l, typed) =>
          l.of === l.at ? put(l.at, "text", typed.trim() === "" ? null : typed.trim()) : Promise.resolve(BY_TEMPLATE),
      },
      {
        key: "look",
        head: "To scale",
        width: "minmax(130px,1fr)",
        text: (l) => l.lines.join(" / "),
        show: (l) => <Preview label={l} />,
      },
      { key: "code", head: "Sleeve", width: "84px", figures: true, text: (l) => l.code },
      {
        key: "length",
        head: "Long",
        width: "74px",
        align: "right",
        figures: true,
        unit: lengthUnit(units),
        text: (l) => fine(l.length_mm, units),
      },
      {
        key: "behind",
        head: "Behind",
        width: "78px",
        align: "right",
        figures: true,
        unit: lengthUnit(units),
        text: (l) => length(l.behind_mm, units),
        commit: (l, typed) => put(l.at, "behind_mm", typed.trim() === "" ? null : typed),
      },
      { key: "when", head: "Shrunk", width: "minmax(90px,0.6fr)", small: true, text: (l) => l.when },
    ];
  }, [edit, evaluation.wire.wires, units, wishes]);
  const marked = Object.values(sheet.marks).reduce((sum, n) => sum + n, 0);
  return (
    <>
      <div className="mb-3 max-w-[640px]">
        <Fields at={["dress"]} entry={{ ...document.dress }} specs={TEMPLATE} about="labels" />
      </div>
      <Printing />
      <p className="mb-2 text-plain text-second">
        {Object.entries(sheet.label_mm)
          .map(([code, mm]) => {
            const boxes = sheet.cassettes[code] ?? 1;
            return `${code} ${trim(mm / 1000, 2)} m, ${boxes === 1 ? "1 cassette" : `${boxes} cassettes`}`;
          })
          .join("; ") || "No label sleeve is used"}
        {marked > 0 ? `; ${marked} marks along the wires` : ""}
      </p>
      <Grid
        label="Labels"
        rows={sheet.labels as Labelled[]}
        columns={columns}
        rowKey={(l) => `${l.of} ${l.at} ${l.text}`}
        rowHeight={40}
        empty="Nothing is labelled."
        steady
      />
    </>
  );
}

/** A label as it is printed, three pixels to a mm. */
function Preview({ label: l }: { label: Labelled }) {
  const high = Math.max(l.onto_mm, l.height_mm * l.lines.length * 1.5 + 1, l.square_mm ?? 0);
  const shown = Math.min(high, 11);
  const side = l.square_mm ? Math.min(l.square_mm, shown) : 0;
  return (
    <svg
      viewBox={`0 0 ${l.length_mm} ${shown}`}
      style={{ width: Math.min(l.length_mm * 3, 230), height: shown * 3 }}
      role="img"
      aria-label={l.text}
    >
      <rect width={l.length_mm} height={shown} fill="#fffdf6" stroke="var(--ink)" strokeWidth={0.25} />
      {l.square && (
        <image
          href={`/api/square?text=${encodeURIComponent(l.square)}`}
          y={(shown - side) / 2}
          width={side}
          height={side}
        />
      )}
      {l.lines.map((line, n) => (
        <text
          key={n}
          x={(l.length_mm + side) / 2}
          y={shown / 2 + l.height_mm * (0.36 + (n - (l.lines.length - 1) / 2) * 1.5)}
          fontSize={l.height_mm * 1.2}
          textAnchor="middle"
          fill="#1a2433"
          className="font-figures"
        >
          {line}
        </text>
      ))}
    </svg>
  );
}
