import type { ReactNode } from "react";

/** What may be wider than the page: it scrolls by itself, by the keyboard too, and the page never does. */
export function Wide({ label, children }: { label: string; children: ReactNode }) {
  return (
    <div role="region" aria-label={label} tabIndex={0} className="relative overflow-x-auto">
      {children}
    </div>
  );
}
