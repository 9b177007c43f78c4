import { useEffect, useState, type RefObject } from "react";
import { NEW, type Column } from "./columns";

/** Where the cursor is: the row by its key, so that it stays there when rows come and go above it. */
type At = { of: string | null; row: number; column: number };

interface Asked<Row> {
  rows: Row[];
  columns: Column<Row>[];
  rowKey: (row: Row) => string;
  /** Whether there is an empty row at the foot. */
  foot: boolean;
  frame: RefObject<HTMLDivElement | null>;
  onSelect: ((row: Row, column: Column<Row>) => void) | undefined;
}

/** The cell that the keyboard is in, and how it goes to another. */
export function useGridCursor<Row>({ rows, columns, rowKey, foot, frame, onSelect }: Asked<Row>) {
  const [at, setAt] = useState<At>({ of: null, row: 0, column: 0 });
  const count = rows.length + (foot ? 1 : 0);
  const stands = at.of === null ? -1 : at.of === NEW && foot ? rows.length : rows.findIndex((r) => rowKey(r) === at.of);
  const row = stands >= 0 ? stands : Math.max(0, Math.min(at.row, count - 1));
  const column = Math.min(at.column, columns.length - 1);

  useEffect(() => {
    // Only while it is worked in: a grid that merely appears must not move the page.
    if (!frame.current?.contains(document.activeElement)) return;
    // With the next frame, which lays the page out anyway: an edit must not wait for that.
    const next = requestAnimationFrame(() => {
      frame.current
        ?.querySelector(`[data-cell="${row}-${row < rows.length ? column : 0}"]`)
        ?.scrollIntoView({ block: "nearest", inline: "nearest" });
    });
    return () => cancelAnimationFrame(next);
  }, [frame, row, column, rows.length]);

  const select = (r: number, c: number) => {
    const there = rows[r];
    setAt({ of: there ? rowKey(there) : NEW, row: r, column: c });
    const where = columns[c];
    if (there && where) onSelect?.(there, where);
  };
  const move = (down: number, right: number) => {
    select(Math.max(0, Math.min(count - 1, row + down)), Math.max(0, Math.min(columns.length - 1, column + right)));
  };
  return { row, column, count, select, move };
}
