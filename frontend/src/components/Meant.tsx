import { Tooltip } from "radix-ui";
import { useMeaning } from "../api/words";

/** A label; where it is a word of the trade, what it means is said when one points at it. */
export function Meant({ children }: { children: string }) {
  const word = useMeaning(children);
  if (!word) return <>{children}</>;
  return (
    <Tooltip.Root>
      <Tooltip.Trigger asChild>
        <span className="cursor-help decoration-second/60 decoration-dotted underline-offset-4 hover:underline">
          {children}
        </span>
      </Tooltip.Trigger>
      <Tooltip.Portal>
        <Tooltip.Content
          side="bottom"
          align="start"
          sideOffset={5}
          collisionPadding={12}
          className="z-50 max-w-[320px] border border-ink bg-sheet px-3 py-2 text-plain text-ink"
        >
          <strong className="font-heading">{word.word}</strong>
          <br />
          {word.means}
        </Tooltip.Content>
      </Tooltip.Portal>
    </Tooltip.Root>
  );
}
