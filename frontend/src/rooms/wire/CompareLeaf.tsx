import { useDesign, useFamilies, useActs } from "../../api/design";
import { Underway } from "../../components/Underway";
import { degrees, fine, mass, money, trim, unitsOf } from "../../format";

/** The whole harness in one family after another, side by side. */
export function CompareLeaf() {
  const { design } = useDesign();
  const { doIt } = useActs();
  const { data, error, isFetching, share } = useFamilies();
  const units = unitsOf(design.document);
  if (error) return <p className="text-madder">{error.message}</p>;
  const underway = <Underway text="Calculating the whole harness in every wire type" share={share} />;
  if (!data) return underway;
  const sound = data.families.filter((f) => f.stops === 0);
  const best = (pick: (f: (typeof sound)[number]) => number) => Math.min(...sound.map(pick));
  const least = {
    grams: best((f) => f.grams),
    cost: best((f) => f.cost),
    drop: best((f) => f.worst_drop_percent ?? Infinity),
    bundle: best((f) => f.largest_bundle_mm),
  };
  const rows = [...data.families].sort(
    (a, b) => Number(b.chosen) - Number(a.chosen) || a.stops - b.stops || a.grams - b.grams,
  );
  const figure = (text: string, first: boolean) => (
    <span className={first ? "font-bold text-verdigris" : ""}>
      {text}
      {first ? " ◂" : ""}
    </span>
  );
  return (
    <>
      {isFetching && underway}
      <p className="mb-2 max-w-[86ch] text-second">
        The same harness with another family instead of its own. Circuits and wires that have a family of their own keep
        it. ◂ marks the best of those without a stop.
      </p>
      <table className={`w-full text-plain ${isFetching ? "opacity-60" : ""}`} aria-label="Wire types side by side">
        <thead className="text-left text-second">
          <tr className="border-b border-ink text-fine">
            <th className="py-1">Wire type</th>
            <th className="text-right">Mass</th>
            <th className="text-right">Cost</th>
            <th className="text-right">Worst drop</th>
            <th className="text-right">Hottest</th>
            <th className="text-right">Thickest bundle</th>
            <th className="text-right">Wires to buy</th>
            <th className="pl-4">Findings</th>
            <th>
              <span className="sr-only">Take it</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {rows.map((f) => (
            <tr
              key={f.family}
              className={`border-b border-faint ${f.chosen ? "bg-wash" : f.stops ? "text-second" : ""}`}
            >
              <td className="py-1.5 pl-1">
                <strong className="font-figures">{f.family}</strong>
                <span className="block text-fine text-second">{f.name}</span>
              </td>
              <td className="text-right font-figures">{figure(mass(f.grams, units), f.grams === least.grams)}</td>
              <td className="text-right font-figures">
                {figure(money(f.cost, design.document.brief), f.cost === least.cost)}
              </td>
              <td className="text-right font-figures">
                {f.worst_drop_percent === null
                  ? "–"
                  : figure(`${trim(f.worst_drop_percent, 1)} %`, f.worst_drop_percent === least.drop)}
              </td>
              <td className="text-right font-figures">{f.hottest_c === null ? "–" : degrees(f.hottest_c, units)}</td>
              <td className="text-right font-figures">
                {figure(fine(f.largest_bundle_mm, units), f.largest_bundle_mm === least.bundle)}
              </td>
              <td className="text-right font-figures">{f.wire_parts}</td>
              <td className="pl-4">
                {f.stops > 0 ? (
                  <span className="text-madder">{f.stops === 1 ? "1 stop" : `${f.stops} stops`}</span>
                ) : f.fixes > 0 ? (
                  <span className="text-ochre">{f.fixes === 1 ? "1 fix" : `${f.fixes} fixes`}</span>
                ) : (
                  "none"
                )}
              </td>
              <td className="pl-2 text-right">
                {f.chosen ? (
                  <strong>now</strong>
                ) : (
                  <button
                    className="quiet whitespace-nowrap"
                    onClick={() =>
                      void doIt([{ op: "replace", path: "/wire/family", value: f.family }], `wire family ${f.family}`)
                    }
                  >
                    use it
                  </button>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}
