import { useEffect, useId, useMemo, useRef, type ClipboardEvent, type KeyboardEvent } from "react";
import type { Problem } from "../api/client";
import { NEW, type Column, type Edits, type Failed } from "./columns";
import { asText, marked } from "./copied";
import { GridRow } from "./GridRow";
import { useSay } from "./Notice";
import { useColumnModel } from "./useColumnModel";
import { useGridCursor } from "./useGridCursor";
import { useGridEditing } from "./useGridEditing";
import { useGridPaste } from "./useGridPaste";

interface Props<Row> {
  label: string;
  rows: Row[];
  columns: Column<Row>[];
  rowKey: (row: Row) => string;
  selected?: string | null;
  onSelect?: (row: Row, column: Column<Row>) => void;
  onDelete?: (row: Row) => void;
  onWhy?: (row: Row, column: Column<Row>) => void;
  /** What the space bar does to a row, in a cell that nothing is typed in. */
  onSpace?: (row: Row) => void;
  /** What the empty row at the foot does with what is typed in it. */
  onNew?: { prompt: string; commit: (typed: string) => Promise<Problem | null> };
  rowHeight?: number;
  empty?: string;
  /** A row is drawn again only when a text, title or stamp in it changed. For grids of hundreds of rows. */
  steady?: boolean;
}

const STEPS: Record<string, [number, number]> = {
  ArrowDown: [1, 0],
  ArrowUp: [-1, 0],
  ArrowRight: [0, 1],
  ArrowLeft: [0, -1],
  PageDown: [10, 0],
  PageUp: [-10, 0],
};

/** Rows are laid out and painted block by block, as they come into view. */
const BLOCK = 20;

