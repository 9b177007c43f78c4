"""Cables as pieces: which wires are cores of one, and that these are of one gauge, as it is sold."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from inkthread.core.catalogue import WireFamily
from inkthread.core.document.types import Document
from inkthread.core.findings import FindingBook, Place
from inkthread.core.physics.conductor import IntArray
from inkthread.core.route import RouteResult, Section
from inkthread.core.wire.families import Chains
from inkthread.core.words import in_words, list_in_words


@dataclass(frozen=True, slots=True)
class CablePiece:
    """Cores of one group that run between the same two places, in one piece."""

    group: str
    wires: tuple[str, ...]


def cable_pieces(
    document: Document, families: dict[str, WireFamily], sections: Sequence[Section]
) -> tuple[CablePiece, ...]:
    """The pieces of cable of every group that is made in one.

    They lie where most of its circuits run together; where one branches or goes on, it goes on as a wire. A
    circuit that lies between the same places twice is in two pieces.
    """
    grouped = {
        circuit: group_id
        for group_id, group in document.circuits.groups.items()
        if (family := families.get(group.family or "")) is not None and family.cores > 1
        for circuit in group.members
    }
    between: dict[tuple[str, frozenset[str]], dict[str, list[str]]] = {}
    for section in sections:
        group_id = grouped.get(section.circuit)
        if group_id is not None:
            places = frozenset((section.a.point, section.b.point))
            between.setdefault((group_id, places), {}).setdefault(section.circuit, []).append(section.key)
    most: dict[str, int] = {}
    for (group_id, _), by_circuit in between.items():
        most[group_id] = max(most.get(group_id, 0), len(by_circuit))
    found = []
    for (group_id, _), by_circuit in between.items():
        alone = len(by_circuit) == 1 and len(document.circuits.groups[group_id].members) > 1
        if alone or len(by_circuit) < most[group_id]:
            continue
        for n in range(max(len(keys) for keys in by_circuit.values())):
            wires = tuple(keys[n] for keys in by_circuit.values() if n < len(keys))
            found.append(CablePiece(group_id, wires))
    return tuple(found)


def tied_rows(pieces: Sequence[CablePiece], keys: Sequence[str], chains: Chains) -> tuple[IntArray, ...]:
    """Rows of the wires of each piece that have the same sizes to choose from."""
    at = {key: i for i, key in enumerate(keys)}
    found = []
    for piece in pieces:
        by_chain: dict[bytes, list[int]] = {}
        for key in piece.wires:
            by_chain.setdefault(chains.index[at[key]].tobytes(), []).append(at[key])
        found += [np.array(rows, dtype=np.intp) for rows in by_chain.values() if len(rows) > 1]
    return tuple(found)


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


def tie_bounds(lowest: IntArray, highest: IntArray, fixed: set[int], tied: Sequence[IntArray]) -> None:
    """Give the cores of each piece the same bounds, in place: those of a fixed one, else what all need."""
    for rows in tied:
        held = [i for i in rows.tolist() if i in fixed]
        if held:
            lowest[rows] = highest[rows] = lowest[held[0]]
            continue
        lowest[rows] = lowest[rows].max()
        highest[rows] = max(int(highest[rows].min()), int(lowest[rows].max()))


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
        places = list(dict.fromkeys(f"{s.a.point} and {s.b.point}" for s in sections))
        book.add(
            "cable-parts-ways",
            Place("circuits", "circuit", next(iter(group.members))),
            group=f"{group_id} {group.name}".strip(),
            places=list_in_words(places[:4]),
            pieces=in_words(len(mine)),
        )
