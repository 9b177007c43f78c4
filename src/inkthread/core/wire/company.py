"""What a wire may carry where it lies: the bundles it passes, and the tables that bind it.

Every (wire, branch) pair is a row. A branch's bundle is as hot as the currents of its wires make
it; what one wire may carry there is what brings the core to the lowest rating in the bundle, all
the others as they are.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from inkthread.core.catalogue import Catalogue
from inkthread.core.physics.air import pressure_at_altitude_pa
from inkthread.core.physics.bundle import (
    BUNDLE_CONDUCTIVITY_W_PER_M_K,
    OUTER_CONDUCTIVITY_W_PER_M_K,
    BundleHeat,
    Bundles,
    bundle_heat,
)
from inkthread.core.physics.conductor import COPPER_ALPHA_20C_PER_K, BoolArray, FloatArray, IntArray
from inkthread.core.physics.heat import heat_shed_w_per_m
from inkthread.core.wire.ampacity import (
    Method,
    OutOfTable,
    aircraft_altitude_factor,
    aircraft_bundle_factor,
    aircraft_free_air_a,
    marine_bundle_factor,
    marine_outside_a,
)
from inkthread.core.wire.families import CandidateTable, Chains

LEAST_SPARE = 0.05
"""Share of a bundle's room that one wire is allowed even where the others leave none."""


@dataclass(frozen=True, slots=True)
class Lie:
    """Where the wires lie. Rows are (wire, branch) pairs, branch by branch."""

    wire: IntArray
    branch: IntArray
    length_mm: FloatArray
    """Of the wire in the branch (the branch's own length)."""
    branch_ids: tuple[str, ...]
    ambient_c: FloatArray
    """By branch."""
    ambient_index: IntArray
    """By branch: place of its ambient in the table."""
    radiant_w_per_m2: FloatArray
    engine_space: FloatArray
    """By wire: 1 where any of its way is an engine space."""
    hottest_c: FloatArray
    """By wire: hottest air on its way."""
    altitude_m: float


@dataclass(slots=True)
class Company:
    """Bundles at the chosen sizes, and what every candidate may carry among them."""

    heat: BundleHeat
    counts: IntArray
    limit_c: FloatArray
    """By branch: the lowest insulation rating in it, of wires that its air leaves anything to carry."""
    row_c: FloatArray
    """Temperature of each row's conductor."""
    worst: IntArray
    """By wire: the row where it has least to spare, or -1 where it passes no branch."""
    allowed_a: FloatArray
    """(n, k)."""
    wire_c: FloatArray
    """By wire: mean temperature along its way, by length."""
    aircraft_factor: FloatArray | None
    """By branch, where the aircraft rule binds."""


@dataclass(frozen=True, slots=True)
class Bench:
    """Everything about candidates that no choice changes: free-air currents by the binding methods."""

    table: CandidateTable
    chains: Chains
    methods: tuple[Method, ...]
    free_a: FloatArray
    """(n, k): least of the binding methods alone, at the hottest air on the way."""
    heat_free_a: FloatArray
    """(n, k): by heat balance."""
    aircraft_free_a: FloatArray
    """(ambients, s): by the aircraft curves, altitude counted; infinite where the table does not reach."""
    baked: BoolArray
    """By wire: the air on its way is hotter than every candidate's insulation stands.

    No size helps there, so heat asks nothing of its size.
    """


def make_bench(
    catalogue: Catalogue,
    table: CandidateTable,
    chains: Chains,
    methods: tuple[Method, ...],
    lie: Lie,
    wire_ambient: IntArray,
    marine_bundling: bool,
    wires_beside: IntArray,
) -> Bench:
    """Free-air currents of every candidate by every method that binds."""
    heat = table.free_air_a[wire_ambient[:, None], chains.index]
    free = heat
    aircraft = np.full(table.free_air_a.shape, np.inf)
    if "aircraft" in methods:
        factor = aircraft_altitude_factor(catalogue.aircraft, lie.altitude_m)
        for s, size in enumerate(table.sizes):
            for a, ambient in enumerate(table.ambients_c):
                try:
                    rise = float(table.rating_c[s]) - ambient
                    aircraft[a, s] = aircraft_free_air_a(catalogue.aircraft, size, rise) * factor
                except OutOfTable:
                    continue
        free = np.minimum(free, aircraft[wire_ambient[:, None], chains.index])
    if "marine" in methods:
        marine = _marine_a(catalogue, table, lie, chains)
        if marine_bundling:
            factors = np.array([marine_bundle_factor(catalogue.marine, int(n)) for n in wires_beside])
            marine = marine * factors[:, None]
        # Where the table does not reach, or the air is hotter than it holds for, the balance decides.
        beyond = lie.hottest_c > catalogue.marine.inside_ambient_c
        free = np.where(
            np.isfinite(marine), np.where(beyond[:, None], np.minimum(marine, heat), marine), heat
        )
    made = np.arange(free.shape[1]) < chains.length[:, None]
    baked = np.asarray(~((free > 0) & made).any(axis=1))
    return Bench(table, chains, methods, free, heat, aircraft, baked)


