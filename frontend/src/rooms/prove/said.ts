import type { PieceState } from "../../api/prove";

/** What a piece comes to, in a sentence. */
export function pieceSaid(state: PieceState): string {
  const { piece, rows, not_read, verdict } = state;
  const read = `Piece **${piece.serial}**: **${rows - not_read}** of **${rows}** rows read`;
  if (piece.signed_by) return `${read}, all hold. Signed by **${piece.signed_by}**; its record is closed.`;
  if (verdict === "not read") return `Piece **${piece.serial}**: nothing is read yet.`;
  if (verdict === "holds") return `${read}, ${not_read ? "and all of these hold" : "all hold: it can be signed"}.`;
  const failing = new Set(state.readings.filter((r) => r.verdict === "fails").map((r) => r.row)).size;
  const count = state.explanations[0]?.faults.length ?? 0;
  const faults = count === 1 ? "one fault explains" : `${count} faults explain`;
  const why = state.left_over.length > 0 ? "no few faults explain them all" : `${faults} them all`;
  return `${read}, **${failing}** fail; ${why}.`;
}
