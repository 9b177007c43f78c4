"""The sizing loop: free-air sizes, least copper for the drops, then heat in company.

Nothing is ever lowered inside the loop: each turn raises a wire or ends it, and the sizes are
finite, so it always ends.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from inkthread.core.catalogue import Catalogue
from inkthread.core.memo import Memo
from inkthread.core.physics.conductor import COPPER_ALPHA_20C_PER_K, FloatArray, IntArray
from inkthread.core.tolerances import HOLDS
from inkthread.core.wire.bundle_ampacity import BundleAmpacity, bundle_ampacity, settle
from inkthread.core.wire.cables import tie
from inkthread.core.wire.drop import DropProblem, least_copper, loop_volts
from inkthread.core.wire.free_air import FreeAir
from inkthread.core.wire.hot_bundles import Raising, too_hot
from inkthread.core.wire.limits import OVERLOAD_LONG, Asked
from inkthread.core.wire.placement import WirePlacement


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
    memo: Memo,
    tied: tuple[IntArray, ...] = (),
    *,
    near_alone: bool = False,
) -> Sized:
    """Choose a candidate for every wire. ``make_problem`` gives the drops for resistances (n, k).

    ``onward`` (n, k) names the candidate that stands in for one that the ends do not take. Rows that are
    ``tied``, as cores of one cable, are of one size. With ``near_alone`` what a wire may carry is solved
    where it comes near what it is asked for, and estimated elsewhere.
    """
    table, chains = free.table, free.chains
    rows = np.arange(len(lowest))
    cold = table.resistance_20c_ohm_per_m[chains.index] if len(rows) else np.zeros((0, 1))
    working_c = alone_c
    turns = 0
    resistance_ohm_per_m = cold * (1 + COPPER_ALPHA_20C_PER_K * (working_c - 20))
    problem = _without_gaps(make_problem(resistance_ohm_per_m), onward)
    problem.lowest, problem.highest = lowest, np.maximum(highest, lowest)
    chosen = onward[rows, least_copper(problem, memo)] if len(rows) else lowest
    tie(chosen, tied, onward)
    while True:
        raising = Raising(free, placement, asked, chosen, problem.highest, onward, tied)
        in_bundles = bundle_ampacity(
            free, placement, chosen, asked.heating_a(chosen), catalogue, memo, settled=False
        )
        while True:
            up, hot_only = _too_little(raising, in_bundles)
            if not len(up):
                break
            hot = too_hot(placement, in_bundles.heat.core_c, in_bundles.limit_c)
            taken = raising.cool(hot) if hot_only else 0
            if not taken:  # or a bundle was hot by a rounding that is gone when it is looked at alone
                raising.raise_by_one(up.tolist())
                taken = 1
            turns += taken
            heating = asked.heating_a(chosen)
            in_bundles = bundle_ampacity(free, placement, chosen, heating, catalogue, memo, settled=False)
        # Warm copper loses more than was reckoned: see whether the loops still hold.
        warmer = in_bundles.wire_c[:, None] + (alone_c - alone_c[rows, chosen][:, None])
        working_c = np.maximum(warmer, alone_c) if len(rows) else alone_c
        resistance_ohm_per_m = cold * (1 + COPPER_ALPHA_20C_PER_K * (working_c - 20))
        problem = _without_gaps(make_problem(resistance_ohm_per_m), onward)
        problem.lowest, problem.highest = chosen, np.maximum(highest, chosen)
        better = _held_warm(problem, chosen, onward, memo)
        if (better > chosen).any():
            chosen = np.maximum(better, chosen)
            tie(chosen, tied, onward)
            continue
        # At last with what each may carry solved, not estimated.
        asks_a = np.maximum(asked.heating_a(chosen), OVERLOAD_LONG * asked.fuse_single_a)
        in_bundles = settle(free, placement, in_bundles, catalogue, memo, asks_a if near_alone else None)
        raising = Raising(free, placement, asked, chosen, problem.highest, onward, tied)
        up, _ = _too_little(raising, in_bundles)
        if not len(up):
            break
        turns += 1
        raising.raise_by_one(up.tolist())
    return Sized(chosen, in_bundles, problem, resistance_ohm_per_m, turns)


def _held_warm(problem: DropProblem, chosen: IntArray, onward: IntArray, memo: Memo) -> IntArray:
    """Sizes that keep every loop within its limit that any sizes can keep; those chosen where they do."""
    if not problem.loops:
        return chosen
    lost = loop_volts(problem, chosen)
    able = loop_volts(problem, problem.highest) <= problem.limits_v
    if not ((lost > problem.limits_v * HOLDS) & able).any():
        return chosen
    # A loop that no size holds was brought near its best at first; it asks for no more.
    problem.limits_v = np.where(able, problem.limits_v, np.maximum(lost, problem.limits_v))
    return np.asarray(onward[np.arange(len(chosen)), least_copper(problem, memo)])


def _without_gaps(problem: DropProblem, onward: IntArray) -> DropProblem:
    """The same with each candidate that the ends do not take as the one that stands in for it."""
    problem.volts = np.take_along_axis(problem.volts, onward, axis=1)
    problem.copper = np.take_along_axis(problem.copper, onward, axis=1)
    return problem


def _too_little(raising: Raising, in_bundles: BundleAmpacity) -> tuple[IntArray, bool]:
    """Wires to raise by one, and whether heat in company is all that asks for it: in each bundle that is too
    hot the one that then sheds most less heat, and every wire that a table or its fuse asks more of."""
    free, asked, chosen = raising.free, raising.asked, raising.chosen
    raised: set[int] = set()
    may = (chosen < raising.highest) & ~free.ambient_above_rating
    if "heat-balance" in free.methods:
        raised.update(raising.next_in(too_hot(raising.placement, in_bundles.heat.core_c, in_bundles.limit_c)))
    allowed = in_bundles.allowed_a[np.arange(len(chosen)), chosen]
    hot_only = bool(raised) and free.methods == ("heat-balance",)
    # By the heat balance alone, the last fractions of a kelvin are left until no bundle is too hot.
    if not hot_only:
        raised.update(np.nonzero((asked.heating_a(chosen) > allowed * HOLDS) & may)[0].tolist())
    fused = np.nonzero((OVERLOAD_LONG * asked.fuse_single_a > allowed * HOLDS) & may)[0]
    raised.update(fused.tolist())
    return np.array(sorted(raised), dtype=np.intp), hot_only and not len(fused)
