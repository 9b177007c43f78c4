import { useState } from "react";
import { useToolActs, useToolLog, type ToolLog } from "../../api/tools";
import { nowWorks, whoWorks } from "../../api/who";
import { useSay } from "../../components/Notice";
import { spent } from "../../components/spent";

/** Tools with their gauges and what was made since; samples that were pulled, and what they say of whose hands. */
export function ToolsLeaf() {
  const { data, error } = useToolLog();
  if (error) return <p className="text-madder">{error.message}</p>;
  if (!data) return <p className="text-second">Looking through the log ...</p>;
  return (
    <>
      <Gauges log={data} />
      <Hands log={data} />
    </>
  );
}

function today(): string {
  return new Date().toISOString().slice(0, 10);
}

function Gauges({ log }: { log: ToolLog }) {
  const say = useSay();
  const acts = useToolActs();
  const [tool, setTool] = useState("");
  const [day, setDay] = useState(today);
  const [note, setNote] = useState("");
  const chosen = tool || (log.tools[0]?.code ?? "");
  const put = async (result: "passed" | "failed") => {
    const problem = await acts.gauge({ tool: chosen, day, result, note, who: whoWorks() });
    if (problem) say(problem.errors[0]?.message ?? problem.detail);
    else setNote(spent(note));
  };
  if (log.tools.length === 0)
    return <p className="mb-5 text-second">No contact asks for a tool yet: pick what meets each device in Ends.</p>;
  return (
    <section className="mb-7">
      <h2 className="text-head">Tools</h2>
      <table className="mt-1 w-full" aria-label="Tool log">
        <thead>
          <tr className="border-b border-ink text-left text-fine text-second">
            <th className="py-1 font-semibold">Tool</th>
            <th className="font-semibold">How it stands</th>
            <th className="font-semibold">Gauged</th>
            <th className="font-semibold">Good until</th>
            <th className="font-semibold">Crimped with it since</th>
          </tr>
        </thead>
        <tbody>
          {log.tools.map((t) => (
            <tr key={t.code} className="border-b border-faint align-baseline">
              <td className="py-1 pr-4">
                <strong className="font-figures">{t.code}</strong> <span className="text-second">{t.description}</span>
              </td>
              <td className="pr-4">
                {t.owned ? (
                  <span className={t.status === "worn" ? "text-madder" : ""}>{t.status}</span>
                ) : (
                  <span className="whitespace-nowrap text-second">not noted</span>
                )}
              </td>
              <td className="pr-4">
                {t.gauges.length === 0 && <span className="text-second">never</span>}
                {t.gauges.map((g) => (
                  <span
                    key={g.id}
                    className="block whitespace-nowrap"
                    title={[g.who, g.note].filter(Boolean).join(": ")}
                  >
                    <span className="font-figures">{g.day}</span>{" "}
                    <span className={g.result === "failed" ? "text-madder" : ""}>{g.result}</span>{" "}
                    <button
                      className="quiet text-fine"
                      aria-label={`take out the gauge of ${t.code} on ${g.day}`}
                      onClick={() => void acts.strikeGauge(g.id)}
                    >
                      take out
                    </button>
                  </span>
                ))}
              </td>
              <td className={`whitespace-nowrap pr-4 font-figures ${t.overdue ? "text-madder" : ""}`}>
                {t.due}
                {t.overdue && ", overdue"}
              </td>
              <td>{t.since.length === 0 ? "" : t.since.map((p) => p.serial || `${p.name} ${p.number}`).join(", ")}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <form className="mt-2 flex flex-wrap items-baseline gap-x-4 gap-y-2" onSubmit={(e) => e.preventDefault()}>
        <label>
          <span className="sr-only">Tool</span>
          <select className="inkbox" value={chosen} onChange={(e) => setTool(e.target.value)}>
            {log.tools.map((t) => (
              <option key={t.code}>{t.code}</option>
            ))}
          </select>
        </label>
        <label>
          gauged on{" "}
          <input className="inkbox font-figures" type="date" value={day} onChange={(e) => setDay(e.target.value)} />
        </label>
        <label>
          note{" "}
          <input className="inkbox w-[180px]" value={note} maxLength={300} onChange={(e) => setNote(e.target.value)} />
        </label>
        <button type="button" className="press" onClick={() => void put("passed")}>
          It passed
        </button>
        <button type="button" className="press" onClick={() => void put("failed")}>
          It failed
        </button>
      </form>
    </section>
  );
}

function Hands({ log }: { log: ToolLog }) {
  const say = useSay();
  const acts = useToolActs();
  const [nth, setNth] = useState(0);
  const [forces, setForces] = useState("");
  const [who, setWho] = useState(whoWorks);
  const setup = log.setups[nth];
  const put = async () => {
    if (!setup) return;
    nowWorks(who);
    const { contact, wire, tool } = setup;
    const problem = await acts.pull({ contact, wire, tool, forces, who, note: "" });
    if (problem) say(problem.errors[0]?.message ?? problem.detail);
    else setForces(spent(forces));
  };
  return (
    <section>
      <h2 className="text-head">Hands</h2>
      <p className="max-w-[86ch] text-second">
        Samples are pulled until they give; they are not used. What they show of a hand is the least share of good
        crimps that they leave room for, sure in {Math.round(log.confidence * 100)} of 100 (binomial).
        {log.asked > 0 &&
          ` The house rule asks for ${Math.round(log.asked * 100)} % before one crimps what is relied on.`}
      </p>
      {setup && (
        <form
          className="mt-2 flex flex-wrap items-baseline gap-x-4 gap-y-2"
          onSubmit={(e) => {
            e.preventDefault();
            void put();
          }}
        >
          <label>
            <span className="sr-only">Set-up</span>
            <select className="inkbox max-w-[420px]" value={nth} onChange={(e) => setNth(Number(e.target.value))}>
              {log.setups.map((s, n) => (
                <option key={`${s.contact} ${s.wire} ${s.tool}`} value={n}>
                  {s.contact} on {s.wire}, {s.tool}: {s.least_n.toFixed(0)} N
                </option>
              ))}
            </select>
          </label>
          <label>
            gave at{" "}
            <input
              className="inkbox w-[150px] font-figures"
              value={forces}
              placeholder="82 90 88"
              maxLength={600}
              onChange={(e) => setForces(e.target.value)}
            />{" "}
            N
          </label>
          <label>
            made by{" "}
            <input
              className="inkbox w-[110px]"
              value={who}
              placeholder="your name"
              maxLength={60}
              onChange={(e) => setWho(e.target.value)}
            />
          </label>
          <button className="press" disabled={forces.trim() === ""}>
            Note them
          </button>
        </form>
      )}
      {log.hands.length > 0 && (
        <table className="mt-3 w-full" aria-label="Hands">
          <thead>
            <tr className="border-b border-ink text-left text-fine text-second">
              <th className="py-1 font-semibold">Who</th>
              <th className="font-semibold">Contact</th>
              <th className="font-semibold">Wire</th>
              <th className="font-semibold">Tool</th>
              <th className="text-right font-semibold">Held</th>
              <th className="text-right font-semibold">Shown at least</th>
            </tr>
          </thead>
          <tbody>
            {log.hands.map((h) => (
              <tr key={`${h.who} ${h.contact} ${h.wire} ${h.tool}`} className="border-b border-faint">
                <td className="py-1">{h.who || "no name"}</td>
                <td className="font-figures">{h.contact}</td>
                <td className="font-figures">{h.wire}</td>
                <td className="font-figures">{h.tool}</td>
                <td className="text-right font-figures">
                  {h.held} of {h.tried}
                </td>
                <td className={`text-right font-figures ${h.share < log.asked ? "text-ochre" : ""}`}>
                  {Math.floor(h.share * 100)} %
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {log.pulls.length > 0 && (
        <details className="mt-3">
          <summary className="cursor-pointer font-semibold">Every sample, {log.pulls.length}</summary>
          <ul>
            {log.pulls.map((p) => (
              <li key={p.id} className="flex gap-4 border-b border-faint py-1">
                <span className="font-figures text-second">{p.day}</span>
                <span>{p.who || "no name"}</span>
                <span className="font-figures">
                  {p.contact} on {p.wire}, {p.tool}
                </span>
                <span className={`font-figures ${p.holds ? "" : "text-madder"}`}>
                  {p.force_n} N of {p.least_n}
                </span>
                <button className="quiet text-fine" onClick={() => void acts.strikePull(p.id)}>
                  take out
                </button>
              </li>
            ))}
          </ul>
        </details>
      )}
    </section>
  );
}
