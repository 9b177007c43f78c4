"""Circles packed into a circle: a feasible arrangement, close to the tightest.

Largest first, each circle goes to the free place nearest the middle that touches two others. The
circle around them is then drawn in as far as it goes. What comes out can always be laid so.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from inkthread.core.physics.conductor import FloatArray

PACKED_AT_MOST = 60
"""More circles than this are bounded by their area instead."""
AREA_SHARE = 0.75
"""Share of the enclosing circle that many mixed circles fill, for the bound by area."""
_TOUCH = 1 - 1e-9


@dataclass(frozen=True, slots=True)
class Packing:
    """Circles as laid: centres about the middle of the circle around them."""

    diameter: float
    centres: tuple[tuple[float, float], ...]
    """In the order of the diameters given."""


@lru_cache(maxsize=4096)
def pack(diameters: tuple[float, ...]) -> Packing:
    """Lay circles of these diameters (any one length unit) into a circle.

    The answer is feasible, and no tighter than the best possible. At most a few hundred circles.
    """
    count = len(diameters)
    if count == 0:
        return Packing(0.0, ())
    order = sorted(range(count), key=lambda i: -diameters[i])
    radius = np.array([diameters[i] / 2 for i in order])
    x, y = _laid(radius)
    cx, cy, around = _enclosing(x, y, radius)
    for rx, ry, ring in _rings(radius):
        if ring < around:
            x, y, cx, cy, around = rx, ry, 0.0, 0.0, ring
    centres = [(0.0, 0.0)] * count
    for place, i in enumerate(order):
        centres[i] = (float(x[place] - cx), float(y[place] - cy))
    return Packing(2 * around, tuple(centres))


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
