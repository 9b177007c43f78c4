import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState, type FormEvent } from "react";
import { Link, Navigate, useNavigate, useParams } from "react-router";
import { client, refusal, type BenchAnswer, type CalculatorItem, type DesignReply } from "../api/client";
import { Sentence } from "../components/Sentence";
import { Leaves } from "../components/Leaves";
import { createDesign, shelfAct, useShelf } from "../api/design";

type Field = CalculatorItem["fields"][number];

/** Quick calculators without a harness: one question, one answer, and where it comes from. */
export function Bench() {
  const { calculator } = useParams();
  const { data } = useQuery({
    queryKey: ["bench"],
    staleTime: Infinity,
    queryFn: async () => {
      const { data, error } = await client.GET("/api/bench");
      if (error) throw refusal(error);
      return data;
    },
  });
  const all = data?.calculators ?? [];
  const open = all.find((c) => c.name === calculator);
  const first = all[0];
  if (first && !open) return <Navigate replace to={`/bench/${first.name}`} />;
  return (
    <main className="mx-auto min-h-screen max-w-[1080px] px-8 pb-16 pt-8">
      <header className="flex items-baseline justify-between">
        <h1 className="text-title">The bench</h1>
        <Link className="quiet" to="/">
          back to the shelf
        </Link>
      </header>
      <div className="mt-4">
        <Leaves room="bench" base="/bench" leaves={all.map((c) => [c.name, c.label])} />
      </div>
      {open && <Asking key={open.name} calculator={open} />}
    </main>
  );
}

/** What stands in the fields of a calculator that is opened. */
function typedFirst(calculator: CalculatorItem): Record<string, string> {
  return Object.fromEntries(calculator.fields.map((f) => [f.name, f.default || (f.required ? f.example : "")]));
}

/** Without what was left empty. */
function stated(typed: Record<string, string>): Record<string, string> {
  return Object.fromEntries(Object.entries(typed).filter(([, v]) => v.trim() !== ""));
}

function Asking({ calculator }: { calculator: CalculatorItem }) {
  const [typed, setTyped] = useState(() => typedFirst(calculator));
  const ask = useMutation({
    mutationFn: async (fields: Record<string, string>): Promise<BenchAnswer> => {
      const { data, error } = await client.POST("/api/bench/{calculator}", {
        params: { path: { calculator: calculator.name } },
        body: { fields },
      });
      if (error) throw refusal(error);
      return data;
    },
  });
  // It begins with an answer, from the figures that stand there.
  const { mutate } = ask;
  useEffect(() => mutate(stated(typedFirst(calculator))), [calculator, mutate]);
  const problem = ask.error ? refusal(ask.error).problem : null;
  const wrong = problem?.errors[0]?.path.replace("/fields/", "");
  const submit = (event: FormEvent) => {
    event.preventDefault();
    ask.mutate(stated(typed));
  };
  return (
    <div className="mt-6 grid gap-10 min-[900px]:grid-cols-[1fr_1fr]">
      <form onSubmit={submit} noValidate>
        <p className="mb-4 text-head">{calculator.asks}</p>
        {calculator.fields.map((f) => (
          <Asked
            key={f.name}
            field={f}
            value={typed[f.name] ?? ""}
            wrong={wrong === f.name ? problem?.detail : undefined}
            onChange={(v) => setTyped({ ...typed, [f.name]: v })}
          />
        ))}
        <button className="mt-3 border border-ink px-5 py-1.5 font-bold hover:bg-wash" type="submit">
          Calculate
        </button>
        {problem && !calculator.fields.some((f) => f.name === wrong) && (
          <p role="alert" className="mt-3 text-madder">
            {problem.detail}
          </p>
        )}
      </form>
      <section aria-label="Answer" aria-live="polite" className="self-start border border-ink bg-sheet p-5">
        {ask.data ? (
          <>
            <Answer answer={ask.data} />
            {calculator.puts && <PutInto calculator={calculator.name} fields={ask.variables} />}
          </>
        ) : (
          <p className="text-second">Press Enter in any field, and the answer stands here with what it rests on.</p>
        )}
      </section>
    </div>
  );
}

