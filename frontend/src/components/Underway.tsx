import { Progress } from "radix-ui";

interface Props {
  /** What is being worked out, in words. */
  text: string;
  /** How far it is, 0 to 1. */
  share: number;
}

/** Long work under way: what, and a thread that grows with it. */
export function Underway({ text, share }: Props) {
  const percent = Math.round(share * 100);
  return (
    <div className="max-w-[420px] py-1 text-second">
      <p>
        {text} ... <span className="font-figures text-plain">{percent} %</span>
      </p>
      <Progress.Root value={percent} aria-label={text} className="mt-1">
        <svg width="100%" height="6" className="block" aria-hidden>
          <line x1="0" y1="3" x2="100%" y2="3" stroke="var(--rule)" />
          <line
            x1="0"
            y1="3"
            x2={`${percent}%`}
            y2="3"
            stroke="var(--madder)"
            strokeWidth="2.4"
            strokeDasharray="9 3"
          />
        </svg>
      </Progress.Root>
    </div>
  );
}
