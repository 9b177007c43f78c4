import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useMemo } from "react";
import { client, refusal, type Schemas } from "./client";

export type Kept = Schemas["DataReply"];

async function data<T>(sent: Promise<{ data?: T; error?: unknown }>): Promise<T> {
  const reply = await sent;
  if (!reply.data) throw refusal(reply.error);
  return reply.data;
}

/** Where harnesses are kept, their copies, and what was taken off the shelf. */
export function useKept() {
  return useQuery({ queryKey: ["kept"], queryFn: () => data(client.GET("/api/data")) });
}

export function useCopy(name: string) {
  return useQuery({
    queryKey: ["copy", name],
    retry: false,
    queryFn: () => data(client.GET("/api/data/copies/{name}", { params: { path: { name } } })),
  });
}

/** What is done about copies; each throws what was refused. */
export function useKeeping() {
  const cache = useQueryClient();
  return useMemo(() => {
    const again = () => Promise.all(["kept", "copy", "shelf", "design", "catalogue"].map((key) => cache.invalidateQueries({ queryKey: [key] })));
    return {
      copyNow: async () => {
        await data(client.POST("/api/data/copies"));
        await again();
      },
      putBack: async (name: string, design: string) => {
        await data(client.POST("/api/data/copies/{name}/put-back", { params: { path: { name } }, body: { designs: [design] } }));
        await again();
      },
      bringIn: async () => {
        await data(client.POST("/api/data/earlier"));
        await again();
      },
      again,
    };
  }, [cache]);
}
