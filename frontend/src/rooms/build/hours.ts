/** Minutes as they are said at a bench. */
export function hours(minutes: number): string {
  const whole = Math.round(minutes);
  if (whole < 60) return `${whole} min`;
  const rest = whole % 60;
  return rest ? `${Math.floor(whole / 60)} h ${String(rest).padStart(2, "0")}` : `${whole / 60} h`;
}
