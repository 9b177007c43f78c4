"""What a length to cut is made of: finished length, allowances, surplus, and the step it is rounded to."""

from __future__ import annotations

import math
from typing import Literal

Rounding = Literal["up", "nearest"]


def round_up_mm(length_mm: float, step_mm: float) -> float:
    """Up to the next whole step; a length on the step stays. Zero step leaves it as it is."""
    if step_mm <= 0:
        return length_mm
    return round(math.ceil(round(length_mm / step_mm, 6)) * step_mm, 4)


def round_mm(length_mm: float, step_mm: float, rounding: Rounding) -> float:
    """To a whole step: the next one up, or the nearest (a half goes up)."""
    if rounding == "up" or step_mm <= 0:
        return round_up_mm(length_mm, step_mm)
    return round(math.floor(round(length_mm / step_mm, 6) + 0.5) * step_mm, 4)


def cut_length_mm(
    finished_mm: float,
    allowance_a_mm: float,
    allowance_b_mm: float,
    *,
    surplus_mm: float = 0.0,
    step_mm: float = 0.0,
    rounding: Rounding = "up",
) -> float:
    """Finished length + what each end takes + what is left long, to a whole cutting step.

    >>> cut_length_mm(285.75, 15.875, 15.875), cut_length_mm(285, 8, 8, step_mm=5)
    (317.5, 305.0)
    """
    return round_mm(finished_mm + allowance_a_mm + allowance_b_mm + surplus_mm, step_mm, rounding)


def folded_strip_mm(strip_mm: float) -> tuple[float, float]:
    """Of a strip folded in half to fill a barrel: how much copper is left bare, and by how much the core is
    then shorter than its neighbours, in mm. Source: arithmetic; 3/8 in leaves 3/16 in (common practice).
    """
    return strip_mm / 2, strip_mm / 2
