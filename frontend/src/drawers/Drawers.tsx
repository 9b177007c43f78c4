import { useState } from "react";
import { Link, useParams } from "react-router";
import type { Schemas } from "../api/client";
import { useOwn, useShop, useTools, type ToolItem } from "../api/ends";
import { Leaves } from "../components/Leaves";
import { useSay } from "../components/Notice";
import { ConventionsLeaf } from "./ConventionsLeaf";
import { FindLeaf } from "./FindLeaf";
import { OwnFamily } from "./OwnFamily";
import { StockLeaf } from "./StockLeaf";
import { SuppliersLeaf } from "./SuppliersLeaf";
import { spent } from "../components/spent";

const LEAVES = [
  ["", "Find a part"],
  ["tools", "Tools"],
  ["stock", "At hand"],
  ["suppliers", "Who sells"],
  ["own", "Parts of your own"],
  ["conventions", "Conventions"],
] as const;

/** Parts and tools: what there is, what answers a need, what is yours. */
export function Drawers() {
  const { leaf = "" } = useParams();
  return (
    <main className="mx-auto min-h-screen max-w-[1180px] px-8 pb-16 pt-8">
      <header className="flex items-baseline justify-between">
        <h1 className="text-title">The drawers</h1>
        <Link className="quiet" to="/">
          back to the shelf
        </Link>
      </header>
      <div className="mt-3">
        <Leaves room="the drawers" base="/drawers" leaves={LEAVES} />
      </div>
      {leaf === "tools" ? (
        <ToolsLeaf />
      ) : leaf === "stock" ? (
        <StockLeaf />
      ) : leaf === "suppliers" ? (
        <SuppliersLeaf />
      ) : leaf === "conventions" ? (
        <ConventionsLeaf />
      ) : leaf === "own" ? (
        <OwnLeaf />
      ) : (
        <FindLeaf />
      )}
    </main>
  );
}

const STATUS: Record<string, string> = {
  certified: "certified",
  gauged: "gauged, good",
  worn: "worn: its gauge failed",
  unverified: "not gauged",
};

function ToolsLeaf() {
  const { data, error } = useTools();
  const [sought, setSought] = useState("");
  if (error) return <p className="text-madder">{error.message}</p>;
  if (!data) return <p className="text-second">Opening the tool drawer ...</p>;
  const wanted = sought.trim().toLowerCase();
  const rows = data.tools.filter(
    (t) => !wanted || `${t.code} ${t.description} ${t.kind}`.toLowerCase().includes(wanted),
  );
  const owned = data.tools.filter((t) => t.owned);
  return (
    <>
      <p className="mb-2 max-w-[86ch] text-second">
        {owned.length === 0 ? "Tick what is in your shop." : `${owned.length} in your shop.`} Contacts are chosen by
        what you own, and every bill says what is still to buy or borrow. A tool that is neither certified nor gauged is
        said so where it is used.
      </p>
      <label className="mb-3 flex max-w-[420px] items-center gap-2">
        <span className="text-second">look for</span>
        <input
          className="inkbox flex-1"
          value={sought}
          onChange={(e) => setSought(e.target.value)}
          placeholder="open barrel, stripper, 20"
        />
      </label>
      <table className="w-full text-plain" aria-label="Tools">
        <thead className="text-left text-fine text-second">
          <tr className="border-b border-ink">
            <th className="w-[64px] py-1">Owned</th>
            <th className="w-[96px]">Code</th>
            <th>Tool</th>
            <th className="w-[96px]">Kind</th>
            <th className="w-[70px] text-right">Price</th>
            <th className="w-[84px] pl-4">Borrowed</th>
            <th className="w-[84px]">Certified</th>
            <th className="w-[150px]">Last gauged</th>
            <th className="w-[130px]">Result</th>
          </tr>
        </thead>
        <tbody>
          {rows.map((t) => (
            <ToolRow key={t.code} tool={t} />
          ))}
        </tbody>
      </table>
      {data.proven.length > 0 && <Proven />}
    </>
  );
}

