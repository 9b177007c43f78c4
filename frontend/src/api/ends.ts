import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useMemo } from "react";
import { answered, client, refusal, type Operation, type Problem, type Schemas } from "./client";
import { of, useDesign, useSend, useStudy } from "./design";

export type Choices = Schemas["Ranking"];
export type ToolItem = Schemas["ToolItem"];
export type Found = Schemas["FoundReply"];
export type Own = Schemas["OwnReply"];

export function useChoices(connector: string) {
  return useStudy("choices", connector, (id) =>
    client.GET("/api/designs/{design_id}/ends/choices", {
      params: { path: { design_id: id }, query: { id: connector } },
    }),
  );
}

export function useNeighbours(connector: string) {
  return useStudy("neighbours", connector, (id) =>
    client.GET("/api/designs/{design_id}/ends/neighbours", {
      params: { path: { design_id: id }, query: { id: connector } },
    }),
  );
}

export function useEnd(ref: string, wire: string) {
  return useStudy("end", `${ref} ${wire}`, (id) =>
    client.GET("/api/designs/{design_id}/ends/end", { params: { path: { design_id: id }, query: { ref, wire } } }),
  );
}

export function useWeakest() {
  return useStudy("weakest", "", (id) => client.GET("/api/designs/{design_id}/weakest", of(id)));
}

/** Acts on the ways of a connector, each one edit. */
export function usePinout() {
  const { id } = useDesign();
  const send = useSend(id);
  return useMemo(
    () => ({
      act: (body: Schemas["PinoutBody"]): Promise<Problem | null> =>
        send((path, _, headers) =>
          client.POST("/api/designs/{design_id}/ends/pinout", { headers, params: { path }, body }),
        ),
      mate: (body: Schemas["MateBody"]): Promise<Problem | null> =>
        send((path, _, headers) =>
          client.POST("/api/designs/{design_id}/ends/mate", { headers, params: { path }, body }),
        ),
    }),
    [send],
  );
}

/** What the device has that a connector meets; of another family the nearest half. */
export function useHalf(connector: string, family: string) {
  const { id, design } = useDesign();
  return useQuery({
    queryKey: ["half", id, design.version, connector, family],
    placeholderData: (previous) => previous,
    queryFn: () =>
      answered(
        client.GET("/api/designs/{design_id}/ends/mate", {
          params: { path: { design_id: id }, query: { id: connector, family } },
        }),
      ),
  });
}

export function useFound(need: string, kind: string) {
  return useQuery({
    queryKey: ["parts", need, kind],
    placeholderData: (previous) => previous,
    retry: false,
    queryFn: () => answered(client.GET("/api/catalogue/parts", { params: { query: { need, kind, limit: 60 } } })),
  });
}

export function useOwn() {
  return useQuery({ queryKey: ["own"], queryFn: () => answered(client.GET("/api/shop/parts")) });
}

export function useTools() {
  return useQuery({ queryKey: ["tools"], queryFn: () => answered(client.GET("/api/shop/tools")) });
}

export function useConventions() {
  return useQuery({ queryKey: ["conventions"], queryFn: () => answered(client.GET("/api/shop/conventions")) });
}

export type StockEntry = Schemas["StockItem"];

export function useStock() {
  return useQuery({ queryKey: ["stock"], queryFn: () => answered(client.GET("/api/shop/stock")) });
}

/** Parts at hand: noted by lines, taken out, put back. Designs stay as they are. */
export function useStockActs() {
  const cache = useQueryClient();
  return useMemo(() => {
    const done = async (sent: Promise<{ data?: Schemas["StockReply"]; error?: unknown }>): Promise<Problem | null> => {
      try {
        cache.setQueryData(["stock"], await answered(sent));
        for (const key of ["coverage", "orders", "kits"]) void cache.invalidateQueries({ queryKey: [key] });
        return null;
      } catch (error) {
        return refusal(error).problem;
      }
    };
    return {
      note: (text: string) => done(client.POST("/api/shop/stock", { body: { text } })),
      takeOut: (id: string) => done(client.DELETE("/api/shop/stock", { params: { query: { id } } })),
      putBack: (id: string) => done(client.POST("/api/shop/stock/restore", { params: { query: { id } } })),
    };
  }, [cache]);
}

