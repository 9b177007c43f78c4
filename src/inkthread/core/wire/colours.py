"""Colours by role, with no repeat inside a connector where that can be avoided."""

from __future__ import annotations

from inkthread.core.catalogue import Catalogue, WireFamily
from inkthread.core.circuits import CircuitsResult
from inkthread.core.document.types import Document
from inkthread.core.route import RouteResult


def choose_colours(
    document: Document,
    catalogue: Catalogue,
    family: WireFamily,
    circuits: CircuitsResult,
    route: RouteResult,
) -> dict[str, str]:
    """Colour code of every circuit: the first of its role's that no neighbour in a connector has."""
    used: dict[str, dict[str, int]] = {}
    connectors_of: dict[str, set[str]] = {}
    for section in route.sections.values():
        for end in (section.a, section.b):
            if end.connector is not None:
                connectors_of.setdefault(section.circuit, set()).add(end.connector)
    chosen: dict[str, str] = {}
    made = {
        role: [c for c in codes if family.tracers or "/" not in c]
        for role, codes in catalogue.colour_scheme.items()
    }
    order = document.circuits.circuits
    for circuit in sorted(connectors_of, key=lambda c: order[c].order):
        role = circuits.circuits[circuit].role
        options = made[role]
        taken = [used.setdefault(k, {}) for k in connectors_of[circuit]]
        colour = _least_used(options, taken)
        chosen[circuit] = colour
        for t in taken:
            t[colour] = t.get(colour, 0) + 1
    return chosen


def _least_used(options: list[str], taken: list[dict[str, int]]) -> str:
    """The first colour in no connector yet, else the one least repeated in any."""
    best, fewest = options[0], 1 << 30
    for option in options:
        most = 0
        for counts in taken:
            count = counts.get(option, 0)
            if count > most:
                most = count
        if most == 0:
            return option
        if most < fewest:
            best, fewest = option, most
    return best
