import { headed, type Column } from "./columns";
import type { GridView } from "./useGridView";

interface Props<Row> {
  columns: Column<Row>[];
  template: string;
  view: GridView;
}

/** The headings of a list, in view while its rows scroll; each puts the list in its order, and back. */
export function GridHead<Row>({ columns, template, view }: Props<Row>) {
  const { sort } = view.kept;
  return (
    <div
      role="row"
      className="sticky top-0 z-10 grid border-b border-ink bg-sheet"
      style={{ gridTemplateColumns: template }}
    >
      {columns.map((c) => {
        const way = sort?.key === c.key ? (sort.down ? "descending" : "ascending") : "none";
        return (
          <div
            role="columnheader"
            key={c.key}
            aria-sort={way}
            className={`self-end px-1 pb-1.5 text-fine font-semibold text-second ${c.align === "right" ? "pr-2 text-right" : ""}`}
          >
            {c.head && (
              <button
                // The grid is one stop of the Tab key; the menu of columns does the same.
                tabIndex={-1}
                className={`font-semibold hover:text-ink ${c.align === "right" ? "text-right" : "text-left"}`}
                title={`${headed(c)}: put the list in this order`}
                onClick={() => view.sortBy(c.key)}
              >
                {c.head}
                {c.unit && <span className="font-normal"> ({c.unit})</span>}
                {way !== "none" && <span aria-hidden="true">{way === "ascending" ? " ↑" : " ↓"}</span>}
              </button>
            )}
          </div>
        );
      })}
    </div>
  );
}
