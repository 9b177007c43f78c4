import { useMemo, useState } from "react";
import { useActs, useDesign, useWhy } from "../../api/design";
import { CrossSection } from "../../components/CrossSection";
import { EntryGrid } from "../../components/EntryGrid";
import { Fields } from "../../components/Fields";
import { Fact, Sheet } from "../../components/Sheet";
import { TypedField } from "../../components/TypedField";
import { degrees, fine, inOrder, length, unitsOf } from "../../format";
import { BRANCH, stretchFields } from "./specs";

/** One branch: what lies in it, cut across; how it was measured; the zones along it; and what can be done to it. */
export function BranchCard({ branch: id }: { branch: string }) {
  const { design } = useDesign();
  const { act } = useActs();
  const { askWhy } = useWhy();
  const { document, evaluation } = design;
  const branch = document.route.branches[id];
  const seen = evaluation.route.branches[id];
  const bundle = evaluation.dress.bundles[id];
  const [again, setAgain] = useState(0);
  const zones = useMemo(
    () => inOrder(document.brief.zones).map(([z, x]) => ({ value: z, label: x.name })),
    [document.brief.zones],
  );
  const specs = useMemo(() => stretchFields(zones), [zones]);
  if (!branch || !seen || !bundle) return null;
  const units = unitsOf(document);
  const name = (point: string) => document.route.points[point]?.name || point;
  const splices = Object.values(evaluation.route.splices).filter(
    (s) => s.branch === id || (!s.branch && [branch.from_point, branch.to_point].includes(s.point)),
  );
  const at = ["route", "branches", id];
  return (
    <Sheet label={`Branch ${id}`}>
      <h2 className="text-head leading-tight">{id}</h2>
      <p className="text-plain text-second">
        {name(branch.from_point)} to {name(branch.to_point)},{" "}
        <strong className="text-ink">{length(branch.length_mm, units)}</strong>
      </p>
      <CrossSection branch={id} />
      <dl className="mt-2 text-base">
        <Fact name="holds">
          <strong>{seen.wires}</strong> {seen.wires === 1 ? "wire" : "wires"}
          {seen.wires > 0 && (
            <>
              , <strong>{fine(bundle.tight_mm, units)}</strong> tight, {fine(bundle.loose_mm, units)} as laid
              {bundle.estimated ? ", estimated" : ""}{" "}
              <button className="quiet" onClick={() => askWhy("branch", id)}>
                why
              </button>
            </>
          )}
        </Fact>
        <Fact name="hottest">
          {seen.hottest_c === null
            ? "–"
            : `${degrees(seen.hottest_c, units)} at the core, air ${degrees(seen.ambient_c, units)}`}
        </Fact>
        <Fact name="shares with">{bundle.shares_with.join(", ") || "nothing that matters"}</Fact>
        <Fact name="held by">
          {seen.wires === 0
            ? "–"
            : `${bundle.clamps} ${bundle.clamps === 1 ? "clamp" : "clamps"}, one every ${length(bundle.clamp_every_mm, units)}${bundle.ties ? `; ${bundle.ties} ${bundle.ties === 1 ? "tie" : "ties"} between` : ""}`}
        </Fact>
        <Fact name="bends">
          {seen.wires === 0
            ? "–"
            : `no tighter than ${length(bundle.bend_run_mm, units)}; ${length(bundle.bend_held_mm, units)} where it is held`}
        </Fact>
        <Fact name="splices">
          {splices.length === 0
            ? "none here"
            : splices
                .map(
                  (s) => `${s.circuit} ${s.offset_mm ? `${length(s.offset_mm, units)} from` : "at"} ${name(s.point)}`,
                )
                .join("; ")}
        </Fact>
      </dl>
      <div className="mt-2 border-t border-rule pt-1">
        <Fields at={at} entry={{ ...branch }} specs={BRANCH} about={id} />
      </div>
      <h3 className="mb-1 mt-3 text-lead">Stretches in other zones</h3>
      <EntryGrid
        label={`Stretches of ${id}`}
        at={[...at, "stretches"]}
        entries={branch.stretches}
        specs={specs}
        onNew={{
          prompt: zones.length ? `new: ${zones[0]?.label ?? ""} 0 120` : "put a zone into the brief first",
          commit: (typed) => act("stretch", typed, id),
        }}
      />
      <div key={again} className="mt-2 border-t border-rule pt-1">
        <TypedField
          narrow
          figures
          label="put in"
          value=""
          placeholder="grommet 120"
          hint={`A point on it, so far from ${name(branch.from_point)}.`}
          onCommit={async (typed) => {
            const problem = await act("insert_point", typed, id);
            if (!problem) setAgain(again + 1);
            return problem;
          }}
        />
        <TypedField
          narrow
          figures
          label="hang on"
          value=""
          placeholder="another point"
          onCommit={async (typed) => {
            const problem = await act("rehang", typed, id);
            if (!problem) setAgain(again + 1);
            return problem;
          }}
        />
      </div>
    </Sheet>
  );
}
