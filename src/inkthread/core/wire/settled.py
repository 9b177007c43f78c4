"""Sizes and the currents they divide, settled together; then peaks, then the fewest parts."""

from __future__ import annotations

import numpy as np

from inkthread.core.circuits import CircuitsResult
from inkthread.core.context import Context
from inkthread.core.document.only import only
from inkthread.core.findings import FindingBook
from inkthread.core.physics.conductor import FloatArray, IntArray
from inkthread.core.record import record
from inkthread.core.route import Flow, RouteResult, Threaded
from inkthread.core.wire.bounds import Bounds, bounds_of
from inkthread.core.wire.bundle_ampacity import BundleAmpacity, bundle_ampacity
from inkthread.core.wire.cables import fixed_cores, tie, tie_bounds
from inkthread.core.wire.choose import FewestParts, fewest_parts
from inkthread.core.wire.drop_inputs import inner_ohms, make_drops
from inkthread.core.wire.end_fits import deratings, ends_as_derated
from inkthread.core.wire.equal_loads import equal_loads
from inkthread.core.wire.heating import heating_currents_a, mean_alone_c
from inkthread.core.wire.limits import Asked, Judgement, judge, next_that_fits
from inkthread.core.wire.peaks import raise_for_peaks
from inkthread.core.wire.protection_inputs import protection_on
from inkthread.core.wire.set_out import SetOut
from inkthread.core.wire.sizing import size_wires

_DIVISIONS_AT_MOST = 6
"""Turns in which sizes and the division of current between ways side by side are settled."""
_SETTLED_A = 0.02
"""The division is settled when no wire's current moves by more."""


@record
class Settled:
    """The candidate chosen for every wire, and what it was judged by."""

    bounds: Bounds
    flow: Flow
    """As current divides between the wires as chosen."""
    carried_a: FloatArray
    """(n,): the most that each wire carries in any mode."""
    derating_by_connector: dict[str, float]
    asked: Asked
    chosen: IntArray
    in_bundles: BundleAmpacity
    judgement: Judgement
    resistance_ohm_per_m: FloatArray
    """(n, k), at working temperature."""
    ohm: FloatArray
    """(n, k): whole wires with what is at both ends."""
    inner_ohm: FloatArray
    """Of the rows of the flow that are no wires."""
    fewest: FewestParts | None


def settle_sizes(
    context: Context,
    circuits: CircuitsResult,
    route: RouteResult,
    out: SetOut,
    path_ohm: dict[str, float],
    limits: list[tuple[float, str]],
    book: FindingBook,
) -> Settled:
    """Choose a candidate for every wire: the least that holds what is asked of it, alone and with the rest.

    ``limits`` are the allowed drop in V of each loop, and its source.
    """
    document, catalogue = context.document, context.catalogue
    sections = list(route.sections.values())
    keys = [s.key for s in sections]
    free, placement, termination_ohm = out.free, out.placement, out.termination_ohm
    table, chains = free.table, free.chains
    inner_ohm = inner_ohms(document, route.flow, path_ohm)
    length_m = context.memo.get(_lengths_m, route.threaded)[:, None] * out.twist
    spent = {"lightest": table.mass_g_per_m, "cheapest": table.price_per_m}.get(
        document.wire.objective, table.area_mm2
    )[chains.index]
    drawn_a, flow = circuits.drawn_a, route.flow
    tied = out.tied
    if context.brief.value("equal_loads") > 0 and (chains.length > 1).any():
        tied = (*tied, *equal_loads(document, circuits, route, chains, context.memo))
    protection = protection_on(document, catalogue, circuits, route, sections)
    strength = out.strength_mm2
    rows = np.arange(len(keys))
    bounds = Bounds(*(np.zeros(0, dtype=np.intp),) * 2, frozenset(), frozenset())
    lowest, highest = bounds.lowest, bounds.highest
    for turn in range(_DIVISIONS_AT_MOST):
        heating_a = heating_currents_a(circuits, flow, drawn_a, table, chains.index, context.memo)
        asked = Asked(heating_a, protection.single_a, protection.sum_a, out.least, protection.ahead)
        carried_a = np.abs(flow.section_currents_a(drawn_a)).max(axis=1, initial=0.0)
        derating = deratings(
            document, catalogue, context.brief.point_airs, route.threaded, carried_a, context.memo
        )
        ends = context.memo.get(
            ends_as_derated,
            only(document, "ends"),
            catalogue,
            free,
            route.threaded,
            tuple(derating.items()),
            context.memo,
        )
        if turn == 0:
            first = judge(asked.unless(free.ambient_above_rating), free.free_a, free.free_a, strength, ends)
            load_a = dict(zip(keys, carried_a.tolist(), strict=True))
            cores = fixed_cores(document, catalogue, out.families, out.cables, route, load_a)
            bounds = bounds_of(document, first, keys, chains, table, cores, book)
            lowest, highest = tie_bounds(bounds.lowest, bounds.highest, bounds.fixed, out.tied)
        onward = next_that_fits(ends, chains.length)
        onward = np.where(onward <= highest[:, None], onward, np.arange(onward.shape[1])[None, :])
        drops = make_drops(circuits, flow, limits, inner_ohm, termination_ohm, length_m, spent)
        alone_c = mean_alone_c(table.curves, chains, len(table.sizes), placement, heating_a)
        sized = size_wires(
            free,
            placement,
            asked,
            alone_c,
            drops.problem,
            lowest,
            highest,
            onward,
            catalogue,
            context.memo,
            tied,
            near_alone=out.near_alone,
        )
        chosen, in_bundles = sized.chosen, sized.in_bundles
        ohm = sized.resistance_ohm_per_m * length_m + termination_ohm[:, None]
        if flow.rounds is None or not keys:
            break
        # Where ways lie side by side, current divides by what they were made as.
        divided = route.flow.divided(np.concatenate([ohm[rows, chosen], inner_ohm]))
        before_a = np.abs(flow.currents_a(drawn_a)).max(axis=1)
        moved_a = np.abs(divided.currents_a(drawn_a)).max(axis=1) - before_a
        flow, lowest = divided, np.maximum(lowest, chosen)
        if float(np.abs(moved_a).max(initial=0.0)) < _SETTLED_A:
            break
    raised = raise_for_peaks(
        document, circuits, flow, carried_a, free, placement, chosen, highest, onward, in_bundles
    )
    if not np.array_equal(raised, chosen):
        chosen = raised
        tie(chosen, tied, onward)
        in_bundles = bundle_ampacity(
            free, placement, chosen, asked.heating_a(chosen), catalogue, context.memo
        )
    fewest = None
    if document.wire.objective == "fewest parts" and keys:
        judged = judge(asked, in_bundles.allowed_a, free.free_a, strength, ends)
        fewest = fewest_parts(chains, chosen, judged.passes() & ~judged.too_large, set(bounds.fixed), spent)
        chosen = fewest.chosen
        tie(chosen, tied, onward)
        in_bundles = bundle_ampacity(
            free, placement, chosen, asked.heating_a(chosen), catalogue, context.memo
        )
    return Settled(
        bounds,
        flow,
        carried_a,
        derating,
        asked,
        chosen,
        in_bundles,
        judge(asked, in_bundles.allowed_a, free.free_a, strength, ends),
        sized.resistance_ohm_per_m,
        ohm,
        inner_ohm,
        fewest,
    )


def _lengths_m(threaded: Threaded) -> FloatArray:
    return np.array([(s.length_mm + s.slack_mm) / 1000 for s in threaded.sections.values()], dtype=float)
