import { useMeaning } from "../api/words";
import { headed, type Column } from "./columns";
import { COLUMNS } from "./GridRow";
import { Meant } from "./Meant";
import type { GridView } from "./useGridView";

interface Props<Row> {
  columns: Column<Row>[];
  view: GridView;
}

/** The headings of a list, in view while its rows scroll; each puts the list in its order, and back. */
export function GridHead<Row>({ columns, view }: Props<Row>) {
  return (
    <div
      role="row"
      aria-rowindex={1}
      className="sticky top-0 z-10 grid min-w-min border-b border-ink bg-sheet"
      style={{ gridTemplateColumns: `var(${COLUMNS})` }}
    >
      {columns.map((c) => (
        <Head key={c.key} column={c} view={view} />
      ))}
    </div>
  );
}

function Head<Row>({ column: c, view }: { column: Column<Row>; view: GridView }) {
  const { sort } = view.kept;
  const way = sort?.key === c.key ? (sort.down ? "descending" : "ascending") : "none";
  // A word of the trade says what it means instead.
  const plain = useMeaning(c.head) === undefined;
  return (
    <div
      role="columnheader"
      aria-sort={way}
      className={`self-end px-1 pb-1.5 text-fine font-semibold text-second ${c.align === "right" ? "pr-2 text-right" : ""}`}
    >
      {!c.head && <span className="sr-only">{c.key}</span>}
      {c.head && (
        <button
          // The grid is one stop of the Tab key; the menu of columns does the same.
          tabIndex={-1}
          className={`font-semibold hover:text-ink ${c.align === "right" ? "text-right" : "text-left"}`}
          {...(plain ? { title: `${headed(c)}: put the list in this order` } : {})}
          onClick={() => view.sortBy(c.key)}
        >
          <Meant>{c.head}</Meant>
          {c.unit && <span className="font-normal"> ({c.unit})</span>}
          {way !== "none" && <span aria-hidden="true">{way === "ascending" ? " ↑" : " ↓"}</span>}
        </button>
      )}
    </div>
  );
}
