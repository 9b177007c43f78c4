import { useCallback, useEffect, useRef, useState } from "react";
import { lost, type Problem } from "../api/client";
import { useSay } from "./Notice";

/** Text typed over a value that may change underneath: what was typed stays until it is put in or let go. */
export function useTyped(label: string, value: string, onCommit: (typed: string) => Promise<Problem | null>) {
  const say = useSay();
  const [typed, show] = useState(value);
  const [problem, setProblem] = useState<string | null>(null);
  const [outdone, setOutdone] = useState(false);
  const now = useRef({ typed: value, value });
  /** The text that nobody has typed: what stands, or what was put in last. */
  const untouched = useRef(value);
  const underway = useRef(false);

  const setTyped = useCallback((text: string) => {
    now.current.typed = text;
    show(text);
  }, []);
  const leave = useCallback(() => {
    untouched.current = now.current.value;
    setTyped(now.current.value);
    setProblem(null);
    setOutdone(false);
  }, [setTyped]);
  useEffect(() => {
    if (now.current.value === value) return;
    now.current.value = value;
    if (underway.current) return;
    if (now.current.typed === untouched.current || now.current.typed === value) leave();
    else setOutdone(true);
  }, [leave, value]);

  // A field that goes away with something typed in it puts it in, as leaving it does.
  const last = useRef({ label, onCommit, say, settled: true });
  useEffect(() => {
    last.current = { label, onCommit, say, settled: problem === null && !outdone };
  });
  useEffect(
    () => () => {
      const { typed: text } = now.current;
      const { label: where, onCommit: put, say: tell, settled } = last.current;
      if (text === untouched.current || text === now.current.value || underway.current || !settled) return;
      void put(text).then((found) => {
        if (found) tell(`${where}: “${text}” was not put in. ${found.detail}`);
      });
    },
    [],
  );

  /** Put in what was typed. On leaving the field only where nobody else was first. */
  const commit = async (anyway: boolean) => {
    const text = now.current.typed;
    if (underway.current || (outdone && !anyway)) return;
    if (text === now.current.value || text === untouched.current) {
      if (text === now.current.value) leave();
      return;
    }
    underway.current = true;
    const found = await onCommit(text);
    underway.current = false;
    if (found) {
      setOutdone(lost(found));
      setProblem(found.detail);
      return;
    }
    setProblem(null);
    setOutdone(false);
    untouched.current = text;
    if (now.current.typed === text) leave();
  };
  return { typed, setTyped, problem, outdone, commit, leave };
}
