"""Cables to cut: each in one piece, its cores and its shield with it."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass

from inkthread.core.catalogue import WireFamily
from inkthread.core.document.types import Document
from inkthread.core.route import RouteResult
from inkthread.core.wire import WireResult
from inkthread.core.wire.cables import core_sizes


@dataclass(frozen=True, slots=True)
class Cable:
    """One piece of cable to cut: its cores are cut together, its unused ones with them."""

    id: str
    """``crank`` for the first piece of a group, ``crank/2`` for the second."""
    group: str
    part: str
    """Family and gauge."""
    cores: int
    """In the cable; more than its wires where some are not used."""
    wires: tuple[str, ...]
    shield: str | None
    """The wire that is its shield, if it has one that is landed."""
    cut_mm: float
    from_text: str
    to_text: str
    mass_g: float
    unused: tuple[str, ...] = ()
    """Colours of the cores that are no wire: cut back and capped."""
    peels: tuple[str, ...] = ()
    """Of a strip of ribbon, in words: which core leaves it after what length, and how far it goes on."""


def _unused(wire: WireResult, wires: tuple[str, ...], family: WireFamily, cores: int) -> tuple[str, ...]:
    """Colours of the cores that no wire of the harness is, each as often as it is left."""
    left = [family.colours[n % len(family.colours)] if family.colours else "" for n in range(cores)]
    for key in wires:
        colour = wire.wires[key].colour
        if colour in left:
            left.remove(colour)
        elif left:
            left.pop()
    return tuple(left)


def _peels(route: RouteResult, wires: tuple[str, ...], longest: str) -> Iterator[str]:
    """Cores that leave the longest on their way."""
    whole = set(route.sections[longest].spans)
    for key in wires:
        section = route.sections[key]
        alone = [high - low for span in section.spans if span not in whole for _, low, high in (span,)]
        if alone:
            along = section.length_mm - sum(alone)
            yield f"{section.label} peels off after {along:.0f} mm and goes on {sum(alone):.0f} mm"


def cut_cables(
    document: Document, route: RouteResult, wire: WireResult, alone_mm: dict[str, float]
) -> list[Cable]:
    """Every piece of cable, as long as the longest of its cores asks for by itself."""
    shields: dict[tuple[str, frozenset[str]], str] = {}
    for key, section in route.sections.items():
        for group_id, group in document.circuits.groups.items():
            if group.shield == section.circuit:
                shields[group_id, frozenset((section.a.point, section.b.point))] = key
    cables: list[Cable] = []
    count: dict[str, int] = {}
    for piece in wire.tables.cables:
        first = max(piece.wires, key=lambda k: alone_mm[k])
        sized, section = wire.wires[first], route.sections[first]
        family = wire.families[sized.family]
        between = frozenset((section.a.point, section.b.point))
        shield = shields.pop((piece.group, between), None) if family.shielded else None
        cores = family.cores * math.ceil(len(piece.wires) / family.cores)
        weights = [s.mass_g_per_m for s in core_sizes(family, wire.size(first), cores)]
        count[piece.group] = number = count.get(piece.group, 0) + 1
        cables.append(
            Cable(
                piece.group if number == 1 else f"{piece.group}/{number}",
                piece.group,
                family.sold_as(sized.gauge),
                cores,
                piece.wires,
                shield,
                alone_mm[first],
                sized.from_text,
                sized.to_text,
                round(alone_mm[first] * sum(weights) / 1000, 3),
                _unused(wire, piece.wires, family, cores),
                tuple(_peels(route, piece.wires, first)),
            )
        )
    return sorted(cables, key=lambda c: (-c.cut_mm, c.id))
