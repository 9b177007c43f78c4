import { Command } from "cmdk";
import { Dialog } from "radix-ui";
import { useCallback, useMemo, useState } from "react";
import { useNavigate } from "react-router";
import { useActs, useDesign } from "../api/design";
import { switchTheme } from "../theme";
import { Over, useKey } from "./Over";
import { jumpsOf, rank, type Jump } from "./jumps";

/** More than are seen at once; who seeks further types another letter. */
const SHOWN = 16;
const ITEM = "flex cursor-default items-baseline justify-between gap-6 px-4 py-1.5 data-[selected=true]:bg-wash";

/** Ctrl+K: any device, wire, connector, room or act by its name, with what it is for. */
export function JumpList() {
  const [open, setOpen] = useState(false);
  useKey(
    useCallback((event: KeyboardEvent) => {
      if (!(event.ctrlKey || event.metaKey) || event.key.toLowerCase() !== "k") return;
      event.preventDefault();
      setOpen((now) => !now);
    }, []),
  );
  return (
    <Over open={open} onOpen={setOpen} className="top-[12vh] w-[min(640px,calc(100vw-24px))]">
      <Dialog.Title className="sr-only">Go to</Dialog.Title>
      <Places onDone={() => setOpen(false)} />
    </Over>
  );
}

function Places({ onDone }: { onDone: () => void }) {
  const { design } = useDesign();
  const { undo, redo } = useActs();
  const navigate = useNavigate();
  const [typed, setTyped] = useState("");
  const jumps = useMemo(() => jumpsOf(design), [design]);
  const acts = useMemo(
    () => [
      ...(design.undo_label ? [{ name: "Undo", what: design.undo_label, run: () => void undo() }] : []),
      ...(design.redo_label ? [{ name: "Redo", what: design.redo_label, run: () => void redo() }] : []),
      { name: "Theme: light or dark", what: "also for the garage", run: switchTheme },
    ],
    [design.redo_label, design.undo_label, redo, undo],
  );
  const shown = useMemo(() => best(jumps, typed), [jumps, typed]);
  const sought = typed.trim().toLowerCase();
  const done = acts.filter((a) => `${a.name} ${a.what}`.toLowerCase().includes(sought));
  return (
    <Command shouldFilter={false} label="Go to">
      <Command.Input
        className="w-full border-b border-rule bg-sheet px-4 py-3 text-lead outline-none"
        placeholder="a device, wire, connector, room or act"
        value={typed}
        onValueChange={setTyped}
      />
      <Command.List className="max-h-[56vh] overflow-auto py-2">
        {shown.length + done.length === 0 && <p className="px-4 py-2 text-second">Nothing of that name.</p>}
        {[...new Set(shown.map((j) => j.group))].map((group) => (
          <Command.Group
            key={group}
            heading={group}
            className="[&_[cmdk-group-heading]]:px-4 [&_[cmdk-group-heading]]:pt-2 [&_[cmdk-group-heading]]:text-fine [&_[cmdk-group-heading]]:text-second"
          >
            {shown
              .filter((j) => j.group === group)
              .map((j) => (
                <Command.Item
                  key={j.to + j.name}
                  value={j.to + j.name}
                  className={ITEM}
                  onSelect={() => {
                    onDone();
                    void navigate(j.to);
                  }}
                >
                  <span className="font-semibold">{j.name}</span>
                  <span className="truncate text-plain text-second">{j.what}</span>
                </Command.Item>
              ))}
          </Command.Group>
        ))}
        {done.map((a) => (
          <Command.Item
            key={a.name}
            value={a.name}
            className={ITEM}
            onSelect={() => {
              onDone();
              a.run();
            }}
          >
            <span className="font-semibold">{a.name}</span>
            <span className="truncate text-plain text-second">{a.what}</span>
          </Command.Item>
        ))}
      </Command.List>
    </Command>
  );
}

/** The places that answer best, each kind together, the kind of the best one first. */
function best(jumps: Jump[], typed: string): Jump[] {
  return jumps
    .map((jump) => ({ jump, rank: rank(jump, typed) }))
    .filter((one) => one.rank > 0)
    .sort((a, b) => b.rank - a.rank)
    .slice(0, SHOWN)
    .map((one) => one.jump);
}
