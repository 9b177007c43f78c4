import { useState } from "react";
import { Link } from "react-router";
import { useDesign } from "../../api/design";
import { useMachine, useMachineActs, type LifeBody, type Machine } from "../../api/machine";
import { type PieceState } from "../../api/prove";
import { whoWorks } from "../../api/who";
import { useSay } from "../../components/Notice";
import { spent } from "../../components/spent";

const KINDS: [LifeBody["kind"], string, string][] = [
  ["fitted", "fitted to", "which machine"],
  ["inspected", "looked at", "all, or a zone"],
  ["joined", "parted and joined", "all, or a connector"],
  ["renewed", "renewed", "a connector"],
  ["repaired", "repaired", "a wire or a connector"],
  ["taken out", "taken out of", "the machine"],
  ["noted", "noted", "where"],
];

/** What became of a piece on its machine: what is due, what is used up, what to carry. */
export function MachineLeaf({ state }: { state: PieceState | null }) {
  if (!state) return <p className="text-second">Begin a piece under Pieces: its book on the machine is kept here.</p>;
  return <Book key={state.piece.serial} serial={state.piece.serial} />;
}

function Book({ serial }: { serial: string }) {
  const { data, error } = useMachine(serial);
  if (error) return <p className="text-madder">{error.message}</p>;
  if (!data) return <p className="text-second">Opening the book ...</p>;
  return (
    <>
      <p className="mb-3">
        {data.fitted_at ? (
          <>
            <strong>{serial}</strong> is fitted to <strong>{data.fitted_at}</strong>.
          </>
        ) : (
          <>
            <strong>{serial}</strong> is not fitted yet: what is due counts from the day it is.
          </>
        )}{" "}
        <Link className="quiet" to="/find">
          Which end is this?
        </Link>
      </p>
      <NewLine serial={serial} book={data} />
      <div className="mt-4 grid grid-cols-1 gap-x-8 gap-y-5 min-[1100px]:grid-cols-2">
        <Due book={data} />
        <Carry book={data} />
        <Lines serial={serial} book={data} />
      </div>
    </>
  );
}

function NewLine({ serial, book }: { serial: string; book: Machine }) {
  const { design } = useDesign();
  const say = useSay();
  const acts = useMachineActs(serial);
  const [kind, setKind] = useState<LifeBody["kind"]>(book.fitted_at ? "inspected" : "fitted");
  const [place, setPlace] = useState("");
  const [day, setDay] = useState(() => new Date().toISOString().slice(0, 10));
  const [note, setNote] = useState("");
  const zones = Object.keys(design.document.brief.zones);
  const offered = kind === "inspected" ? ["all", ...zones] : kind === "fitted" ? [] : ["all", ...book.connectors];
  const put = async () => {
    const where = place.trim() || (kind === "inspected" || kind === "joined" ? "all" : "");
    const problem = await acts.enter({ kind, place: where, day, times: 1, note, who: whoWorks() });
    if (problem) {
      say(problem.errors[0]?.message ?? problem.detail);
      return;
    }
    setPlace(spent(place));
    setNote(spent(note));
    if (kind === "fitted") setKind("inspected");
  };
  return (
    <form
      className="flex flex-wrap items-baseline gap-x-4 gap-y-2"
      onSubmit={(e) => {
        e.preventDefault();
        void put();
      }}
    >
      <label>
        <span className="sr-only">What was done</span>
        <select className="inkbox" value={kind} onChange={(e) => setKind(e.target.value as LifeBody["kind"])}>
          {KINDS.map(([name, words]) => (
            <option key={name} value={name}>
              {words}
            </option>
          ))}
        </select>
      </label>
      <label>
        <span className="sr-only">Where</span>
        <input
          className="inkbox w-[170px]"
          list="places-on-machine"
          value={place}
          maxLength={64}
          placeholder={KINDS.find(([name]) => name === kind)?.[2] ?? ""}
          onChange={(e) => setPlace(e.target.value)}
        />
      </label>
      <datalist id="places-on-machine">
        {offered.map((name) => (
          <option key={name} value={name} />
        ))}
      </datalist>
      <label>
        on <input className="inkbox font-figures" type="date" value={day} onChange={(e) => setDay(e.target.value)} />
      </label>
      <label>
        note{" "}
        <input className="inkbox w-[240px]" value={note} maxLength={600} onChange={(e) => setNote(e.target.value)} />
      </label>
      <button className="press">Write it in</button>
    </form>
  );
}

function Due({ book }: { book: Machine }) {
  // What was joined once as it was fitted is not worth a line.
  const told = book.matings.filter((m) => m.used !== 1 || m.soon);
  const once = book.matings.length - told.length;
  return (
    <section>
      <h2 className="text-head">What is due</h2>
      <table className="mt-1 w-full" aria-label="What is due">
        <tbody>
          {book.zones.map((z) => (
            <tr key={z.zone} className="border-b border-faint align-baseline">
              <td className="py-1 pr-4 font-semibold">{z.name || z.zone || "elsewhere"}</td>
              <td className={`whitespace-nowrap pr-4 font-figures ${z.overdue ? "text-madder" : ""}`}>
                {z.due ? `${z.due}${z.overdue ? ", overdue" : ""}` : `each ${z.every_months} months`}
              </td>
              <td className="text-second">{z.look}</td>
            </tr>
          ))}
          {told.map((m) => (
            <tr key={m.connector} className="border-b border-faint align-baseline" title={m.source}>
              <td className="py-1 pr-4 font-figures font-bold">{m.connector}</td>
              <td className={`whitespace-nowrap pr-4 font-figures ${m.soon ? "text-madder" : ""}`}>
                {m.used} of {m.most}
              </td>
              <td className="text-second">
                {m.soon ? "matings are nearly used up: renew its contacts" : "matings used"}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {once > 0 && <p className="mt-1 text-second">{once} connectors were joined once, as it was fitted.</p>}
    </section>
  );
}

function Carry({ book }: { book: Machine }) {
  return (
    <section>
      <h2 className="text-head">To carry</h2>
      {book.spares.length === 0 && <p className="text-second">No fuse and no relay: nothing that one would carry.</p>}
      <ul aria-label="Spares to carry">
        {book.spares.map((s) => (
          <li key={s.what} className="flex items-baseline gap-4 border-b border-faint py-1">
            <span className="font-semibold">{s.what}</span>
            <span className="text-second">
              {s.count > 1 && `${s.count} in use: `}
              {s.where}
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}

function Lines({ serial, book }: { serial: string; book: Machine }) {
  const acts = useMachineActs(serial);
  const say = useSay();
  if (book.entries.length === 0) return null;
  const strike = async (line: number) => {
    const problem = await acts.strike(line);
    if (problem) say(problem.detail);
  };
  return (
    <section className="min-[1100px]:col-span-2">
      <h2 className="text-head">What was done</h2>
      <ul aria-label="Machine's book">
        {book.entries.map((e) => (
          <li key={e.id} className="flex items-baseline gap-4 border-b border-faint py-1">
            <span className="font-figures text-second">{e.day}</span>
            <span>
              {KINDS.find(([name]) => name === e.kind)?.[1] ?? e.kind} <strong>{e.place}</strong>
              {e.note && `: ${e.note}`}
            </span>
            <span className="text-second">{e.who}</span>
            <button className="quiet text-fine" onClick={() => void strike(e.id)}>
              take out
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}
