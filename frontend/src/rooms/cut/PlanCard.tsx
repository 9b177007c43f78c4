import { useCutActs, type CutPlan, type PlannedPiece } from "../../api/cut";
import { useDesign } from "../../api/design";
import { useSay } from "../../components/Notice";
import { Fact, Sheet } from "../../components/Sheet";
import { length, trim, turned, unitsOf } from "../../format";

/** How much to buy is told here; the rest stands under the bars. */
const BOUGHT_SHOWN = 4;

function metres(mm: number): string {
  return `${trim(mm / 1000, 2)} m`;
}

/** What the plan is worth: what is wasted and whether less is possible, what is short, what is cut next. */
export function PlanCard({ reply }: { reply: CutPlan }) {
  const { design } = useDesign();
  const { act } = useCutActs();
  const say = useSay();
  const units = unitsOf(design.document);
  const { plan } = reply;
  const rows = plan.parts.flatMap((part) => part.spools.map((spool) => ({ part, spool })));
  const kept = rows.filter((r) => r.spool.pieces.length > 0 && r.spool.kept).length;
  const short = plan.parts.filter((p) => p.short.length > 0);
  const lastCut: PlannedPiece[] = rows.flatMap((r) => r.spool.pieces).filter((p) => p.done && !p.spoiled);
  const last = lastCut.at(-1);
  const next = rows
    .map((r) => ({ ...r, piece: r.spool.pieces.find((p) => !p.done) }))
    .find((r) => r.piece !== undefined);
  return (
    <Sheet label="The plan">
      <h2 className="text-head">
        {rows.length === 0
          ? "No spool is noted yet"
          : plan.proved
            ? `${metres(plan.waste_mm)} wasted; less is not possible`
            : `${metres(plan.waste_mm)} wasted; at best ${metres(plan.lower_bound_mm)}`}
      </h2>
      <p className="mb-2 text-fine text-second">
        {plan.pieces} pieces off {plan.spools} spools and remnants
      </p>
      <dl>
        {short.length > 0 && (
          <Fact name="to buy">
            {short.slice(0, BOUGHT_SHOWN).map((p) => (
              <span key={`${p.part} ${p.colour}`} className="block">
                {[turned(p.part), p.colour].filter(Boolean).join(" ")}, <strong>{metres(p.short_mm)}</strong>
              </span>
            ))}
            {short.length > BOUGHT_SHOWN && <span>and {short.length - BOUGHT_SHOWN} more, listed below</span>}
          </Fact>
        )}
        {next?.piece && (
          <Fact name="next">
            <strong>{length(next.piece.length_mm, units)}</strong> {next.piece.label}
            {next.spool.place ? `, ${next.spool.place}` : ""}
          </Fact>
        )}
        <Fact name="kept">
          {kept} {kept === 1 ? "remnant" : "remnants"} of {length(reply.remnant_mm, units)} or more
        </Fact>
      </dl>
      {reply.findings.map((f) => (
        <p key={f.what} className="mt-2 border-l-[3px] border-ochre pl-3 text-plain">
          {f.what} {f.remedies[0]?.text}
        </p>
      ))}
      {last && (
        <div className="mt-3 border-t border-rule pt-3">
          <p className="mb-2">Spoil a piece and say so: the rest is planned anew around what is cut.</p>
          <button
            className="press"
            onClick={() =>
              void act(last, "spoiled", null).then((problem) => {
                if (problem) say(problem.detail);
                else
                  say(`${last.label} is cut again.`, {
                    label: "It is good after all",
                    run: () => void act(last, "good after all", null),
                  });
              })
            }
          >
            {last.label} spoiled
          </button>
        </div>
      )}
    </Sheet>
  );
}
