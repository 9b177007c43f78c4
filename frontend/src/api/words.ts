import { useQuery } from "@tanstack/react-query";
import { useMemo } from "react";
import { answered, client } from "./client";
import { byName, type Word } from "./glossary";

/** The words of the trade, and what each practice changes; they are the program's own and do not change. */
export function useGlossary() {
  return useQuery({
    queryKey: ["glossary"],
    queryFn: () => answered(client.GET("/api/glossary")),
    staleTime: Infinity,
  }).data;
}

/** What a label stands for, where it is a word of the trade. */
export function useMeaning(label: string): Word | undefined {
  const glossary = useGlossary();
  const known = useMemo(() => byName(glossary?.words ?? []), [glossary]);
  return known.get(label.toLowerCase());
}