function Asked({
  field: f,
  value,
  wrong,
  onChange,
}: {
  field: Field;
  value: string;
  wrong: string | undefined;
  onChange: (value: string) => void;
}) {
  const id = `bench-${f.name}`;
  const look = `w-full border px-3 py-1 ${wrong ? "border-madder" : "border-rule"} bg-sheet`;
  return (
    <div className="mb-2 grid grid-cols-[170px_1fr] items-start gap-3">
      <label htmlFor={id} className="pt-1 text-base">
        {f.label}
      </label>
      <div>
        {f.kind === "flag" ? (
          <input
            id={id}
            type="checkbox"
            className="mt-2.5"
            checked={value === "yes"}
            onChange={(e) => onChange(e.target.checked ? "yes" : "")}
          />
        ) : f.choices.length > 0 ? (
          <select id={id} className={look} value={value} onChange={(e) => onChange(e.target.value)}>
            {!f.required && !f.default && <option value="">not said</option>}
            {f.choices.map((c) => (
              <option key={c} value={c}>
                {c}
              </option>
            ))}
          </select>
        ) : (
          <input
            id={id}
            className={`${look} font-figures`}
            value={value}
            placeholder={f.example}
            aria-invalid={wrong ? true : undefined}
            aria-describedby={wrong ? `${id}-wrong` : undefined}
            onChange={(e) => onChange(e.target.value)}
          />
        )}
        {f.help && <p className="text-fine text-second">{f.help}</p>}
        {wrong && (
          <p id={`${id}-wrong`} role="alert" className="text-plain text-madder">
            {wrong}
          </p>
        )}
      </div>
    </div>
  );
}

/** What was asked becomes part of a harness: one on the shelf, or a new one. */
function PutInto({ calculator, fields }: { calculator: string; fields: Record<string, string> }) {
  const { data: shelf } = useShelf();
  const cache = useQueryClient();
  const navigate = useNavigate();
  const [into, setInto] = useState("");
  const put = useMutation({
    mutationFn: async () => {
      const id =
        into ||
        (
          await createDesign({
            name: "From the bench",
            practice: (fields.practice ?? "motorsport") as DesignReply["document"]["brief"]["practice"],
          })
        ).id;
      const { data, error } = await client.POST("/api/designs/{design_id}/bench/{calculator}", {
        params: { path: { design_id: id, calculator } },
        body: { fields },
      });
      if (error) {
        if (!into) await shelfAct(id, "remove");
        throw refusal(error);
      }
      return data;
    },
    onSuccess: (reply) => {
      cache.setQueryData(["design", reply.id], reply);
      void cache.invalidateQueries({ queryKey: ["shelf"] });
      void navigate(`/d/${reply.id}/${calculator === "bus" ? "circuits/together" : "wire"}`);
    },
  });
  return (
    <form
      className="mt-4 border-t border-rule pt-3"
      onSubmit={(e) => {
        e.preventDefault();
        put.mutate();
      }}
    >
      <label className="flex items-center gap-2 text-base">
        Put it into
        <select className="inkbox min-w-0 flex-1 py-1" value={into} onChange={(e) => setInto(e.target.value)}>
          <option value="">a new harness</option>
          {(shelf ?? []).map((s) => (
            <option key={s.id} value={s.id}>
              {s.name}
            </option>
          ))}
        </select>
        <button className="press" type="submit" disabled={put.isPending}>
          Put it in
        </button>
      </label>
      {put.error && (
        <p role="alert" className="mt-1 text-plain text-madder">
          {put.error.message}
        </p>
      )}
    </form>
  );
}

function Answer({ answer }: { answer: BenchAnswer }) {
  return (
    <>
      <p className={`text-head leading-snug ${answer.holds ? "" : "text-madder"}`}>
        <Sentence text={answer.sentence} />
      </p>
      <dl className="mt-3">
        {answer.lines.map((x) => (
          <div key={x.label} className="grid grid-cols-[150px_1fr] gap-3 border-t border-faint py-1.5 text-base">
            <dt className="text-second">{x.label}</dt>
            <dd>
              <strong className="font-figures">{x.value}</strong>
              {x.note && <span className="block text-fine text-second">{x.note}</span>}
            </dd>
          </div>
        ))}
      </dl>
      {answer.sources.map((s) => (
        <p key={s} className="mt-2 text-fine text-second">
          {s}
        </p>
      ))}
    </>
  );
}
