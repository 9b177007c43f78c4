import { Dialog } from "radix-ui";
import { useCallback, useState } from "react";
import { Over, useKey } from "./Over";

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
  useKey(
    useCallback((event: KeyboardEvent) => {
      if (event.key !== "?" || (event.target as HTMLElement).closest("input, textarea, select")) return;
      event.preventDefault();
      setList(document.querySelector("main [role=grid]") !== null);
      setOpen(true);
    }, []),
  );
  return (
    <Over
      open={open}
      onOpen={setOpen}
      className="top-[10vh] max-h-[80vh] w-[min(620px,calc(100vw-24px))] overflow-auto p-6"
    >
      <Dialog.Title className="text-head">Keys</Dialog.Title>
      <Keys title="Everywhere" keys={EVERYWHERE} />
      {list && <Keys title="In a list" keys={IN_A_LIST} />}
      <Dialog.Close className="press mt-5">Close</Dialog.Close>
    </Over>
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
