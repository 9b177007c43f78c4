import { tableFeatures, useTable, type ColumnDef } from "@tanstack/react-table";
import { useMemo } from "react";
import type { Column } from "./columns";

const FEATURES = tableFeatures({});

/** Rows and columns as the table library models them: by key, in order, each column with what it shows. */
export function useColumnModel<Row>(rows: Row[], columns: Column<Row>[], rowKey: (row: Row) => string) {
  const definitions = useMemo<ColumnDef<typeof FEATURES, Row & object>[]>(
    () => columns.map((c) => ({ id: c.key, header: c.head, accessorFn: (row: Row) => c.text(row) })),
    [columns],
  );
  const table = useTable<typeof FEATURES, Row & object>({
    features: FEATURES,
    data: rows as (Row & object)[],
    columns: definitions,
    getRowId: rowKey,
  });
  const shown = useMemo(() => {
    const byKey = new Map(columns.map((c) => [c.key, c]));
    return table.getAllLeafColumns().flatMap((leaf) => byKey.get(leaf.id) ?? []);
    // The table is one object for good; what it models changes with these.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [columns, definitions]);
  return { table, columns: shown };
}
