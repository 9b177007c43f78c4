"""Wires laid up around each other in rings: how many a ring takes, and what each ring takes up.

Round a core of one to five wires each ring runs as a helix, against the one below it. Lengths in mm.
"""

from __future__ import annotations

import math
from itertools import pairwise

from inkthread.core.physics.twist import twist_factor
from inkthread.core.record import record

CORE_RATIO = (1.0, 2.0, 1 + 2 / math.sqrt(3), 1 + math.sqrt(2), 1 / math.sin(math.pi / 5) + 1)
"""Diameter of the circle around one to five equal wires, in wire diameters. Source: geometry."""
STRETCHED = 1.02
"""A ring may stand this much farther out than its wires would lie, so that one more goes round."""
_FILLED_FROM = 0.5
"""A ring that is less than so full of wires is not filled up (typical)."""
_NO_ANGLE = 1e-9


@record
class Ring:
    """One layer of wires laid up. Lengths in mm."""

    wires: tuple[int, ...]
    """Which of the wires given, by their place."""
    lacks: int
    """Places left in it."""
    fillers: int
    """Pieces that are no wire, and keep the layer round."""
    filler_mm: float
    """Their diameter; nought where there are none."""
    inside_mm: float
    """Diameter of what it lies on."""
    outside_mm: float
    lay_mm: float
    """Length of one turn; nought for a core of one, which runs straight."""
    turns: str
    """``left`` or ``right``; empty for a core of one."""
    factors: tuple[float, ...]
    """Length of each wire over the length of the bundle."""


@record
class LaidUp:
    """Rings from the core outward."""

    rings: tuple[Ring, ...]

    @property
    def diameter_mm(self) -> float:
        """Over the outermost ring."""
        return self.rings[-1].outside_mm if self.rings else 0.0

    @property
    def fillers(self) -> int:
        """In all rings."""
        return sum(ring.fillers for ring in self.rings)


def ring_takes(core_mm: float, wire_mm: float, lay_mm: float) -> int:
    """How many wires of one diameter go round a core, laid as helices with a turn of ``lay_mm``.

    Cut across, a wire that runs aslant is wider than it is thick by one over the cosine of its angle.
    Source: geometry; tests hold it to the rings of concentric-lay conductors, six more each time
    (ASTM B8, from memory).

    >>> [ring_takes(core, 1.0, 12 * (core + 2)) for core in (1.0, 3.0, 5.0)]
    [6, 12, 18]
    """
    around = core_mm + wire_mm
    wide = wire_mm * math.hypot(1.0, math.pi * around / lay_mm)
    share = min(wide / (around * STRETCHED), 1.0)
    return max(int(math.pi / math.asin(share) + _NO_ANGLE), 1)


def lay_up(
    diameters: tuple[float, ...], lay_factor: float, cores: tuple[int, ...] = (1, 2, 3, 4, 5)
) -> LaidUp:
    """Lay wires up in rings, the first given at the core and the last given outermost.

    ``lay_factor`` is the length of a turn over the diameter of its ring. The core is the one of
    ``cores`` that leaves the fewest places empty, then the least diameter; neighbouring rings turn
    against each other. A ring that is half full is filled up. Source: geometry of helices on a core.

    >>> [len(ring.wires) for ring in lay_up((1.27,) * 19, 12).rings]
    [1, 6, 12]
    """
    if not diameters:
        return LaidUp(())
    tried = [_around(diameters, lay_factor, n) for n in cores if n <= len(diameters)]
    return min(
        tried,
        key=lambda laid: (
            sum(ring.lacks for ring in laid.rings),
            round(laid.diameter_mm, 6),
            len(laid.rings),
        ),
    )


def _around(diameters: tuple[float, ...], lay_factor: float, core: int) -> LaidUp:
    """The rings about a core of so many wires."""
    first = diameters[:core]
    outside = max(first) * CORE_RATIO[core - 1]
    lay = lay_factor * outside if core > 1 else 0.0
    pitches = [outside - d for d in first]
    rings = [
        Ring(
            tuple(range(core)),
            0,
            0,
            0.0,
            0.0,
            outside,
            lay,
            "right" if core > 1 else "",
            tuple(_factor(pitch, lay) for pitch in pitches),
        )
    ]
    at = core
    while at < len(diameters):
        ring = _ring(diameters, at, rings[-1], lay_factor)
        rings.append(ring)
        at += len(ring.wires)
    return LaidUp(tuple(rings))


def _ring(diameters: tuple[float, ...], at: int, below: Ring, lay_factor: float) -> Ring:
    """The next ring: as many of the wires from ``at`` on as go round."""
    core = below.outside_mm
    ring = _Turn(core, diameters[at], lay_factor)
    upto = at + 1
    while upto < len(diameters) and ring.takes(diameters[upto]):
        upto += 1
    lay, thickest, own = ring.lay_mm, ring.thickest_mm, list(diameters[at:upto])
    filler = sum(own) / len(own)
    lacks, full = 0, ring_takes(core, min(own), lay)
    while len(own) + lacks < full and ring.takes(filler):
        lacks += 1
    # A few thin wires on a thick core lie apart, and nothing fills the rest.
    fillers = lacks if len(own) >= _FILLED_FROM * full else 0
    return Ring(
        tuple(range(at, upto)),
        lacks,
        fillers,
        filler if fillers else 0.0,
        core,
        core + 2 * thickest,
        lay,
        "left" if below.turns != "left" else "right",
        tuple(_factor(core + d, lay) for d in own),
    )


class _Turn:
    """A ring that is being filled: the angle that its touching wires take, closed again at the first.

    Wires of two sizes side by side touch where the triangle of their middles and the core's says.
    """

    def __init__(self, core_mm: float, first_mm: float, lay_factor: float) -> None:
        self._core_mm, self._lay_factor = core_mm, lay_factor
        self._own = [first_mm]
        self._open = 0.0
        self.thickest_mm = first_mm

    @property
    def lay_mm(self) -> float:
        return self._lay_factor * (self._core_mm + 2 * self.thickest_mm)

    def takes(self, next_mm: float) -> bool:
        """Put one more wire in, if it still goes round."""
        thickest, taken, between = self.thickest_mm, self._own, self._open
        if next_mm > thickest:
            # A longer turn leans less: all of it is measured anew.
            self.thickest_mm = next_mm
            between = sum(self._between(a, b) for a, b in pairwise(taken))
        opened = between + self._between(taken[-1], next_mm)
        if opened + self._between(next_mm, taken[0]) > 2 * math.pi:
            self.thickest_mm = thickest
            return False
        self._own.append(next_mm)
        self._open = opened
        return True

    def _between(self, one_mm: float, other_mm: float) -> float:
        return _between(self._core_mm, one_mm, other_mm, self.lay_mm)


def _between(core_mm: float, one_mm: float, other_mm: float, lay_mm: float) -> float:
    """Angle in radians between two wires that touch on a core."""
    a, b = (core_mm + one_mm) / 2 * STRETCHED, (core_mm + other_mm) / 2 * STRETCHED
    aslant = math.hypot(1.0, math.pi * (a + b) / STRETCHED / lay_mm)
    apart = (one_mm + other_mm) / 2 * aslant
    cosine = (a * a + b * b - apart * apart) / (2 * a * b)
    return math.acos(max(min(cosine, 1.0), -1.0))


def _factor(pitch_mm: float, lay_mm: float) -> float:
    return float(twist_factor(pitch_mm, lay_mm)) if lay_mm and pitch_mm > 0 else 1.0
