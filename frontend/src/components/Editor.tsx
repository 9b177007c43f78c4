import { useEffect, useId, useRef, useState } from "react";

interface EditorProps {
  label: string;
  start: string;
  from: string;
  choices?: { value: string; label: string }[];
  onDone: (typed: string, then: [number, number] | null) => void;
  /** With every letter, so that nothing is lost where the cell goes away under it. */
  onTyping: (typed: string) => void;
  onCancel: () => void;
}

/** The input of one cell; with choices, the ones that match what is typed lie below it. */
export function Editor({ label, start, from, choices, onDone, onTyping, onCancel }: EditorProps) {
  const [typed, setTyped] = useState(choices && start === from ? "" : start);
  const [pick, setPick] = useState(0);
  const over = useRef(false);
  const list = useId();
  const input = useRef<HTMLInputElement>(null);
  useEffect(() => {
    const box = input.current;
    box?.focus();
    if (!choices && start === from) box?.select();
    // Only at the start of the edit.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, []);
  const lowered = typed.toLowerCase();
  const matching = choices?.filter(
    (c) => c.label.toLowerCase().includes(lowered) || c.value.toLowerCase().includes(lowered),
  );
  const chosen = matching?.[Math.min(pick, matching.length - 1)];
  const finish = (then: [number, number] | null) => {
    if (over.current) return;
    over.current = true;
    if (!choices) onDone(typed, then);
    else if (typed === "" && pick === 0) onCancel();
    else onDone(chosen ? chosen.value : typed, then);
  };
  return (
    <span className="absolute inset-0 z-10">
      <input
        ref={input}
        aria-label={label}
        role={choices ? "combobox" : undefined}
        aria-expanded={choices ? true : undefined}
        aria-controls={choices ? list : undefined}
        value={typed}
        placeholder={choices ? from : undefined}
        onChange={(e) => {
          setTyped(e.target.value);
          onTyping(e.target.value);
          setPick(0);
        }}
        onBlur={() => finish(null)}
        onKeyDown={(e) => {
          if (e.key === "Enter") finish([1, 0]);
          else if (e.key === "Tab") finish([0, e.shiftKey ? -1 : 1]);
          else if (e.key === "Escape") {
            over.current = true;
            onCancel();
          } else if (choices && e.key === "ArrowDown") setPick((n) => Math.min(n + 1, (matching?.length ?? 1) - 1));
          else if (choices && e.key === "ArrowUp") setPick((n) => Math.max(n - 1, 0));
          else return;
          e.preventDefault();
          e.stopPropagation();
        }}
        className="h-full w-full bg-sheet px-1.5 font-figures text-plain text-ink outline-2 -outline-offset-2 outline-madder"
      />
      {matching && (
        <ul
          id={list}
          role="listbox"
          aria-label={label}
          className="absolute left-0 top-full z-20 max-h-56 min-w-full overflow-auto border border-ink bg-sheet py-1 text-left font-text"
        >
          {matching.length === 0 && <li className="px-2 text-madder">none of these</li>}
          {matching.map((c) => (
            <li
              key={c.value}
              role="option"
              aria-selected={c === chosen}
              onMouseDown={(e) => {
                e.preventDefault();
                over.current = true;
                onDone(c.value, null);
              }}
              className={`cursor-pointer whitespace-nowrap px-2 py-0.5 ${c === chosen ? "bg-wash font-semibold" : ""}`}
            >
              {c.label}
            </li>
          ))}
        </ul>
      )}
    </span>
  );
}
