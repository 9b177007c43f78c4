import { useWindowVirtualizer, defaultRangeExtractor } from "@tanstack/react-virtual";
import { Fragment, useEffect, useRef, useState, type ReactNode } from "react";
import { blocksOf, BLOCK, gapBefore } from "./blocks";

/** What a block does not hold is not painted: it is as wide as its rows, in a list that is wider than the screen. */
const WIDE = "min-content";

interface Props {
  /** How many rows there are. */
  rows: number;
  rowHeight: number;
  /** A row that stays made wherever it lies: the one that the keyboard is in. */
  stays: number;
  /** Whether that row is being typed in. */
  typed: boolean;
  /** The rows from one number until before another. */
  draw: (first: number, until: number) => ReactNode;
}

/** Rows of a list that is short: all are there, laid out and painted block by block as they come into view. */
export function AllBlocks({ rows, rowHeight, stays, typed, draw }: Props) {
  return blocksOf(rows).map(([first, until]) => (
    <div
      key={first}
      style={{
        contentVisibility: typed && stays >= first && stays < until ? "visible" : "auto",
        minWidth: WIDE,
        containIntrinsicBlockSize: `auto ${(until - first) * rowHeight}px`,
      }}
    >
      {draw(first, until)}
    </div>
  ));
}

/** Rows of a long list, of which only those near to what is seen are made. */
export function SeenBlocks({ rows, rowHeight, stays, typed, draw }: Props) {
  const place = useRef<HTMLDivElement>(null);
  const [above, setAbove] = useState(0);
  const blocks = blocksOf(rows);
  useEffect(() => {
    const body = place.current;
    if (!body) return;
    // What stands over the list grows and shrinks: the page says so once it is laid out.
    const watch = new ResizeObserver(() => setAbove(Math.round(body.getBoundingClientRect().top + window.scrollY)));
    watch.observe(document.body);
    return () => watch.disconnect();
  }, []);
  const seen = useWindowVirtualizer({
    count: blocks.length,
    estimateSize: (n) => ((blocks[n]?.[1] ?? 0) - (blocks[n]?.[0] ?? 0)) * rowHeight,
    scrollMargin: above,
    overscan: 3,
    // A scroll is drawn with the next frame: nothing waits for it.
    useFlushSync: false,
    rangeExtractor: (range) => {
      const near = defaultRangeExtractor(range);
      const own = Math.floor(stays / BLOCK);
      return near.includes(own) || own >= blocks.length ? near : [...near, own].sort((a, b) => a - b);
    },
  });
  const items = seen.getVirtualItems();
  const last = items.at(-1);
  return (
    <div ref={place} style={{ overflowAnchor: "none" }}>
      {items.map((item, n) => {
        const [first, until] = blocks[item.index] ?? [0, 0];
        const gap = gapBefore(items, n, above);
        return (
          <Fragment key={first}>
            {gap > 0 && <div style={{ height: gap }} />}
            <div
              data-index={item.index}
              ref={seen.measureElement}
              // Painted by itself: what changes elsewhere leaves it as it was painted.
              style={{
                minWidth: WIDE,
                contain: typed && stays >= first && stays < until ? "none" : "layout paint style",
              }}
            >
              {draw(first, until)}
            </div>
          </Fragment>
        );
      })}
      <div style={{ height: Math.max(0, seen.getTotalSize() - (last ? last.end - above : 0)) }} />
    </div>
  );
}

/** Whether a list lies in something that scrolls by itself: the page's own scrolling says nothing of it then. */
export function liesInScroller(list: HTMLElement): boolean {
  for (let at = list.parentElement; at && at !== document.body; at = at.parentElement)
    if (/auto|scroll/.test(getComputedStyle(at).overflowY)) return true;
  return false;
}
