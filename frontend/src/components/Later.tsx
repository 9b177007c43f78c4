import { lazy, Suspense, type ComponentType, type ReactNode } from "react";

interface Later {
  /** Brings its script, if that is not here yet. */
  bring: () => Promise<unknown>;
  View: ComponentType;
}

/** A view whose script comes when it is opened, or once the machine has time for it. */
export function later<Name extends string>(load: () => Promise<Record<Name, ComponentType>>, name: Name): Later {
  return { bring: load, View: lazy(async () => ({ default: (await load())[name] as ComponentType })) };
}

const LATEST_MS = 3000;

/** Brings the scripts of views that may be opened next, after what is on the screen. */
export function bringAll(views: Later[]): void {
  const all = () => views.forEach(({ bring }) => void bring());
  if ("requestIdleCallback" in window) window.requestIdleCallback(all, { timeout: LATEST_MS });
  else setTimeout(all, LATEST_MS);
}

/** Where such views stand. */
export function Laters({ children }: { children: ReactNode }) {
  return <Suspense fallback={<p className="p-10 text-second">Opening ...</p>}>{children}</Suspense>;
}