/** A table worked by keyboard: arrows, Enter, type to replace, paste, Delete; errors stay at the cell. */
export function Grid<Row>(props: Props<Row>) {
  const {
    label,
    rows,
    columns: stated,
    rowKey,
    selected,
    onSelect,
    onDelete,
    onWhy,
    onSpace,
    onNew,
    rowHeight = 34,
    empty,
    steady = false,
  } = props;
  const id = useId();
  const frame = useRef<HTMLDivElement>(null);
  const { columns } = useColumnModel(rows, stated, rowKey);
  const template = useMemo(() => columns.map((c) => c.width).join(" "), [columns]);
  const { row, column, count, select, move } = useGridCursor({
    rows,
    columns,
    rowKey,
    foot: onNew !== undefined,
    frame,
    onSelect,
  });
  const { editing, failed, typing, commit, start, finish, remember, cancel } = useGridEditing({
    rows,
    columns,
    rowKey,
    onNew,
    frame,
  });
  const isNew = row >= rows.length;
  /** A figure typed where nothing can be typed is meant for the one cell of the row that takes any. */
  const typeInto = (key: string) => {
    if (current === undefined || currentColumn?.commit) return begin(key);
    const taking = columns.flatMap((c, n) => (c.commit ? [n] : []));
    const only = taking.length === 1 ? taking[0] : undefined;
    if (only === undefined) return;
    select(row, only);
    start(current, columns[only], key);
  };
  const current = rows[row];
  const currentColumn = columns[column];
  const begin = (typed?: string) => start(current, currentColumn, typed);

  // The rows see one set of handlers that never changes, so that only rows that change are drawn again.
  const latest = useRef({ select, begin, commit, move, finish, remember, cancel, typing });
  useEffect(() => {
    latest.current = { select, begin, commit, move, finish, remember, cancel, typing };
  });
  const edits = useMemo<Edits>(() => {
    const focus = () => frame.current?.focus({ preventScroll: true });
    return {
      onPick: (r, c) => {
        focus();
        latest.current.select(r, c);
      },
      onStart: () => latest.current.begin(),
      onDone: (typed, then) => {
        latest.current.finish(typed);
        if (then) latest.current.move(...then);
        focus();
      },
      onCancel: () => {
        latest.current.cancel();
        focus();
      },
      onTyping: (typed) => latest.current.typing(typed),
      onMine: (cell, typed) => {
        focus();
        void latest.current.commit(typed, cell, null);
      },
      onTheirs: (cell) => {
        focus();
        latest.current.remember(cell.of, cell.column, null);
      },
    };
  }, []);

  const onKeyDown = (event: KeyboardEvent) => {
    if (editing !== null || event.target !== frame.current) return;
    if (event.ctrlKey || event.metaKey || event.altKey) return;
    const step = STEPS[event.key];
    const readOnly = current !== undefined && currentColumn !== undefined && !currentColumn.commit;
    if (step) move(...step);
    else if (event.key === "Home") select(row, 0);
    else if (event.key === "End") select(row, columns.length - 1);
    else if ((event.key === "Enter" || event.key === "w") && readOnly) onWhy?.(current, currentColumn);
    else if (event.key === " " && readOnly && onSpace) onSpace(current);
    else if (event.key === "Enter" || event.key === "F2" || event.key === " ") begin();
    else if (event.key === "Delete" && current && onDelete) onDelete(current);
    else if (event.key === "Escape" && current && currentColumn && failed[rowKey(current)]?.[currentColumn.key])
      remember(rowKey(current), currentColumn.key, null);
    else if (event.key.length === 1) typeInto(event.key);
    else return;
    event.preventDefault();
  };

  const paste = useGridPaste({ rows, columns, rowKey, row, column, commit, foot: onNew !== undefined });
  const onPaste = (event: ClipboardEvent) => {
    if (editing === null) void paste(event);
  };

  const say = useSay();
  const onCopy = (event: ClipboardEvent) => {
    if (editing !== null || marked()) return;
    const heads = columns.map((c) => c.head);
    event.clipboardData.setData(
      "text/plain",
      asText([heads, ...rows.map((found) => columns.map((c) => c.text(found)))]),
    );
    event.preventDefault();
    say(`${rows.length} rows copied with their headings.`);
  };

  const blocks = Array.from({ length: Math.ceil(rows.length / BLOCK) }, (_, n) => n * BLOCK);
  const stamps = useMemo(
    () =>
      steady
        ? rows.map((found) =>
            columns
              .map((c) => `${c.text(found)}\u0001${c.title?.(found) ?? ""}\u0001${c.stamp?.(found) ?? ""}`)
              .join("\u0002"),
          )
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
      editing={editing?.of === key ? editing : null}
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
      onPaste={onPaste}
      onCopy={onCopy}
      className="group/grid min-w-0 outline-none max-[1199px]:overflow-x-auto"
    >
      <div role="row" className="grid border-b border-ink" style={{ gridTemplateColumns: template }}>
        {columns.map((c) => (
          <div
            role="columnheader"
            key={c.key}
            className={`self-end px-1 pb-1.5 text-fine font-semibold text-second ${c.align === "right" ? "pr-2 text-right" : ""}`}
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
      <Vanished
        columns={columns}
        failed={failed}
        known={(of) => of === NEW || rows.some((r) => rowKey(r) === of)}
        onLetGo={remember}
      />
    </div>
  );
}

interface VanishedProps<Row> {
  columns: Column<Row>[];
  failed: Record<string, Record<string, Failed>>;
  known: (of: string) => boolean;
  onLetGo: (of: string, column: string, failure: null) => void;
}

/** What was typed in rows that are not there any more. */
function Vanished<Row>({ columns, failed, known, onLetGo }: VanishedProps<Row>) {
  return Object.entries(failed)
    .filter(([of]) => !known(of))
    .flatMap(([of, cells]) =>
      Object.entries(cells).map(([column, wrong]) => (
        <p key={`${of} ${column}`} role="alert" className="bg-wash px-2 py-1 text-plain text-madder">
          <strong>{of}</strong>, {columns.find((c) => c.key === column)?.head}: {wrong.message} You typed{" "}
          <strong>{wrong.typed}</strong>.{" "}
          <button className="quiet" onClick={() => onLetGo(of, column, null)}>
            let it go
          </button>
        </p>
      )),
    );
}
