import { ToggleGroup } from "radix-ui";
import { useState } from "react";
import { type ReckoningKind, type Schemas } from "../api/client";
import { useDesign, useReckoning, useActs, useWhy } from "../api/design";
import { amperes, percent } from "../format";
import { fixWire } from "./fixed";
import { fits, LIMITS } from "./LimitsStrip";
import { Sheet } from "./Sheet";

const KINDS: { kind: ReckoningKind; label: string }[] = [
  { kind: "gauge", label: "gauge" },
  { kind: "ampacity", label: "current" },
  { kind: "cut", label: "length" },
];

/** Why a figure is what it is: candidates, limits, steps and sources, slid in beside the work. */
export function WhyCard({ kind, figure }: { kind: ReckoningKind; figure: string }) {
  const { id, design } = useDesign();
  const { askWhy, closeWhy } = useWhy();
  const { data, error } = useReckoning(id, design.version, kind, figure);
  const wire = data?.wire ?? null;
  return (
    <Sheet label="Why" asked>
      <div className="flex items-start justify-between gap-2">
        <h2 className="text-head leading-tight">{data?.title ?? "Why?"}</h2>
        <button onClick={closeWhy} className="quiet text-plain" title="Escape">
          close
        </button>
      </div>
      {error && <p className="mt-2 text-madder">{error.message}</p>}
      {data && (
        <>
          <p className="text-plain text-second">{data.subject}</p>
          {wire && kind !== "contact" && (
            <ToggleGroup.Root
              type="single"
              value={kind}
              onValueChange={(chosen) => {
                if (chosen) askWhy(chosen as ReckoningKind, wire);
              }}
              aria-label="Why what"
              className="mt-1.5 flex gap-3 text-plain"
            >
              {KINDS.map((k) => (
                <ToggleGroup.Item
                  key={k.kind}
                  value={k.kind}
                  className={
                    k.kind === kind ? "font-bold underline decoration-madder decoration-2 underline-offset-4" : "quiet"
                  }
                >
                  {k.label}
                </ToggleGroup.Item>
              ))}
            </ToggleGroup.Root>
          )}
          {data.candidates.length > 0 && <Candidates wire={figure} candidates={data.candidates} />}
          {kind === "gauge" ? (
            <LimitRows steps={data.steps} candidates={data.candidates} governs={data.governs} />
          ) : null}
          <p className="mt-3 border-t border-rule pt-2">{data.conclusion}</p>
          {data.methods.length > 1 && <TwoMethods methods={data.methods} />}
          {kind !== "gauge" && (
            <dl className="mt-2">
              {data.steps.map((s, i) => (
                <div key={i} className="border-b border-faint py-1 text-plain">
                  <div className="flex justify-between gap-2">
                    <dt className="font-semibold">{s.label}</dt>
                    <dd className="font-figures whitespace-nowrap">{s.result}</dd>
                  </div>
                  <dd className="font-figures text-fine text-second">{s.working}</dd>
                </div>
              ))}
            </dl>
          )}
          <ul className="mt-3 space-y-1 text-fine text-second">
            {data.sources.map((s) => (
              <li key={s}>{s}</li>
            ))}
          </ul>
        </>
      )}
    </Sheet>
  );
}

type Method = Schemas["MethodFigures"];

