import { useEffect, useId, useRef, useState } from "react";
import { useParams } from "react-router";
import type { ActName, Problem } from "../api/client";
import { useLook } from "../api/look";
import { Echo, type Choosing } from "./Echo";
import { spent } from "./spent";

interface Props {
  label: string;
  example: string;
  /** What the line is: a feed, a run, a zone. It is looked at as one. */
  act: ActName;
  onCommit: (text: string) => Promise<Problem | null>;
}

/** Lines half typed, by harness and by what they are: there again when the room is come back to. */
const HALF_TYPED = new Map<string, string>();

/** A whole line typed at once: what it will make is said below it, and it is kept with the reason where it cannot go in. */
export function TypedLine({ label, example, act, onCommit }: Props) {
  const id = useId();
  const field = useRef<HTMLInputElement>(null);
  const draft = `${useParams().id ?? ""} ${act} ${label}`;
  const [typed, setTyped] = useState(() => HALF_TYPED.get(draft) ?? "");
  useEffect(() => {
    if (typed) HALF_TYPED.set(draft, typed);
    else HALF_TYPED.delete(draft);
  }, [draft, typed]);
  const [problem, setProblem] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const { look, looked, ask } = useLook(act, typed);
  const following = look && looked === typed ? look.following : [];
  const put = async (lines = typed) => {
    if (!lines.trim() || busy) return;
    setBusy(true);
    const found = await onCommit(lines.trim());
    setBusy(false);
    setProblem(found ? found.detail : null);
    if (!found) {
      setTyped(spent(lines));
      // The room may have been left in the meantime.
      if (HALF_TYPED.get(draft) === lines) HALF_TYPED.delete(draft);
      const at = document.activeElement;
      if (at === document.body || field.current?.form?.contains(at)) field.current?.focus();
    } else if (lines !== typed) setTyped(lines.trim().split(/\r?\n/).join("   "));
    else mark();
  };
  /** The letters that are not understood, chosen, so that typing replaces them. */
  const mark = () => {
    if (
      look?.problem?.start === undefined ||
      look.problem.start === null ||
      look.problem.end === null ||
      looked !== typed
    )
      return;
    field.current?.focus();
    field.current?.setSelectionRange(look.problem.start, look.problem.end);
  };
  const say = (line: string) => {
    setTyped(line);
    setProblem(null);
  };
  /** A choice is made in the line as it now is. */
  const choose = async (chosen: Choosing) => {
    const now = await ask(typed).catch(() => null);
    const guess = now?.guesses.find((g) => g.about === chosen.about && g.what === chosen.what);
    const choice = guess?.choices.find((c) => c.label === chosen.label);
    if (choice) say(choice.line);
  };
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault();
        void put();
      }}
      className="my-3 grid grid-cols-[auto_1fr_auto] items-center gap-x-2.5"
    >
      <label htmlFor={id} className="text-second">
        {label}
      </label>
      <input
        data-line
        id={id}
        ref={field}
        value={typed}
        spellCheck={false}
        autoComplete="off"
        placeholder={example}
        aria-invalid={problem ? true : undefined}
        aria-describedby={problem ? `${id}-problem` : look ? `${id}-echo` : undefined}
        onChange={(e) => say(e.target.value)}
        onKeyDown={(e) => {
          const at = e.currentTarget.selectionStart;
          const [next] = following;
          if (e.key !== "ArrowRight" || !next || at !== typed.length || e.shiftKey || e.ctrlKey || e.altKey) return;
          e.preventDefault();
          say(next.line);
        }}
        onPaste={(e) => {
          const pasted = e.clipboardData.getData("text/plain").trim();
          if (!pasted.includes("\n")) return;
          e.preventDefault();
          void put(pasted);
        }}
        className="inkbox min-w-0 border-ink py-1.5 font-figures text-base placeholder:text-second/80"
      />
      <div className="col-span-3 row-start-2">
        {following.length > 0 && typed.trim() && (
          <p className="mt-1 flex flex-wrap items-baseline gap-x-3 text-fine text-second">
            <span>could be, with →</span>
            {following.map((c) => (
              <button
                key={c.label}
                type="button"
                tabIndex={-1}
                className="quiet font-figures"
                onClick={() => {
                  say(c.line);
                  field.current?.focus();
                }}
              >
                {c.label}
              </button>
            ))}
          </p>
        )}
        {problem ? (
          <p id={`${id}-problem`} role="alert" className="mt-1.5 text-plain text-madder">
            {problem}
          </p>
        ) : null}
        {look && (!problem || look.problem?.line) && (
          <Echo
            id={`${id}-echo`}
            look={look}
            line={looked}
            onLine={say}
            onChoose={(chosen) => void choose(chosen)}
            onEnter={() => void put()}
          />
        )}
      </div>
      <button type="submit" className="press col-start-3 row-start-1 py-1.5">
        Put it in
      </button>
    </form>
  );
}
