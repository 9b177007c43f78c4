"""What a name is: a family, a contact, a size, a gauge. One field often holds what belongs in another."""

from __future__ import annotations

import re
from collections.abc import Iterator
from functools import lru_cache

from inkthread.core.catalogue.ends import ConnectorFamily
from inkthread.core.catalogue.types import Catalogue

_GAUGE = re.compile(r"^(\d{1,2}(/0)?\s*awg|\d+([.,]\d+)?\s*mm(2|²)?)$", re.IGNORECASE)
_WAYS = re.compile(r"^\d{1,3}\s*(ways?|way|pins?|pos(itions)?|cavities)$", re.IGNORECASE)


@lru_cache(maxsize=8)
def _named(catalogue: Catalogue) -> dict[str, str]:
    """Every code in lower case to what it names; the first wins."""
    names: dict[str, str] = {}
    for code, what in _names(catalogue):
        if code:
            names.setdefault(code.lower(), what)
    return names


def _names(catalogue: Catalogue) -> Iterator[tuple[str, str]]:
    for code in catalogue.wires:
        yield code, "a wire family"
    for family in catalogue.connectors.values():
        yield from _names_in(family)
    for tool in catalogue.tools.values():
        yield tool.code, "a tool"
    for code in (*(s.code for s in catalogue.splices), *(c.code for c in catalogue.covers)):
        yield code, "a part of a splice"
    for family in catalogue.connectors.values():
        for contact in family.contacts:
            yield contact.size, "a contact size"


def _names_in(family: ConnectorFamily) -> Iterator[tuple[str, str]]:
    yield family.code, "a connector family"
    for what, codes in (
        ("a contact", [c.code for c in family.contacts]),
        ("a seal", [s.code for s in family.seals]),
        ("an accessory", [a.code for a in family.accessories]),
    ):
        for code in codes:
            yield code, f"{what} of {family.code}"
    if family.cavity_plug is not None:
        yield family.cavity_plug.code, f"the plug for unused ways of {family.code}"
    for housing in family.housings:
        ways = f"{housing.ways} way{'' if housing.ways == 1 else 's'}"
        for part in housing.shells.values():
            yield part.code, f"a housing of {family.code} with {ways}"
        for part in housing.locks.values():
            yield part.code, f"a lock of {family.code}"
    for key in family.keyings:
        yield key, "a key"
    for stud in family.studs:
        yield stud, "a stud size"


def what_is(catalogue: Catalogue, text: str) -> str:
    """``SR16 is a connector family.``, or nothing where the text names nothing that is known."""
    word = text.strip()
    if _GAUGE.match(word):
        return f"{word} is a gauge."
    if _WAYS.match(word):
        return f"{word} is a number of ways."
    what = _named(catalogue).get(word.lower())
    return f"{word} is {what}." if what else ""
