import { keepPreviousData, useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useState } from "react";
import { useDesign } from "./design";
import { answered, client, type ActName, type Schemas } from "./client";

export type Look = Schemas["LookReply"];
export type Guess = Look["guesses"][number];

const RESTS_MS = 120;

interface Looking {
  look: Look | null;
  /** The line that was looked at. */
  looked: string;
  /** Look at a line now. */
  ask: (line: string) => Promise<Look>;
}

/** What a line would make as it is typed, once the fingers rest; nothing while there is nothing to look at. */
export function useLook(act: ActName, text: string): Looking {
  const { design } = useDesign();
  const cache = useQueryClient();
  const [rested, setRested] = useState("");
  useEffect(() => {
    const timer = setTimeout(() => setRested(text), text.trim() ? RESTS_MS : 0);
    return () => clearTimeout(timer);
  }, [text]);
  const asked = rested.trim() !== "";
  const { id, etag } = design;
  const query = useCallback(
    (line: string) => ({
      queryKey: ["look", id, etag, act, line],
      queryFn: async () => ({
        line,
        look: await answered(
          client.POST("/api/designs/{design_id}/acts/look", {
            params: { path: { design_id: id } },
            body: { act, text: line, about: "" },
          }),
        ),
      }),
      gcTime: 10_000,
      staleTime: 10_000,
      retry: false as const,
    }),
    [act, etag, id],
  );
  const { data } = useQuery({ ...query(rested), enabled: asked, placeholderData: keepPreviousData });
  const ask = useCallback(async (line: string) => (await cache.fetchQuery(query(line))).look, [cache, query]);
  return asked && text.trim() && data ? { look: data.look, looked: data.line, ask } : { look: null, looked: "", ask };
}
