"""What a conductor stands for a short time: adiabatic heating, and heating with some cooling.

Sources: IEC 60364-5-54 and IEC 60949 (k), from memory.
"""

from __future__ import annotations

import math
from typing import Literal

import numpy as np

from inkthread.core.physics.conductor import COPPER_ALPHA_20C_PER_K, FloatArray
from inkthread.core.physics.heat import HeatCurves
from inkthread.core.record import record

Metal = Literal["copper", "aluminium", "steel"]

COPPER_HEAT_J_PER_K_MM3 = 3.45e-3
COPPER_BETA_K = 234.5
COPPER_OHM_MM = 17.241e-6
"""Heat capacity by volume, reciprocal of the temperature coefficient at 0 deg C, resistivity at 20 deg C
(IEC 60949, table 1, from memory)."""
_METALS: dict[Metal, tuple[float, float, float]] = {
    "copper": (COPPER_HEAT_J_PER_K_MM3, COPPER_BETA_K, COPPER_OHM_MM),
    "aluminium": (2.5e-3, 228.0, 28.264e-6),
    "steel": (3.8e-3, 202.0, 138e-6),
}
"""The same three of each metal (IEC 60949, table 1, from memory)."""

ADIABATIC_LIMIT_S = 5.0
"""To here the heat that leaves is neglected (IEC 60364-4-43, from memory)."""
INSULATION_HEAT_J_PER_K_MM3 = 1.9e-3
"""Typical of plastics, 1.6 to 2.3; half of it is counted, since its outside stays cool."""


def adiabatic_k(initial_c: float, final_c: float, metal: Metal = "copper") -> float:
    """k in A s**0.5 / mm2, so that I**2 t = k**2 S**2. Source: IEC 60949, 3, and IEC 60364-5-54 annex A.

    >>> round(adiabatic_k(70, 160)), round(adiabatic_k(90, 250))
    (115, 143)
    """
    heat, beta, resistivity = _METALS[metal]
    return math.sqrt(heat * (beta + 20) / resistivity * math.log((beta + final_c) / (beta + initial_c)))


def withstand_s(current_a: float, area_mm2: float, initial_c: float, final_c: float) -> float:
    """Time in s that a copper conductor of this area stands a current, no heat leaving: (k S / I)**2.

    Source: IEC 60364-4-43, 434.5.2, from memory.

    >>> round(withstand_s(100.0, 1.0, 70, 160), 2)
    1.32
    """
    return float((adiabatic_k(initial_c, final_c) * area_mm2 / current_a) ** 2)


@record
class Pulse:
    """A current of ``current_a`` for ``on_s``, ``repeats`` times, ``pause_s`` of rest between."""

    current_a: float
    on_s: float
    repeats: int = 1
    pause_s: float = 0.0


def heat_capacity_j_per_m_k(area_mm2: float, conductor_mm: float, outside_mm: float) -> float:
    """Heat in J that one metre takes up for a kelvin: its copper, and half of its insulation.

    Source: volumetric heat capacity of copper 3.45e-3 J/(K mm3), IEC 60949 table I, from memory.

    >>> round(heat_capacity_j_per_m_k(1.0, 1.2, 2.0), 2)
    5.36
    """
    insulation = math.pi / 4 * (outside_mm**2 - conductor_mm**2)
    return 1000 * (area_mm2 * COPPER_HEAT_J_PER_K_MM3 + insulation * INSULATION_HEAT_J_PER_K_MM3 / 2)


def settled_share(duty: float, cycle_s: float, time_constant_s: FloatArray) -> FloatArray:
    """Peak of the settled rise under a current that goes on and off, over that of the same for good.

    (1 - exp(-on / tau)) / (1 - exp(-cycle / tau)) for a body that cools by one time constant: ``duty``
    where the cycle is short beside it, 1 where it is long. Source: first-order heating; motors and
    cables are rated so for intermittent duty (IEC 60034-1 duty type S3, from memory). Of the shape of
    ``time_constant_s``.

    >>> settled_share(0.25, 60.0, np.array([1.0, 60.0, 6000.0])).round(2).tolist()
    [1.0, 0.35, 0.25]
    """
    turn = np.maximum(cycle_s / time_constant_s, 1e-9)
    share: FloatArray = np.expm1(-duty * turn) / np.expm1(-turn)
    return share


def peak_temperature_c(
    curves: HeatCurves,
    row: int,
    resistance_20c_ohm_per_m: float,
    capacity_j_per_m_k: float,
    start_c: float,
    pulse: Pulse,
    rest_a: float = 0.0,
    raised_by_k: float = 0.0,
) -> float:
    """Hottest that a conductor gets under pulses, from ``start_c``, carrying ``rest_a`` between.

    ``curves`` give what leaves the wire in still air; ``raised_by_k`` is how much hotter than that
    air its company keeps it. Above 1500 deg C the answer is 1500: copper is long melted. Source: explicit
    steps of C dT/dt = I**2 R(T) less what leaves, held against an integrator of stiff equations in the tests.

    >>> from inkthread.core.physics.heat import heat_curves
    >>> one = np.ones(1)
    >>> curves = heat_curves(one * 1.0, one * 1.5, one * 0.021, one * 30.0)
    >>> round(peak_temperature_c(curves, 0, 0.021, 4.0, 30.0, Pulse(40.0, 2.0)))
    48
    """
    temperature = start_c
    hottest = start_c
    squared = curves.current_squared_a2[row]
    steady_c = curves.conductor_c[row]

    def settle(t: float, current_a: float, seconds: float) -> float:
        nonlocal hottest
        left = seconds
        while left > 0:
            resistance_ohm_per_m = resistance_20c_ohm_per_m * (1 + COPPER_ALPHA_20C_PER_K * (t - 20))
            shed_squared = float(np.interp(t - raised_by_k, steady_c, squared))
            rate = resistance_ohm_per_m * (current_a**2 - shed_squared) / capacity_j_per_m_k
            # A step may not move the conductor by more than 2 K, nor past the end.
            step = min(left, max(2.0 / max(abs(rate), 1e-9), seconds / 2000))
            settled = float(np.interp(current_a**2, squared, steady_c)) + raised_by_k
            moved = t + rate * step
            t = min(moved, max(settled, t)) if rate > 0 else max(moved, min(settled, t))
            left -= step
            hottest = max(hottest, t)
            if t >= 1500:
                hottest = 1500.0
                return 1500.0
            if abs(t - settled) < 0.01:
                break
        return t

    for number in range(pulse.repeats):
        temperature = settle(temperature, pulse.current_a, pulse.on_s)
        if number < pulse.repeats - 1 and pulse.pause_s > 0:
            temperature = settle(temperature, rest_a, pulse.pause_s)
    return hottest
