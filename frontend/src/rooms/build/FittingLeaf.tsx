import type { ReactNode } from "react";
import { client, type Schemas } from "../../api/client";
import { of, useStudy } from "../../api/design";
import { amperes } from "../../format";

type Fitting = Schemas["FittingReply"];

const DOES: Record<Fitting["fitting"][number]["kind"], string> = {
  begin: "begin",
  through: "pass through",
  lay: "lay",
  hold: "hold",
  join: "join",
  trim: "trim",
  swap: "swap",
  end: "end",
};

function useFitting() {
  return useStudy("fitting", "", (id) => client.GET("/api/designs/{design_id}/fitting", of(id)));
}

/** How the harness goes into its machine, from the trunk outward. */
export function FittingLeaf() {
  const { data, error } = useFitting();
  if (error) return <p className="text-madder">{error.message}</p>;
  if (!data) return <p className="text-second">Walking the route ...</p>;
  if (data.fitting.length === 0)
    return <p className="text-second">No branch yet: what is laid when follows from the route.</p>;
  return (
    <table className="w-full" aria-label="Fitting day">
      <tbody>
        {data.fitting.map((step, n) => (
          <Step key={`${step.kind} ${step.place} ${n}`} number={n + 1}>
            <td className="pr-4 text-second">{DOES[step.kind]}</td>
            <td className="pr-4 font-figures font-bold">{step.place}</td>
            <td className="max-w-[70ch]">{step.words}</td>
          </Step>
        ))}
      </tbody>
    </table>
  );
}

function Step({ number, children }: { number: number; children: ReactNode }) {
  return (
    <tr className="border-b border-faint align-baseline">
      <td className="py-1 pr-4 text-right font-figures text-second">{number}</td>
      {children}
    </tr>
  );
}

/** Fuse by fuse: what each should carry, what to feel, when to take it out again. */
export function PowerLeaf() {
  const { data, error } = useFitting();
  if (error) return <p className="text-madder">{error.message}</p>;
  if (!data) return <p className="text-second">Working the amperes out ...</p>;
  if (data.power.length === 0) return <p className="text-second">Nothing is fed yet.</p>;
  return (
    <table className="w-full" aria-label="First power">
      <thead className="text-left text-fine text-second">
        <tr className="border-b border-ink">
          <th>
            <span className="sr-only">Step</span>
          </th>
          <th className="py-1 font-semibold">Fuse</th>
          <th className="font-semibold">What to do</th>
          {data.modes.map((mode, n) => (
            <th key={n} className="pl-4 text-right font-semibold">
              {mode || "all on"}
            </th>
          ))}
          <th className="pl-4 text-right font-semibold">Out above</th>
        </tr>
      </thead>
      <tbody>
        {data.power.map((step, n) => (
          <Step key={step.fuse || n} number={n + 1}>
            <td className="whitespace-nowrap pr-4 font-figures font-bold">{step.fuse}</td>
            <td className="max-w-[64ch] pr-2">{step.words.join(" ")}</td>
            {data.modes.map((_, k) => (
              <td key={k} className="whitespace-nowrap pl-4 text-right font-figures">
                {step.fuse ? amperes(step.amperes[k] ?? 0) : ""}
              </td>
            ))}
            <td className="whitespace-nowrap pl-4 text-right font-figures">
              {step.stop_a === null ? "" : amperes(step.stop_a)}
            </td>
          </Step>
        ))}
      </tbody>
    </table>
  );
}
