import { useCatalogue } from "../api/design";

export interface FaceWire {
  cavity: string;
  colour: string;
  label: string;
}

interface Props {
  side: string;
  caption: string;
  width: number;
  height: number;
  diameter: number;
  latch: string;
  cavities: Record<string, readonly number[]>;
  wires: Record<string, FaceWire>;
  plugged: Set<string>;
  gender: string;
  loose: boolean;
  chosen: string | null;
  onChoose: (cavity: string) => void;
}

/** One connector face, large, in true mirror of the other, with way one ringed. */
export function Face(p: Props) {
  const hex = useCatalogue()?.colours ?? {};
  const pad = 2;
  const tab = 3.2;
  const w = p.width + 2 * pad;
  const h = p.height + 2 * pad + tab;
  const r = p.diameter / 2;
  const title = p.loose ? "Terminals" : p.side === "wire" ? "Wire side" : "Mating side";
  const first = Object.keys(p.cavities)[0];
  return (
    <figure className="mb-5">
      <svg viewBox={`${-w / 2} ${-p.height / 2 - pad - tab} ${w} ${h}`} className="w-full max-h-[250px]" role="img" aria-label={`${title}: ${p.caption}`}>
        {!p.loose && (
          <>
            <rect x={-p.width * 0.13} y={-p.height / 2 - tab * 0.75} width={p.width * 0.26} height={tab} rx={0.5} fill="var(--shell-edge)" />
            <rect x={-p.width / 2} y={-p.height / 2} width={p.width} height={p.height} rx={2.2} fill="var(--shell)" stroke="var(--shell-edge)" strokeWidth={0.9} />
          </>
        )}
        {Object.entries(p.cavities).map(([cavity, at]) => {
          const [x = 0, y = 0] = at;
          const wire = p.wires[cavity];
          const [base = "", tracer] = (wire?.colour ?? "").split("/");
          const clip = `c-${p.side}-${cavity}`;
          return (
            <g key={cavity} transform={`translate(${x} ${-y})`} onClick={() => p.onChoose(cavity)} className="cursor-pointer">
              <title>{wire ? `${cavity}: ${wire.label} ${wire.colour}` : p.plugged.has(cavity) ? `${cavity}: plugged` : `${cavity}: free`}</title>
              <clipPath id={clip}>
                <circle r={r} />
              </clipPath>
              <circle r={r} fill={wire ? (hex[base] ?? "#888") : "var(--shell-edge)"} stroke={p.loose ? "var(--ink)" : "#0d1116"} strokeWidth={0.35} />
              {wire && tracer && <rect x={-r} y={-r * 0.3} width={2 * r} height={r * 0.6} fill={hex[tracer] ?? "#888"} clipPath={`url(#${clip})`} />}
              {cavity === first && <circle r={r + 0.55} fill="none" stroke="#e9a63a" strokeWidth={0.5} />}
              {p.chosen === cavity && <circle r={r + 1.1} fill="none" stroke="var(--madder)" strokeWidth={0.55} />}
              {p.side === "wire" || p.loose ? (
                <>
                  <circle r={r * 0.58} fill={wire ? "#fbf9f2" : "#5b6570"} />
                  <text y={r * 0.26} textAnchor="middle" fontSize={r * 0.74} fontWeight={700} fill={wire ? "#1a2433" : "#fbf9f2"} className="font-figures">
                    {cavity}
                  </text>
                </>
              ) : (
                <>
                  <circle r={r * 0.46} fill={wire ? "#d9ad57" : "#5b6570"} stroke="#0d1116" strokeWidth={0.2} />
                  {wire && p.gender === "socket" && <circle r={r * 0.2} fill="#1a1408" />}
                  <circle cx={-r * 0.78} cy={-r * 0.78} r={r * 0.46} fill="#fbf9f2" stroke="#0d1116" strokeWidth={0.15} />
                  <text x={-r * 0.78} y={-r * 0.78 + r * 0.22} textAnchor="middle" fontSize={r * 0.6} fontWeight={700} fill="#1a2433" className="font-figures">
                    {cavity}
                  </text>
                </>
              )}
              {!wire && p.plugged.has(cavity) && (
                <path d={`M ${-r * 0.6} ${-r * 0.6} L ${r * 0.6} ${r * 0.6} M ${-r * 0.6} ${r * 0.6} L ${r * 0.6} ${-r * 0.6}`} stroke="#fbf9f2" strokeWidth={0.3} />
              )}
            </g>
          );
        })}
      </svg>
      <figcaption className="mt-1 text-center">
        <strong className="font-heading text-[17px]">{title}</strong>
        <span className="block text-[14px] text-second">{p.caption}</span>
      </figcaption>
    </figure>
  );
}
