"""How long a fuse or breaker holds a current, and by when it has certainly opened."""

from __future__ import annotations

import itertools
import math

from inkthread.core.catalogue import ProtectionCurve


def holds_at_least_s(curve: ProtectionCurve, current_a: float, rating_a: float) -> float:
    """Least time in s before it may open (the fast edge); infinite below the first point."""
    return _edge(curve, current_a / rating_a * 100, 1)


def opens_within_s(curve: ProtectionCurve, current_a: float, rating_a: float) -> float:
    """Time in s by which it has certainly opened (the slow edge); infinite where it may never."""
    return _edge(curve, current_a / rating_a * 100, 2)


def _edge(curve: ProtectionCurve, percent: float, column: int) -> float:
    """Time at a percentage of the rating, straight in logarithms between the points.

    Beyond the last point the energy let through stays: time falls with the square of the current.
    """
    points = [(p[0], p[column]) for p in curve.points if p[column] is not None]
    known = [(p, float(t)) for p, t in points if t is not None]
    if percent < known[0][0]:
        return math.inf
    if percent >= known[-1][0]:
        last_percent, last_s = known[-1]
        return last_s * (last_percent / percent) ** 2
    for (below, slow), (above, fast) in itertools.pairwise(known):
        if below <= percent < above:
            share = math.log(percent / below) / math.log(above / below)
            return math.exp(math.log(slow) + share * math.log(fast / slow))
    return math.inf
