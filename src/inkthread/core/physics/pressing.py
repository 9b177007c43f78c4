"""Circles pressed together: several starts of several sets at once, pushing each other apart while they are
drawn in.

It is the same few steps again and again on small arrays, most of which is the library's own call: what is
pressed together shares it.
"""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np
import numpy.typing as npt

from inkthread.core.physics.conductor import FloatArray
from inkthread.core.record import record

_PUSHES = 2
_MEASURED_EVERY, _MEASURED_FROM = 8, 0.6
"""Every so many turns what came out is measured, once most turns are done."""
_PULL = 0.12
_FINE = 24
"""To so many circles sets are pressed with those of up to three more, beyond with those of up to seven."""
_AT_ONCE = 60_000
"""Of pairs: what is pressed at once, so that it stays near to the processor."""
_ONE, _TWICE, _LITTLE = np.float32(1), np.float32(-2), np.float32(1e-9)
_Single = npt.NDArray[np.float32]
ComplexArray = npt.NDArray[np.complex128]
Laid = tuple[FloatArray, FloatArray, float]
"""Centres of circles, and the radius of the circle around them."""


@record
class Starting:
    """Circles of falling radius (n,), and where they begin: ``starts`` (starts, n), maybe none."""

    radius: FloatArray
    starts: ComplexArray

    @property
    def cells(self) -> int:
        """As how many it is pressed: sets of about as many go together, filled up with circles of nothing."""
        step = 4 if len(self.radius) <= _FINE else 8
        return -(-len(self.radius) // step) * step


def press(sets: Sequence[Starting], turns: int, pull_at_end: float) -> list[Laid]:
    """The tightest that was met of each set while it was pressed; around it infinity where it has no start.

    ``pull_at_end`` is the share of the way by which the outermost are drawn in at the last turn. Every start
    is reckoned by itself, so that it comes out the same in any company. Source: overlapping circles relaxed
    pair by pair (common practice, no source); what comes out is measured outright.

    >>> apart = Starting(np.ones(2), np.array([[-3.0, 3.0j]]))
    >>> round(press([apart], 400, 0.001)[0][2], 2)
    2.0
    """
    together: dict[int, list[int]] = {}
    for n, begun in enumerate(sets):
        if len(begun.starts):
            together.setdefault(begun.cells, []).append(n)
    tightest: list[Laid] = [(np.zeros(0), np.zeros(0), math.inf) for _ in sets]
    for cells, places in together.items():
        some: list[int] = []
        for n in places:
            some.append(n)
            if sum(len(sets[k].starts) for k in some) * cells**2 > _AT_ONCE or n == places[-1]:
                pressed = _press([sets[k] for k in some], cells, turns, pull_at_end)
                for k, own in zip(some, pressed, strict=True):
                    tightest[k] = own
                some = []
    return tightest


def _press(sets: Sequence[Starting], cells: int, turns: int, pull_at_end: float) -> list[Laid]:
    """The same of sets that are pressed as ``cells`` circles each. Single precision is enough while pressing;
    the answer is spread and measured in full.
    """
    many = sum(len(begun.starts) for begun in sets)
    whole, planes = (many, cells, cells), (4, many, cells)
    lots, give, push = (np.zeros(whole, dtype=np.float32) for _ in range(3))
    # Planes x, y, square, 1 and -2 x, -2 y, 1, square: their product is the squares of distances.
    at, other, moved = (np.zeros(planes, dtype=np.float32) for _ in range(3))
    at[3], other[2] = 1, 1
    square, r = np.empty((2, many, cells), dtype=np.float32), np.zeros((many, cells), dtype=np.float32)
    rows: list[tuple[slice, int]] = []
    for begun in sets:
        count, first = len(begun.radius), rows[-1][0].stop if rows else 0
        own = slice(first, first + len(begun.starts))
        rows.append((own, count))
        _give(begun.radius, lots[own], give[own])
        r[own, :count] = begun.radius
        at[0, own, :count], at[1, own, :count] = begun.starts.real, begun.starts.imag
    pulls = (_PULL * (pull_at_end / _PULL) ** (np.arange(turns) / max(turns - 1, 1))).astype(np.float32)
    places = at[:2]
    by_start, turned = at.transpose(1, 0, 2), at.transpose(1, 2, 0)
    other_by_start, moved_by_start = other.transpose(1, 0, 2), moved.transpose(1, 0, 2)
    best: list[Laid] = [(np.zeros(0), np.zeros(0), math.inf) for _ in sets]
    for turn in range(turns):
        np.multiply(places, places, out=square)
        out = np.sqrt(square[0] + square[1]) + _LITTLE
        reach = out + r
        inward = _ONE - np.maximum(reach - reach.max(axis=1, keepdims=True) * (_ONE - pulls[turn]), 0) / out
        places *= inward
        for _ in range(_PUSHES):
            np.multiply(places, places, out=square)
            np.add(square[0], square[1], out=at[2])
            np.multiply(places, _TWICE, out=other[:2])
            other[3] = at[2]
            np.matmul(turned, other_by_start, out=push)
            np.abs(push, out=push)
            push += _LITTLE
            np.sqrt(push, out=push)
            np.divide(lots, push, out=push)
            # What is above one, of how far apart they should be over how far they are, in what each gives.
            np.maximum(push, give, out=push)
            push -= give
            np.matmul(by_start, push, out=moved_by_start)
            moved[3] += _ONE
            places *= moved[3]
            places -= moved[:2]
        if turn % _MEASURED_EVERY == _MEASURED_EVERY - 1 and turn > turns * _MEASURED_FROM:
            for n, (begun, (own, count)) in enumerate(zip(sets, rows, strict=True)):
                best[n] = _tightest(at[0, own, :count], at[1, own, :count], begun.radius, best[n])
    return best


def _give(radius: FloatArray, lots: _Single, give: _Single) -> None:
    """Put in, by start, who pushes and who is pushed: what the latter gives of what they overlap (the lighter
    more, nine tenths between them), and that many times how far apart they should be.
    """
    count = len(radius)
    r = radius.astype(np.float32)
    light = 1 / r**2
    share = 0.9 * light / (light[:, None] + light)
    np.fill_diagonal(share, 0.0)
    give[:, :count, :count] = share
    lots[:, :count, :count] = share * (r[:, None] + r)


def _tightest(x: _Single, y: _Single, radius: FloatArray, best: Laid) -> Laid:
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
