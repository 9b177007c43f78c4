import { useCallback, useMemo } from "react";
import { useCutActs, useCutPlan, type PlannedPiece } from "../../api/cut";
import { useSay } from "../../components/Notice";

interface Tick {
  /** How many harnesses of the quantity it is cut for. */
  done: number;
  of: number;
  /** The one that is cut next, and the spool that it comes off. */
  next: { number: number; spool: string | null; place: string } | null;
}

/** What of every piece is cut, and how a tick is set or taken back. */
export function useTicks() {
  const { data } = useCutPlan();
  const { act } = useCutActs();
  const say = useSay();
  const ticks = useMemo(() => {
    const known = new Map<string, Tick>();
    const put = (p: PlannedPiece, spool: string | null, place: string) => {
      if (p.spoiled) return;
      const tick = known.get(p.piece) ?? { done: 0, of: 0, next: null };
      tick.of += 1;
      if (p.done) tick.done += 1;
      else if (tick.next === null || p.number < tick.next.number) tick.next = { number: p.number, spool, place };
      known.set(p.piece, tick);
    };
    for (const part of data?.plan.parts ?? []) {
      for (const spool of part.spools) for (const p of spool.pieces) put(p, spool.spool, spool.place);
      for (const p of part.short) put(p, null, "");
      for (const p of part.loose) put(p, null, "");
    }
    return known;
  }, [data]);
  const toggle = useCallback(
    (piece: string, label: string) => {
      const tick = ticks.get(piece);
      if (!tick) return;
      const { next } = tick;
      const sent =
        next === null
          ? act({ piece, number: tick.of }, "taken back", null)
          : act({ piece, number: next.number }, "cut", next.spool);
      void sent.then((problem) => problem && say(`${label}: ${problem.detail}`));
    },
    [act, say, ticks],
  );
  return { ticks, toggle };
}
