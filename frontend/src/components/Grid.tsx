import { useCallback, useContext, useEffect, useId, useMemo, useRef, useState, type ClipboardEvent, type KeyboardEvent, type ReactNode } from "react";
import type { Problem } from "../api/client";
import { DesignContext } from "../api/design";
import { GridRow, type Editing, type Failed } from "./GridRow";

export interface Column<Row> {
  key: string;
  head: string;
  /** CSS width in the grid's template. */
  width: string;
  align?: "right";
  figures?: boolean;
  /** Long text in a narrow column. */
  small?: boolean;
  text: (row: Row) => string;
  show?: (row: Row) => ReactNode;
  /** What else `show` depends on, where the grid is steady and the text does not tell. */
  stamp?: (row: Row) => string;
  title?: (row: Row) => string;
  /** Choices, where the cell takes one of a few. */
  choices?: (row: Row) => { value: string; label: string }[];
  /** Send what was typed. Absent where the cell is worked out, not stated. */
  commit?: (row: Row, typed: string) => Promise<Problem | null>;
  /** What the editor starts with when not typed over. */
  begin?: (row: Row) => string;
}

interface Props<Row> {
  label: string;
  rows: Row[];
  columns: Column<Row>[];
  rowKey: (row: Row) => string;
  selected?: string | null;
  onSelect?: (row: Row, column: Column<Row>) => void;
  onDelete?: (row: Row) => void;
  onWhy?: (row: Row, column: Column<Row>) => void;
  /** What the empty row at the foot does with what is typed in it. */
  onNew?: { prompt: string; commit: (typed: string) => Promise<Problem | null> };
  rowHeight?: number;
  empty?: string;
  /** A row is drawn again only when a text, title or stamp in it changed. For grids of hundreds of rows. */
  steady?: boolean;
}

type At = { row: number; column: number };

function without<T>(all: Record<string, T>, key: string): Record<string, T> {
  return Object.fromEntries(Object.entries(all).filter(([k]) => k !== key));
}

const STEPS: Record<string, [number, number]> = {
  ArrowDown: [1, 0],
  ArrowUp: [-1, 0],
  ArrowRight: [0, 1],
  ArrowLeft: [0, -1],
  PageDown: [10, 0],
  PageUp: [-10, 0],
};

const NEW = "new";

/** Rows are laid out and painted block by block, as they come into view. */
const BLOCK = 20;

