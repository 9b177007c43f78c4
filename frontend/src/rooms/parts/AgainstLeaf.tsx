import { useState } from "react";
import { useDifferences, useVersions } from "../../api/buying";
import { useDesign, useShelf } from "../../api/design";
import { Swatch } from "../../components/Swatch";
import { length, mass, trim, unitsOf } from "../../format";
import { amount } from "./lines";

/** Bill and cut list against an earlier version, or against another harness. */
export function AgainstLeaf() {
  const { id, design } = useDesign();
  const { data: kept } = useVersions();
  const { data: shelf } = useShelf();
  const [against, setAgainst] = useState("");
  const [other = "", at = ""] = against.split(" ");
  const { data, error, isFetching } = useDifferences(other, at ? Number(at) : null);
  const earlier = (kept?.versions ?? []).filter((v) => v.version <= design.version && v.label);
  return (
    <>
      <label className="mb-3 flex flex-wrap items-center gap-3">
        <span className="text-second">held against</span>
        <select
          className="inkbox max-w-[520px] py-0.5"
          value={against}
          aria-label="held against"
          onChange={(e) => setAgainst(e.target.value)}
        >
          <option value="">...</option>
          {earlier.length > 0 && (
            <optgroup label="before an edit">
              {earlier.slice(0, 60).map((v) => (
                <option key={v.version} value={`${id} ${v.version - 1}`}>
                  before: {v.label}
                </option>
              ))}
            </optgroup>
          )}
          <optgroup label="another harness">
            {(shelf ?? [])
              .filter((d) => d.id !== id)
              .map((d) => (
                <option key={d.id} value={d.id}>
                  {d.name}
                </option>
              ))}
          </optgroup>
        </select>
        {isFetching && <span className="text-second">Calculating both ...</span>}
      </label>
      {error && <p className="text-madder">{error.message}</p>}
      {data ? (
        <Told told={data.differences} />
      ) : (
        against === "" && (
          <p className="max-w-[80ch] text-second">
            Choose what this harness is held against: what it was before an edit, or another one on the shelf. Parts,
            money, mass and every piece that is cut otherwise are told.
          </p>
        )
      )}
    </>
  );
}

type Differences = NonNullable<ReturnType<typeof useDifferences>["data"]>["differences"];

function Told({ told }: { told: Differences }) {
  const { design } = useDesign();
  const units = unitsOf(design.document);
  const rows: [string, number, number, (v: number) => string][] = [
    ["wires", told.before.wires, told.after.wires, String],
    ["metres", told.before.metres, told.after.metres, (v) => trim(v, 2)],
    ["mass", told.before.mass_g, told.after.mass_g, (v) => mass(v, units, 1)],
    ["cost of one", told.before.cost_each, told.after.cost_each, (v) => v.toFixed(2)],
    ["tools to buy", told.before.tooling, told.after.tooling, (v) => v.toFixed(0)],
    ["stops", told.before.stops, told.after.stops, String],
    ["to fix", told.before.fixes, told.after.fixes, String],
  ];
  return (
    <>
      <table className="mb-5 text-plain" aria-label="What it comes to">
        <tbody>
          {rows.map(([name, before, after, show]) => (
            <tr key={name} className="border-b border-faint">
              <th className="w-[140px] py-1 text-left font-normal text-second">{name}</th>
              <td className="w-[110px] text-right font-figures text-second">{show(before)}</td>
              <td className="w-[110px] text-right font-figures font-bold">{show(after)}</td>
              <td className="w-[110px] text-right font-figures">
                {Math.abs(after - before) < 1e-9
                  ? "same"
                  : `${after > before ? "+" : "−"} ${show(Math.abs(after - before))}`}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <h2 className="text-head">
        Parts{" "}
        <span className="font-text text-base text-second">
          {told.bill.length} otherwise, {told.same_lines} the same; for one harness
        </span>
      </h2>
      {told.bill.length > 0 && (
        <table className="mb-5 w-full max-w-[1000px] text-plain" aria-label="Parts otherwise">
          <thead className="text-left text-fine text-second">
            <tr className="border-b border-ink">
              <th className="py-1">Part</th>
              <th>In words</th>
              <th className="text-right">Before</th>
              <th className="text-right">Now</th>
              <th className="text-right">Cost</th>
            </tr>
          </thead>
          <tbody>
            {told.bill.map((b) => (
              <tr key={`${b.group} ${b.code} ${b.colour}`} className="border-b border-faint align-baseline">
                <td className="whitespace-nowrap py-1 pr-3 font-figures font-bold">{b.code}</td>
                <td className="max-w-[420px] truncate">
                  {b.colour && <Swatch colour={b.colour} width={30} />} {b.description}
                </td>
                <td className="text-right font-figures text-second">{b.before ? amount(b.before, b.unit) : "–"}</td>
                <td className="text-right font-figures">{b.after ? amount(b.after, b.unit) : "–"}</td>
                <td className="text-right font-figures">
                  {b.cost > 0 ? "+ " : b.cost < 0 ? "− " : ""}
                  {Math.abs(b.cost).toFixed(2)}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <h2 className="text-head">
        Cut list{" "}
        <span className="font-text text-base text-second">
          {told.cuts.length} otherwise, {told.same_cuts} the same
        </span>
      </h2>
      {told.cuts.length > 0 && (
        <table className="w-full max-w-[1000px] text-plain" aria-label="Pieces otherwise">
          <thead className="text-left text-fine text-second">
            <tr className="border-b border-ink">
              <th className="py-1">Wire</th>
              <th>From</th>
              <th>To</th>
              <th className="text-right">Before</th>
              <th className="text-right">Now</th>
              <th className="pl-5">Of</th>
            </tr>
          </thead>
          <tbody>
            {told.cuts.map((c, n) => (
              <tr key={`${c.label} ${n}`} className="border-b border-faint align-baseline">
                <td className="py-1 font-figures font-bold">{c.label}</td>
                <td>{c.from_text}</td>
                <td>{c.to_text}</td>
                <td className="text-right font-figures text-second">
                  {c.before_mm ? length(c.before_mm, units) : "–"}
                </td>
                <td className="text-right font-figures">{c.after_mm ? length(c.after_mm, units) : "taken out"}</td>
                <td className="pl-5 font-figures text-fine">
                  {c.before_part && c.after_part && c.before_part !== c.after_part
                    ? `${c.before_part}, now ${c.after_part}`
                    : c.after_part || c.before_part}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </>
  );
}
