"""Heat balance of one insulated round conductor in still air.

I**2 R(Tc) = natural convection + radiation, through the insulation's thermal resistance. With the
surface temperature as the parameter every term is explicit, so no root is sought to draw the curve
of current against conductor temperature.
"""

from __future__ import annotations

import numpy as np

from inkthread.core.physics import air
from inkthread.core.physics.conductor import COPPER_ALPHA_20C_PER_K, FloatArray
from inkthread.core.record import record

STEFAN_BOLTZMANN = 5.670374e-8
"""In W/(m2 K4) (exact in SI since 2019, rounded)."""
GRAVITY = 9.80665
"""In m/s2 (ISO 80000-3, the standard value)."""
KELVIN = 273.15
"""0 deg C in K (by definition)."""

EMISSIVITY = 0.9
"""Of dull plastic insulation; typical (0.85 to 0.95), from memory of heat transfer handbooks."""
INSULATION_CONDUCTIVITY_W_PER_M_K = 0.24
"""Typical of fluoropolymer and cross-linked polyolefin insulation (0.16 to 0.3)."""


def rayleigh(
    film_k: FloatArray,
    rise_k: FloatArray,
    diameter_m: FloatArray,
    viscosity_pa_s: FloatArray,
    conductivity_w_per_m_k: FloatArray,
    pressure_pa: float,
) -> FloatArray:
    """Rayleigh number of a horizontal cylinder in an ideal gas: g rise d**3 Pr / (film nu**2).

    Air's properties are those at the film temperature, the mean of surface and ambient. All arrays alike.
    Source: its definition (Incropera and DeWitt, Fundamentals of Heat and Mass Transfer, eq. 9.25, from
    memory).

    >>> film = np.array(320.0)
    >>> mu, k = air.dynamic_viscosity_pa_s(film), air.thermal_conductivity_w_per_m_k(film)
    >>> round(float(rayleigh(film, np.array(40.0), np.array(0.01), mu, k, 101_325.0)))
    2786
    """
    kinematic = viscosity_pa_s / air.density_kg_per_m3(film_k, pressure_pa)
    prandtl = viscosity_pa_s * air.HEAT_CAPACITY_J_PER_KG_K / conductivity_w_per_m_k
    return GRAVITY / film_k * rise_k * diameter_m**3 / (kinematic * kinematic) * prandtl


def nusselt_horizontal_cylinder(rayleigh_number: FloatArray, prandtl_number: FloatArray) -> FloatArray:
    """Nusselt number, natural convection, long horizontal cylinder; Ra below 1e12. All arrays alike.

    Source: Churchill and Chu, Int. J. Heat Mass Transfer 18 (1975) 1049, from memory.

    >>> round(float(nusselt_horizontal_cylinder(np.array(1e4), np.array(0.71))), 2)
    4.37
    """
    spread = (1 + (0.559 / prandtl_number) ** (9 / 16)) ** (8 / 27)
    return (0.60 + 0.387 * rayleigh_number ** (1 / 6) / spread) ** 2


def heat_shed_w_per_m(
    surface_c: FloatArray,
    ambient_c: FloatArray,
    diameter_mm: FloatArray,
    pressure_pa: float = air.STANDARD_PRESSURE_PA,
    emissivity: float = EMISSIVITY,
) -> FloatArray:
    """Heat in W/m leaving a horizontal cylinder's surface by convection and radiation. All arrays alike.

    Source: Churchill and Chu for convection, Stefan's and Boltzmann's law to surroundings as warm as the air.

    >>> round(float(heat_shed_w_per_m(np.array(80.0), np.array(30.0), np.array(2.0))), 2)
    8.16
    """
    surface_k, ambient_k = surface_c + KELVIN, ambient_c + KELVIN
    diameter_m = diameter_mm / 1000
    film, rise = (surface_k + ambient_k) / 2, surface_k - ambient_k
    viscosity_pa_s, conductivity_w_per_m_k = (
        air.dynamic_viscosity_pa_s(film),
        air.thermal_conductivity_w_per_m_k(film),
    )
    nusselt = nusselt_horizontal_cylinder(
        rayleigh(
            film, np.maximum(rise, 0.0), diameter_m, viscosity_pa_s, conductivity_w_per_m_k, pressure_pa
        ),
        viscosity_pa_s * air.HEAT_CAPACITY_J_PER_KG_K / conductivity_w_per_m_k,
    )
    convection = np.pi * nusselt * conductivity_w_per_m_k * rise
    surface_square, ambient_square = surface_k * surface_k, ambient_k * ambient_k
    radiation = (
        (np.pi * emissivity * STEFAN_BOLTZMANN)
        * diameter_m
        * (surface_square * surface_square - ambient_square * ambient_square)
    )
    return convection + radiation


