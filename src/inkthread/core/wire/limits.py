"""The five limits of every candidate gauge: current, drop, fuse, strength, ends.

A limit is a ratio: what is asked over what is allowed. It passes at 1 or below. ``ends`` is a
window, so it can fail from either side.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from inkthread.core.catalogue import ConnectorFamily, WireFamily, WireSize
from inkthread.core.physics.conductor import FloatArray
from inkthread.core.physics.heat import HeatCurves, ampacity_a, heat_curves

LIMITS = ("current", "drop", "fuse", "strength", "ends")

OVERLOAD_LONG = 1.10
"""A blade fuse carries 110 % for 100 h (ISO 8820-3, from memory)."""
OVERLOAD_SHORT = 1.35
"""A blade fuse may carry 135 % for up to 600 s (ISO 8820-3, from memory)."""

BoolArray = npt.NDArray[np.bool_]


@dataclass(slots=True)
class SizeTable:
    """One family's sizes at the ambients that occur, with heat curves for each pair.

    Shapes: sizes (s,); ampacity (ambients, s). ``curves`` has one row an (ambient, size) pair,
    ambient by ambient.
    """

    family: WireFamily
    ambients_c: tuple[float, ...]
    area_mm2: FloatArray
    resistance_20c: FloatArray
    """ohm per metre."""
    curves: HeatCurves
    ampacity: FloatArray
    """Of one wire in free air, at the family's temperature."""
    size_of: dict[str, WireSize]
    """Gauge name to size."""

    def row(self, ambient: int, size: int) -> int:
        """Row of the curves for an ambient and a size."""
        return ambient * len(self.area_mm2) + size


def size_table(family: WireFamily, ambients_c: tuple[float, ...]) -> SizeTable:
    """Heat curves and free-air ampacity of every size of a family at each ambient."""
    sizes = family.sizes
    n, repeats = len(sizes), len(ambients_c)
    conductor = np.array([s.conductor_diameter_mm for s in sizes])
    outside = np.array([s.od_mm for s in sizes])
    resistance = np.array([s.resistance_ohm_per_km / 1000 for s in sizes])
    ambient = np.repeat(np.array(ambients_c, dtype=float), n)
    curves = heat_curves(
        np.tile(conductor, repeats), np.tile(outside, repeats), np.tile(resistance, repeats), ambient
    )
    ampacity = ampacity_a(curves, np.full(n * repeats, family.temperature_c))
    ampacity[ambient >= family.temperature_c] = 0.0
    return SizeTable(
        family,
        ambients_c,
        np.array([s.area_mm2 for s in sizes]),
        resistance,
        curves,
        ampacity.reshape(repeats, n),
        {s.gauge: s for s in sizes},
    )


@dataclass(frozen=True, slots=True)
class EndFit:
    """How every size of a family fits one kind of end. Arrays of shape (s,)."""

    ratio: FloatArray
    too_small: BoolArray
    too_large: BoolArray


def end_fit(wire: WireFamily, connector: ConnectorFamily, gender: str, stud: str | None) -> EndFit:
    """Judge every size against the contacts and seals of a connector family.

    Conductor area must lie in a contact's range, nominal outside diameter in that contact's
    insulation range, and least and largest outside diameter in a seal's window.
    """
    contacts = [
        c
        for c in connector.contacts
        if c.gender in (gender, "none", "socket" if connector.loose else gender)
        and (c.stud is None or stud is None or c.stud == stud)
    ]
    ratios, small, large = [], [], []
    for size in wire.sizes:
        best = (np.inf, False, False)
        for c in contacts:
            below = [c.conductor_min_mm2 / size.area_mm2, c.insulation_min_mm / size.od_mm]
            above = [size.area_mm2 / c.conductor_max_mm2, size.od_mm / c.insulation_max_mm]
            if connector.seals:
                seal = min(
                    connector.seals,
                    key=lambda s: max(s.od_min_mm / size.od_min_mm, size.od_max_mm / s.od_max_mm),
                )
                below.append(seal.od_min_mm / size.od_min_mm)
                above.append(size.od_max_mm / seal.od_max_mm)
            ratio = max(*below, *above)
            if ratio < best[0]:
                best = (ratio, max(below) > 1, max(above) > 1)
        ratios.append(best[0])
        small.append(best[1])
        large.append(best[2])
    return EndFit(np.array(ratios), np.array(small), np.array(large))


@dataclass(slots=True)
class Judgement:
    """Ratios of the limits that do not depend on other wires, shape (n, s), and what they allow."""

    current: FloatArray
    fuse: FloatArray
    strength: FloatArray
    ends: FloatArray
    too_small: BoolArray
    too_large: BoolArray
    allowed_a: FloatArray
    """Current allowed in company, shape (n, s)."""


def judge(
    table: SizeTable,
    ambient_index: npt.NDArray[np.intp],
    current_a: FloatArray,
    fuse_single_a: FloatArray,
    fuse_sum_a: FloatArray,
    bundle_share: float,
    least_area_mm2: float,
    fits: list[tuple[EndFit, ...]],
) -> Judgement:
    """Judge every size for every wire (shapes (n,) in, (n, s) out).

    ``fuse_single_a`` is the rating of the one fuse that protects a wire; it is held to 110 % in
    company and to 135 % alone. ``fuse_sum_a`` is the sum of the ratings of all the fuses feeding
    a shared return, held to its free-air current. Zero where there is none.
    """
    free = table.ampacity[ambient_index]
    allowed = free * bundle_share
    with np.errstate(divide="ignore", invalid="ignore"):
        current = np.where(current_a[:, None] > 0, current_a[:, None] / allowed, 0.0)
        single = np.where(
            fuse_single_a[:, None] > 0,
            np.maximum(
                OVERLOAD_LONG * fuse_single_a[:, None] / allowed,
                OVERLOAD_SHORT * fuse_single_a[:, None] / free,
            ),
            0.0,
        )
        shared = np.where(fuse_sum_a[:, None] > 0, fuse_sum_a[:, None] / free, 0.0)
    n, s = len(current_a), len(table.area_mm2)
    strength = np.broadcast_to(least_area_mm2 / table.area_mm2, (n, s))
    ends, small, large = _ends_of(fits, n, s)
    return Judgement(current, np.maximum(single, shared), strength, ends, small, large, allowed)


def _ends_of(fits: list[tuple[EndFit, ...]], n: int, s: int) -> tuple[FloatArray, BoolArray, BoolArray]:
    """Worst fit of both ends of every wire; few kinds of end serve many wires."""
    kinds: dict[int, int] = {}
    distinct: list[EndFit] = []
    rows = np.zeros((2, n), dtype=np.intp)
    for i, pair in enumerate(fits):
        for side, fit in enumerate(pair):
            at = kinds.get(id(fit))
            if at is None:
                distinct.append(fit)
                at = kinds[id(fit)] = len(distinct)
            rows[side, i] = at
    none = np.zeros((1, s))
    ratio = np.concatenate([none, *(f.ratio[None, :] for f in distinct)])
    small = np.concatenate([none > 0, *(f.too_small[None, :] for f in distinct)])
    large = np.concatenate([none > 0, *(f.too_large[None, :] for f in distinct)])
    a, b = rows
    return np.maximum(ratio[a], ratio[b]), small[a] | small[b], large[a] | large[b]
