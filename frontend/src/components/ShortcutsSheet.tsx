import { Dialog } from "radix-ui";
import { useEffect, useState } from "react";

const EVERYWHERE = [
  ["Ctrl K", "go to any device, wire, connector, room or act"],
  ["Alt ↑, Alt ↓", "the room before, the next room"],
  ["Ctrl Z, Ctrl Shift Z", "take the last edit back, bring it again"],
  ["\\", "put the card away, bring it back"],
  ["?", "this list"],
] as const;

const IN_A_LIST = [
  ["↑ ↓ ← →", "from cell to cell"],
  ["type, Enter, F2", "type over a cell, or in it"],
  ["w", "why this figure"],
  ["Delete", "empty the cell"],
  ["Ctrl Delete", "take the row out"],
  ["Shift ↑ ↓, Ctrl click", "choose several rows; what is typed goes into all"],
  ["Ctrl D", "fill down what is chosen; else one more like the row"],
  ["Ctrl C, Ctrl V", "copy with headings, paste from a spreadsheet"],
  ["/", "filter the list"],
  ["Shift F10", "what can be done with the row"],
] as const;

/** The question mark lists the keys of the view that is open. */
export function ShortcutsSheet() {
  const [open, setOpen] = useState(false);
  const [list, setList] = useState(false);
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const typing = (event.target as HTMLElement).closest("input, textarea, select");
      if (event.key !== "?" || typing) return;
      event.preventDefault();
      setList(document.querySelector("main [role=grid]") !== null);
      setOpen(true);
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, []);
  return (
    <Dialog.Root open={open} onOpenChange={setOpen} modal={false}>
      <Dialog.Portal>
        {open && <div aria-hidden="true" className="fixed inset-0 z-40 bg-ink/25" />}
        <Dialog.Content
          aria-describedby={undefined}
          className="fixed left-1/2 top-[10vh] z-50 max-h-[80vh] w-[min(620px,calc(100vw-24px))] -translate-x-1/2 overflow-auto border border-ink bg-sheet p-6"
        >
          <Dialog.Title className="text-head">Keys</Dialog.Title>
          <Keys title="Everywhere" keys={EVERYWHERE} />
          {list && <Keys title="In a list" keys={IN_A_LIST} />}
          <Dialog.Close className="press mt-5">Close</Dialog.Close>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

function Keys({ title, keys }: { title: string; keys: readonly (readonly [string, string])[] }) {
  return (
    <>
      <h3 className="mt-4 font-semibold">{title}</h3>
      <dl className="mt-1 grid grid-cols-[auto_1fr] gap-x-6 gap-y-1">
        {keys.map(([key, what]) => (
          <div key={key} className="contents">
            <dt>
              <kbd>{key}</kbd>
            </dt>
            <dd>{what}</dd>
          </div>
        ))}
      </dl>
    </>
  );
}
