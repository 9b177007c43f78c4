"""Tables that come in: CSV (RFC 4180) or the first sheet of an XLSX workbook, as rows of text."""

from __future__ import annotations

import io

from inkthread.core.table import TableError, read_table

ROWS_AT_MOST = 20_000
_COLUMNS_AT_MOST = 60


class SheetError(ValueError):
    """A file is no table. The message says why, and what would be taken."""


def rows_of(data: bytes) -> list[list[str]]:
    """Rows of cells as text, told by the file's first bytes. Raises SheetError."""
    if not data.strip():
        raise SheetError("The file is empty.")
    rows = _workbook(data) if data[:2] == b"PK" else _csv(data)
    if len(rows) > ROWS_AT_MOST:
        raise SheetError(f"It has more than {ROWS_AT_MOST} rows. Split it.")
    return rows


def _csv(data: bytes) -> list[list[str]]:
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        raise SheetError(f"It is no text in UTF-8, at byte {error.start}. Save it as CSV in UTF-8.") from None
    if "\0" in text:
        raise SheetError("It is no text. Save it as CSV in UTF-8, or as XLSX.")
    head = text.partition("\n")[0]
    apart = ";" if head.count(";") > head.count(",") else "\t" if head.count("\t") > head.count(",") else ","
    try:
        return [row[:_COLUMNS_AT_MOST] for row in read_table(text, apart)]
    except TableError as error:
        raise SheetError(str(error)) from None


def _workbook(data: bytes) -> list[list[str]]:
    from openpyxl import load_workbook

    try:
        book = load_workbook(io.BytesIO(data), read_only=True, data_only=True)
        sheet = book.worksheets[0]
        rows = []
        for row in sheet.iter_rows(max_row=ROWS_AT_MOST + 1, max_col=_COLUMNS_AT_MOST, values_only=True):
            rows.append([_text(cell) for cell in row])
        return rows
    except Exception as error:  # what is inside a damaged archive raises whatever it likes
        raise SheetError(
            f"It is no workbook that can be read ({type(error).__name__}). Save it anew as XLSX."
        ) from None


def _text(cell: object) -> str:
    if cell is None:
        return ""
    if isinstance(cell, float) and cell.is_integer():
        return str(int(cell))
    return str(cell)
