import { useLayoutEffect, useMemo, useRef, useState } from "react";
import { useDesign } from "../../api/design";
import { draw, HEIGHT } from "./drawing";
import { Branches, Lengths, Marks, Names, Points, ScaleBar, Splices, Tints, ZoneNames } from "./DrawingLayers";
import type { Extras } from "./marks";
import { useDrawingView } from "./useDrawingView";
import { unitsOf } from "../../format";

/** The route as it will lie on the board: straight branches to scale, lengths on them, zones as tints along them. */
export function RouteDrawing({ chosen, onChoose }: { chosen: string | null; onChoose: (branch: string) => void }) {
  const { design } = useDesign();
  const [extras, setExtras] = useState<Extras>({ stations: false, clamps: false });
  const { view, svg, closer, all, handlers } = useDrawingView();
  const { frame, width } = useWidth();
  const picture = useMemo(() => draw(design, view, width, extras, chosen), [design, view, width, extras, chosen]);
  const units = unitsOf(design.document);
  return (
    <div ref={frame}>
      <svg
        ref={svg}
        viewBox={`0 0 ${width} ${HEIGHT}`}
        width={width}
        height={HEIGHT}
        tabIndex={0}
        className="w-full touch-pan-y select-none border border-ink bg-sheet"
        role="img"
        aria-label="The route, drawn to scale. Plus and minus come closer and go back, arrows move it, 0 shows all of it."
        {...handlers}
      >
        <Tints tints={picture.tints} />
        <Branches branches={picture.branches} chosen={chosen} onChoose={onChoose} />
        <Marks marks={picture.marks} />
        <ZoneNames zones={picture.zones} />
        <Lengths lengths={picture.lengths} chosen={chosen} />
        <Splices splices={picture.splices} />
        <Points points={picture.points} />
        <Names names={picture.names} />
        <ScaleBar bar={picture.bar} units={units} right={width - 24} low={HEIGHT - 14} />
      </svg>
      <Controls closer={closer} all={all} extras={extras} setExtras={setExtras} waiting={picture.waiting} />
    </div>
  );
}

/** The width of what holds the drawing, as the window has it. */
function useWidth() {
  const frame = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(760);
  useLayoutEffect(() => {
    const box = frame.current;
    if (!box) return;
    const watch = new ResizeObserver(() => setWidth(Math.max(320, box.clientWidth)));
    watch.observe(box);
    return () => watch.disconnect();
  }, []);
  return { frame, width };
}

interface ControlsProps {
  closer: (by: number) => void;
  all: () => void;
  extras: Extras;
  setExtras: (extras: Extras) => void;
  waiting: number;
}

function Controls({ closer, all, extras, setExtras, waiting }: ControlsProps) {
  const { design } = useDesign();
  const dated = Object.values(design.evaluation.route.points).some((p) => p.station_mm !== null);
  return (
    <p className="mt-1 flex flex-wrap items-center gap-x-4 gap-y-1 text-plain text-second">
      <span className="flex gap-1">
        <button
          className="press px-2.5 py-0"
          aria-label="Closer"
          title="Closer: + or Ctrl and the wheel"
          onClick={() => closer(1.5)}
        >
          +
        </button>
        <button className="press px-2.5 py-0" aria-label="Farther" title="Farther: -" onClick={() => closer(1 / 1.5)}>
          −
        </button>
        <button className="press px-2.5 py-0" title="All of it: 0" onClick={all}>
          All of it
        </button>
      </span>
      <label className="flex items-center gap-1.5">
        <input
          type="checkbox"
          className="accent-(--ink)"
          checked={extras.clamps}
          onChange={(e) => setExtras({ ...extras, clamps: e.target.checked })}
        />
        clamps
      </label>
      <label className="flex items-center gap-1.5" title={dated ? "" : "Mark a point as the datum under Points"}>
        <input
          type="checkbox"
          className="accent-(--ink)"
          disabled={!dated}
          checked={extras.stations && dated}
          onChange={(e) => setExtras({ ...extras, stations: e.target.checked })}
        />
        stations from the datum
      </label>
      {waiting > 0 && (
        <span>
          {waiting === 1 ? "One name or length waits" : `${waiting} names and lengths wait`} for a closer look.
        </span>
      )}
    </p>
  );
}
