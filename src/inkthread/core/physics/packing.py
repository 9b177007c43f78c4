"""Circles packed into a circle: a feasible arrangement, close to the tightest.

Largest first, each circle goes to the free place nearest the middle that touches two others. That
arrangement, and some like it that were shaken, are then pressed together from outside while circles push
each other apart, and the circle around them is drawn in as far as it goes. What comes out can always be
laid so: at the end all is spread until nothing overlaps.
"""

from __future__ import annotations

import math
from collections.abc import Iterable
from functools import lru_cache

import numpy as np
import numpy.typing as npt

from inkthread.core.physics.conductor import BoolArray, FloatArray, IntArray
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
_TURNS, _PUSHES = 56, 2
_CLOSE_STARTS, _CLOSE_TURNS = 24, 400
_MEASURED_EVERY, _MEASURED_FROM = 8, 0.6
"""While pressing, every so many turns what came out is measured, once most turns are done."""
_ALIKE = 0.01
"""Share of their radius by which circles may differ and still count as all alike."""
_MIDDLES = (0, 0.5, 0.5 + 1j * math.sqrt(3) / 6, 0.25 + 1j * math.sqrt(3) / 8, 0.3 + 0.1j)
"""Of a lattice: a point, between two, between three, and two that are none of these."""
_SHAKE = 0.4
"""Of a radius: how far circles are thrown apart before they are pressed again."""
_GOLDEN, _PLASTIC = 0.6180339887498949, 0.7548776662466927
"""Fractions whose multiples fill an interval evenly: they stand in for chance, and always fall alike."""
_PULL, _PULL_AT_END, _CLOSE_PULL_AT_END = 0.12, 0.002, 0.0008
_ONE, _TWICE, _LITTLE = np.float32(1), np.float32(-2), np.float32(1e-9)
ComplexArray = npt.NDArray[np.complex128]


@record
class Packing:
    """Circles as laid: centres about the middle of the circle around them."""

    diameter: float
    centres: tuple[tuple[float, float], ...]
    """In the order of the diameters given."""


@lru_cache(maxsize=4096)
def pack(diameters: tuple[float, ...]) -> Packing:
    """Lay circles of these diameters (any one length unit) into a circle.

    The answer is feasible, and no tighter than the best possible: within 3 % of the best known for sets
    that could be compared. At most a few hundred circles. Source: feasible by construction; tests hold it
    to the packing literature's best known (from memory).

    >>> round(pack((1.0,) * 7).diameter, 2)
    3.0
    """
    return _packed(diameters, _starts(len(diameters)), _TURNS, _PULL_AT_END)


def packed_diameter(diameters: Iterable[float]) -> float:
    """Diameter of the circle around circles of these diameters, in whatever order. Source: as ``pack``.

    >>> packed_diameter([1.0, 2.0]) == packed_diameter([2.0, 1.0])
    True
    """
    return pack(tuple(sorted(diameters, reverse=True))).diameter


@lru_cache(maxsize=256)
def pack_closely(diameters: tuple[float, ...]) -> Packing:
    """The same with more patience, to be looked at: within 1 % of the best known. Source: as ``pack``.

    >>> pack_closely((2.0, 1.0)).diameter <= pack((2.0, 1.0)).diameter
    True
    """
    quick, close = pack(diameters), _packed(diameters, _CLOSE_STARTS, _CLOSE_TURNS, _CLOSE_PULL_AT_END)
    return close if close.diameter < quick.diameter else quick


def _starts(count: int) -> int:
    """Few circles fall well or badly by chance, and are quickly pressed: from more starts."""
    return 12 if count <= 24 else 2


