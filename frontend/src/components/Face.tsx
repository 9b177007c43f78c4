import type { KeyboardEvent } from "react";
import { useCatalogue } from "../api/design";
import { nearest } from "./roving";

export interface FaceWire {
  cavity: string;
  colour: string;
  label: string;
}

interface Mark {
  kind: string;
  x_mm: number;
  y_mm: number;
  width_mm: number;
  height_mm: number;
}

interface Props {
  side: string;
  caption: string;
  width: number;
  height: number;
  diameter: number;
  outline: string;
  cavities: Record<string, readonly number[]>;
  marks: readonly Mark[];
  wires: Record<string, FaceWire>;
  plugged: Set<string>;
  gender: string;
  loose: boolean;
  chosen: string | null;
  /** Absent where it is only looked at: on the bench, on paper. */
  onChoose?: (cavity: string) => void;
  /** Millimetres of screen for one of the part; as large as it goes where it is absent. */
  scale?: number;
  tall?: boolean;
  /** Wire names beside the ways, where there is room. */
  named?: boolean;
  /** Degrees clockwise by which it is turned, to lie as the part lies in the hand. */
  turn?: number;
  /** Whether the chosen way has a dot beside it, to be put on the part. */
  dotted?: boolean;
}

/** One connector face, in true mirror of the other: key, latch, lever and way one marked. */
export function Face(p: Props) {
  const hex = useCatalogue()?.colours ?? {};
  const pad = Math.min(2, p.height * 0.12);
  // Room above for what stands out there: a lever most, a latch some, a mark on the face none.
  const above = Math.max(
    0.3,
    ...p.marks.map((m) =>
      m.kind === "lever" ? 3.6 : ["latch", "rib", "clip", "wedge"].includes(m.kind) ? m.height_mm + 0.4 : 0.3,
    ),
  );
  const w = p.width + 2 * pad + (p.marks.some((m) => m.kind === "screw") ? 8 : 0);
  const h = p.height + 2 * pad + above;
  const r = p.diameter / 2;
  const title = p.loose ? "Terminals" : p.side === "wire" ? "Wire side" : "Mating side";
  const first = Object.keys(p.cavities)[0];
  const turn = p.turn ?? 0;
  const choose = p.onChoose;
  // What a turned face takes, about the middle of what is drawn.
  const [sin, cos] = [Math.abs(Math.sin((turn * Math.PI) / 180)), Math.abs(Math.cos((turn * Math.PI) / 180))];
  const [wide, high] = [w * cos + h * sin, w * sin + h * cos];
  const middle = -above / 2;
  const size = p.scale ? { width: `${wide * p.scale}mm`, height: `${high * p.scale}mm` } : undefined;
  return (
    <figure className="mb-5">
      <svg
        viewBox={`${-wide / 2} ${middle - high / 2} ${wide} ${high}`}
        style={size}
        className={size ? "" : `w-full ${p.tall ? "max-h-[62vh]" : "max-h-[250px]"}`}
        role={choose ? "radiogroup" : "img"}
        aria-label={`${title}: ${p.caption}`}
        onKeyDown={(e) => {
          const to = nearest(e.key, p.chosen ?? first ?? "", p.cavities);
          if (to === null || !choose) return;
          e.preventDefault();
          choose(to);
          e.currentTarget.querySelector<SVGGElement>(`[data-way="${CSS.escape(to)}"]`)?.focus();
        }}
      >
        <g transform={turn ? `rotate(${turn} 0 ${middle})` : undefined}>
          {!p.loose && <Shell {...p} />}
          {p.marks.map((m, i) => (
            <Marking key={i} mark={m} height={p.height} />
          ))}
          {Object.entries(p.cavities).map(([cavity, at]) => {
            const [x = 0, y = 0] = at;
            const wire = p.wires[cavity];
            const on = wire ? `${wire.label} ${wire.colour}` : p.plugged.has(cavity) ? "plugged" : "free";
            const said = `${cavity}: ${on}`;
            return (
              <g
                key={cavity}
                transform={`translate(${x} ${-y})`}
                data-way={cavity}
                {...(choose && {
                  role: "radio",
                  "aria-checked": p.chosen === cavity,
                  "aria-label": said,
                  tabIndex: (p.chosen ?? first) === cavity ? 0 : -1,
                  onClick: () => choose(cavity),
                  onKeyDown: (e: KeyboardEvent) => {
                    if (e.key !== " " && e.key !== "Enter") return;
                    e.preventDefault();
                    choose(cavity);
                  },
                  className: "way cursor-pointer",
                })}
              >
                <title>{said}</title>
                <g transform={turn ? `rotate(${-turn})` : undefined}>
                  <Way cavity={cavity} r={r} wire={wire} hex={hex} p={p} />
                </g>
                {cavity === first && (
                  <circle r={r + 0.07 * p.diameter} fill="none" stroke="#e9a63a" strokeWidth={0.06 * p.diameter} />
                )}
                {p.chosen === cavity && (
                  <circle r={r + 0.14 * p.diameter} fill="none" stroke="#f2705c" strokeWidth={0.07 * p.diameter} />
                )}
                {p.dotted && p.chosen === cavity && (
                  <circle
                    cx={r * 1.05}
                    cy={-r * 1.05}
                    r={r * 0.32}
                    fill="#f2705c"
                    stroke="#fbf9f2"
                    strokeWidth={r * 0.09}
                  />
                )}
              </g>
            );
          })}
          {p.named &&
            Object.entries(p.cavities).map(([cavity, [x = 0, y = 0]]) => (
              <text
                key={cavity}
                x={x}
                y={-y + r * 1.5}
                transform={turn ? `rotate(${-turn} ${x} ${-y})` : undefined}
                textAnchor="middle"
                fontSize={r * 0.5}
                fontWeight={700}
                fill="#f4efdf"
                stroke="#1d242c"
                strokeWidth={r * 0.22}
                paintOrder="stroke"
                className="font-figures"
              >
                {p.wires[cavity]?.label ?? ""}
              </text>
            ))}
        </g>
      </svg>
      <figcaption className="mt-1 text-center">
        <strong className="font-heading text-lead">{title}</strong>
        <span className="block text-plain text-second">
          {p.caption}
          {turn ? `, then turned ${((turn % 360) + 360) % 360}° clockwise` : ""}
        </span>
      </figcaption>
    </figure>
  );
}

