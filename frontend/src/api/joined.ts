import { kept } from "../kept";
import type { HarnessDocument } from "./client";

/** Pin to the circuit that it is in; of none where it is in no circuit yet. */
export const circuitByPin = kept(
  (circuits: HarnessDocument["circuits"]["circuits"]) =>
    new Map(Object.entries(circuits).flatMap(([id, c]) => Object.keys(c.ends).map((ref) => [ref, id] as const))),
);
