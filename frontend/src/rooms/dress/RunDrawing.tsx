import { useMemo } from "react";
import type { BranchCover, DressSheet } from "../../api/dress";
import { useCatalogue, useDesign } from "../../api/design";
import { length, trim, unitsOf } from "../../format";
import { folded, runThrough, type Step } from "./run";

interface Props {
  sheet: DressSheet;
  branch: string;
  onChoose: (branch: string) => void;
}

const WIDE = 1000;
const ROW_MM = 1400;
const HIGH = 186;
const AXIS = 76;
const RULER = 154;
/** Across it is drawn this much thicker than along, so that covers can be told. */
const THICKER = 1.9;
/** Kept free of words at both ends of a branch: there other branches leave. */
const CLEAR = 40;
/** A letter is about so wide. */
const LETTER = 8;
const LEAST_PX = 5;
const MOST_PX = 46;

/** The run through a branch, laid straight and to scale: covers, shrink tube, windows, labels, clamps, a ruler. */
export function RunDrawing({ sheet, branch, onChoose }: Props) {
  const { design } = useDesign();
  const { branches, points } = design.document.route;
  const steps = useMemo(() => runThrough(branches, branch), [branches, branch]);
  const rows = useMemo(() => folded(steps, ROW_MM), [steps]);
  const first = steps[0];
  const last = steps.at(-1);
  if (!first || !last) return null;
  const name = (point: string) => points[point]?.name || point;
  return (
    <figure className="mb-4">
      <figcaption className="mb-1 text-plain text-second">
        {name(first.from)} to {name(last.to)}, laid straight and to scale. ▲ clamp
      </figcaption>
      <svg
        viewBox={`0 0 ${WIDE + 40} ${rows.length * HIGH}`}
        className="w-full border border-ink"
        role="img"
        aria-label={`${first.from} to ${last.to}, dressed`}
      >
        <Textures />
        {rows.map((row, n) => (
          <g key={row.from} transform={`translate(20 ${n * HIGH})`}>
            <Row sheet={sheet} steps={steps} row={row} chosen={branch} onChoose={onChoose} />
          </g>
        ))}
      </svg>
    </figure>
  );
}

function Textures() {
  return (
    <defs>
      <pattern id="cover-braid" width="6" height="6" patternUnits="userSpaceOnUse">
        <rect width="6" height="6" fill="var(--shell)" />
        <path d="M0 6 L6 0 M0 0 L6 6" stroke="var(--bar)" strokeWidth="0.7" opacity="0.7" />
      </pattern>
      <pattern id="cover-fabric" width="4" height="4" patternUnits="userSpaceOnUse">
        <rect width="4" height="4" fill="var(--shell)" />
        <path d="M0 2 H4 M2 0 V4" stroke="var(--bar)" strokeWidth="0.5" />
      </pattern>
      <pattern id="cover-nylon" width="5" height="5" patternUnits="userSpaceOnUse">
        <rect width="5" height="5" fill="var(--ink-second)" />
        <path d="M0 5 L5 0" stroke="var(--sheet)" strokeWidth="0.6" />
      </pattern>
      <pattern id="cover-conduit" width="5" height="8" patternUnits="userSpaceOnUse">
        <rect width="5" height="8" fill="var(--shell)" />
        <rect width="1.6" height="8" fill="var(--bar)" />
      </pattern>
      <pattern id="cover-spiral" width="12" height="12" patternUnits="userSpaceOnUse" patternTransform="skewX(-24)">
        <rect width="12" height="12" fill="var(--wash)" />
        <rect width="8" height="12" fill="var(--ink-second)" />
      </pattern>
      <pattern id="cover-tape" width="14" height="14" patternUnits="userSpaceOnUse" patternTransform="skewX(-18)">
        <rect width="14" height="14" fill="var(--shell)" />
        <path d="M0.5 0 V14" stroke="var(--bar)" strokeWidth="0.8" />
      </pattern>
    </defs>
  );
}

interface RowProps {
  sheet: DressSheet;
  steps: Step[];
  row: { from: number; to: number };
  chosen: string;
  onChoose: (branch: string) => void;
}

