"""Loose plugs that lie together, against one connector for all their pins: how many, and at what cost."""

from __future__ import annotations

from dataclasses import replace

from inkthread.core.catalogue import Catalogue
from inkthread.core.context import Context
from inkthread.core.document.pin_ref import device_of
from inkthread.core.document.types import Document
from inkthread.core.ends.rank import FamilyChoice, rank_families
from inkthread.core.record import record
from inkthread.core.route import RouteResult
from inkthread.core.wire import WireResult

_FEW_WAYS = 4
"""A plug of so few ways is one of several that may as well be one."""


@record
class Grouped:
    """Plugs beside each other as they are, and as one that cannot be mixed up with another."""

    connectors: tuple[str, ...]
    plugs: int
    parts_cost: float
    """Of the plugs as they are, for one harness."""
    one: FamilyChoice
    """The best family for all of their pins."""
    line: str
    """The typed line that makes them one."""


def grouped_plugs(
    context: Context, route: RouteResult, wire: WireResult, connector_id: str
) -> Grouped | None:
    """The plugs that lie at the place of a connector and hold pins of its devices, as one; None where it lies
    alone, or no family takes them all. Raises KeyError for no such connector.
    """
    document, catalogue = context.document, context.catalogue
    together = _beside(document, catalogue, connector_id)
    if len(together) < 2:
        return None
    cost = 0.0
    for one in together:
        now = document.ends.connectors[one]
        ranking = rank_families(context, route, wire, one)
        priced = next((c for c in ranking.choices if c.family == now.family), None)
        if priced is None:
            return None
        cost += priced.parts_cost
    pinout = {
        ref: replace(e, connector=connector_id) if e.connector in together else e
        for ref, e in document.ends.pinout.items()
    }
    joined = replace(document, ends=replace(document.ends, pinout=pinout))
    ranking = rank_families(replace(context, document=joined), route, wire, connector_id)
    best = next((c for c in ranking.choices if _keyed(catalogue, c)), None)
    if best is None:
        return None
    others = " ".join(k for k in together if k != connector_id)
    line = f"{connector_id} {best.family} {best.ways} way takes {others}"
    return Grouped(together, len(together), round(cost, 2), best, line)


def _beside(document: Document, catalogue: Catalogue, connector_id: str) -> tuple[str, ...]:
    """Plugs of few ways at one point that hold pins of one device, this one first."""
    connectors = document.ends.connectors
    devices: dict[str, set[str]] = {}
    for ref, entry in document.ends.pinout.items():
        devices.setdefault(entry.connector, set()).add(device_of(ref))
    this = connectors[connector_id]

    def alike(other: str) -> bool:
        c = connectors[other]
        family = catalogue.connectors[c.family]
        return (
            not family.loose
            and not family.genderless
            and c.ways <= _FEW_WAYS
            and c.meets is None
            and c.point is not None
            and (c.point, c.shell) == (this.point, this.shell)
            and bool(devices.get(other, set()) & devices.get(connector_id, set()))
        )

    if not alike(connector_id):
        return (connector_id,)
    return (connector_id, *(k for k in connectors if k != connector_id and alike(k)))


def _keyed(catalogue: Catalogue, choice: FamilyChoice) -> bool:
    """Whether it goes in one way round only and stays: more than friction holds it."""
    family = catalogue.connectors[choice.family]
    return not family.loose and bool(set(family.locks) - {"friction"})
