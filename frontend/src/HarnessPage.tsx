import { memo, useCallback, useDeferredValue, useEffect, useMemo, useRef, useState, type MouseEvent } from "react";
import { Link, Navigate, Route, Routes, useLocation, useNavigate, useParams } from "react-router";
import { changesInWords } from "./api/changes";
import { lost } from "./api/client";
import {
  ActsContext,
  DesignContext,
  useBefore,
  useDesignQuery,
  useDesign,
  useEdits,
  useOthersEdits,
  WhyContext,
  type Acts,
  type Why,
} from "./api/design";
import { FirstHarness } from "./components/FirstHarness";
import { JumpList } from "./components/JumpList";
import { bringAll, later, Laters } from "./components/Later";
import { useSay } from "./components/Notice";
import { ROOMS } from "./components/rooms";
import { Thread } from "./components/Thread";
import { Findings } from "./findings/Findings";

const VIEWS = {
  brief: later(() => import("./rooms/brief/BriefRoom"), "BriefRoom"),
  circuits: later(() => import("./rooms/circuits/CircuitsRoom"), "CircuitsRoom"),
  route: later(() => import("./rooms/route/RouteRoom"), "RouteRoom"),
  wire: later(() => import("./rooms/wire/WireRoom"), "WireRoom"),
  ends: later(() => import("./rooms/ends/EndsRoom"), "EndsRoom"),
  cut: later(() => import("./rooms/cut/CutRoom"), "CutRoom"),
  dress: later(() => import("./rooms/dress/DressRoom"), "DressRoom"),
  parts: later(() => import("./rooms/parts/PartsRoom"), "PartsRoom"),
  build: later(() => import("./rooms/build/BuildRoom"), "BuildRoom"),
  prove: later(() => import("./rooms/prove/ProveRoom"), "ProveRoom"),
  cards: later(() => import("./rooms/build/CardsPage"), "CardsPage"),
};

// The room that is asked for is on its way before the harness is.
const [, , , first = "", leafOfFirst = ""] = window.location.pathname.split("/");
void VIEWS[(leafOfFirst === "cards" ? "cards" : first) as keyof typeof VIEWS]?.bring();

/** Past the thread to what a room is about: its field for typed lines, else its list, else its first control. */
function toWork(event: MouseEvent) {
  event.preventDefault();
  const work = document.getElementById("work");
  const first = ["input[data-line]", "textarea", "[role=grid]", "input, select, button"]
    .map((wanted) => work?.querySelector<HTMLElement>(wanted))
    .find(Boolean);
  (first ?? work)?.focus();
}

/** What an edit changed, for who does not see it. */
function EditSaid() {
  // After what is seen: who hears it waits for nothing.
  const { design, before } = useDeferredValue(useDesign());
  const said = useMemo(() => (before ? changesInWords(before, design) : ""), [before, design]);
  return (
    <p role="status" aria-label="What the last edit changed" className="sr-only">
      {said}
    </p>
  );
}

/** Whether what stands in a field is half typed: neither put in nor as it was when it was entered. */
function useHalfTyped() {
  const typed = useRef(new WeakSet<EventTarget>());
  useEffect(() => {
    const begun = (event: Event) => event.target && typed.current.add(event.target);
    const ended = (event: Event) => {
      if (event instanceof KeyboardEvent && event.key !== "Enter" && event.key !== "Escape") return;
      if (event.target) typed.current.delete(event.target);
    };
    document.addEventListener("input", begun);
    for (const type of ["focusin", "change", "keydown"]) document.addEventListener(type, ended);
    return () => {
      document.removeEventListener("input", begun);
      for (const type of ["focusin", "change", "keydown"]) document.removeEventListener(type, ended);
    };
  }, []);
  return useCallback((target: EventTarget) => typed.current.has(target), []);
}

