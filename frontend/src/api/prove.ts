import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useMemo } from "react";
import { answered, client, inTurn, refusal, type Problem, type Schemas } from "./client";
import { of, useDesign, useStudy } from "./design";

export type Plan = Schemas["ProofReply"];
export type TestRow = Plan["rows"][number];
export type Pieces = Schemas["PiecesReply"];
export type PieceState = Schemas["PieceState"];
export type Explained = PieceState["explanations"][number];

/** Every test of the harness, by hand or by the tester. */
export function usePlan(by: "hand" | "tester", benchC: number) {
  return useStudy("proof-plan", `${by} ${benchC}`, (id) =>
    client.GET("/api/designs/{design_id}/prove/plan", {
      params: { path: { design_id: id }, query: { by, bench_c: benchC } },
    }),
  );
}

export type Volts = Schemas["VoltsReply"];

/** What a meter shows at every place, in every mode. */
export function useVolts() {
  return useStudy("volts", "", (id) => client.GET("/api/designs/{design_id}/prove/volts", of(id)));
}

const piecesKey = (id: string) => ["pieces", id];
const pieceKey = (id: string, serial: string) => ["piece", id, serial];

/** The pieces that were made of the design. */
export function usePieces() {
  const { id } = useDesign();
  return useQuery({
    queryKey: piecesKey(id),
    queryFn: () => answered(client.GET("/api/designs/{design_id}/prove/pieces", of(id))),
  });
}

/** One piece: its readings and what they come to; worked out anew with every version of the design. */
export function usePiece(serial: string | null) {
  const { id, design } = useDesign();
  return useQuery({
    queryKey: [...pieceKey(id, serial ?? ""), design.version],
    enabled: serial !== null,
    retry: false,
    queryFn: () =>
      answered(
        client.GET("/api/designs/{design_id}/prove/pieces/{serial}", {
          params: { path: { design_id: id, serial: serial ?? "" } },
        }),
      ),
  });
}

export interface TypedReading {
  a: string;
  b: string;
  moved: boolean;
  text: string;
}

const writes = inTurn();

/** What is done with a piece. Each comes back as its new state, or as what stands in the way. */
export function usePieceActs(serial: string, who: string) {
  const { id, design } = useDesign();
  const cache = useQueryClient();
  return useMemo(() => {
    const at = { params: { path: { design_id: id, serial } } };
    const sent = async (
      asking: () => Promise<{ data?: PieceState; error?: unknown }>,
    ): Promise<PieceState | Problem> => {
      try {
        const state = await answered(writes.ask(asking));
        cache.setQueryData([...pieceKey(id, state.piece.serial), design.version], state);
        void cache.invalidateQueries({ queryKey: piecesKey(id) });
        return state;
      } catch (error) {
        return refusal(error).problem;
      }
    };
    const root = "/api/designs/{design_id}/prove/pieces/{serial}" as const;
    return {
      begin: (name: string, number: number) =>
        sent(() =>
          client.POST("/api/designs/{design_id}/prove/pieces", {
            params: { path: { design_id: id } },
            body: { serial: name, number },
          }),
        ),
      read: (readings: TypedReading[]) =>
        sent(() =>
          client.POST(`${root}/readings`, {
            ...at,
            body: { who, readings: readings.map((r) => ({ row: "", ...r })) },
          }),
        ),
      table: (text: string) => sent(() => client.POST(`${root}/table`, { ...at, body: { who, text } })),
      tester: (anew: boolean) => sent(() => client.POST(`${root}/tester`, { ...at, body: { who, anew } })),
      measure: (bench: string, leads: string) =>
        sent(() => client.POST(`${root}/measure`, { ...at, body: { bench, leads } })),
      look: (place: string, fine: boolean | null) =>
        sent(() => client.POST(`${root}/looks`, { ...at, body: { place, fine, who } })),
      check: (row: string, text: string, fine: boolean | null) =>
        sent(() => client.POST(`${root}/checks`, { ...at, body: { row, text, fine, who } })),
      batch: (part: string, batch: string) =>
        sent(() => client.POST(`${root}/batches`, { ...at, body: { part: part.trim(), batch, who } })),
      sign: () => sent(() => client.POST(`${root}/sign`, { ...at, body: { who } })),
      discard: async (): Promise<Problem | null> => {
        try {
          await answered(client.DELETE(root, at));
          void cache.invalidateQueries({ queryKey: piecesKey(id) });
          return null;
        } catch (error) {
          return refusal(error).problem;
        }
      },
    };
  }, [cache, id, serial, who, design.version]);
}

/** Whether it came back as a state, and not refused. */
export function isState(reply: PieceState | Problem): reply is PieceState {
  return "readings" in reply;
}
