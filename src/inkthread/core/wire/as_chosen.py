"""Every wire as it will be made, from the tables it was judged by."""

from __future__ import annotations

import numpy as np

from inkthread.core.circuits import CircuitsResult
from inkthread.core.physics.conductor import FloatArray, IntArray
from inkthread.core.wire.limits import LIMITS, Judgement, ratios_at
from inkthread.core.wire.made import MadeWires
from inkthread.core.wire.results import LoopDrops, Wire, WireTables

_NO_RATIO = 99.0
"""Stands for a limit that no ratio says: where a wire may carry nothing."""


def wires_as_chosen(
    circuits: CircuitsResult,
    as_made: MadeWires,
    ambient_c: list[float],
    tables: WireTables,
    loops: LoopDrops,
    worst_loop: IntArray,
    fixed: frozenset[int],
) -> dict[str, Wire]:
    """Wires by key. ``worst_loop`` (n,) is the place of the loop that each loses most in, or -1."""
    judgement, chosen = tables.judgement, tables.chosen
    count = len(chosen)
    ratios = ratios_at(judgement, tables.drop_ratio, chosen)
    hottest_c = tables.placement.most_along(tables.in_bundles.row_c)
    lost_v = tables.carried_a * tables.row_ohm[:count]
    figures = zip(
        as_made.wires.values(),
        np.round(np.where(np.isfinite(ratios), ratios, _NO_RATIO), 4).tolist(),
        governing(judgement, tables.drop_ratio, chosen),
        np.round(hottest_c, 2).tolist(),
        worst_loop.tolist(),
        [round(v, 6) for v in lost_v.tolist()],
        [round(a, 6) for a in tables.carried_a.tolist()],
        ambient_c,
        strict=True,
    )
    drops = [loops.drops.get(loop.load) for loop in circuits.loops]
    wires: dict[str, Wire] = {}
    for i, (w, limits, governs, hot_c, worst, loss_v, carries_a, air_c) in enumerate(figures):
        loop = drops[worst] if worst >= 0 else None
        wires[w.key] = Wire(
            w.key,
            w.label,
            w.circuit,
            w.from_text,
            w.to_text,
            w.family,
            w.gauge,
            w.size.area_mm2,
            w.size.od_mm,
            w.size.conductor_diameter_mm,
            w.colour,
            carries_a,
            tuple(limits),
            governs,
            i in fixed,
            loss_v,
            loop.drop_v if loop else 0.0,
            loop.drop_percent if loop else 0.0,
            hot_c,
            air_c,
            w.cable,
        )
    return wires


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


def governing(judgement: Judgement, drop_ratio: FloatArray, chosen: IntArray) -> list[str]:
    """The limit that the next smaller candidate fails, worst first; the fullest at the smallest."""
    n = len(chosen)
    if n == 0:
        return []
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
    return [LIMITS[k] for k in stack.argmax(axis=1)]
