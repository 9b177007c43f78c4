"""What a covering does when it is put on: braid that opens, tape that is wound, tube that shrinks.

Geometry only. Lengths in mm, angles in degrees where a name says so.
"""

from __future__ import annotations

import math

from inkthread.core.record import record

WIDEST_DEG = 72.0
"""A braid is opened no farther than this angle of its yarns to its axis: past it they lie as a coil."""


def braid_cut_factor(fitted_mm: float, relaxed_mm: float, relaxed_deg: float) -> float:
    """Length of braid cut over the length that it covers, once opened or drawn to ``fitted_mm``.

    Every yarn keeps its length and its turns: as the braid opens from ``relaxed_mm``, where its yarns
    lie at ``relaxed_deg`` to the axis, it grows shorter. Raises ValueError where it cannot open so far.
    Source: geometry of a helix of one length; a test unrolls a yarn.

    >>> round(braid_cut_factor(10.0, 10.0, 40.0), 3), round(braid_cut_factor(14.0, 10.0, 40.0), 3)
    (1.0, 1.757)
    """
    sine = fitted_mm / relaxed_mm * math.sin(math.radians(relaxed_deg))
    if sine > math.sin(math.radians(WIDEST_DEG)):
        raise ValueError(f"a braid of {relaxed_mm:g} mm does not open to {fitted_mm:g} mm")
    return math.cos(math.radians(relaxed_deg)) / math.sqrt(1 - sine * sine)


@record
class Wound:
    """Tape wound round a bundle."""

    length_mm: float
    """Of tape, its end turns included."""
    turns: float
    advance_mm: float
    """Along the bundle with each turn."""
    angle_deg: float
    """How far the tape leans from square."""


def wound_tape(
    bundle_mm: float, along_mm: float, width_mm: float, overlap: float, end_turns: float = 2.0
) -> Wound:
    """Tape wound along a round bundle, each turn over ``overlap`` of the one before.

    ``overlap`` is a share of the width; below nought it is a gap, wound open. ``end_turns`` square turns
    hold both ends together. Raises ValueError where the tape is too wide to be wound so.
    Source: geometry; a helical strip covers its bundle (1 - overlap) times as wide as it is, so that
    length x width x (1 - overlap) is the area covered.

    >>> round(wound_tape(7.2, 420, 19, 0.5, end_turns=0).length_mm)
    1000
    """
    around = math.pi * bundle_mm
    forward = (1 - overlap) * width_mm
    if forward >= around:
        raise ValueError(
            f"tape {width_mm:g} mm wide is too wide for {bundle_mm:g} mm at this overlap: it would run along"
        )
    lean = math.asin(forward / around)
    advance = around * math.tan(lean)
    turns = along_mm / advance
    return Wound(turns * around / math.cos(lean) + end_turns * around, turns, advance, math.degrees(lean))


def tube_wall_mm(recovered_mm: float, wall_mm: float, bore_mm: float) -> float:
    """Wall of a shrink tube held open at ``bore_mm``, from its wall when fully recovered.

    Its cross-section keeps its area. Source: geometry of a ring that only changes its bore.

    >>> round(tube_wall_mm(4.0, 1.0, 4.0), 3), round(tube_wall_mm(4.0, 1.0, 8.0), 3)
    (1.0, 0.583)
    """
    area = (recovered_mm + wall_mm) * wall_mm
    return (math.sqrt(bore_mm * bore_mm + 4 * area) - bore_mm) / 2


def tube_cut_mm(finished_mm: float, change_percent: float, *, share: float = 1.0) -> float:
    """Length of tube to cut for ``finished_mm`` once shrunk.

    ``change_percent`` is its change of length when fully recovered (below nought it grows shorter), and
    ``share`` how much of the way from supplied to recovered it goes. Source: AMS-DTL-23053 names a greatest
    longitudinal change for each kind, from memory; in between it is taken in proportion (common practice).

    >>> round(tube_cut_mm(100, -5), 2)
    105.26
    """
    return finished_mm / (1 + change_percent / 100 * min(max(share, 0.0), 1.0))


def outer_growth_mm(angle_deg: float, out_mm: float) -> float:
    """How much longer a wire at the outside of a bend is than the middle of its bundle.

    ``out_mm`` is its distance from the bundle's axis; wires laid parallel keep their side. Source:
    geometry: arcs of one angle differ by the angle times the difference of their radii, whatever these are.

    >>> round(outer_growth_mm(90, 5), 2)
    7.85
    """
    return math.radians(angle_deg) * out_mm
