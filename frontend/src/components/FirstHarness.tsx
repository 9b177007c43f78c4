import { useCallback, useState } from "react";
import { Link } from "react-router";
import { useActs, useDesign } from "../api/design";
import { FIRST_STEPS, stepOf } from "./first";

const KEPT = "inkthread-first-harness";

interface Guided {
  /** The harness that is built with the guide beside; empty when it was left or is over. */
  harness: string;
  looked: string[];
}

const LEFT: Guided = { harness: "", looked: [] };

function recalled(): Guided | null {
  try {
    return JSON.parse(window.localStorage.getItem(KEPT) ?? "null") as Guided | null;
  } catch {
    return null;
  }
}

function keep(guided: Guided) {
  window.localStorage.setItem(KEPT, JSON.stringify(guided));
}

/** Whether the first harness may still be offered: it never comes back unasked. */
export function mayBeOffered(): boolean {
  return recalled() === null;
}

export function beginFirst(harness: string) {
  keep({ harness, looked: [] });
}

export function leaveFirst() {
  keep(LEFT);
}

/** The guide through a first harness, over the rooms themselves; it can be left at any time. */
export function FirstHarness({ room }: { room: string }) {
  const { id, design } = useDesign();
  const { act } = useActs();
  const [guided, setGuided] = useState(recalled);
  const put = useCallback((now: Guided) => {
    keep(now);
    setGuided(now);
  }, []);
  if (guided?.harness !== id) return null;
  const at = stepOf(design, guided.looked);
  const step = at === null ? undefined : FIRST_STEPS[at];
  if (at === null || !step) return <Finished onClose={() => put(LEFT)} />;
  const here = step.room === room;
  const { line } = step;
  return (
    <section aria-label="First harness" className="border-b border-ink bg-linen px-7 py-3 max-[599px]:px-3">
      <div className="flex flex-wrap items-baseline justify-between gap-x-5">
        <h2 className="text-lead">
          <span className="font-figures text-plain text-second">
            {at + 1} of {FIRST_STEPS.length}
          </span>{" "}
          {step.title}
        </h2>
        <button className="quiet text-plain" onClick={() => put(LEFT)}>
          leave the guide
        </button>
      </div>
      <p className="max-w-[86ch]">
        {step.text}{" "}
        {line && <code className="whitespace-nowrap bg-sheet px-1.5 font-figures text-plain">{line.text}</code>}
      </p>
      <p className="mt-1.5 flex flex-wrap gap-4">
        {!here && (
          <Link className="press" to={`/d/${id}/${step.room}`}>
            Go to {step.room.charAt(0).toUpperCase() + step.room.slice(1)}
          </Link>
        )}
        {here && line && (
          <button className="quiet" onClick={() => void act(line.act, line.text)}>
            put it in for me
          </button>
        )}
        {here && !line && (
          <button className="press" onClick={() => put({ ...guided, looked: [...guided.looked, room] })}>
            Seen; go on
          </button>
        )}
      </p>
    </section>
  );
}

function Finished({ onClose }: { onClose: () => void }) {
  return (
    <section aria-label="First harness" className="border-b border-ink bg-linen px-7 py-3 max-[599px]:px-3">
      <p className="max-w-[86ch]">
        That is a harness. Change the lamp to 8 A in Circuits and watch what follows; press ? anywhere for the keys and
        the words.{" "}
        <button className="press ml-2" onClick={onClose}>
          Done
        </button>
      </p>
    </section>
  );
}
