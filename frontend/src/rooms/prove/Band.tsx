import type { PieceState, TestRow } from "../../api/prove";

const WIDE = 130;
const FROM = 38;
const TO = 78;

/** The band of a row as a bar, and the reading as a mark; what is far off stands at the edge. */
export function Band({ row, reading }: { row: TestRow; reading: PieceState["readings"][number] | undefined }) {
  const apart = row.high_ohm === null;
  const [from, to] = apart ? [84, 122] : [FROM, TO];
  const at = reading ? (apart ? apartAt(row, reading.ohm) : bandAt(row, reading.ohm)) : null;
  const fails = reading?.verdict === "fails";
  return (
    <svg viewBox={`0 0 ${WIDE} 20`} className="h-[20px] w-full" aria-hidden="true">
      <line x1={0} x2={WIDE} y1={10} y2={10} stroke="var(--rule)" />
      <rect x={from} y={5} width={to - from} height={10} fill="var(--verdigris)" opacity={0.28} />
      {at !== null && (
        <line x1={at} x2={at} y1={3} y2={17} stroke={fails ? "var(--madder)" : "var(--verdigris)"} strokeWidth={3} />
      )}
    </svg>
  );
}

function bandAt(row: TestRow, ohm: number | null): number {
  const [low, high] = [row.low_ohm ?? 0, row.high_ohm ?? 0];
  if (ohm === null) return WIDE - 6;
  const at = FROM + ((ohm - low) / Math.max(high - low, 1e-9)) * (TO - FROM);
  return Math.min(Math.max(at, 4), WIDE - 20);
}

function apartAt(row: TestRow, ohm: number | null): number {
  if (ohm === null) return 112;
  return ohm >= (row.low_ohm ?? 0) ? 92 : Math.min(4 + 10 * Math.max(Math.log10(ohm + 1), 0), 76);
}
