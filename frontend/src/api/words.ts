import { useQuery } from "@tanstack/react-query";
import { createContext, useContext } from "react";
import { answered, client, type Schemas } from "./client";
import { byName, type Word } from "./glossary";

/** What every label on the screen looks its meaning up in. */
export const GlossaryContext = createContext<Schemas["GlossaryReply"] | undefined>(undefined);

/** Fetches the words of the trade, and what each practice changes: the program's own, they do not change. */
export function useFetchedGlossary() {
  return useQuery({
    queryKey: ["glossary"],
    queryFn: () => answered(client.GET("/api/glossary")),
    staleTime: Infinity,
  }).data;
}

export function useGlossary() {
  return useContext(GlossaryContext);
}

/** What a label stands for, where it is a word of the trade. */
export function useMeaning(label: string): Word | undefined {
  const glossary = useGlossary();
  return glossary && byName(glossary.words).get(label.toLowerCase());
}
