import { useCallback, useEffect, useRef, useState, type KeyboardEvent, type PointerEvent } from "react";
import type { View } from "./drawing";
import type { Spot } from "./labels";

const CLOSEST = 24;
const FIT: View = { zoom: 1, dx: 0, dy: 0 };
const STEP = 60;

/** How close one looks and where, by wheel, by drag and by keys. */
export function useDrawingView() {
  const [view, setView] = useState<View>(FIT);
  const svg = useRef<SVGSVGElement>(null);
  const drag = useRef<{ x: number; y: number; from: View } | null>(null);
  const closer = useCallback((by: number, at: Spot = { x: 0, y: 0 }) => {
    setView((before) => {
      const zoom = Math.min(CLOSEST, Math.max(1, before.zoom * by));
      if (zoom === 1) return FIT;
      // What lies under the pointer stays there.
      const ratio = zoom / before.zoom;
      return { zoom, dx: at.x - (at.x - before.dx) * ratio, dy: at.y - (at.y - before.dy) * ratio };
    });
  }, []);
  const all = useCallback(() => setView(FIT), []);
  useEffect(() => {
    const box = svg.current;
    if (!box) return;
    // A wheel with Ctrl, or two fingers spread, comes closer; a plain wheel scrolls the page.
    const onWheel = (e: WheelEvent) => {
      if (!e.ctrlKey && !e.metaKey) return;
      e.preventDefault();
      const rect = box.getBoundingClientRect();
      closer(Math.exp(-e.deltaY / 300), {
        x: e.clientX - rect.left - rect.width / 2,
        y: e.clientY - rect.top - rect.height / 2,
      });
    };
    box.addEventListener("wheel", onWheel, { passive: false });
    return () => box.removeEventListener("wheel", onWheel);
  }, [closer]);
  const letGo = () => (drag.current = null);
  const move = (dx: number, dy: number) => setView((before) => ({ ...before, dx: before.dx + dx, dy: before.dy + dy }));
  const keys: Record<string, () => void> = {
    "+": () => closer(1.4),
    "=": () => closer(1.4),
    "-": () => closer(1 / 1.4),
    "0": all,
    ArrowLeft: () => move(STEP, 0),
    ArrowRight: () => move(-STEP, 0),
    ArrowUp: () => move(0, STEP),
    ArrowDown: () => move(0, -STEP),
  };
  const handlers = {
    onPointerDown: (e: PointerEvent) => {
      drag.current = { x: e.clientX, y: e.clientY, from: view };
    },
    onPointerMove: (e: PointerEvent) => {
      const begun = drag.current;
      if (!begun || !e.buttons) return;
      const { from } = begun;
      setView({ ...from, dx: from.dx + e.clientX - begun.x, dy: from.dy + e.clientY - begun.y });
    },
    onPointerUp: letGo,
    onPointerLeave: letGo,
    onKeyDown: (e: KeyboardEvent) => {
      const act = keys[e.key];
      if (!act || e.ctrlKey || e.altKey || e.metaKey) return;
      e.preventDefault();
      act();
    },
  };
  return { view, svg, closer, all, handlers };
}
