/** Rows are laid out and made block by block. */
export const BLOCK = 5;

/** Lists of more rows than this have only those made that are near to what is seen. */
export const LONG = 200;

/** The rows of every block: from the first until before the last number. */
export function blocksOf(rows: number): [number, number][] {
  return Array.from({ length: Math.ceil(rows / BLOCK) }, (_, n) => [n * BLOCK, Math.min(rows, (n + 1) * BLOCK)]);
}

/** Pixels left empty before the nth of some blocks, that begin so far down the page. */
export function gapBefore(blocks: readonly { start: number; end: number }[], n: number, above: number): number {
  const own = blocks[n];
  return own ? Math.max(0, own.start - (blocks[n - 1]?.end ?? above)) : 0;
}
