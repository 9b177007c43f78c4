import { Dialog } from "radix-ui";
import { useMemo, useState, type ReactNode } from "react";
import { Link } from "react-router";
import { changesOf, type Change } from "../api/changes";
import { liveOf } from "../api/edits";
import { useVersions } from "../api/buying";
import { useActs, useDesign } from "../api/design";
import { when } from "../format";
import { useSay } from "./Notice";

/** Beside the tag: the last edit to take back, the next to bring back, what it changed, and all of them. */
export function EditsStrip() {
  const { design, before } = useDesign();
  const { undo, redo } = useActs();
  const say = useSay();
  const turn = (way: () => ReturnType<typeof undo>) => () =>
    void way().then((problem) => problem && say(problem.detail));
  return (
    <section
      aria-label="Edits"
      className="mx-[18px] mb-3 grid gap-0.5 text-fine max-[899px]:mx-3 max-[899px]:mb-0 max-[899px]:flex max-[899px]:shrink-0 max-[899px]:items-center max-[899px]:gap-4"
    >
      {design.undo_label !== null && (
        <Turn word="Undo" label={design.undo_label} onTurn={turn(undo)} keys="Control+Z" />
      )}
      {design.redo_label !== null && (
        <Turn word="Redo" label={design.redo_label} onTurn={turn(redo)} keys="Control+Shift+Z" />
      )}
      <p className="flex gap-4">
        {before && (
          <Opened word="what changed" title="What this edit changed">
            <Changes />
          </Opened>
        )}
        {(design.undo_label !== null || design.redo_label !== null) && (
          <Opened word="all edits" title="Edits of this harness">
            <AllEdits />
          </Opened>
        )}
      </p>
    </section>
  );
}

interface TurnProps {
  word: string;
  label: string;
  keys: string;
  onTurn: () => void;
}

function Turn({ word, label, keys, onTurn }: TurnProps) {
  return (
    <button
      className="min-h-6 truncate text-left text-blue hover:underline max-[899px]:max-w-[180px]"
      title={`${word}: ${label}`}
      aria-keyshortcuts={keys}
      onClick={onTurn}
    >
      {word}: {label}
    </button>
  );
}

function Opened({ word, title, children }: { word: string; title: string; children: ReactNode }) {
  const [open, setOpen] = useState(false);
  return (
    <Dialog.Root open={open} onOpenChange={setOpen} modal={false}>
      <Dialog.Trigger className="min-h-6 text-blue hover:underline">{word}</Dialog.Trigger>
      <Dialog.Portal>
        <Dialog.Content
          aria-describedby={undefined}
          className="fixed bottom-4 left-[200px] z-40 max-h-[calc(100vh-32px)] w-[min(640px,calc(100vw-32px))] overflow-auto border border-ink bg-sheet p-5 max-[899px]:left-4"
        >
          <div className="flex items-baseline justify-between gap-6">
            <Dialog.Title className="text-head">{title}</Dialog.Title>
            <Dialog.Close className="quiet">close</Dialog.Close>
          </div>
          {open && children}
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

const AT_MOST = 200;

function Changes() {
  const { design, before, id } = useDesign();
  const changes = useMemo(() => (before ? changesOf(before, design) : []), [before, design]);
  return (
    <>
      <p className="mt-1 text-second">{before && design.undo_label ? design.undo_label : ""}</p>
      {changes.length === 0 && <p className="mt-3">No figure changed.</p>}
      <table className="mt-3 w-full text-plain">
        <tbody>
          {changes.slice(0, AT_MOST).map((c) => (
            <ChangeRow key={`${c.room} ${c.of} ${c.what} ${c.now}`} change={c} id={id} />
          ))}
        </tbody>
      </table>
      {changes.length > AT_MOST && <p className="mt-2 text-second">And {changes.length - AT_MOST} more.</p>}
    </>
  );
}

function ChangeRow({ change: c, id }: { change: Change; id: string }) {
  return (
    <tr className="border-b border-faint align-baseline">
      <td className="py-1 pr-3">
        <Link className="quiet" to={`/d/${id}/${c.room}`}>
          {c.room}
        </Link>
      </td>
      <td className="py-1 pr-3 font-semibold">{c.of}</td>
      <td className="py-1 pr-3">{c.what}</td>
      <td className="py-1 pr-3 font-figures">{c.now}</td>
      <td className="whitespace-nowrap py-1 text-second">{c.was ? `was ${c.was}` : ""}</td>
    </tr>
  );
}

/** Every edit that is kept, the newest first; up to which one all are taken back. */
function AllEdits() {
  const { data } = useVersions();
  const { undo } = useActs();
  const say = useSay();
  const rows = data?.versions ?? [];
  const live = liveOf(rows);
  const back = async (count: number) => {
    for (let n = 0; n < count; n += 1) {
      const problem = await undo();
      if (problem) return say(problem.detail);
    }
    say(`${count} ${count === 1 ? "edit" : "edits"} taken back. Redo brings them again.`);
  };
  return (
    <table className="mt-3 w-full text-plain">
      <tbody>
        {rows.map((v) => {
          const nth = live.indexOf(v.version);
          return (
            <tr key={v.version} className="border-b border-faint align-baseline">
              <td className="py-1 pr-3 text-right font-figures">{v.version}</td>
              <td className="py-1 pr-3 text-second">{when(v.at)}</td>
              <td className="py-1 pr-3">
                {v.act === "edit" ? v.label : `${v.act === "undo" ? "taken back" : "brought again"}: ${v.label}`}
              </td>
              <td className="py-1 text-right">
                {nth >= 0 && (
                  <button className="quiet" onClick={() => void back(nth + 1)}>
                    {nth === 0 ? "take back" : `take back ${nth + 1}`}
                  </button>
                )}
              </td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}
