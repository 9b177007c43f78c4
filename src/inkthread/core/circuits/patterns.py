"""Circuits to begin from: a few typed lines, their devices numbered on from those that are there."""

from __future__ import annotations

import re
from typing import Any

from inkthread.core.catalogue import Catalogue
from inkthread.core.circuits.meant import called
from inkthread.core.circuits.statements import circuits_into
from inkthread.core.document.draft import Draft, LineError

_BEGUN = re.compile(r"(?:^|>)\s*([A-Za-z]{1,3})(\d{1,3})(?:\.[^\s>]+)?\s+(?!coil\b)[A-Za-z]")
"""An id that a line puts in: what it is follows. One that stands alone is of another line, or is there."""
_BATTERY = re.compile(r"\s*battery\s*>", re.IGNORECASE)
_NAMED = re.compile(r"(?:(?<=>)|^|(?<=[\s:,]))(\s*)([A-Za-z]{1,3})(\d{1,3})(?=[.\s/:>,]|$)")


def numbered_on(taken: set[str], lines: list[str]) -> list[str]:
    """The lines with every device that they put in under an id that is free: the same one all through."""
    given: dict[str, str] = {}
    used = set(taken)

    def anew(match: re.Match[str]) -> str:
        old = f"{match[2]}{match[3]}"
        if old not in given:
            number = int(match[3])
            while f"{match[2]}{number}" in used:
                number += 1
            given[old] = f"{match[2]}{number}"
            used.add(given[old])
        return f"{match[1]}{given[old]}"

    begun = {m[1] + m[2] for line in lines for m in _BEGUN.finditer(line)}
    return [_NAMED.sub(lambda m: anew(m) if m[2] + m[3] in begun else m[0], line) for line in lines]


def pattern_into(plain: dict[str, Any], catalogue: Catalogue, text: str) -> Draft:
    """Operations that put the lines of a pattern into a document, all of them or none. Raises LineError."""
    lines = [line.strip() for line in text.splitlines() if line.strip()]
    if not lines:
        raise LineError("A pattern has at least one line, like battery > F1 fuse > E1 lamp 1 A > ground.")
    draft = Draft(plain)
    sources = list(dict.fromkeys(s["device"] for s in draft.at("circuits", "sources").values()))
    if sources and any(_BATTERY.match(line) for line in lines) and not called(draft, catalogue, "battery"):
        fed = " or ".join(sources)
        free = draft.free_id("B", "circuits", "devices")
        raise LineError(
            f"There is no battery here. Write {fed} in its place, or {free} battery for a new one."
        )
    numbered = numbered_on(set(draft.at("circuits", "devices")), lines)
    for number, (typed, line) in enumerate(zip(lines, numbered, strict=True), 1):
        try:
            circuits_into(draft, catalogue, line)
        except LineError as error:
            raise LineError(f"Line {number}, {typed!r}: {error}") from None
    return draft
