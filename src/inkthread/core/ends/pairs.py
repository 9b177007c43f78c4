"""Pairs and threes sit in neighbouring cavities: split apart, they are a loop again in the connector."""

from __future__ import annotations

import math
from functools import lru_cache
from itertools import combinations

from inkthread.core.catalogue import Catalogue, Face, Housing
from inkthread.core.document.pin_ref import device_of
from inkthread.core.document.problems import pointer
from inkthread.core.document.types import Document
from inkthread.core.findings import FindingBook, Place, phrase
from inkthread.core.words import list_in_words

ANY_WAY = "any way round"
_NEAR = 1.5
"""Times the closest pitch of the housing: the next cavity, or the next one slantwise."""


@lru_cache(maxsize=512)
def neighbour_pairs(face: Face) -> frozenset[tuple[str, str]]:
    """Pairs of cavities of a face that lie side by side, slantwise counted, each both ways round."""
    apart = {(a, b): math.dist(p, q) for (a, p), (b, q) in combinations(face.cavities.items(), 2)}
    reach = min(apart.values(), default=math.inf) * _NEAR
    return frozenset(pair for (a, b), mm in apart.items() if mm <= reach for pair in ((a, b), (b, a)))


def neighbours(housing: Housing, a: str, b: str) -> bool:
    """Whether two cavities of a housing lie side by side, slantwise counted."""
    return (a, b) in neighbour_pairs(housing.face)


def _pairs(document: Document, catalogue: Catalogue) -> list[tuple[str, list[str]]]:
    """What is to lie together in a connector, by name: pairs, threes, and the lines of a bus in no pair."""
    groups = document.circuits.groups
    pairs = [(g.name or k, list(g.members)) for k, g in groups.items() if g.kind != "cable"]
    grouped = {c for _, members in pairs for c in members}
    for bus_id, bus in document.circuits.buses.items():
        loose = [c for c in bus.circuits if c not in grouped]
        if catalogue.buses[bus.standard].pair and len(loose) == 2:
            pairs.append((bus.name or bus_id, loose))
    return pairs


def find_split_pairs(document: Document, catalogue: Catalogue, book: FindingBook) -> None:
    """Every connector in which the circuits of a group lie apart."""
    for name, members in _pairs(document, catalogue):
        inside: dict[str, list[str]] = {}
        met: dict[str, set[str]] = {}
        for member in members:
            for ref in document.circuits.circuits[member].ends:
                entry = document.ends.pinout.get(ref)
                if entry is not None:
                    inside.setdefault(entry.connector, []).append(entry.cavity)
                    met.setdefault(device_of(ref), set()).add(entry.connector)
        for connectors in met.values():
            families = [catalogue.connectors[document.ends.connectors[c].family] for c in connectors]
            if len(connectors) > 1 and not any(f.loose for f in families):
                book.add(
                    "pair-split",
                    Place("ends", "connector", min(connectors)),
                    group=name,
                    where=phrase("connectors", connectors=list_in_words(sorted(connectors))),
                )
        for connector_id, cavities in inside.items():
            connector = document.ends.connectors[connector_id]
            family = catalogue.connectors[connector.family]
            housing = family.housing(connector.ways)
            if family.loose or housing is None or not set(cavities) <= set(housing.face.cavities):
                continue
            if not _together(housing, cavities):
                book.add(
                    "pair-split",
                    Place("ends", "connector", connector_id),
                    group=name,
                    where=phrase(
                        "cavities",
                        cavities=list_in_words(sorted(cavities, key=lambda c: (len(c), c))),
                        connector=connector_id,
                    ),
                )


def _together(housing: Housing, cavities: list[str]) -> bool:
    """Whether one can go from each to every other over neighbours among them."""
    reached, rest = {cavities[0]}, set(cavities[1:])
    while rest:
        step = {c for c in rest if any(neighbours(housing, c, r) for r in reached)}
        if not step:
            return False
        reached |= step
        rest -= step
    return True


def find_turned(document: Document, catalogue: Catalogue, book: FindingBook) -> None:
    """Contacts on the cores of one cable: turned alike, and known how, or the cable is twisted to enter."""
    unknown: dict[str, list[str]] = {}
    for group_id, group in document.circuits.groups.items():
        at: dict[str, dict[str, float | None]] = {}
        for member in group.members:
            for ref in document.circuits.circuits[member].ends:
                entry = document.ends.pinout.get(ref)
                if entry is not None:
                    at.setdefault(entry.connector, {})[ref] = entry.clock_deg
        for connector_id, turns in at.items():
            family = catalogue.connectors[document.ends.connectors[connector_id].family]
            stated = {t for t in turns.values() if t is not None}
            if len(turns) < 2 or family.turn == ANY_WAY:
                continue
            if len(stated) > 1 or (stated - {0.0} and len(stated) < len(set(turns.values()))):
                path = [pointer(["ends", "pinout", ref, "clock_deg"]) for ref in turns]
                operations = tuple({"op": "replace", "path": p, "value": None} for p in path)
                book.add(
                    "contacts-turned-apart",
                    *(Place("ends", "pin", ref) for ref in turns),
                    mechanical=(phrase("alike"), operations),
                    group=group.name or group_id,
                    connector=connector_id,
                    pins=[
                        phrase("by" if t else "not", pin=r, turn=f"{t:g}" if t else "")
                        for r, t in turns.items()
                    ],
                )
            stamped = any(c.kind == "stamped" for c in family.contacts)
            if not stated and not family.turn and stamped and not family.loose:
                unknown.setdefault(family.code, []).append(connector_id)
    for code, connectors in unknown.items():
        book.add(
            "contact-turn-not-known",
            *(Place("ends", "connector", k) for k in connectors[:8]),
            family=code,
            connectors=list_in_words(connectors[:6]),
        )
