"""A document may name a part that has gone: its ends are evaluated as unknown, the rest as usual."""

from __future__ import annotations

from dataclasses import replace

from inkthread.core.catalogue import Catalogue, ConnectorFamily, Contact, Face, Housing
from inkthread.core.document.types import Document
from inkthread.core.findings import Finding, FindingBook, Place, phrase

GONE = "not known here"


def stand_in_for_ends(document: Document, catalogue: Catalogue) -> tuple[Catalogue, list[Finding]]:
    """The catalogue with an empty family for every one, or number of ways, that is named and not held.

    What stands in refuses no wire and buys nothing; a finding says what has gone.
    """
    book = FindingBook(catalogue.checks)
    return _stand_in(document, catalogue, book), book.entries


def _stand_in(document: Document, catalogue: Catalogue, book: FindingBook) -> Catalogue:
    named: dict[str, dict[str, None]] = {}
    for ref, entry in document.ends.pinout.items():
        named.setdefault(entry.connector, {})[entry.cavity] = None
        family = catalogue.connectors.get(document.ends.connectors[entry.connector].family)
        if entry.contact is None or family is None:
            continue
        if entry.contact not in {c.code for c in family.contacts}:
            book.add(
                "part-gone",
                Place("ends", "pin", ref),
                Place("ends", "connector", entry.connector),
                connector=ref,
                part=phrase("contact", contact=entry.contact or ""),
            )
    missing: dict[str, dict[int, list[str]]] = {}
    for connector_id, c in sorted(document.ends.connectors.items(), key=lambda kv: kv[1].order):
        family = catalogue.connectors.get(c.family)
        housing = family.housing(c.ways) if family is not None else None
        used = list(named.get(connector_id, ()))
        if housing is not None and housing.face.cavities.keys() >= set(used):
            continue
        ways = missing.setdefault(c.family, {}).setdefault(c.ways, [])
        ways += [cavity for cavity in used if cavity not in ways]
        part = phrase("family" if family is None else "ways", family=c.family, ways=str(c.ways))
        if housing is not None:
            odd = [cavity for cavity in used if cavity not in housing.face.cavities]
            part = phrase("way", family=c.family, way=odd[0])
        book.add("part-gone", Place("ends", "connector", connector_id), connector=connector_id, part=part)
    if not missing:
        return catalogue
    connectors = dict(catalogue.connectors)
    for code, counts in missing.items():
        housings = tuple(_blank(ways, counts[ways]) for ways in sorted(counts))
        family = catalogue.connectors.get(code)
        connectors[code] = (
            replace(family, housings=(*(h for h in family.housings if h.ways not in counts), *housings))
            if family is not None
            else _unknown(code, housings, document)
        )
    return replace(catalogue, connectors=connectors)


def _blank(ways: int, named: list[str]) -> Housing:
    """A housing of which nothing is known but the ways that are used."""
    spare = (str(n) for n in range(1, ways + len(named) + 1) if str(n) not in named)
    names = [*named, *(next(spare) for _ in range(max(ways - len(named), 0)))]
    places = {n: ((i - (len(names) - 1) / 2) * 5.0, 0.0) for i, n in enumerate(names)}
    return Housing(ways, Face(5.0 * ways + 4, 9.0, 4.0, "way 1 mark", places), {}, {})


def _unknown(code: str, housings: tuple[Housing, ...], document: Document) -> ConnectorFamily:
    loose = any(c.family == code and c.shell == "none" for c in document.ends.connectors.values())
    studs = {c.stud for c in document.ends.connectors.values() if c.family == code and c.stud is not None}
    contact = Contact(
        "?",
        GONE,
        "none",
        0.0,
        1e4,
        0.0,
        1e3,
        0.0,
        0.0,
        0.0,
        ((0.0, 1e6),),
        0.0,
        0.0,
        most_wires=99,
        solid=True,
    )
    return ConnectorFamily(
        code, GONE, False, loose, 1e4, 1e6, 0.0, "Not known here.", housings, (contact,), (), None,
        {}, tuple(sorted(studs)), group="flying lead", genderless=True,
    )  # fmt: skip