function Row({ sheet, steps, row, chosen, onChoose }: RowProps) {
  const { design } = useDesign();
  const units = unitsOf(design.document);
  const whole = row.to - row.from;
  const scale = WIDE / Math.max(whole, 1);
  const x = (mm: number) => (Math.min(Math.max(mm, row.from), row.to) - row.from) * scale;
  const thick = (mm: number) => Math.min(Math.max(mm * scale * THICKER, LEAST_PX), MOST_PX);
  const inRow = steps.filter((s) => s.at < row.to && s.at + s.length > row.from);
  const step = whole > 900 ? 100 : whole > 350 ? 50 : 20;
  const ticks = [];
  for (let mm = Math.ceil(row.from / step) * step; mm <= row.to; mm += step) ticks.push(mm);
  return (
    <>
      {inRow.map((s) => (
        <Branch key={s.branch} {...{ sheet, s, x, thick, row, chosen, onChoose }} />
      ))}
      {inRow.map((s) => (
        <Joints key={s.branch} {...{ sheet, s, steps, x, thick, row }} />
      ))}
      <g className="font-figures" fontSize={15} fill="var(--ink-second)">
        <line x1={0} x2={WIDE} y1={RULER} y2={RULER} stroke="var(--ink-second)" strokeWidth={0.8} />
        {ticks.map((mm) => (
          <g key={mm}>
            <line x1={x(mm)} x2={x(mm)} y1={RULER - 3} y2={RULER + 3} stroke="var(--ink-second)" strokeWidth={0.8} />
            <text x={x(mm)} y={RULER + 18} textAnchor="middle">
              {units.length === "inch" ? trim(mm / 25.4, 1) : mm}
            </text>
          </g>
        ))}
        <text x={-18} y={RULER - 6}>
          {units.length === "inch" ? "in" : "mm"}
        </text>
      </g>
    </>
  );
}

interface BranchProps {
  sheet: DressSheet;
  s: Step;
  x: (mm: number) => number;
  thick: (mm: number) => number;
  row: { from: number; to: number };
  chosen: string;
  onChoose: (branch: string) => void;
}

/** What is left bare of a branch at both its ends, in the direction it is drawn. */
function bareOf(cover: BranchCover, s: Step): [number, number] {
  const start = cover.branches[0] === s.branch ? cover.bare_from_mm : 0;
  const end = cover.branches.at(-1) === s.branch ? cover.bare_to_mm : 0;
  return s.back ? [end, start] : [start, end];
}

/** A branch: its wires where they lie bare, its cover over them. */
function Branch({ sheet, s, x, thick, row, chosen, onChoose }: BranchProps) {
  const { design } = useDesign();
  const hex = useCatalogue()?.colours ?? {};
  const units = unitsOf(design.document);
  const bundle = design.evaluation.dress.bundles[s.branch];
  const cover = sheet.covers.find((c) => c.branches.includes(s.branch));
  if (!bundle || !cover) return null;
  const wires = (design.evaluation.route.wires[s.branch] ?? []).slice(0, 5);
  const high = thick(bundle.loose_mm);
  const [before, after] = bareOf(cover, s);
  const covered: [number, number] = [s.at + before, s.at + s.length - after];
  const over = thick(cover.outside_mm);
  const begins = x(covered[0]);
  const ends = x(covered[1]);
  const mid = (begins + ends) / 2;
  // Beside what leaves at its ends there is so much room for words: all of them, or the branch and its cover.
  const room = ends - begins - 2 * CLEAR;
  const size = cover.code.split("-").slice(1).join("-");
  const short = `${s.branch} ${cover.kind === "none" ? "bare" : `${cover.kind} ${size}`}`;
  const whole =
    cover.kind !== "none" && cover.branches[0] === s.branch ? `${short}, cut ${length(cover.cut_mm, units)}` : short;
  const words = whole.length * LETTER <= room ? whole : short.length * LETTER <= room ? short : s.branch;
  const wide = words.length * LETTER;
  const clamps = Array.from(
    { length: bundle.clamps },
    (_, n) => s.at + (s.length * (n + 1)) / (bundle.clamps + 1),
  ).filter((mm) => mm > row.from && mm <= row.to);
  return (
    <g onClick={() => onChoose(s.branch)} className="cursor-pointer">
      <title>{`${s.branch}: ${cover.description || cover.because}`}</title>
      {wires.map((key, n) => {
        const colour = (design.evaluation.wire.wires[key]?.colour ?? "").split("/")[0] ?? "";
        const y = AXIS + ((n + 0.5) / wires.length - 0.5) * high;
        return (
          <line
            key={key}
            x1={x(s.at)}
            x2={x(s.at + s.length)}
            y1={y}
            y2={y}
            stroke={hex[colour] ?? "var(--bar)"}
            strokeWidth={Math.max(high / wires.length - 0.6, 1)}
          />
        );
      })}
      {cover.kind !== "none" && ends > begins && (
        <rect
          x={begins}
          y={AXIS - over / 2}
          width={ends - begins}
          height={over}
          rx={cover.kind === "shrink" ? 3 : 0}
          fill={cover.kind === "shrink" ? "var(--shell)" : `url(#cover-${cover.kind})`}
          stroke="var(--shell-edge)"
        />
      )}
      {chosen === s.branch && (
        <line
          x1={x(s.at)}
          x2={x(s.at + s.length)}
          y1={AXIS + 42}
          y2={AXIS + 42}
          stroke="var(--madder)"
          strokeWidth={2}
        />
      )}
      {room > 60 && (
        <text
          x={Math.max(mid, begins + CLEAR + wide / 2)}
          y={AXIS - 34}
          textAnchor="middle"
          fontSize={16}
          fill="var(--ink-second)"
        >
          {words}
        </text>
      )}
      {clamps.map((mm) => (
        <path key={mm} d={`M${x(mm) - 5} ${AXIS + 38} h10 l-5 -9 z`} fill="var(--blue)" />
      ))}
    </g>
  );
}

