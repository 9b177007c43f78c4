import { useState } from "react";
import { useSuppliers, useSupplierActs } from "../api/buying";
import { useSay } from "../components/Notice";
import { BringTable } from "./BringTable";
import { spent } from "../components/spent";

/** Who sells what: typed by the builder, or as it was quoted last. */
export function SuppliersLeaf() {
  const { data, error } = useSuppliers();
  const { note, takeOut, putBack } = useSupplierActs();
  const [text, setText] = useState("");
  const [problem, setProblem] = useState("");
  const say = useSay();
  if (error) return <p className="text-madder">{error.message}</p>;
  if (!data) return <p className="text-second">Looking who sells what ...</p>;
  return (
    <>
      <p className="mb-2 max-w-[86ch] text-second">
        Every harness then says what to order from whom, in whole packs and for the least money, what sending costs with
        it. Prices that were asked for stand here with the day they were given.
      </p>
      <form
        className="mb-4 max-w-[760px]"
        onSubmit={(e) => {
          e.preventDefault();
          void note(text).then((p) => {
            setProblem(p ? p.detail : "");
            if (!p) setText(spent(text));
          });
        }}
      >
        <label className="block">
          <span className="text-second">a supplier or an offer a line</span>
          <textarea
            className="inkbox mt-1 h-[84px] w-full font-figures text-plain"
            value={text}
            placeholder={
              'supplier "North counter" minimum 25 shipping 6.50\nSS15-P2 from "North counter" pack 10 at 1.70, 50 at 1.45, lead 5 days'
            }
            aria-invalid={problem !== ""}
            onChange={(e) => {
              setText(e.target.value);
              setProblem("");
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
      <BringTable what="offers" columns="supplier, code, price, pack, from, lead_days, stock" />
      {data.suppliers.map((s) => {
        const offers = data.offers.filter((o) => o.supplier === s.name);
        return (
          <section key={s.name} className="mb-5" aria-label={s.name}>
            <h2 className="flex items-baseline gap-4 text-head">
              {s.name}
              <span className="font-text text-base text-second">
                {s.minimum > 0 ? `orders from ${s.minimum.toFixed(2)}` : "any order"}
                {s.shipping > 0 && `, sending ${s.shipping.toFixed(2)}`}, {offers.length} parts
              </span>
              <button
                className="quiet ml-auto font-text text-base"
                onClick={() =>
                  void takeOut(s.name).then((p) => {
                    if (p) say(p.detail);
                    else say(`${s.name} is out.`, { label: "Put it back", run: () => void putBack(s.name) });
                  })
                }
              >
                take it out
              </button>
            </h2>
            <table className="w-full text-plain" aria-label={`Sold by ${s.name}`}>
              <tbody>
                {offers.slice(0, 60).map((o) => (
                  <tr key={o.code} className="border-b border-faint align-baseline">
                    <td className="w-[200px] py-1 font-figures font-bold">{o.code}</td>
                    <td className="w-[120px]">{o.pack === 1 ? "singly" : `packs of ${o.pack}`}</td>
                    <td>
                      {o.instead
                        ? `not to be had; ${o.instead} instead`
                        : (o.breaks as [number, number][])
                            .map(([from, price]) => (from ? `${price} from ${from} on` : String(price)))
                            .join(", ")}
                    </td>
                    <td className="text-second">{o.stock === null ? "" : `${o.stock} there`}</td>
                    <td className="text-second">{o.lead_days === null ? "" : `${o.lead_days} days`}</td>
                    <td className="text-right text-second">{o.as_of ? o.as_of.slice(0, 10) : "typed"}</td>
                  </tr>
                ))}
              </tbody>
            </table>
            {offers.length > 60 && <p className="text-second">and {offers.length - 60} more</p>}
          </section>
        );
      })}
    </>
  );
}