/** One harness: the thread beside, a room open. */
export function HarnessPage() {
  const { id = "" } = useParams();
  const { data, error, isPending } = useDesignQuery(id);
  const edits = useEdits(id);
  const unheard = useOthersEdits(id);
  const [asked, setAsked] = useState<{ room: string; why: NonNullable<Why["why"]> } | null>(null);
  const say = useSay();
  const navigate = useNavigate();
  const [, , , here = "brief", leaf] = useLocation().pathname.split("/");
  const atBench = here === "build" && leaf === "cards";

  // What was asked in one room is put away on leaving it.
  const why = asked?.room === here ? asked.why : null;

  const takeBack = useCallback(
    async (way: "undo" | "redo") => {
      const problem = await edits[way]();
      if (problem)
        say(
          problem.status !== 409
            ? problem.detail
            : way === "undo"
              ? "Nothing left to take back."
              : "Nothing to bring back.",
        );
    },
    [edits, say],
  );

  const half = useHalfTyped();
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const target = event.target as HTMLElement;
      const typing = target instanceof HTMLInputElement || target instanceof HTMLTextAreaElement;
      const key = event.key.toLowerCase();
      if ((event.ctrlKey || event.metaKey) && (key === "z" || key === "y")) {
        // In a text that is being typed it undoes text only.
        if (typing && half(target)) return;
        event.preventDefault();
        void takeBack(key === "y" || event.shiftKey ? "redo" : "undo");
      } else if (event.altKey && (event.key === "ArrowDown" || event.key === "ArrowUp")) {
        event.preventDefault();
        // Read afresh: two quick presses go two rooms on.
        const now = window.location.pathname.split("/")[3];
        const at = ROOMS.findIndex(([room]) => room === now);
        const next = ROOMS[(at + (event.key === "ArrowDown" ? 1 : -1) + ROOMS.length) % ROOMS.length];
        if (next) void navigate(`/d/${id}/${next[0]}`);
      } else if (event.key === "Escape" && !typing) setAsked(null);
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, [half, id, navigate, takeBack]);

  /** What was taken out or done at one stroke, with the way back while no later edit stands before it. */
  const sayDone = useCallback(
    (label: string) => {
      const called = edits.last();
      say(label.replace(/^take out (.+)$/, "$1 is taken out").replace(/^\w/, (c) => c.toUpperCase()) + ".", {
        label: "Undo",
        run: () => {
          if (edits.last() === called) void takeBack("undo");
          else say("There are later edits by now: see all edits, beside the tag.");
        },
      });
    },
    [edits, say, takeBack],
  );

  const acts = useMemo<Acts>(
    () => ({
      ...edits,
      doIt: async (operations, label) => {
        const again = async (): Promise<void> => {
          const problem = await edits.edit(operations, label);
          if (problem)
            say(problem.detail, lost(problem) ? { label: "Do it all the same", run: () => void again() } : undefined);
          else if (operations.some((o) => o.op === "remove")) sayDone(label);
        };
        await again();
      },
      actNow: async (act, about) => {
        const problem = await edits.act(act, "", about);
        if (problem) say(problem.detail);
        else sayDone(edits.last() ?? act.replaceAll("_", " "));
      },
    }),
    [edits, say, sayDone],
  );
  const asking = useMemo<Why>(
    () => ({
      why,
      askWhy: (kind, figure) => setAsked({ room: here, why: { kind, id: figure } }),
      closeWhy: () => setAsked(null),
    }),
    [here, why],
  );
  const before = useBefore(id, data?.version);
  const open = useMemo(() => (data ? { id, design: data, before } : null), [before, data, id]);

  const seen = data !== undefined;
  useEffect(() => {
    if (seen) bringAll(Object.values(VIEWS));
  }, [seen]);
  useEffect(() => {
    document.title = data ? `${data.document.brief.name} - Ink Thread` : "Ink Thread";
  }, [data]);

  if (isPending) return <p className="p-10 text-second">Taking it off the shelf ...</p>;
  // What stands on the screen stays there when the program does not answer for a while.
  if (!open) {
    return (
      <p className="p-10">
        {error?.message ?? "There is no such harness."}{" "}
        <Link className="quiet" to="/">
          Back to the shelf
        </Link>
      </p>
    );
  }
  return (
    <DesignContext value={open}>
      <ActsContext value={acts}>
        <WhyContext value={asking}>
          <Opened here={here} atBench={atBench} failure={(unheard ?? error)?.message ?? null} />
        </WhyContext>
      </ActsContext>
    </DesignContext>
  );
}

interface OpenedProps {
  here: string;
  atBench: boolean;
  failure: string | null;
}

/** The thread and the room that is open. What they show of the harness they read themselves. */
const Opened = memo(function Opened({ here, atBench, failure }: OpenedProps) {
  const { id = "" } = useParams();
  if (atBench)
    return (
      <Laters>
        <VIEWS.cards.View />
      </Laters>
    );
  return (
    <div className="flex min-h-screen max-[899px]:flex-col">
      <a href="#work" className="skip" onClick={toWork}>
        To the work of this room
      </a>
      <Thread />
      <main id="work" tabIndex={-1} className="min-w-0 flex-1 outline-none">
        <EditSaid />
        <FirstHarness room={here} />
        <JumpList />
        {failure && (
          <p role="alert" className="sticky top-0 z-30 border-b border-madder bg-sheet px-7 py-1.5 text-madder">
            {failure}
          </p>
        )}
        <Laters>
          <Routes>
            <Route path="brief/:leaf?" element={<VIEWS.brief.View />} />
            <Route path="circuits/:leaf?" element={<VIEWS.circuits.View />} />
            <Route path="route/:leaf?" element={<VIEWS.route.View />} />
            <Route path="wire/:leaf?" element={<VIEWS.wire.View />} />
            <Route path="ends" element={<VIEWS.ends.View />} />
            <Route path="ends/:connector/:leaf?" element={<VIEWS.ends.View />} />
            <Route path="cut/:leaf?" element={<VIEWS.cut.View />} />
            <Route path="parts/:leaf?" element={<VIEWS.parts.View />} />
            <Route path="findings" element={<Findings />} />
            <Route path="dress/:leaf?" element={<VIEWS.dress.View />} />
            <Route path="build/:leaf?" element={<VIEWS.build.View />} />
            <Route path="prove/:leaf?" element={<VIEWS.prove.View />} />
            <Route path="*" element={<Navigate to={`/d/${id}/brief`} replace />} />
          </Routes>
        </Laters>
      </main>
    </div>
  );
});
