import { useCatalogue, useDesign } from "../../api/design";

interface Props {
  connector: string;
  /** Contacts by the place where each belongs, and the place where it sits. */
  moves: readonly (readonly string[])[];
}

/** The connector's face from the wire side, what is exchanged drawn on it. */
export function Exchanged({ connector, moves }: Props) {
  const { design } = useDesign();
  const hex = useCatalogue()?.colours ?? {};
  const ends = design.evaluation.ends.connectors[connector];
  const face = ends ? design.evaluation.ends.faces[ends.face] : undefined;
  if (!ends || !face) return null;
  const r = face.cavity_diameter_mm / 2;
  const pad = r * 1.6;
  const [w, h] = [face.width_mm + 2 * pad, face.height_mm + 2 * pad];
  const at = face.wire_side.cavities;
  const way = (place: string) => place.slice(connector.length + 1);
  const colour = (cavity: string) => {
    const key = ends.cavities.find((c) => c.cavity === cavity)?.wire;
    return hex[(key ? design.evaluation.wire.wires[key]?.colour : "")?.split("/")[0] ?? ""];
  };
  const arcs = moves.flatMap(([from = "", to = ""]) => {
    const [a, b] = [at[way(from)], at[way(to)]];
    if (!a || !b) return [];
    const [ax = 0, ay = 0] = a;
    const [bx = 0, by = 0] = b;
    const far = Math.hypot(bx - ax, by - ay) || 1;
    const lift = r * 2 + far * 0.2;
    const [mx, my] = [(ax + bx) / 2 - ((by - ay) / far) * lift, (ay + by) / 2 + ((bx - ax) / far) * lift];
    return [{ key: from, d: `M ${ax} ${-ay} Q ${mx} ${-my} ${bx} ${-by}` }];
  });
  return (
    <figure className="my-2">
      <svg
        viewBox={`${-w / 2} ${-h / 2} ${w} ${h}`}
        className="max-h-[150px] w-full"
        role="img"
        aria-label={said(moves)}
      >
        <rect
          x={-face.width_mm / 2}
          y={-face.height_mm / 2}
          width={face.width_mm}
          height={face.height_mm}
          rx={r * 0.6}
          fill="#343c47"
        />
        {Object.entries(at).map(([cavity, [x = 0, y = 0]]) => (
          <g key={cavity} transform={`translate(${x} ${-y})`}>
            <circle r={r} fill={colour(cavity) ?? "#20262f"} stroke="#12171e" strokeWidth={r * 0.18} />
            <text
              textAnchor="middle"
              dominantBaseline="central"
              fontSize={r * 1.05}
              fontWeight={700}
              fill="#fbf9f2"
              stroke="#12171e"
              strokeWidth={r * 0.16}
              paintOrder="stroke"
            >
              {cavity}
            </text>
          </g>
        ))}
        {arcs.map((arc) => (
          <path key={arc.key} d={arc.d} fill="none" stroke="#f2705c" strokeWidth={r * 0.22} />
        ))}
      </svg>
      <figcaption className="text-center text-fine text-second">
        {connector}, wire side: {face.wire_side.caption}
      </figcaption>
    </figure>
  );
}

function said(moves: Props["moves"]): string {
  return moves.map(([from, to]) => `${from} sits in ${to}`).join(", ");
}
