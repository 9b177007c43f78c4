import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useMemo } from "react";
import { answered, client, inTurn, refusal, type Problem, type Schemas } from "./client";
import { useDesign } from "./design";

export type Machine = Schemas["MachineReply"];
export type LifeBody = Schemas["LifeBody"];

const root = "/api/designs/{design_id}/prove/pieces/{serial}/machine" as const;
const writes = inTurn();

/** The machine's book of a piece. */
export function useMachine(serial: string) {
  const { id, design } = useDesign();
  return useQuery({
    queryKey: ["machine", id, serial, design.version],
    retry: false,
    queryFn: () => answered(client.GET(root, { params: { path: { design_id: id, serial } } })),
  });
}

/** Lines of the book are written and taken out; what was refused, or null. */
export function useMachineActs(serial: string) {
  const { id, design } = useDesign();
  const cache = useQueryClient();
  return useMemo(() => {
    const path = { design_id: id, serial };
    const sent = async (ask: () => Promise<{ data?: Machine; error?: unknown }>): Promise<Problem | null> => {
      try {
        const book = await answered(writes.ask(ask));
        cache.setQueryData(["machine", id, serial, design.version], book);
        return null;
      } catch (error) {
        return refusal(error).problem;
      }
    };
    return {
      enter: (body: LifeBody) => sent(() => client.POST(root, { params: { path }, body })),
      strike: (line: number) => sent(() => client.DELETE(root, { params: { path, query: { id: line } } })),
    };
  }, [cache, design.version, id, serial]);
}

/** What a label names, of all harnesses here. */
export function useFind(text: string) {
  return useQuery({
    queryKey: ["find", text],
    enabled: text !== "",
    retry: false,
    queryFn: () => answered(client.GET("/api/find", { params: { query: { text } } })),
  });
}
