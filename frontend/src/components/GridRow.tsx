import { memo } from "react";
import { Editor } from "./Editor";
import { Outdone } from "./Outdone";
import { RowMenu, type RowAct } from "./RowMenu";
import { bare, type Column, type Edits, type Failed, type Open } from "./columns";

/** What a list says of the widths of its columns, for all its rows at once. */
export const COLUMNS = "--columns";

interface Props<Row> {
  id: string;
  r: number;
  /** Absent in the empty row at the foot. */
  row: Row | undefined;
  label: string;
  /** All that is seen of a row in a steady grid; null where it is drawn with every change. */
  stamp: string | null;
  name: string;
  prompt: string | undefined;
  columns: Column<Row>[];
  rowHeight: number;
  /** The column the cursor is in, or -1. */
  active: number;
  /** Whether it is one of several that are chosen. */
  picked: boolean;
  /** What its cells said before the last edit, as a list of texts; null where they said the same. */
  was: string | null;
  acts: RowAct[];
  menu: boolean;
  editing: Open | null;
  chosen: boolean;
  failures: Record<string, Failed> | undefined;
  edits: Edits;
}

function Line<Row>(p: Props<Row>) {
  const columns = p.row === undefined ? p.columns.slice(0, 1) : p.columns;
  return (
    <div>
      <div
        role="row"
        aria-rowindex={p.r + 2}
        aria-selected={p.chosen || p.picked}
        onContextMenu={(e) => {
          if (!p.acts.length) return;
          e.preventDefault();
          p.edits.onMenu(p.name);
        }}
        className={`grid border-b border-faint ${p.chosen || p.picked ? "bg-wash" : ""} ${p.chosen ? "shadow-[inset_3px_0_0_var(--madder)]" : ""}`}
        style={{ gridTemplateColumns: p.row === undefined ? "1fr" : `var(${COLUMNS})`, minHeight: p.rowHeight }}
      >
        {columns.map((c, i) => (
          <GridCell key={c.key} {...p} c={c} i={i} />
        ))}
        {p.acts.length > 0 && (
          <div role="gridcell" className="flex items-center">
            <RowMenu of={p.name} acts={p.acts} open={p.menu} onOpen={(open) => p.edits.onMenu(open ? p.name : null)} />
          </div>
        )}
      </div>
      {columns.map((c) => {
        const wrong = p.failures?.[c.key];
        const cell = { of: p.name, column: c.key };
        if (!wrong) return null;
        return wrong.outdone && p.row !== undefined ? (
          <div key={c.key} className="bg-wash px-2 pb-1">
            <Outdone
              head={c.head}
              value={c.text(p.row)}
              typed={wrong.typed}
              onMine={() => p.edits.onMine(cell, wrong.typed)}
              onTheirs={() => p.edits.onTheirs(cell)}
            />
          </div>
        ) : (
          <p key={c.key} role="alert" className="bg-wash px-2 py-1 text-plain text-madder">
            <strong>{p.row === undefined ? "Not put in" : c.head}:</strong> {wrong.message}
          </p>
        );
      })}
    </div>
  );
}

function GridCell<Row>(p: Props<Row> & { c: Column<Row>; i: number }) {
  const { c, i, row } = p;
  const choices = row === undefined ? undefined : c.choices?.(row);
  const active = p.active === i;
  const wrong = p.failures?.[c.key];
  const open = active && p.editing !== null;
  const before = p.was === null ? null : ((JSON.parse(p.was) as (string | null)[])[i] ?? null);
  const changed = before !== null && row !== undefined;
  const title = row !== undefined && c.title ? c.title(row) : undefined;
  return (
    <div
      role="gridcell"
      id={`${p.id}-${p.r}-${i}`}
      data-cell={`${p.r}-${i}`}
      aria-invalid={wrong ? true : undefined}
      aria-readonly={row !== undefined && !c.commit ? true : undefined}
      title={changed ? `was ${before || "empty"}${title ? `. ${title}` : ""}` : title}
      onMouseDown={(e) => {
        if (open) return;
        if ((e.target as HTMLElement).closest("button, a, input")) return;
        e.preventDefault();
        p.edits.onPick(p.r, i, e.shiftKey ? "all between" : e.ctrlKey || e.metaKey ? "beside" : "alone");
      }}
      onDoubleClick={p.edits.onStart}
      className={[
        open
          ? "relative flex min-w-0 items-center px-1"
          : c.small && row !== undefined
            ? "min-w-0 self-center px-1 line-clamp-2 leading-tight wrap-anywhere"
            : "min-w-0 content-center truncate px-1",
        c.align === "right" && row !== undefined ? "justify-end pr-2 text-right" : "",
        c.figures ? "font-figures text-plain" : c.small ? "text-fine" : "",
        c.strong ? "font-bold" : "",
        active ? "group-focus/grid:outline-2 group-focus/grid:-outline-offset-2 group-focus/grid:outline-blue" : "",
        wrong ? "text-madder" : "",
        wrong && !open ? "underline decoration-wavy" : "",
        row === undefined && !open ? "text-second" : "",
      ].join(" ")}
    >
      {open && p.editing !== null ? (
        <Editor
          label={row === undefined ? p.label : `${c.head} of ${p.name}`}
          start={p.editing.start}
          from={p.editing.from ?? p.editing.start}
          {...(choices ? { choices } : {})}
          onDone={p.edits.onDone}
          onTyping={p.edits.onTyping}
          onCancel={p.edits.onCancel}
        />
      ) : wrong ? (
        wrong.typed
      ) : row === undefined ? (
        p.prompt
      ) : changed ? (
        <span className="differs">{c.show ? c.show(row) : bare(c, row)}</span>
      ) : c.show ? (
        c.show(row)
      ) : (
        bare(c, row)
      )}
    </div>
  );
}

/** One row of a grid, drawn again only when something of it changed. */
export const GridRow = memo(Line, same) as typeof Line;

function same<Row>(before: Props<Row>, after: Props<Row>): boolean {
  const steady = after.stamp !== null && after.stamp === before.stamp;
  for (const key in after) {
    const at = key as keyof Props<Row>;
    // In a steady grid the stamp says all of a row and its columns, but for how many there are.
    if (steady && at === "row") continue;
    if (steady && at === "columns" && before.columns.length === after.columns.length) continue;
    if (before[at] !== after[at]) return false;
  }
  return true;
}
