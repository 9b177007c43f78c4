"""What a wire may carry where it lies: the bundles it passes, and the tables that bind it.

A bundle is as hot as the currents of its wires make it; what one wire may carry there is what brings
the core to the lowest rating in the bundle, all the others as they are.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from inkthread.core.catalogue import Catalogue
from inkthread.core.physics.air import pressure_at_altitude_pa
from inkthread.core.physics.bundle import (
    BUNDLE_CONDUCTIVITY_W_PER_M_K,
    OUTER_CONDUCTIVITY_W_PER_M_K,
    BundleHeat,
    Bundles,
    bundle_heat,
    scale_to_limit,
    spare_heat_w_per_m,
)
from inkthread.core.physics.conductor import COPPER_ALPHA_20C_PER_K, BoolArray, FloatArray, IntArray
from inkthread.core.physics.heat import HeatCurves, heat_at_limit_w_per_m
from inkthread.core.tolerances import FAR_BELOW, HAIR_MM, NOUGHT
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
from inkthread.core.wire.placement import WirePlacement

LEAST_SPARE = 0.05
"""Share of what a bundle can shed that one wire is allowed even where the others leave nothing."""


@dataclass(frozen=True, slots=True)
class FreeAir:
    """Everything about candidates that no choice changes: what they carry alone, by the binding methods."""

    table: CandidateTable
    chains: Chains
    methods: tuple[Method, ...]
    free_a: FloatArray
    """(n, k): least of the binding methods alone, in the worst air on the way."""
    by_method: dict[Method, FloatArray]
    """(n, k): by each method that binds or can be shown; infinite where its table does not reach."""
    aircraft_a: FloatArray
    """(airs, s): by the aircraft curves, altitude counted; infinite where the table does not reach."""
    ambient_above_rating: BoolArray
    """By wire: the air on its way is hotter than every candidate's insulation stands.

    No size helps there, so heat asks nothing of its size.
    """


@dataclass(frozen=True, slots=True)
class _Rough:
    """What bundles come to before it is solved what their wires may carry. Rows are a wire in a bundle."""

    bundles: Bundles
    heat: BundleHeat
    limit_c: FloatArray
    row_pick: IntArray
    row_c: FloatArray
    current_a: FloatArray
    top_c: FloatArray
    """By bundle: its limit, or a kelvin above its air where that leaves nothing to carry."""
    made_w_per_m: FloatArray
    """Heat of each row with its copper at that limit, in W/m."""
    spare_w_per_m: FloatArray
    """Heat that each row may make, estimated, in W/m."""


@dataclass(slots=True)
class BundleAmpacity:
    """Bundles at the chosen sizes, and what every candidate may carry in them."""

    heat: BundleHeat
    counts: IntArray
    limit_c: FloatArray
    """By bundle: the lowest insulation rating in it, of wires that its air leaves anything to carry."""
    row_c: FloatArray
    """Temperature of each row's conductor."""
    worst: IntArray
    """By wire: the row where it has least to spare."""
    allowed_a: FloatArray
    """(n, k): least of the binding methods."""
    by_method: dict[Method, FloatArray]
    """(n, k): by each binding method where the wire lies."""
    wire_c: FloatArray
    """By wire: mean temperature along its way, by length."""
    aircraft_factor: FloatArray | None
    """By bundle, where the aircraft rule binds."""
    rough: _Rough


def free_air(
    catalogue: Catalogue,
    table: CandidateTable,
    chains: Chains,
    methods: tuple[Method, ...],
    placement: WirePlacement,
    marine_bundling: bool,
) -> FreeAir:
    """Free-air currents of every candidate by every method that binds."""
    heat = _least_on_the_way(table.free_air_a, chains, placement)
    free = heat
    by_method: dict[Method, FloatArray] = {"heat-balance": heat}
    aircraft = np.full(table.free_air_a.shape, np.inf)
    if "aircraft" in methods:
        factor = aircraft_altitude_factor(catalogue.aircraft, placement.altitude_m)
        for s, size in enumerate(table.sizes):
            for a, (ambient, _) in enumerate(table.airs):
                try:
                    rise = float(table.rating_c[s]) - ambient
                    aircraft[a, s] = aircraft_free_air_a(catalogue.aircraft, size, rise) * factor
                except OutOfTable:
                    continue
        by_method["aircraft"] = _least_on_the_way(aircraft, chains, placement)
        free = np.minimum(free, by_method["aircraft"])
    if "marine" in methods:
        marine = _marine_a(catalogue, table, placement, chains)
        if marine_bundling:
            factors = np.array(
                [marine_bundle_factor(catalogue.marine, int(n)) for n in placement.wires_beside()]
            )
            marine = marine * factors[:, None]
        # Where the table does not reach, or the air is hotter than it holds for, the balance decides.
        beyond = placement.hottest_c > catalogue.marine.inside_ambient_c
        free = np.where(
            np.isfinite(marine), np.where(beyond[:, None], np.minimum(marine, heat), marine), heat
        )
        by_method["marine"] = marine
    there_are = np.arange(free.shape[1]) < chains.length[:, None]
    ambient_above_rating = np.asarray(~((free > 0) & there_are).any(axis=1))
    return FreeAir(table, chains, methods, free, by_method, aircraft, ambient_above_rating)


