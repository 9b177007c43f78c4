import type { Guess, Look } from "../api/look";

/** What a builder says instead of a guess. */
export type Choosing = { about: string; what: string; label: string };

interface Props {
  id: string;
  look: Look;
  /** The line that was looked at. */
  line: string;
  /** Nothing is said of a line that is still being typed but what it would make. */
  onLine: (line: string) => void;
  onChoose: (choice: Choosing) => void;
  onEnter: () => void;
}

/** As many things as read well in one sentence. */
const FEW = 3;

/** Under a typed line: what it will make, what was guessed and can be said otherwise, what is not understood. */
export function Echo({ id, look, line, onLine, onChoose, onEnter }: Props) {
  const { problem } = look;
  const meant =
    problem && problem.start !== null && problem.end !== null ? line.slice(problem.start, problem.end).trim() : "";
  return (
    <div className="mt-1.5 max-w-[110ch] text-plain text-second">
      {look.says.length > FEW && (
        <ul className="columns-1 gap-6 min-[1000px]:columns-2">
          {look.says.map((said) => (
            <li key={said} className="break-inside-avoid">
              {said}
            </li>
          ))}
        </ul>
      )}
      <p id={id} aria-live="polite">
        {look.says.length > FEW ? <span className="sr-only">{look.says.join("; ")}</span> : look.says.join("; ")}
        {look.says.length > 0 && look.says.length <= FEW && !problem && "."}
        {problem && (
          <>
            {look.says.length > 0 && look.says.length <= FEW && "; "}
            <span className="text-madder">
              {meant && look.says.length > 0 ? (
                <>
                  <em>not understood:</em>{" "}
                  <span className="font-figures underline decoration-wavy underline-offset-3">{meant}</span>
                </>
              ) : (
                problem.says
              )}
            </span>
          </>
        )}
      </p>
      {problem?.line && (
        <button type="button" className="quiet" onClick={() => onLine(problem.line ?? line)}>
          {problem.offers}
        </button>
      )}
      {look.guesses.length > 0 && (
        <p className="mt-1 flex flex-wrap items-baseline gap-x-3 gap-y-1">
          {byDevice(look.guesses).map(([device, guesses]) => (
            <span key={device} className="inline-flex flex-wrap items-baseline gap-x-1.5">
              <span className="font-figures text-ink">{device}</span>
              {guesses.map((guess) => (
                <Guessed key={guess.what} guess={guess} onChoose={onChoose} onEnter={onEnter} />
              ))}
            </span>
          ))}
        </p>
      )}
    </div>
  );
}

function Guessed({
  guess,
  onChoose,
  onEnter,
}: {
  guess: Guess;
  onChoose: (choice: Choosing) => void;
  onEnter: () => void;
}) {
  const chosen = guess.choices.find((c) => c.label === guess.chosen);
  return (
    <label className="inline-flex items-baseline gap-1">
      {guess.what}
      <select
        aria-label={`${guess.about} ${guess.what}`}
        className="inkbox max-w-[180px] px-1 py-0 text-fine"
        value={chosen?.label ?? ""}
        onChange={(e) => onChoose({ about: guess.about, what: guess.what, label: e.target.value })}
        onKeyDown={(e) => {
          if (e.key !== "Enter") return;
          e.preventDefault();
          onEnter();
        }}
      >
        {!chosen && <option value="">{guess.chosen}</option>}
        {guess.choices.map((c) => (
          <option key={c.label} value={c.label}>
            {c.label}
          </option>
        ))}
      </select>
    </label>
  );
}

function byDevice(guesses: Guess[]): [string, Guess[]][] {
  const found = new Map<string, Guess[]>();
  for (const guess of guesses) found.set(guess.about, [...(found.get(guess.about) ?? []), guess]);
  return [...found];
}
