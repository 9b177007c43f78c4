import { useEffect, useRef, useState } from "react";

/** A figure that is underlined by a stroke that fades when it changes. */
export function Figure({ children, className = "" }: { children: string; className?: string }) {
  const before = useRef(children);
  const [strokes, setStrokes] = useState(0);
  useEffect(() => {
    if (before.current !== children) {
      before.current = children;
      setStrokes((n) => n + 1);
    }
  }, [children]);
  return (
    <span key={strokes} className={`${className} ${strokes ? "changed" : ""}`}>
      {children}
    </span>
  );
}
