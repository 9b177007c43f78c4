import { Link } from "react-router";
import type { DressSheet } from "../../api/dress";
import { useDesign } from "../../api/design";
import { length, mass, unitsOf } from "../../format";

/** What every branch weighs, and where the harness balances along its datum. */
export function MassLeaf({ sheet }: { sheet: DressSheet }) {
  const { design } = useDesign();
  const units = unitsOf(design.document);
  const { masses } = sheet;
  const budget = design.document.brief.mass_budget_g;
  const whole = design.evaluation.parts.mass_each_g;
  const rows = Object.entries(masses.branches).map(([branch, m]) => ({
    branch,
    m,
    total: m.wires_g + m.cover_g + m.holds_g,
  }));
  const most = Math.max(1, ...rows.map((r) => r.total));
  rows.sort((x, y) => y.total - x.total);
  return (
    <>
      <p className="mb-3 max-w-[86ch] text-second">
        The whole harness weighs <strong className="text-ink">{mass(whole, units)}</strong>
        {budget !== null && budget !== undefined ? ` of ${mass(budget, units)}` : ""}, its branches{" "}
        {mass(masses.total_g, units)} of it
        {masses.balance_mm === null || masses.balance_mm === undefined ? (
          <>
            . Name a datum under{" "}
            <Link className="quiet" to={`/d/${design.id}/route/points`}>
              Points
            </Link>
            , and it is said where they balance.
          </>
        ) : (
          <>
            ; they balance <strong className="text-ink">{length(masses.balance_mm, units)}</strong> from the datum.
          </>
        )}{" "}
        {Object.keys(masses.by_cover_g).length > 0 &&
          `Covers: ${Object.entries(masses.by_cover_g)
            .map(([kind, g]) => `${kind} ${mass(g, units)}`)
            .join(", ")}.`}
      </p>
      <table className="w-full max-w-[860px] text-plain" aria-label="Mass by branch">
        <thead className="text-left text-fine text-second">
          <tr className="border-b border-ink">
            <th className="w-[70px] py-1">Branch</th>
            <th className="w-[84px] text-right">Wires</th>
            <th className="w-[84px] text-right">Cover</th>
            <th className="w-[84px] text-right">Held by</th>
            <th className="w-[84px] text-right">All</th>
            <th className="pl-4">
              <span className="sr-only">Share</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {rows.map(({ branch, m, total }) => (
            <tr key={branch} className="border-b border-faint font-figures">
              <td className="py-1 font-bold">{branch}</td>
              {[m.wires_g, m.cover_g, m.holds_g].map((g, n) => (
                <td key={n} className="text-right">
                  {mass(g, units, 1)}
                </td>
              ))}
              <td className="text-right font-bold">{mass(total, units, 1)}</td>
              <td className="pl-4">
                <span className="block h-2.5 bg-second" style={{ width: `${(total / most) * 100}%` }} />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}
