"""Readings as they are typed, copied from a file or sent by a tester."""

from __future__ import annotations

import csv
import io
import math
import re
from collections.abc import Collection
from dataclasses import dataclass
from functools import cached_property

from inkthread.core.quantity import QuantityError, parse_resistance_ohm
from inkthread.core.record import record

OPEN_OHM = math.inf
MOST_OHM = 1e14
"""100 Tohm: beyond any insulation tester (common practice, no source)."""
_OPEN = frozenset(
    ("ol", "0l", "o.l", "0.l", "o.l.", "0.l.", "ol.", "open", "overload", "over", "overrange", "inf",
     "infinite", "infinity", "∞", "1 .", "1.", "---", "no", "none", "apart")
)  # fmt: skip
_CLOSED = frozenset(("closed", "beep", "buzz", "yes", "short", "0"))
_MULTIPLES = {"k": 1e3, "m": 1e-3, "meg": 1e6, "g": 1e9, "r": 1.0, "u": 1e-6, "µ": 1e-6}
_SUFFIXED = re.compile(r"([\d.,]+)\s*(k|K|M|meg|MEG|Meg|m|G|g|r|R|u|µ)?(?:\s*(?:[oO]hms?|Ω|Ω))?")


@dataclass(frozen=True)
class Reading:
    """What was read between two places, or between all of one group and all of another."""

    a: tuple[str, ...]
    b: tuple[str, ...]
    ohm: float
    """Leads taken off; infinite where nothing joins them."""
    moved: bool = False
    """Whether it was read while the harness was moved; then the worst that was seen."""
    row: str = ""
    """The row of the plan that it belongs to, where there is one."""

    @property
    def single(self) -> bool:
        """Whether it is of one place against one other."""
        return len(self.a) == 1 == len(self.b)

    @cached_property
    def far(self) -> frozenset[str]:
        """The places of the second group."""
        return frozenset(self.b)


@record
class BadReading:
    """A line that cannot be taken, and why."""

    line: int
    text: str
    why: str


def read_ohm(text: str) -> float:
    """A reading in ohm: ``0.031``, ``31 mohm``, ``1.2k``, ``2M``; ``OL`` and the like are infinite.

    ``M`` is a million, ``m`` a thousandth. Raises QuantityError, naming what would do, also for more than any
    meter shows.
    """
    ohm = _written_ohm(text)
    if MOST_OHM < ohm < OPEN_OHM:
        raise QuantityError(f"{text.strip()!r} is more than any meter shows. Type OL where it is open.")
    return ohm


def _written_ohm(text: str) -> float:
    plain = text.strip()
    word = plain.lower()
    if word in _OPEN:
        return OPEN_OHM
    if word in _CLOSED:
        return 0.0
    match = _SUFFIXED.fullmatch(plain)
    if match is None:
        ohm = parse_resistance_ohm(plain) if any(c.isdigit() for c in plain) else _refused(text)
        return ohm
    digits, suffix = match[1], match[2] or ""
    if re.fullmatch(r"[1-9]\d*,\d{3}", digits):
        raise QuantityError(f"{text!r} could be read two ways. Write it without the comma.")
    try:
        value = float(digits.replace(",", "."))
    except ValueError:
        return _refused(text)
    if suffix == "M":
        return value * 1e6
    return value * _MULTIPLES.get(suffix.lower(), 1.0)


def _refused(text: str) -> float:
    raise QuantityError(
        f"{text!r} is no reading. Type ohms, as 0.031, 31 mohm or 1.2k, or OL where it is open."
    )


_NAMES = {
    "from": "from", "a": "from", "to": "to", "b": "to", "ohm": "ohm", "ohms": "ohm", "reading": "ohm",
    "value": "ohm", "read": "ohm", "r": "ohm", "resistance": "ohm", "row": "row", "id": "row", "test": "row",
    "moved": "moved", "motion": "moved", "circuit": "", "kind": "", "expected": "", "unit": "unit",
}  # fmt: skip
_TRUE = frozenset(("1", "yes", "true", "x", "moved", "motion"))


def read_table(
    text: str, rows: dict[str, tuple[tuple[str, ...], tuple[str, ...], bool]], places: Collection[str]
) -> tuple[list[Reading], list[BadReading]]:
    """Readings of a table with a heading: ``from,to,ohm`` or ``row,ohm``, ``moved`` beside it.

    ``rows`` are the plan's by id: their two groups of places, and whether they are read in motion. What
    cannot be taken is named with its line; the rest is taken. Commas, semicolons or tabs stand between.
    Raises QuantityError where there is no heading that says which column is what.
    """
    first = text.lstrip("\ufeff").splitlines()[0] if text.strip() else ""
    between = max(",;\t", key=first.count)
    lines = list(csv.reader(io.StringIO(text.lstrip("\ufeff")), delimiter=between))
    heads = [_NAMES.get(head.strip().lower(), "") for head in lines[0]] if lines else []
    if "ohm" not in heads or not ({"from", "to"} <= set(heads) or "row" in heads):
        raise QuantityError("The first line must name the columns: from,to,ohm or row,ohm.")
    known, readings, bad = set(places), [], []
    for number, cells in enumerate(lines[1:], start=2):
        if not any(cell.strip() for cell in cells):
            continue
        if any(cell.strip() for cell in cells[len(heads) :]):
            why = "There are more columns than headings: put semicolons between, or quote a decimal comma."
            bad.append(BadReading(number, between.join(cells), why))
            continue
        line = {head: cell.strip() for head, cell in zip(heads, cells, strict=False) if head}
        if not line.get("ohm", "") and line.get("row", line.get("from", "")):
            if len(cells) < len(heads):
                bad.append(BadReading(number, between.join(cells), "The line breaks off before its reading."))
            continue  # not read yet
        try:
            readings.append(reading_of(line, rows, known))
        except QuantityError as error:
            bad.append(BadReading(number, between.join(cells), str(error)))
    return readings, bad


def reading_of(
    line: dict[str, str],
    rows: dict[str, tuple[tuple[str, ...], tuple[str, ...], bool]],
    places: Collection[str],
) -> Reading:
    """One reading by its columns: ``row``, or ``from`` and ``to``; ``ohm``, ``unit``, ``moved``.

    Raises QuantityError, naming what is wrong.
    """
    row, moved = line.get("row", ""), line.get("moved", "").lower() in _TRUE
    ohm = read_ohm(f"{line.get('ohm', '')}{line.get('unit', '')}")
    named = bool(line.get("from") and line.get("to"))
    if row in rows and not named:
        a, b, in_motion = rows[row]
        return Reading(a, b, ohm, in_motion or moved, row)
    if row and not named:
        raise QuantityError(f"The plan has no row {row!r}.")
    groups: list[tuple[str, ...]] = []
    for head in ("from", "to"):
        names = tuple(name for name in re.split(r"[&\s]+", line.get(head, "")) if name)
        gone = [name for name in names if name not in places]
        if gone or not names:
            where = f"{gone[0]!r} is no place here" if gone else f"Under {head!r} no place is named"
            raise QuantityError(f"{where}. Name connector and cavity, as J2-3.")
        groups.append(names)
    if set(groups[0]) & set(groups[1]):
        raise QuantityError("Both probes lie on the same place.")
    return Reading(groups[0], groups[1], ohm, moved, row)
