import { Dialog } from "radix-ui";
import { useCallback, useState } from "react";
import { Over, useKey } from "./Over";
import { Words } from "./Words";

const EVERYWHERE = [
  ["Ctrl K", "go to any device, wire, connector, room or act"],
  ["Alt ↑, Alt ↓", "the room before, the next room"],
  ["Ctrl Z, Ctrl Shift Z", "take the last edit back, bring it again"],
  ["\\", "put the card away, bring it back"],
  ["?", "these keys, and what the words mean"],
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

const ON_A_FACE = [["↑ ↓ ← →", "from way to way, as they lie"]] as const;

/** The heading of the column that the cursor is in, where the keyboard is in a list. */
function headOfCell(): string {
  const cell = document.activeElement?.getAttribute("aria-activedescendant")?.split("-").at(-1);
  const heads = document.activeElement?.querySelectorAll("[role=columnheader]");
  return heads?.[Number(cell)]?.textContent.replace(/ \(.*\)$|[ ↑↓]+$/g, "") ?? "";
}

/** The question mark lists the keys of the view that is open, and what the words of its room mean. */
export function ShortcutsSheet({ room }: { room: string }) {
  const [open, setOpen] = useState(false);
  const [about, setAbout] = useState({ list: false, face: false, head: "" });
  const show = useCallback(() => {
    const seen = (what: string) => document.querySelector(`main ${what}`) !== null;
    setAbout({ list: seen("[role=grid]"), face: seen("svg[role=radiogroup]"), head: headOfCell() });
    setOpen(true);
  }, []);
  useKey(
    useCallback(
      (event: KeyboardEvent) => {
        if (event.key !== "?" || (event.target as HTMLElement).closest("input, textarea, select")) return;
        event.preventDefault();
        show();
      },
      [show],
    ),
  );
  return (
    <>
      <button className="quiet" onClick={show} aria-label="Keys and words">
        ?
      </button>
      <Over
        open={open}
        onOpen={setOpen}
        className="top-[6vh] max-h-[88vh] w-[min(760px,calc(100vw-24px))] overflow-auto p-6"
      >
        <Dialog.Title className="text-head">Keys and words</Dialog.Title>
        <Words room={room} head={about.head} />
        <Keys title="Everywhere" keys={EVERYWHERE} />
        {about.list && <Keys title="In a list" keys={IN_A_LIST} />}
        {about.face && <Keys title="On a face" keys={ON_A_FACE} />}
        <Dialog.Close className="press mt-5">Close</Dialog.Close>
      </Over>
    </>
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