function Shell({ width, height, outline, marks }: Props) {
  const edge = Math.min(0.9, height * 0.055);
  const look = { fill: "var(--shell)", stroke: "var(--shell-edge)", strokeWidth: edge };
  if (outline === "round") return <circle r={width / 2} {...look} />;
  if (outline === "D") {
    // The wide side is up, as the latch is on others.
    const lean = height * 0.18;
    return (
      <>
        {marks.some((m) => m.kind === "screw") && (
          <rect
            x={-width / 2 - 6}
            y={-height / 2 + 0.6}
            width={width + 12}
            height={height - 1.2}
            rx={1.4}
            fill="var(--shell-edge)"
          />
        )}
        <path
          d={`M ${-width / 2} ${-height / 2} H ${width / 2} L ${width / 2 - lean} ${height / 2} H ${-width / 2 + lean} Z`}
          strokeLinejoin="round"
          {...look}
        />
      </>
    );
  }
  return (
    <rect x={-width / 2} y={-height / 2} width={width} height={height} rx={Math.min(2.2, height * 0.16)} {...look} />
  );
}

function Marking({ mark: m, height }: { mark: Mark; height: number }) {
  if (m.kind === "triangle") {
    return (
      <path
        d={`M ${m.x_mm} ${-m.y_mm + m.height_mm * 0.6} l ${-m.width_mm / 2} ${-m.height_mm} h ${m.width_mm} Z`}
        fill="#e9a63a"
      />
    );
  }
  if (m.kind === "screw") {
    return (
      <g transform={`translate(${m.x_mm} ${-m.y_mm})`}>
        <circle r={m.width_mm / 2} fill="#c9ccd0" stroke="#0d1116" strokeWidth={0.25} />
        <path d={`M ${-m.width_mm / 3} 0 H ${m.width_mm / 3}`} stroke="#0d1116" strokeWidth={0.4} />
      </g>
    );
  }
  const top = -height / 2;
  if (m.kind === "key") {
    return (
      <path
        d={`M ${m.x_mm - m.width_mm / 2} ${top - 0.4} h ${m.width_mm} v ${m.height_mm} a ${m.width_mm / 2} ${m.width_mm / 2} 0 0 1 ${-m.width_mm} 0 Z`}
        fill="#e9a63a"
      />
    );
  }
  if (m.kind === "lever") {
    return (
      <path
        d={`M ${m.x_mm - m.width_mm / 2} ${top + 0.6} v -3 h ${m.width_mm} v 3`}
        fill="none"
        stroke="var(--shell-edge)"
        strokeWidth={1.5}
        strokeLinejoin="round"
      />
    );
  }
  return (
    <rect
      x={m.x_mm - m.width_mm / 2}
      y={top - m.height_mm * 0.8}
      width={m.width_mm}
      height={m.height_mm}
      rx={0.5}
      fill="var(--shell-edge)"
    />
  );
}

