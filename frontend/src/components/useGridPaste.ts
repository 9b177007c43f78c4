import { useContext, type ClipboardEvent } from "react";
import { ActsContext } from "../api/design";
import { NEW, type Cell, type Column } from "./columns";

interface Asked<Row> {
  rows: Row[];
  columns: Column<Row>[];
  rowKey: (row: Row) => string;
  /** Where the cursor is: what is pasted begins there. */
  row: number;
  column: number;
  commit: (typed: string, cell: Cell, from: string | null) => Promise<void>;
  foot: boolean;
}

/** Cells pasted from a spreadsheet: one edit; where something is refused, each cell says for itself. */
export function useGridPaste<Row>({ rows, columns, rowKey, row, column, commit, foot }: Asked<Row>) {
  const acts = useContext(ActsContext);
  return async (event: ClipboardEvent) => {
    const text = event.clipboardData.getData("text/plain");
    if (!text) return;
    event.preventDefault();
    const lines = text.replace(/\r?\n$/, "").split(/\r?\n/);
    const cells: { typed: string; r: number; c: number }[] = [];
    const more: string[] = [];
    lines.forEach((line, down) => {
      if (rows[row + down])
        line.split("\t").forEach((cell, right) => cells.push({ typed: cell.trim(), r: row + down, c: column + right }));
      else more.push(line.replaceAll("\t", " ").trim());
    });
    const all = () =>
      Promise.all(
        cells.map(({ typed, r, c }) => {
          const stated = rows[r];
          const where = columns[c];
          return stated && where?.commit
            ? commit(typed, { of: rowKey(stated), column: where.key }, where.text(stated))
            : Promise.resolve();
        }),
      );
    if (cells.length > 1 && acts) {
      if (!(await acts.together(`paste ${cells.length} cells`, all))) await all();
    } else await all();
    const wanted = more.filter(Boolean).join("\n");
    if (wanted && foot) await commit(wanted, { of: NEW, column: columns[0]?.key ?? "" }, null);
  };
}
