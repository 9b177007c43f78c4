import { useCallback, useEffect, useMemo, useState } from "react";
import { Link, Navigate, Route, Routes, useLocation, useNavigate, useParams } from "react-router";
import { lost } from "./api/client";
import {
  ActsContext,
  DesignContext,
  useDesignQuery,
  useEdits,
  useOthersEdits,
  WhyContext,
  type Acts,
  type Why,
} from "./api/design";
import { useSay } from "./components/Notice";
import { ROOMS, Thread } from "./components/Thread";
import { Findings } from "./findings/Findings";
import { BriefRoom } from "./rooms/brief/BriefRoom";
import { BuildRoom } from "./rooms/build/BuildRoom";
import { CardsPage } from "./rooms/build/CardsPage";
import { CircuitsRoom } from "./rooms/circuits/CircuitsRoom";
import { CutRoom } from "./rooms/cut/CutRoom";
import { DressRoom } from "./rooms/dress/DressRoom";
import { EndsRoom } from "./rooms/ends/EndsRoom";
import { PartsRoom } from "./rooms/parts/PartsRoom";
import { ProveRoom } from "./rooms/prove/ProveRoom";
import { RouteRoom } from "./rooms/route/RouteRoom";
import { WireRoom } from "./rooms/wire/WireRoom";

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

  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const target = event.target as HTMLElement;
      const typing = target instanceof HTMLInputElement || target instanceof HTMLTextAreaElement;
      const key = event.key.toLowerCase();
      if ((event.ctrlKey || event.metaKey) && (key === "z" || key === "y")) {
        if (typing && (target as HTMLInputElement).value !== (target as HTMLInputElement).defaultValue) return;
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
  }, [id, navigate, takeBack]);

  const acts = useMemo<Acts>(
    () => ({
      ...edits,
      doIt: async (operations, label) => {
        const again = async (): Promise<void> => {
          const problem = await edits.edit(operations, label);
          if (problem)
            say(problem.detail, lost(problem) ? { label: "Do it all the same", run: () => void again() } : undefined);
        };
        await again();
      },
      actNow: async (act, about) => {
        const problem = await edits.act(act, "", about);
        if (problem) say(problem.detail);
      },
    }),
    [edits, say],
  );
  const asking = useMemo<Why>(
    () => ({
      why,
      askWhy: (kind, figure) => setAsked({ room: here, why: { kind, id: figure } }),
      closeWhy: () => setAsked(null),
    }),
    [here, why],
  );
  const open = useMemo(() => (data ? { id, design: data } : null), [data, id]);

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
          {atBench ? (
            <CardsPage />
          ) : (
            <div className="flex min-h-screen">
              <Thread />
              <main className="min-w-0 flex-1">
                {(unheard ?? error) && (
                  <p role="alert" className="sticky top-0 z-30 border-b border-madder bg-sheet px-7 py-1.5 text-madder">
                    {(unheard ?? error)?.message}
                  </p>
                )}
                <Routes>
                  <Route path="brief/:leaf?" element={<BriefRoom />} />
                  <Route path="circuits/:leaf?" element={<CircuitsRoom />} />
                  <Route path="route/:leaf?" element={<RouteRoom />} />
                  <Route path="wire/:leaf?" element={<WireRoom />} />
                  <Route path="ends" element={<EndsRoom />} />
                  <Route path="ends/:connector/:leaf?" element={<EndsRoom />} />
                  <Route path="cut/:leaf?" element={<CutRoom />} />
                  <Route path="parts/:leaf?" element={<PartsRoom />} />
                  <Route path="findings" element={<Findings />} />
                  <Route path="dress/:leaf?" element={<DressRoom />} />
                  <Route path="build/:leaf?" element={<BuildRoom />} />
                  <Route path="prove/:leaf?" element={<ProveRoom />} />
                  <Route path="*" element={<Navigate to={`/d/${id}/brief`} replace />} />
                </Routes>
              </main>
            </div>
          )}
        </WhyContext>
      </ActsContext>
    </DesignContext>
  );
}
