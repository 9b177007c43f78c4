import { useId, useState, type ReactNode } from "react";
import { lost, type Problem } from "../api/client";
import { Meant } from "./Meant";
import { Outdone } from "./Outdone";
import { useTyped } from "./useTyped";

interface LineProps {
  id: string;
  label: string;
  problem: string | null;
  hint: string | undefined;
  narrow: boolean;
  /** Both ways on where another window was first. */
  outdone: ReactNode;
  children: ReactNode;
}

/** A labelled line of a form, with what was not understood or a hint below it. */
function FormLine({ id, label, problem, hint, narrow, outdone, children }: LineProps) {
  return (
    <div
      className={`grid items-baseline gap-x-3 ${narrow ? "grid-cols-[92px_minmax(0,1fr)] py-1" : "grid-cols-[150px_1fr] border-b border-faint py-1.5"}`}
    >
      <label htmlFor={id} className="text-second">
        <Meant>{label}</Meant>
      </label>
      <div>
        {children}
        {outdone || problem
          ? outdone || (
              <p id={`${id}-problem`} role="alert" className="mt-1 text-plain text-madder">
                {problem}
              </p>
            )
          : hint && <p className="mt-0.5 text-fine text-second">{hint}</p>}
      </div>
    </div>
  );
}

interface Props {
  label: string;
  value: string;
  onCommit: (typed: string) => Promise<Problem | null>;
  hint?: string;
  figures?: boolean;
  placeholder?: string;
  /** In a narrow place. */
  narrow?: boolean;
}

/** One labelled value: Enter or leaving commits; what was typed stays where it was not understood. */
export function TypedField({ label, value, onCommit, hint, placeholder, figures = false, narrow = false }: Props) {
  const id = useId();
  const { typed, setTyped, problem, outdone, commit, leave } = useTyped(label, value, onCommit);
  const wrong = problem !== null || outdone;
  return (
    <FormLine
      id={id}
      label={label}
      problem={problem}
      hint={hint}
      narrow={narrow}
      outdone={
        outdone && (
          <Outdone id={`${id}-problem`} value={value} typed={typed} onMine={() => void commit(true)} onTheirs={leave} />
        )
      }
    >
      <input
        id={id}
        value={typed}
        placeholder={placeholder}
        aria-invalid={wrong ? true : undefined}
        aria-describedby={wrong ? `${id}-problem` : undefined}
        onChange={(e) => setTyped(e.target.value)}
        onBlur={() => void commit(false)}
        onKeyDown={(e) => {
          if (e.key === "Enter") void commit(true);
          if (e.key === "Escape") leave();
        }}
        className={`inkbox w-full ${figures ? "font-figures" : ""}`}
      />
    </FormLine>
  );
}

interface ChoiceProps {
  label: string;
  value: string;
  choices: { value: string; label: string }[];
  onCommit: (value: string) => Promise<Problem | null>;
  hint?: string;
  narrow?: boolean;
}

/** A choice that is kept, with what another window chose, until it is put in or let go. */
function useChosen(value: string, onCommit: (value: string) => Promise<Problem | null>) {
  const [mine, setMine] = useState<string | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const leave = () => {
    setMine(null);
    setProblem(null);
  };
  const commit = async (chosen: string) => {
    const found = await onCommit(chosen);
    setMine(lost(found) ? chosen : null);
    setProblem(found ? found.detail : null);
  };
  return { shown: mine ?? value, outdone: mine !== null && mine !== value ? mine : null, problem, commit, leave };
}

/** One labelled choice. */
export function ChoiceField({ label, value, choices, onCommit, hint, narrow = false }: ChoiceProps) {
  const id = useId();
  const { shown, outdone, problem, commit, leave } = useChosen(value, onCommit);
  const called = (v: string) => choices.find((c) => c.value === v)?.label ?? v;
  return (
    <FormLine
      id={id}
      label={label}
      problem={problem}
      hint={hint}
      narrow={narrow}
      outdone={
        outdone !== null && (
          <Outdone value={called(value)} typed={called(outdone)} onMine={() => void commit(outdone)} onTheirs={leave} />
        )
      }
    >
      <select id={id} value={shown} onChange={(e) => void commit(e.target.value)} className="inkbox w-full">
        {choices.map((c) => (
          <option key={c.value} value={c.value}>
            {c.label}
          </option>
        ))}
      </select>
    </FormLine>
  );
}

interface FlagProps {
  label: string;
  value: boolean;
  onCommit: (value: boolean) => Promise<Problem | null>;
  hint?: string;
  narrow?: boolean;
}

/** One labelled yes or no. */
export function FlagField({ label, value, onCommit, hint, narrow = false }: FlagProps) {
  const id = useId();
  const { shown, outdone, problem, commit, leave } = useChosen(value ? "yes" : "no", (v) => onCommit(v === "yes"));
  return (
    <FormLine
      id={id}
      label={label}
      problem={problem}
      hint={hint}
      narrow={narrow}
      outdone={
        outdone !== null && (
          <Outdone value={value ? "yes" : "no"} typed={outdone} onMine={() => void commit(outdone)} onTheirs={leave} />
        )
      }
    >
      <input
        id={id}
        type="checkbox"
        className="h-4 w-4 accent-(--ink)"
        checked={shown === "yes"}
        onChange={(e) => void commit(e.target.checked ? "yes" : "no")}
      />
    </FormLine>
  );
}
