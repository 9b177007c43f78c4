"""Circles packed into a circle: a feasible arrangement, close to the tightest.

Largest first, each circle goes to the free place nearest the middle that touches two others. That
arrangement, and some like it that were shaken, are then pressed together from outside while circles push
each other apart, and the circle around them is drawn in as far as it goes. What comes out can always be
laid so: at the end all is spread until nothing overlaps.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from functools import lru_cache

import numpy as np

from inkthread.core.physics.conductor import BoolArray, FloatArray, IntArray
from inkthread.core.physics.pressing import ComplexArray, Laid, Starting, press
from inkthread.core.record import record

PACKED_AT_MOST = 60
"""More circles than this are bounded by their area instead."""
AREA_SHARE = 0.75
"""Share of the enclosing circle that many mixed circles fill, for the bound by area."""
_TOUCH = 1 - 1e-9
"""Circles as near as this share of their radii touch."""
_FEW, _RINGED = 3, 9
"""To so many circles the least circle around them is known outright; to so many all alike it is a ring of
them, with one in the middle or none (packing literature, from memory)."""
_AS_GOOD = 1.001
"""Laid around so little more than the least circle of the three largest, no more is sought."""
_TURNS = 56
_CLOSE_STARTS, _CLOSE_TURNS = 24, 400
_ALIKE = 0.01
"""Share of their radius by which circles may differ and still count as all alike."""
_MIDDLES = (0, 0.5, 0.5 + 1j * math.sqrt(3) / 6, 0.25 + 1j * math.sqrt(3) / 8, 0.3 + 0.1j)
"""Of a lattice: a point, between two, between three, and two that are none of these."""
_SHAKE = 0.4
"""Of a radius: how far circles are thrown apart before they are pressed again."""
_GOLDEN, _PLASTIC = 0.6180339887498949, 0.7548776662466927
"""Fractions whose multiples fill an interval evenly: they stand in for chance, and always fall alike."""
_PULL_AT_END, _CLOSE_PULL_AT_END = 0.002, 0.0008


@record
class Packing:
    """Circles as laid: centres about the middle of the circle around them."""

    diameter: float
    centres: tuple[tuple[float, float], ...]
    """In the order of the diameters given."""


def pack(diameters: tuple[float, ...]) -> Packing:
    """Lay circles of these diameters (any one length unit) into a circle.

    The answer is feasible, and no tighter than the best possible: within 3 % of the best known for sets
    that could be compared. At most a few hundred circles. Source: feasible by construction; tests hold it
    to the packing literature's best known (from memory).

    >>> round(pack((1.0,) * 7).diameter, 2)
    3.0
    """
    return pack_all((diameters,))[0]


def pack_all(sets: Sequence[tuple[float, ...]]) -> list[Packing]:
    """The same for many sets at once, which takes less time than one by one and comes out alike.
    Source: as ``pack``.

    >>> pack_all([(2.0, 1.0), (1.0,)]) == [pack((2.0, 1.0)), pack((1.0,))]
    True
    """
    slots = [_slot(diameters) for diameters in sets]
    lacking = {d: slot for d, slot in zip(sets, slots, strict=True) if not slot}
    for slot, packing in zip(lacking.values(), pack_anew(tuple(lacking)), strict=True):
        slot.append(packing)
    return [slot[0] for slot in slots]


@lru_cache(maxsize=4096)
def _slot(_diameters: tuple[float, ...]) -> list[Packing]:
    """Where a packing is kept once it is known."""
    return []


def packed_diameter(diameters: Iterable[float]) -> float:
    """Diameter of the circle around circles of these diameters, in whatever order. Source: as ``pack``.

    >>> packed_diameter([1.0, 2.0]) == packed_diameter([2.0, 1.0])
    True
    """
    return pack(tuple(sorted(diameters, reverse=True))).diameter


def bundle_diameters(bundles: Iterable[Iterable[float]]) -> list[float]:
    """Diameter of each bundle of wires of these diameters: as tightly as they can be laid, by area where they
    are more than ``PACKED_AT_MOST``. Source: as ``pack`` and ``bound_by_area``.

    >>> [round(d, 2) for d in bundle_diameters([[1.0] * 7, [1.0] * 75])]
    [3.0, 10.0]
    """
    sets = [tuple(sorted(wires, reverse=True)) for wires in bundles]
    few = [wires for wires in sets if len(wires) <= PACKED_AT_MOST]
    packed = {wires: packing.diameter for wires, packing in zip(few, pack_all(few), strict=True)}
    return [packed[wires] if wires in packed else bound_by_area(wires) for wires in sets]


@lru_cache(maxsize=256)
def pack_closely(diameters: tuple[float, ...]) -> Packing:
    """The same with more patience, to be looked at: within 1 % of the best known. Source: as ``pack``.

    >>> pack_closely((2.0, 1.0)).diameter <= pack((2.0, 1.0)).diameter
    True
    """
    quick = pack(diameters)
    close = pack_anew((diameters,), _CLOSE_STARTS, _CLOSE_TURNS, _CLOSE_PULL_AT_END)[0]
    return close if close.diameter < quick.diameter else quick


def pack_anew(
    sets: Sequence[tuple[float, ...]],
    starts: int | None = None,
    turns: int = _TURNS,
    pull_at_end: float = _PULL_AT_END,
) -> list[Packing]:
    """As ``pack_all``, with nothing known; from so many starts, in so many turns, as gently at their end.
    Source: as ``pack``.

    >>> pack_anew([(3.0,)])[0].diameter
    3.0
    """
    begun = [_begin(diameters, starts or _starts(len(diameters))) for diameters in sets]
    packings = []
    for own, pressed in zip(begun, press([b.starting for b in begun], turns, pull_at_end), strict=True):
        x, y, around = pressed if pressed[2] < own.laid[2] else own.laid
        centres = [(0.0, 0.0)] * len(own.order)
        for place, i in enumerate(own.order):
            centres[i] = (float(x[place]), float(y[place]))
        packings.append(Packing(2 * around, tuple(centres)))
    return packings


def _starts(count: int) -> int:
    """Few circles fall well or badly by chance, and are quickly pressed: from more starts."""
    return 12 if count <= 24 else 2


@record
class _Begun:
    """A set of circles as it is laid outright, and what it is pressed from."""

    order: tuple[int, ...]
    """The places in which they were given, in falling radius."""
    laid: Laid
    starting: Starting


def _begin(diameters: tuple[float, ...], starts: int) -> _Begun:
    """With no start where pressing could not better what is laid."""
    count = len(diameters)
    order = tuple(sorted(range(count), key=lambda i: -diameters[i]))
    radius = np.array([diameters[i] / 2 for i in order])
    none = Starting(radius, np.zeros((0, count), dtype=complex))
    if count <= _FEW:
        return _Begun(order, _few(*radius.tolist()) if count else (radius, radius, 0.0), none)
    laid = x, y, around = _laid_close(radius)
    least = _few(*radius[:_FEW].tolist())[2]
    if around <= least * _AS_GOOD or (count <= _RINGED and radius[0] == radius[-1]):
        return _Begun(order, laid, none)
    alike = float(radius[0] - radius[-1]) < _ALIKE * float(radius[0])
    if alike:
        begun = np.concatenate([_lattices(radius)] * max(starts // 4, 1))
    else:
        # As laid, with the largest in the middle; and with the largest outside, the smallest within.
        begun = np.stack([x + 1j * y, _spiral(radius[::-1])[::-1]] * (starts // 2))
    return _Begun(order, laid, Starting(radius, _shaken(begun, radius, still=0 if alike else 1)))


def _few(one: float, two: float | None = None, three: float | None = None) -> Laid:
    """Centres of one to three circles of falling radius, and the radius of the least circle around them.

    A third that fits beside the two largest, within the circle around them, asks for no more. Else all touch
    each other and the circle around them: Descartes' circle theorem.
    """
    if two is None:
        return np.zeros(1), np.zeros(1), one
    apart = one + two
    if three is None:
        return np.array([-two, one]), np.zeros(2), apart
    bends = 1 / one, 1 / two, 1 / three
    if bends[2] < bends[0] + bends[1] - 1 / apart:
        mixed = bends[0] * bends[1] + bends[1] * bends[2] + bends[2] * bends[0]
        around = 1 / (2 * math.sqrt(mixed) - sum(bends))
    else:
        around = apart
    # The first in the origin, the second beside it; the third, and the middle, by their distances to both.
    x, y = _by_distances(apart, one + three, two + three)
    mx, my = _by_distances(apart, around - one, around - two)
    centres_x, centres_y = np.array([0.0, apart, x]) - mx, np.array([0.0, 0.0, y]) - my
    reached = np.hypot(centres_x, centres_y) + np.array([one, two, three])
    return centres_x, centres_y, float(reached.max())


def _by_distances(apart: float, from_first: float, from_second: float) -> tuple[float, float]:
    """A point so far from the origin, and from another point on the x axis."""
    along = (from_first**2 - from_second**2 + apart**2) / (2 * apart)
    return along, math.sqrt(max(from_first**2 - along**2, 0.0))


def _laid_close(radius: FloatArray) -> Laid:
    """Centres and the radius of the circle around them, as they are laid one by one, or on a ring."""
    x, y = _laid(radius)
    cx, cy, around = _enclosing(x, y, radius)
    x, y = x - cx, y - cy
    for rx, ry, ring in _rings(radius):
        if ring < around:
            x, y, around = rx, ry, ring
    return x, y, around


def _lattices(radius: FloatArray) -> ComplexArray:
    """Circles all alike on a hexagonal lattice, about each of several middles. (starts, n)."""
    count = len(radius)
    reach = int(math.sqrt(count)) + 4
    i, j = np.meshgrid(np.arange(-reach, reach + 1), np.arange(-reach, reach + 1))
    lattice = (i + j / 2 + 1j * j * math.sqrt(3) / 2).ravel()
    lattices = []
    for middle in _MIDDLES:
        away = lattice - middle
        lattices.append(away[np.argsort(np.abs(away), kind="stable")[:count]])
    return np.stack(lattices) * 2 * float(radius[0])


def _spiral(radius: FloatArray) -> ComplexArray:
    """Circles along a spiral, the first in the middle, each as far out as the area before it asks. (n,)."""
    before = np.cumsum(radius**2) - radius**2 / 2
    centres: ComplexArray = 1.05 * np.sqrt(before) * np.exp(2j * np.pi * _GOLDEN * np.arange(len(radius)))
    return centres


def _shaken(begun: ComplexArray, radius: FloatArray, still: int) -> ComplexArray:
    """Every start but the first ``still`` with its circles moved a little, each its own way, always alike."""
    starts, count = begun.shape
    turn = np.arange(starts * count).reshape(starts, count) + 1.0
    step = _SHAKE * float(radius.mean()) * np.sqrt(-2 * np.log((turn * _GOLDEN) % 1.0 * 0.999 + 0.0005))
    moved: ComplexArray = begun + step * np.exp(2j * np.pi * ((turn * _PLASTIC) % 1.0))
    moved[:still] = begun[:still]
    return moved


def bound_by_area(diameters: tuple[float, ...]) -> float:
    """Diameter of a circle that would hold so much area with ``AREA_SHARE`` of it filled.

    Source: three quarters of the circle filled, as many mixed circles fill it (common practice, no source).

    >>> round(bound_by_area((1.0,) * 75), 6)
    10.0
    """
    return math.sqrt(sum(d * d for d in diameters) / AREA_SHARE)


def least_around(diameters: tuple[float, ...]) -> float:
    """No circle smaller than this holds circles of these diameters, however they are laid.

    The greatest of three bounds: the area of all of them; the two largest side by side; and how many
    circles as large as the k-th a circle holds. Source: for the last, Groemer's bound on points at least
    one apart in a convex region, 2 A / sqrt(3) + P / 2 + 1 (packing literature, from memory).

    >>> round(least_around((1.0, 1.0)), 6), least_around((1.0,) * 7) <= 3.0
    (2.0, True)
    """
    down = sorted(diameters, reverse=True)
    if not down:
        return 0.0
    bound = max(math.sqrt(sum(d * d for d in down)), sum(down[:2]))
    for count, d in enumerate(down, 1):
        # With the middles in a circle of radius s times d: 2 pi / sqrt(3) s^2 + pi s + 1 >= count.
        a, b, c = 2 * math.pi / math.sqrt(3), math.pi, 1.0 - count
        s = (-b + math.sqrt(b * b - 4 * a * c)) / (2 * a)
        bound = max(bound, d * (1 + 2 * s))
    return bound


def _rings(radius: FloatArray) -> list[Laid]:
    """Few circles may lie better on a ring, with one in the middle or none."""
    count, most = len(radius), float(radius[0])
    rings = []
    for middle in (0, 1):
        on_ring = count - middle
        if not 3 <= on_ring <= 9:
            continue
        out = most / math.sin(math.pi / on_ring)
        if middle:
            out = max(out, float(radius[-1]) + most)
        angle = 2 * np.pi * np.arange(on_ring) / on_ring
        inner = np.zeros(middle)
        rings.append(
            (
                np.concatenate([out * np.cos(angle), inner]),
                np.concatenate([out * np.sin(angle), inner]),
                out + most,
            )
        )
    return rings


def _laid(radius: FloatArray) -> tuple[FloatArray, FloatArray]:
    """Centres, one circle after the other in the place nearest the middle of those before."""
    count = len(radius)
    x, y = np.zeros(count), np.zeros(count)
    if count > 1:
        x[1] = radius[0] + radius[1]
    weight = radius**2
    first, second = np.triu_indices(count, 1)
    order = np.argsort(second, kind="stable")
    first, second = first[order], second[order]
    # Free places for circles of one size, kept as long as that size is laid.
    free_x, free_y = np.zeros(0), np.zeros(0)
    for n in range(2, count):
        own, upto = radius[n], n * (n - 1) // 2
        known = n > 2 and radius[n - 1] == own
        again = n + 1 < count and radius[n + 1] == own
        # Pairs with the circle laid last are new; with another size all are.
        since = (n - 1) * (n - 2) // 2 if known else 0
        px, py = _places(x, y, radius, own, first[since:upto], second[since:upto])
        total = weight[:n].sum()
        mx, my = float(weight[:n] @ x[:n] / total), float(weight[:n] @ y[:n] / total)
        if not known and not again:
            # Only one of this size: the nearest places are mostly taken, so look at some, then at more.
            away = (px - mx) ** 2 + (py - my) ** 2
            for many in (32, len(px)):
                some = np.argpartition(away, many - 1)[:many] if many < len(px) else np.arange(len(px))
                at = some[_free(px[some], py[some], x[:n], y[:n], radius[:n], own)]
                if len(at):
                    best = int(at[away[at].argmin()])
                    break
            x[n], y[n] = px[best], py[best]
            continue
        fits = _free(px, py, x[:n], y[:n], radius[:n], own)
        px, py = px[fits], py[fits]
        if known:
            still = _free(free_x, free_y, x[n - 1 : n], y[n - 1 : n], radius[n - 1 : n], own)
            px, py = np.concatenate([free_x[still], px]), np.concatenate([free_y[still], py])
        best = int(((px - mx) ** 2 + (py - my) ** 2).argmin())
        x[n], y[n] = px[best], py[best]
        free_x, free_y = px, py
    return x, y


def _places(
    x: FloatArray, y: FloatArray, radius: FloatArray, own: float, first: IntArray, second: IntArray
) -> tuple[FloatArray, FloatArray]:
    """Where a circle touches both of a pair, on either side, of the pairs near enough for it."""
    fx, fy, dx, dy = x[first], y[first], x[second] - x[first], y[second] - y[first]
    a, b, d = radius[first] + own, radius[second] + own, np.sqrt(dx * dx + dy * dy)
    near = d < a + b
    a, b, d, fx, fy = a[near], b[near], d[near], fx[near], fy[near]
    ux, uy = dx[near] / d, dy[near] / d
    along = (a * a - b * b + d * d) / (2 * d)
    across = np.sqrt(np.maximum(a * a - along * along, 0.0))
    bx, by = fx + ux * along, fy + uy * along
    return (
        np.concatenate([bx - uy * across, bx + uy * across]),
        np.concatenate([by + ux * across, by - ux * across]),
    )


def _free(
    px: FloatArray, py: FloatArray, x: FloatArray, y: FloatArray, radius: FloatArray, own: float
) -> BoolArray:
    """Whether a circle at each place overlaps none of these."""
    gap = (px[:, None] - x) ** 2 + (py[:, None] - y) ** 2
    return np.asarray((gap >= (radius + own * _TOUCH) ** 2 * _TOUCH).all(axis=1))


def _enclosing(x: FloatArray, y: FloatArray, radius: FloatArray) -> tuple[float, float, float]:
    """Centre and radius of a circle around all circles, within a thousandth of the least."""
    cx, cy = float(x.mean()), float(y.mean())
    away_x, away_y = x - cx, y - cy
    reached = np.hypot(away_x, away_y) + radius
    i = int(reached.argmax())
    best = float(reached[i])
    step = best / 4
    while step > best * 1e-4:
        # Towards all that reach farthest, by the mean of their directions; then towards the farthest alone.
        far = np.nonzero(reached > best - step)[0]
        ways = [(float(np.add.reduce(away_x[far])), float(np.add.reduce(away_y[far])))]
        if len(far) > 1:
            ways.append((float(away_x[i]), float(away_y[i])))
        for way_x, way_y in ways:
            size = math.hypot(way_x, way_y)
            if size < 1e-12:
                continue
            to_x, to_y = cx + way_x / size * step, cy + way_y / size * step
            there_x, there_y = x - to_x, y - to_y
            there = np.hypot(there_x, there_y) + radius
            k = int(there.argmax())
            if float(there[k]) < best - 1e-12:
                cx, cy, away_x, away_y, reached, i, best = (
                    to_x,
                    to_y,
                    there_x,
                    there_y,
                    there,
                    k,
                    float(there[k]),
                )
                break
        else:
            step /= 2
    return cx, cy, best
