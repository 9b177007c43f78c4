import { Wide } from "../../components/Wide";
import { useDesign } from "../../api/design";
import { length, otherLength, turned, unitsOf } from "../../format";
import { Tick } from "./Tick";
import type { useTicks } from "./useTicks";

interface Props {
  ticks: ReturnType<typeof useTicks>["ticks"];
  onToggle: (piece: string, label: string) => void;
}

/** Cables, each in one piece: its cores and its shield are cut with it. */
export function Cables({ ticks, onToggle }: Props) {
  const { design } = useDesign();
  const units = unitsOf(design.document);
  const cables = design.evaluation.cut.cables;
  if (cables.length === 0) return null;
  return (
    <>
      <h2 className="mb-1 text-head">Cables, each in one piece</h2>
      <Wide label="Cables">
        <table className="mb-6 w-full min-w-[680px] text-plain" aria-label="Cables">
          <thead className="text-left text-fine text-second">
            <tr className="border-b border-ink">
              <th className="w-[46px]">
                <span className="sr-only">Cut</span>
              </th>
              <th className="py-1">Cable</th>
              <th>Cable to use</th>
              <th className="text-right">Cores</th>
              <th className="text-right">Cut</th>
              <th className="px-4">Its wires</th>
              <th>From</th>
              <th>To</th>
            </tr>
          </thead>
          <tbody>
            {cables.map((c) => (
              <tr key={c.id} className="border-b border-faint align-baseline [&>td]:py-1.5">
                <td>
                  <Tick
                    label={c.id}
                    tick={ticks.get(`cable ${c.id}`)}
                    onToggle={() => onToggle(`cable ${c.id}`, c.id)}
                  />
                </td>
                <td className="pr-3 font-figures font-bold">{c.id}</td>
                <td className="font-figures">{turned(c.part)}</td>
                <td
                  className="text-right font-figures"
                  title={c.cores > c.wires.length ? `${c.cores - c.wires.length} not used` : ""}
                >
                  {c.wires.length === c.cores ? c.cores : `${c.wires.length} of ${c.cores}`}
                </td>
                <td
                  className="whitespace-nowrap pl-2 text-right font-figures font-bold text-figure"
                  title={otherLength(c.cut_mm, units)}
                >
                  {length(c.cut_mm, units)}
                </td>
                <td className="px-4 font-figures text-fine">
                  {[...c.wires, ...(c.shield ? [c.shield] : [])]
                    .map((w) => design.evaluation.wire.wires[w]?.label ?? w)
                    .join(" ")}
                  {c.shield ? <span className="font-text text-second"> the last its shield</span> : null}
                  {c.peels.map((p) => (
                    <span key={p} className="block font-text text-second">
                      {p}
                    </span>
                  ))}
                  {(c.ends ?? []).map((end) => (
                    <span key={end.at} className="block font-text text-second">
                      {end.at}: jacket off {length(end.jacket_mm, units)} ({end.by})
                      {end.shield
                        ? `; shield ${end.shield}${end.part ? `, ${end.part}` : ""}, ${length(end.piece_mm, units)}`
                        : ""}
                    </span>
                  ))}
                  {c.unused.length > 0 && (
                    <span className="block font-text text-second">
                      not used: {c.unused.join(", ") || "cores"}; cut back and cap
                    </span>
                  )}
                </td>
                <td className="pr-3">{c.from_text}</td>
                <td>{c.to_text}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </Wide>
    </>
  );
}
