"""What lies in every branch as one thing: a wire, a cable, or wires that are twisted together by hand."""

from __future__ import annotations

from collections.abc import Mapping

from inkthread.core.catalogue import WireFamily
from inkthread.core.document.types import Document
from inkthread.core.physics.packing import packed_diameter
from inkthread.core.record import record
from inkthread.core.route import Threaded
from inkthread.core.wire import MadeWires, twisted_by_hand


@record
class Thing:
    """A round thing in a branch. Diameters in mm."""

    name: str
    """A wire's key, ``cable`` and its group, ``twisted`` and its group."""
    outside_mm: float
    family: WireFamily
    wires: tuple[tuple[str, float], ...]
    """Of a twist: its wires with their diameters; else none."""
    solid: bool


Lying = Mapping[str, Mapping[str, Thing]]


def what_lies(document: Document, route: Threaded, wire: MadeWires) -> dict[str, dict[str, Thing]]:
    """By branch and name. What lands the shield of a cable is the cable's own shield, and no thing.

    Wires of a twist are one where two or more of them share the branch: as wide as they turn.
    """
    lying: dict[str, dict[str, Thing]] = {b: {} for b in document.route.branches}
    shields = {
        g.shield
        for g in document.circuits.groups.values()
        if g.family in wire.families and wire.families[g.family].shielded
    }
    twists = twisted_by_hand(document)
    turned: dict[tuple[str, str], list[Thing]] = {}
    for s in route.sections.values():
        if s.circuit in shields:
            continue
        sized, size = wire.wires[s.key], wire.size(s.key)
        family = wire.families[sized.family]
        thing = Thing(s.key, sized.od_mm, family, (), size.solid)
        if sized.cable is not None and family.cores > 1:
            # Its cores lie in one cable; where two groups of one circuit meet, each has its own.
            thing = Thing(f"cable {sized.cable}", size.cable_od_mm or sized.od_mm, family, (), False)
        for b in s.branches:
            if s.circuit in twists and not thing.name.startswith("cable "):
                turned.setdefault((b, twists[s.circuit]), []).append(thing)
            else:
                lying[b][thing.name] = thing
    for (b, group), things in turned.items():
        if len(things) == 1:
            lying[b][things[0].name] = things[0]
            continue
        wires = tuple((t.name, t.outside_mm) for t in things)
        round_mm = packed_diameter(d for _, d in wires)
        name = f"twisted {group}"
        lying[b][name] = Thing(name, round_mm, things[0].family, wires, any(t.solid for t in things))
    return lying


def wire_masses(document: Document, route: Threaded, wire: MadeWires) -> dict[str, float]:
    """What the wires in every branch weigh, in g."""
    masses = dict.fromkeys(document.route.branches, 0.0)
    for section in route.sections.values():
        per_m = wire.size(section.key).mass_g_per_m
        for branch_id, low_mm, high_mm in section.spans:
            masses[branch_id] += (high_mm - low_mm) / 1000 * per_m
    return {branch_id: round(mass_g, 2) for branch_id, mass_g in masses.items()}
