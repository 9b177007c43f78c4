import { useEffect, useState } from "react";

export interface Put {
  where: "beside" | "narrow" | "below";
  away: boolean;
}

const KEY = "inkthread-card";
const PLAIN: Put = { where: "beside", away: false };

function recall(): Put {
  try {
    return { ...PLAIN, ...(JSON.parse(localStorage.getItem(KEY) ?? "{}") as Partial<Put>) };
  } catch {
    return PLAIN;
  }
}

/** Where the card of a room lies, remembered on this machine; a backslash puts it away and brings it back. */
export function useCardPlace(): [Put, (put: Put) => void] {
  const [put, setPut] = useState(recall);
  useEffect(() => {
    localStorage.setItem(KEY, JSON.stringify(put));
  }, [put]);
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const typing = (event.target as HTMLElement).closest("input, textarea, select");
      if (event.key !== "\\" || typing || event.ctrlKey || event.metaKey) return;
      event.preventDefault();
      setPut((now) => ({ ...now, away: !now.away }));
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, []);
  return [put, setPut];
}

/** Above the card: narrower, below the list, put away. */
export function CardPlace({ put, onPut }: { put: Put; onPut: (put: Put) => void }) {
  return (
    <p className="mb-1 hidden justify-end gap-4 text-fine min-[1200px]:flex">
      {put.where !== "below" && (
        <button
          className="text-second hover:text-ink"
          onClick={() => onPut({ ...put, where: put.where === "narrow" ? "beside" : "narrow" })}
        >
          {put.where === "narrow" ? "wider" : "narrower"}
        </button>
      )}
      <button
        className="text-second hover:text-ink"
        onClick={() => onPut({ ...put, where: put.where === "below" ? "beside" : "below" })}
      >
        {put.where === "below" ? "beside the list" : "below the list"}
      </button>
      <button className="text-second hover:text-ink" title="\\" onClick={() => onPut({ ...put, away: true })}>
        put away
      </button>
    </p>
  );
}
