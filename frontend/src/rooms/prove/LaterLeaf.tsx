import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { answered, client, refusal, type Schemas } from "../../api/client";
import { of, useDesign } from "../../api/design";
import { useVolts } from "../../api/prove";
import { ohms } from "../../format";

type Later = Schemas["LaterReply"];

/** Why a harness fails on its machine: what was seen and read, and what along that circuit explains it. */
export function LaterLeaf() {
  const { id } = useDesign();
  const modes = useVolts().data?.modes ?? [];
  const [text, setText] = useState("");
  const [mode, setMode] = useState(-1);
  const ask = useMutation({
    mutationFn: (body: Schemas["LaterBody"]) =>
      answered(client.POST("/api/designs/{design_id}/prove/later", { ...of(id), body })),
  });
  return (
    <>
      <form
        className="flex flex-wrap items-baseline gap-x-4 gap-y-2"
        onSubmit={(e) => {
          e.preventDefault();
          ask.mutate({ text, mode: mode < 0 ? null : mode });
        }}
      >
        <label className="flex min-w-[420px] flex-1 items-baseline gap-3">
          <span className="whitespace-nowrap">What fails</span>
          <input
            className="inkbox flex-1 font-figures"
            value={text}
            maxLength={600}
            placeholder="E1 lamp dim, 9.8 V at E1-1; M1 works"
            aria-describedby="what-fails-problem"
            onChange={(e) => setText(e.target.value)}
          />
        </label>
        {modes.length > 1 && (
          <label>
            while{" "}
            <select className="inkbox" value={mode} onChange={(e) => setMode(Number(e.target.value))}>
              <option value={-1}>it should work</option>
              {modes.map((name, n) => (
                <option key={n} value={n}>
                  {name || "working"}
                </option>
              ))}
            </select>
          </label>
        )}
        <button className="press" disabled={text.trim() === ""}>
          What may it be?
        </button>
      </form>
      <p className="mt-1 max-w-[86ch] text-second">
        Dim, dead, comes and goes, works; F1 blows; and what a meter shows at a place, black probe on the battery’s
        minus, with everything plugged in.
      </p>
      {ask.error && (
        <p id="what-fails-problem" role="alert" className="mt-2 text-madder">
          {refusal(ask.error).problem.detail}
        </p>
      )}
      {ask.data && !ask.error && <Causes later={ask.data} />}
    </>
  );
}

function Causes({ later }: { later: Later }) {
  return (
    <section className="mt-4" aria-label="What it may be">
      {later.device && <h2 className="text-head">Along the circuit of {later.device}</h2>}
      {later.next && <p className="mt-1 max-w-[86ch] border-l-2 border-blue pl-3">{later.next}</p>}
      <ol className="mt-2">
        {later.causes.map((c) => (
          <li key={`${c.sort} ${c.words}`} className="flex items-baseline gap-5 border-b border-faint py-1.5">
            <span className="w-[52px] shrink-0 text-right font-figures font-bold">{Math.round(c.share * 100)} %</span>
            <span className="max-w-[86ch]">
              <strong>{c.words}</strong>
              {c.ohm !== null && c.sort !== "source" && c.sort !== "load" && (
                <span className="text-second">
                  , about <span className="font-figures">{ohms(c.ohm)}</span> more than it should have
                </span>
              )}
              {c.ohm === null && <span className="text-second">, open</span>}
              <span className="block text-second">{c.open}</span>
            </span>
          </li>
        ))}
      </ol>
    </section>
  );
}
