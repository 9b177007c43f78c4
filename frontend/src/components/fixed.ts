import type { HarnessDocument, Operation } from "../api/client";
import { pointer } from "../api/pointer";
import { nextOrder } from "../format";

type Fixed = HarnessDocument["wire"]["fixed"][string];

/** Sets what of a wire is fixed, or lets the program choose it (null); nothing is kept of a wire of which nothing is. */
export function fixWire(document: HarnessDocument, wire: string, change: Partial<Fixed>): Operation[] {
  const known = document.wire.fixed[wire];
  const path = pointer("wire", "fixed", wire);
  const value = {
    order: known?.order ?? nextOrder(document.wire.fixed),
    reason: known?.reason ?? "",
    gauge: known?.gauge ?? null,
    colour: known?.colour ?? null,
    family: known?.family ?? null,
    ...change,
  };
  if (value.gauge === null && value.colour === null && value.family === null)
    return known ? [{ op: "remove", path }] : [];
  return [{ op: known ? "replace" : "add", path, value }];
}