def insulation_k_m_per_w(conductor_diameter_mm: FloatArray, outside_diameter_mm: FloatArray) -> FloatArray:
    """Thermal resistance of a wire's insulation in K m/W: ln(D / d) / (2 pi k). All arrays alike.

    Source: conduction through a hollow cylinder (IEC 60287-2-1, 4.1.1, T1 of a single core, from memory).

    >>> round(float(insulation_k_m_per_w(np.array(1.0), np.array(2.0))), 3)
    0.46
    """
    ratio: FloatArray = outside_diameter_mm / conductor_diameter_mm
    return np.log(ratio) / (2 * np.pi * INSULATION_CONDUCTIVITY_W_PER_M_K)


def cover_k_m_per_w(
    bundle_diameter_mm: FloatArray,
    gap_mm: FloatArray,
    gap_w_per_m_k: FloatArray,
    wall_mm: FloatArray,
    wall_w_per_m_k: FloatArray,
) -> FloatArray:
    """Thermal resistance of what covers a bundle, its air gap and its wall, in K m/W. All arrays alike.

    None where gap and wall are 0. The conductivity of the gap counts what radiates across it. Source:
    conduction through hollow cylinders one in the other (IEC 60287-2-1, 4.1.1, from memory).

    >>> one = np.ones(1)
    >>> cover_k_m_per_w(10 * one, 0.5 * one, 0.03 * one, 0.5 * one, 0.15 * one).round(3).tolist()
    [0.598]
    """
    inside = bundle_diameter_mm + 2 * gap_mm
    gap = np.log(inside / bundle_diameter_mm) / (2 * np.pi * gap_w_per_m_k)
    wall: FloatArray = np.log((inside + 2 * wall_mm) / inside) / (2 * np.pi * wall_w_per_m_k)
    return gap + wall


@record
class HeatCurves:
    """Current squared against conductor temperature, one row a wire, rising along the row."""

    current_squared_a2: FloatArray
    conductor_c: FloatArray


def heat_curves(
    conductor_diameter_mm: FloatArray,
    outside_diameter_mm: FloatArray,
    resistance_20c_ohm_per_m: FloatArray,
    ambient_c: FloatArray,
    top_c: float = 400.0,
    points: int = 96,
    pressure_pa: float = air.STANDARD_PRESSURE_PA,
    radiant_w_per_m2: FloatArray | float = 0.0,
) -> HeatCurves:
    """Curves for wires of shape (n,): arrays of shape (n, points).

    The surface temperature runs from ambient to ``top_c``, denser near ambient. ``radiant_w_per_m2``
    falls on all of the surface and is shed beside the wire's own heat; below the temperature that it
    alone brings, the current squared is negative. Source: the heat balance of this module's functions.

    >>> one = np.ones(1)
    >>> curves = heat_curves(one * 1.0, one * 1.5, one * 0.021, one * 30.0)
    >>> curves.conductor_c.shape, bool((np.diff(curves.conductor_c[0]) > 0).all())
    ((1, 96), True)
    """
    share = np.linspace(0.0, 1.0, points)[None, :] ** 1.7
    ambient = ambient_c[:, None]
    surface = ambient + share * (top_c - ambient)
    shed = heat_shed_w_per_m(surface, ambient, outside_diameter_mm[:, None], pressure_pa)
    own = shed - (radiant_w_per_m2 * outside_diameter_mm / 1000 * np.pi)[:, None]
    conductor = surface + own * insulation_k_m_per_w(conductor_diameter_mm, outside_diameter_mm)[:, None]
    resistance_ohm_per_m = resistance_20c_ohm_per_m[:, None] * (1 + COPPER_ALPHA_20C_PER_K * (conductor - 20))
    return HeatCurves(own / resistance_ohm_per_m, conductor)