def _packed(diameters: tuple[float, ...], starts: int, turns: int, pull_at_end: float) -> Packing:
    count = len(diameters)
    if count == 0:
        return Packing(0.0, ())
    order = sorted(range(count), key=lambda i: -diameters[i])
    radius = np.array([diameters[i] / 2 for i in order])
    x, y, around = _few(*radius.tolist()) if count <= _FEW else _laid_close(radius)
    least = _few(*radius[:_FEW].tolist())[2]
    if around > least * _AS_GOOD and not (count <= _RINGED and radius[0] == radius[-1]):
        alike = float(radius[0] - radius[-1]) < _ALIKE * float(radius[0])
        if alike:
            begun = np.concatenate([_lattices(radius)] * max(starts // 4, 1))
        else:
            # As laid, with the largest in the middle; and with the largest outside, the smallest within.
            laid, turned = x + 1j * y, _spiral(radius[::-1])[::-1]
            begun = np.stack([laid, turned] * (starts // 2))
        px, py, pressed = _press(_shaken(begun, radius, still=0 if alike else 1), radius, turns, pull_at_end)
        if pressed < around:
            x, y, around = px, py, pressed
    centres = [(0.0, 0.0)] * count
    for place, i in enumerate(order):
        centres[i] = (float(x[place]), float(y[place]))
    return Packing(2 * around, tuple(centres))


def _few(
    one: float, two: float | None = None, three: float | None = None
) -> tuple[FloatArray, FloatArray, float]:
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


def _laid_close(radius: FloatArray) -> tuple[FloatArray, FloatArray, float]:
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


def _press(
    begun: ComplexArray, radius: FloatArray, turns: int, pull_at_end: float
) -> tuple[FloatArray, FloatArray, float]:
    """Press several starts together at once, ever more gently; the tightest that was met.

    Single precision is enough while pressing; the answer is spread and measured in full.
    """
    r = radius.astype(np.float32)
    starts, count = begun.shape
    whole = (starts, count, count)
    apart = np.zeros(whole, dtype=np.float32)
    apart += r[:, None] + r[None, :]
    apart[:, np.arange(count), np.arange(count)] = 0.0
    light = 1 / r**2
    # Half, since what is pushed is told twice below.
    give = np.zeros(whole, dtype=np.float32)
    give += 0.45 * light[:, None] / (light[:, None] + light[None, :])
    pulls = (_PULL * (pull_at_end / _PULL) ** (np.arange(turns) / max(turns - 1, 1))).astype(np.float32)
    # Columns x, y, square, 1 and rows -2 x, -2 y, 1, square: their product is the squares of distances.
    columns, rows = (
        np.ones((starts, count, 4), dtype=np.float32),
        np.ones((starts, 4, count), dtype=np.float32),
    )
    x, y = begun.real.astype(np.float32), begun.imag.astype(np.float32)
    push, over = np.empty(whole, dtype=np.float32), np.empty(whole, dtype=np.float32)
    best = (begun[0].real, begun[0].imag, math.inf)
    for turn in range(turns):
        out = np.sqrt(x * x + y * y) + _LITTLE
        reach = out + r
        inward = _ONE - np.maximum(reach - reach.max(axis=1, keepdims=True) * (_ONE - pulls[turn]), 0) / out
        x, y = x * inward, y * inward
        for _ in range(_PUSHES):
            square = x * x + y * y
            columns[:, :, 0], columns[:, :, 1], columns[:, :, 2] = x, y, square
            rows[:, 0], rows[:, 1], rows[:, 3] = _TWICE * x, _TWICE * y, square
            np.matmul(columns, rows, out=push)
            np.abs(push, out=push)
            push += _LITTLE
            np.sqrt(push, out=push)
            np.divide(apart, push, out=push)
            push -= _ONE
            # Twice what is above zero.
            np.abs(push, out=over)
            push += over
            push *= give
            pushed = push @ columns
            to = pushed[:, :, 3]
            x, y = x + x * to - pushed[:, :, 0], y + y * to - pushed[:, :, 1]
        if turn % _MEASURED_EVERY == _MEASURED_EVERY - 1 and turn > turns * _MEASURED_FROM:
            best = _tightest(x, y, radius, best)
    return best


def _tightest(
    x: FloatArray, y: FloatArray, radius: FloatArray, best: tuple[FloatArray, FloatArray, float]
) -> tuple[FloatArray, FloatArray, float]:
    """The best so far, or one of these starts spread until nothing overlaps."""
    wide_x, wide_y = x.astype(float), y.astype(float)
    apart = radius[:, None] + radius[None, :]
    np.fill_diagonal(apart, 0.0)
    dx, dy = wide_x[:, :, None] - wide_x[:, None, :], wide_y[:, :, None] - wide_y[:, None, :]
    between = np.sqrt(dx * dx + dy * dy) + np.eye(len(radius)) * 1e-12
    spread = np.maximum((apart / np.maximum(between, 1e-12)).max(axis=(1, 2)), 1.0)
    around = (np.hypot(wide_x, wide_y) * spread[:, None] + radius).max(axis=1)
    at = int(around.argmin())
    if around[at] >= best[2]:
        return best
    return wide_x[at] * spread[at], wide_y[at] * spread[at], float(around[at])


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


def _rings(radius: FloatArray) -> list[tuple[FloatArray, FloatArray, float]]:
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

    def reach(px: float, py: float) -> FloatArray:
        return np.hypot(x - px, y - py) + radius

    reached = reach(cx, cy)
    best = float(reached.max())
    step = best / 4
    while step > best * 1e-4:
        # Away from all that reach farthest: their mean direction.
        far = reached > best - step
        dx, dy = float((x[far] - cx).mean()), float((y[far] - cy).mean())
        size = math.hypot(dx, dy)
        moved = False
        tries = [(dx / size, dy / size)] if size > 1e-12 else []
        i = int(reached.argmax())
        own = math.hypot(float(x[i]) - cx, float(y[i]) - cy)
        if own > 1e-12:
            tries.append(((float(x[i]) - cx) / own, (float(y[i]) - cy) / own))
        for ux, uy in tries:
            there = reach(cx + ux * step, cy + uy * step)
            if float(there.max()) < best - 1e-12:
                cx, cy, reached, best = cx + ux * step, cy + uy * step, there, float(there.max())
                moved = True
                break
        if not moved:
            step /= 2
    return cx, cy, best
