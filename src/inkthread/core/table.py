"""Tables as comma-separated text (RFC 4180): the one writer, and the one reader."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable, Sequence

Row = Sequence[object]
_RUN = frozenset("=+-@\t\r")
"""What a spreadsheet takes as the beginning of a formula (OWASP guidance on CSV injection, from memory)."""


class TableError(ValueError):
    """The text cannot be taken apart into cells. The message says why."""


def safe_cell(value: object) -> object:
    """Text that a spreadsheet would run as a formula gets an apostrophe before it."""
    return f"'{value}" if isinstance(value, str) and _would_run(value) else value


def plain_cell(text: str) -> str:
    """A cell as it was before ``safe_cell``."""
    return text[1:] if text[:1] == "'" and _would_run(text) else text


def _would_run(text: str) -> bool:
    """Apostrophes before it count too, so that every text comes back as it was."""
    return text.lstrip("'")[:1] in _RUN


def table_text(rows: Iterable[Row]) -> str:
    """Rows as a table, ended by CR LF; no cell of it is run by what opens it."""
    buffer = io.StringIO()
    writer = csv.writer(buffer, lineterminator="\r\n")
    for row in rows:
        writer.writerow([safe_cell(cell) for cell in row])
    return buffer.getvalue()


def read_table(text: str, mark: str = ",") -> list[list[str]]:
    """Rows of a table, each a list of cells. Raises TableError."""
    try:
        return [
            [plain_cell(cell) for cell in row]
            for row in csv.reader(io.StringIO(text, newline=""), delimiter=mark)
        ]
    except csv.Error as error:
        limit = csv.field_size_limit()
        why = f"a cell is longer than {limit} characters" if "field larger" in str(error) else str(error)
        raise TableError(f"This is not a table: {why}. Check its quotes.") from None