def _least_on_the_way(by_air: FloatArray, chains: Chains, placement: WirePlacement) -> FloatArray:
    """The least of a current by (air, size) over the airs on each wire's way. (n, k)."""
    least = np.full(chains.index.shape, np.inf)
    for a in range(len(placement.airs)):
        there = np.nonzero(placement.air_share[:, a] > 0)[0]
        least[there] = np.minimum(least[there], by_air[a, chains.index[there]])
    return least


def _marine_a(
    catalogue: Catalogue, table: CandidateTable, placement: WirePlacement, chains: Chains
) -> FloatArray:
    marine = catalogue.marine
    by_space = np.full((2, len(table.sizes)), np.inf)
    for s, size in enumerate(table.sizes):
        try:
            outside, column = marine_outside_a(marine, size, float(table.rating_c[s]))
        except OutOfTable:
            continue
        by_space[:, s] = outside, outside * marine.inside_factor[column]
    inside = (placement.engine_space | (placement.hottest_c > marine.outside_ambient_c)).astype(np.intp)
    return np.asarray(by_space[inside[:, None], chains.index])


def bundles_of(table: CandidateTable, placement: WirePlacement, row_pick: IntArray) -> Bundles:
    """The bundles with the candidates of each row, in the covers that are wanted for their branches."""
    bare = Bundles(
        placement.bundle,
        table.outside_mm[row_pick],
        table.conductor_mm[row_pick],
        placement.ambient_c,
        np.zeros(len(placement.branch)),
        placement.radiant_w_per_m2,
        pressure_at_altitude_pa(placement.altitude_m),
    )
    return replace(bare, sleeve_k_m_per_w=placement.cover_k_m_per_w(bare.diameter_mm))


def heat_of(
    table: CandidateTable, placement: WirePlacement, picked: IntArray, current_a: FloatArray
) -> tuple[Bundles, BundleHeat]:
    """Every bundle with its wires as the candidates ``picked`` (n,), and how hot their currents make it."""
    row_pick = picked[placement.wire]
    bundles = bundles_of(table, placement, row_pick)
    ohm_per_m = table.resistance_20c_ohm_per_m[row_pick]
    return bundles, bundle_heat(bundles, current_a[placement.wire], ohm_per_m)


def bundle_limits_c(
    table: CandidateTable, placement: WirePlacement, row_pick: IntArray, ambient_above_rating: BoolArray
) -> FloatArray:
    """The lowest insulation rating in every bundle governs all of it (SAE AS50881, from memory)."""
    limit = np.full(len(placement.branch), np.inf)
    rating = np.where(ambient_above_rating[placement.wire], np.inf, table.rating_c[row_pick])
    np.minimum.at(limit, placement.bundle, rating)
    return limit


def bundle_ampacity(
    free: FreeAir,
    placement: WirePlacement,
    chosen: IntArray,
    current_a: FloatArray,
    catalogue: Catalogue,
    *,
    settled: bool = True,
) -> BundleAmpacity:
    """Heat of every bundle at the chosen candidates, and what each candidate may carry there.

    While sizes are still being raised (not ``settled``) a straight-line estimate stands in for the
    solution, a few per cent below it.
    """
    rough = _rough(free, placement, chosen, current_a)
    return _ampacity(free, placement, rough, catalogue, settled=settled)


def settle(
    free: FreeAir, placement: WirePlacement, estimated: BundleAmpacity, catalogue: Catalogue
) -> BundleAmpacity:
    """The same with what each wire may carry solved, not estimated."""
    return _ampacity(free, placement, estimated.rough, catalogue, settled=True)