/** Any two ways of reckoning what a wire may carry, side by side. */
function TwoMethods({ methods }: { methods: readonly Method[] }) {
  const first = Math.max(
    0,
    methods.findIndex((m) => m.decides),
  );
  const [picked, setPicked] = useState<[number, number]>([first, first === 1 ? 0 : 1]);
  const pair = picked.map((n) => methods[n] ?? methods[0]).filter((m) => m !== undefined);
  const row = (label: string, show: (m: Method) => string) => (
    <tr className="border-b border-faint">
      <th className="whitespace-nowrap py-0.5 pr-2 text-left font-normal text-second">{label}</th>
      {pair.map((m, i) => (
        <td key={i} className="text-right font-figures">
          {show(m)}
        </td>
      ))}
    </tr>
  );
  const factor = (f: number | null) => (f === null ? "–" : `× ${f.toFixed(2)}`);
  const amps = (a: number | null) => (a === null ? "–" : amperes(a));
  return (
    <table className="mt-2 w-full text-fine" aria-label="Two methods side by side">
      <thead>
        <tr className="border-b border-ink">
          <th className="text-left font-normal text-second">by</th>
          {[0, 1].map((side) => (
            <th key={side} className="pl-1">
              <select
                aria-label={side ? "second method" : "first method"}
                className="inkbox w-full px-1 py-0.5 text-fine"
                value={picked[side]}
                onChange={(e) =>
                  setPicked(side ? [picked[0], Number(e.target.value)] : [Number(e.target.value), picked[1]])
                }
              >
                {methods.map((m, n) => (
                  <option key={m.method} value={n}>
                    {m.words}
                  </option>
                ))}
              </select>
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {row("in free air", (m) => amps(m.free_air_a))}
        {row("bundle", (m) => factor(m.bundle_factor))}
        {row("altitude", (m) => factor(m.altitude_factor))}
        {row("ampacity", (m) => amps(m.ampacity_a))}
        {row("", (m) => (m.decides ? "decides" : m.ampacity_a === null ? m.says : "to compare"))}
      </tbody>
    </table>
  );
}

interface Candidate {
  gauge: string;
  limits: readonly number[];
  fails: readonly string[];
  chosen: boolean;
}

function LimitRows({
  steps,
  candidates,
  governs,
}: {
  steps: { label: string; working: string; result: string }[];
  candidates: Candidate[];
  governs: string | null;
}) {
  const chosen = candidates.find((c) => c.chosen);
  return (
    <div className="mt-2">
      {LIMITS.map((name, i) => {
        const ratio = chosen?.limits[i] ?? 0;
        const fails = ratio > 1 + 1e-9;
        return (
          <div key={name} className="py-0.5" title={steps[i]?.working}>
            <div className="grid grid-cols-[68px_1fr_76px] items-center gap-2">
              <span className={name === governs ? "font-bold" : ""}>{name}</span>
              <svg width="100%" height={12} aria-hidden="true">
                <rect x="0" y="1" width="100%" height="10" fill="var(--rule-faint)" />
                {name === "ends" ? (
                  <>
                    <rect x="20%" y="1" width="60%" height="10" fill="none" stroke="var(--ink-second)" />
                    <rect
                      x={fails ? "88%" : "46%"}
                      y="1"
                      width="6%"
                      height="10"
                      fill={fails ? "var(--madder)" : name === governs ? "var(--ink)" : "var(--bar)"}
                    />
                  </>
                ) : (
                  <>
                    <rect
                      x="0"
                      y="1"
                      width={`${Math.min(ratio, 1.25) * 80}%`}
                      height="10"
                      fill={fails ? "var(--madder)" : name === governs ? "var(--ink)" : "var(--bar)"}
                    />
                    <line x1="80%" x2="80%" y1="0" y2="12" stroke="var(--ink)" />
                  </>
                )}
              </svg>
              <span className={`text-right font-figures text-fine ${fails ? "text-madder" : ""}`}>
                {name === "ends" ? fits(ratio) : percent(ratio)}
              </span>
            </div>
            <p className="text-fine text-second">{steps[i]?.working}</p>
          </div>
        );
      })}
    </div>
  );
}

/** The gauges that were judged; picking another one fixes it, with a reason. */
function Candidates({ wire, candidates }: { wire: string; candidates: Candidate[] }) {
  const { design } = useDesign();
  const { edit, doIt } = useActs();
  const [picked, setPicked] = useState<string | null>(null);
  const [reason, setReason] = useState("");
  const [problem, setProblem] = useState<string | null>(null);
  const fixed = design.document.wire.fixed[wire];
  const fix = async () => {
    const found = await edit(
      fixWire(design.document, wire, { gauge: picked, reason }),
      `fix ${wire} at ${picked ?? ""}`,
    );
    setProblem(found ? found.detail : null);
    if (!found) setPicked(null);
  };
  const chosen = candidates.find((c) => c.chosen)?.gauge;
  return (
    <div className="mt-2">
      <ToggleGroup.Root
        type="single"
        aria-label="Gauges judged"
        value={picked ?? chosen ?? ""}
        onValueChange={(gauge) => setPicked(gauge && gauge !== chosen ? gauge : null)}
        className="flex flex-wrap border-b border-rule"
      >
        {candidates.map((c) => (
          <ToggleGroup.Item
            key={c.gauge}
            value={c.gauge}
            title={c.fails.length ? `fails: ${c.fails.join(", ")}` : "holds every limit"}
            className={[
              "px-2 py-1 font-figures text-plain",
              c.chosen ? "bg-ink font-bold text-on-ink" : "",
              !c.chosen && c.fails.length ? "text-second line-through" : "",
              picked === c.gauge ? "outline-2 -outline-offset-2 outline-madder" : "",
            ].join(" ")}
          >
            {c.gauge.replace(" AWG", "").replace(" mm²", "")}
          </ToggleGroup.Item>
        ))}
      </ToggleGroup.Root>
      {picked && (
        <form
          className="mt-2 space-y-1.5 border border-rule p-2"
          onSubmit={(e) => {
            e.preventDefault();
            void fix();
          }}
        >
          <label className="block text-plain">
            Fix {picked}, because
            <input
              autoFocus
              value={reason}
              onChange={(e) => setReason(e.target.value)}
              className="inkbox mt-1 w-full"
              placeholder="spool at hand"
            />
          </label>
          {problem && (
            <p role="alert" className="text-plain text-madder">
              {problem}
            </p>
          )}
          <button className="press" type="submit">
            Fix it
          </button>
        </form>
      )}
      {fixed?.gauge && (
        <p className="mt-2 text-plain">
          Fixed by you{fixed.reason ? `: ${fixed.reason}.` : "."}{" "}
          <button
            className="quiet"
            onClick={() =>
              void doIt(fixWire(design.document, wire, { gauge: null, reason: "" }), `let the program choose ${wire}`)
            }
          >
            Let the program choose
          </button>
        </p>
      )}
    </div>
  );
}
