"""Cables as pieces: which wires are cores of one, and that these are of one gauge, as it is sold."""

from __future__ import annotations

from collections.abc import Collection, Iterable, Iterator, Sequence

import numpy as np

from inkthread.core.catalogue import Catalogue, WireFamily, WireSize
from inkthread.core.document.types import Document
from inkthread.core.findings import FindingBook, Place, phrase
from inkthread.core.physics.conductor import IntArray
from inkthread.core.record import record
from inkthread.core.route import RouteResult, Section
from inkthread.core.wire.families import Chains
from inkthread.core.words import in_words


@record
class CablePiece:
    """Cores of one group that run between the same two places, in one piece."""

    group: str
    wires: tuple[str, ...]


def cable_pieces(
    document: Document, families: dict[str, WireFamily], sections: Sequence[Section]
) -> tuple[CablePiece, ...]:
    """The pieces of cable of every group that is made in one, or of a ribbon.

    They lie where most of its circuits run together; where one branches or goes on, it goes on as a wire. A
    circuit that lies between the same places twice is in two pieces.
    """
    grouped = {
        circuit: group_id
        for group_id, group in document.circuits.groups.items()
        if (family := families.get(group.family or "")) is not None and family.cores > 1
        for circuit in group.members
    }
    pieces = list(_strips(document, families, sections))
    between: dict[tuple[str, frozenset[str]], dict[str, list[str]]] = {}
    for section in sections:
        group_id = grouped.get(section.circuit)
        if group_id is not None:
            places = frozenset((section.a.point, section.b.point))
            between.setdefault((group_id, places), {}).setdefault(section.circuit, []).append(section.key)
    most: dict[str, int] = {}
    for (group_id, _), by_circuit in between.items():
        most[group_id] = max(most.get(group_id, 0), len(by_circuit))
    for (group_id, _), by_circuit in between.items():
        alone = len(by_circuit) == 1 and len(document.circuits.groups[group_id].members) > 1
        if alone or len(by_circuit) < most[group_id]:
            continue
        for n in range(max(len(keys) for keys in by_circuit.values())):
            wires = tuple(keys[n] for keys in by_circuit.values() if n < len(keys))
            pieces.append(CablePiece(group_id, wires))
    return tuple(pieces)


def _strips(
    document: Document, families: dict[str, WireFamily], sections: Sequence[Section]
) -> Iterator[CablePiece]:
    """Strips of ribbon: what begins at one place lies in one, and peels off it where it leaves."""
    of_circuit: dict[str, list[Section]] = {}
    for section in sections:
        of_circuit.setdefault(section.circuit, []).append(section)
    for group_id, group in document.circuits.groups.items():
        family = families.get(group.family or "")
        if family is None or family.construction != "ribbon":
            continue
        left = [s for c in group.members for s in of_circuit.get(c, ())]
        while left:
            strip = max((_beside(s, left) for s in left), key=len)
            left = [s for s in left if s not in strip]
            if len(strip) > 1:
                yield CablePiece(group_id, tuple(s.key for s in strip))


def _beside(longest: Section, others: Sequence[Section]) -> list[Section]:
    """A wire and those, one a circuit, that begin where it does and lie along it for a while."""
    whole = set(longest.spans)
    by_circuit = {longest.circuit: longest}
    for s in others:
        begins = {s.a.point, s.b.point} & {longest.a.point, longest.b.point}
        if s.circuit not in by_circuit and begins and whole & set(s.spans):
            by_circuit[s.circuit] = s
    return list(by_circuit.values())


def fixed_cores(
    document: Document,
    catalogue: Catalogue,
    families: dict[str, WireFamily],
    pieces: Sequence[CablePiece],
    route: RouteResult,
    carried_a: dict[str, float],
) -> dict[str, str]:
    """Wires that are cores of a cable sold with unequal ones, to the gauge of the core each is.

    A way that has a colour by a standard takes the core of that colour; then what carries most takes the
    thickest that is left.
    """
    gauge_of: dict[str, str] = {}
    for piece in pieces:
        family = families[document.circuits.groups[piece.group].family or ""]
        if not family.core_gauges:
            continue
        sizes = {s.gauge: s.area_mm2 for s in family.sizes}
        left = list(range(family.cores))
        colours = standard_colours(document, catalogue, [route.sections[k] for k in piece.wires])
        loose = []
        for key in piece.wires:
            colour = colours.get(route.sections[key].circuit, "")
            core = next((n for n in left if family.colours[n : n + 1] == (colour,)), None)
            if core is None:
                loose.append(key)
            else:
                left.remove(core)
                gauge_of[key] = family.core_gauges[core]
        loose.sort(key=lambda k: -carried_a.get(k, 0.0))
        left.sort(key=lambda n: (-sizes[family.core_gauges[n]], n))
        for key, core in zip(loose, left, strict=False):
            gauge_of[key] = family.core_gauges[core]
    return gauge_of


