"""The sizing loop: free-air sizes, least copper for the drops, then heat in company.

Nothing is ever lowered inside the loop: each turn raises a wire or ends it, and the sizes are
finite, so it always ends.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from inkthread.core.catalogue import Catalogue
from inkthread.core.physics.conductor import COPPER_ALPHA_20C_PER_K, FloatArray, IntArray
from inkthread.core.tolerances import HOLDS
from inkthread.core.wire.bundle_ampacity import BundleAmpacity, FreeAir, bundle_ampacity, settle
from inkthread.core.wire.cables import tie
from inkthread.core.wire.drop import DropProblem, least_copper, loop_volts
from inkthread.core.wire.limits import OVERLOAD_LONG, Asked
from inkthread.core.wire.placement import WirePlacement

_TOO_HOT_K = 0.25
"""A bundle is too hot when it is over its limit by more."""


@dataclass(slots=True)
class Sized:
    """Chosen place in each wire's chain, its bundles, and the volts that follow."""

    chosen: IntArray
    in_bundles: BundleAmpacity
    problem: DropProblem
    resistance_ohm_per_m: FloatArray
    """(n, k): ohm per metre at working temperature where the wire lies."""
    turns: int


def size_wires(
    free: FreeAir,
    placement: WirePlacement,
    asked: Asked,
    alone_c: FloatArray,
    make_problem: Callable[[FloatArray], DropProblem],
    lowest: IntArray,
    highest: IntArray,
    onward: IntArray,
    catalogue: Catalogue,
    tied: tuple[IntArray, ...] = (),
) -> Sized:
    """Choose a candidate for every wire. ``make_problem`` gives the drops for resistances (n, k).

    ``onward`` (n, k) names the candidate that stands in for one that the ends do not take. Rows that are
    ``tied``, as cores of one cable, are of one size.
    """
    table, chains = free.table, free.chains
    rows = np.arange(len(lowest))
    cold = table.resistance_20c_ohm_per_m[chains.index] if len(rows) else np.zeros((0, 1))
    working_c = alone_c
    turns = 0
    resistance_ohm_per_m = cold * (1 + COPPER_ALPHA_20C_PER_K * (working_c - 20))
    problem = _without_gaps(make_problem(resistance_ohm_per_m), onward)
    problem.lowest, problem.highest = lowest, np.maximum(highest, lowest)
    chosen = onward[rows, least_copper(problem)] if len(rows) else lowest
    tie(chosen, tied, onward)
    while True:
        in_bundles = bundle_ampacity(
            free, placement, chosen, asked.heating_a(chosen), catalogue, settled=False
        )
        while len(up := _too_little(free, placement, asked, in_bundles, chosen, problem.highest)):
            turns += 1
            chosen[up] = onward[up, chosen[up] + 1]
            tie(chosen, tied, onward)
            heating = asked.heating_a(chosen)
            in_bundles = bundle_ampacity(free, placement, chosen, heating, catalogue, settled=False)
        # Warm copper loses more than was reckoned: see whether the loops still hold.
        warmer = in_bundles.wire_c[:, None] + (alone_c - alone_c[rows, chosen][:, None])
        working_c = np.maximum(warmer, alone_c) if len(rows) else alone_c
        resistance_ohm_per_m = cold * (1 + COPPER_ALPHA_20C_PER_K * (working_c - 20))
        problem = _without_gaps(make_problem(resistance_ohm_per_m), onward)
        problem.lowest, problem.highest = chosen, np.maximum(highest, chosen)
        better = _held_warm(problem, chosen, onward)
        if (better > chosen).any():
            chosen = np.maximum(better, chosen)
            tie(chosen, tied, onward)
            continue
        # At last with what each may carry solved, not estimated.
        in_bundles = settle(free, placement, in_bundles, catalogue)
        up = _too_little(free, placement, asked, in_bundles, chosen, problem.highest)
        if not len(up):
            break
        turns += 1
        chosen[up] = onward[up, chosen[up] + 1]
        tie(chosen, tied, onward)
    return Sized(chosen, in_bundles, problem, resistance_ohm_per_m, turns)


def _held_warm(problem: DropProblem, chosen: IntArray, onward: IntArray) -> IntArray:
    """Sizes that keep every loop within its limit that any sizes can keep; those chosen where they do."""
    if not problem.loops:
        return chosen
    lost = loop_volts(problem, chosen)
    able = loop_volts(problem, problem.highest) <= problem.limits_v
    if not ((lost > problem.limits_v * HOLDS) & able).any():
        return chosen
    # A loop that no size holds was brought near its best at first; it asks for no more.
    problem.limits_v = np.where(able, problem.limits_v, np.maximum(lost, problem.limits_v))
    return np.asarray(onward[np.arange(len(chosen)), least_copper(problem)])


def _without_gaps(problem: DropProblem, onward: IntArray) -> DropProblem:
    """The same with each candidate that the ends do not take as the one that stands in for it."""
    problem.volts = np.take_along_axis(problem.volts, onward, axis=1)
    problem.copper = np.take_along_axis(problem.copper, onward, axis=1)
    return problem


def _too_little(
    free: FreeAir,
    placement: WirePlacement,
    asked: Asked,
    in_bundles: BundleAmpacity,
    chosen: IntArray,
    highest: IntArray,
) -> IntArray:
    """Wires to raise by one: in each bundle that is too hot the one that then sheds most less heat,
    and every wire that a table or its fuse asks more of."""
    raised: set[int] = set()
    rows = np.arange(len(chosen))
    may = (chosen < highest) & ~free.ambient_above_rating
    heating = asked.heating_a(chosen)
    if "heat-balance" in free.methods:
        limit = in_bundles.limit_c
        hot = (in_bundles.heat.core_c > limit + _TOO_HOT_K) & (in_bundles.counts > 1)
        inside = hot[placement.bundle] & may[placement.wire]
        if inside.any():
            table, chains = free.table, free.chains
            now = table.resistance_20c_ohm_per_m[chains.index[rows, chosen]]
            then = table.resistance_20c_ohm_per_m[chains.index[rows, np.minimum(chosen + 1, highest)]]
            saved = heating**2 * (now - then)
            at = np.nonzero(inside & (saved[placement.wire] > 0))[0]
            order = at[np.lexsort((-placement.wire[at], saved[placement.wire[at]], placement.bundle[at]))]
            last = {int(placement.bundle[r]): int(placement.wire[r]) for r in order}
            raised.update(last.values())
    allowed = in_bundles.allowed_a[rows, chosen]
    # By the heat balance alone, the last fractions of a kelvin are left until no bundle is too hot.
    if free.methods != ("heat-balance",) or not raised:
        raised.update(np.nonzero((heating > allowed * HOLDS) & may)[0].tolist())
    fused = OVERLOAD_LONG * asked.fuse_single_a
    raised.update(np.nonzero((fused > allowed * HOLDS) & may)[0].tolist())
    return np.array(sorted(raised), dtype=np.intp)
