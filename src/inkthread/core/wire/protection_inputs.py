"""What protects each wire, in the order of the wires."""

from __future__ import annotations

import numpy as np

from inkthread.core.catalogue import Catalogue
from inkthread.core.circuits import (
    CircuitsResult,
    Loop,
    SourceFacts,
    driven_otherwise,
    most_current_a,
    never_clears,
)
from inkthread.core.document.types import Document
from inkthread.core.physics.conductor import BoolArray, FloatArray
from inkthread.core.record import record
from inkthread.core.route import RouteResult, Section
from inkthread.core.wire.limits import OVERLOAD_LONG


@record
class ProtectionOn:
    """What protects each wire, in A. (n,)."""

    single_a: FloatArray
    """Rating of the one fuse that protects it, or what the protection behind it lets through."""
    sum_a: FloatArray
    """Sum of the ratings of those that feed a shared return."""
    ahead: BoolArray
    """Whether it lies ahead of the first protection: ``single_a`` is then of what it feeds."""


def protection_on(
    document: Document,
    catalogue: Catalogue,
    circuits: CircuitsResult,
    route: RouteResult,
    sections: list[Section],
) -> ProtectionOn:
    """What protects each wire.

    Where no fuse can clear what a supply is limited to, that limit stands in for the rating. A wire
    ahead of the first protection is kept from overload only by what comes after it: it must stand the
    ratings behind it that can run together, or the source's limit.
    """
    rating_a = _standing_ratings_a(document, catalogue, circuits)
    single, feeding = _by_own_fuse_a(circuits, sections, rating_a)
    shared: dict[int, set[str]] = {}
    behind: dict[int, list[int]] = {}
    back_of: list[set[str]] = [{c.circuit for c in loop.back} for loop in circuits.loops]
    for n, i in zip(route.flow.loop.tolist(), route.flow.row.tolist(), strict=True):
        loop = circuits.loops[n]
        if i >= len(sections) or i in feeding:
            continue
        if sections[i].circuit in back_of[n]:
            if loop.fuses:
                shared.setdefault(i, set()).add(loop.fuses[-1])
            elif circuits.sources[loop.source].fuse_a is not None:
                rating_a[loop.source] = circuits.sources[loop.source].fuse_a or 0.0
                shared.setdefault(i, set()).add(loop.source)
        elif not loop.charging:
            behind.setdefault(i, []).append(n)
    ahead = np.zeros(len(sections), dtype=bool)
    states = circuits.states
    for i, loops in behind.items():
        through = _lets_through_a(states, [circuits.loops[n] for n in loops], rating_a)
        limit = circuits.sources[circuits.loops[loops[0]].source].limit_a
        if through > 0:
            ahead[i] = True
            single[i] = min(through, limit / OVERLOAD_LONG) if limit is not None else through
    total = np.zeros(len(sections))
    for i, fuses in shared.items():
        ratings = [rating_a[f] for f in fuses]
        if len(ratings) == 1:
            single[i] = ratings[0]
        else:
            total[i] = sum(ratings)
    return ProtectionOn(single, total, ahead)


def _standing_ratings_a(
    document: Document, catalogue: Catalogue, circuits: CircuitsResult
) -> dict[str, float]:
    """Rating of every fuse in A; the limit of its supply stands in where no fuse can clear that."""
    ratings: dict[str, float] = {}
    for key, fuse in circuits.fuses.items():
        source = circuits.sources.get(fuse.source or "")
        ratings[key] = fuse.rating_a
        if source is None or source.limit_a is None or not never_clears(catalogue, fuse, source):
            continue
        if not driven_otherwise(document, circuits, fuse):
            ratings[key] = source.limit_a / OVERLOAD_LONG
    return ratings


def _by_own_fuse_a(
    circuits: CircuitsResult, sections: list[Section], rating_a: dict[str, float]
) -> tuple[FloatArray, set[int]]:
    """(n,) by the fuse of the wire's own circuit, or what limits the source that feeds it; and which."""
    limited = {
        c: rating
        for s in circuits.sources.values()
        if (rating := _stands_for_fuse_a(s)) is not None
        for c, fuse in s.spread.items()
        if fuse is None
    }
    single = np.zeros(len(sections))
    feeding: set[int] = set()
    for i, s in enumerate(sections):
        fuse_key = circuits.circuits[s.circuit].fuse
        if fuse_key is not None:
            single[i] = rating_a[fuse_key]
            feeding.add(i)
        elif s.circuit in limited and circuits.role_of[s.circuit] != "ground":
            single[i] = limited[s.circuit]
            feeding.add(i)
    return single, feeding


def _stands_for_fuse_a(source: SourceFacts) -> float | None:
    """The rating in A that what a source is limited to comes to, or that of the fuse ahead of it."""
    if source.limit_a is not None and source.kind != "alternator":
        return source.limit_a / OVERLOAD_LONG
    return source.fuse_a


def _lets_through_a(states: int, loops: list[Loop], rating_a: dict[str, float]) -> float:
    """What the first protection of each of these loops lets through together, in the mode of most.

    Loads without protection count with what they draw. Nothing where none of them is protected.
    """
    most = 0.0
    for mode in range(states):
        running = [loop for loop in loops if loop.mode_fraction[mode] > 0]
        first = {loop.fuses[0] for loop in running if loop.fuses}
        if first:
            bare = sum(most_current_a(loop) * loop.mode_fraction[mode] for loop in running if not loop.fuses)
            most = max(most, sum(rating_a[f] for f in first) + bare / OVERLOAD_LONG)
    return most
