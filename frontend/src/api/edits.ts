/** Versions of the edits that stand, the newest first: an undo takes the last one off, a redo puts it on again. */
export function liveOf(newestFirst: readonly { version: number; act: string }[]): number[] {
  const stands: number[] = [];
  const off: number[] = [];
  for (const { version, act } of [...newestFirst].reverse()) {
    if (act === "undo") {
      const last = stands.pop();
      if (last !== undefined) off.push(last);
    } else if (act === "redo") {
      const again = off.pop();
      if (again !== undefined) stands.push(again);
    } else {
      stands.push(version);
      off.length = 0;
    }
  }
  return stands.reverse();
}
