"""What a job that meets an old one must go by: old wires told apart, mates known, evidence at hand."""

from __future__ import annotations

from itertools import combinations

from inkthread.core.catalogue import Catalogue
from inkthread.core.document.problems import pointer
from inkthread.core.document.types import Document
from inkthread.core.findings import FindingBook, Place, called, phrase
from inkthread.core.words import list_in_words, some_in_words

_MEETS_OLD = ("replacement", "extension", "adapter")


def find_in_replacement(document: Document, catalogue: Catalogue, book: FindingBook) -> None:
    """Old wires of one colour, connectors whose mates nobody has looked at, nothing to go by."""
    _old_wires(document, book)
    if document.brief.job in _MEETS_OLD:
        _mates(document, catalogue, book)
    if document.brief.job == "extension":
        _ends_of_extension(document, catalogue, book)
    if document.brief.job == "replacement":
        _evidence(document, book)


def _old_wires(document: Document, book: FindingBook) -> None:
    """Wires of one colour at one connector: once cut, nothing tells which was which."""
    circuits = document.circuits.circuits
    at: dict[str, list[str]] = {}
    for circuit_id, circuit in circuits.items():
        if circuit.old_colour.strip():
            for ref in circuit.ends:
                entry = document.ends.pinout.get(ref)
                if entry is not None and circuit_id not in at.setdefault(entry.connector, []):
                    at[entry.connector].append(circuit_id)
    told: set[tuple[str, ...]] = set()
    for connector_id, wires in at.items():
        by_colour: dict[str, list[str]] = {}
        for circuit_id in wires:
            by_colour.setdefault(circuits[circuit_id].old_colour.strip().lower(), []).append(circuit_id)
        for colour, alike in by_colour.items():
            marks = [circuits[c].old_mark.strip().lower() for c in alike]
            # One of two may go without a mark: it is the other one.
            apart = len(set(marks)) == len(marks)
            if len(alike) < 2 or apart or tuple(alike) in told:
                continue
            told.add(tuple(alike))
            book.add(
                "old-wires-alike",
                *(Place("circuits", "circuit", c) for c in alike[:8]),
                circuits=list_in_words([called("circuit", c) for c in alike[:8]]),
                colour=colour,
                connector=connector_id,
            )


def _mates(document: Document, catalogue: Catalogue, book: FindingBook) -> None:
    """Connectors that must meet what is there, of which nobody has said how that is known."""
    within = {k for k, c in document.ends.connectors.items() if c.meets is not None}
    within |= {c.meets for c in document.ends.connectors.values() if c.meets is not None}
    used = {e.connector for e in document.ends.pinout.values()}
    unknown = [
        k
        for k, c in document.ends.connectors.items()
        if k in used
        and k not in within
        and c.mate_from == "not said"
        and not catalogue.connectors[c.family].loose
    ]
    if unknown:
        book.add(
            "mate-not-known",
            *(Place("ends", "connector", k) for k in unknown[:12]),
            job=document.brief.job,
            connectors=some_in_words(unknown, 6),
        )


def _ends_of_extension(document: Document, catalogue: Catalogue, book: FindingBook) -> None:
    """Two ends that lead the same circuits, of which nobody says that they are the two ends of one lead:
    whether way n is way n cannot be judged.
    """
    connectors = document.ends.connectors
    circuit_of = {r: k for k, c in document.circuits.circuits.items() for r in c.ends}
    inside: dict[str, set[str]] = {}
    for ref, entry in document.ends.pinout.items():
        if ref in circuit_of and not catalogue.connectors[connectors[entry.connector].family].loose:
            inside.setdefault(entry.connector, set()).add(circuit_of[ref])
    said = {end for k, c in connectors.items() if c.same_as is not None for end in (k, c.same_as)}
    for one, other in combinations([k for k in inside if k not in said], 2):
        if inside[one] != inside[other] or len(inside[one]) < 2 or connectors[one].meets == other:
            continue
        path = pointer(["ends", "connectors", other, "same_as"])
        book.add(
            "extension-ends-not-said",
            Place("ends", "connector", other),
            Place("ends", "connector", one),
            mechanical=(phrase("they are"), ({"op": "replace", "path": path, "value": one},)),
            one=one,
            other=other,
        )


def _evidence(document: Document, book: FindingBook) -> None:
    """What of the old harness nobody has noted."""
    circuits, devices = document.circuits.circuits, document.circuits.devices
    bare = [c for c, circuit in circuits.items() if circuit.ends and not circuit.old_colour.strip()]
    guessed = [b for b, branch in document.route.branches.items() if branch.measured == "guess"]
    blind = [d for d, device in devices.items() if device.pin_data == "not known" and device.pins]
    missing = [
        phrase(what, things=some_in_words(things, 6))
        for what, things in (("colours", bare), ("lengths", guessed), ("pins", blind))
        if things
    ]
    if missing:
        places = [Place("circuits", "circuit", c) for c in bare[:6]]
        places += [Place("route", "branch", b) for b in guessed[:3]]
        places += [Place("circuits", "device", d) for d in blind[:3]]
        book.add("nothing-to-go-by", *places, missing=missing)