def standard_colours(document: Document, catalogue: Catalogue, sections: Iterable[Section]) -> dict[str, str]:
    """The colour that a standard gives the core of a circuit, by the way it ends in."""
    colours: dict[str, str] = {}
    for section in sections:
        for end in (section.a, section.b):
            connector = document.ends.connectors.get(end.connector or "")
            if connector is None:
                continue
            housing = catalogue.connectors[connector.family].housing(connector.ways)
            if housing is not None and end.cavity in housing.colours:
                colours.setdefault(section.circuit, housing.colours[end.cavity])
    return colours


def core_sizes(family: WireFamily, size: WireSize, cores: int) -> list[WireSize]:
    """The size of every core of a piece of cable."""
    return [family.size(gauge) or size for gauge in family.piece(size.gauge, cores)]


def tied_rows(
    pieces: Sequence[CablePiece], unequal: set[str], keys: Sequence[str], chains: Chains
) -> tuple[IntArray, ...]:
    """Rows of the wires of each piece that have the same sizes to choose from; none of the groups whose
    cable has ``unequal`` cores.
    """
    at = {key: i for i, key in enumerate(keys)}
    tied = []
    for piece in pieces:
        if piece.group in unequal:
            continue
        by_chain: dict[bytes, list[int]] = {}
        for key in piece.wires:
            by_chain.setdefault(chains.index[at[key]].tobytes(), []).append(at[key])
        tied += [np.array(rows, dtype=np.intp) for rows in by_chain.values() if len(rows) > 1]
    return tuple(tied)


def tie(chosen: IntArray, tied: Sequence[IntArray], onward: IntArray) -> bool:
    """Raise the cores of each piece to the largest that one of them needs, in place; whether any rose.

    A size that the ends of one do not take is passed over for all.
    """
    rose = False
    again = bool(len(tied))
    while again:
        again = False
        for rows in tied:
            size = int(chosen[rows].max())
            while (stands := int(onward[rows, size].max())) > size:
                size = stands
            if (chosen[rows] < size).any():
                chosen[rows] = size
                rose = again = True
    return rose


def tie_bounds(
    lowest: IntArray, highest: IntArray, fixed: Collection[int], tied: Sequence[IntArray]
) -> tuple[IntArray, IntArray]:
    """Bounds with the cores of each piece alike: those of a fixed one, else what all need."""
    lowest, highest = lowest.copy(), highest.copy()
    for rows in tied:
        fixed_rows = [i for i in rows.tolist() if i in fixed]
        if fixed_rows:
            lowest[rows] = highest[rows] = lowest[fixed_rows[0]]
            continue
        lowest[rows] = lowest[rows].max()
        highest[rows] = max(int(highest[rows].min()), int(lowest[rows].max()))
    return lowest, highest


def find_parting(
    document: Document, pieces: Sequence[CablePiece], route: RouteResult, book: FindingBook
) -> None:
    """Groups whose cores leave for different places, so that no piece of cable holds them all."""
    circuit_of = {key: s.circuit for key, s in route.sections.items()}
    routed = set(circuit_of.values())
    for group_id, group in document.circuits.groups.items():
        mine = [p for p in pieces if p.group == group_id]
        members = set(group.members) & routed
        if not mine or any({circuit_of[w] for w in p.wires} >= members for p in mine):
            continue
        sections = [s for s in route.sections.values() if s.circuit in members]
        places = list(dict.fromkeys((s.a.point, s.b.point) for s in sections))
        book.add(
            "cable-parts-ways",
            Place("circuits", "circuit", next(iter(group.members))),
            group=f"{group_id} {group.name}".strip(),
            places=[phrase("between", one=one, other=other) for one, other in places[:4]],
            pieces=in_words(len(mine)),
        )
