import {
  columnFilteringFeature,
  columnVisibilityFeature,
  createFilteredRowModel,
  createSortedRowModel,
  globalFilteringFeature,
  rowSortingFeature,
  tableFeatures,
  useTable,
  type ColumnDef,
  type SortingState,
} from "@tanstack/react-table";
import { useDeferredValue, useMemo, useState } from "react";
import type { Column } from "./columns";
import { compareCells, finds, groupsOf } from "./listing";

const FEATURES = tableFeatures({
  rowSortingFeature,
  columnFilteringFeature,
  globalFilteringFeature,
  columnVisibilityFeature,
  sortedRowModel: createSortedRowModel(),
  filteredRowModel: createFilteredRowModel(),
});

/** How a list is looked at: kept on this machine, list by list. */
interface Kept {
  sort: { key: string; down: boolean } | null;
  hidden: string[];
  group: string | null;
}

const PLAIN: Kept = { sort: null, hidden: [], group: null };

function recall(list: string): Kept {
  try {
    return { ...PLAIN, ...(JSON.parse(localStorage.getItem(`inkthread-list ${list}`) ?? "{}") as Partial<Kept>) };
  } catch {
    return PLAIN;
  }
}

export interface GridView {
  kept: Kept;
  sought: string;
  setSought: (sought: string) => void;
  /** In the order of a column, then the other way round, then as stated. */
  sortBy: (key: string) => void;
  orderBy: (key: string | null) => void;
  show: (key: string, shown: boolean) => void;
  groupBy: (key: string | null) => void;
}

/** Rows and columns as the table library models them: sorted, filtered, grouped, some columns put away. */
export function useGridView<Row>(list: string, rows: Row[], columns: Column<Row>[], rowKey: (row: Row) => string) {
  const [kept, setKept] = useState(() => recall(list));
  const [sought, setSought] = useState("");
  const wanted = useDeferredValue(sought);
  const change = (next: Kept) => {
    setKept(next);
    try {
      localStorage.setItem(`inkthread-list ${list}`, JSON.stringify(next));
    } catch {
      // A full store keeps the look of this list for as long as the page is open.
    }
  };
  const group = kept.group !== null && columns.some((c) => c.key === kept.group) ? kept.group : null;
  const sorting = useMemo<SortingState>(() => {
    const own = kept.sort ? [{ id: kept.sort.key, desc: kept.sort.down }] : [];
    return (group === null ? own : [{ id: group, desc: false }, ...own.filter((s) => s.id !== group)]).filter((s) =>
      columns.some((c) => c.key === s.id),
    );
  }, [columns, group, kept.sort]);
  const plain = sorting.length === 0 && wanted.trim() === "";

  const definitions = useMemo<ColumnDef<typeof FEATURES, Row & object>[]>(
    () =>
      columns.map((c) => ({
        id: c.key,
        header: c.head,
        accessorFn: (row: Row) => c.text(row),
        sortFn: (a, b, id) => compareCells(String(a.getValue(id)), String(b.getValue(id))),
      })),
    [columns],
  );
  const table = useTable<typeof FEATURES, Row & object>({
    features: FEATURES,
    data: rows as (Row & object)[],
    columns: definitions,
    getRowId: rowKey,
    state: {
      sorting,
      globalFilter: wanted,
      columnVisibility: Object.fromEntries(kept.hidden.map((key) => [key, false])),
    },
    getColumnCanGlobalFilter: () => true,
    globalFilterFn: (row, id, filter) => {
      // All columns at once: the first one that is asked answers for the row.
      if (id !== columns[0]?.key) return false;
      return finds(
        String(filter),
        columns.map((c) => `${c.text(row.original)} ${c.title?.(row.original) ?? ""}`),
      );
    },
  });
  const seen = plain ? rows : (table.getRowModel().rows.map((row) => row.original) as Row[]);
  const shown = useMemo(() => {
    const put = columns.filter((c) => !kept.hidden.includes(c.key));
    return put.length ? put : columns.slice(0, 1);
  }, [columns, kept.hidden]);
  const grouping = columns.find((c) => c.key === group);
  const groups = useMemo(() => (grouping ? groupsOf(seen.map((row) => grouping.text(row))) : null), [grouping, seen]);
  const view: GridView = {
    kept,
    sought,
    setSought,
    sortBy: (key) =>
      change({
        ...kept,
        sort: kept.sort?.key !== key ? { key, down: false } : kept.sort.down ? null : { key, down: true },
      }),
    orderBy: (key) => change({ ...kept, sort: key === null ? null : { key, down: false } }),
    show: (key, put) => change({ ...kept, hidden: put ? kept.hidden.filter((k) => k !== key) : [...kept.hidden, key] }),
    groupBy: (key) => change({ ...kept, group: key }),
  };
  return { view, rows: seen, columns: shown, groups, of: rows.length };
}
