"""The zones a connector lies in, and what their water and dust ask of it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from inkthread.core.catalogue.ends import Protection
from inkthread.core.document.types import Branch, Document, Zone

IMMERSED_M, IMMERSED_MIN = 1.0, 30.0
"""What IPX7 is tried in: up to 1 m of water for half an hour (IEC 60529, 14.2.7, from memory)."""


def class_wanted(zone: Zone) -> tuple[Protection, str] | None:
    """The protection class that a zone's water and dust ask for, and these in words; None where it is dry.

    Deeper or longer than IPX7 is tried in is IPX8, as agreed with the maker (IEC 60529, from memory).
    """
    if zone.jets:
        return "IP69K", "jets of water"
    if zone.immersed:
        deep, long = zone.immersed_m or 0.0, zone.immersed_min or 0.0
        if deep > IMMERSED_M or long > IMMERSED_MIN:
            said = [*([f"{deep:g} m"] if deep else []), *([f"{long:g} min"] if long else [])]
            return "IP68", f"standing under water, {' for '.join(said)}"
        return "IP67", "standing under water"
    if zone.wet or zone.salt:
        return "IP54", "salt water" if zone.salt else "water"
    return ("IP54", "dust") if zone.dust else None


Touching = Mapping[str, Sequence[Branch]]
"""Point to the branches that end there."""


def touching_branches(document: Document) -> Touching:
    """For where many points are asked about."""
    touching: dict[str, list[Branch]] = {}
    for branch in document.route.branches.values():
        for point in dict.fromkeys((branch.from_point, branch.to_point)):
            touching.setdefault(point, []).append(branch)
    return touching


def zones_at(document: Document, point: str | None, touching: Touching | None = None) -> tuple[Zone, ...]:
    """The zone that a point names, else those of the branches that end there."""
    branches = document.route.branches.values() if touching is None else touching.get(point or "", ())
    own = document.route.points[point].zone if point in document.route.points else None
    if own is not None:
        return (document.brief.zones[own],)
    met: dict[str, Zone] = {}
    for branch in branches:
        if point in (branch.from_point, branch.to_point):
            whole = [branch.zone] if branch.zone else []
            for stretch in branch.stretches.values():
                at_end = branch.from_point == point and stretch.from_mm <= 0
                at_end |= branch.to_point == point and stretch.to_mm >= branch.length_mm
                if at_end:
                    whole = [stretch.zone]
            for zone_id in whole:
                met[zone_id] = document.brief.zones[zone_id]
    return tuple(met.values())


def zones_about(document: Document, point: str | None, touching: Touching) -> tuple[Zone, ...]:
    """The zones that a point lies within: none where a branch leads out of them there, for it is at their
    edge. A point that names its zone lies in it.
    """
    met = zones_at(document, point, touching)
    if point in document.route.points and document.route.points[point].zone is not None:
        return met
    for branch in touching.get(point or "", ()):
        stretch = [
            s.zone
            for s in branch.stretches.values()
            if (branch.from_point == point and s.from_mm <= 0)
            or (branch.to_point == point and s.to_mm >= branch.length_mm)
        ]
        zone = stretch[-1] if stretch else branch.zone
        if zone is None or class_wanted(document.brief.zones[zone]) is None:
            return ()
    return met
