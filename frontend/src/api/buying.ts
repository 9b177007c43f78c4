import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useMemo } from "react";
import { answered, client, refusal, type Problem, type Schemas } from "./client";
import { of, useDesign, useLongStudy, useStudy } from "./design";

export type Orders = Schemas["OrdersReply"];
export type Order = Orders["plan"]["orders"][number];
export type CoveredLine = Schemas["CoverageReply"]["coverage"]["lines"][number];
export type Whole = Schemas["TradeReply"]["wholes"][number];
type Table = Schemas["FileBody"]["what"];

/** The bill against what is at hand in the shop. */
export function useCoverage() {
  return useStudy("coverage", "", (id) => client.GET("/api/designs/{design_id}/stock", of(id)));
}

/** What to order from whom; asked again while prices are. */
export function useOrders() {
  const { id, design } = useDesign();
  return useQuery({
    queryKey: ["orders", id, design.version],
    queryFn: () => answered(client.GET("/api/designs/{design_id}/orders", of(id))),
    refetchInterval: (query) => (query.state.data?.asking ? 600 : false),
  });
}

export function useKits() {
  return useStudy("kits", "", (id) => client.GET("/api/designs/{design_id}/kits", of(id)));
}

/** What is done about buying; what was refused comes back. */
export function useBuying() {
  const { id, design } = useDesign();
  const cache = useQueryClient();
  return useMemo(() => {
    const orders = async (sent: Promise<{ data?: Orders; error?: unknown }>): Promise<Problem | null> => {
      try {
        cache.setQueryData(["orders", id, design.version], await answered(sent));
        return null;
      } catch (error) {
        return refusal(error).problem;
      }
    };
    const order = (number: number) => ({ params: { path: { design_id: id, order: number } } });
    const stale = () =>
      Promise.all(
        ["design", "coverage", "orders", "kits", "stock", "catalogue", "shelf"].map((key) =>
          cache.invalidateQueries({ queryKey: [key] }),
        ),
      );
    return {
      askPrices: () => orders(client.POST("/api/designs/{design_id}/quotes", of(id))),
      write: (supplier: string) =>
        orders(client.POST("/api/designs/{design_id}/orders", { ...of(id), body: { supplier } })),
      send: (number: number) => orders(client.POST("/api/designs/{design_id}/orders/{order}/send", order(number))),
      tearUp: (number: number) => orders(client.DELETE("/api/designs/{design_id}/orders/{order}", order(number))),
      /** Parts in the drawers set aside for this harness, let go, taken out, put back; how many, or what was wrong. */
      aside: async (
        act: Schemas["AsideBody"]["act"],
        entries: Record<string, number> = {},
      ): Promise<Problem | Record<string, number>> => {
        try {
          const reply = await answered(
            client.POST("/api/designs/{design_id}/stock", { ...of(id), body: { act, entries } }),
          );
          await stale();
          return reply.moved;
        } catch (error) {
          return refusal(error).problem;
        }
      },
      price: async (code: string, price: string): Promise<Problem | null> => {
        try {
          await answered(client.POST("/api/shop/prices", { body: { code, price } }));
          await stale();
          return null;
        } catch (error) {
          return refusal(error).problem;
        }
      },
    };
  }, [cache, design.version, id]);
}

export function isProblem(said: Problem | Record<string, number>): said is Problem {
  return typeof (said as Problem).detail === "string";
}

/** Who sells what, and tables that come in. */
export function useSuppliers() {
  return useQuery({ queryKey: ["suppliers"], queryFn: () => answered(client.GET("/api/shop/suppliers")) });
}

export function useSupplierActs() {
  const cache = useQueryClient();
  return useMemo(() => {
    const done = async (
      sent: Promise<{ data?: Schemas["SuppliersReply"]; error?: unknown }>,
    ): Promise<Problem | null> => {
      try {
        cache.setQueryData(["suppliers"], await answered(sent));
        void cache.invalidateQueries({ queryKey: ["orders"] });
        return null;
      } catch (error) {
        return refusal(error).problem;
      }
    };
    return {
      note: (text: string) => done(client.POST("/api/shop/suppliers", { body: { text } })),
      takeOut: (name: string) => done(client.DELETE("/api/shop/suppliers", { params: { query: { name } } })),
      putBack: (name: string) => done(client.POST("/api/shop/suppliers/restore", { params: { query: { name } } })),
      /** A table of stock, prices, kits or offers; how many rows were taken, or what was wrong. */
      bring: async (what: Table, file: Blob): Promise<Problem | number> => {
        const bytes = new Uint8Array(await file.arrayBuffer());
        let text = "";
        for (let n = 0; n < bytes.length; n += 8192) text += String.fromCharCode(...bytes.subarray(n, n + 8192));
        try {
          const reply = await answered(client.POST("/api/shop/files", { body: { what, data: btoa(text) } }));
          await Promise.all(
            ["suppliers", "stock", "orders", "coverage", "kits", "design", "catalogue"].map((key) =>
              cache.invalidateQueries({ queryKey: [key] }),
            ),
          );
          return reply.taken;
        } catch (error) {
          return refusal(error).problem;
        }
      },
    };
  }, [cache]);
}

/** Ways of making the whole harness that can be put side by side. */
export function useWholes() {
  return useStudy("wholes", "", (id) => client.GET("/api/designs/{design_id}/wholes", of(id)));
}

export function useTrade(ids: readonly string[]) {
  const key = ids.join("|");
  return useLongStudy<Schemas["TradeReply"]>("trade", key, (id, signal) =>
    client.GET("/api/designs/{design_id}/trade", {
      params: { path: { design_id: id }, query: { ids: key } },
      signal,
    }),
  );
}

export function useVersions() {
  return useStudy("versions", "", (id) => client.GET("/api/designs/{design_id}/versions", of(id)));
}

/** What is otherwise against another harness, or an earlier version of this one. */
export function useDifferences(other: string, at: number | null) {
  const { id, design } = useDesign();
  return useQuery({
    queryKey: ["differences", id, design.version, other, at],
    enabled: other !== "",
    retry: false,
    queryFn: () =>
      answered(
        client.GET("/api/designs/{design_id}/differences", {
          params: { path: { design_id: id }, query: at === null ? { other } : { other, at } },
        }),
      ),
  });
}
