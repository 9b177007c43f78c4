"""Ampacity by three methods behind one call, so that any two can be compared for one wire.

``heat balance`` reckons; ``aircraft`` and ``marine`` read published tables and say where they do
not reach. Which of them decides is the practice's: see ``deciding_methods``.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import Literal, get_args

import numpy as np

from inkthread.core.catalogue import AircraftRule, Catalogue, MarineTable, WireFamily, WireSize
from inkthread.core.document.values import Practice
from inkthread.core.physics.air import pressure_at_altitude_pa
from inkthread.core.physics.bundle import Bundles, scale_to_limit
from inkthread.core.physics.conductor import (
    COPPER_ALPHA_20C_PER_K,
    FloatArray,
    awg_area_mm2,
    awg_name,
)
from inkthread.core.record import record
from inkthread.core.tolerances import ROUNDING

Method = Literal["heat-balance", "aircraft", "marine"]
METHODS: tuple[Method, ...] = get_args(Method)
EngineSpace = Literal["outside", "inside"]

FEET_PER_M = 1 / 0.3048
HEAT_BALANCE_SOURCE = (
    "Heat balance: natural convection (horizontal cylinder correlation of 1975, from memory) and "
    "radiation; bundle with its loaded wires at the core"
)
_AREA_SLACK = 0.03
"""Strands come to a little less than the gauge's own area; a size this near still counts as it."""


class OutOfTable(ValueError):
    """A table does not reach to what is asked. The message says how far it reaches."""


@record
class Conditions:
    """What a wire lies in. ``loaded`` is the share of the bundle's capacity that is carried, 0 to 1."""

    ambient_c: float
    conductor_c: float
    wires: int = 1
    loaded: float = 1.0
    altitude_m: float = 0.0
    insulation_rating_c: float | None = None
    """For the marine table; the family's own when absent."""
    engine_space: EngineSpace = "outside"
    marine_bundling: bool = False
    """House rule: apply the marine bundling factors below 50 V too."""


@record
class Ampacity:
    """Current allowed, in A: free air times both factors; and where each comes from."""

    method: Method
    ampacity_a: float
    free_air_a: float
    bundle_factor: float
    altitude_factor: float
    source: str
    interpolated: bool
    """True where a factor lies between the published points."""


def ampacity(
    method: Method, catalogue: Catalogue, family: WireFamily, size: WireSize, conditions: Conditions
) -> Ampacity:
    """Ampacity of one wire by one method. Raises OutOfTable where a table does not reach."""
    return _METHODS[method](catalogue, family, size, conditions)


def deciding_methods(practice: Practice) -> tuple[Method, ...]:
    """Methods of which the lowest decides: aviation takes the lower of two, marine its table."""
    if practice == "aviation":
        return ("heat-balance", "aircraft")
    return ("marine",) if practice == "marine" else ("heat-balance",)


def _heat_balance(_: Catalogue, family: WireFamily, size: WireSize, c: Conditions) -> Ampacity:
    def carries(wires: int, loaded: int, altitude_m: float) -> float:
        """Current of each loaded wire at which the bundle's core reaches the conductor's limit."""
        if c.conductor_c <= c.ambient_c:
            return 0.0
        bundle = Bundles(
            np.zeros(wires, dtype=np.intp),
            np.full(wires, size.od_mm),
            np.full(wires, size.conductor_diameter_mm),
            np.array([c.ambient_c]),
            np.zeros(1),
            np.zeros(1),
            pressure_at_altitude_pa(altitude_m),
        )
        ohm = size.resistance_ohm_per_km / 1000 * (1 + COPPER_ALPHA_20C_PER_K * (c.conductor_c - 20))
        heat = np.where(np.arange(wires) < loaded, ohm, 0.0)
        return math.sqrt(float(scale_to_limit(bundle, heat, np.array([c.conductor_c]))[0]))

    at_sea_level = carries(1, 1, 0.0)
    aloft = carries(1, 1, c.altitude_m)
    # Loaded wires are whole ones: a share of them is never taken as fewer.
    loaded = min(max(1, math.ceil(c.wires * min(max(c.loaded, 0.0), 1.0) - ROUNDING)), c.wires)
    carried_a = min(aloft, carries(c.wires, loaded, c.altitude_m)) if c.wires > 1 else aloft
    return Ampacity(
        "heat-balance",
        carried_a,
        at_sea_level,
        carried_a / aloft if aloft else 1.0,
        aloft / at_sea_level if at_sea_level else 1.0,
        HEAT_BALANCE_SOURCE,
        False,
    )


def table_awg(sizes: tuple[int, ...], size: WireSize) -> int:
    """The AWG size to read a table by: the wire's own, else the next not larger in area.

    Raises OutOfTable for a wire thinner than the table's thinnest.
    """
    if size.awg is not None and size.awg in sizes:
        return size.awg
    fitting = [n for n in sizes if awg_area_mm2(n) <= size.area_mm2 * (1 + _AREA_SLACK)]
    if not fitting:
        raise OutOfTable(f"The table begins at {awg_name(max(sizes))} AWG; {size.gauge} is thinner.")
    return min(fitting)


