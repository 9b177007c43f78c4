"""What is wrong with colours: not made, twice in a connector, against the scheme."""

from __future__ import annotations

from collections.abc import Iterable

from inkthread.core.catalogue import Catalogue
from inkthread.core.circuits import Role
from inkthread.core.document.pin_ref import device_of
from inkthread.core.document.problems import pointer
from inkthread.core.document.types import Document
from inkthread.core.findings import FindingBook, Place, phrase
from inkthread.core.route import Section, Threaded
from inkthread.core.wire.colours import circuit_colours, role_colours, scheme_in_force
from inkthread.core.wire.made import MadeWire, MadeWires
from inkthread.core.words import list_in_words


def find_in_colours(
    document: Document,
    catalogue: Catalogue,
    role_of: dict[str, Role],
    threaded: Threaded,
    result: MadeWires,
    book: FindingBook,
) -> None:
    """Colours twice in a connector, against the scheme, or not made."""
    sections = threaded.sections.values()
    _find_repeats(document, catalogue, role_of, sections, result, book)
    _against_scheme(document, catalogue, role_of, sections, result, book)
    for s in sections:
        w = result.wires[s.key]
        made_in = result.families[w.family].colours
        if (
            made_in
            and w.colour
            and w.colour not in made_in
            and document.wire.fixed.get(w.key, None) is not None
        ):
            book.add(
                "colour-not-made",
                Place("wire", "wire", w.key),
                wire=w.label,
                family=w.family,
                colour=w.colour,
                made=", ".join(made_in),
            )


def _find_repeats(
    document: Document,
    catalogue: Catalogue,
    role_of: dict[str, Role],
    sections: Iterable[Section],
    result: MadeWires,
    book: FindingBook,
) -> None:
    if scheme_in_force(document, catalogue).repeats:
        return
    by_colour: dict[tuple[str, str], list[MadeWire]] = {}
    cable_of = {m: g for g, group in document.circuits.groups.items() for m in group.members}
    for s in sections:
        w = result.wires[s.key]
        for end in (s.a, s.b):
            if end.connector is not None:
                by_colour.setdefault((end.connector, w.colour), []).append(w)
    loose = {k for k, c in document.ends.connectors.items() if catalogue.connectors[c.family].loose}
    for (connector, colour), wires in by_colour.items():
        if len(wires) < 2:
            continue
        circuits_of = {w.circuit for w in wires}
        if len(circuits_of) < 2:
            continue
        labels = [w.label for w in wires]
        jackets = [cable_of.get(w.circuit, "") for w in wires if result.families[w.family].cores > 1]
        if len(set(jackets)) == len(jackets) and len(labels) - len(jackets) <= 1 and jackets:
            continue  # cores of different cables are told apart by their jackets
        if connector in loose and len({role_of[c] == "ground" for c in circuits_of}) < 2:
            continue  # the same feed on both sides of a fuse is told apart by its studs
        # Colours that the program gave are the best there are: only one that somebody fixed is asked about.
        fixed_here = (document.wire.fixed.get(w.key) for w in wires)
        if not any(f is not None and f.colour for f in fixed_here):
            continue
        if _side_by_side(document, role_of, circuits_of):
            continue  # conductors of one rail, from one device to the same other: either may be either
        book.add(
            "colour-repeats",
            Place("ends", "connector", connector),
            place=connector,
            colour=colour,
            wires=", ".join(labels[:6]),
        )


def _side_by_side(document: Document, role_of: dict[str, Role], circuits: set[str]) -> bool:
    """Whether circuits are one rail in several conductors: of one role, between the same devices."""
    ends = {frozenset(device_of(r) for r in document.circuits.circuits[c].ends): role_of[c] for c in circuits}
    return len(circuits) > 1 and len(ends) == 1 and set(ends.values()) <= {"supply", "ground"}


_OPPOSITE = {"ground": ("supply", "output"), "supply": ("ground",), "output": ("ground",)}


def _against_scheme(
    document: Document,
    catalogue: Catalogue,
    role_of: dict[str, Role],
    sections: Iterable[Section],
    result: MadeWires,
    book: FindingBook,
) -> None:
    """A colour that somebody fixed, and that the scheme keeps for the other pole."""
    scheme = scheme_in_force(document, catalogue)
    for s in sections:
        fixed = document.wire.fixed.get(s.key)
        role = role_of[s.circuit]
        if fixed is None or fixed.colour is None:
            continue
        own = circuit_colours(document, scheme, role, document.circuits.circuits[s.circuit].name)
        means = [
            other
            for other in _OPPOSITE.get(role, ())
            if fixed.colour in role_colours(document, scheme, other)
        ]
        if means and fixed.colour not in own:
            path = pointer(["wire", "fixed", s.key, "colour"])
            book.add(
                "colour-against-scheme",
                Place("wire", "wire", s.key),
                mechanical=(phrase("choose"), ({"op": "replace", "path": path, "value": None},)),
                wire=result.wires[s.key].label,
                colour=fixed.colour,
                scheme=scheme.label,
                means=[phrase(m) for m in means],
                role=role,
                fits=list_in_words(list(own[:4])),
            )
