import { useState } from "react";

/** A figure that is underlined by a stroke that fades when it changes. */
export function Figure({ children, className = "" }: { children: string; className?: string }) {
  const [drawn, setDrawn] = useState({ text: children, strokes: 0 });
  // In the same pass: a second one would lay out and paint the page twice for every edit.
  if (drawn.text !== children) setDrawn({ text: children, strokes: drawn.strokes + 1 });
  return (
    <span key={drawn.strokes} className={`${className} ${drawn.strokes ? "changed" : ""}`}>
      {children}
    </span>
  );
}
