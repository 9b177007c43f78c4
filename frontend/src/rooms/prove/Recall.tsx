import { useState } from "react";
import { Link } from "react-router";
import { useRecall } from "../../api/tools";

/** Which pieces have a batch, a tool, a setting, a person's work or a part: of all harnesses here. */
export function Recall() {
  const [what, setWhat] = useState("");
  const [asked, setAsked] = useState("");
  const { data, error } = useRecall(asked);
  return (
    <section className="mt-6 border-t border-rule pt-3">
      <h2 className="text-head">Which pieces have ...</h2>
      <form
        className="flex flex-wrap items-baseline gap-3"
        onSubmit={(e) => {
          e.preventDefault();
          setAsked(what.trim());
        }}
      >
        <label className="flex items-baseline gap-3">
          <span className="text-second">a batch, a tool, a setting, a name, a part</span>
          <input
            className="inkbox w-[240px] font-figures"
            value={what}
            maxLength={80}
            placeholder="T-OB-S, or B-4471"
            onChange={(e) => setWhat(e.target.value)}
          />
        </label>
        <button className="press">Look</button>
      </form>
      {error && <p className="text-madder">{error.message}</p>}
      {data && data.pieces.length === 0 && <p className="mt-1">No piece has {data.what}.</p>}
      {data && data.pieces.length > 0 && (
        <ul className="mt-1" aria-label="Pieces that have it">
          {data.pieces.map((p) => (
            <li
              key={`${p.design} ${p.number} ${p.serial}`}
              className="flex flex-wrap gap-x-4 border-b border-faint py-1"
            >
              <Link
                className="quiet font-figures"
                to={`/d/${p.design}/prove/pieces${p.serial ? `?piece=${p.serial}` : ""}`}
              >
                {p.serial || `${p.name} ${p.number}, no serial number`}
              </Link>
              <span className="text-second">{p.why.slice(0, 3).join("; ")}</span>
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}