function ToolRow({ tool: t }: { tool: ToolItem }) {
  const { own, giveUp } = useShop();
  const say = useSay();
  const state = {
    certified: t.certified,
    borrowed: t.borrowed,
    gauged_on: t.gauged_on,
    result: t.result as NonNullable<Schemas["ToolBody"]["result"]>,
    note: t.note,
  };
  const keep = (change: Partial<typeof state>) =>
    void own(t.code, { ...state, ...change }).then((p) => p && say(p.detail));
  return (
    <tr className={`border-b border-faint ${t.owned ? "" : "text-second"}`}>
      <td className="py-1">
        <input
          type="checkbox"
          aria-label={`${t.code} is owned`}
          className="h-4 w-4 accent-(--ink)"
          checked={t.owned}
          onChange={(e) => {
            if (e.target.checked) keep({});
            else
              void giveUp(t.code).then((p) => {
                if (p) say(p.detail);
                else say(`${t.code} is not in the shop any more.`, { label: "It is", run: () => keep({}) });
              });
          }}
        />
      </td>
      <td className="font-figures font-bold">{t.code}</td>
      <td>
        {t.description}
        {t.owned && (
          <span className={`block text-fine ${t.status === "worn" ? "text-madder" : "text-second"}`}>
            {STATUS[t.status]}
          </span>
        )}
      </td>
      <td>{t.kind}</td>
      <td className="text-right font-figures">{t.price.toFixed(0)}</td>
      <td className="pl-4">
        {t.owned && (
          <input
            type="checkbox"
            aria-label={`${t.code} is borrowed`}
            className="h-4 w-4 accent-(--ink)"
            checked={t.borrowed}
            onChange={(e) => keep({ borrowed: e.target.checked })}
          />
        )}
      </td>
      <td>
        {t.owned && (
          <input
            type="checkbox"
            aria-label={`${t.code} is certified`}
            className="h-4 w-4 accent-(--ink)"
            checked={t.certified}
            onChange={(e) => keep({ certified: e.target.checked })}
          />
        )}
      </td>
      <td>
        {t.owned && (
          <input
            type="date"
            aria-label={`${t.code} gauged on`}
            className="inkbox py-0.5 font-figures text-fine"
            value={t.gauged_on}
            onChange={(e) => keep({ gauged_on: e.target.value })}
          />
        )}
      </td>
      <td>
        {t.owned && (
          <select
            aria-label={`${t.code} gauge result`}
            className="inkbox py-0.5"
            value={t.result}
            onChange={(e) => keep({ result: e.target.value as typeof state.result })}
          >
            <option>not gauged</option>
            <option>passed</option>
            <option>failed</option>
          </select>
        )}
      </td>
    </tr>
  );
}

