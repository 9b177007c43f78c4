interface Props {
  label: string;
  tick: { done: number; of: number } | undefined;
  onToggle: () => void;
}

/** Cut or not; of several harnesses, for how many. */
export function Tick({ label, tick, onToggle }: Props) {
  if (!tick) return null;
  const all = tick.done === tick.of;
  return (
    <button
      className="flex min-h-6 items-center gap-1 font-figures text-fine"
      role="checkbox"
      aria-checked={all ? true : tick.done > 0 ? "mixed" : false}
      aria-label={`${label} is cut`}
      tabIndex={-1}
      onClick={onToggle}
    >
      <span className="inline-block h-[17px] w-[17px] border border-ink text-center font-bold leading-none">
        {all ? "✓" : ""}
      </span>
      {tick.of > 1 && (
        <span>
          {tick.done}/{tick.of}
        </span>
      )}
    </button>
  );
}
