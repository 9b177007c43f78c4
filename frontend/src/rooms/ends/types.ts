import type { Evaluation } from "../../api/client";

/** A connector as fitted, and one of its cavities. */
export type Connector = Evaluation["ends"]["connectors"][string];
export type Cavity = Connector["cavities"][number];
