import { useCallback, useEffect, useId, useMemo, useRef, useState, type KeyboardEvent, type ReactNode } from "react";
import type { Problem } from "../api/client";

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
}

type At = { row: number; column: number };
type Failed = { typed: string; message: string };

function without(all: Record<string, Failed>, key: string): Record<string, Failed> {
  return Object.fromEntries(Object.entries(all).filter(([k]) => k !== key));
}

/** A table worked by keyboard: arrows, Enter, type to replace, paste, Delete; errors stay at the cell. */
export function Grid<Row>({
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
}: Props<Row>) {
  const id = useId();
  const [at, setAt] = useState<At>({ row: 0, column: 0 });
  const [editing, setEditing] = useState<string | null>(null);
  const [failed, setFailed] = useState<Record<string, Failed>>({});
  const frame = useRef<HTMLDivElement>(null);
  const count = rows.length + (onNew ? 1 : 0);
  const template = useMemo(() => columns.map((c) => c.width).join(" "), [columns]);
  const row = Math.max(0, Math.min(at.row, count - 1));
  const column = Math.min(at.column, columns.length - 1);
  const isNew = row >= rows.length;
  const current = rows[row];
  const currentColumn = columns[column];

  const cellKey = (r: number, c: number) => {
    const found = rows[r];
    return `${found ? rowKey(found) : "new"}:${columns[c]?.key ?? ""}`;
  };

  useEffect(() => {
    // Only while it is worked in: a grid that merely appears must not move the page.
    if (!frame.current?.contains(document.activeElement)) return;
    frame.current
      ?.querySelector(`[data-cell="${row}-${column}"]`)
      ?.scrollIntoView({ block: "nearest", inline: "nearest" });
  }, [row, column]);

  const select = useCallback(
    (r: number, c: number) => {
      setAt({ row: r, column: c });
      const found = rows[r];
      const where = columns[c];
      if (found && where) onSelect?.(found, where);
    },
    [rows, columns, onSelect],
  );

  const move = (down: number, right: number) => {
    const r = Math.max(0, Math.min(count - 1, row + down));
    const c = Math.max(0, Math.min(columns.length - 1, column + right));
    select(r, c);
  };

  const commit = async (typed: string, r: number, c: number, from: string) => {
    const found = rows[r];
    const where = columns[c];
    if (!where) return;
    const key = cellKey(r, c);
    const send = found ? where.commit?.(found, typed) : onNew?.commit(typed);
    if (!send || (found && typed === from)) {
      setFailed((all) => without(all, key));
      return;
    }
    const problem = await send;
    setFailed((all) => (problem ? { ...all, [key]: { typed, message: problem.detail } } : without(all, key)));
  };

  const start = (typed?: string) => {
    if (isNew ? !onNew : !currentColumn?.commit) return;
    const key = cellKey(row, column);
    setEditing(typed ?? failed[key]?.typed ?? (current && currentColumn ? (currentColumn.begin ?? currentColumn.text)(current) : ""));
  };

  const onKeyDown = (event: KeyboardEvent) => {
    if (editing !== null || event.target !== frame.current) return;
    if (event.ctrlKey || event.metaKey || event.altKey) return;
    const steps: Record<string, [number, number]> = {
      ArrowDown: [1, 0],
      ArrowUp: [-1, 0],
      ArrowRight: [0, 1],
      ArrowLeft: [0, -1],
      PageDown: [10, 0],
      PageUp: [-10, 0],
    };
    const step = steps[event.key];
    if (step) move(...step);
    else if (event.key === "Home") select(row, 0);
    else if (event.key === "End") select(row, columns.length - 1);
    else if (event.key === "Enter" || event.key === "F2") {
      if (!isNew && currentColumn && !currentColumn.commit && current) onWhy?.(current, currentColumn);
      else start();
    } else if (event.key === "Delete" && current && onDelete) onDelete(current);
    else if (event.key === "w" && current && currentColumn && !currentColumn.commit && onWhy) onWhy(current, currentColumn);
    else if (event.key.length === 1 && event.key !== " ") start(event.key);
    else if (event.key === " ") start();
    else return;
    event.preventDefault();
  };

  const onPaste = async (event: React.ClipboardEvent) => {
    if (editing !== null) return;
    const text = event.clipboardData.getData("text/plain");
    if (!text) return;
    event.preventDefault();
    const lines = text.replace(/\r?\n$/, "").split(/\r?\n/);
    for (const [down, line] of lines.entries()) {
      for (const [right, cell] of line.split("\t").entries()) {
        const found = rows[row + down];
        const where = columns[column + right];
        if (found && where?.commit) await commit(cell.trim(), row + down, column + right, where.text(found));
        else if (!found && right === 0 && onNew) await commit(line.replaceAll("\t", " ").trim(), rows.length, 0, "");
      }
    }
  };

  const done = (typed: string, from: string, then: [number, number] | null) => {
    setEditing(null);
    void commit(typed, row, column, from);
    if (then) move(...then);
    frame.current?.focus();
  };

  return (
    <div
      ref={frame}
      role="grid"
      tabIndex={0}
      aria-label={label}
      aria-rowcount={count + 1}
      aria-activedescendant={`${id}-${row}-${column}`}
      onKeyDown={onKeyDown}
      onPaste={(e) => void onPaste(e)}
      className="group/grid min-w-0 outline-none"
    >
      <div role="row" className="grid border-b border-ink" style={{ gridTemplateColumns: template }}>
        {columns.map((c) => (
          <div
            role="columnheader"
            key={c.key}
            className={`self-end px-1 pb-1.5 text-[13px] font-semibold text-second ${c.align === "right" ? "pr-2.5 text-right" : ""}`}
          >
            {c.head}
          </div>
        ))}
      </div>
      {rows.length === 0 && !onNew && empty && <p className="py-3 text-second">{empty}</p>}
      {Array.from({ length: count }, (_, r) => {
        const found = rows[r];
        const key = found ? rowKey(found) : "new";
        const chosen = found !== undefined && selected === key;
        return (
          <div key={key}>
            <div
              role="row"
              aria-selected={chosen}
              className={`grid border-b border-faint ${chosen ? "bg-wash shadow-[inset_3px_0_0_var(--madder)]" : ""}`}
              style={{ gridTemplateColumns: found ? template : "1fr", minHeight: rowHeight }}
            >
              {(found ? columns : columns.slice(0, 1)).map((c, i) => {
                const active = r === row && (i === column || !found);
                const wrong = failed[cellKey(r, i)];
                return (
                  <div
                    role="gridcell"
                    key={c.key}
                    id={`${id}-${r}-${i}`}
                    data-cell={`${r}-${i}`}
                    aria-invalid={wrong ? true : undefined}
                    aria-readonly={found && !c.commit ? true : undefined}
                    title={found && c.title ? c.title(found) : undefined}
                    onMouseDown={(e) => {
                      if (active && editing !== null) return;
                      if ((e.target as HTMLElement).closest("button, a, input")) return;
                      e.preventDefault();
                      frame.current?.focus();
                      select(r, i);
                    }}
                    onDoubleClick={() => start()}
                    className={[
                      "relative flex min-w-0 items-center px-1",
                      c.align === "right" && found ? "justify-end pr-2.5 text-right" : "",
                      c.figures ? "font-figures text-[14px]" : c.small ? "text-[13.5px]" : "",
                      found && c.commit ? "" : "text-ink",
                      active ? "group-focus/grid:outline-2 group-focus/grid:-outline-offset-2 group-focus/grid:outline-blue" : "",
                      wrong ? "text-madder" : "",
                    ].join(" ")}
                  >
                    {active && editing !== null ? (
                      <Editor
                        label={found ? `${c.head} of ${key}` : label}
                        start={editing}
                        from={found ? c.text(found) : ""}
                        {...(found && c.choices ? { choices: c.choices(found) } : {})}
                        onDone={done}
                        onCancel={() => {
                          setEditing(null);
                          frame.current?.focus();
                        }}
                      />
                    ) : wrong ? (
                      <span className="truncate underline decoration-wavy">{wrong.typed}</span>
                    ) : found ? (
                      <span className="min-w-0 truncate">{c.show ? c.show(found) : c.text(found)}</span>
                    ) : (
                      <span className="text-second">{onNew?.prompt}</span>
                    )}
                  </div>
                );
              })}
            </div>
            {columns.map((c, i) => {
              const wrong = failed[cellKey(r, i)];
              return (
                wrong &&
                (found || i === 0) && (
                  <p key={c.key} role="alert" className="bg-wash px-2 py-1 text-[14px] text-madder">
                    <strong>{found ? c.head : "Not put in"}:</strong> {wrong.message}
                  </p>
                )
              );
            })}
          </div>
        );
      })}
    </div>
  );
}

