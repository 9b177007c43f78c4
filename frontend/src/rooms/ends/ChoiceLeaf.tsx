import { Wide } from "../../components/Wide";
import { useState } from "react";
import { useDesign, useActs } from "../../api/design";
import { useChoices, usePinout, type Choices } from "../../api/ends";

type Choice = Choices["choices"][number];

const GRADES = {
  best: "heat, current, ways and locks to spare",
  better: "two or three of those to spare",
  good: "it holds, with little to spare",
};
const RANK = { best: 0, better: 1, good: 2 };

/** What the list can be sorted by; as it is ranked where nothing is chosen. */
const SORTS = {
  grade: (c: Choice) => RANK[c.grade],
  parts: (c: Choice) => c.parts_cost,
  tools: (c: Choice) => c.tooling_cost,
  each: (c: Choice) => c.total_each,
  ways: (c: Choice) => c.ways,
};
type Sort = keyof typeof SORTS;

/** Every family tried on all wires of this connector, ranked; those that would not do, with the reason. */
export function ChoiceLeaf({ id }: { id: string }) {
  const { design } = useDesign();
  const { act } = useActs();
  const { mate } = usePinout();
  const { data, error, isFetching } = useChoices(id);
  const [problem, setProblem] = useState<string | null>(null);
  const [sort, setSort] = useState<Sort | null>(null);
  if (error) return <p className="text-madder">{error.message}</p>;
  if (!data) return <p className="text-second">Trying every series on every wire ...</p>;
  const { choices, rejected, wires } = data.ranking;
  const now = design.document.ends.connectors[id];
  const by = sort ? SORTS[sort] : null;
  const sorted = by ? [...choices].sort((a, b) => by(a) - by(b)) : choices;
  const take = async (c: Choice) => {
    const found = await mate({
      connector: id,
      family: c.family,
      ways: c.ways,
      shell: c.shell,
      contact_gender: c.contact_gender,
      key: "",
      itself: true,
    });
    setProblem(found?.detail ?? null);
  };
  return (
    <div className={isFetching ? "opacity-60" : ""}>
      <p className="mb-3 max-w-[86ch] text-second">
        {wires === 0
          ? "No wire ends here yet, so nothing but the place decides."
          : wires === 1
            ? "Every family was tried on the one wire that ends here, with its current, in this place, in the gauge it would have with that family."
            : `Every family was tried on ${wires === 2 ? "both wires" : `all ${wires} wires`} that end here, with their currents, in this place, each in the gauge it would have with that family.`}{" "}
        Cost is of one half with its contacts, seals and plugs; tools that are not owned are shared out over the
        harnesses made.
      </p>
      {problem && (
        <p role="alert" className="mb-2 text-madder">
          {problem}
        </p>
      )}
      {data.grouped && (
        <p className="mb-4 max-w-[96ch] border-l-2 border-rule pl-3">
          <strong className="font-figures">{data.grouped.connectors.join(", ")}</strong> lie together:{" "}
          {data.grouped.plugs} plugs for <strong className="font-figures">{data.grouped.parts_cost.toFixed(2)}</strong>,
          any of which can be swapped with its like. All of it in one{" "}
          <strong className="font-figures">{data.grouped.one.family}</strong> of {data.grouped.one.ways} ways:{" "}
          <strong className="font-figures">{data.grouped.one.parts_cost.toFixed(2)}</strong>
          {data.grouped.one.tooling_cost > 0 && `, and ${data.grouped.one.tooling_cost.toFixed(0)} for tools`}.{" "}
          <button
            className="quiet"
            onClick={() => void act("connector", data.grouped?.line ?? "").then((p) => setProblem(p ? p.detail : null))}
          >
            make them one
          </button>
        </p>
      )}
      <Wide label="Series">
        <table className="mb-5 w-full min-w-[620px] text-plain" aria-label="Series that would do">
          <thead className="text-left text-fine text-second">
            <tr className="border-b border-ink align-bottom">
              <th className="py-1">Series</th>
              <Head sort="grade" now={sort} onSort={setSort} text="Grade" />
              <Head sort="ways" now={sort} onSort={setSort} text="Ways" right />
              <th className="py-1 pl-3">Its wires</th>
              <Head sort="parts" now={sort} onSort={setSort} text="Parts" right />
              <Head sort="tools" now={sort} onSort={setSort} text="Tools" right />
              <Head sort="each" now={sort} onSort={setSort} text="Each" right />
              <th className="py-1 pl-4">Why</th>
              <th className="w-[84px]">
                <span className="sr-only">Take it</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {sorted.map((c) => (
              <tr key={c.family} className="border-b border-faint align-top">
                <td className="py-1.5">
                  <strong className="font-figures">{c.family}</strong>{" "}
                  <span className="block text-fine text-second">{c.name}</span>
                </td>
                <td className="py-1.5" title={GRADES[c.grade]}>
                  {c.grade}
                </td>
                <td className="py-1.5 text-right font-figures">{c.ways}</td>
                <td className="py-1.5 pl-3 font-figures text-fine">{c.gauges.join(", ")}</td>
                <td className="py-1.5 pl-3 text-right font-figures">{c.parts_cost.toFixed(2)}</td>
                <td className="py-1.5 pl-3 text-right font-figures">
                  {c.tooling_cost ? c.tooling_cost.toFixed(0) : "owned"}
                </td>
                <td className="py-1.5 pl-3 text-right font-figures font-bold">{c.total_each.toFixed(2)}</td>
                <td className="py-1.5 pl-4 text-fine">{c.why.join(", ")}</td>
                <td className="py-1 text-right">
                  {now?.family === c.family ? (
                    <span className="text-fine text-second">fitted now</span>
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
      </Wide>
      <section>
        <h2 className="text-head">Would not do</h2>
        <ul className="mt-1 columns-1 gap-8 text-plain min-[1000px]:columns-2">
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

function Head({
  sort,
  now,
  onSort,
  text,
  right,
}: {
  sort: Sort;
  now: Sort | null;
  onSort: (sort: Sort | null) => void;
  text: string;
  right?: boolean;
}) {
  return (
    <th className={`py-1 font-bold ${right ? "pl-3 text-right" : ""}`} aria-sort={now === sort ? "ascending" : "none"}>
      <button
        className={now === sort ? "font-bold text-ink underline" : "hover:text-ink"}
        onClick={() => onSort(now === sort ? null : sort)}
      >
        {text}
      </button>
    </th>
  );
}
