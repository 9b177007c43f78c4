import { useState } from "react";
import { between } from "./listing";

/** Rows chosen beside the one that the cursor is in: from an anchor with Shift, one by one with Ctrl. */
export interface GridRange {
  chosen: ReadonlySet<number>;
  /** The cursor goes to a row: alone, with all between, or beside those that are chosen. */
  reach: (from: number, to: number, how: "alone" | "all between" | "beside") => void;
}

export function useGridRange(): GridRange {
  const [range, setRange] = useState<{ anchor: number; rows: ReadonlySet<number> }>({ anchor: 0, rows: new Set() });
  return {
    chosen: range.rows,
    reach: (from, to, how) => {
      if (how === "alone") {
        if (range.rows.size) setRange({ anchor: to, rows: new Set() });
        return;
      }
      if (how === "all between") {
        const anchor = range.rows.size ? range.anchor : from;
        setRange({ anchor, rows: new Set(between(anchor, to)) });
        return;
      }
      const rows = new Set(range.rows.size ? range.rows : [from]);
      if (rows.has(to) && rows.size > 1) rows.delete(to);
      else rows.add(to);
      setRange({ anchor: to, rows });
    },
  };
}
