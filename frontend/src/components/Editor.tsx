import { Command } from "cmdk";
import { Popover } from "radix-ui";
import { useEffect, useRef, useState, type KeyboardEvent } from "react";

interface Choice {
  value: string;
  label: string;
}

interface EditorProps {
  label: string;
  start: string;
  from: string;
  choices?: Choice[];
  onDone: (typed: string, then: [number, number] | null) => void;
  /** With every letter, so that nothing is lost where the cell goes away under it. */
  onTyping: (typed: string) => void;
  onCancel: () => void;
}

const BOX = "h-full w-full bg-sheet px-1.5 font-figures text-plain text-ink outline-2 -outline-offset-2 outline-madder";

/** The input of one cell; with choices, the ones that match what is typed lie below it. */
export function Editor({ choices, ...edit }: EditorProps) {
  return (
    <span className="absolute inset-0 z-10">
      {choices ? <ChoiceInput {...edit} choices={choices} /> : <TextInput {...edit} />}
    </span>
  );
}

/** What a key that ends an edit does: where to go on, or null for every other key. */
function moveOn(e: KeyboardEvent): [number, number] | null {
  if (e.key === "Enter") return [1, 0];
  if (e.key === "Tab") return [0, e.shiftKey ? -1 : 1];
  return null;
}

/** An edit ends once, by whichever comes first of a key, a choice and leaving. */
function useOnce(onCancel: () => void) {
  const over = useRef(false);
  const once = (end: () => void) => {
    if (over.current) return;
    over.current = true;
    end();
  };
  const onKeyDown = (finish: (then: [number, number] | null) => void) => (e: KeyboardEvent) => {
    const then = moveOn(e);
    if (!then && e.key !== "Escape") return;
    e.preventDefault();
    e.stopPropagation();
    if (then) finish(then);
    else once(onCancel);
  };
  return { once, onKeyDown };
}

function TextInput({ label, start, from, onDone, onTyping, onCancel }: Omit<EditorProps, "choices">) {
  const [typed, setTyped] = useState(start);
  const { once, onKeyDown } = useOnce(onCancel);
  const finish = (then: [number, number] | null) => once(() => onDone(typed, then));
  const input = useRef<HTMLInputElement>(null);
  useEffect(() => {
    input.current?.focus();
    if (start === from) input.current?.select();
    // Only at the start of the edit.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, []);
  return (
    <input
      ref={input}
      aria-label={label}
      value={typed}
      onChange={(e) => {
        setTyped(e.target.value);
        onTyping(e.target.value);
      }}
      onBlur={() => finish(null)}
      onKeyDown={onKeyDown(finish)}
      className={BOX}
    />
  );
}

function ChoiceInput({ label, start, from, choices, onDone, onTyping, onCancel }: EditorProps & { choices: Choice[] }) {
  const [typed, setTyped] = useState(start === from ? "" : start);
  const [at, setAt] = useState("0");
  const { once, onKeyDown } = useOnce(onCancel);
  const lowered = typed.toLowerCase();
  const matching = choices.filter(
    (c) => c.label.toLowerCase().includes(lowered) || c.value.toLowerCase().includes(lowered),
  );
  const finish = (then: [number, number] | null) =>
    once(() => {
      if (typed === "" && at === "0") onCancel();
      else onDone((matching[Number(at)] ?? matching[0])?.value ?? typed, then);
    });
  return (
    <Popover.Root open>
      <Command
        label={label}
        shouldFilter={false}
        vimBindings={false}
        disablePointerSelection
        value={at}
        onValueChange={setAt}
        onKeyDown={(e) => {
          // Arrows are the list's; the grid's cursor stays.
          if (e.key === "ArrowDown" || e.key === "ArrowUp") e.stopPropagation();
        }}
        className="h-full"
      >
        <Popover.Anchor asChild>
          <Command.Input
            autoFocus
            aria-label={label}
            value={typed}
            placeholder={from}
            onValueChange={(text) => {
              setTyped(text);
              onTyping(text);
              setAt("0");
            }}
            onBlur={() => finish(null)}
            onKeyDown={onKeyDown(finish)}
            className={BOX}
          />
        </Popover.Anchor>
        <Popover.Portal>
          <Popover.Content
            align="start"
            collisionPadding={8}
            onOpenAutoFocus={(e) => e.preventDefault()}
            onCloseAutoFocus={(e) => e.preventDefault()}
            role="presentation"
            onMouseDown={(e) => e.preventDefault()}
            className="z-30 min-w-(--radix-popover-trigger-width) border border-ink bg-sheet text-left text-ink"
          >
            <Command.List label={label} className="max-h-56 overflow-auto py-1">
              <Command.Empty className="px-2 text-madder">none of these</Command.Empty>
              {matching.map((c, n) => (
                <Command.Item
                  key={c.value}
                  value={String(n)}
                  onSelect={() => once(() => onDone(c.value, null))}
                  className="cursor-pointer whitespace-nowrap px-2 py-0.5 data-[selected=true]:bg-wash data-[selected=true]:font-semibold"
                >
                  {c.label}
                </Command.Item>
              ))}
            </Command.List>
          </Popover.Content>
        </Popover.Portal>
      </Command>
    </Popover.Root>
  );
}
