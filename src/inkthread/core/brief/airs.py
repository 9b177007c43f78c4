"""The air that every stretch of a branch, and every point, lies in."""

from __future__ import annotations

import itertools
import math
from typing import NamedTuple

from inkthread.core.document.types import Branch, Document

HOT_C = 70.0
"""Air from which on a zone is called hot: soft plastics and hands mind it (common practice, no source)."""


class Air(NamedTuple):
    """Ambient in deg C, heat that falls on what lies there in W/m2, and the zone it is of."""

    ambient_c: float
    radiant_w_per_m2: float = 0.0
    zone: str | None = None

    @property
    def severity(self) -> tuple[float, float]:
        """The hotter of two airs has the greater."""
        return self.ambient_c, self.radiant_w_per_m2


class Stretch(NamedTuple):
    """A stretch of a branch in one air, measured from the branch's first point. Lengths in mm."""

    from_mm: float
    to_mm: float
    air: Air


def zone_air(document: Document, zone: str | None, default_ambient_c: float) -> Air:
    """The air of a zone; that of the machine at large where none is named."""
    if zone is None:
        return Air(default_ambient_c)
    stated = document.brief.zones[zone]
    return Air(stated.ambient_c, stated.radiant_w_per_m2, zone)


def branch_airs(document: Document, default_ambient_c: float) -> dict[str, tuple[Stretch, ...]]:
    """Every branch cut where its air changes. A stretch goes before the branch's own zone; of stretches
    that overlap, the hotter. A branch of no length is one stretch."""
    return {
        branch_id: _cut(document, branch, default_ambient_c)
        for branch_id, branch in document.route.branches.items()
    }


def _cut(document: Document, branch: Branch, default_ambient_c: float) -> tuple[Stretch, ...]:
    whole = zone_air(document, branch.zone, default_ambient_c)
    if not branch.stretches:
        return (Stretch(0.0, branch.length_mm, whole),)
    stretches = [
        (min(s.from_mm, s.to_mm), max(s.from_mm, s.to_mm), zone_air(document, s.zone, default_ambient_c))
        for s in branch.stretches.values()
    ]
    marks = {0.0, branch.length_mm, *(min(mm, branch.length_mm) for s in stretches for mm in s[:2])}
    edges = sorted(marks)
    stretches_of_one_air: list[Stretch] = []
    for low, high in itertools.pairwise(edges):
        over = [air for start, end, air in stretches if start <= low and high <= end]
        air = max(over, key=lambda a: a.severity) if over else whole
        if stretches_of_one_air and stretches_of_one_air[-1].air == air:
            low = stretches_of_one_air.pop().from_mm
        stretches_of_one_air.append(Stretch(low, high, air))
    return tuple(stretches_of_one_air) or (Stretch(0.0, branch.length_mm, whole),)


def point_airs(
    document: Document, airs: dict[str, tuple[Stretch, ...]], default_ambient_c: float
) -> dict[str, Air]:
    """The air at every point: of the zone it names, else the hottest that meets there."""
    at_point: dict[str, Air] = {}
    for branch_id, branch in document.route.branches.items():
        for point, stretch in (
            (branch.from_point, airs[branch_id][0]),
            (branch.to_point, airs[branch_id][-1]),
        ):
            if point not in at_point or at_point[point].severity < stretch.air.severity:
                at_point[point] = stretch.air
    for point_id, stated in document.route.points.items():
        if stated.zone is not None or point_id not in at_point:
            at_point[point_id] = zone_air(document, stated.zone, default_ambient_c)
    return at_point


def hottest_on(
    airs: dict[str, tuple[Stretch, ...]], spans: tuple[tuple[str, float, float], ...]
) -> Air | None:
    """The hottest air of the stretches that spans (branch, from mm, to mm) pass, the first of equals; None
    where they pass none."""
    hottest: Air | None = None
    worst = -math.inf, 0.0
    for branch, low, high in spans:
        stretches = airs[branch]
        if len(stretches) == 1 and high > low:  # it holds all that passes its branch
            passed = [stretches[0].air]
        else:
            passed = [
                s.air
                for s in stretches
                if min(high, s.to_mm) > max(low, s.from_mm) or (low == high and s.from_mm <= low <= s.to_mm)
            ]
        for air in passed:
            if air is not hottest and (severity := air.severity) > worst:
                hottest, worst = air, severity
    return hottest
