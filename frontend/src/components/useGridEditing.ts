import { useEffect, useRef, useState, type RefObject } from "react";
import { lost, type Problem } from "../api/client";
import { NEW, type Cell, type Column, type Failed, type Open } from "./columns";
import { useSay } from "./Notice";

interface Asked<Row> {
  rows: Row[];
  columns: Column<Row>[];
  rowKey: (row: Row) => string;
  onNew: { commit: (typed: string) => Promise<Problem | null> } | undefined;
  frame: RefObject<HTMLDivElement | null>;
}

function without<T>(all: Record<string, T>, key: string): Record<string, T> {
  return Object.fromEntries(Object.entries(all).filter(([k]) => k !== key));
}

/** What is typed in a grid: the cell that is open, what was put in, and what was refused, kept at its cell. */
export function useGridEditing<Row>({ rows, columns, rowKey, onNew, frame }: Asked<Row>) {
  const say = useSay();
  const [editing, setEditing] = useState<Open | null>(null);
  const [failed, setFailed] = useState<Record<string, Record<string, Failed>>>({});
  /** What is typed so far in the cell that is open. */
  const draft = useRef<string | null>(null);

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
    const stated = cell.of === NEW ? undefined : rows.find((r) => rowKey(r) === cell.of);
    const where = columns.find((c) => c.key === cell.column);
    if (!where) return;
    if (cell.of !== NEW && !stated) {
      remember(cell.of, cell.column, { typed, message: "It was taken out in another window.", outdone: false });
      return;
    }
    const unchanged = stated !== undefined && (typed === from || typed === where.text(stated));
    if (stated && !unchanged && from !== null && where.text(stated) !== from) {
      remember(cell.of, cell.column, { typed, message: "", outdone: true });
      return;
    }
    const send = unchanged ? undefined : stated ? where.commit?.(stated, typed) : onNew?.commit(typed);
    const problem = send ? await send : null;
    const outdone = problem !== null && stated !== undefined && lost(problem);
    remember(cell.of, cell.column, problem ? { typed, message: problem.detail, outdone } : null);
    // What is typed in the same cell since is typed over this, not over somebody else's.
    if (!problem && send)
      setEditing((open) => (open?.of === cell.of && open.column === cell.column ? { ...open, from: null } : open));
    if (problem && !frame.current) say(`${where.head}: “${typed}” was not put in. ${problem.detail}`);
  };

  /** Open a cell, or the empty row at the foot, with what was typed, what was refused there, or what it says. */
  const start = (stated: Row | undefined, where: Column<Row> | undefined, typed?: string) => {
    if (stated === undefined ? !onNew : !where?.commit) return;
    const of = stated !== undefined ? rowKey(stated) : NEW;
    const from = stated !== undefined && where ? where.text(stated) : "";
    const kept = failed[of]?.[where?.key ?? ""]?.typed;
    const begins = stated !== undefined && where?.begin ? where.begin(stated) : from;
    const text = typed ?? kept ?? begins;
    draft.current = typed ?? null;
    const column = stated === undefined ? (columns[0]?.key ?? "") : (where?.key ?? "");
    setEditing({ of, column, start: text, from, begun: text === begins });
  };

  /** End the edit that is open, with what was typed in it. */
  const finish = (typed: string) => {
    const open = editing;
    setEditing(null);
    // The words an edit begins with, left as they were, are no edit.
    if (open && !(open.begun && typed === open.start)) void commit(typed, open, open.from);
  };

  // What is being typed in a row that another window takes out is kept below the grid.
  const vanished = editing !== null && editing.of !== NEW && !rows.some((r) => rowKey(r) === editing.of);
  useEffect(() => {
    if (vanished) finish(draft.current ?? editing.start);
  });
  const latest = useRef({ editing, commit });
  useEffect(() => {
    latest.current = { editing, commit };
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
  const typing = (typed: string) => {
    draft.current = typed;
  };
  return { editing, failed, typing, commit, start, finish, remember, cancel: () => setEditing(null) };
}
