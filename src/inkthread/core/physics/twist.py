"""How much longer a wire is for being twisted with others: a helix. Lengths in mm, all arrays alike."""

from __future__ import annotations

import numpy as np

from inkthread.core.physics.conductor import FloatArray

_PITCH = {2: 1.0, 3: 2 / np.sqrt(3)}
"""Diameter of the circle on which the middles of so many wires lie, in wire diameters."""


def pitch_diameter_mm(outside_mm: FloatArray | float, wires: int) -> FloatArray | float:
    """Diameter in mm of the helix that the middle of each of two or three touching wires runs along.

    Source: geometry; of three it is 2 / sqrt(3) wire diameters.

    >>> pitch_diameter_mm(1.5, 2), round(pitch_diameter_mm(1.5, 3), 3)
    (1.5, 1.732)
    """
    return outside_mm * float(_PITCH[wires])


def twist_factor(pitch_mm: FloatArray | float, lay_mm: FloatArray | float) -> FloatArray:
    """Length of a twisted wire over the length of the twist: sqrt(1 + (pi d / lay)**2).

    ``pitch_mm`` is the diameter of its helix and ``lay_mm`` the length of one turn. Source: geometry, a
    helix unrolled.

    >>> round(float(twist_factor(1.5, 30.0)), 4)
    1.0123
    """
    turned: FloatArray = np.hypot(1.0, np.pi * np.asarray(pitch_mm) / lay_mm)
    return turned