def heat_at_limit_w_per_m(
    outside_mm: FloatArray,
    through_k_m_per_w: FloatArray,
    ambient_c: FloatArray,
    limit_c: FloatArray,
    pressure_pa: float = air.STANDARD_PRESSURE_PA,
    radiant_w_per_m2: FloatArray | float = 0.0,
) -> FloatArray:
    """Heat in W/m made inside round bodies at which what lies behind ``through`` is at its limit.

    The surface temperature by the secant, every body in step: what is shed grows smoothly with it, so
    a few steps settle it. Zero where the limit is at or below ambient, or where what falls on
    the body alone brings it there. All arrays are (n,). Source: the heat balance of this module's functions.

    >>> heat = heat_at_limit_w_per_m(np.array([2.0]), np.array([0.0]), np.array([30.0]), np.array([80.0]))
    >>> round(float(heat[0]), 2)
    8.16
    """
    falls = radiant_w_per_m2 * outside_mm / 1000 * np.pi
    room = np.maximum(limit_c - ambient_c, 0.0)
    surface = ambient_c + 0.85 * room
    near = 0.01
    if not np.any(through_k_m_per_w):
        shed = heat_shed_w_per_m(ambient_c + room, ambient_c, outside_mm, pressure_pa)
        return np.where(room > 0, np.maximum(shed - falls, 0.0), 0.0)
    before = over_before = np.full_like(surface, np.nan)
    for _ in range(12):
        shed = heat_shed_w_per_m(surface, ambient_c, outside_mm, pressure_pa)
        over = surface + (shed - falls) * through_k_m_per_w - limit_c
        # The first step by the power law of what is shed, then by the secant.
        slope = 1 + 1.25 * shed / np.maximum(surface - ambient_c, near) * through_k_m_per_w
        step = surface - before
        moved = np.abs(step) > 1e-6
        slope = np.where(moved, (over - over_before) / np.where(moved, step, 1.0), slope)
        before, over_before = surface, over
        # With heat falling on it, the surface may be hotter than what lies behind it.
        surface = np.clip(
            surface - over / np.maximum(slope, 1.0), ambient_c, ambient_c + room + falls * through_k_m_per_w
        )
        if float(np.abs(surface - before).max(initial=0.0)) < near:
            break
    shed = heat_shed_w_per_m(surface, ambient_c, outside_mm, pressure_pa)
    return np.where(room > 0, np.maximum(shed - falls, 0.0), 0.0)


def free_air_ampacity_a(
    conductor_diameter_mm: FloatArray,
    outside_diameter_mm: FloatArray,
    resistance_20c_ohm_per_m: FloatArray,
    ambient_c: FloatArray,
    limit_c: FloatArray,
    pressure_pa: float = air.STANDARD_PRESSURE_PA,
    radiant_w_per_m2: FloatArray | float = 0.0,
) -> FloatArray:
    """Current in A of wires alone in still air at their temperature limits, all at once. Shape (n,).

    Source: I**2 R = heat shed at the limit, by the heat balance of this module's functions.

    >>> one = np.ones(1)
    >>> round(float(free_air_ampacity_a(one * 1.0, one * 1.5, one * 0.021, one * 30, one * 150)[0]))
    24
    """
    heat = heat_at_limit_w_per_m(
        outside_diameter_mm,
        insulation_k_m_per_w(conductor_diameter_mm, outside_diameter_mm),
        ambient_c,
        limit_c,
        pressure_pa,
        radiant_w_per_m2,
    )
    return np.sqrt(heat / (resistance_20c_ohm_per_m * (1 + COPPER_ALPHA_20C_PER_K * (limit_c - 20))))


def ampacity_a(curves: HeatCurves, limit_c: FloatArray) -> FloatArray:
    """Current in A at which each wire of the curves reaches its temperature limit.

    Zero where the limit is at or below ambient. Shape (n,). Source: read off the curves of ``heat_curves``.

    >>> one = np.ones(1)
    >>> curves = heat_curves(one * 1.0, one * 1.5, one * 0.021, one * 30.0)
    >>> round(float(ampacity_a(curves, one * 150)[0]))
    24
    """
    result = np.empty(len(limit_c))
    for row, limit in enumerate(limit_c):
        squared = np.interp(limit, curves.conductor_c[row], curves.current_squared_a2[row])
        result[row] = np.sqrt(max(float(squared), 0.0))
    return result


def conductor_temperature_c(curves: HeatCurves, row: int, current_a: FloatArray) -> FloatArray:
    """Conductor temperature in deg C of one wire of the curves at each current, of the shape of that.

    Source: read off the curves of ``heat_curves``.

    >>> one = np.ones(1)
    >>> curves = heat_curves(one * 1.0, one * 1.5, one * 0.021, one * 30.0)
    >>> round(float(conductor_temperature_c(curves, 0, np.array(0.0))))
    30
    """
    squared = np.square(current_a)
    conductor_c: FloatArray = np.interp(squared, curves.current_squared_a2[row], curves.conductor_c[row])
    return conductor_c
