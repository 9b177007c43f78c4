import { useMemo, useState } from "react";
import { useDesign } from "../../api/design";
import { useVolts, type Volts } from "../../api/prove";

type Row = Volts["rows"][number];

/** What a meter shows at each place against the battery's minus: plugged in, and with the device unplugged. */
export function VoltsLeaf() {
  const { design } = useDesign();
  const { data, error } = useVolts();
  const [connector, setConnector] = useState("");
  const connectors = useMemo(
    () => Object.keys(design.evaluation.ends.connectors).filter((c) => data?.rows.some((r) => on(r, c))),
    [data, design.evaluation.ends.connectors],
  );
  if (error) return <p className="text-madder">{error.message}</p>;
  if (!data) return <p className="text-second">Working the volts out ...</p>;
  const rows = data.rows.filter((r) => connector === "" || on(r, connector));
  if (data.rows.length === 0)
    return <p className="text-second">No load is whole yet: a meter would show nothing that can be said before.</p>;
  const named = design.document.circuits.circuits;
  return (
    <>
      <div className="mb-3 flex flex-wrap items-baseline gap-x-5">
        <label>
          Connector{" "}
          <select className="inkbox" value={connector} onChange={(e) => setConnector(e.target.value)}>
            <option value="">all of them</option>
            {connectors.map((c) => (
              <option key={c}>{c}</option>
            ))}
          </select>
        </label>
        <p className="text-second">Black probe on the battery’s minus, red probe from behind. Volts.</p>
      </div>
      <div className="overflow-x-auto">
        <table className="w-full" aria-label="Expected volts">
          <thead className="text-left text-fine text-second">
            <tr className="border-b border-ink">
              <th className="py-1 font-semibold">Place</th>
              <th className="font-semibold">Circuit</th>
              {data.modes.map((mode, n) => (
                <th key={n} className="text-right font-semibold">
                  {mode || "working"}
                </th>
              ))}
              <th className="pl-6 font-semibold">Device unplugged</th>
              <th className="pl-6 font-semibold">Dead with this fuse out</th>
            </tr>
          </thead>
          <tbody>
            {rows.map((r) => (
              <tr key={`${r.place} ${r.side}`} className="border-b border-faint">
                <td className="py-1 pr-4 font-figures font-bold">{r.place}</td>
                <td className="pr-4">
                  {r.circuit} {named[r.circuit]?.name}
                  {r.side === "return" && <span className="text-second">, return</span>}
                </td>
                {r.volts.map((v, n) => (
                  <td key={n} className="text-right font-figures">
                    {v.toFixed(2)}
                  </td>
                ))}
                <td className="pl-6 font-figures">{r.unplugged_v ? unplugged(r.unplugged_v) : ""}</td>
                <td className="pl-6 font-figures">{r.fuse}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </>
  );
}

function on(row: Row, connector: string): boolean {
  return row.place.startsWith(`${connector}-`);
}

/** One figure where all modes agree, else one for each. */
function unplugged(volts: readonly number[]): string {
  const said = volts.map((v) => v.toFixed(2));
  return new Set(said).size === 1 ? (said[0] ?? "") : said.join(" / ");
}
