"""Conductor geometry and resistance.

Sources: ASTM B258 (AWG formula); IEC 60028 (copper resistivity and temperature coefficient), both
from memory of the standard.
"""

from __future__ import annotations

import math

import numpy as np
import numpy.typing as npt

FloatArray = npt.NDArray[np.float64]
IntArray = npt.NDArray[np.intp]
BoolArray = npt.NDArray[np.bool_]

COPPER_ALPHA_20C_PER_K = 0.00393
"""Temperature coefficient of resistance of annealed copper at 20 deg C (IEC 60028)."""

TRADE_AWG = (30, 28, 26, 24, 22, 20, 18, 16, 14, 12, 10, 8, 6, 4, 2, 1, 0, -1, -2, -3)
"""Sizes sold as wire, thinnest first; 0 is 1/0 and -3 is 4/0."""


def awg_diameter_mm(number: int) -> float:
    """Diameter in mm of a solid AWG conductor: d = 0.127 * 92**((36 - n) / 39).

    ``number`` is 0 for 1/0 and -3 for 4/0. Source: ASTM B258, the formula of its table 1.

    >>> round(awg_diameter_mm(20), 3), round(awg_diameter_mm(-3), 2)
    (0.812, 11.68)
    """
    return float(0.127 * 92 ** ((36 - number) / 39))


def awg_area_mm2(number: int) -> float:
    """Area in mm2 of a solid AWG conductor: a circle of its diameter. Source: ASTM B258.

    >>> round(awg_area_mm2(20), 3)
    0.518
    """
    return math.pi / 4 * awg_diameter_mm(number) ** 2


def awg_name(number: int) -> str:
    """A size as it is called. Source: ASTM B258.

    >>> awg_name(18), awg_name(0), awg_name(-1)
    ('18', '1/0', '2/0')
    """
    return str(number) if number > 0 else f"{1 - number}/0"


def strand_area_mm2(strands: int, strand_diameter_mm: float) -> float:
    """Copper area in mm2 of a stranded conductor: the sum of its strands. Source: ASTM B286, geometry.

    >>> round(strand_area_mm2(19, 0.203), 3)
    0.615
    """
    return strands * math.pi / 4 * strand_diameter_mm**2


def resistance_at_temperature(
    resistance_20c_ohm_per_m: FloatArray | float, temperature_c: FloatArray | float
) -> FloatArray | float:
    """Resistance at a conductor temperature, in the unit and shape given: R20 (1 + 0.00393 (T - 20)).

    Source: IEC 60028, annealed copper.

    >>> round(resistance_at_temperature(10.0, 120.0), 2)
    13.93
    """
    return resistance_20c_ohm_per_m * (1 + COPPER_ALPHA_20C_PER_K * (temperature_c - 20))