/** A table worked by keyboard: arrows, Enter, type to replace, paste, Delete; errors stay at the cell. */
export function Grid<Row>(props: Props<Row>) {
  const { label, rows, columns, rowKey, selected, onSelect, onDelete, onWhy, onNew, rowHeight = 34, empty, steady = false } = props;
  const id = useId();
  const [at, setAt] = useState<At>({ row: 0, column: 0 });
  const [editing, setEditing] = useState<string | null>(null);
  const [failed, setFailed] = useState<Record<string, Record<string, Failed>>>({});
  const design = useContext(DesignContext);
  const frame = useRef<HTMLDivElement>(null);
  const count = rows.length + (onNew ? 1 : 0);
  const template = useMemo(() => columns.map((c) => c.width).join(" "), [columns]);
  const row = Math.max(0, Math.min(at.row, count - 1));
  const column = Math.min(at.column, columns.length - 1);
  const isNew = row >= rows.length;
  const current = rows[row];
  const currentColumn = columns[column];

  useEffect(() => {
    // Only while it is worked in: a grid that merely appears must not move the page.
    if (!frame.current?.contains(document.activeElement)) return;
    // With the next frame, which lays the page out anyway: an edit must not wait for that.
    const next = requestAnimationFrame(() => {
      frame.current?.querySelector(`[data-cell="${row}-${column}"]`)?.scrollIntoView({ block: "nearest", inline: "nearest" });
    });
    return () => cancelAnimationFrame(next);
  }, [row, column]);

  const select = (r: number, c: number) => {
    setAt({ row: r, column: c });
    const found = rows[r];
    const where = columns[c];
    if (found && where) onSelect?.(found, where);
  };

  const move = (down: number, right: number) => {
    select(Math.max(0, Math.min(count - 1, row + down)), Math.max(0, Math.min(columns.length - 1, column + right)));
  };

  const remember = (of: string, where: string, failure: Failed | null) => {
    setFailed((all) => {
      const mine = without(all[of] ?? {}, where);
      const kept = failure ? { ...mine, [where]: failure } : mine;
      if (Object.keys(kept).length) return { ...all, [of]: kept };
      return of in all ? without(all, of) : all;
    });
  };

  const commit = async (typed: string, r: number, c: number, from: string) => {
    const found = rows[r];
    const where = columns[c];
    if (!where) return;
    const of = found ? rowKey(found) : NEW;
    const send = found && typed === from ? undefined : found ? where.commit?.(found, typed) : onNew?.commit(typed);
    const problem = send ? await send : null;
    remember(of, where.key, problem ? { typed, message: problem.detail } : null);
  };

  const start = (typed?: string) => {
    if (isNew ? !onNew : !currentColumn?.commit) return;
    const kept = failed[current ? rowKey(current) : NEW]?.[currentColumn?.key ?? ""]?.typed;
    setEditing(typed ?? kept ?? (current && currentColumn ? (currentColumn.begin ?? currentColumn.text)(current) : ""));
  };

  const onKeyDown = (event: KeyboardEvent) => {
    if (editing !== null || event.target !== frame.current) return;
    if (event.ctrlKey || event.metaKey || event.altKey) return;
    const step = STEPS[event.key];
    const readOnly = current !== undefined && currentColumn !== undefined && !currentColumn.commit;
    if (step) move(...step);
    else if (event.key === "Home") select(row, 0);
    else if (event.key === "End") select(row, columns.length - 1);
    else if ((event.key === "Enter" || event.key === "w") && readOnly) onWhy?.(current, currentColumn);
    else if (event.key === "Enter" || event.key === "F2" || event.key === " ") start();
    else if (event.key === "Delete" && current && onDelete) onDelete(current);
    else if (event.key.length === 1) start(event.key);
    else return;
    event.preventDefault();
  };

  const onPaste = async (event: ClipboardEvent) => {
    if (editing !== null) return;
    const text = event.clipboardData.getData("text/plain");
    if (!text) return;
    event.preventDefault();
    const lines = text.replace(/\r?\n$/, "").split(/\r?\n/);
    const cells: { typed: string; r: number; c: number }[] = [];
    const more: string[] = [];
    lines.forEach((line, down) => {
      if (rows[row + down]) line.split("\t").forEach((cell, right) => cells.push({ typed: cell.trim(), r: row + down, c: column + right }));
      else more.push(line.replaceAll("\t", " ").trim());
    });
    const all = () =>
      Promise.all(
        cells.map(({ typed, r, c }) => {
          const found = rows[r];
          const where = columns[c];
          return found && where?.commit ? commit(typed, r, c, where.text(found)) : Promise.resolve();
        }),
      );
    // One paste is one edit; where something in it is refused, each cell says for itself.
    if (cells.length > 1 && design) {
      if (!(await design.together(`paste ${cells.length} cells`, all))) await all();
    } else await all();
    const wanted = more.filter(Boolean).join("\n");
    if (wanted && onNew) await commit(wanted, rows.length, 0, "");
  };

  // The rows see one set of handlers that never changes, so that only rows that change are drawn again.
  const latest = useRef({ select, start, commit, move });
  useEffect(() => {
    latest.current = { select, start, commit, move };
  });
  const onPick = useCallback((r: number, c: number) => {
    frame.current?.focus();
    latest.current.select(r, c);
  }, []);
  const onStart = useCallback(() => latest.current.start(), []);
  const onDone = useCallback((typed: string, from: string, r: number, c: number, then: [number, number] | null) => {
    void latest.current.commit(typed, r, c, from);
    setEditing(null);
    if (then) latest.current.move(...then);
    frame.current?.focus();
  }, []);
  const onCancel = useCallback(() => {
    setEditing(null);
    frame.current?.focus();
  }, []);
  const edits = useMemo<Editing>(() => ({ onPick, onStart, onDone, onCancel }), [onPick, onStart, onDone, onCancel]);

  const blocks = Array.from({ length: Math.ceil(rows.length / BLOCK) }, (_, n) => n * BLOCK);
  const stamps = useMemo(
    () =>
      steady
        ? rows.map((found) => columns.map((c) => `${c.text(found)}\u0001${c.title?.(found) ?? ""}\u0001${c.stamp?.(found) ?? ""}`).join("\u0002"))
        : null,
    [steady, rows, columns],
  );
  const line = (r: number, found: Row | undefined, key: string) => (
    <GridRow
      key={key}
      id={id}
      r={r}
      row={found}
      label={label}
      stamp={found !== undefined ? (stamps?.[r] ?? null) : null}
      name={key}
      prompt={found === undefined ? onNew?.prompt : undefined}
      columns={columns}
      template={template}
      rowHeight={rowHeight}
      active={r === row ? (found === undefined ? 0 : column) : -1}
      editing={r === row ? editing : null}
      chosen={found !== undefined && selected === key}
      failures={failed[key]}
      edits={edits}
    />
  );
  return (
    <div
      ref={frame}
      role="grid"
      tabIndex={0}
      aria-label={label}
      aria-rowcount={count + 1}
      aria-activedescendant={`${id}-${row}-${isNew ? 0 : column}`}
      onKeyDown={onKeyDown}
      onPaste={(e) => void onPaste(e)}
      className="group/grid min-w-0 outline-none max-[1199px]:overflow-x-auto"
    >
      <div role="row" className="grid border-b border-ink" style={{ gridTemplateColumns: template }}>
        {columns.map((c) => (
          <div
            role="columnheader"
            key={c.key}
            className={`self-end px-1 pb-1.5 text-[13px] font-semibold text-second ${c.align === "right" ? "pr-2 text-right" : ""}`}
          >
            {c.head}
          </div>
        ))}
      </div>
      {rows.length === 0 && !onNew && empty && <p className="py-3 text-second">{empty}</p>}
      {blocks.map((first) => (
        <div
          key={first}
          style={{
            contentVisibility: editing !== null && row >= first && row < first + BLOCK ? "visible" : "auto",
            containIntrinsicBlockSize: `auto ${Math.min(BLOCK, rows.length - first) * rowHeight}px`,
          }}
        >
          {rows.slice(first, first + BLOCK).map((found, n) => line(first + n, found, rowKey(found)))}
        </div>
      ))}
      {onNew && line(rows.length, undefined, NEW)}
    </div>
  );
}