def aircraft_free_air_a(rule: AircraftRule, size: WireSize, rise_k: float) -> float:
    """Free-air current in A of one wire for a rise in K, by the aircraft curves."""
    number = table_awg(tuple(s.awg for s in rule.sizes), size)
    row = next(s for s in rule.sizes if s.awg == number)
    return float(row.free_air_a * (max(rise_k, 0.0) / rule.rise_k) ** rule.exponent)


def aircraft_bundle_factor(
    rule: AircraftRule, wires: FloatArray, loaded: FloatArray
) -> tuple[FloatArray, FloatArray]:
    """Bundle factor, and whether it lies between the published points, as arrays.

    Along each published curve the factor falls as a power of the count, from 1 for one wire through
    its point; between the curves it goes straight with loading. Beyond both points the lower holds.
    """
    part, full = rule.bundle
    some = np.maximum(wires, 1.0)
    light = np.power(np.minimum(some, part.wires), np.log(part.factor) / np.log(part.wires))
    heavy = np.power(np.minimum(some, full.wires), np.log(full.factor) / np.log(full.wires))
    share = np.clip((loaded - part.loaded) / (full.loaded - part.loaded), 0.0, 1.0)
    between = light + (heavy - light) * share
    beyond = (some > full.wires) & (share > 0)
    factor = np.where(beyond, np.minimum(part.factor, full.factor), between)
    published = (
        (some == 1)
        | ((some == part.wires) & np.isclose(loaded, part.loaded))
        | ((some == full.wires) & np.isclose(loaded, full.loaded))
    )
    return factor, np.where(published, 0.0, 1.0)


def aircraft_altitude_factor(rule: AircraftRule, altitude_m: float) -> float:
    """Altitude factor; straight between the published points, the last one beyond them."""
    feet = [p[0] for p in rule.altitude]
    return float(np.interp(altitude_m * FEET_PER_M, feet, [p[1] for p in rule.altitude]))


def _aircraft(catalogue: Catalogue, family: WireFamily, size: WireSize, c: Conditions) -> Ampacity:
    rule = catalogue.aircraft
    number = table_awg(tuple(s.awg for s in rule.sizes), size)
    row = next(s for s in rule.sizes if s.awg == number)
    free = aircraft_free_air_a(rule, size, c.conductor_c - c.ambient_c)
    factor, between = aircraft_bundle_factor(rule, np.array([float(c.wires)]), np.array([c.loaded]))
    altitude = aircraft_altitude_factor(rule, c.altitude_m)
    feet = c.altitude_m * FEET_PER_M
    interpolated = bool(between[0]) or not any(abs(feet - p[0]) < 1 for p in rule.altitude)
    words = [row.source]
    if c.wires > 1:
        words.append(rule.bundle_source)
    if feet > 1:
        words.append(rule.altitude_source)
    if interpolated:
        words.append("interpolated here: not a figure of the chart")
    return Ampacity(
        "aircraft",
        free * float(factor[0]) * altitude,
        free,
        float(factor[0]),
        altitude,
        "; ".join(words),
        interpolated,
    )


def marine_outside_a(table: MarineTable, size: WireSize, rating_c: float) -> tuple[float, int]:
    """Current in A outside an engine space, and the rating of the column it is read from."""
    columns = [r for r in table.outside if r <= rating_c + ROUNDING]
    if not columns:
        raise OutOfTable(
            f"The table begins with insulation for {min(table.outside)} °C; {rating_c:g} °C is less."
        )
    number = table_awg(table.sizes, size)
    return table.outside[max(columns)][table.sizes.index(number)], max(columns)


def marine_bundle_factor(table: MarineTable, wires: int) -> float:
    """Bundling factor by the number of current-carrying conductors."""
    if wires < 3:
        return 1.0
    return next(factor for most, factor in table.bundling if wires <= most)


def _marine(catalogue: Catalogue, family: WireFamily, size: WireSize, c: Conditions) -> Ampacity:
    table = catalogue.marine
    rating = family.temperature_c if c.insulation_rating_c is None else c.insulation_rating_c
    outside, column = marine_outside_a(table, size, rating)
    hottest = table.inside_ambient_c if c.engine_space == "inside" else table.outside_ambient_c
    if c.ambient_c > table.inside_ambient_c:
        raise OutOfTable(
            f"The table holds to {table.inside_ambient_c:g} °C, inside an engine space; "
            f"it is {c.ambient_c:g} °C here. Use the heat balance."
        )
    inside = c.engine_space == "inside" or c.ambient_c > hottest
    free = outside * (table.inside_factor[column] if inside else 1.0)
    factor = marine_bundle_factor(table, c.wires) if c.marine_bundling else 1.0
    words = [f"{table.source}: {column} °C column, {'inside' if inside else 'outside'} an engine space"]
    if c.marine_bundling:
        words.append(table.bundling_source)
    elif c.wires >= 3:
        words.append("bundling factors are for circuits above 50 V and are not applied")
    return Ampacity("marine", free * factor, free, factor, 1.0, "; ".join(words), False)


_METHODS: dict[Method, Callable[[Catalogue, WireFamily, WireSize, Conditions], Ampacity]] = {
    "heat-balance": _heat_balance,
    "aircraft": _aircraft,
    "marine": _marine,
}
