"""Every wire as it will be made, from the tables it was judged by."""

from __future__ import annotations

import numpy as np

from inkthread.core.circuits import CircuitsResult
from inkthread.core.document.types import Document
from inkthread.core.physics.conductor import FloatArray, IntArray
from inkthread.core.route import Section
from inkthread.core.wire.limits import LIMITS, Judgement
from inkthread.core.wire.results import LoopDrops, Wire, WireTables

_NO_RATIO = 99.0
"""Stands for a limit that no ratio says: where a wire may carry nothing."""


def wires_as_chosen(
    document: Document,
    circuits: CircuitsResult,
    sections: list[Section],
    texts: list[tuple[str, str]],
    tables: WireTables,
    colours: dict[str, str],
    loops: LoopDrops,
    worst_loop: IntArray,
    fixed: frozenset[int],
) -> dict[str, Wire]:
    """Wires by key. ``worst_loop`` (n,) is the place of the loop that each loses most in, or -1."""
    judgement, chosen = tables.judgement, tables.chosen
    rows = np.arange(len(sections))
    by_limit = (
        judgement.current, tables.drop_ratio, judgement.fuse, judgement.strength, judgement.ends
    )  # fmt: skip
    ratios = np.stack([m[rows, chosen] if len(sections) else np.zeros(0) for m in by_limit], axis=1)
    section_ohm = tables.row_ohm[: len(sections)]
    hottest_c = tables.placement.most_along(tables.in_bundles.row_c)
    governs = governing(judgement, tables.drop_ratio, chosen)
    core_of = {key: piece.group for piece in tables.cables for key in piece.wires}
    laid_with = _laid_by_hand(document, tables)
    figures = zip(
        np.round(np.where(np.isfinite(ratios), ratios, _NO_RATIO), 4).tolist(),
        np.round(hottest_c, 2).tolist(),
        worst_loop.tolist(),
        section_ohm.tolist(),
        chosen.tolist(),
        tables.carried_a.tolist(),
        strict=True,
    )
    wires: dict[str, Wire] = {}
    for i, (s, (limits, hot_c, worst, ohm, k, carried_a)) in enumerate(zip(sections, figures, strict=True)):
        size, family = tables.size_at(i, k), tables.family_at(i, k)
        choice = document.wire.fixed.get(s.key)
        colour = colours.get(s.key, "")
        if choice is not None and choice.colour is not None:
            colour = choice.colour
        loop = loops.drops.get(circuits.loops[worst].load) if worst >= 0 else None
        wires[s.key] = Wire(
            s.key,
            s.label,
            s.circuit,
            *texts[i],
            family.code,
            size.gauge,
            size.area_mm2,
            size.od_mm,
            size.conductor_diameter_mm,
            colour,
            round(carried_a, 6),
            tuple(limits),
            governs[i],
            i in fixed,
            round(carried_a * ohm, 6),
            loop.drop_v if loop else 0.0,
            loop.drop_percent if loop else 0.0,
            hot_c,
            s.ambient_c,
            core_of.get(s.key) or laid_with.get(s.circuit),
        )
    return wires


def _laid_by_hand(document: Document, tables: WireTables) -> dict[str, str]:
    """Circuit to its group, where that is laid of single wires."""
    return {
        c: g
        for g, group in document.circuits.groups.items()
        if group.family is None or tables.families[group.family].cores == 1
        for c in group.members
    }


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
