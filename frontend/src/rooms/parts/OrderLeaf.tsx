import { Link } from "react-router";
import { useBuying, useCoverage, useOrders, type Order, type Orders } from "../../api/buying";
import { useDesign } from "../../api/design";
import { useSay } from "../../components/Notice";
import { Wide } from "../../components/Wide";
import { Swatch } from "../../components/Swatch";
import { Underway } from "../../components/Underway";
import { amount } from "./lines";

/** The shopping list: what to order from whom, what nobody is noted for, and the orders that were written. */
export function OrderLeaf() {
  const { design } = useDesign();
  const { data, error } = useOrders();
  const coverage = useCoverage().data?.coverage;
  const { askPrices } = useBuying();
  const say = useSay();
  if (error) return <p className="text-madder">{error.message}</p>;
  if (!data) return <Underway text="Sharing the list out among the suppliers" share={0} />;
  const { plan } = data;
  const there = coverage?.lines.filter((l) => l.to_buy === 0).length ?? 0;
  const currency = design.document.brief.currency;
  return (
    <>
      <div className="mb-3 flex flex-wrap items-baseline gap-x-5 gap-y-2">
        <p className="max-w-[80ch]">
          <Comes plan={plan} currency={currency} />
          {there > 0 && (
            <span className="text-second">
              {" "}
              <Link className="quiet" to="drawers">
                {there} {there === 1 ? "line is" : "lines are"} at hand
              </Link>
              .
            </span>
          )}
        </p>
        <span className="ml-auto flex items-baseline gap-4">
          {data.asking && <span className="text-second">Asking ...</span>}
          <button
            className="press"
            disabled={data.asking}
            onClick={() => void askPrices().then((p) => p && say(p.detail))}
          >
            Ask for prices
          </button>
        </span>
      </div>
      {data.says && (
        <p role="alert" className="mb-3 border-l-2 border-ochre pl-3 text-ochre">
          {data.says} {plan.orders.length > 0 && "The prices below are those of before."}
        </p>
      )}
      {plan.orders.map((order) => (
        <Ordered key={order.supplier} order={order} />
      ))}
      {plan.unoffered.length > 0 && <Unoffered plan={plan} />}
      {data.orders.length > 0 && <Written orders={data.orders} />}
    </>
  );
}

function Comes({ plan, currency }: { plan: Orders["plan"]; currency: string }) {
  const money = (value: number) => `${value.toFixed(2)}${currency ? ` ${currency}` : ""}`;
  if (plan.orders.length === 0 && plan.unoffered.length === 0) return <>Everything is at hand: nothing to order.</>;
  if (plan.orders.length === 0)
    return (
      <>
        By the catalogue what is to buy comes to <strong>{money(plan.estimate)}</strong>. Nobody is noted who sells it:
        ask for prices, or{" "}
        <Link className="quiet" to="/drawers/suppliers">
          say who sells what
        </Link>
        .
      </>
    );
  return (
    <>
      {plan.orders.length === 1 ? "One order comes to" : `${plan.orders.length} orders come to`}{" "}
      <strong>{money(plan.total)}</strong> with what sending costs.{" "}
      {plan.proved ? "No other share-out costs less." : `Less than ${money(plan.lower_bound)} is not possible.`}
      {plan.unoffered.length > 0 && (
        <>
          {" "}
          {plan.unoffered.length} {plan.unoffered.length === 1 ? "part is" : "parts are"} still without a seller, about{" "}
          <strong>{money(plan.estimate)}</strong>.
        </>
      )}
    </>
  );
}

