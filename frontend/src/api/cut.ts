import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useMemo } from "react";
import { answered, client, refusal, type Problem, type Schemas, inTurn } from "./client";
import { of, useDesign, useStudy } from "./design";

const writes = inTurn();

export type CutPlan = Schemas["PlanReply"];
export type PlannedPart = CutPlan["plan"]["parts"][number];
export type PlannedSpool = PlannedPart["spools"][number];
export type PlannedPiece = PlannedSpool["pieces"][number];
export type SpoolItem = Schemas["SpoolItem"];
export type CutAct = NonNullable<Schemas["CutBody"]["act"]>;

/** Which piece comes off which spool, what is cut, what is short. */
export function useCutPlan() {
  return useStudy("cut-plan", "", (id) => client.GET("/api/designs/{design_id}/cut-plan", of(id)));
}

/** What happens to a piece: cut, taken back, spoiled. The plan comes back as it then is. */
export function useCutActs() {
  const { id, design } = useDesign();
  const cache = useQueryClient();
  return useMemo(
    () => ({
      act: async (
        piece: { piece: string; number: number },
        act: CutAct,
        spool: string | null,
      ): Promise<Problem | null> => {
        try {
          const plan = await answered(
            writes.ask(() =>
              client.POST("/api/designs/{design_id}/cuts", {
                ...of(id),
                body: { piece: piece.piece, number: piece.number, act, spool: spool === null ? null : Number(spool) },
              }),
            ),
          );
          cache.setQueryData(["cut-plan", id, design.version, ""], plan);
          void cache.invalidateQueries({ queryKey: ["spools"] });
          return null;
        } catch (error) {
          return refusal(error).problem;
        }
      },
    }),
    [cache, design.version, id],
  );
}

/** Wire at hand. */
export function useSpools() {
  return useQuery({ queryKey: ["spools"], queryFn: () => answered(client.GET("/api/shop/spools")) });
}

/** Spools noted by lines, corrected, taken out, put back. Designs stay as they are; plans are made anew. */
export function useSpoolActs() {
  const cache = useQueryClient();
  return useMemo(() => {
    const done = async (sent: Promise<{ data?: Schemas["SpoolsReply"]; error?: unknown }>): Promise<Problem | null> => {
      try {
        cache.setQueryData(["spools"], await answered(sent));
        void cache.invalidateQueries({ queryKey: ["cut-plan"] });
        return null;
      } catch (error) {
        return refusal(error).problem;
      }
    };
    return {
      note: (text: string) => done(client.POST("/api/shop/spools", { body: { text } })),
      change: (id: string, values: { length?: string; place?: string }) =>
        done(client.POST("/api/shop/spools/change", { body: { id: Number(id), ...values } })),
      takeOut: (id: string) => done(client.DELETE("/api/shop/spools", { params: { query: { id: Number(id) } } })),
      putBack: (id: string) => done(client.POST("/api/shop/spools/restore", { params: { query: { id: Number(id) } } })),
    };
  }, [cache]);
}