function Proven() {
  const { data } = useTools();
  const { prove } = useShop();
  return (
    <section className="mt-6">
      <h2 className="text-head">Proven here</h2>
      <p className="text-plain text-second">These nests and notches go before the data that ships.</p>
      <ul className="mt-1">
        {data?.proven.map((n) => (
          <li key={`${n.contact} ${n.wire}`} className="flex flex-wrap items-baseline gap-3 border-b border-faint py-1">
            {n.contact && <strong className="font-figures">{n.contact} </strong>}
            {n.contact
              ? `on ${n.wire}: ${n.tool}, crimp die ${n.nest}`
              : `Stripping ${n.wire}: ${n.tool}, notch ${n.nest}`}
            {n.depth && `, ${n.depth}`} <span className="text-second">{n.note}</span>
            <button className="quiet text-plain" onClick={() => void prove({ ...n, nest: "" })}>
              forget it
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}

const KINDS = ["connectors", "tools", "splices", "wires"] as const;

function OwnLeaf() {
  const { data } = useOwn();
  const { takeIn, takeOut, putBack } = useShop();
  const say = useSay();
  const [text, setText] = useState("");
  const [open, setOpen] = useState<string | null>(null);
  const [problems, setProblems] = useState<{ path: string; message: string; remedy: string }[]>([]);
  if (!data) return <p className="text-second">Opening your drawer ...</p>;
  const empty = KINDS.every((k) => data[k].length === 0);
  const take = async (words: string) => {
    const problem = await takeIn(words);
    setProblems(
      problem ? (problem.errors.length ? problem.errors : [{ path: "", message: problem.detail, remedy: "" }]) : [],
    );
    if (!problem) {
      setText(spent(words));
      say("Every part of it is taken.");
    }
  };
  return (
    <div className="grid gap-8 min-[1000px]:grid-cols-2">
      {open && data.connectors.some((line) => line.startsWith(`${open} `)) && (
        <div className="order-last min-[1000px]:col-span-2">
          <h2 className="text-head">{open}</h2>
          <OwnFamily key={open} code={open} />
        </div>
      )}
      <section>
        <h2 className="text-head">Yours</h2>
        {empty && (
          <p className="text-second">None yet. Copy a series you know under Find a part, or bring a file in.</p>
        )}
        {KINDS.map((kind) => (
          <ul key={kind}>
            {data[kind].map((line) => {
              const [code = "", ...name] = line.split(" ");
              return (
                <li key={code} className="flex items-baseline gap-3 border-b border-faint py-1.5">
                  <strong className="font-figures">{code}</strong>
                  <span className="flex-1">{name.join(" ")}</span>
                  {kind === "connectors" && (
                    <button
                      className="quiet text-plain"
                      aria-expanded={open === code}
                      onClick={() => setOpen(open === code ? null : code)}
                    >
                      {open === code ? "close it" : "change it"}
                    </button>
                  )}
                  <button
                    className="quiet text-plain"
                    onClick={() =>
                      void takeOut(kind, code).then((p) => {
                        if (p) say(p.detail);
                        else
                          say(`${code} is out. Harnesses that name it say so.`, {
                            label: "Put it back",
                            run: () => void putBack(kind, code),
                          });
                      })
                    }
                  >
                    take it out
                  </button>
                </li>
              );
            })}
          </ul>
        ))}
        {!empty && (
          <p className="mt-3 flex gap-5 text-base">
            <a className="quiet" href="/api/shop/parts.json">
              all of it as JSON
            </a>
            <a className="quiet" href="/api/shop/parts.csv">
              contacts, seals and tools as CSV
            </a>
          </p>
        )}
      </section>
      <section>
        <h2 className="text-head">Bring parts in</h2>
        <p className="mb-2 text-base text-second">
          A file from here, changed as you like, or a table. Either every part of it is good, or nothing is taken, and
          each row says why. Columns of the table:{" "}
          <span className="font-figures text-fine">{data.columns.join(", ")}</span>
        </p>
        <input
          type="file"
          aria-label="File of parts"
          accept=".json,.csv"
          className="mb-2 block text-base"
          onChange={(e) => {
            const file = e.target.files?.[0];
            if (file)
              void file.text().then((t) => {
                setText(t);
                return take(t);
              });
            e.target.value = "";
          }}
        />
        <textarea
          aria-label="Parts as text"
          className="inkbox h-[150px] w-full font-figures text-fine"
          placeholder="or paste it here"
          value={text}
          onChange={(e) => setText(e.target.value)}
        />
        <button className="press mt-1" disabled={!text.trim()} onClick={() => void take(text)}>
          Take them in
        </button>
        {problems.length > 0 && (
          <ul role="alert" className="mt-2 text-plain text-madder">
            <li className="font-bold">Nothing was taken.</li>
            {problems.slice(0, 12).map((p, i) => (
              <li key={i}>
                <span className="font-figures">{p.path}</span> {p.message} {p.remedy}
              </li>
            ))}
          </ul>
        )}
      </section>
    </div>
  );
}
