"""What a name is: a family, a contact, a size, a gauge. One field often holds what belongs in another."""

from __future__ import annotations

import re
from functools import lru_cache

from inkthread.core.catalogue.types import Catalogue

_GAUGE = re.compile(r"^(\d{1,2}(/0)?\s*awg|\d+([.,]\d+)?\s*mm(2|²)?)$", re.IGNORECASE)
_WAYS = re.compile(r"^\d{1,3}\s*(ways?|way|pins?|pos(itions)?|cavities)$", re.IGNORECASE)


@lru_cache(maxsize=8)
def _named(catalogue: Catalogue) -> dict[str, str]:
    """Every code in lower case to what it names; the first wins."""
    found: dict[str, str] = {}

    def note(code: str, what: str) -> None:
        if code:
            found.setdefault(code.lower(), what)

    for code in catalogue.wires:
        note(code, "a wire family")
    for f in catalogue.connectors.values():
        note(f.code, "a connector family")
        for c in f.contacts:
            note(c.code, f"a contact of {f.code}")
        for s in f.seals:
            note(s.code, f"a seal of {f.code}")
        for a in f.accessories:
            note(a.code, f"an accessory of {f.code}")
        if f.plug is not None:
            note(f.plug.code, f"the plug for unused ways of {f.code}")
        for h in f.housings:
            for part in h.shells.values():
                note(part.code, f"a housing of {f.code} with {h.ways} way{'' if h.ways == 1 else 's'}")
            for part in h.locks.values():
                note(part.code, f"a lock of {f.code}")
        for key in f.keyings:
            note(key, "a key")
        for stud in f.studs:
            note(stud, "a stud size")
    for t in catalogue.tools.values():
        note(t.code, "a tool")
    for code in (*(s.code for s in catalogue.splices), *(c.code for c in catalogue.covers)):
        note(code, "a part of a splice")
    for f in catalogue.connectors.values():
        for c in f.contacts:
            note(c.size, "a contact size")
    return found


def what_is(catalogue: Catalogue, text: str) -> str:
    """``SR16 is a connector family.``, or nothing where the text names nothing that is known."""
    word = text.strip()
    if _GAUGE.match(word):
        return f"{word} is a gauge."
    if _WAYS.match(word):
        return f"{word} is a number of ways."
    what = _named(catalogue).get(word.lower())
    return f"{word} is {what}." if what else ""
