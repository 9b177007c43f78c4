import { useDeferredValue, useState } from "react";
import { useFound, useShop, type Found } from "../api/ends";
import { useSay } from "../components/Notice";
import { trim } from "../format";

const KINDS = ["", "connector", "contact", "seal", "accessory", "splice", "cover", "tool", "wire", "fuse", "breaker"];

type Part = Found["rows"][number];

/** Parts by what they must do, typed in one line; what would not do, with the reason. */
export function FindLeaf() {
  const [typed, setTyped] = useState("sealed, 3 ways, 18 AWG thin wall, 125 °C");
  const [kind, setKind] = useState("");
  const need = useDeferredValue(typed);
  const { data, error } = useFound(need, kind);
  return (
    <>
      <form className="flex flex-wrap items-end gap-3" onSubmit={(e) => e.preventDefault()}>
        <label className="min-w-[300px] flex-1">
          <span className="block text-plain text-second">
            What must it do? Ways, gauge and insulation, temperature, IP class, amperes, owned tools only, or any word
          </span>
          <input
            className="inkbox w-full text-lead"
            value={typed}
            onChange={(e) => setTyped(e.target.value)}
            autoFocus
          />
        </label>
        <label>
          <span className="block text-plain text-second">Kind</span>
          <select className="inkbox py-1.5" value={kind} onChange={(e) => setKind(e.target.value)}>
            {KINDS.map((k) => (
              <option key={k} value={k}>
                {k || "any"}
              </option>
            ))}
          </select>
        </label>
      </form>
      {error ? (
        <p role="alert" className="mt-3 text-madder">
          {error.message}
        </p>
      ) : (
        data && <Answer data={data} />
      )}
    </>
  );
}

function Answer({ data }: { data: Found }) {
  return (
    <>
      <p className="mt-2 text-base text-second">
        {data.understood.length ? `Understood: ${data.understood.join("; ")}.` : "Everything there is."}
      </p>
      <p className="mt-3 text-lead">
        <strong className="font-figures">{data.count}</strong> would do
        {data.count > data.rows.length ? `, the first ${data.rows.length} shown` : ""};{" "}
        <strong className="font-figures">{data.rejected_count}</strong> would not.
      </p>
      {data.rows.length > 0 && (
        <table className="mt-1 w-full text-plain" aria-label="Parts found">
          <thead className="text-left text-fine text-second">
            <tr className="border-b border-ink">
              <th className="w-[128px] py-1">Part</th>
              <th>In words</th>
              <th className="w-[124px]">Copper, mm²</th>
              <th className="w-[72px] text-right">To</th>
              <th className="w-[64px] pl-4">Class</th>
              <th className="w-[60px] text-right">A</th>
              <th className="w-[150px] pl-4">Tools</th>
              <th className="w-[62px] text-right">Price</th>
              <th className="w-[70px]">
                <span className="sr-only">Copy</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {data.rows.map((r) => (
              <Row key={`${r.kind} ${r.code}`} part={r} />
            ))}
          </tbody>
        </table>
      )}
      {data.rejected.length > 0 && data.understood.length > 0 && (
        <section className="mt-6">
          <h2 className="text-head">Would not do</h2>
          <ul className="mt-1 gap-8 text-plain min-[900px]:columns-2">
            {data.rejected.map((r) => (
              <li key={r.code} className="break-inside-avoid border-b border-faint py-1" title={r.description}>
                <strong className="font-figures">{r.code}</strong> <span className="text-second">{r.reason}</span>
              </li>
            ))}
          </ul>
        </section>
      )}
    </>
  );
}

function Row({ part: r }: { part: Part }) {
  const { copy } = useShop();
  const say = useSay();
  const [naming, setNaming] = useState(false);
  return (
    <tr className="border-b border-faint align-top">
      <td className="py-1.5 font-figures font-bold">{r.code}</td>
      <td className="py-1.5">
        {r.description}
        {r.own && <span className="text-fine text-blue"> yours</span>}
        {naming && (
          <form
            className="mt-1 flex gap-2"
            onSubmit={(e) => {
              e.preventDefault();
              const typed = new FormData(e.currentTarget).get("code");
              const code = typeof typed === "string" ? typed.trim().toUpperCase() : "";
              void copy({ code: r.family, new_code: code, name: "" }).then((p) => {
                if (p) say(p.detail);
                else {
                  setNaming(false);
                  say(`${code} is yours. Take its file out under Parts of your own, change it, and bring it back.`);
                }
              });
            }}
          >
            <input
              name="code"
              className="inkbox w-[140px] font-figures"
              aria-label="Code of the copy"
              placeholder="your own code"
              autoFocus
            />
            <button className="press" type="submit">
              Copy {r.family}
            </button>
          </form>
        )}
      </td>
      <td className="py-1.5 font-figures">
        {r.mm2 ? (r.mm2[0] === r.mm2[1] ? trim(r.mm2[0], 2) : `${trim(r.mm2[0], 2)} to ${trim(r.mm2[1], 2)}`) : ""}
      </td>
      <td className="py-1.5 text-right font-figures">{r.temperature_c === null ? "" : `${r.temperature_c} °C`}</td>
      <td className="py-1.5 pl-4">{r.protection}</td>
      <td className="py-1.5 text-right font-figures">{r.current_a === null ? "" : trim(r.current_a, 1)}</td>
      <td className="py-1.5 pl-4 font-figures text-fine">{r.kind === "tool" ? "" : r.tools.slice(0, 3).join(", ")}</td>
      <td className="py-1.5 text-right font-figures">{r.price.toFixed(2)}</td>
      <td className="py-1.5 text-right">
        {r.kind === "connector" && !naming && (
          <button className="quiet text-plain" onClick={() => setNaming(true)}>
            copy it
          </button>
        )}
      </td>
    </tr>
  );
}
