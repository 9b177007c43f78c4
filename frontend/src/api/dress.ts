import { client, type Schemas } from "./client";
import { of, useStudy } from "./design";

export type DressSheet = Schemas["DressReply"]["sheet"];
export type BranchCover = DressSheet["covers"][number];
export type ShrinkPiece = DressSheet["shrinks"][number];
export type Labelled = DressSheet["labels"][number];

/** All that goes over the wires, fetched when the room is looked at. */
export function useDress() {
  return useStudy("dress", "", (id) => client.GET("/api/designs/{design_id}/dress", of(id)));
}
