import {
  useCallback,
  useContext,
  useEffect,
  useId,
  useMemo,
  useRef,
  useState,
  type ClipboardEvent,
  type KeyboardEvent,
} from "react";
import { lost, type Problem } from "../api/client";
import { ActsContext } from "../api/design";
import type { Cell, Column, Edits, Failed, Open } from "./columns";
import { GridRow } from "./GridRow";
import { useSay } from "./Notice";

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

/** Where the cursor is: the row by its key, so that it stays there when rows come and go above it. */
type At = { of: string | null; row: number; column: number };

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
  const {
    label,
    rows,
    columns,
    rowKey,
    selected,
    onSelect,
    onDelete,
    onWhy,
    onNew,
    rowHeight = 34,
    empty,
    steady = false,
  } = props;
  const id = useId();
  const say = useSay();
  const [at, setAt] = useState<At>({ of: null, row: 0, column: 0 });
  const [editing, setEditing] = useState<Open | null>(null);
  const [failed, setFailed] = useState<Record<string, Record<string, Failed>>>({});
  const acts = useContext(ActsContext);
  const frame = useRef<HTMLDivElement>(null);
  /** What is typed so far in the cell that is open. */
  const draft = useRef<string | null>(null);
  const count = rows.length + (onNew ? 1 : 0);
  const template = useMemo(() => columns.map((c) => c.width).join(" "), [columns]);
  const stands =
    at.of === null ? -1 : at.of === NEW && onNew ? rows.length : rows.findIndex((r) => rowKey(r) === at.of);
  const row = stands >= 0 ? stands : Math.max(0, Math.min(at.row, count - 1));
  const column = Math.min(at.column, columns.length - 1);
  const isNew = row >= rows.length;
  const current = rows[row];
  const currentColumn = columns[column];

  useEffect(() => {
    // Only while it is worked in: a grid that merely appears must not move the page.
    if (!frame.current?.contains(document.activeElement)) return;
    // With the next frame, which lays the page out anyway: an edit must not wait for that.
    const next = requestAnimationFrame(() => {
      frame.current
        ?.querySelector(`[data-cell="${row}-${column}"]`)
        ?.scrollIntoView({ block: "nearest", inline: "nearest" });
    });
    return () => cancelAnimationFrame(next);
  }, [row, column]);

  const select = (r: number, c: number) => {
    const found = rows[r];
    setAt({ of: found ? rowKey(found) : NEW, row: r, column: c });
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

  /** Put in what was typed in a cell that read `from` when it was begun. */
  const commit = async (typed: string, cell: Cell, from: string | null) => {
    const found = cell.of === NEW ? undefined : rows.find((r) => rowKey(r) === cell.of);
    const where = columns.find((c) => c.key === cell.column);
    if (!where) return;
    if (cell.of !== NEW && !found) {
      remember(cell.of, cell.column, { typed, message: "It was taken out in another window.", outdone: false });
      return;
    }
    const unchanged = found !== undefined && (typed === from || typed === where.text(found));
    if (found && !unchanged && from !== null && where.text(found) !== from) {
      remember(cell.of, cell.column, { typed, message: "", outdone: true });
      return;
    }
    const send = unchanged ? undefined : found ? where.commit?.(found, typed) : onNew?.commit(typed);
    const problem = send ? await send : null;
    remember(
      cell.of,
      cell.column,
      problem ? { typed, message: problem.detail, outdone: found !== undefined && lost(problem) } : null,
    );
    // What is typed in the same cell since is typed over this, not over somebody else's.
    if (!problem && send)
      setEditing((open) => (open?.of === cell.of && open.column === cell.column ? { ...open, from: null } : open));
    if (problem && !frame.current) say(`${where.head}: “${typed}” was not put in. ${problem.detail}`);
  };

  const start = (typed?: string) => {
    if (isNew ? !onNew : !currentColumn?.commit) return;
    const of = current ? rowKey(current) : NEW;
    const from = current && currentColumn ? currentColumn.text(current) : "";
    const kept = failed[of]?.[currentColumn?.key ?? ""]?.typed;
    const begun = current && currentColumn?.begin ? currentColumn.begin(current) : from;
    const text = typed ?? kept ?? begun;
    draft.current = typed ?? null;
    setEditing({
      of,
      column: isNew ? (columns[0]?.key ?? "") : (currentColumn?.key ?? ""),
      start: text,
      from,
      begun: text === begun,
    });
  };

  /** End the edit that is open, with what was typed in it. */
  const finish = (typed: string) => {
    const open = editing;
    setEditing(null);
    // The words an edit begins with, left as they were, are no edit.
    if (open && !(open.begun && typed === open.start)) void commit(typed, open, open.from);
  };

  // The rows see one set of handlers that never changes, so that only rows that change are drawn again.
  const latest = useRef({ select, start, commit, move, finish, remember, editing });
  useEffect(() => {
    latest.current = { select, start, commit, move, finish, remember, editing };
  });

  // What is being typed in a row that another window takes out is kept below the grid.
  const vanished = editing !== null && editing.of !== NEW && !rows.some((r) => rowKey(r) === editing.of);
  useEffect(() => {
    if (vanished) finish(draft.current ?? editing.start);
  });
  // Leaving the room with a cell open puts it in, as leaving the cell does.
  useEffect(
    () => () => {
      const { editing: open, commit: put } = latest.current;
      const typed = draft.current;
      if (open && typed !== null && !(open.begun && typed === open.start)) void put(typed, open, open.from);
    },
    [],
  );

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
    else if (event.key === "Escape" && current && currentColumn && failed[rowKey(current)]?.[currentColumn.key])
      remember(rowKey(current), currentColumn.key, null);
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
      if (rows[row + down])
        line.split("\t").forEach((cell, right) => cells.push({ typed: cell.trim(), r: row + down, c: column + right }));
      else more.push(line.replaceAll("\t", " ").trim());
    });
    const all = () =>
      Promise.all(
        cells.map(({ typed, r, c }) => {
          const found = rows[r];
          const where = columns[c];
          return found && where?.commit
            ? commit(typed, { of: rowKey(found), column: where.key }, where.text(found))
            : Promise.resolve();
        }),
      );
    // One paste is one edit; where something in it is refused, each cell says for itself.
    if (cells.length > 1 && acts) {
      if (!(await acts.together(`paste ${cells.length} cells`, all))) await all();
    } else await all();
    const wanted = more.filter(Boolean).join("\n");
    if (wanted && onNew) await commit(wanted, { of: NEW, column: columns[0]?.key ?? "" }, null);
  };

  const onPick = useCallback((r: number, c: number) => {
    frame.current?.focus({ preventScroll: true });
    latest.current.select(r, c);
  }, []);
  const onStart = useCallback(() => latest.current.start(), []);
  const onDone = useCallback((typed: string, then: [number, number] | null) => {
    latest.current.finish(typed);
    if (then) latest.current.move(...then);
    frame.current?.focus({ preventScroll: true });
  }, []);
  const onCancel = useCallback(() => {
    setEditing(null);
    frame.current?.focus({ preventScroll: true });
  }, []);
  const onTyping = useCallback((typed: string) => {
    draft.current = typed;
  }, []);
  const onMine = useCallback((cell: Cell, typed: string) => {
    frame.current?.focus({ preventScroll: true });
    void latest.current.commit(typed, cell, null);
  }, []);
  const onTheirs = useCallback((cell: Cell) => {
    frame.current?.focus({ preventScroll: true });
    latest.current.remember(cell.of, cell.column, null);
  }, []);
  const edits = useMemo<Edits>(
    () => ({ onPick, onStart, onDone, onCancel, onTyping, onMine, onTheirs }),
    [onPick, onStart, onDone, onCancel, onTyping, onMine, onTheirs],
  );

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
      onPaste={(e) => void onPaste(e)}
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
      {Object.entries(failed)
        .filter(([of]) => of !== NEW && !rows.some((r) => rowKey(r) === of))
        .flatMap(([of, cells]) =>
          Object.entries(cells).map(([column, wrong]) => (
            <p key={`${of} ${column}`} role="alert" className="bg-wash px-2 py-1 text-plain text-madder">
              <strong>{of}</strong>, {columns.find((c) => c.key === column)?.head}: {wrong.message} You typed{" "}
              <strong>{wrong.typed}</strong>.{" "}
              <button className="quiet" onClick={() => remember(of, column, null)}>
                let it go
              </button>
            </p>
          )),
        )}
    </div>
  );
}
