import { useState } from "react";
import { useDesign } from "../../api/design";
import { useChoices, usePinout, type Choices } from "../../api/ends";

type Choice = Choices["choices"][number];

const GRADES = [
  ["best", "Best", "with heat, current, ways and locks to spare"],
  ["better", "Better", "two or three of those to spare"],
  ["good", "Good", "they hold, with little to spare"],
] as const;

/** Every family tried on all wires of this connector, ranked; those that would not do, with the reason. */
export function ChoiceLeaf({ id }: { id: string }) {
  const { design } = useDesign();
  const { mate } = usePinout();
  const { data, error, isFetching } = useChoices(id);
  const [problem, setProblem] = useState<string | null>(null);
  if (error) return <p className="text-madder">{error.message}</p>;
  if (!data) return <p className="text-second">Trying every family on every wire ...</p>;
  const { choices, rejected, wires } = data.ranking;
  const now = design.document.ends.connectors[id];
  const take = async (c: Choice) => {
    const found = await mate({ connector: id, family: c.family, ways: c.ways, shell: c.shell, contact_gender: c.contact_gender, key: "", itself: true });
    setProblem(found?.detail ?? null);
  };
  return (
    <div className={isFetching ? "opacity-60" : ""}>
      <p className="mb-3 max-w-[86ch] text-second">
        {wires === 0 ? "No wire ends here yet, so nothing but the place decides." : `Every family was tried on ${wires === 1 ? "the one wire" : wires === 2 ? "both wires" : `all ${wires} wires`} that end here, with their currents, in this place.`} Cost is of one
        half with its contacts, seals and plugs; tools that are not owned are shared out over the harnesses made.
      </p>
      {problem && (
        <p role="alert" className="mb-2 text-madder">
          {problem}
        </p>
      )}
      {GRADES.map(([grade, title, how]) => {
        const rows = choices.filter((c) => c.grade === grade);
        if (rows.length === 0) return null;
        return (
          <section key={grade} className="mb-5">
            <h2 className="inline text-[20px]">{title}</h2> <span className="text-[14px] text-second">{how}</span>
            <table className="w-full text-[14.5px]" aria-label={`${title} families`}>
              <thead className="text-left text-[13px] text-second">
                <tr className="border-b border-ink">
                  <th className="py-1">Family</th>
                  <th className="w-[56px] text-right">Ways</th>
                  <th className="w-[64px] text-right">Parts</th>
                  <th className="w-[64px] text-right">Tools</th>
                  <th className="w-[70px] text-right">Each</th>
                  <th className="pl-4">Why</th>
                  <th className="w-[84px]" aria-label="Take it" />
                </tr>
              </thead>
              <tbody>
                {rows.map((c) => (
                  <tr key={c.family} className="border-b border-faint align-top">
                    <td className="py-1.5">
                      <strong className="font-figures">{c.family}</strong> <span className="block text-[13px] text-second">{c.name}</span>
                    </td>
                    <td className="py-1.5 text-right font-figures">{c.ways}</td>
                    <td className="py-1.5 text-right font-figures">{c.parts_cost.toFixed(2)}</td>
                    <td className="py-1.5 text-right font-figures">{c.tooling_cost ? c.tooling_cost.toFixed(0) : "owned"}</td>
                    <td className="py-1.5 text-right font-figures font-bold">{c.total_each.toFixed(2)}</td>
                    <td className="py-1.5 pl-4 text-[13.5px]">{c.why.join(", ")}</td>
                    <td className="py-1 text-right">
                      {now?.family === c.family ? (
                        <span className="text-[13px] text-second">fitted now</span>
                      ) : (
                        <button className="press" onClick={() => void take(c)}>
                          Take it
                        </button>
                      )}
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
          </section>
        );
      })}
      <section>
        <h2 className="text-[20px]">Would not do</h2>
        <ul className="mt-1 columns-1 gap-8 text-[14px] min-[1000px]:columns-2">
          {rejected.map(([family, reason]) => (
            <li key={family} className="break-inside-avoid border-b border-faint py-1">
              <strong className="font-figures">{family}</strong> <span className="text-second">{reason}</span>
            </li>
          ))}
        </ul>
      </section>
    </div>
  );
}
