import { useState } from "react";
import { useTrade, useWholes, type Whole } from "../../api/buying";
import { useActs, useDesign } from "../../api/design";
import { Underway } from "../../components/Underway";
import { length, mass, money, trim, unitsOf } from "../../format";

const MOST = 3;

/** The whole harness made otherwise: up to three ways beside it as it is, figure by figure. */
export function WaysLeaf() {
  const { data: offered } = useWholes();
  const [chosen, setChosen] = useState<readonly string[]>([]);
  const { data, error, isFetching, share } = useTrade(chosen);
  if (!offered) return <Underway text="Looking what else it may be made of" share={0} />;
  const kinds = [...new Set(offered.wholes.map((w) => w.kind))];
  return (
    <>
      <p className="mb-2 flex flex-wrap items-center gap-3">
        <select
          className="inkbox max-w-[420px] py-0.5"
          aria-label="put another way beside it"
          value=""
          disabled={chosen.length >= MOST}
          onChange={(e) => e.target.value && setChosen([...chosen, e.target.value])}
        >
          <option value="">{chosen.length >= MOST ? "three at most" : "put another way beside it ..."}</option>
          {kinds.map((kind) => (
            <optgroup key={kind} label={kind}>
              {offered.wholes
                .filter((w) => w.kind === kind && !chosen.includes(w.id))
                .map((w) => (
                  <option key={w.id} value={w.id}>
                    {w.name}
                  </option>
                ))}
            </optgroup>
          ))}
        </select>
        {isFetching && <Underway text="Making the whole harness so" share={share} />}
      </p>
      {error ? (
        <p className="text-madder">{error.message}</p>
      ) : (
        data && (
          <Columns wholes={data.wholes} onDrop={(id) => setChosen(chosen.filter((c) => c !== id))} busy={isFetching} />
        )
      )}
      <p className="mt-4 max-w-[92ch] text-plain text-second">
        Hand work is by standard times ({offered.source}). Most of it as it is:{" "}
        {offered.times
          .slice()
          .sort((a, b) => b.minutes - a.minutes)
          .slice(0, 4)
          .map((t) => `${t.operation} ${trim(t.count, 1)} times, ${t.minutes.toFixed(0)} min`)
          .join("; ")}
        .
      </p>
    </>
  );
}

interface ColumnsProps {
  wholes: Whole[];
  onDrop: (id: string) => void;
  busy: boolean;
}

function Columns({ wholes, onDrop, busy }: ColumnsProps) {
  const { design } = useDesign();
  const { doIt } = useActs();
  const units = unitsOf(design.document);
  const quantity = design.document.brief.quantity;
  const pay = (value: number) => money(value, design.document.brief);
  const rows: [string, (w: Whole) => number | null, (value: number) => string, boolean][] = [
    [`Parts for ${quantity}`, (w) => w.parts_cost, pay, true],
    ["Tools to buy, once", (w) => w.tooling, (v) => money(v, design.document.brief, 0), true],
    ["Each, tools shared out", (w) => w.cost_each, pay, true],
    ["One more after that", (w) => w.cost_more, pay, true],
    ["Mass of one", (w) => w.mass_g, (v) => mass(v, units), true],
    ["Thickest bundle", (w) => w.bundle_mm, (v) => length(v, units), true],
    ["Hand work for one", (w) => w.minutes, (v) => `${(v / 60).toFixed(1)} h`, true],
    ["Stops", (w) => w.stops, (v) => String(v), true],
    ["To fix", (w) => w.fixes, (v) => String(v), true],
    ["To consider", (w) => w.considers, (v) => String(v), false],
  ];
  return (
    <table
      className={`w-full max-w-[1080px] table-fixed text-plain ${busy ? "opacity-60" : ""}`}
      aria-label="Side by side"
    >
      <thead className="text-left align-bottom">
        <tr className="border-b border-ink">
          <th className="w-[190px] py-1">
            <span className="sr-only">Figure</span>
          </th>
          {wholes.map((w) => (
            <th key={w.id} className="py-1 pl-4 text-right">
              {w.name}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {rows.map(([name, of, show, compared]) => {
          const known = wholes.map(of).filter((v): v is number => v !== null);
          const least = Math.min(...known);
          const differ = compared && known.some((v) => v !== least);
          return (
            <tr key={name} className="border-b border-faint">
              <th className="py-1.5 text-left font-normal text-second">{name}</th>
              {wholes.map((w) => {
                const value = of(w);
                const best = differ && value === least;
                return (
                  <td
                    key={w.id}
                    className={`pl-4 text-right font-figures ${best ? "font-bold text-verdigris" : ""} ${name === "Stops" && value ? "text-madder" : ""}`}
                  >
                    {value === null ? "not known" : show(value)}
                    {best ? " ◂" : ""}
                  </td>
                );
              })}
            </tr>
          );
        })}
        <tr className="align-top">
          <th className="py-1.5 text-left font-normal text-second">Besides</th>
          {wholes.map((w) => (
            <td key={w.id} className="py-1.5 pl-4 text-right text-fine text-second">
              {w.words.map((word) => (
                <span key={word} className="block">
                  {word}
                </span>
              ))}
            </td>
          ))}
        </tr>
        <tr className="align-top">
          <th>
            <span className="sr-only">What to do</span>
          </th>
          {wholes.map((w) => (
            <td key={w.id} className="py-1.5 pl-4 text-right">
              {w.id !== "now" && (
                <>
                  {w.operations.length > 0 && (
                    <button
                      className="quiet"
                      onClick={() => void doIt(w.operations as Parameters<typeof doIt>[0], `${w.name}`)}
                    >
                      make it so
                    </button>
                  )}
                  <button className="quiet ml-3" onClick={() => onDrop(w.id)}>
                    put away
                  </button>
                </>
              )}
            </td>
          ))}
        </tr>
      </tbody>
    </table>
  );
}
