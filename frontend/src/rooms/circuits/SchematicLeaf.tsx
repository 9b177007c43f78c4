import { useMemo, type ReactNode } from "react";
import type { Schemas } from "../../api/client";
import { useDesign, useSchematic } from "../../api/design";
import { Swatch } from "../../components/Swatch";
import { amperes, trim, words } from "../../format";

type Step = Schemas["SchematicStep"];
type Feed = Schemas["FeedLine"];

const ROW = 50;
const TOP = 26;
const COLUMN = 146;
const HALF = 15;

/** From source to load and back, one feed a line, laid out by the program: for reading and printing. */
export function SchematicLeaf() {
  const { data, error } = useSchematic();
  if (error) return <p className="text-madder">{error.message}</p>;
  if (!data) return <p className="text-second">Drawing ...</p>;
  const { feeds, signals } = data.schematic;
  if (feeds.length + signals.length === 0) return <p className="text-second">Nothing is joined yet.</p>;
  return (
    <div className="printed">
      <p className="mb-2 flex items-baseline justify-between gap-4 text-second">
        <span>
          Read it left to right: out of the source, to the load, and back. What a line shares with the one above is
          drawn once.
        </span>
        <button className="press shrink-0 print:hidden" onClick={() => window.print()}>
          Print it
        </button>
      </p>
      {feeds.length > 0 && <Drawing feeds={feeds} />}
      {signals.length > 0 && <Signals signals={signals} />}
    </div>
  );
}

function Drawing({ feeds }: { feeds: Feed[] }) {
  const wire = useWireWords();
  const several = useMemo(() => {
    const outs: Record<string, Set<string>> = {};
    for (const s of feeds.flatMap((f) => f.feed))
      if (s.rating_a !== null) (outs[s.device] ??= new Set()).add([s.in_pin, s.out_pin].sort().join());
    return new Set(Object.keys(outs).filter((d) => (outs[d]?.size ?? 0) > 1));
  }, [feeds]);
  const depth = Math.max(...feeds.map((f) => f.feed.length)) - 1;
  const after = Math.max(...feeds.map((f) => f.back.length));
  const width = (depth + after) * COLUMN + 120;
  const height = feeds.length * ROW + TOP + 10;
  const x = (column: number) => 46 + column * COLUMN;
  return (
    <div role="region" aria-label="The schematic" tabIndex={0} className="overflow-x-auto border border-ink bg-sheet">
      <svg
        viewBox={`0 0 ${width} ${height}`}
        width={width}
        height={height}
        className="max-w-none"
        role="img"
        aria-label="Schematic"
      >
        {feeds.map((f, r) => {
          const y = TOP + r * ROW + ROW / 2;
          const last = f.feed.length - 1;
          const from = Math.max(f.shared - 1, 0);
          const up = branching(feeds, r);
          const segments: ReactNode[] = [];
          if (f.shared > 0) {
            const drop = x(from) + HALF + 10;
            segments.push(
              <line
                key="drop"
                x1={drop}
                x2={drop}
                y1={TOP + up * ROW + ROW / 2}
                y2={y}
                stroke="var(--ink)"
                strokeWidth={1.5}
              />,
            );
            segments.push(<circle key="dot" cx={drop} cy={TOP + up * ROW + ROW / 2} r={3} fill="var(--ink)" />);
          }
          f.feed.forEach((s, n) => {
            if (n > from) {
              const start = n - 1 === from && f.shared > 0 ? x(from) + HALF + 10 : x(n - 1) + HALF;
              const end = (n === last ? x(depth) : x(n)) - HALF;
              segments.push(<Lead key={`l${n}`} x1={start} x2={end} y={y} text={wire(s.circuit)} />);
            }
            if (n >= f.shared)
              segments.push(
                <Symbol
                  key={`s${n}`}
                  x={n === last ? x(depth) : x(n)}
                  y={y}
                  step={s}
                  amps={n === last ? f.draws_a : null}
                  pin={several.has(s.device)}
                />,
              );
          });
          f.back.forEach((s, n) => {
            segments.push(
              <Lead key={`b${n}`} x1={x(depth + n) + HALF} x2={x(depth + n + 1) - HALF} y={y} text={wire(s.circuit)} />,
            );
            segments.push(
              <Symbol
                key={`t${n}`}
                x={x(depth + n + 1)}
                y={y}
                step={n === f.back.length - 1 && s.kind !== "structure" ? { ...s, kind: "return" } : s}
                amps={null}
                pin={false}
              />,
            );
          });
          return <g key={f.load}>{segments}</g>;
        })}
      </svg>
    </div>
  );
}

