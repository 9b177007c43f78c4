import { memo } from "react";
import { Link } from "react-router";
import { useDesign } from "../api/design";
import { Figure } from "./Figure";
import { roving } from "./roving";
import { degrees, mass, toldApart, unitsOf } from "../format";

/** The tally, always in sight: what the harness comes to now. */
export function SwingTag() {
  const { design } = useDesign();
  const t = design.evaluation.tally;
  const units = unitsOf(design.document);
  const { currency } = design.document.brief;
  const limit = design.evaluation.wire.loops[t.worst_drop_load ?? ""]?.limit_percent ?? 0;
  const to = (room: string) => `/d/${design.id}/${room}`;
  return (
    <section aria-label="Tally" className="relative mx-[18px] mb-4 mt-[46px] shrink-0">
      <svg
        className="absolute inset-0 h-full w-full"
        preserveAspectRatio="none"
        viewBox="0 0 150 176"
        aria-hidden="true"
      >
        <path
          d="M16 1 L134 1 L149 16 L149 175 L1 175 L1 16 Z"
          fill="var(--sheet)"
          stroke="var(--ink)"
          strokeWidth={1.1}
          vectorEffect="non-scaling-stroke"
        />
      </svg>
      <svg className="absolute left-1/2 top-[3px] -translate-x-1/2" width={16} height={16} aria-hidden="true">
        <circle cx={8} cy={8} r={5.5} fill="var(--linen)" stroke="var(--ink)" strokeWidth={2} />
      </svg>
      <div className="relative px-3.5 pb-2.5 pt-5 text-plain" onKeyDown={roving}>
        <Line first to={to("wire")} figure={String(t.wires)} name="wires" />
        <Line to={to("cut")} figure={t.metres.toFixed(1)} name="metres" />
        <Line
          to={to("parts")}
          figure={mass(t.grams, units).split(" ")[0] ?? ""}
          name={units.mass === "oz" ? "ounces" : "grams"}
        />
        <Line to={to("parts")} figure={t.cost.toFixed(2)} name={`cost${currency ? `, ${currency}` : ""}`} />
        <div className="my-1 border-t border-rule" />
        <Line
          to={to("wire")}
          figure={t.worst_drop_percent === null ? "–" : `${toldApart(t.worst_drop_percent, limit, 1)}%`}
          name="worst drop"
        />
        <Line to={to("route")} figure={t.hottest_c === null ? "–" : degrees(t.hottest_c, units)} name="hottest" />
        <div className="my-1 border-t border-rule" />
        <Link to={to("findings")} tabIndex={-1} className="flex flex-wrap gap-x-2">
          <span className="sr-only">Findings:</span>
          {t.stops + t.fixes + t.considers === 0 && <span className="text-verdigris">nothing found</span>}
          {t.stops > 0 && <Count tone="bg-madder" text={`${t.stops} stop`} />}
          {t.fixes > 0 && <Count tone="bg-ochre" text={`${t.fixes} fix`} />}
          {t.considers > 0 && <Figure>{`${t.considers} more`}</Figure>}
        </Link>
      </div>
    </section>
  );
}

interface LineProps {
  to: string;
  figure: string;
  name: string;
  first?: boolean;
}

const Line = memo(function Line({ to, figure, name, first = false }: LineProps) {
  return (
    <Link
      to={to}
      tabIndex={first ? 0 : -1}
      className="flex items-baseline justify-between gap-1 leading-[1.35] hover:bg-wash"
    >
      <span className="font-figures font-semibold text-figure">
        <Figure>{figure}</Figure>
      </span>
      <span className="text-fine text-second">{name}</span>
    </Link>
  );
});

function Count({ tone, text }: { tone: string; text: string }) {
  return (
    <span className="inline-flex items-center gap-1">
      <span className={`h-2 w-2 rounded-full ${tone}`} />
      <Figure>{text}</Figure>
    </span>
  );
}