interface JointsProps {
  sheet: DressSheet;
  s: Step;
  steps: Step[];
  x: (mm: number) => number;
  thick: (mm: number) => number;
  row: { from: number; to: number };
}

/** At the end of a branch: shrink tube, what leaves there, the connector with its label. */
function Joints({ sheet, s, steps, x, thick, row }: JointsProps) {
  const { design } = useDesign();
  const units = unitsOf(design.document);
  const ends: [string, number, 1 | -1][] = [
    [s.from, s.at, 1],
    [s.to, s.at + s.length, -1],
  ];
  const cover = sheet.covers.find((c) => c.branches.includes(s.branch));
  const bare = cover ? bareOf(cover, s) : ([0, 0] as [number, number]);
  return (
    <>
      {ends.map(([point, mm, inward], n) => {
        if (mm < row.from || mm > row.to) return null;
        const connector = Object.entries(design.document.ends.connectors).find(([, c]) => c.point === point)?.[0];
        const own = sheet.shrinks.find(
          (p) => p.what === `end of ${s.branch}` && (p.place === connector || p.place === point),
        );
        const breakout = n === 1 ? sheet.shrinks.find((p) => p.place === point && p.what === "breakout") : undefined;
        const label = connector ? sheet.labels.find((l) => l.of === connector) : undefined;
        const first = mm === 0 || mm === (steps.at(-1)?.at ?? 0) + (steps.at(-1)?.length ?? 0);
        const from = mm + inward * (bare[n] ?? 0);
        const leaves =
          n === 1
            ? Object.entries(design.document.route.branches).filter(
                ([id, b]) => [b.from_point, b.to_point].includes(point) && !steps.some((t) => t.branch === id),
              )
            : [];
        return (
          <g key={point}>
            {leaves.map(([id, b], k) => (
              <g key={id}>
                <line
                  x1={x(mm) + (k - (leaves.length - 1) / 2) * 34}
                  x2={x(mm) + (k - (leaves.length - 1) / 2) * 34}
                  y1={AXIS}
                  y2={k % 2 ? AXIS - 48 : AXIS + 60}
                  stroke="var(--shell)"
                  strokeWidth={thick(design.evaluation.dress.bundles[id]?.loose_mm ?? 0) * 0.7}
                />
                <text
                  x={x(mm) + (k - (leaves.length - 1) / 2) * 34}
                  y={k % 2 ? AXIS - 52 : AXIS + 73}
                  textAnchor="middle"
                  fontSize={15}
                  fill="var(--ink)"
                  className="font-figures"
                >
                  {id} {b.from_point === point ? b.to_point : b.from_point}
                </text>
              </g>
            ))}
            {own && (
              <rect
                x={Math.min(x(from - inward * own.finished_mm * 0.5), x(from + inward * own.finished_mm * 0.5))}
                y={AXIS - thick(own.over_mm) / 2 - 2}
                width={Math.abs(x(from + inward * own.finished_mm * 0.5) - x(from - inward * own.finished_mm * 0.5))}
                height={thick(own.over_mm) + 4}
                rx={3}
                fill="var(--ink)"
              >
                <title>{`${own.code}, ${length(own.cut_mm, units)}`}</title>
              </rect>
            )}
            {breakout && (
              <rect
                x={x(mm - breakout.finished_mm / 2)}
                y={AXIS - thick(breakout.over_mm) / 2 - 4}
                width={x(mm + breakout.finished_mm / 2) - x(mm - breakout.finished_mm / 2)}
                height={thick(breakout.over_mm) + 8}
                rx={4}
                fill="var(--ink)"
              >
                <title>{`${breakout.code}, ${length(breakout.cut_mm, units)}`}</title>
              </rect>
            )}
            {connector && first && (
              <rect
                x={inward === 1 ? x(mm) - 18 : x(mm)}
                y={AXIS - 20}
                width={18}
                height={40}
                rx={2}
                fill="var(--shell)"
                stroke="var(--shell-edge)"
              >
                <title>{connector}</title>
              </rect>
            )}
            {label && connector && (
              <g>
                <rect
                  x={inward === 1 ? x(from + label.behind_mm) : x(from - label.behind_mm) - 46}
                  y={AXIS - 14}
                  width={46}
                  height={28}
                  fill="#fffdf6"
                  stroke="var(--ink)"
                >
                  <title>{label.text}</title>
                </rect>
                <text
                  x={inward === 1 ? x(from + label.behind_mm) + 23 : x(from - label.behind_mm) - 23}
                  y={AXIS + 5}
                  textAnchor="middle"
                  fontSize={15}
                  fontWeight={700}
                  fill="#1a2433"
                  className="font-figures"
                >
                  {connector.slice(0, 4)}
                </text>
              </g>
            )}
          </g>
        );
      })}
    </>
  );
}
