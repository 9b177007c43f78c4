import { useState } from "react";
import { useStock, useStockActs, type StockEntry } from "../api/ends";
import { useSay } from "../components/Notice";
import { BringTable } from "./BringTable";
import { Swatch } from "../components/Swatch";
import { trim } from "../format";
import { spent } from "../components/spent";

/** What lies in the drawers: how many of each part, and how many should be left when a job is done. */
export function StockLeaf() {
  const { data, error } = useStock();
  const { note } = useStockActs();
  const [text, setText] = useState("");
  const [problem, setProblem] = useState("");
  if (error) return <p className="text-madder">{error.message}</p>;
  if (!data) return <p className="text-second">Counting ...</p>;
  const put = async () => {
    const found = await note(text);
    setProblem(found ? found.detail : "");
    if (!found) setText(spent(text));
  };
  return (
    <>
      <p className="mb-2 max-w-[86ch] text-second">
        Every harness then says what is at hand and what is still to buy, what to refill after it, and where a kit has
        more ways than contacts. Contacts count by their gender and by the wire they take.
      </p>
      <form
        className="mb-4 max-w-[760px]"
        onSubmit={(e) => {
          e.preventDefault();
          void put();
        }}
      >
        <label className="block">
          <span className="text-second">a part a line, how many, and how many to keep</span>
          <textarea
            className="inkbox mt-1 h-[84px] w-full font-figures text-plain"
            value={text}
            placeholder={"SS15-P2 10 keep 4 in drawer 3\nS15-S-A 60 keep 20\nJ1128-TXL 18 AWG RD 30 m"}
            aria-invalid={problem !== ""}
            onChange={(e) => {
              setText(e.target.value);
              setProblem("");
            }}
            onKeyDown={(e) => {
              if (e.key === "Enter" && !e.shiftKey && !text.includes("\n")) {
                e.preventDefault();
                void put();
              }
            }}
          />
        </label>
        {problem && (
          <p role="alert" className="text-madder">
            {problem}
          </p>
        )}
        <button className="press mt-1" disabled={!text.trim()}>
          Note it
        </button>
      </form>
      <BringTable what="stock" columns="code, quantity, colour, keep, place" />
      {data.entries.length > 0 && (
        <p className="mb-3">
          <a className="quiet" href="/api/shop/stock.csv">
            all of it as CSV
          </a>
        </p>
      )}
      <details className="mb-4 max-w-[760px]">
        <summary className="quiet w-fit">prices and kits as tables</summary>
        <BringTable what="prices" columns="code, price" />
        <BringTable what="kits" columns="kit, code, count, price, description" />
      </details>
      {data.entries.length === 0 ? (
        <p className="text-second">Nothing is noted yet.</p>
      ) : (
        <table className="w-full text-plain" aria-label="Parts at hand">
          <thead className="text-left text-fine text-second">
            <tr className="border-b border-ink">
              <th className="w-[220px] py-1">Part</th>
              <th>In words</th>
              <th className="w-[120px] text-right">At hand</th>
              <th className="w-[120px] text-right">Keep</th>
              <th className="w-[150px] pl-5">Drawer</th>
              <th className="w-[110px]">
                <span className="sr-only">What to do</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {data.entries.map((e) => (
              <Entry key={`${e.id} ${e.quantity} ${e.keep} ${e.place}`} entry={e} />
            ))}
          </tbody>
        </table>
      )}
    </>
  );
}

function Entry({ entry: e }: { entry: StockEntry }) {
  const { note, takeOut, putBack } = useStockActs();
  const say = useSay();
  const keep = (quantity: string, kept: string, place = e.place) =>
    void note(`${e.id} ${quantity} keep ${kept}${place.trim() ? ` in ${place.trim()}` : ""}`).then(
      (p) => p && say(p.detail),
    );
  const unit = e.unit === "m" ? " m" : "";
  return (
    <tr className="border-b border-faint">
      <td className="py-1 font-figures font-bold">{e.code}</td>
      <td>
        {e.colour && <Swatch colour={e.colour} width={34} />} {e.description}
        {!e.held && <span className="text-madder"> no harness can use it</span>}
      </td>
      {(["quantity", "keep"] as const).map((field) => (
        <td key={field} className="text-right">
          <input
            className="inkbox w-[84px] py-0.5 text-right font-figures"
            aria-label={`${e.id} ${field === "keep" ? "to keep" : "at hand"}`}
            defaultValue={trim(e[field], 2)}
            onKeyDown={(x) => x.key === "Enter" && x.currentTarget.blur()}
            onBlur={(x) => {
              const typed = x.currentTarget.value.trim();
              if (typed !== trim(e[field], 2))
                keep(field === "quantity" ? typed : trim(e.quantity, 4), field === "keep" ? typed : trim(e.keep, 4));
            }}
          />
          <span className="inline-block w-[22px] text-left text-second">{unit}</span>
        </td>
      ))}
      <td className="pl-5">
        <input
          className="inkbox w-[128px] py-0.5"
          aria-label={`${e.id} lies in`}
          defaultValue={e.place}
          onKeyDown={(x) => x.key === "Enter" && x.currentTarget.blur()}
          onBlur={(x) => {
            const typed = x.currentTarget.value;
            if (typed !== e.place) keep(trim(e.quantity, 4), trim(e.keep, 4), typed);
          }}
        />
      </td>
      <td className="text-right">
        <button
          className="quiet text-plain"
          onClick={() =>
            void takeOut(e.id).then((p) => {
              if (p) say(p.detail);
              else say(`${e.id} is not counted any more.`, { label: "Put it back", run: () => void putBack(e.id) });
            })
          }
        >
          take it out
        </button>
      </td>
    </tr>
  );
}