function Ordered({ order }: { order: Order }) {
  const { write } = useBuying();
  const say = useSay();
  return (
    <section className="mb-6" aria-label={order.supplier}>
      <h2 className="flex flex-wrap items-baseline gap-x-4 text-head">
        {order.supplier}
        <span className="font-text text-base">
          <strong className="font-figures">{order.total.toFixed(2)}</strong>
          <span className="text-second">
            {" "}
            parts {order.parts_cost.toFixed(2)}
            {order.shipping > 0 && `, sending ${order.shipping.toFixed(2)}`}
            {order.lead_days !== null && `, all of it in ${days(order.lead_days)}`}
          </span>
          {order.to_minimum > 0 && (
            <span className="text-ochre"> {order.to_minimum.toFixed(2)} more to reach their least order</span>
          )}
        </span>
        <button
          className="quiet ml-auto font-text text-base"
          onClick={() => void write(order.supplier).then((p) => p && say(p.detail))}
        >
          write this order
        </button>
      </h2>
      <Wide label={`From ${order.supplier}`}>
        <table className="w-full text-plain" aria-label={`From ${order.supplier}`}>
          <thead className="text-left text-fine text-second">
            <tr className="border-b border-ink">
              <th className="py-1">Part</th>
              <th>In words</th>
              <th className="text-right">Need</th>
              <th className="text-right">Order</th>
              <th className="pl-4">Packs</th>
              <th className="text-right">Each</th>
              <th className="text-right">Cost</th>
              <th className="pl-4">Sent in</th>
              <th className="pl-3">Priced</th>
            </tr>
          </thead>
          <tbody>
            {order.lines.map((l) => (
              <tr key={`${l.code} ${l.colour}`} className="border-b border-faint align-baseline">
                <td className="whitespace-nowrap py-1 pr-3 font-figures font-bold">{l.code}</td>
                <td className="max-w-[360px] truncate pr-2" title={l.description}>
                  {l.colour && <Swatch colour={l.colour} width={30} />} {l.description}
                </td>
                <td className="whitespace-nowrap text-right font-figures text-second">{amount(l.need, l.unit)}</td>
                <td className="whitespace-nowrap pl-2 text-right font-figures font-bold text-figure">
                  {amount(l.quantity, l.unit)}
                </td>
                <td className="whitespace-nowrap pl-4 text-second">
                  {l.pack === 1 ? "" : `${l.packs} of ${l.pack}${l.unit === "m" ? " m" : ""}`}
                  {l.for_the_break && (
                    <span title="more than is needed, because so many cost less"> for the price</span>
                  )}
                  {l.scarce && <span className="text-madder"> they have fewer</span>}
                </td>
                <td className="text-right font-figures">{l.price_each.toFixed(l.price_each < 0.1 ? 3 : 2)}</td>
                <td className="pl-2 text-right font-figures">{l.cost.toFixed(2)}</td>
                <td className="whitespace-nowrap pl-4 text-second">
                  {l.lead_days === null ? "not said" : days(l.lead_days)}
                </td>
                <td className="whitespace-nowrap pl-3 text-second">{age(l.as_of)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </Wide>
    </section>
  );
}

function days(count: number): string {
  return count === 1 ? "1 day" : `${count} days`;
}

/** How old a price is, in words. */
function age(asOf: string): string {
  if (!asOf) return "as typed";
  const minutes = (Date.now() - Date.parse(`${asOf}Z`)) / 60_000;
  if (minutes < 2) return "just now";
  if (minutes < 90) return `${Math.round(minutes)} min ago`;
  if (minutes < 36 * 60) return `${Math.round(minutes / 60)} h ago`;
  return `${Math.round(minutes / 1440)} days ago`;
}

function Unoffered({ plan }: { plan: Orders["plan"] }) {
  return (
    <section className="mb-6">
      <h2 className="text-head">
        {plan.orders.length > 0 ? "Nobody sells these yet" : "To buy"}{" "}
        <span className="font-text text-base text-second">
          about <strong className="font-figures">{plan.estimate.toFixed(2)}</strong> by the catalogue
        </span>
      </h2>
      <Wide label="Without a seller">
        <table className="w-full text-plain" aria-label="Without a seller">
          <thead className="text-left text-fine text-second">
            <tr className="border-b border-ink">
              <th className="py-1">Part</th>
              <th>In words</th>
              <th className="text-right">To buy</th>
              <th className="text-right">About</th>
              <th className="pl-5">Why</th>
            </tr>
          </thead>
          <tbody>
            {plan.unoffered.map((u) => (
              <tr key={`${u.code} ${u.colour}`} className="border-b border-faint align-baseline">
                <td className="whitespace-nowrap py-1 pr-3 font-figures font-bold">{u.code}</td>
                <td className="max-w-[420px] truncate pr-2" title={u.description}>
                  {u.colour && <Swatch colour={u.colour} width={30} />} {u.description}
                </td>
                <td className="whitespace-nowrap text-right font-figures font-bold text-figure">
                  {amount(u.quantity, u.unit)}
                </td>
                <td className="pl-2 text-right font-figures">{u.estimate.toFixed(2)}</td>
                <td className="pl-5 text-second">{u.why}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </Wide>
    </section>
  );
}

const TONE: Record<string, string> = { sent: "text-verdigris", refused: "text-madder", "not known": "text-ochre" };

function Written({ orders }: { orders: Orders["orders"] }) {
  const { send, tearUp } = useBuying();
  const say = useSay();
  const told = (sent: Promise<{ detail: string } | null>) => void sent.then((p) => p && say(p.detail));
  return (
    <section>
      <h2 className="text-head">Orders written</h2>
      <table className="w-full max-w-[980px] text-plain" aria-label="Orders written">
        <tbody>
          {orders.map((o) => (
            <tr key={o.id} className="border-t border-faint align-baseline">
              <td className="w-[70px] py-1.5 font-figures font-bold">No. {o.id}</td>
              <td>
                {o.supplier}, {o.lines} {o.lines === 1 ? "line" : "lines"}, {o.at.slice(0, 10)}
              </td>
              <td className="text-right font-figures">{o.total.toFixed(2)}</td>
              <td className={`pl-4 ${TONE[o.state] ?? "text-second"}`}>
                {o.state}
                {o.says && <span className="block max-w-[44ch] text-fine">{o.says}</span>}
              </td>
              <td className="whitespace-nowrap text-right">
                <a className="quiet ml-3" href={`/api/orders/${o.id}/pdf`}>
                  to print
                </a>
                <a className="quiet ml-3" href={`/api/orders/${o.id}/csv`}>
                  as CSV
                </a>
                {o.state !== "sent" && (
                  <button className="quiet ml-3" onClick={() => told(send(o.id))}>
                    send it
                  </button>
                )}
                <button className="quiet ml-3" onClick={() => told(tearUp(o.id))}>
                  tear it up
                </button>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}