function Way({
  cavity,
  r,
  wire,
  hex,
  p,
}: {
  cavity: string;
  r: number;
  wire: FaceWire | undefined;
  hex: Record<string, string>;
  p: Props;
}) {
  const [base = "", tracer] = (wire?.colour ?? "").split("/");
  const clip = `c-${p.side}-${cavity}`;
  const small = cavity.length > 2;
  return (
    <>
      <clipPath id={clip}>
        <circle r={r} />
      </clipPath>
      <circle
        r={r}
        fill={wire ? (hex[base] ?? "#888") : "var(--shell-edge)"}
        stroke={p.loose ? "var(--ink)" : "#0d1116"}
        strokeWidth={0.06 * p.diameter}
      />
      {wire && tracer && (
        <rect
          x={-r}
          y={-r * 0.3}
          width={2 * r}
          height={r * 0.6}
          fill={hex[tracer] ?? "#888"}
          clipPath={`url(#${clip})`}
        />
      )}
      {p.side === "wire" || p.loose ? (
        <>
          <circle r={r * 0.66} fill={wire ? "#fbf9f2" : "#5b6570"} />
          <text
            y={r * 0.28}
            textAnchor="middle"
            fontSize={r * (small ? 0.6 : 0.82)}
            fontWeight={700}
            fill={wire ? "#1a2433" : "#fbf9f2"}
            className="font-figures"
          >
            {cavity}
          </text>
        </>
      ) : (
        <>
          <circle
            r={r * 0.46}
            cy={r * 0.34}
            fill={wire ? "#d9ad57" : "#5b6570"}
            stroke="#0d1116"
            strokeWidth={0.035 * p.diameter}
          />
          {wire && p.gender === "socket" && <circle r={r * 0.2} cy={r * 0.34} fill="#1a1408" />}
          <text
            y={-r * 0.24}
            textAnchor="middle"
            fontSize={r * (small ? 0.56 : 0.74)}
            fontWeight={700}
            fill={wire ? (isDark(hex[base]) ? "#fbf9f2" : "#1a2433") : "#fbf9f2"}
            className="font-figures"
          >
            {cavity}
          </text>
        </>
      )}
      {!wire && p.plugged.has(cavity) && (
        <path
          d={`M ${-r * 0.6} ${-r * 0.6} L ${r * 0.6} ${r * 0.6} M ${-r * 0.6} ${r * 0.6} L ${r * 0.6} ${-r * 0.6}`}
          stroke="#fbf9f2"
          strokeWidth={0.06 * p.diameter}
        />
      )}
    </>
  );
}

function isDark(colour: string | undefined): boolean {
  const [r = 0, g = 0, b = 0] =
    (colour ?? "#888888")
      .slice(1)
      .match(/../g)
      ?.map((c) => parseInt(c, 16)) ?? [];
  return r * 0.299 + g * 0.587 + b * 0.114 < 140;
}
