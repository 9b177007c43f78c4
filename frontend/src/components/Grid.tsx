import {
  Fragment,
  useContext,
  useEffect,
  useId,
  useLayoutEffect,
  useMemo,
  useRef,
  useState,
  type ClipboardEvent,
  type CSSProperties,
  type KeyboardEvent,
  type RefObject,
} from "react";
import { useSearchParams } from "react-router";
import type { Problem } from "../api/client";
import { ActsContext } from "../api/design";
import { LONG } from "./blocks";
import { AllBlocks, liesInScroller, SeenBlocks } from "./Blocks";
import { NEW, type Column, type Edits, type Failed } from "./columns";
import { asText, marked } from "./copied";
import { GridBar } from "./GridBar";
import { GridHead } from "./GridHead";
import { COLUMNS, GridRow } from "./GridRow";
import { useSay } from "./Notice";
import type { RowAct } from "./RowMenu";
import { useEarlier, type Earlier } from "./useEarlier";
import { kept } from "../kept";
import { useGridCursor } from "./useGridCursor";
import { useGridEditing } from "./useGridEditing";
import { useGridPaste } from "./useGridPaste";
import { useGridRange } from "./useGridRange";
import { useGridView } from "./useGridView";
import { templateOf } from "./widths";

interface Props<Row> {
  label: string;
  rows: Row[];
  columns: Column<Row>[];
  rowKey: (row: Row) => string;
  selected?: string | null;
  onSelect?: (row: Row, column: Column<Row>) => void;
  /** Take a row out, with what hangs on it. */
  onDelete?: (row: Row) => void;
  /** One more like a row. */
  onDuplicate?: (row: Row) => void;
  /** The same row before the last edit: what changed is marked. */
  was?: (row: Row) => Row | undefined;
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

/** Lists of fewer rows than this are read at one sight: nothing is sought in them. */
const SOUGHT_IN = 8;

/** A table worked by keyboard: arrows, Enter, type to replace, paste; Delete empties a cell, with Ctrl it takes
 * the row out; errors stay at the cell. */
export function Grid<Row>(props: Props<Row>) {
  const {
    label,
    rows: all,
    columns: stated,
    rowKey,
    selected,
    onSelect,
    onDelete,
    onDuplicate,
    was,
    onWhy,
    onSpace,
    onNew,
    rowHeight = 34,
    empty,
    steady = false,
  } = props;
  const id = useId();
  const frame = useRef<HTMLDivElement>(null);
  const say = useSay();
  const list = label.replace(/ (of|on|at|behind) \S+.*$/, "");
  const { view, rows, columns, groups } = useGridView(list, all, stated, rowKey);
  const hasMenu = onDelete !== undefined || onDuplicate !== undefined;
  const template = useMemo(() => templateOf(columns, all) + (hasMenu ? " 24px" : ""), [columns, all, hasMenu]);
  const field = useRef<HTMLInputElement>(null);
  const range = useGridRange(rows, rowKey);
  const acts = useContext(ActsContext);
  const [menu, setMenu] = useState<string | null>(null);
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
  const asked = useSearchParams()[0].get("at");
  useAsked(asked, rows, rowKey, (r) => {
    select(r, 0);
    // What is open over the room by now keeps the keyboard.
    if (!document.querySelector("[role=dialog]")) frame.current?.focus({ preventScroll: true });
    frame.current?.querySelector(`[data-cell="${r}-0"]`)?.scrollIntoView({ block: "center" });
  });
  const isNew = row >= rows.length;
  const [inScroller, setInScroller] = useState(false);
  const many = rows.length > LONG;
  useLayoutEffect(() => setInScroller(many && frame.current !== null && liesInScroller(frame.current)), [many]);
  const long = many && !inScroller;
  useSoughtByPage(long, field, () => say(`The filter seeks in all ${all.length} rows. Ctrl+F again: this page.`));
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
  const choose = (r: number, c: number, how: "alone" | "all between" | "beside") => {
    range.reach(row, r, how);
    select(r, c);
  };
  /** What was typed, in the cell or in this column of every row that is chosen. */
  const put = (typed: string) => {
    const others = [...range.chosen].filter((r) => r !== row);
    if (editing === null || !acts || !others.length || !range.chosen.has(row) || !currentColumn?.commit)
      return finish(typed);
    cancel();
    fill(typed, [...range.chosen]);
  };
  const fill = (typed: string, into: number[]) => {
    const where = currentColumn;
    if (!where?.commit || !acts) return;
    const work = () =>
      Promise.all(
        into.flatMap((r) => {
          const one = rows[r];
          return one ? [commit(typed, { of: rowKey(one), column: where.key }, where.text(one))] : [];
        }),
      );
    void acts.together(`${where.head}: ${typed || "nothing"} in ${into.length} rows`, work).then((done) => {
      if (!done) void work();
    });
  };
  const latest = useRef({ choose, begin, commit, move, put, remember, cancel, typing });
  useEffect(() => {
    latest.current = { choose, begin, commit, move, put, remember, cancel, typing };
  });
  const edits = useMemo<Edits>(() => {
    const focus = () => frame.current?.focus({ preventScroll: true });
    return {
      onPick: (r, c, how) => {
        focus();
        latest.current.choose(r, c, how);
      },
      onStart: () => latest.current.begin(),
      onDone: (typed, then) => {
        latest.current.put(typed);
        if (then) latest.current.move(...then);
        focus();
      },
      onCancel: () => {
        latest.current.cancel();
        focus();
      },
      onMenu: (name) => setMenu(name),
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

  const rowActs = (found: Row): RowAct[] => [
    ...(onWhy && currentColumn ? [{ label: "Why", keys: "w", run: () => onWhy(found, currentColumn) }] : []),
    ...(onDuplicate ? [{ label: "One more like it", keys: "Ctrl D", run: () => onDuplicate(found) }] : []),
    ...(onDelete ? [{ label: "Take out", keys: "Ctrl Delete", run: () => onDelete(found) }] : []),
  ];
  /** Empties the cell, or the cells of this column that are chosen; a cell that is worked out stays. */
  const emptied = () => {
    if (!current || !currentColumn?.commit || currentColumn.needed) {
      if (current && onDelete) say("This cell is not emptied. Ctrl+Delete takes the row out.");
      return;
    }
    if (range.chosen.size > 1) fill("", [...range.chosen]);
    else void commit("", { of: rowKey(current), column: currentColumn.key }, currentColumn.text(current));
  };
  const withControl = (key: string): boolean => {
    if (key === "Delete" && current && onDelete) onDelete(current);
    else if (key === "Home") choose(0, 0, "alone");
    else if (key === "End") choose(count - 1, columns.length - 1, "alone");
    else if (key === "d" && range.chosen.size > 1 && currentColumn?.commit) {
      const into = [...range.chosen].sort((a, b) => a - b);
      const first = rows[into[0] ?? 0];
      if (first) fill(currentColumn.begin?.(first) ?? currentColumn.text(first), into.slice(1));
    } else if (key === "d" && current && onDuplicate) onDuplicate(current);
    else if (key === "a" && rows.length) range.all();
    else return false;
    return true;
  };
  const withShift = (key: string): boolean => {
    const step = STEPS[key];
    if (key === "F10" && current) setMenu(rowKey(current));
    else if (step && step[0] !== 0)
      choose(Math.max(0, Math.min(rows.length - 1, row + step[0])), column, "all between");
    else return false;
    return true;
  };
  const alone = (key: string): boolean => {
    const step = STEPS[key];
    const readOnly = current !== undefined && currentColumn !== undefined && !currentColumn.commit;
    if (step) {
      range.reach(row, row, "alone");
      move(...step);
    } else if (key === "Home") choose(row, 0, "alone");
    else if (key === "End") choose(row, columns.length - 1, "alone");
    else if (key === "/" && field.current) field.current.focus();
    else if (key === "ContextMenu" && current) setMenu(rowKey(current));
    else if ((key === "Enter" || key === "w") && (readOnly || currentColumn?.workedOut) && current && onWhy)
      onWhy(current, currentColumn);
    else if (key === " " && readOnly && onSpace) onSpace(current);
    else if (key === "Enter" || key === "F2" || key === " ") begin();
    else if (key === "Delete") emptied();
    else if (key === "Escape" && (range.chosen.size || view.sought)) {
      range.reach(row, row, "alone");
      view.setSought("");
    } else if (key === "Escape" && current && currentColumn && failed[rowKey(current)]?.[currentColumn.key])
      remember(rowKey(current), currentColumn.key, null);
    else if (key.length === 1) typeInto(key);
    else return false;
    return true;
  };
  const onKeyDown = (event: KeyboardEvent) => {
    if (editing !== null || event.target !== frame.current || event.altKey) return;
    const { key } = event;
    if (key === "\\" || key === "?") return;
    const done = event.ctrlKey || event.metaKey ? withControl(key) : (event.shiftKey && withShift(key)) || alone(key);
    if (done) event.preventDefault();
  };

  const paste = useGridPaste({ rows, columns, rowKey, row, column, commit, foot: onNew !== undefined });
  const onPaste = (event: ClipboardEvent) => {
    if (editing === null) void paste(event);
  };

  const onCopy = (event: ClipboardEvent) => {
    if (editing !== null || marked()) return;
    const heads = columns.map((c) => c.head);
    const some = range.chosen.size > 1 ? rows.filter((_, r) => range.chosen.has(r)) : rows;
    event.clipboardData.setData(
      "text/plain",
      asText([heads, ...some.map((found) => columns.map((c) => c.text(found)))]),
    );
    event.preventDefault();
    say(`${some.length} rows copied with their headings.`);
  };

  const earlier = useEarlier(label, all, stated, rowKey, was);
  const stampOf = useMemo(
    () =>
      kept((found: Row & object) =>
        columns
          .map((c) => `${c.text(found)}\u0001${c.title?.(found) ?? ""}\u0001${c.stamp?.(found) ?? ""}`)
          .concat(saidBefore(earlier, found, columns) ?? "")
          .join("\u0002"),
      ),
    [columns, earlier],
  );
  const line = (r: number, found: Row | undefined, key: string) => (
    <GridRow
      key={key}
      id={id}
      r={r}
      row={found}
      label={label}
      stamp={steady && found !== undefined ? stampOf(found as Row & object) : null}
      name={key}
      prompt={found === undefined ? onNew?.prompt : undefined}
      columns={columns}
      rowHeight={rowHeight}
      active={r === row ? (found === undefined ? 0 : column) : -1}
      picked={range.chosen.has(r)}
      was={saidBefore(earlier, found, columns)}
      acts={hasMenu && found !== undefined && (r === row || menu === key) ? rowActs(found) : NO_ACTS}
      menu={menu === key}
      editing={editing?.of === key ? editing : null}
      chosen={found !== undefined && selected === key}
      failures={failed[key]}
      edits={edits}
    />
  );
  const draw = (first: number, until: number) =>
    rows.slice(first, until).map((found, n) => {
      const group = groups?.get(first + n);
      if (!group) return line(first + n, found, rowKey(found));
      return (
        <Fragment key={`group ${rowKey(found)}`}>
          <p className="border-b border-rule px-1 pb-1 pt-3 font-semibold">
            {group.name || "none"} <span className="font-figures text-fine text-second">{group.count}</span>
          </p>
          {line(first + n, found, rowKey(found))}
        </Fragment>
      );
    });
  const Blocks = long ? SeenBlocks : AllBlocks;
  const sought = all.length >= SOUGHT_IN || view.sought !== "" || view.kept.hidden.length > 0;
  return (
    <>
      {sought && (
        <GridBar
          label={label}
          view={view}
          columns={stated}
          shown={rows.length}
          of={all.length}
          field={field}
          onLeave={() => frame.current?.focus()}
        />
      )}
      <div
        ref={frame}
        role="grid"
        tabIndex={0}
        aria-label={label}
        aria-rowcount={count + 1}
        aria-multiselectable={true}
        aria-activedescendant={`${id}-${row}-${isNew ? 0 : column}`}
        onKeyDown={onKeyDown}
        onPaste={onPaste}
        onCopy={onCopy}
        className="group/grid min-w-0 outline-none max-[1199px]:overflow-x-auto"
        style={{ [COLUMNS]: template } as CSSProperties}
      >
        <GridHead columns={columns} view={view} />
        {all.length > 0 && rows.length === 0 && (
          <p className="py-3 text-second">
            Nothing here has “{view.sought}” in it.{" "}
            <button className="quiet" onClick={() => view.setSought("")}>
              Show all
            </button>
          </p>
        )}
        {all.length === 0 && !onNew && empty && <p className="py-3 text-second">{empty}</p>}
        <Blocks rows={rows.length} rowHeight={rowHeight} stays={row} typed={editing !== null} draw={draw} />
        {onNew && line(rows.length, undefined, NEW)}
        <Vanished
          columns={columns}
          failed={failed}
          known={(of) => of === NEW || all.some((r) => rowKey(r) === of)}
          onLetGo={remember}
        />
      </div>
    </>
  );
}

/** Goes once to the row that the address names, as soon as it is there. */
function useAsked<Row>(asked: string | null, rows: Row[], rowKey: (row: Row) => string, go: (row: number) => void) {
  const gone = useRef<string | null>(null);
  useEffect(() => {
    if (asked === null || gone.current === asked) return;
    const row = rows.findIndex((one) => rowKey(one) === asked);
    if (row < 0) return;
    gone.current = asked;
    go(row);
  });
}

/** The browser's own search finds only rows that are made: in a long list it leads to the filter first. */
function useSoughtByPage(long: boolean, field: RefObject<HTMLInputElement | null>, onSought: () => void) {
  const latest = useRef(onSought);
  useEffect(() => {
    latest.current = onSought;
  });
  useEffect(() => {
    if (!long) return;
    const onKey = (event: globalThis.KeyboardEvent) => {
      const asked = (event.ctrlKey || event.metaKey) && event.key === "f" && !event.defaultPrevented;
      if (!asked || !field.current || document.activeElement === field.current) return;
      event.preventDefault();
      field.current.focus();
      field.current.select();
      latest.current();
    };
    document.addEventListener("keydown", onKey);
    return () => document.removeEventListener("keydown", onKey);
  }, [long, field]);
}

const NO_ACTS: RowAct[] = [];

/** What a row's cells said before the last edit, as one text, by which rows are told apart; null where the same. */
function saidBefore<Row>(earlier: Earlier<Row>, row: Row | undefined, columns: Column<Row>[]): string | null {
  const cells = row === undefined ? null : earlier(row, columns);
  return cells && JSON.stringify(cells);
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
