import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useMemo } from "react";
import { answered, client, refusal, type Problem, type Schemas } from "./client";
import { of, useDesign } from "./design";

export type Prints = Schemas["PrintReply"];

/** The label printer and the jobs of a harness; asked again while one waits. */
export function usePrints() {
  const { id } = useDesign();
  return useQuery({
    queryKey: ["prints", id],
    queryFn: () => answered(client.GET("/api/designs/{design_id}/prints", of(id))),
    refetchInterval: (query) => (query.state.data?.jobs.some((j) => j.state === "waiting") ? 700 : false),
  });
}

/** What is done about printing; what was refused comes back. */
export function usePrinting() {
  const { id } = useDesign();
  const cache = useQueryClient();
  return useMemo(() => {
    const done = async (sent: Promise<{ data?: Prints; error?: unknown }>): Promise<Problem | null> => {
      try {
        cache.setQueryData(["prints", id], await answered(sent));
        return null;
      } catch (error) {
        return refusal(error).problem;
      }
    };
    const at = of(id).params.path;
    return {
      print: () => done(client.POST("/api/designs/{design_id}/prints", { params: { path: at }, body: {} })),
      again: (job: number) =>
        done(client.POST("/api/designs/{design_id}/prints/again", { params: { path: at, query: { job } } })),
      remove: (job: number) =>
        done(client.DELETE("/api/designs/{design_id}/prints", { params: { path: at, query: { job } } })),
      load: (sleeve: string) =>
        done(
          client.POST("/api/designs/{design_id}/prints/cassette", {
            params: { path: at },
            body: { sleeve, cleared: true },
          }),
        ),
    };
  }, [cache, id]);
}
