import type { Column } from "./columns";

/** Pixels that one figure is wide in a cell, and a letter of a heading, at the sizes of the lists. */
const FIGURE_PX = 8.4;
const HEAD_PX = 7.3;
const PAD_PX = 14;
/** Beside a figure that is drawn, not only written: a mark, a space. */
const DRAWN_PX = 14;

/** Columns as wide as their figures: names share what is left, and only they are ever cut short. */
export function templateOf<Row>(columns: readonly Column<Row>[], rows: readonly Row[]): string {
  return columns
    .map((c) => {
      if (!c.figures) return c.width;
      const longest = rows.reduce((most, row) => Math.max(most, c.text(row).length), 0);
      const figures = longest * FIGURE_PX + (c.show ? DRAWN_PX : 0);
      const least = Math.ceil(Math.max(figures, c.head.length * HEAD_PX) + PAD_PX);
      const share = /([\d.]+fr)/.exec(c.width)?.[1];
      return share ? `minmax(${least}px,${share})` : `${least}px`;
    })
    .join(" ");
}
