"""What is wrong with a data file that cannot be used, in words, with what to do."""

from __future__ import annotations

from typing import Literal

from inkthread.core.record import record

Kind = Literal["full", "locked", "read-only", "missing", "damaged", "other"]


@record
class Trouble:
    """A data file in trouble."""

    kind: Kind
    what: str
    remedy: str


_FULL = Trouble("full", "The disk is full", "Make room on the disk, then repeat.")
_LOCKED = Trouble("locked", "The data file is in use", "Close the other program that holds it, then repeat.")
_READ_ONLY = Trouble(
    "read-only", "The data file cannot be written", "Let this program write to it and to its folder."
)
_MISSING = Trouble("missing", "The data file is not there", "Bring back its disk or folder, then repeat.")
_DAMAGED = Trouble(
    "damaged", "The data file is damaged", "Export what still opens, then bring back a copy of it."
)
_FOREIGN = Trouble(
    "other",
    "It is no data file of this program, or it is damaged",
    "Name another one, or bring back a copy of it.",
)
_BY_WORDS = (
    ("is full", _FULL),
    ("is locked", _LOCKED),
    ("readonly", _READ_ONLY),
    ("unable to open", _MISSING),
    ("disk I/O error", _MISSING),
    ("malformed", _DAMAGED),
    ("not a database", _FOREIGN),
    ("no such table", _FOREIGN),
)


def trouble_of(error: BaseException) -> Trouble:
    """What a database says, in words. ``error`` is SQLAlchemy's, the driver's or the system's."""
    said = str(getattr(error, "orig", None) or error)
    for words, trouble in _BY_WORDS:
        if words in said:
            return trouble
    return Trouble("other", f"The data file cannot be used ({said})", "Bring back a copy of it.")