/** The line above whose step this feed branches off: where that step was drawn. */
function branching(feeds: Feed[], r: number): number {
  const shared = feeds[r]?.shared ?? 0;
  let up = r - 1;
  while (up > 0 && (feeds[up]?.shared ?? 0) >= shared) up -= 1;
  return Math.max(up, 0);
}

function useWireWords(): (circuit: string) => string {
  const { design } = useDesign();
  return useMemo(() => {
    const gauges: Record<string, Set<string>> = {};
    for (const w of Object.values(design.evaluation.wire.wires))
      (gauges[w.circuit] ??= new Set()).add(w.gauge.replace(" AWG", "").replace(" mm²", ""));
    return (circuit) => {
      const all = [...(gauges[circuit] ?? [])].sort((a, b) => parseFloat(a) - parseFloat(b));
      return all.length === 0
        ? circuit
        : `${circuit} · ${all.length > 2 ? `${all[0] ?? ""}–${all.at(-1) ?? ""}` : all.join("+")}`;
    };
  }, [design]);
}

function Lead({ x1, x2, y, text }: { x1: number; x2: number; y: number; text: string }) {
  return (
    <>
      <line x1={x1} x2={x2} y1={y} y2={y} stroke="var(--ink)" strokeWidth={1.5} />
      <text
        x={x2 - Math.min(x2 - x1, COLUMN - 2 * HALF) / 2}
        y={y + 14}
        textAnchor="middle"
        className="fill-second font-figures text-fine"
      >
        {text}
      </text>
    </>
  );
}

function Symbol({ x, y, step, amps, pin }: { x: number; y: number; step: Step; amps: number | null; pin: boolean }) {
  const line = { stroke: "var(--ink)", strokeWidth: 1.5, fill: "none" } as const;
  const said = step.rating_a === null ? (amps === null ? "" : amperes(amps)) : `${trim(step.rating_a, 1)} A`;
  const name = step.rating_a !== null && pin ? `${step.device}.${step.out_pin}` : step.device;
  const called = amps === null ? "" : ` ${step.name.length > 16 ? `${step.name.slice(0, 15)}…` : step.name}`;
  return (
    <g>
      <title>{`${step.device} ${step.name}, ${words(step.kind)}${said ? `, ${said}` : ""}`}</title>
      <Picture kind={step.kind} x={x} y={y} line={line} />
      <text x={x} y={y - 16} textAnchor="middle" className="fill-ink font-figures text-fine font-bold">
        {name}
        {called && <tspan className="font-text font-normal">{called}</tspan>}
        {said && <tspan className="fill-second font-normal"> {said}</tspan>}
      </text>
    </g>
  );
}

interface PictureProps {
  kind: string;
  x: number;
  y: number;
  line: { stroke: string; strokeWidth: number; fill: string };
}

