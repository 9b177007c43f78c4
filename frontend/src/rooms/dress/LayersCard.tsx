import type { DressSheet } from "../../api/dress";
import { useDesign } from "../../api/design";
import { CrossSection } from "../../components/CrossSection";
import { Fact, Sheet } from "../../components/Sheet";
import { fine, length, trim, unitsOf } from "../../format";

/** A branch in layers: its wires as they lie, what they take up, what goes over them and when. */
export function LayersCard({ sheet, branch }: { sheet: DressSheet; branch: string }) {
  const { design } = useDesign();
  const units = unitsOf(design.document);
  const stated = design.document.route.branches[branch];
  const bundle = design.evaluation.dress.bundles[branch];
  const cover = sheet.covers.find((c) => c.branches.includes(branch));
  const lay = sheet.lays[branch];
  const ends = stated ? [stated.from_point, stated.to_point] : [];
  const pieces = sheet.shrinks.filter(
    (s) => s.what.endsWith(` ${branch}`) || (s.what === "breakout" && ends.includes(s.place)),
  );
  if (!bundle || !cover) return null;
  const outer = lay?.rings.at(-1);
  const more = outer ? (outer.longer - 1) * 100 : 0;
  return (
    <Sheet label={`${branch} in layers`}>
      <h2 className="text-head leading-tight">{branch} in layers</h2>
      <p className="text-fine text-second">
        {lay
          ? `${ringsOf(lay.rings.map((r) => r.things.length))}; ${fillers(lay.rings.reduce((sum, r) => sum + r.fillers, 0))}; turns ${lay.rings
              .map((r) => r.turns)
              .filter(Boolean)
              .join(", ")}`
          : "wires side by side"}
      </p>
      <CrossSection branch={branch} />
      <dl className="mt-2 text-base">
        {outer && outer.lay_mm > 0 && (
          <>
            <Fact name="lay">
              a turn in <strong>{length(outer.lay_mm, units)}</strong> outside
            </Fact>
            <Fact name="takes up">
              <strong>+{trim(more, 1)} %</strong>, counted in Cut
            </Fact>
          </>
        )}
        <Fact name="thick">
          <strong>{fine(bundle.tight_mm, units)}</strong> tight, {fine(bundle.loose_mm, units)} as laid
        </Fact>
        <Fact name="over all">
          <strong>{fine(cover.outside_mm, units)}</strong>
        </Fact>
        <Fact name="goes on">
          {cover.kind === "none" ? (
            cover.because
          ) : (
            <>
              <strong>{cover.goes_on}.</strong> {cover.description}
            </>
          )}
        </Fact>
        {cover.kind !== "none" && (
          <Fact name="left bare">
            {length(cover.bare_from_mm, units)} and {length(cover.bare_to_mm, units)}
          </Fact>
        )}
        {pieces.length > 0 && (
          <Fact name="shrink">
            {pieces.map((s) => (
              <span key={`${s.place} ${s.what}`} className="block">
                {s.code}, {length(s.cut_mm, units)} at {s.place}
              </span>
            ))}
          </Fact>
        )}
        {cover.taped_mm ? <Fact name="taped">{length(cover.taped_mm, units)} at its ends</Fact> : null}
      </dl>
    </Sheet>
  );
}

function ringsOf(counts: number[]): string {
  if (counts.length === 1) return counts[0] === 1 ? "one wire" : `${counts[0] ?? 0} side by side`;
  return `${counts.join(", ")} from the middle out`;
}

function fillers(count: number): string {
  return count === 0 ? "no fillers" : count === 1 ? "one filler" : `${count} fillers`;
}