def _marine_a(catalogue: Catalogue, table: CandidateTable, lie: Lie, chains: Chains) -> FloatArray:
    marine = catalogue.marine
    by_space = np.full((2, len(table.sizes)), np.inf)
    for s, size in enumerate(table.sizes):
        try:
            outside, column = marine_outside_a(marine, size, float(table.rating_c[s]))
        except OutOfTable:
            continue
        by_space[:, s] = outside, outside * marine.inside_factor[column]
    inside = ((lie.engine_space > 0) | (lie.hottest_c > marine.outside_ambient_c)).astype(np.intp)
    return np.asarray(by_space[inside[:, None], chains.index])


def keep_company(
    bench: Bench, lie: Lie, chosen: IntArray, current_a: FloatArray, catalogue: Catalogue
) -> Company:
    """Heat of every bundle at the chosen candidates, and what each candidate may carry there."""
    table, chains = bench.table, bench.chains
    n, branches = len(chosen), len(lie.branch_ids)
    picked = chains.index[np.arange(n), chosen] if n else np.zeros(0, dtype=np.intp)
    row_pick = picked[lie.wire]
    current = current_a[lie.wire]
    resistance = table.resistance_20c[row_pick]
    pressure = pressure_at_altitude_pa(lie.altitude_m)
    bundles = Bundles(
        lie.branch,
        table.outside_mm[row_pick],
        lie.ambient_c,
        np.zeros(branches),
        lie.radiant_w_per_m2,
        pressure,
    )
    counts = bundles.counts
    heat = bundle_heat(bundles, current, resistance)
    limit = np.full(branches, np.inf)
    np.minimum.at(limit, lie.branch, np.where(bench.baked[lie.wire], np.inf, table.rating_c[row_pick]))
    alone_c = _alone_c(table, lie, row_pick, current)
    single = counts[lie.branch] == 1
    core = heat.core_c[lie.branch]
    row_c = np.where(single, alone_c, np.where(current > 0, np.maximum(core, alone_c), core))

    # What one wire may carry at the limit, the others as they are.
    diameter = np.maximum(bundles.diameter_mm, 1e-6)
    top = np.where(np.isfinite(limit), limit, lie.ambient_c + 1)
    shed = heat_shed_w_per_m(top, lie.ambient_c, diameter, pressure)
    room = np.maximum(top - lie.ambient_c, 0.0)
    surface_k = np.where(shed > 0, room / np.maximum(shed, 1e-12), 1e6)
    area = np.bincount(lie.branch, bundles.outside_mm**2, minlength=branches)
    own = np.minimum(bundles.outside_mm**2 / area[lie.branch], 1.0)
    inner_k = (1 / BUNDLE_CONDUCTIVITY_W_PER_M_K - np.log(own) / OUTER_CONDUCTIVITY_W_PER_M_K) / (4 * np.pi)
    per_watt = surface_k[lie.branch] + inner_k
    at_limit = resistance * (1 + COPPER_ALPHA_20C_PER_K * (top[lie.branch] - 20))
    # One wire's share of the rise is never more than the whole rise.
    watts_now = current**2 * at_limit
    rise = np.maximum(core - lie.ambient_c[lie.branch], 0.0)
    with np.errstate(divide="ignore", invalid="ignore"):
        per_watt = np.where(watts_now > 0, np.minimum(per_watt, rise / watts_now), per_watt)
    top_here, room_here = top[lie.branch], np.maximum(top[lie.branch] - lie.ambient_c[lie.branch], 0.0)
    spare_k = top_here - core + watts_now * per_watt
    # Where the rest alone is too hot, every wire would have to give way alike.
    with np.errstate(divide="ignore", invalid="ignore"):
        alike = np.where(rise > 0, watts_now * per_watt * room_here / rise, 0.0)
    spare_k = np.maximum(spare_k, np.maximum(alike, room_here * LEAST_SPARE))
    # W per metre that one wire may shed in each row.
    row_square = np.where(single, np.inf, spare_k / np.maximum(per_watt, 1e-9))

    worst = np.full(n, -1, dtype=np.intp)
    margin = np.where(single, np.inf, row_square)
    order = np.argsort(-margin, kind="stable")
    worst[lie.wire[order]] = order
    allowed = bench.free_a
    factor: FloatArray | None = None
    if n and len(lie.wire):
        has = worst >= 0
        watts = np.where(has, row_square[np.maximum(worst, 0)], np.inf)
        hot = np.where(has, top[lie.branch[np.maximum(worst, 0)]], 20.0)
        ohm = table.resistance_20c[chains.index] * (1 + COPPER_ALPHA_20C_PER_K * (hot[:, None] - 20))
        in_bundle = np.sqrt(watts[:, None] / ohm)
        if "heat-balance" in bench.methods:
            allowed = np.minimum(allowed, in_bundle)
        if "aircraft" in bench.methods:
            factor = _aircraft_factor(bench, lie, row_pick, current, counts, catalogue)
            least = np.ones(n)
            np.minimum.at(least, lie.wire, factor[lie.branch])
            wire_ambient = np.zeros(n, dtype=np.intp)
            np.maximum.at(wire_ambient, lie.wire, lie.ambient_index[lie.branch])
            aircraft = bench.aircraft_free_a[wire_ambient[:, None], chains.index] * least[:, None]
            allowed = np.minimum(allowed, aircraft)
    wire_c = _mean_along(lie, row_c, n)
    return Company(heat, counts, limit, row_c, worst, allowed, wire_c, factor)