/** What is worked out anew when the shop changes. */
const STALE = ["design", "parts", "catalogue", "choices", "end", "shelf"];

type OwnKind = "connectors" | "tools" | "splices" | "wires";

/** What the shop holds: own parts taken in and out, tools owned, nests proven. Designs are worked out anew. */
export function useShop() {
  const cache = useQueryClient();
  return useMemo(() => {
    const done = async <T>(key: string, sent: Promise<{ data?: T; error?: unknown }>): Promise<Problem | null> => {
      try {
        cache.setQueryData([key], await answered(sent));
        for (const stale of STALE) void cache.invalidateQueries({ queryKey: [stale] });
        return null;
      } catch (error) {
        return refusal(error).problem;
      }
    };
    return {
      takeIn: (text: string) => done("own", client.POST("/api/shop/parts", { body: { text } })),
      copy: (body: { code: string; new_code: string; name: string }) =>
        done("own", client.POST("/api/shop/parts/copy", { body })),
      takeOut: (kind: OwnKind, code: string) =>
        done("own", client.DELETE("/api/shop/parts", { params: { query: { kind, code } } })),
      putBack: (kind: OwnKind, code: string) =>
        done("own", client.POST("/api/shop/parts/restore", { params: { query: { kind, code } } })),
      own: (code: string, body: Schemas["ToolBody"]) =>
        done("tools", client.PUT("/api/shop/tools", { params: { query: { code } }, body })),
      giveUp: (code: string) => done("tools", client.DELETE("/api/shop/tools", { params: { query: { code } } })),
      agree: (text: string) => done("conventions", client.PUT("/api/shop/conventions", { body: { text } })),
      prove: (body: Schemas["NestBody"]) => done("tools", client.PUT("/api/shop/nests", { body })),
    };
  }, [cache]);
}

export type OwnContact = Schemas["OwnContact"];
export type OwnSeal = Schemas["OwnSeal"];

/** A connector family of one's own, and how to change it. */
export function useOwnFamily(code: string) {
  const cache = useQueryClient();
  const query = useQuery({
    queryKey: ["own", code],
    queryFn: () => answered(client.GET("/api/shop/families/{code}", { params: { path: { code } } })),
  });
  const change = useCallback(
    async (operations: Operation[]): Promise<Problem | null> => {
      try {
        cache.setQueryData(
          ["own", code],
          await answered(client.PATCH("/api/shop/families/{code}", { params: { path: { code } }, body: operations })),
        );
        for (const stale of STALE) void cache.invalidateQueries({ queryKey: [stale] });
        void cache.invalidateQueries({ queryKey: ["own"], exact: true });
        return null;
      } catch (error) {
        return refusal(error).problem;
      }
    },
    [cache, code],
  );
  /** The family as it is now, as a file of parts: taken in, it is so again. */
  const asFile = useCallback(async (): Promise<string> => {
    const whole = (await (await fetch("/api/shop/parts.json")).json()) as Record<string, unknown> & {
      connectors: { code: string }[];
    };
    return JSON.stringify({
      ...whole,
      tools: [],
      splices: [],
      wires: [],
      connectors: whole.connectors.filter((f) => f.code === code),
    });
  }, [code]);
  const asBefore = useCallback(
    async (file: string): Promise<Problem | null> => {
      try {
        await answered(client.POST("/api/shop/parts", { body: { text: file } }));
        for (const stale of ["own", ...STALE]) void cache.invalidateQueries({ queryKey: [stale] });
        return null;
      } catch (error) {
        return refusal(error).problem;
      }
    },
    [cache],
  );
  return { data: query.data, error: query.error, change, asFile, asBefore };
}
