"""The route drawn to scale: every branch a straight line as long as it is.

The longest run lies level. What hangs from it is spread like a fan, whole, and turned to where it
crosses nothing and keeps farthest from what lies there already.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from inkthread.core.document.types import Branch, Point, Route
from inkthread.core.physics.conductor import FloatArray
from inkthread.core.record import record
from inkthread.core.route.tree import neighbours

_GAP_MM = 200.0
"""Between parts of a harness that are not joined."""
_LEANS = (55, -55, 80, -80, 105, -105, 35, -35, 130, -130, 20, -20, 150, -150, 68, -68, 92, -92, 5, -5)
"""Ways in deg that what hangs may be turned, best liked first."""
_CROSSED, _LIKED_LESS = 100.0, 0.02
"""What a crossing costs, and a way to turn that is liked less, where a point on another costs 1."""
_AT_HAND = 60_000
"""Pairs of points and branches that are looked at together."""
_FAN = 72.0
"""Half of the widest fan in deg; within it nothing crosses, as each branch keeps to its own part."""
_WIDER_AT_MOST = 60
"""Points of a fan that is tried wider first."""
_TINY = 1e-6
"""Lines cross where the ends of each lie on either side of the other by more (mm2)."""


@record
class LaidPoint:
    """Where a point lies on the board, in mm; y grows downward."""

    x_mm: float
    y_mm: float
    station_mm: float | None = None
    """Along the harness from the datum; None where there is none."""


Shape = tuple[tuple[tuple[str, float, bool], ...], tuple[tuple[str, str, str, float], ...]]
"""All that a drawing hangs on: points with order and datum; branches with both ends and length in mm."""


def shape_of(route: Route) -> Shape:
    """What a drawing hangs on, so that it need not be laid out anew for what it does not."""
    branches = sorted(route.branches.items(), key=lambda kv: kv[1].order)
    return (
        tuple((p, point.order, point.datum) for p, point in route.points.items()),
        tuple((b, branch.from_point, branch.to_point, branch.length_mm) for b, branch in branches),
    )


def lay_out(shape: Shape) -> dict[str, LaidPoint]:
    """Positions of all points. Components lie one below the other."""
    points, branches = shape
    route = Route(
        {p: Point(order, datum=datum) for p, order, datum in points},
        {b: Branch(float(n), one, other, length_mm) for n, (b, one, other, length_mm) in enumerate(branches)},
    )
    return _stations(route, _laid_out(route))


def _stations(route: Route, laid: dict[str, LaidPoint]) -> dict[str, LaidPoint]:
    """Distances from the first datum of every part of the route that has one."""
    near = neighbours(route)
    station: dict[str, float] = {}
    for start, point in sorted(route.points.items(), key=lambda kv: kv[1].order):
        if not point.datum or start in station:
            continue
        station[start] = 0.0
        stack = [start]
        while stack:
            at = stack.pop()
            for branch_id, other in near[at]:
                if other not in station:
                    station[other] = station[at] + route.branches[branch_id].length_mm
                    stack.append(other)
    return {p: LaidPoint(place.x_mm, place.y_mm, station.get(p)) for p, place in laid.items()}


def _laid_out(route: Route) -> dict[str, LaidPoint]:
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


@dataclass(slots=True)
class _Fan:
    """What hangs at one point, laid out along +x from the origin: points and, of each, what it hangs on."""

    points: list[str]
    on: list[int]
    """Place in ``points``; -1 for the point all hang on."""
    at: FloatArray
    """(points, 2)"""


def _lay_component(
    near: dict[str, list[tuple[str, str]]], length: dict[str, float], spine: list[str]
) -> dict[str, LaidPoint]:
    placed: dict[str, tuple[float, float]] = {}
    x = 0.0
    previous: str | None = None
    begins: list[tuple[float, float]] = []
    ends: list[tuple[float, float]] = []
    for point in spine:
        if previous is not None:
            begins.append((x, 0.0))
            x += next(length[b] for b, other in near[previous] if other == point)
            ends.append((x, 0.0))
        placed[point] = (x, 0.0)
        previous = point
    wanted_mm = max(x * 0.12, 40.0)
    fans = [
        (point, _fan(near, length, branch_id, other, point))
        for point in spine
        for branch_id, other in near[point]
        if other not in placed
    ]
    # The largest first: what is small finds a place between.
    fans.sort(key=lambda one: -len(one[1].points))
    sides = 0
    for point, fan in fans:
        apex = np.array(placed[point])
        angle = _turn(fan, apex, np.array(begins), np.array(ends), wanted_mm, sides)
        sides += 1 if angle > 0 else -1
        turned = apex + fan.at @ _rotation(math.radians(angle)).T
        for n, name in enumerate(fan.points):
            place = (float(turned[n, 0]), float(turned[n, 1]))
            placed[name] = place
            begins.append(placed[point] if fan.on[n] < 0 else placed[fan.points[fan.on[n]]])
            ends.append(place)
    return {p: LaidPoint(px, py) for p, (px, py) in placed.items()}


def _fan(
    near: dict[str, list[tuple[str, str]]],
    length: dict[str, float],
    branch_id: str,
    first: str,
    point: str,
) -> _Fan:
    """Lay one hanging part along +x; every fork shares its angle out by what hangs on each side."""
    size: dict[str, int] = {}
    order: list[tuple[str, str]] = []
    stack = [(first, point)]
    while stack:
        at, before = stack.pop()
        order.append((at, before))
        stack += [(o, at) for _, o in near[at] if o != before]
    for at, before in reversed(order):
        size[at] = max(sum(size[o] for _, o in near[at] if o != before), 1)
    for wider in (3.0, 2.0, 1.4) if len(order) <= _WIDER_AT_MOST else ():
        fan = _spread(near, length, size, branch_id, first, point, wider)
        if not _crosses_itself(fan):
            return fan
    return _spread(near, length, size, branch_id, first, point, 1.0)


def _spread(
    near: dict[str, list[tuple[str, str]]],
    length: dict[str, float],
    size: dict[str, int],
    branch_id: str,
    first: str,
    point: str,
    wider: float,
) -> _Fan:
    """A fan. With ``wider`` at 1 every part keeps to its own angle; wider, forks far out open again."""
    points, on, at_xy = [first], [-1], [(length[branch_id], 0.0)]
    queue = [(0, point, 0.0, _FAN)]
    while queue:
        index, before, angle, half = queue.pop()
        hanging = [(b, o) for b, o in near[points[index]] if o != before]
        total = sum(size[o] for _, o in hanging)
        start = angle - half
        for b, o in hanging:
            part = half * size[o] / total
            lean_deg = start + part
            start += 2 * part
            x, y = at_xy[index]
            points.append(o)
            on.append(index)
            radians = math.radians(lean_deg)
            at_xy.append((x + length[b] * math.cos(radians), y + length[b] * math.sin(radians)))
            queue.append((len(points) - 1, points[index], lean_deg, min(part * wider, _FAN)))
    return _Fan(points, on, np.array(at_xy))


def _crosses_itself(fan: _Fan) -> bool:
    """Whether any two branches of a fan cross."""
    ends = fan.at
    begins = np.array([(0.0, 0.0) if n < 0 else tuple(fan.at[n]) for n in fan.on])
    b, e = (begins[:, 0], begins[:, 1]), (ends[:, 0], ends[:, 1])
    f, g = (b[0][:, None], b[1][:, None]), (e[0][:, None], e[1][:, None])
    one = _side(b, e, f) * _side(b, e, g) < -_TINY
    other = _side(f, g, b) * _side(f, g, e) < -_TINY
    return bool((one & other).any())


def _rotation(angle_rad: float) -> FloatArray:
    return np.array([[math.cos(angle_rad), -math.sin(angle_rad)], [math.sin(angle_rad), math.cos(angle_rad)]])


def _side(
    a: tuple[FloatArray, FloatArray], b: tuple[FloatArray, FloatArray], p: tuple[FloatArray, FloatArray]
) -> FloatArray:
    """On which side of the line from a to b the point p lies."""
    side: FloatArray = (b[0] - a[0]) * (p[1] - a[1]) - (b[1] - a[1]) * (p[0] - a[0])
    return side


def _turn(
    fan: _Fan, apex: FloatArray, begins: FloatArray, ends: FloatArray, wanted_mm: float, sides: int
) -> float:
    """The angle in deg at which a fan crosses least and keeps clear; the other side in turn."""
    leans = np.array(_LEANS, dtype=float) * (-1.0 if sides >= 0 else 1.0)
    # What lies farther off than it reaches, and is wanted clear, is never in its way.
    reach_mm = float(np.hypot(fan.at[:, 0], fan.at[:, 1]).max()) + wanted_mm
    low, high = np.minimum(begins, ends), np.maximum(begins, ends)
    near = ((high >= apex - reach_mm) & (low <= apex + reach_mm)).all(axis=1)
    if not near.any():
        return float(leans[0])
    # As many at a time as a processor keeps at hand.
    few = max(1, _AT_HAND // (len(fan.points) * int(near.sum())))
    best_deg, least = float(leans[0]), math.inf
    for n in range(0, len(leans), few):
        if least <= n * _LIKED_LESS:
            break  # at no later one it can be better
        some = leans[n : n + few]
        cost = np.arange(n, n + len(some)) * _LIKED_LESS
        cost += _in_the_way(fan, apex, some, begins[near], ends[near], wanted_mm)
        if cost.min() < least:
            best_deg, least = float(some[int(cost.argmin())]), float(cost.min())
    return best_deg


def _in_the_way(
    fan: _Fan, apex: FloatArray, leans_deg: FloatArray, begins: FloatArray, ends: FloatArray, wanted_mm: float
) -> FloatArray:
    """How much a fan, turned by each angle, crosses what lies there already and comes near it. (angles,)."""
    radians = np.radians(leans_deg)
    cos, sin = np.cos(radians)[:, None], np.sin(radians)[:, None]
    x = apex[0] + cos * fan.at[None, :, 0] - sin * fan.at[None, :, 1]
    y = apex[1] + sin * fan.at[None, :, 0] + cos * fan.at[None, :, 1]
    on = np.array(fan.on)
    from_x = np.where(on[None, :] < 0, apex[0], x[:, np.maximum(on, 0)])
    from_y = np.where(on[None, :] < 0, apex[1], y[:, np.maximum(on, 0)])
    (bx, by), (ex, ey) = begins.T, ends.T
    f = (from_x[..., None], from_y[..., None])
    g = (x[..., None], y[..., None])
    b, e = (bx, by), (ex, ey)
    one = _side(b, e, f) * _side(b, e, g) < -_TINY
    other = _side(f, g, b) * _side(f, g, e) < -_TINY
    crossing = (one & other).sum(axis=(1, 2))
    # How near the new points come to what is there.
    along_x, along_y = ex - bx, ey - by
    square = np.maximum(along_x**2 + along_y**2, _TINY)
    share = np.clip(((g[0] - bx) * along_x + (g[1] - by) * along_y) / square, 0, 1)
    apart_x, apart_y = g[0] - bx - share * along_x, g[1] - by - share * along_y
    far = np.sqrt((apart_x**2 + apart_y**2).min(axis=2))
    near = np.clip(1 - far / wanted_mm, 0, 1).sum(axis=1)
    return np.asarray(crossing * _CROSSED + near, dtype=float)
