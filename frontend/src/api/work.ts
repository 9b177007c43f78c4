import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useMemo } from "react";
import { answered, client, inTurn, refusal, type Problem, type Schemas } from "./client";
import { of, useDesign, useStudy } from "./design";

export type Work = Schemas["WorkReply"];
export type Step = Work["steps"][number];
export type Card = Work["cards"][number];
export type WorkState = Schemas["WorkState"];
export type Happened = Schemas["HappenedBody"]["kind"];
export type Differs = Schemas["HappenedBody"]["differs"];

const ASKED_EACH_MS = 1000;
const BENCH_KEY = "inkthread-bench";

/** This window as a bench: the same after a reload, another in another window. */
export function bench(): string {
  const known = window.sessionStorage.getItem(BENCH_KEY);
  if (known) return known;
  const made = crypto.randomUUID();
  window.sessionStorage.setItem(BENCH_KEY, made);
  return made;
}

/** Every step in order, on cards. */
export function useWork() {
  return useStudy("work", "", (id) => client.GET("/api/designs/{design_id}/work", of(id)));
}

const stateKey = (id: string, number: number) => ["work-state", id, number];

/** How far one harness of the quantity is; asked again each second, for the other benches. */
export function useWorkState(number: number, at: "bench" | "desk") {
  const { id } = useDesign();
  return useQuery({
    queryKey: stateKey(id, number),
    refetchInterval: ASKED_EACH_MS,
    retry: false,
    queryFn: () =>
      answered(
        client.GET("/api/designs/{design_id}/work/state", {
          params: { path: { design_id: id }, query: { number, bench: at === "bench" ? bench() : "" } },
        }),
      ),
  });
}

const writes = inTurn();

/** Ticks, cards and notes; what is ticked shows at once, and is put right where it was refused. */
export function useWorkActs(number: number, who: string) {
  const { id } = useDesign();
  const cache = useQueryClient();
  return useMemo(() => {
    const key = stateKey(id, number);
    const from = { number, who, bench: bench() };
    const sent = async (asking: () => Promise<{ data?: WorkState; error?: unknown }>): Promise<WorkState | Problem> => {
      try {
        const state = await answered(writes.ask(asking));
        await cache.cancelQueries({ queryKey: key });
        // What is still on its way shows already: an answer from before it would take it off the screen.
        if (!writes.waiting()) cache.setQueryData(key, state);
        void cache.invalidateQueries({ queryKey: ["cut-plan", id] });
        return state;
      } catch (error) {
        void cache.invalidateQueries({ queryKey: key });
        return refusal(error).problem;
      }
    };
    return {
      tick: async (steps: string[], done: boolean) => {
        await cache.cancelQueries({ queryKey: key });
        cache.setQueryData<WorkState>(key, (state) =>
          state
            ? {
                ...state,
                done: done
                  ? [...state.done, ...steps.map((step) => ({ step, who, bench: from.bench }))]
                  : state.done.filter((d) => !steps.includes(d.step)),
              }
            : state,
        );
        return sent(() =>
          client.POST("/api/designs/{design_id}/work/steps", { ...of(id), body: { ...from, steps, done } }),
        );
      },
      take: (card: string) =>
        sent(() => client.POST("/api/designs/{design_id}/work/take", { ...of(id), body: { ...from, card } })),
      /** Lays the card back as the window goes; the reply is nobody's any more. */
      layBack: () => {
        void fetch(`/api/designs/${encodeURIComponent(id)}/work/take`, {
          method: "POST",
          keepalive: true,
          headers: { "Content-Type": "application/json" },
          body: JSON.stringify({ ...from, card: "" }),
        }).catch(() => undefined);
      },
      happened: (step: string, kind: Happened, note: string, differs: Differs = "", now = "") =>
        sent(() =>
          client.POST("/api/designs/{design_id}/work/happened", {
            ...of(id),
            body: { ...from, step, kind, note, differs, now },
          }),
        ),
      /** A photograph is sent as it is; only its picture is kept. */
      photo: async (step: string, note: string, file: File): Promise<WorkState | Problem> => {
        const query = new URLSearchParams({ number: String(number), step, who, note });
        return sent(() =>
          fetch(`/api/designs/${encodeURIComponent(id)}/work/photos?${query.toString()}`, {
            method: "POST",
            headers: { "Content-Type": file.type },
            body: file,
          }).then(async (reply) => {
            const read: unknown = await reply.json();
            return reply.ok ? { data: read as WorkState } : { error: read };
          }),
        );
      },
      strike: (happening: number) =>
        sent(() =>
          client.DELETE("/api/designs/{design_id}/work/happened", {
            params: { path: { design_id: id }, query: { number, id: happening } },
          }),
        ),
    };
  }, [cache, id, number, who]);
}

/** Whether it came back as a state, and not refused. */
export function wentWell(reply: WorkState | Problem): reply is WorkState {
  return "done" in reply;
}

/** What helps at a step: right and wrong, questions where it jams, taking apart, the shop's photographs. */
export function useHelp(step: string) {
  return useStudy("work-help", step, (id) =>
    client.GET("/api/designs/{design_id}/work/help", { params: { path: { design_id: id }, query: { step } } }),
  );
}
