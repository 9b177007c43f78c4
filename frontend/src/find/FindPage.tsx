import { useState } from "react";
import { Link, useSearchParams } from "react-router";
import { useFind } from "../api/machine";
import { Swatch } from "../components/Swatch";

/** An end that is picked up on the machine: its label is typed, or read by a scanner; fits a phone. */
export function FindPage() {
  const [asked, setAsked] = useSearchParams();
  const text = asked.get("label") ?? "";
  const [typed, setTyped] = useState(text);
  const { data, error } = useFind(text);
  return (
    <main className="mx-auto max-w-[640px] px-4 py-5">
      <h1 className="text-title">Which end is this?</h1>
      <form
        className="mt-2 flex gap-3"
        onSubmit={(e) => {
          e.preventDefault();
          setAsked({ label: typed.trim() }, { replace: true });
        }}
      >
        <label className="min-w-0 flex-1">
          <span className="sr-only">What its label says</span>
          <input
            autoFocus
            className="inkbox w-full py-2 font-figures text-lead"
            value={typed}
            maxLength={200}
            placeholder="J3, C18, or scan it"
            onFocus={(e) => e.target.select()}
            onChange={(e) => setTyped(e.target.value)}
          />
        </label>
        <button className="press">Look</button>
      </form>
      {error && <p className="mt-3 text-madder">{error.message}</p>}
      {data && data.harnesses.length === 0 && (
        <p className="mt-3">No label here says {text}. Type what stands on it: its connector, or its wire.</p>
      )}
      {data?.harnesses.map((h) => (
        <section key={h.design} className="mt-5">
          <h2 className="text-second">
            <Link className="quiet" to={`/d/${h.design}/ends`}>
              {h.name}
            </Link>
          </h2>
          {h.ends.map((end) => (
            <article key={`${end.kind} ${end.id}`} className="mt-2 border-t border-ink pt-2">
              <h3 className="text-head">
                <span className="font-figures">{end.id}</span> {end.name}
              </h3>
              <p>
                {end.kind === "connector" ? `at ${end.at || "no point"}` : `from ${end.at}`}
                {end.meets && `, meets ${end.meets}`}
              </p>
              {end.along.length > 1 && <p className="text-second">{end.along.join(" – ")}</p>}
              <ul className="mt-1">
                {end.goes.map((g) => (
                  <li key={`${g.way} ${g.wire}`} className="flex items-center gap-3 border-b border-faint py-1.5">
                    {g.way && <span className="w-[30px] font-figures font-bold">{g.way}</span>}
                    <span className="w-[92px] shrink-0">
                      <Swatch colour={g.colour} width={34} />
                    </span>
                    <span className="min-w-0 flex-1">
                      <span className="font-figures font-bold">{g.wire}</span> to {g.to}
                      <span className="block text-second">
                        {g.circuit}
                        {g.fuse && `, fuse ${g.fuse}`}
                      </span>
                    </span>
                  </li>
                ))}
              </ul>
            </article>
          ))}
        </section>
      ))}
    </main>
  );
}
