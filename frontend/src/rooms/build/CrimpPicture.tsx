interface Props {
  drawn: string;
  id: string;
}

const LINE = { fill: "none", stroke: "currentColor", strokeWidth: 1.6 } as const;
const SOLID = { fill: "currentColor", stroke: "none" } as const;
const HATCH = { fill: "currentColor", fillOpacity: 0.18, stroke: "currentColor", strokeWidth: 1.6 } as const;

/** An end from the side, as it looks when it is right, or wrong in one way: the wire comes from the left. */
export function CrimpPicture({ drawn, id }: Props) {
  return (
    <svg viewBox="0 0 220 80" className="w-full max-w-[260px]" aria-hidden="true">
      {drawn === "clamp" ? <Clamp id={id} /> : drawn === "solder" ? <Cup id={id} /> : <Barrel drawn={drawn} id={id} />}
    </svg>
  );
}

/** Insulation to x, strands on to another x; some of them beside the barrel where they are out. */
function Wire({ insulation, strands, out = false }: { insulation: number; strands: number; out?: boolean }) {
  return (
    <>
      {[-6, -2, 2, 6].map((dy) => (
        <line key={dy} x1={insulation} x2={strands} y1={40 + dy} y2={40 + dy} {...LINE} />
      ))}
      {out && (
        <>
          <path d={`M${insulation} 34 C 96 14, 120 12, ${strands + 8} 15`} {...LINE} />
          <path d={`M${insulation} 46 C 96 66, 118 68, ${strands} 66`} {...LINE} />
        </>
      )}
      <rect x={0} y={28} width={insulation} height={24} {...HATCH} />
    </>
  );
}

function Barrel({ drawn, id }: Props) {
  const wings = drawn === "barrel";
  const [from, to] = wings ? [96, 142] : [84, 142];
  const half = id === "over" ? 7 : id === "loose" ? 19 : 13;
  const insulation = id === "caught" ? 118 : wings ? 88 : 82;
  const strands = id === "short" ? 122 : 148;
  return (
    <>
      <Wire insulation={insulation} strands={strands} out={id === "out"} />
      {wings && id !== "beside" && <rect x={58} y={24} width={24} height={32} rx={5} {...LINE} />}
      <rect x={from} y={40 - half} width={to - from} height={2 * half} rx={3} {...LINE} />
      {id === "over" && (
        <>
          <path d={`M${from} 33 l6 -10 l6 10 M${to - 12} 33 l6 -10 l6 10`} {...LINE} />
          <path d={`M${from} 47 l6 10 l6 -10`} {...LINE} />
        </>
      )}
      {id === "loose" && <path d={`M${from + 4} 26 h${to - from - 8} M${from + 4} 54 h${to - from - 8}`} {...LINE} />}
      {id === "beside" ? (
        <path d="M74 27 l10 8 h22 l10 -8 M74 53 l10 -8 h22 l10 8" {...LINE} />
      ) : (
        id !== "loose" && <Dents drawn={drawn} middle={id === "over" ? 119 : (from + to) / 2} half={half} />
      )}
      {drawn === "machined" && <circle cx={134} cy={40} r={4} {...(id === "short" ? LINE : SOLID)} />}
      {drawn === "ring" ? (
        <>
          <path d="M142 34 h14 M142 46 h14" {...LINE} />
          <circle cx={182} cy={40} r={26} {...LINE} />
          <circle cx={182} cy={40} r={13} {...LINE} />
        </>
      ) : drawn === "machined" ? (
        <rect x={142} y={34} width={70} height={12} rx={6} {...LINE} />
      ) : (
        <path d="M142 36 h14 v-10 h56 v28 h-56 v-10 h-14" {...LINE} />
      )}
    </>
  );
}

function Dents({ drawn, middle, half }: { drawn: string; middle: number; half: number }) {
  if (drawn === "barrel") return <path d={`M${middle - 16} ${40 - half} q8 8 16 0 q8 8 16 0`} {...LINE} />;
  return <path d={`M${middle - 8} ${40 - half} l8 7 l8 -7 M${middle - 8} ${40 + half} l8 -7 l8 7`} {...LINE} />;
}

function Clamp({ id }: { id: string }) {
  const insulation = id === "caught" ? 132 : 92;
  return (
    <>
      <Wire insulation={insulation} strands={164} out={id === "out"} />
      <rect x={98} y={20} width={90} height={48} {...LINE} />
      <rect x={124} y={2} width={28} height={id === "loose" ? 18 : 28} {...HATCH} />
      <line x1={124} x2={152} y1={8} y2={8} {...LINE} />
    </>
  );
}

function Cup({ id }: { id: string }) {
  const insulation = id === "caught" ? 118 : 88;
  return (
    <>
      <Wire insulation={insulation} strands={146} />
      <path d="M104 26 h50 q14 14 0 28 h-50 z" {...LINE} />
      {id === "over" && <path d="M70 32 q30 -26 84 -8 q22 16 0 32 q-54 18 -84 -8 z" {...HATCH} />}
      {id === "right" && <path d="M106 33 q22 8 46 0 v14 q-24 -8 -46 0 z" {...HATCH} />}
      {id === "loose" && <circle cx={126} cy={28} r={11} {...HATCH} />}
      <rect x={160} y={35} width={54} height={10} rx={5} {...LINE} />
    </>
  );
}
