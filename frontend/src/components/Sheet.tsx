import type { ReactNode } from "react";

/** The one ruled sheet of a view. */
export function Sheet({ label, children, asked = false }: { label: string; children: ReactNode; asked?: boolean }) {
  return (
    <aside
      aria-label={label}
      className={`${asked ? "order-first" : ""} overflow-auto border border-ink bg-sheet p-4 min-[1200px]:sticky min-[1200px]:top-5 min-[1200px]:order-none min-[1200px]:max-h-[calc(100vh-40px)]`}
    >
      {children}
    </aside>
  );
}

/** A line of facts: what and its figure. */
export function Fact({ name, children }: { name: string; children: ReactNode }) {
  return (
    <div className="grid grid-cols-[92px_1fr] gap-2 py-[3px]">
      <dt className="text-second">{name}</dt>
      <dd>{children}</dd>
    </div>
  );
}
