"""The route drawn to scale: every branch a straight line as long as it is.

The longest run lies level; what hangs from it leans out above and below in turn.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from inkthread.core.document.types import Route
from inkthread.core.route.tree import neighbours

_GAP_MM = 200.0


@dataclass(frozen=True, slots=True)
class LaidPoint:
    """Where a point lies on the board, in mm; y grows downward."""

    x_mm: float
    y_mm: float


def lay_out(route: Route) -> dict[str, LaidPoint]:
    """Positions of all points. Components lie one below the other."""
    near = neighbours(route)
    length = {b: branch.length_mm for b, branch in route.branches.items()}
    laid: dict[str, LaidPoint] = {}
    bottom = 0.0
    for start, _ in sorted(route.points.items(), key=lambda kv: kv[1].order):
        if start in laid:
            continue
        first = _farthest(near, length, start)[-1]
        spine = _farthest(near, length, first)
        ranks = {p: route.points[p].order for p in (spine[0], spine[-1])}
        if ranks[spine[0]] > ranks[spine[-1]]:
            spine.reverse()
        placed = _lay_component(near, length, spine)
        top = min(p.y_mm for p in placed.values())
        shift = bottom - top if laid else 0.0
        laid |= {k: LaidPoint(p.x_mm, p.y_mm + shift) for k, p in placed.items()}
        bottom = max(p.y_mm for p in laid.values()) + _GAP_MM
    return laid


def _farthest(near: dict[str, list[tuple[str, str]]], length: dict[str, float], start: str) -> list[str]:
    """The longest run from a point, as the points along it."""
    came: dict[str, str | None] = {start: None}
    far = {start: 0.0}
    stack = [start]
    while stack:
        point = stack.pop()
        for branch_id, other in near[point]:
            if other not in came:
                came[other] = point
                far[other] = far[point] + length[branch_id]
                stack.append(other)
    at: str | None = max(far, key=lambda p: (far[p], p))
    run: list[str] = []
    while at is not None:
        run.append(at)
        at = came[at]
    run.reverse()
    return run


def _lay_component(
    near: dict[str, list[tuple[str, str]]], length: dict[str, float], spine: list[str]
) -> dict[str, LaidPoint]:
    placed: dict[str, LaidPoint] = {}
    x = 0.0
    previous: str | None = None
    for point in spine:
        if previous is not None:
            x += next(length[b] for b, other in near[previous] if other == point)
        placed[point] = LaidPoint(x, 0.0)
        previous = point
    side = 1
    stack: list[tuple[str, float, int]] = []
    for position, point in enumerate(spine):
        hanging = [(b, o) for b, o in near[point] if o not in placed]
        for rank, (branch_id, other) in enumerate(hanging):
            side = -side
            lean = 50.0 if position < len(spine) - 1 else 20.0
            angle = side * (lean + 22.0 * (rank // 2))
            placed[other] = _step(placed[point], angle, length[branch_id])
            stack.append((other, angle, side))
    while stack:
        point, angle, side = stack.pop()
        hanging = [(b, o) for b, o in near[point] if o not in placed]
        count = len(hanging)
        for rank, (branch_id, other) in enumerate(hanging):
            spread = 0.0 if count == 1 else (rank - (count - 1) / 2) * min(56.0, 140.0 / count)
            placed[other] = _step(placed[point], angle + spread, length[branch_id])
            stack.append((other, angle + spread, side))
    return placed


def _step(start: LaidPoint, angle_deg: float, length_mm: float) -> LaidPoint:
    angle = math.radians(angle_deg)
    return LaidPoint(start.x_mm + length_mm * math.cos(angle), start.y_mm + length_mm * math.sin(angle))
