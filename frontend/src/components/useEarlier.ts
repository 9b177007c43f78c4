import { useContext, useEffect, useMemo } from "react";
import { DesignContext } from "../api/design";
import { writtenAlike } from "../format";
import type { Column } from "./columns";

/** What a list said of one version of a harness. */
interface Said<Row> {
  version: number;
  columns: Column<Row>[];
  rows: Row[];
  byKey?: Map<string, Row>;
}

/** The last two versions that a list was seen in, by the harness and what the list is of. */
const seen = new Map<string, { now: Said<unknown>; earlier: Said<unknown> | undefined }>();

/** What a row's cells said before the last edit, column by column; null where one said the same. */
export type Earlier<Row> = (row: Row, columns: Column<Row>[]) => (string | null)[] | null;

/** Tells what a list said before the last edit, where it was seen then; `was` tells it of one that was not. */
export function useEarlier<Row>(
  label: string,
  rows: Row[],
  columns: Column<Row>[],
  rowKey: (row: Row) => string,
  was: ((row: Row) => Row | undefined) | undefined,
): Earlier<Row> {
  const open = useContext(DesignContext);
  const version = open?.design.version ?? 0;
  const before = open?.before?.version;
  const alike = !open?.before || writtenAlike(open.before.document, open.design.document);
  const list = `${open?.id ?? ""} ${label}`;
  useEffect(() => {
    if (!version) return;
    const known = seen.get(list);
    const now = { version, columns, rows } as Said<unknown>;
    if (!known || known.now.version === version) seen.set(list, { now, earlier: known?.earlier });
    else seen.set(list, { now, earlier: known.now });
    // What no mark can come from any more is let go, with all that its columns hold.
    for (const [other, said] of seen) {
      if (other !== list && said.now.version < (before ?? version)) seen.delete(other);
      else if (said.earlier && said.earlier.version !== before) seen.set(other, { now: said.now, earlier: undefined });
    }
  }, [list, version, before, columns, rows]);
  return useMemo(() => {
    const known = seen.get(list);
    const said = [known?.now, known?.earlier].find((s) => s?.version === before) as Said<Row> | undefined;
    return (row, shown) => {
      if (!alike) return null;
      const earlier = was?.(row);
      if (earlier !== undefined) return earlier === row ? null : differing(shown, row, shown, earlier);
      if (!said || before === undefined || before === version) return null;
      said.byKey ??= new Map(said.rows.map((one) => [rowKey(one), one]));
      const old = said.byKey.get(rowKey(row));
      return old === undefined ? null : differing(shown, row, said.columns, old);
    };
  }, [list, version, before, alike, was, rowKey]);
}

function differing<Row>(
  columns: Column<Row>[],
  row: Row,
  oldColumns: Column<Row>[],
  old: Row,
): (string | null)[] | null {
  const cells = columns.map((c) => {
    const text = oldColumns.find((one) => one.key === c.key)?.text(old);
    return text === undefined || text === c.text(row) ? null : text;
  });
  return cells.some((cell) => cell !== null) ? cells : null;
}
