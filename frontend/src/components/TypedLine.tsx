import { useId, useState } from "react";
import type { Problem } from "../api/client";

interface Props {
  label: string;
  example: string;
  onCommit: (text: string) => Promise<Problem | null>;
}

/** A whole line typed at once; kept with the reason where it is not understood. */
export function TypedLine({ label, example, onCommit }: Props) {
  const id = useId();
  const [typed, setTyped] = useState("");
  const [problem, setProblem] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const put = async (lines = typed) => {
    if (!lines.trim() || busy) return;
    setBusy(true);
    const found = await onCommit(lines.trim());
    setBusy(false);
    setProblem(found ? found.detail : null);
    if (!found) setTyped("");
    else if (lines !== typed) setTyped(lines.trim().split(/\r?\n/).join("   "));
  };
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault();
        void put();
      }}
      className="my-3"
    >
      <div className="flex items-center gap-2.5">
        <label htmlFor={id} className="text-second">
          {label}
        </label>
        <input
          id={id}
          value={typed}
          spellCheck={false}
          autoComplete="off"
          placeholder={example}
          aria-invalid={problem ? true : undefined}
          aria-describedby={problem ? `${id}-problem` : undefined}
          onChange={(e) => setTyped(e.target.value)}
          onPaste={(e) => {
            const pasted = e.clipboardData.getData("text/plain").trim();
            if (!pasted.includes("\n")) return;
            e.preventDefault();
            void put(pasted);
          }}
          className="inkbox min-w-0 flex-1 border-ink py-1.5 font-figures text-[15px] placeholder:text-second/80"
        />
        <button type="submit" className="press py-1.5">
          Put it in
        </button>
      </div>
      {problem && (
        <p id={`${id}-problem`} role="alert" className="mt-1.5 text-[14px] text-madder">
          {problem}
        </p>
      )}
    </form>
  );
}
