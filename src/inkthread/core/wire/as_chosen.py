"""Every wire as it will be made, from the tables it was judged by."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from inkthread.core.circuits import CircuitsResult
from inkthread.core.memo import Memo
from inkthread.core.physics.conductor import FloatArray, IntArray
from inkthread.core.wire.limits import LIMITS, Judgement, ratios_at
from inkthread.core.wire.made import MadeWires
from inkthread.core.wire.results import LoopDrops, Wire, WireTables

_NO_RATIO = 99.0
"""Stands for a limit that no ratio says: where a wire may carry nothing."""


def ratios_as_told(judgement: Judgement, drop_ratio: FloatArray, chosen: IntArray) -> FloatArray:
    """The ratios of every wire as they are told, (n, limits) as ``LIMITS``."""
    ratios = ratios_at(judgement, drop_ratio, chosen)
    return np.asarray(np.round(np.where(np.isfinite(ratios), ratios, _NO_RATIO), 4), dtype=float)


def wires_as_chosen(
    circuits: CircuitsResult,
    as_made: MadeWires,
    ambient_c: list[float],
    tables: WireTables,
    told: FloatArray,
    loops: LoopDrops,
    worst_loop: IntArray,
    fixed: frozenset[int],
    texts: dict[str, tuple[str, str]],
    memo: Memo,
) -> dict[str, Wire]:
    """Wires by key. ``told`` (n, limits) are their ratios; ``worst_loop`` (n,) is the place of the loop that
    each loses most in, or -1."""
    count = len(tables.chosen)
    pieces, said = list(as_made.wires.values()), [texts[key] for key in as_made.wires]
    drops = [loops.drops.get(loop.load) for loop in circuits.loops]
    # The last one stands for a wire that no loop crosses.
    lost = np.array([(d.drop_v, d.drop_percent) if d else (0.0, 0.0) for d in (*drops, None)], dtype=float)
    drop_v, drop_percent = lost[worst_loop, 0], lost[worst_loop, 1]
    governs = governing(tables.judgement, tables.drop_ratio, tables.chosen)
    hottest_c = np.round(tables.placement.most_along(tables.in_bundles.row_c), 2)
    loss_v = np.round(tables.carried_a * tables.row_ohm[:count], 6)
    carries_a = np.round(tables.carried_a, 6)
    is_fixed = np.isin(np.arange(count), list(fixed))
    columns = (told, governs, is_fixed, loss_v, drop_v, drop_percent, hottest_c, carries_a)

    def some(rows: list[int]) -> Iterator[Wire]:
        figures = zip(*(column[rows].tolist() for column in columns), strict=True)
        for i, figure in zip(rows, figures, strict=True):
            limits, limit, by_hand, loss, volts, percent, hot, carries = figure
            w = pieces[i]
            yield Wire(
                w.key,
                w.label,
                w.circuit,
                *said[i],
                w.family,
                w.gauge,
                w.size.area_mm2,
                w.size.od_mm,
                w.size.conductor_diameter_mm,
                w.colour,
                carries,
                tuple(limits),
                LIMITS[limit],
                by_hand,
                loss,
                volts,
                percent,
                hot,
                ambient_c[i],
                w.cable,
            )

    air = np.array(ambient_c, dtype=float)
    return memo.row_by_row(
        wires_as_chosen, tuple(as_made.wires), (pieces, said, air, *columns), some, telling=True
    )


def hottest_by_branch_c(tables: WireTables) -> dict[str, float]:
    """Hottest conductor in deg C of every branch that holds a wire."""
    placement = tables.placement
    by_bundle_c = np.full(len(placement.branch), -np.inf)
    np.maximum.at(by_bundle_c, placement.bundle, tables.in_bundles.row_c)
    hottest: dict[str, float] = {}
    for branch_id, value_c in zip(placement.branch, np.round(by_bundle_c, 2).tolist(), strict=True):
        if branch_id is not None and np.isfinite(value_c):
            hottest[branch_id] = max(value_c, hottest.get(branch_id, value_c))
    return hottest


def governing(judgement: Judgement, drop_ratio: FloatArray, chosen: IntArray) -> IntArray:
    """Places of the limits that the next smaller candidates fail worst; the fullest at the smallest."""
    n = len(chosen)
    if n == 0:
        return np.zeros(0, dtype=np.intp)
    rows = np.arange(n)
    below = np.maximum(chosen - 1, 0)
    stack = np.stack(
        [
            judgement.current[rows, below],
            drop_ratio[rows, below],
            judgement.fuse[rows, below],
            judgement.strength[rows, below],
            np.where(judgement.too_small[rows, below], judgement.ends[rows, below], 0.0),
        ],
        axis=1,
    )
    return np.asarray(stack.argmax(axis=1))