def _alone_c(table: CandidateTable, lie: Lie, row_pick: IntArray, current: FloatArray) -> FloatArray:
    """Temperature of each row's conductor alone in its branch's air."""
    at = lie.ambient_index[lie.branch] * len(table.sizes) + row_pick
    found = np.empty(len(at))
    order = np.argsort(at, kind="stable")
    edges = np.nonzero(np.diff(at[order]))[0] + 1
    for rows in np.split(order, edges):
        if len(rows):
            row = at[rows[0]]
            found[rows] = np.interp(
                current[rows] ** 2, table.curves.current_squared_a2[row], table.curves.conductor_c[row]
            )
    return found


def _aircraft_factor(
    bench: Bench, lie: Lie, row_pick: IntArray, current: FloatArray, counts: IntArray, catalogue: Catalogue
) -> FloatArray:
    """Bundle factor of each branch by its count and by what is carried of its capacity.

    Capacity is taken at the fully loaded factor, so loading is never understated.
    """
    rule = catalogue.aircraft
    branches = len(lie.branch_ids)
    free = bench.aircraft_free_a[lie.ambient_index[lie.branch], row_pick]
    free = np.where(np.isfinite(free), free, bench.table.free_air_a[lie.ambient_index[lie.branch], row_pick])
    capacity = np.bincount(lie.branch, free, minlength=branches)
    carried = np.bincount(lie.branch, current, minlength=branches)
    wires = np.maximum(counts, 1).astype(float)
    full = aircraft_bundle_factor(rule, wires, np.ones(branches))[0]
    loaded = carried / np.maximum(capacity * full, 1e-9)
    return aircraft_bundle_factor(rule, wires, loaded)[0]


def _mean_along(lie: Lie, row_c: FloatArray, n: int) -> FloatArray:
    weight = np.maximum(lie.length_mm, 1e-6)
    total = np.bincount(lie.wire, weight, minlength=n)
    mean = np.bincount(lie.wire, weight * row_c, minlength=n) / np.maximum(total, 1e-9)
    return np.where(total > 0, mean, lie.hottest_c)
