import { Dialog } from "radix-ui";
import { useState } from "react";
import type { Differs, Happened, Step } from "../../api/work";

const DIFFERS: [Differs, string][] = [
  ["", "nothing in figures"],
  ["length", "its length is"],
  ["colour", "its colour is"],
  ["way", "its way is"],
  ["part", "its part is"],
  ["lay", "it lies"],
];

const KINDS: [Happened, string, string][] = [
  ["spoiled", "Spoiled", "It goes off the stock, and its end is made again."],
  ["trimmed", "Trimmed", "How much, and which end."],
  ["setting", "The setting worked", "Kept with contact, wire and tool for the next time."],
  ["taken out", "Taken out of its cavity", "It goes in again once, looked at; or it is spoiled."],
  ["looked at", "Looked at: sound", "Tang and wings of a contact that was taken out."],
  ["as built", "Made otherwise", "Another colour, another cavity: what it is now."],
  ["note", "Note", "Whatever is worth knowing."],
];

interface Props {
  step: Step;
  onClose: () => void;
  onNote: (kind: Happened, note: string, differs: Differs, now: string) => Promise<string | null>;
  onPhoto: (note: string, file: File) => Promise<string | null>;
}

/** What happened at a step: chosen by a thumb, or by its first figure. */
export function NoteSheet({ step, onClose, onNote, onPhoto }: Props) {
  const [note, setNote] = useState("");
  const [refused, setRefused] = useState("");
  const [differs, setDiffers] = useState<Differs>("");
  const [now, setNow] = useState("");
  const put = async (kind: Happened) => setRefused((await onNote(kind, note, differs, now)) ?? "");
  return (
    <Dialog.Root open modal={false} onOpenChange={(open) => !open && onClose()}>
      <Dialog.Portal>
        <div className="fixed inset-0 z-40 bg-black/60" onClick={onClose} aria-hidden="true" />
        <Dialog.Content
          aria-describedby={undefined}
          className="at-bench fixed inset-x-0 bottom-0 z-50 border-t border-rule bg-sheet px-6 pb-6 pt-4 text-ink min-[900px]:inset-x-[12%]"
        >
          <Dialog.Title className="text-head">What happened?</Dialog.Title>
          <p className="mt-1 text-lead text-second">{step.words}</p>
          <label className="mt-3 block text-lead">
            In words
            <input
              className="inkbox mt-1 w-full text-lead"
              value={note}
              maxLength={600}
              onChange={(e) => setNote(e.target.value)}
            />
          </label>
          <p className="mt-2 flex flex-wrap items-baseline gap-3 text-lead">
            <label>
              Otherwise now:{" "}
              <select className="inkbox" value={differs} onChange={(e) => setDiffers(e.target.value as Differs)}>
                {DIFFERS.map(([kind, words]) => (
                  <option key={kind} value={kind}>
                    {words}
                  </option>
                ))}
              </select>
            </label>
            {differs && (
              <input
                className="inkbox w-[170px] font-figures"
                aria-label="What it is now"
                value={now}
                maxLength={80}
                placeholder={differs === "length" ? "812 mm" : differs === "colour" ? "GN/YE" : ""}
                onChange={(e) => setNow(e.target.value)}
              />
            )}
          </p>
          {refused && (
            <p role="alert" className="mt-2 text-lead text-madder">
              {refused}
            </p>
          )}
          <ul className="mt-3 grid gap-2 min-[700px]:grid-cols-2">
            {KINDS.map(([kind, name, hint]) => (
              <li key={kind}>
                <button
                  className="min-h-[56px] w-full border border-rule bg-wash px-4 py-2 text-left"
                  onClick={() => void put(kind)}
                >
                  <strong className="block text-lead">{name}</strong>
                  <span className="text-second">{hint}</span>
                </button>
              </li>
            ))}
            <li>
              <label className="block min-h-[56px] w-full cursor-pointer border border-rule bg-wash px-4 py-2 focus-within:outline-2">
                <strong className="block text-lead">Photograph</strong>
                <span className="text-second">Kept with the step, without its place.</span>
                <input
                  type="file"
                  accept="image/jpeg,image/png"
                  capture="environment"
                  className="sr-only"
                  onChange={(e) => {
                    const file = e.target.files?.[0];
                    if (file) void onPhoto(note, file).then((problem) => setRefused(problem ?? ""));
                    e.target.value = "";
                  }}
                />
              </label>
            </li>
            <li>
              <button
                className="min-h-[56px] w-full border border-rule px-4 py-2 text-left text-lead"
                onClick={onClose}
              >
                Nothing: back to the card
              </button>
            </li>
          </ul>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
