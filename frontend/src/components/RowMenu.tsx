import { DropdownMenu } from "radix-ui";

export interface RowAct {
  label: string;
  keys: string;
  run: () => void;
}

interface Props {
  of: string;
  acts: RowAct[];
  open: boolean;
  onOpen: (open: boolean) => void;
}

/** What can be done with a row, for a hand that has no keys. */
export function RowMenu({ of, acts, open, onOpen }: Props) {
  return (
    <DropdownMenu.Root modal={false} open={open} onOpenChange={onOpen}>
      <DropdownMenu.Trigger
        tabIndex={-1}
        aria-label={`What can be done with ${of}`}
        className="h-6 w-6 leading-none text-second hover:text-ink"
      >
        ⋯
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content align="end" className="z-40 border border-ink bg-sheet py-1 text-plain">
          {acts.map((act) => (
            <DropdownMenu.Item
              key={act.label}
              className="flex cursor-default justify-between gap-8 px-3 py-1.5 outline-none data-[highlighted]:bg-wash"
              onSelect={act.run}
            >
              {act.label}
              <kbd className="text-fine text-second">{act.keys}</kbd>
            </DropdownMenu.Item>
          ))}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