function Picture({ kind, x, y, line }: PictureProps) {
  const through = <line x1={x - HALF} x2={x + HALF} y1={y} y2={y} {...line} />;
  if (kind === "source") {
    return (
      <>
        <line x1={x} x2={x + HALF} y1={y} y2={y} {...line} />
        <line x1={x} x2={x} y1={y - 11} y2={y + 11} {...line} strokeWidth={2} />
        <line x1={x - 6} x2={x - 6} y1={y - 6} y2={y + 6} {...line} strokeWidth={3.5} />
      </>
    );
  }
  if (kind === "fuse" || kind === "breaker") {
    return (
      <>
        {through}
        <rect
          x={x - 11}
          y={y - 5}
          width={22}
          height={10}
          {...line}
          {...(kind === "breaker" ? { strokeDasharray: "3 2" } : {})}
        />
      </>
    );
  }
  if (kind === "switch" || kind === "relay" || kind === "contactor") {
    return (
      <>
        <line x1={x - HALF} x2={x - 8} y1={y} y2={y} {...line} />
        <line x1={x + 8} x2={x + HALF} y1={y} y2={y} {...line} />
        <line x1={x - 8} x2={x + 7} y1={y} y2={y - 9} {...line} />
        <circle cx={x + 8} cy={y} r={2} fill="var(--ink)" />
        {kind !== "switch" && <rect x={x - 6} y={y + 4} width={12} height={6} {...line} />}
      </>
    );
  }
  if (kind === "diode") {
    return (
      <>
        {through}
        <path d={`M ${x - 6} ${y - 7} L ${x + 6} ${y} L ${x - 6} ${y + 7} Z`} fill="var(--ink)" />
        <line x1={x + 6} x2={x + 6} y1={y - 7} y2={y + 7} {...line} />
      </>
    );
  }
  if (kind === "structure" || kind === "return") {
    return (
      <>
        <line x1={x - HALF} x2={x} y1={y} y2={y} {...line} />
        {kind === "return" ? (
          <line x1={x} x2={x} y1={y - 6} y2={y + 6} {...line} strokeWidth={3.5} />
        ) : (
          [10, 6, 2].map((h, n) => <line key={h} x1={x + n * 4} x2={x + n * 4} y1={y - h} y2={y + h} {...line} />)
        )}
      </>
    );
  }
  if (kind === "load" || kind === "charged")
    return <rect x={x - HALF} y={y - 11} width={HALF * 2} height={22} {...line} fill="var(--wash)" />;
  if (kind === "regulator" || kind === "supply") {
    return (
      <>
        <rect x={x - HALF} y={y - 9} width={HALF * 2} height={18} {...line} />
        <path d={`M ${x - 8} ${y} H ${x + 6} m -4 -4 l 4 4 l -4 4`} {...line} />
      </>
    );
  }
  return (
    <>
      <line x1={x - HALF} x2={x - 4} y1={y} y2={y} {...line} />
      <line x1={x + 4} x2={x + HALF} y1={y} y2={y} {...line} />
      <path d={`M ${x - 4} ${y - 7} v 14 M ${x + 4} ${y - 7} v 14`} {...line} />
    </>
  );
}

function Signals({ signals }: { signals: Schemas["SignalLine"][] }) {
  const { design } = useDesign();
  const colour = useMemo(() => {
    const found: Record<string, string> = {};
    for (const w of Object.values(design.evaluation.wire.wires)) found[w.circuit] ??= w.colour;
    return found;
  }, [design]);
  return (
    <>
      <h2 className="mb-1 mt-6 text-head">Signals and the rest</h2>
      <ul className="columns-1 gap-8 min-[1200px]:columns-2">
        {signals.map((s) => (
          <li key={s.circuit} className="flex break-inside-avoid items-baseline gap-2 border-b border-faint py-1">
            <strong className="w-9 shrink-0 font-figures">{s.circuit}</strong>
            {colour[s.circuit] && <Swatch colour={colour[s.circuit] ?? ""} />}
            <span className="min-w-0 flex-1 truncate" title={s.name}>
              {s.name || words(s.role)}
            </span>
            <span className="shrink-0 font-figures text-fine">
              {s.ends.length > 3 ? `${s.ends.slice(0, 2).join(" – ")} +${s.ends.length - 2}` : s.ends.join(" – ")}
            </span>
          </li>
        ))}
      </ul>
    </>
  );
}
