import { percent } from "../format";

export const LIMITS = ["current", "drop", "fuse", "strength", "ends"] as const;

/** Five small bars in fixed order against a dashed line at the limit. */
export function LimitsStrip({ ratios, governs }: { ratios: readonly number[]; governs: string }) {
  const top = 4;
  const foot = 22;
  const full = foot - top;
  const said = LIMITS.map(
    (name, i) => `${name} ${name === "ends" ? fits(ratios[i] ?? 0) : percent(ratios[i] ?? 0)}`,
  ).join(", ");
  return (
    <svg width={92} height={25} role="img" aria-label={`${said}; ${governs} decides`}>
      <title>{`${said}. ${governs} decides.`}</title>
      <line x1={0} x2={92} y1={top} y2={top} stroke="var(--ink-second)" strokeDasharray="3 2" strokeWidth={1} />
      {LIMITS.map((name, i) => {
        const ratio = ratios[i] ?? 0;
        const fails = ratio > 1 + 1e-9;
        const fill = fails ? "var(--madder)" : name === governs ? "var(--ink)" : "var(--bar)";
        const x = i * 18.4 + 1;
        if (name === "ends") {
          // A window, not a share: the frame is the window, the mark is in it or out of it.
          return (
            <g key={name}>
              <rect x={x + 0.5} y={top + 4} width={15} height={full - 5} fill="none" stroke={fill} strokeWidth={1.5} />
              <rect x={x + 5} y={fails ? 0 : top + 8} width={6} height={fails ? 6 : full - 13} fill={fill} />
            </g>
          );
        }
        const height = Math.max(2, Math.min(ratio, 1.2) * full);
        return <rect key={name} x={x} y={foot - height} width={16} height={height} fill={fill} />;
      })}
      <line x1={0} x2={92} y1={foot + 0.5} y2={foot + 0.5} stroke="var(--ink)" strokeWidth={1} />
    </svg>
  );
}

export function fits(ratio: number): string {
  return ratio > 1 + 1e-9 ? "do not fit" : "fit";
}
