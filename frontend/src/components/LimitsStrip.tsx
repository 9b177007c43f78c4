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
  // A path for each ink, not a box for each bar: lists draw hundreds of these.
  const inks: Record<string, string> = {};
  const ink = (fill: string, x: number, y: number, wide: number, high: number) => {
    inks[fill] = `${inks[fill] ?? ""}M${x.toFixed(1)} ${y.toFixed(2)}h${wide}v${high.toFixed(2)}h${-wide}z`;
  };
  let frame = "";
  let framed = "";
  LIMITS.forEach((name, i) => {
    const ratio = ratios[i] ?? 0;
    const fails = ratio > 1 + 1e-9;
    const fill = fails ? "var(--madder)" : name === governs ? "var(--ink)" : "var(--bar)";
    const x = i * 18.4 + 1;
    if (name === "ends") {
      // A window, not a share: the frame is the window, the mark is in it or out of it.
      frame = `M${(x + 0.5).toFixed(1)} ${top + 4}h15v${full - 5}h-15z`;
      framed = fill;
      ink(fill, x + 5, fails ? 0 : top + 8, 6, fails ? 6 : full - 13);
      return;
    }
    const height = Math.max(2, Math.min(ratio, 1.2) * full);
    ink(fill, x, foot - height, 16, height);
  });
  return (
    <svg
      width={92}
      height={25}
      role="img"
      aria-label={`${said}; ${governs} decides`}
      className="inline-block align-middle"
    >
      <title>{`${said}. ${governs} decides.`}</title>
      <path d={`M0 ${top}h92`} stroke="var(--ink-second)" strokeDasharray="3 2" />
      {Object.entries(inks).map(([fill, d]) => (
        <path key={fill} d={d} fill={fill} />
      ))}
      <path d={frame} fill="none" stroke={framed} strokeWidth={1.5} />
      <path d={`M0 ${foot + 0.5}h92`} stroke="var(--ink)" />
    </svg>
  );
}

export function fits(ratio: number): string {
  return ratio > 1 + 1e-9 ? "do not fit" : "fit";
}
