import { bare, type Column } from "./columns";

/** Pixels that one figure is wide in a cell, and a letter of a heading, at the sizes of the lists. */
const FIGURE_PX = 8.9;
const HEAD_PX = 7.3;
const PAD_PX = 14;
const LIST_PX = 130;
/** Columns as wide as their figures: names share what is left, and only they are ever cut short. */
export function templateOf<Row>(columns: readonly Column<Row>[], rows: readonly Row[]): string {
  return columns
    .map((c) => {
      if (!c.figures) return c.width;
      // Words among them may be cut short: a role where nothing is carried.
      const longest = rows.reduce((most, row) => {
        const text = bare(c, row);
        return /\d/.test(text) ? Math.max(most, text.length) : most;
      }, 0);
      const figures = longest * FIGURE_PX + (c.beside ?? 0);
      const written = Math.ceil(
        Math.max(figures, Math.max(c.head.length, (c.unit?.length ?? 0) + 2) * HEAD_PX) + PAD_PX,
      );
      // What is drawn may be wider than what is written: its stated width is the least.
      const least = c.show ? Math.max(written, Number.parseInt(c.width) || 0) : written;
      const share = /([\d.]+fr)/.exec(c.width)?.[1];
      if (!share) return `${least}px`;
      // A column that shares what is left may hold lists, which are as long as they are.
      const stated = Number(/minmax\((\d+)px/.exec(c.width)?.[1] ?? 0);
      return `minmax(${Math.max(stated, Math.min(least, LIST_PX))}px,${share})`;
    })
    .join(" ");
}
