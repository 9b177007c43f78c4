import { useEffect } from "react";
import { asText, marked, rowsOf } from "./copied";
import { useSay } from "./Notice";

/** Ctrl+C with nothing marked copies the table that one is in, or the only one there is, as text. */
export function CopyTables() {
  const say = useSay();
  useEffect(() => {
    const onCopy = (event: ClipboardEvent) => {
      if (event.defaultPrevented || marked()) return;
      const all = [...document.querySelectorAll("main table")] as HTMLTableElement[];
      const table = document.activeElement?.closest("table") ?? (all.length === 1 ? all[0] : undefined);
      if (!table) return;
      const rows = rowsOf(table);
      event.clipboardData?.setData("text/plain", asText(rows));
      event.preventDefault();
      say(`${rows.length - (table.tHead ? 1 : 0)} rows copied${table.tHead ? " with their headings" : ""}.`);
    };
    document.addEventListener("copy", onCopy);
    return () => document.removeEventListener("copy", onCopy);
  }, [say]);
  return null;
}