interface EditorProps {
  label: string;
  start: string;
  from: string;
  choices?: { value: string; label: string }[];
  onDone: (typed: string, from: string, then: [number, number] | null) => void;
  onCancel: () => void;
}

/** The input of one cell; with choices, the ones that match what is typed lie below it. */
function Editor({ label, start, from, choices, onDone, onCancel }: EditorProps) {
  const [typed, setTyped] = useState(choices && start === from ? "" : start);
  const [pick, setPick] = useState(0);
  const over = useRef(false);
  const list = useId();
  const input = useRef<HTMLInputElement>(null);
  useEffect(() => {
    const box = input.current;
    box?.focus();
    if (!choices && start === from) box?.select();
    // Only at the start of the edit.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, []);
  const lowered = typed.toLowerCase();
  const matching = choices?.filter((c) => c.label.toLowerCase().includes(lowered) || c.value.toLowerCase().includes(lowered));
  const chosen = matching?.[Math.min(pick, matching.length - 1)];
  const finish = (then: [number, number] | null) => {
    if (over.current) return;
    over.current = true;
    if (!choices) onDone(typed, from, then);
    else if (typed === "" && pick === 0) onCancel();
    else onDone(chosen ? chosen.value : typed, from, then);
  };
  return (
    <span className="absolute inset-0 z-10">
      <input
        ref={input}
        aria-label={label}
        role={choices ? "combobox" : undefined}
        aria-expanded={choices ? true : undefined}
        aria-controls={choices ? list : undefined}
        value={typed}
        placeholder={choices ? from : undefined}
        onChange={(e) => {
          setTyped(e.target.value);
          setPick(0);
        }}
        onBlur={() => finish(null)}
        onKeyDown={(e) => {
          if (e.key === "Enter") finish([1, 0]);
          else if (e.key === "Tab") finish([0, e.shiftKey ? -1 : 1]);
          else if (e.key === "Escape") {
            over.current = true;
            onCancel();
          } else if (choices && e.key === "ArrowDown") setPick((n) => Math.min(n + 1, (matching?.length ?? 1) - 1));
          else if (choices && e.key === "ArrowUp") setPick((n) => Math.max(n - 1, 0));
          else return;
          e.preventDefault();
          e.stopPropagation();
        }}
        className="h-full w-full bg-sheet px-1.5 font-figures text-[14px] text-ink outline-2 -outline-offset-2 outline-madder"
      />
      {matching && (
        <ul
          id={list}
          role="listbox"
          aria-label={label}
          className="absolute left-0 top-full z-20 max-h-56 min-w-full overflow-auto border border-ink bg-sheet py-1 text-left font-text"
        >
          {matching.length === 0 && <li className="px-2 text-madder">none of these</li>}
          {matching.map((c) => (
            <li
              key={c.value}
              role="option"
              aria-selected={c === chosen}
              onMouseDown={(e) => {
                e.preventDefault();
                over.current = true;
                onDone(c.value, from, null);
              }}
              className={`cursor-pointer whitespace-nowrap px-2 py-0.5 ${c === chosen ? "bg-wash font-semibold" : ""}`}
            >
              {c.label}
            </li>
          ))}
        </ul>
      )}
    </span>
  );
}
