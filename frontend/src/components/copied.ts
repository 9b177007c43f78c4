/** Rows of cells as text that a spreadsheet takes apart again: tabs between cells, a line a row. */
export function asText(rows: readonly (readonly string[])[]): string {
  return rows.map((row) => row.map((cell) => cell.replace(/\s+/g, " ").trim()).join("\t")).join("\n");
}

/** Whether something is marked or typed in, which is then what is copied. */
export function marked(): boolean {
  const active = document.activeElement;
  const typing = active instanceof HTMLInputElement || active instanceof HTMLTextAreaElement;
  return typing || (window.getSelection()?.toString() ?? "") !== "";
}

/** The rows of a table as they are read, its headings first. */
export function rowsOf(table: HTMLTableElement): string[][] {
  return [...table.rows].map((row) => [...row.cells].map((cell) => cell.innerText));
}
