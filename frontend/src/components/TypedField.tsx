import { useEffect, useId, useRef, useState, type ReactNode } from "react";
import type { Problem } from "../api/client";

interface LineProps {
  id: string;
  label: string;
  problem: string | null;
  hint: string | undefined;
  narrow: boolean;
  children: ReactNode;
}

/** A labelled line of a form, with what was not understood or a hint below it. */
function FormLine({ id, label, problem, hint, narrow, children }: LineProps) {
  return (
    <div className={`grid items-baseline gap-x-3 ${narrow ? "grid-cols-[92px_minmax(0,1fr)] py-1" : "grid-cols-[150px_1fr] border-b border-faint py-1.5"}`}>
      <label htmlFor={id} className="text-second">
        {label}
      </label>
      <div>
        {children}
        {problem ? (
          <p id={`${id}-problem`} role="alert" className="mt-1 text-[14px] text-madder">
            {problem}
          </p>
        ) : (
          hint && <p className="mt-0.5 text-[13px] text-second">{hint}</p>
        )}
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
  const [typed, setTyped] = useState(value);
  const [problem, setProblem] = useState<string | null>(null);
  const known = useRef(value);
  useEffect(() => {
    if (known.current !== value) {
      known.current = value;
      setTyped(value);
      setProblem(null);
    }
  }, [value]);
  const commit = async () => {
    if (typed === value) {
      setProblem(null);
      return;
    }
    const found = await onCommit(typed);
    setProblem(found ? found.detail : null);
  };
  return (
    <FormLine id={id} label={label} problem={problem} hint={hint} narrow={narrow}>
      <input
        id={id}
        value={typed}
        placeholder={placeholder}
        aria-invalid={problem ? true : undefined}
        aria-describedby={problem ? `${id}-problem` : undefined}
        onChange={(e) => setTyped(e.target.value)}
        onBlur={() => void commit()}
        onKeyDown={(e) => {
          if (e.key === "Enter") void commit();
          if (e.key === "Escape") {
            setTyped(value);
            setProblem(null);
          }
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

/** One labelled choice. */
export function ChoiceField({ label, value, choices, onCommit, hint, narrow = false }: ChoiceProps) {
  const id = useId();
  const [problem, setProblem] = useState<string | null>(null);
  return (
    <FormLine id={id} label={label} problem={problem} hint={hint} narrow={narrow}>
      <select
        id={id}
        value={value}
        onChange={(e) => void onCommit(e.target.value).then((p) => setProblem(p ? p.detail : null))}
        className="inkbox w-full"
      >
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
  const [problem, setProblem] = useState<string | null>(null);
  return (
    <FormLine id={id} label={label} problem={problem} hint={hint} narrow={narrow}>
      <input
        id={id}
        type="checkbox"
        className="h-4 w-4 accent-(--ink)"
        checked={value}
        onChange={(e) => void onCommit(e.target.checked).then((p) => setProblem(p ? p.detail : null))}
      />
    </FormLine>
  );
}
