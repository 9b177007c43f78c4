import { useMemo } from "react";
import { pointer, type Problem } from "../../api/client";
import type { DressSheet, ShrinkPiece } from "../../api/dress";
import { useActs, useDesign } from "../../api/design";
import type { Column } from "../../components/columns";
import { Grid } from "../../components/Grid";
import { fine, length, lengthUnit, nextOrder, unitsOf } from "../../format";

/** Every piece of shrink tube: what it passes and closes on, how long it is cut, in what order it goes on. */
export function ShrinksLeaf({ sheet }: { sheet: DressSheet }) {
  const { design } = useDesign();
  const { edit } = useActs();
  const units = unitsOf(design.document);
  const wishes = design.document.dress.shrinks;
  const columns = useMemo<Column<ShrinkPiece>[]>(() => {
    const put = (place: string, key: "part" | "lined" | "length_mm", value: string | boolean | null) => {
      const at = pointer("dress", "shrinks", place);
      return edit(
        [
          wishes[place]
            ? { op: "replace", path: `${at}/${key}`, value }
            : { op: "add", path: at, value: { order: nextOrder(wishes), [key]: value } },
        ],
        `${place} shrink tube`,
      );
    };
    return [
      {
        key: "place",
        head: "At",
        width: "84px",
        figures: true,
        text: (s) => s.place,
        show: (s) => <strong>{s.place}</strong>,
      },
      { key: "what", head: "Over", width: "minmax(96px,1fr)", text: (s) => s.what },
      { key: "count", head: "Pieces", width: "60px", align: "right", figures: true, text: (s) => String(s.count) },
      {
        key: "passes",
        head: "Passes",
        width: "84px",
        align: "right",
        figures: true,
        unit: lengthUnit(units),
        text: (s) => fine(s.over_mm, units),
      },
      {
        key: "closes",
        head: "Closes on",
        width: "84px",
        align: "right",
        figures: true,
        unit: lengthUnit(units),
        text: (s) => fine(s.onto_mm, units),
      },
      {
        key: "part",
        head: "Tube",
        width: "96px",
        figures: true,
        text: (s) => s.code,
        title: (s) => (s.fits ? s.description : s.instead),
        show: (s) => <span className={s.fits ? "" : "text-madder"}>{s.code}</span>,
        commit: (s, typed) => (s.over_barrel ? byBarrel("part") : put(s.place, "part", typed.trim() || null)),
      },
      {
        key: "lined",
        head: "Lining",
        width: "74px",
        text: (s) => (s.lined ? "lined" : "plain"),
        choices: () => [
          { value: "", label: "by rule" },
          { value: "lined", label: "lined" },
          { value: "plain", label: "plain" },
        ],
        commit: (s, typed) => put(s.place, "lined", typed === "lined" ? true : typed === "plain" ? false : null),
      },
      {
        key: "long",
        head: "Finished",
        width: "88px",
        align: "right",
        figures: true,
        unit: lengthUnit(units),
        text: (s) => length(s.finished_mm, units),
        commit: (s, typed) => (s.over_barrel ? byBarrel("length") : put(s.place, "length_mm", typed.trim() || null)),
      },
      {
        key: "cut",
        head: "Cut",
        width: "84px",
        align: "right",
        figures: true,
        unit: lengthUnit(units),
        strong: true,
        text: (s) => length(s.cut_mm, units),
      },
      {
        key: "order",
        head: "Threaded",
        width: "78px",
        align: "right",
        figures: true,
        text: (s) => ordinal(s.threaded),
      },
      {
        key: "because",
        head: "Because",
        width: "minmax(90px,1.2fr)",
        small: true,
        text: (s) => s.because,
        title: (s) => s.because,
      },
    ];
  }, [edit, units, wishes]);
  return (
    <>
      <p className="mb-2 max-w-[92ch] text-second">
        A tube passes the largest it goes over and closes on the smallest it grips. What is threaded first is shrunk
        last. Tube over barrels goes by the house rule, and by the lining that you put here.
      </p>
      <Grid
        label="Shrink tube"
        rows={sheet.shrinks as ShrinkPiece[]}
        columns={columns}
        rowKey={(s) => `${s.place} ${s.what} ${s.over_mm} ${s.onto_mm}`}
        empty="No cover ends, and no breakout and no barrel asks for shrink tube."
      />
    </>
  );
}

/** Tube over a barrel is as wide and long as the terminal asks. */
function byBarrel(field: string): Promise<Problem> {
  const message = "Tube over a barrel is chosen by the terminal and its wire.";
  const remedy = "Say lined or plain here, or change the house rule on tube over bare barrels in Brief.";
  return Promise.resolve({
    type: "about:blank",
    title: "By the terminal",
    status: 422,
    detail: message,
    errors: [{ path: field, message, remedy }],
  });
}

function ordinal(n: number): string {
  return ["first", "second", "third"][n - 1] ?? String(n);
}
