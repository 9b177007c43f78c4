import { useCallback, useMemo } from "react";
import { pointer, type Evaluation, type HarnessDocument } from "../../api/client";
import { useActs, useDesign } from "../../api/design";
import { END_STATES } from "../../api/values";
import { bareText, type Column } from "../../components/columns";
import { YES_NO } from "../../components/fields";
import { Grid } from "../../components/Grid";
import { fine, length, lengthUnit, nextOrder, often, unitsOf, words } from "../../format";

type Cut = Evaluation["cut"]["cuts"][number];
type Stated = HarnessDocument["cut"]["ends"][string];

interface Row {
  pin: string;
  connector: string;
  text: string;
  cut: Cut;
  end: Cut["a"];
}

/** Every end in a connector: strip, what it takes, whether it is final, and how often it can be made again. */
export function EndsLeaf() {
  const { design } = useDesign();
  const { edit } = useActs();
  const { document, evaluation } = design;
  const units = unitsOf(document);
  const stated = document.cut.ends;
  const rows = useMemo(() => endsOf(evaluation, document), [document, evaluation]);
  const put = useCallback(
    (row: Row, key: keyof Stated, value: unknown) => {
      const at = pointer("cut", "ends", row.pin);
      return edit(
        [
          stated[row.pin]
            ? { op: "replace", path: `${at}/${key}`, value }
            : { op: "add", path: at, value: { ...stated[row.connector], order: nextOrder(stated), [key]: value } },
        ],
        `${row.pin} ${key === "strip_mm" ? "strip" : "as it is cut"}`,
      );
    },
    [edit, stated],
  );
  const columns = useMemo<Column<Row>[]>(() => {
    const said = (row: Row) => stated[row.pin] ?? stated[row.connector];
    const figure = (
      key: "strip_mm" | "allowance_mm" | "surplus_mm" | "trim_mm" | "untwist_mm",
      head: string,
      hint: string,
      shown: (row: Row) => string,
    ): Column<Row> => ({
      key,
      head,
      width: "88px",
      align: "right",
      figures: true,
      text: shown,
      title: () => hint,
      show: (row) => (
        <span className={(said(row)?.[key] ?? null) === null ? "text-second" : ""}>{bareText(shown(row), "mm")}</span>
      ),
      unit: lengthUnit(units),
      begin: (row) => shown(row),
      commit: (row, typed) => put(row, key, typed.trim() === "" ? null : typed),
    });
    return [
      {
        key: "pin",
        head: "End",
        width: "minmax(120px,1fr)",
        text: (r) => r.text,
        title: (r) => r.text,
        show: (r) => <strong>{r.text}</strong>,
      },
      { key: "wire", head: "Wire", width: "92px", figures: true, text: (r) => r.cut.label },
      figure("strip_mm", "Strip", "as the contact asks where nothing is typed", (r) => fine(r.end.strip_mm, units)),
      figure("allowance_mm", "Takes", "wire that the end takes beyond the finished length", (r) =>
        r.end.allowance_mm === null ? "not known" : length(r.end.allowance_mm, units),
      ),
      {
        key: "state",
        head: "State",
        width: "128px",
        text: (r) => words(said(r)?.state ?? "final"),
        choices: () => END_STATES.map((value) => ({ value, label: words(value) })),
        commit: (r, typed) => put(r, "state", typed),
      },
      figure("surplus_mm", "Left long", "longer by this until it is fitted", (r) =>
        r.end.surplus_mm ? length(r.end.surplus_mm, units) : "–",
      ),
      {
        key: "reason",
        head: "Because",
        width: "minmax(90px,1fr)",
        small: true,
        text: (r) => said(r)?.reason ?? "",
        commit: (r, typed) => put(r, "reason", typed),
      },
      {
        key: "fold",
        head: "Folded",
        width: "66px",
        text: (r) => (said(r)?.fold ? "yes" : "no"),
        title: () => "strands folded back to fill the barrel; its neighbours are trimmed to match",
        choices: () => YES_NO,
        commit: (r, typed) => put(r, "fold", typed === "yes"),
      },
      figure("trim_mm", "Trim", "taken off beside a folded core, or by its own fold, as measured", (r) =>
        r.end.trim_mm ? length(r.end.trim_mm, units) : "–",
      ),
      figure("untwist_mm", "Untwisted", "how far a pair lies open here", (r) => {
        const mm = said(r)?.untwist_mm ?? null;
        return mm === null ? "–" : length(mm, units);
      }),
      {
        key: "again",
        head: "Again",
        width: "62px",
        align: "right",
        figures: true,
        text: (r) => (r.end.remakes === null ? "–" : `${r.end.remakes}×`),
        title: () => "how often it can be cut off and made again before its slack is gone",
      },
    ];
  }, [put, stated, units]);
  return (
    <>
      <p className="mb-2 max-w-[92ch] text-second">
        An end is final, or left longer and trimmed when it is fitted. What stands pale follows from its contact and the
        house rules; type over it, empty it to let it follow again.
      </p>
      <Seldom />
      <Grid
        label="Ends as they are cut"
        rows={rows}
        columns={columns}
        rowKey={(r) => r.pin + r.cut.wire}
        empty="No end lies in a connector yet."
      />
    </>
  );
}

function endsOf(evaluation: Evaluation, document: HarnessDocument): Row[] {
  const rows: Row[] = [];
  for (const cut of evaluation.cut.cuts) {
    for (const [text, end] of [
      [cut.from_text, cut.a],
      [cut.to_text, cut.b],
    ] as const) {
      const pin = end.pin ?? "";
      const entry = document.ends.pinout[pin];
      if (entry) rows.push({ pin, connector: entry.connector, text, cut, end });
    }
  }
  return rows.sort((x, y) => x.text.localeCompare(y.text, "en", { numeric: true }));
}

const FEW = 8;

/** Connectors of which an end can be made again least often. */
function Seldom() {
  const again = Object.entries(useDesign().design.evaluation.cut.made_again);
  if (again.length === 0) return null;
  const least = Math.min(...again.map(([, times]) => times));
  const where = again.filter(([, times]) => times === least).map(([connector]) => connector);
  return (
    <p className="mb-2 text-plain text-second">
      Made again least often: <strong className="font-figures">{where.slice(0, FEW).join(", ")}</strong>
      {where.length > FEW && ` and ${where.length - FEW} more`}, {often(least)}.
    </p>
  );
}
