import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useMemo } from "react";
import { answered, client, type Schemas } from "./client";

export type Kept = Schemas["DataReply"];

/** Where harnesses are kept, their copies, and what was taken off the shelf. */
export function useKept() {
  return useQuery({ queryKey: ["kept"], queryFn: () => answered(client.GET("/api/data")) });
}

export function useCopy(name: string) {
  return useQuery({
    queryKey: ["copy", name],
    retry: false,
    queryFn: () => answered(client.GET("/api/data/copies/{name}", { params: { path: { name } } })),
  });
}

/** What is done about copies; each throws what was refused. */
export function useKeeping() {
  const cache = useQueryClient();
  return useMemo(() => {
    const again = () =>
      Promise.all(
        ["kept", "copy", "shelf", "design", "catalogue"].map((key) => cache.invalidateQueries({ queryKey: [key] })),
      );
    return {
      copyNow: async () => {
        await answered(client.POST("/api/data/copies"));
        await again();
      },
      putBack: async (name: string, design: string) => {
        await answered(
          client.POST("/api/data/copies/{name}/put-back", { params: { path: { name } }, body: { designs: [design] } }),
        );
        await again();
      },
      bringIn: async () => {
        await answered(client.POST("/api/data/earlier"));
        await again();
      },
      again,
    };
  }, [cache]);
}