def _rough(free: FreeAir, placement: WirePlacement, chosen: IntArray, current_a: FloatArray) -> _Rough:
    """The heat of every bundle, and by straight lines what its wires may make of it."""
    table, chains = free.table, free.chains
    n = len(chosen)
    picked = chains.index[np.arange(n), chosen] if n else np.zeros(0, dtype=np.intp)
    row_pick = picked[placement.wire]
    current = current_a[placement.wire]
    bundles, heat = heat_of(table, placement, picked, current_a)
    limit = bundle_limits_c(table, placement, row_pick, free.ambient_above_rating)
    core = heat.core_c[placement.bundle]
    alone = alone_c(table.curves, placement.air[placement.bundle] * len(table.sizes) + row_pick, current)
    row_c = np.where(current > 0, np.maximum(core, alone), core)

    top = np.where(np.isfinite(limit), limit, bundles.ambient_c + 1)
    at_limit = table.resistance_20c_ohm_per_m[row_pick] * (
        1 + COPPER_ALPHA_20C_PER_K * (top[placement.bundle] - 20)
    )
    heat_made = current**2 * at_limit
    spare = _spare_estimate(bundles, heat.core_c, heat_made, top)
    return _Rough(bundles, heat, limit, row_pick, row_c, current, top, heat_made, spare)


def _ampacity(
    free: FreeAir, placement: WirePlacement, rough: _Rough, catalogue: Catalogue, *, settled: bool
) -> BundleAmpacity:
    table, chains = free.table, free.chains
    bundles, heat, row_pick, top, spare = (
        rough.bundles,
        rough.heat,
        rough.row_pick,
        rough.top_c,
        rough.spare_w_per_m,
    )
    n = len(free.free_a)
    worst = np.full(n, -1, dtype=np.intp)
    order = np.argsort(-spare, kind="stable")
    worst[placement.wire[order]] = order
    if settled and n:
        spare = spare.copy()
        spare[worst] = _spare(bundles, heat.core_c, row_pick, rough.made_w_per_m, top, worst, spare[worst])
    in_bundle = np.full(free.free_a.shape, np.inf)
    if n:
        hot = top[placement.bundle[worst]]
        ohm = table.resistance_20c_ohm_per_m[chains.index] * (
            1 + COPPER_ALPHA_20C_PER_K * (hot[:, None] - 20)
        )
        in_bundle = np.minimum(np.sqrt(spare[worst][:, None] / ohm), free.by_method["heat-balance"])
    by_method: dict[Method, FloatArray] = {"heat-balance": in_bundle}
    factor: FloatArray | None = None
    if "aircraft" in free.methods:
        factor = _aircraft_factor(free, placement, row_pick, rough.current_a, bundles.counts, catalogue)
        least = np.ones(n)
        np.minimum.at(least, placement.wire, factor[placement.bundle])
        by_method["aircraft"] = free.by_method["aircraft"] * least[:, None]
    if "marine" in free.methods:
        by_method["marine"] = free.free_a
    allowed = free.free_a
    for method in free.methods:
        allowed = np.minimum(allowed, by_method[method])
    wire_c = placement.mean_along(rough.row_c)
    return BundleAmpacity(
        heat, bundles.counts, rough.limit_c, rough.row_c, worst, allowed, by_method, wire_c, factor, rough
    )


def _spare_estimate(
    bundles: Bundles, core_c: FloatArray, made_w_per_m: FloatArray, limit_c: FloatArray
) -> FloatArray:
    """Heat that each row's wire may make, the others as they are: by straight lines, mostly below the truth.

    What the bundle sheds at its limit is taken as shed evenly with the rise, and a wire's heat as
    crossing all that lies outside it.
    """
    count = len(limit_c)
    sheds = _sheds_at_limit(bundles, limit_c)
    room = np.maximum(limit_c - bundles.ambient_c, 0.0)
    surface_k = np.where(sheds > 0, room / np.maximum(sheds, FAR_BELOW), 1e6)
    area = np.bincount(bundles.bundle, bundles.outside_mm**2, minlength=count)
    own = np.minimum(bundles.outside_mm**2 / area[bundles.bundle], 1.0)
    inner_k = (1 / BUNDLE_CONDUCTIVITY_W_PER_M_K - np.log(own) / OUTER_CONDUCTIVITY_W_PER_M_K) / (4 * np.pi)
    room_here, per_watt = room[bundles.bundle], surface_k[bundles.bundle] + inner_k
    # The rise with all as they are, and this wire's part of it: never more than the whole.
    rise = np.maximum(core_c - bundles.ambient_c, 0.0)[bundles.bundle]
    with np.errstate(divide="ignore", invalid="ignore"):
        per_watt = np.where(made_w_per_m > 0, np.minimum(per_watt, rise / made_w_per_m), per_watt)
        # Where the bundle is too hot, every wire would have to give way alike.
        alike = np.where(rise > 0, made_w_per_m * room_here / rise, 0.0)
    spare = (room_here - rise) / np.maximum(per_watt, NOUGHT) + made_w_per_m
    single = ((bundles.counts == 1) & (bundles.sleeve_k_m_per_w == 0))[bundles.bundle]
    return np.where(single, np.inf, np.maximum(np.maximum(spare, alike), LEAST_SPARE * sheds[bundles.bundle]))


