import type { DesignReply, Schemas } from "./client";

export type DesignChanges = Schemas["DesignChanges"];
type Change = { at: (string | number)[]; put?: unknown; take?: string[]; arrange?: (number[] | { new: unknown })[] };
type Tree = Record<string | number, unknown>;

/** What a reply is after some changes. What none of them touches keeps its identity; the reply held stays as it is. */
export function changed<T extends object>(held: T, changes: readonly Change[]): T {
  const own = new Set<unknown>();
  const copied = (value: unknown): Tree => {
    if (own.has(value)) return value as Tree;
    const copy = (Array.isArray(value) ? [...(value as unknown[])] : { ...(value as object) }) as unknown as Tree;
    own.add(copy);
    return copy;
  };
  const root = copied(held);
  for (const change of changes) {
    let parent = root;
    for (const step of change.at.slice(0, -1)) parent = parent[step] = copied(parent[step]);
    const last = change.at.at(-1) ?? "";
    if (change.take) {
      const gone = new Set(change.take);
      const rest = Object.fromEntries(Object.entries(parent[last] as object).filter(([key]) => !gone.has(key)));
      own.add(rest);
      parent[last] = rest;
    } else if (change.arrange) {
      const before = parent[last] as unknown[];
      parent[last] = change.arrange.flatMap((part) =>
        Array.isArray(part) ? before.slice(part[0], (part[0] ?? 0) + (part[1] ?? 0)) : [part.new],
      );
    } else parent[last] = change.put;
  }
  return root as T;
}

/** The reply after an edit: sent whole, or made of the one held; null where the changes are of another one. */
export function whole(sent: DesignReply | DesignChanges, held: DesignReply | undefined): DesignReply | null {
  if (!("changes" in sent)) return shared(held, sent) as DesignReply;
  if (held?.etag !== sent.held) return null;
  const { version, etag, undo_label, redo_label } = sent;
  return { ...changed(held, sent.changes as Change[]), version, etag, undo_label, redo_label };
}

/** What did not change keeps its identity. The fresh reply is nobody else's yet and is changed in place. */
export function shared(before: unknown, fresh: unknown): unknown {
  if (before === fresh) return before;
  if (typeof before !== "object" || typeof fresh !== "object" || before === null || fresh === null) return fresh;
  if (Array.isArray(before) !== Array.isArray(fresh)) return fresh;
  const old = before as Record<string, unknown>;
  const now = fresh as Record<string, unknown>;
  const keys = Object.keys(now);
  let same = keys.length === Object.keys(old).length;
  for (const key of keys) {
    const kept = shared(old[key], now[key]);
    now[key] = kept;
    if (kept !== old[key]) same = false;
  }
  return same ? before : fresh;
}
