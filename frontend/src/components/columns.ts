import type { ReactNode } from "react";
import type { Problem } from "../api/client";

/** What a grid shows of a row in one place, and what can be typed there. */
export interface Column<Row> {
  key: string;
  head: string;
  /** CSS width in the grid's template. */
  width: string;
  align?: "right";
  /** The unit of its figures, which its heading says once for all of them. */
  unit?: string;
  figures?: boolean;
  strong?: boolean;
  /** Pixels that a cell draws beside its figure: a mark, a sign. */
  beside?: number;
  /** Long text in a narrow column. */
  small?: boolean;
  text: (row: Row) => string;
  show?: (row: Row) => ReactNode;
  /** What else `show` depends on, where the grid is steady and the text does not tell. */
  stamp?: (row: Row) => string;
  title?: (row: Row) => string;
  /** Choices, where the cell takes one of a few; undefined for a row that takes a figure. */
  choices?: (row: Row) => { value: string; label: string }[] | undefined;
  /** Send what was typed. Absent where the cell is worked out, not stated. */
  commit?: (row: Row, typed: string) => Promise<Problem | null>;
  /** Worked out where nothing is typed: w and Enter ask why of it, as of what cannot be typed. */
  workedOut?: boolean;
  /** It cannot be empty: a name, a number that all hangs on. */
  needed?: boolean;
  /** What the editor starts with when not typed over. */
  begin?: (row: Row) => string;
}

const UNIT = / (mm|in|g|oz|°C|°F)(?=$|[ )])/g;

/** What a cell reads under its heading. */
export function bare<Row>(column: Column<Row>, row: Row): string {
  return bareText(column.text(row), column.unit);
}

export function bareText(text: string, unit: string | undefined): string {
  return unit ? text.replace(UNIT, "") : text;
}

/** What heads a column, with its unit. */
export function headed<Row>({ head, unit }: Column<Row>): string {
  return unit ? `${head} (${unit})` : head;
}

export interface Failed {
  typed: string;
  message: string;
  /** Another window was first. */
  outdone: boolean;
}

/** A cell by the keys of its row and column. */
export interface Cell {
  of: string;
  column: string;
}

/** The cell that is being typed in. */
export interface Open extends Cell {
  /** What the edit begins with. */
  start: string;
  /** What the cell read then; null where it was put in from here since. */
  from: string | null;
  /** It begins with what the cell says, nothing typed over it. */
  begun: boolean;
}

export interface Edits {
  onPick: (r: number, c: number, how: "alone" | "all between" | "beside") => void;
  onMenu: (of: string | null) => void;
  onStart: () => void;
  onDone: (typed: string, then: [number, number] | null) => void;
  onCancel: () => void;
  onTyping: (typed: string) => void;
  onMine: (cell: Cell, typed: string) => void;
  onTheirs: (cell: Cell) => void;
}

/** The key of the empty row at the foot. */
export const NEW = "new";
