import { useEffect, useRef, useState } from "react";

/** What is answered after a moment's rest, so that typing does not ask at every letter; an answer that is overtaken is dropped. */
export function useRested<T>(ask: () => Promise<T>, rest: number): T | null {
  const [found, setFound] = useState<T | null>(null);
  const turn = useRef(0);
  useEffect(() => {
    turn.current += 1;
    const mine = turn.current;
    const wait = setTimeout(() => {
      void ask().then((answer) => {
        if (mine === turn.current) setFound(answer);
      });
    }, rest);
    return () => clearTimeout(wait);
  }, [ask, rest]);
  return found;
}
