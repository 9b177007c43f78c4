import { useState } from "react";
import { between } from "./listing";

/** Rows chosen beside the one that the cursor is in: from an anchor with Shift, one by one with Ctrl. */
export interface GridRange {
  chosen: ReadonlySet<number>;
  /** The cursor goes to a row: alone, with all between, or beside those that are chosen. */
  reach: (from: number, to: number, how: "alone" | "all between" | "beside") => void;
  all: () => void;
}

const NONE: ReadonlySet<number> = new Set();

/** Chosen by their keys, so that they stay chosen where the list is put in another order or filtered. */
export function useGridRange<Row>(rows: readonly Row[], rowKey: (row: Row) => string): GridRange {
  const [range, setRange] = useState<{ anchor: string; keys: ReadonlySet<string> }>({ anchor: "", keys: new Set() });
  const keys = (numbers: number[]) => numbers.flatMap((n) => (rows[n] === undefined ? [] : [rowKey(rows[n])]));
  const chosen = range.keys.size ? new Set(rows.flatMap((row, n) => (range.keys.has(rowKey(row)) ? [n] : []))) : NONE;
  return {
    chosen,
    all: () => setRange({ anchor: keys([0])[0] ?? "", keys: new Set(rows.map(rowKey)) }),
    reach: (from, to, how) => {
      const [first = "", last = ""] = keys([from, to]);
      if (how === "alone") {
        if (range.keys.size) setRange({ anchor: last, keys: new Set() });
        return;
      }
      if (how === "all between") {
        const anchored = chosen.size ? rows.findIndex((row) => rowKey(row) === range.anchor) : -1;
        const anchor = anchored < 0 ? from : anchored;
        setRange({ anchor: keys([anchor])[0] ?? first, keys: new Set(keys(between(anchor, to))) });
        return;
      }
      const next = new Set(chosen.size ? range.keys : [first]);
      if (next.has(last) && next.size > 1) next.delete(last);
      else next.add(last);
      setRange({ anchor: last, keys: next });
    },
  };
}
