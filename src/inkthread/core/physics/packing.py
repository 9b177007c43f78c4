"""Circles packed into a circle: a feasible arrangement, close to the tightest.

Largest first, each circle goes to the free place nearest the middle that touches two others. That
arrangement, and some like it that were shaken, are then pressed together from outside while circles push
each other apart, and the circle around them is drawn in as far as it goes. What comes out can always be
laid so: at the end all is spread until nothing overlaps.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
import numpy.typing as npt

from inkthread.core.physics.conductor import FloatArray

PACKED_AT_MOST = 60
"""More circles than this are bounded by their area instead."""
AREA_SHARE = 0.75
"""Share of the enclosing circle that many mixed circles fill, for the bound by area."""
_TOUCH = 1 - 1e-9
_STARTS, _TURNS = 2, 100
_CLOSE_STARTS, _CLOSE_TURNS = 24, 400
_ALIKE = 0.01
"""Share of their radius by which circles may differ and still count as all alike."""
_MIDDLES = (0, 0.5, 0.5 + 1j * math.sqrt(3) / 6, 0.25 + 1j * math.sqrt(3) / 8, 0.3 + 0.1j)
"""Of a lattice: a point, between two, between three, and two that are none of these."""
_SHAKE = 0.4
_GOLDEN, _PLASTIC = 0.6180339887498949, 0.7548776662466927
"""Fractions whose multiples fill an interval evenly: they stand in for chance, and always fall alike."""
_PULL, _PULL_AT_END = 0.05, 0.0008
ComplexArray = npt.NDArray[np.complex128]


@dataclass(frozen=True, slots=True)
class Packing:
    """Circles as laid: centres about the middle of the circle around them."""

    diameter: float
    centres: tuple[tuple[float, float], ...]
    """In the order of the diameters given."""


@lru_cache(maxsize=4096)
def pack(diameters: tuple[float, ...]) -> Packing:
    """Lay circles of these diameters (any one length unit) into a circle.

    The answer is feasible, and no tighter than the best possible: within 3 % of the best known for sets
    that could be compared. At most a few hundred circles.
    """
    return _packed(diameters, _STARTS, _TURNS)


@lru_cache(maxsize=256)
def pack_closely(diameters: tuple[float, ...]) -> Packing:
    """The same with more patience, to be looked at: within 1 % of the best known."""
    quick, close = pack(diameters), _packed(diameters, _CLOSE_STARTS, _CLOSE_TURNS)
    return close if close.diameter < quick.diameter else quick


def _packed(diameters: tuple[float, ...], starts: int, turns: int) -> Packing:
    count = len(diameters)
    if count == 0:
        return Packing(0.0, ())
    order = sorted(range(count), key=lambda i: -diameters[i])
    radius = np.array([diameters[i] / 2 for i in order])
    x, y = _laid(radius)
    cx, cy, around = _enclosing(x, y, radius)
    x, y = x - cx, y - cy
    for rx, ry, ring in _rings(radius):
        if ring < around:
            x, y, around = rx, ry, ring
    if count > 2:
        alike = float(radius[0] - radius[-1]) < _ALIKE * float(radius[0])
        if alike:
            begun = np.concatenate([_lattices(radius)] * (starts // 2))
        else:
            # As laid, with the largest in the middle; and with the largest outside, the smallest within.
            laid, turned = x + 1j * y, _spiral(radius[::-1])[::-1]
            begun = np.stack([laid, turned] * (starts // 2))
        px, py, pressed = _press(_shaken(begun, radius, still=0 if alike else 1), radius, turns)
        if pressed < around:
            x, y, around = px, py, pressed
    centres = [(0.0, 0.0)] * count
    for place, i in enumerate(order):
        centres[i] = (float(x[place]), float(y[place]))
    return Packing(2 * around, tuple(centres))


def _lattices(radius: FloatArray) -> ComplexArray:
    """Circles all alike on a hexagonal lattice, about each of several middles. (starts, n)."""
    count = len(radius)
    reach = int(math.sqrt(count)) + 4
    i, j = np.meshgrid(np.arange(-reach, reach + 1), np.arange(-reach, reach + 1))
    lattice = (i + j / 2 + 1j * j * math.sqrt(3) / 2).ravel()
    found = []
    for middle in _MIDDLES:
        away = lattice - middle
        found.append(away[np.argsort(np.abs(away), kind="stable")[:count]])
    return np.stack(found) * 2 * float(radius[0])


def _spiral(radius: FloatArray) -> ComplexArray:
    """Circles along a spiral, the first in the middle, each as far out as the area before it asks. (n,)."""
    before = np.cumsum(radius**2) - radius**2 / 2
    found: ComplexArray = 1.05 * np.sqrt(before) * np.exp(2j * np.pi * _GOLDEN * np.arange(len(radius)))
    return found


def _shaken(begun: ComplexArray, radius: FloatArray, still: int) -> ComplexArray:
    """Every start but the first ``still`` with its circles moved a little, each its own way, always alike."""
    starts, count = begun.shape
    turn = np.arange(starts * count).reshape(starts, count) + 1.0
    step = _SHAKE * float(radius.mean()) * np.sqrt(-2 * np.log((turn * _GOLDEN) % 1.0 * 0.999 + 0.0005))
    moved: ComplexArray = begun + step * np.exp(2j * np.pi * ((turn * _PLASTIC) % 1.0))
    moved[:still] = begun[:still]
    return moved


def _press(begun: ComplexArray, radius: FloatArray, turns: int) -> tuple[FloatArray, FloatArray, float]:
    """Press several starts together at once, ever more gently; the tightest that was met.

    Single precision is enough while pressing; the answer is spread and measured in full.
    """
    x, y = begun.real.astype(np.float32), begun.imag.astype(np.float32)
    r = radius.astype(np.float32)
    apart = r[:, None] + r[None, :]
    np.fill_diagonal(apart, 0.0)
    light = 1 / r**2
    give = (0.9 * light[:, None] / (light[:, None] + light[None, :])).astype(np.float32)
    itself = (np.eye(len(r)) * 1e-6).astype(np.float32)
    pulls = (_PULL * (_PULL_AT_END / _PULL) ** (np.arange(turns) / max(turns - 1, 1))).astype(np.float32)
    best = (x[0].astype(float), y[0].astype(float), math.inf)
    for turn in range(turns):
        out = np.sqrt(x * x + y * y) + np.float32(1e-9)
        reach = out + r
        inward = 1 - np.maximum(reach - reach.max(axis=1, keepdims=True) * (1 - pulls[turn]), 0) / out
        x, y = x * inward, y * inward
        for _ in range(2):
            dx, dy = x[:, :, None] - x[:, None, :], y[:, :, None] - y[:, None, :]
            push = np.maximum(apart / (np.sqrt(dx * dx + dy * dy) + itself) - 1, 0) * give
            x, y = x + (dx * push).sum(axis=2), y + (dy * push).sum(axis=2)
        if turn % 5 == 4 and turn > turns // 3:
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
    """Diameter of a circle that would hold so much area with ``AREA_SHARE`` of it filled."""
    return math.sqrt(sum(d * d for d in diameters) / AREA_SHARE)


def _rings(radius: FloatArray) -> list[tuple[FloatArray, FloatArray, float]]:
    """Few circles may lie better on a ring, with one in the middle or none."""
    count, most = len(radius), float(radius[0])
    made = []
    for middle in (0, 1):
        on_ring = count - middle
        if not 3 <= on_ring <= 9:
            continue
        out = most / math.sin(math.pi / on_ring)
        if middle:
            out = max(out, float(radius[-1]) + most)
        angle = 2 * np.pi * np.arange(on_ring) / on_ring
        inner = np.zeros(middle)
        made.append(
            (
                np.concatenate([out * np.cos(angle), inner]),
                np.concatenate([out * np.sin(angle), inner]),
                out + most,
            )
        )
    return made


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
    apart = np.empty(len(first))
    ux, uy = np.empty(len(first)), np.empty(len(first))
    known = 0
    for n in range(2, count):
        # Pairs with the circle laid last come into play.
        upto = n * (n - 1) // 2
        f, s = first[known:upto], second[known:upto]
        dx, dy = x[s] - x[f], y[s] - y[f]
        apart[known:upto] = np.sqrt(dx * dx + dy * dy)
        ux[known:upto], uy[known:upto] = dx / apart[known:upto], dy / apart[known:upto]
        known = upto
        own = radius[n]
        a, b = radius[first[:upto]] + own, radius[second[:upto]] + own
        near = np.nonzero(apart[:upto] < a + b)[0]
        a, b, d = a[near], b[near], apart[near]
        along = (a * a - b * b + d * d) / (2 * d)
        across = np.sqrt(np.maximum(a * a - along * along, 0.0))
        vx, vy, fx, fy = ux[near], uy[near], x[first[near]], y[first[near]]
        bx, by = fx + vx * along, fy + vy * along
        px = np.concatenate([bx - vy * across, bx + vy * across])
        py = np.concatenate([by + vx * across, by - vx * across])
        total = weight[:n].sum()
        mx, my = float(weight[:n] @ x[:n] / total), float(weight[:n] @ y[:n] / total)
        away = (px - mx) ** 2 + (py - my) ** 2
        reach = (radius[:n] + own * _TOUCH) ** 2 * _TOUCH
        # The nearest places are mostly taken: look at some, then at more.
        best = -1
        for many in (32, len(px)):
            some = np.argpartition(away, many - 1)[:many] if many < len(px) else np.arange(len(px))
            gap = (px[some, None] - x[:n]) ** 2 + (py[some, None] - y[:n]) ** 2
            free = some[(gap >= reach).all(axis=1)]
            if len(free):
                best = int(free[away[free].argmin()])
                break
        x[n], y[n] = px[best], py[best]
    return x, y


def _enclosing(x: FloatArray, y: FloatArray, radius: FloatArray) -> tuple[float, float, float]:
    """Centre and radius of a circle around all circles, within a thousandth of the least."""
    cx, cy = float(x.mean()), float(y.mean())

    def reach(px: float, py: float) -> FloatArray:
        return np.hypot(x - px, y - py) + radius

    held = reach(cx, cy)
    best = float(held.max())
    step = best / 4
    while step > best * 2e-5:
        # Away from all that reach farthest: their mean direction.
        far = held > best - step
        dx, dy = float((x[far] - cx).mean()), float((y[far] - cy).mean())
        size = math.hypot(dx, dy)
        moved = False
        tries = [(dx / size, dy / size)] if size > 1e-12 else []
        i = int(held.argmax())
        own = math.hypot(float(x[i]) - cx, float(y[i]) - cy)
        if own > 1e-12:
            tries.append(((float(x[i]) - cx) / own, (float(y[i]) - cy) / own))
        for ux, uy in tries:
            there = reach(cx + ux * step, cy + uy * step)
            if float(there.max()) < best - 1e-12:
                cx, cy, held, best = cx + ux * step, cy + uy * step, there, float(there.max())
                moved = True
                break
        if not moved:
            step /= 2
    return cx, cy, best
