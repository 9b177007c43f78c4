"""What a wire may carry where it lies: the bundles it passes, and the tables that bind it.

A bundle is as hot as the currents of its wires make it; what one wire may carry there is what brings
the core to the lowest rating in the bundle, all the others as they are.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from inkthread.core.catalogue import Catalogue
from inkthread.core.memo import Memo
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
from inkthread.core.record import record
from inkthread.core.tolerances import FAR_BELOW, HAIR_MM, NOUGHT
from inkthread.core.wire.ampacity import Method, aircraft_bundle_factor
from inkthread.core.wire.families import CandidateTable
from inkthread.core.wire.free_air import FreeAir
from inkthread.core.wire.placement import WirePlacement

LEAST_SPARE = 0.05
"""Share of what a bundle can shed that one wire is allowed even where the others leave nothing."""
NEAR = 0.75
"""Where a wire is asked for less than this of what it may carry as estimated, it holds: the estimate is
within a tenth of what is solved, but in bundles that come so near their limit themselves."""


@record
class _Rough:
    """What bundles come to before it is solved what their wires may carry. Rows are a wire in a bundle."""

    free: FreeAir
    placement: WirePlacement
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
    solved_w_per_m: FloatArray
    """The same as solved; NaN where nobody has asked yet."""


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
    memo: Memo,
    *,
    settled: bool = True,
) -> BundleAmpacity:
    """Heat of every bundle at the chosen candidates, and what each candidate may carry there.

    While sizes are still being raised (not ``settled``) a straight-line estimate stands in for the
    solution, a few per cent below it. Of bundles that are as they were in one of the last turns nothing is
    worked out anew.
    """
    rough = _rough(free, placement, chosen, current_a, memo)
    return _ampacity(free, placement, rough, catalogue, memo, settled=settled)


def settle(
    free: FreeAir,
    placement: WirePlacement,
    estimated: BundleAmpacity,
    catalogue: Catalogue,
    memo: Memo,
    asks_a: FloatArray | None = None,
) -> BundleAmpacity:
    """The same with what each wire may carry solved, not estimated; of what they are asked for, ``asks_a``
    (n,), where that comes near alone."""
    return _ampacity(free, placement, estimated.rough, catalogue, memo, settled=True, asks_a=asks_a)


_TURNS_KEPT = 4
"""Of how many turns the bundles are kept, the latest first."""


def _turns(memo: Memo) -> tuple[_Rough, ...]:
    kept: tuple[_Rough, ...] = memo.last("bundles") or ()
    return kept


def _keep_turn(memo: Memo, rough: _Rough) -> None:
    others = (r for r in _turns(memo) if r.row_pick is not rough.row_pick)
    memo.put_down("bundles", (rough, *others)[:_TURNS_KEPT])


def _rough(
    free: FreeAir, placement: WirePlacement, chosen: IntArray, current_a: FloatArray, memo: Memo
) -> _Rough:
    """The heat of every bundle, and by straight lines what its wires may make of it."""
    n = len(chosen)
    picked = free.chains.index[np.arange(n), chosen] if n else np.zeros(0, dtype=np.intp)
    row_pick, current = picked[placement.wire], current_a[placement.wire]
    like = [r for r in _turns(memo) if r.free is free and r.placement is placement]
    other = [
        np.bincount(
            placement.bundle,
            (row_pick != r.row_pick) | (current != r.current_a),
            minlength=len(placement.branch),
        )
        > 0
        for r in like
    ]
    nearest = min(range(len(like)), key=lambda k: int(other[k].sum()), default=None)
    if nearest is None or 2 * int(other[nearest].sum()) > len(placement.branch):
        return _rough_anew(free, placement, picked, current_a)
    known, changed = like[nearest], np.nonzero(other[nearest])[0]
    if not len(changed):
        return known
    part = _rough_anew(free, placement.only(changed), picked, current_a)
    rows = other[nearest][placement.bundle]

    def by_bundle(before: FloatArray, now: FloatArray) -> FloatArray:
        mixed = before.copy()
        mixed[changed] = now
        return mixed

    def by_row(before: FloatArray, now: FloatArray) -> FloatArray:
        mixed = before.copy()
        mixed[rows] = now
        return mixed

    return _Rough(
        free,
        placement,
        bundles_of(free.table, placement, row_pick),
        BundleHeat(
            by_bundle(known.heat.core_c, part.heat.core_c),
            by_bundle(known.heat.surface_c, part.heat.surface_c),
        ),
        by_bundle(known.limit_c, part.limit_c),
        row_pick,
        by_row(known.row_c, part.row_c),
        current,
        by_bundle(known.top_c, part.top_c),
        by_row(known.made_w_per_m, part.made_w_per_m),
        by_row(known.spare_w_per_m, part.spare_w_per_m),
        by_row(known.solved_w_per_m, part.solved_w_per_m),
    )


def _rough_anew(free: FreeAir, placement: WirePlacement, picked: IntArray, current_a: FloatArray) -> _Rough:
    """The same with nothing known."""
    table = free.table
    row_pick, current = picked[placement.wire], current_a[placement.wire]
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
    unsolved = np.full(len(spare), np.nan)
    return _Rough(
        free, placement, bundles, heat, limit, row_pick, row_c, current, top, heat_made, spare, unsolved
    )


def _ampacity(
    free: FreeAir,
    placement: WirePlacement,
    rough: _Rough,
    catalogue: Catalogue,
    memo: Memo,
    *,
    settled: bool,
    asks_a: FloatArray | None = None,
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
        solved = rough.solved_w_per_m
        asked = worst[np.isnan(solved[worst])]
        if asks_a is not None:
            asked = asked[_near(rough, asked, asks_a)]
        if len(asked):
            solved = solved.copy()
            solved[asked] = _spare(
                bundles, heat.core_c, row_pick, rough.made_w_per_m, top, asked, spare[asked]
            )
            rough = replace(rough, solved_w_per_m=solved)
        spare = spare.copy()
        spare[worst] = np.where(np.isnan(solved[worst]), spare[worst], solved[worst])
    _keep_turn(memo, rough)
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


def _near(rough: _Rough, rows: IntArray, asks_a: FloatArray) -> BoolArray:
    """Whether these rows come near what they may carry, asked for ``asks_a`` (n,) by wire, or their bundles
    near their limit."""
    bundle, ambient_c = rough.placement.bundle[rows], rough.bundles.ambient_c
    warm = rough.heat.core_c - ambient_c > NEAR * (rough.top_c - ambient_c)
    ohm = rough.free.table.resistance_20c_ohm_per_m[rough.row_pick[rows]] * (
        1 + COPPER_ALPHA_20C_PER_K * (rough.top_c[bundle] - 20)
    )
    makes = asks_a[rough.placement.wire[rows]] ** 2 * ohm
    return np.asarray(warm[bundle] | (makes > NEAR**2 * rough.spare_w_per_m[rows]))


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
    rows, bundles, core_c, row_pick, made_w_per_m, limit_c = _only_asked(
        rows, bundles, core_c, row_pick, made_w_per_m, limit_c
    )
    kind_of, first = _kinds(bundles.bundle, row_pick, made_w_per_m)
    counts = np.bincount(kind_of, minlength=len(first)).astype(float)
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


def _kinds(bundle: IntArray, row_pick: IntArray, made_w_per_m: FloatArray) -> tuple[IntArray, IntArray]:
    """Of every row the number of its kind, alike in all three, and of every kind its first row."""
    order = np.lexsort((made_w_per_m, row_pick, bundle))
    new = np.ones(len(order), dtype=bool)
    new[1:] = False
    for of in (bundle, row_pick, made_w_per_m):
        new[1:] |= of[order[1:]] != of[order[:-1]]
    kind_of = np.empty(len(order), dtype=np.intp)
    kind_of[order] = np.cumsum(new) - 1
    return kind_of, order[new]


def _only_asked(
    asked: IntArray,
    bundles: Bundles,
    core_c: FloatArray,
    row_pick: IntArray,
    made_w_per_m: FloatArray,
    limit_c: FloatArray,
) -> tuple[IntArray, Bundles, FloatArray, IntArray, FloatArray, FloatArray]:
    """The same of those bundles alone in which some row is asked about, with the rows counted anew."""
    those = np.unique(bundles.bundle[asked])
    place = np.full(len(core_c), -1, dtype=np.intp)
    place[those] = np.arange(len(those))
    rows = place[bundles.bundle] >= 0
    anew = np.cumsum(rows) - 1
    some = Bundles(
        place[bundles.bundle[rows]],
        bundles.outside_mm[rows],
        bundles.conductor_mm[rows],
        bundles.ambient_c[those],
        bundles.sleeve_k_m_per_w[those],
        bundles.radiant_w_per_m2[those],
        bundles.pressure_pa,
    )
    return anew[asked], some, core_c[those], row_pick[rows], made_w_per_m[rows], limit_c[those]


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
