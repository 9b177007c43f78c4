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

COPPER_RESISTIVITY_20C_OHM_MM2_PER_M = 1 / 58
COPPER_ALPHA_20C_PER_K = 0.00393

TRADE_AWG = (30, 28, 26, 24, 22, 20, 18, 16, 14, 12, 10, 8, 6, 4, 2, 1, 0, -1, -2, -3)
"""Sizes sold as wire, thinnest first; 0 is 1/0 and -3 is 4/0."""


def awg_diameter_mm(number: int) -> float:
    """Diameter in mm of a solid AWG conductor: d = 0.127 * 92**((36 - n) / 39).

    ``number`` is 0 for 1/0 and -3 for 4/0. Source: ASTM B258.
    """
    return float(0.127 * 92 ** ((36 - number) / 39))


def awg_area_mm2(number: int) -> float:
    """Area in mm2 of a solid AWG conductor. Source: ASTM B258."""
    return math.pi / 4 * awg_diameter_mm(number) ** 2


def awg_name(number: int) -> str:
    """``18`` for 18, ``2/0`` for -1."""
    return str(number) if number > 0 else f"{1 - number}/0"


def strand_area_mm2(strands: int, strand_diameter_mm: float) -> float:
    """Copper area in mm2 of a stranded conductor: the sum of its strands."""
    return strands * math.pi / 4 * strand_diameter_mm**2


def resistance_from_strands_ohm_per_m(
    strands: int, strand_diameter_mm: float, conductivity: float = 1.0, lay_factor: float = 1.02
) -> float:
    """Resistance at 20 deg C in ohm/m of stranded copper.

    ``conductivity`` is relative to IACS (tinned fine strand about 0.93 to 0.96, ASTM B33);
    ``lay_factor`` is the extra length of the laid strand.
    """
    area = strand_area_mm2(strands, strand_diameter_mm)
    return COPPER_RESISTIVITY_20C_OHM_MM2_PER_M / conductivity * lay_factor / area


def resistance_at_temperature(
    resistance_20c_ohm_per_m: FloatArray | float, temperature_c: FloatArray | float
) -> FloatArray | float:
    """Resistance at a conductor temperature: R20 (1 + 0.00393 (T - 20)). Source: IEC 60028."""
    return resistance_20c_ohm_per_m * (1 + COPPER_ALPHA_20C_PER_K * (temperature_c - 20))
