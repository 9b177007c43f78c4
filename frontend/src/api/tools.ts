import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useMemo } from "react";
import { answered, client, refusal, type Problem, type Schemas } from "./client";
import { of, useDesign, useStudy } from "./design";

export type ToolLog = Schemas["ToolLogReply"];
export type Setup = ToolLog["setups"][number];

/** The tools of the harness with their gauges, pulled samples, and whose hands these speak for. */
export function useToolLog() {
  return useStudy("tool-log", "", (id) => client.GET("/api/designs/{design_id}/tools/log", of(id)));
}

/** What is noted of tools and samples; what was refused, or null. */
export function useToolActs() {
  const { id } = useDesign();
  const cache = useQueryClient();
  return useMemo(() => {
    const sent = async (asking: Promise<{ data?: ToolLog; error?: unknown }>): Promise<Problem | null> => {
      try {
        await answered(asking);
        await cache.invalidateQueries({ queryKey: ["tool-log"] });
        void cache.invalidateQueries({ queryKey: ["design", id] });
        return null;
      } catch (error) {
        return refusal(error).problem;
      }
    };
    const gauges = "/api/designs/{design_id}/tools/gauges" as const;
    const pulls = "/api/designs/{design_id}/tools/pulls" as const;
    return {
      gauge: (body: Schemas["GaugeBody"]) => sent(client.POST(gauges, { ...of(id), body })),
      strikeGauge: (entry: number) =>
        sent(client.DELETE(gauges, { params: { path: { design_id: id }, query: { id: entry } } })),
      pull: (body: Schemas["PullBody"]) => sent(client.POST(pulls, { ...of(id), body })),
      strikePull: (entry: number) =>
        sent(client.DELETE(pulls, { params: { path: { design_id: id }, query: { id: entry } } })),
    };
  }, [cache, id]);
}

/** The pieces that have a batch, a tool, a setting, a person or a part. */
export function useRecall(what: string) {
  return useQuery({
    queryKey: ["recall", what],
    enabled: what !== "",
    queryFn: () => answered(client.GET("/api/recall", { params: { query: { what } } })),
  });
}