def _sheds_at_limit(bundles: Bundles, limit_c: FloatArray) -> FloatArray:
    """Heat that each bundle sheds through its cover with its outline at its limit, in W/m. (bundles,)."""
    return heat_at_limit_w_per_m(
        np.maximum(bundles.diameter_mm, HAIR_MM),
        bundles.sleeve_k_m_per_w,
        bundles.ambient_c,
        limit_c,
        bundles.pressure_pa,
        bundles.radiant_w_per_m2,
    )


def _spare(
    bundles: Bundles,
    core_c: FloatArray,
    row_pick: IntArray,
    made_w_per_m: FloatArray,
    limit_c: FloatArray,
    rows: IntArray,
    near_w_per_m: FloatArray,
) -> FloatArray:
    """Heat that the wires of these rows may make, each with the others as they are: the solution.

    Where the others alone are too hot, every wire would have to give way alike.
    """
    warmed = (bundles.counts > 1) | (bundles.sleeve_k_m_per_w > 0)
    together = np.nonzero(warmed[bundles.bundle[rows]])[0]
    spare_a = np.full(len(rows), np.inf)
    if not len(together):
        return spare_a
    rows, near_w_per_m = rows[together], near_w_per_m[together]
    kinds, kind_of = np.unique(
        np.stack([bundles.bundle, row_pick, made_w_per_m]), axis=1, return_inverse=True
    )
    kind_of = kind_of.ravel()
    first = np.zeros(kinds.shape[1], dtype=np.intp)
    first[kind_of[::-1]] = np.arange(len(kind_of))[::-1]
    counts = np.bincount(kind_of, minlength=kinds.shape[1]).astype(float)
    grouped = Bundles(
        bundles.bundle[first],
        bundles.outside_mm[first],
        bundles.conductor_mm[first],
        bundles.ambient_c,
        bundles.sleeve_k_m_per_w,
        bundles.radiant_w_per_m2,
        bundles.pressure_pa,
    )
    asked, first_asked, of_asked = np.unique(kind_of[rows], return_index=True, return_inverse=True)
    spare = spare_heat_w_per_m(
        grouped, asked, counts, made_w_per_m[first], limit_c, near_w_per_m[first_asked]
    )[of_asked]
    home = bundles.bundle[rows]
    shared = np.zeros(len(rows))
    if bool((core_c > limit_c)[home].any()):
        alike = scale_to_limit(bundles, made_w_per_m, limit_c)[home]
        shared = made_w_per_m[rows] * np.where(np.isfinite(alike), alike, 0.0)
    floor = LEAST_SPARE * _sheds_at_limit(bundles, limit_c)[home]
    spare_a[together] = np.maximum(np.maximum(spare, shared), floor)
    return spare_a


def alone_c(curves: HeatCurves, rows: IntArray, current_a: FloatArray) -> FloatArray:
    """Conductor temperature of wires alone in their air: ``rows`` of the curves, at each current."""
    temperature_c = np.empty(len(rows))
    order = np.argsort(rows, kind="stable")
    edges = np.nonzero(np.diff(rows[order]))[0] + 1
    for same in np.split(order, edges):
        if len(same):
            row = rows[same[0]]
            temperature_c[same] = np.interp(
                current_a[same] ** 2, curves.current_squared_a2[row], curves.conductor_c[row]
            )
    return temperature_c


def _aircraft_factor(
    free: FreeAir,
    placement: WirePlacement,
    row_pick: IntArray,
    current: FloatArray,
    counts: IntArray,
    catalogue: Catalogue,
) -> FloatArray:
    """Bundle factor of each bundle by its count and by what is carried of its capacity.

    Capacity is taken at the fully loaded factor, so loading is never understated.
    """
    rule = catalogue.aircraft
    bundles = len(placement.branch)
    air = placement.air[placement.bundle]
    alone = free.aircraft_a[air, row_pick]
    alone = np.where(np.isfinite(alone), alone, free.table.free_air_a[air, row_pick])
    capacity = np.bincount(placement.bundle, alone, minlength=bundles)
    carried = np.bincount(placement.bundle, current, minlength=bundles)
    wires = np.maximum(counts, 1).astype(float)
    full = aircraft_bundle_factor(rule, wires, np.ones(bundles))[0]
    loaded = carried / np.maximum(capacity * full, NOUGHT)
    return aircraft_bundle_factor(rule, wires, loaded)[0]
