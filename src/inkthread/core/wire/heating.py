"""What heats a wire as much as the current that goes on and off in it."""

from __future__ import annotations

import numpy as np

from inkthread.core.circuits import (
    CircuitsResult,
)
from inkthread.core.memo import Memo
from inkthread.core.physics.conductor import COPPER_ALPHA_20C_PER_K, FloatArray, IntArray
from inkthread.core.physics.heat import HeatCurves
from inkthread.core.physics.short_time import heat_capacity_j_per_m_k, settled_share
from inkthread.core.route import Flow
from inkthread.core.tolerances import NOUGHT
from inkthread.core.wire.bundle_ampacity import alone_c
from inkthread.core.wire.families import CandidateTable, Chains
from inkthread.core.wire.placement import WirePlacement

FUSE_TIME_CONSTANT_S = 10.0
"""Of a blade fuse: it opens within ten minutes at 135 % and within seconds at 200 % (typical, no source)."""


def heating_currents_a(
    circuits: CircuitsResult,
    flow: Flow,
    drawn_a: FloatArray,
    table: CandidateTable,
    index: IntArray,
    memo: Memo,
) -> FloatArray:
    """Current in A that heats each wire as much as what it carries, at every candidate. (n, k).

    A load that goes on and off heats a wire by the peak of what settles: (1 - exp(-on / tau)) over
    (1 - exp(-cycle / tau)) of its steady rise, with tau the wire's own time constant. That is the mean
    where the cycle is short beside tau and all of it where it is long. Contacts and bundles are slower,
    so what holds for the wire is enough for them. Without a cycle a duty says nothing, and it counts as
    on for good.
    """
    cycles = tuple([(loop.duty, loop.cycle_s) for loop in circuits.loops])
    factors = memo.get(_duty_factors, cycles, table)
    if factors is None:
        steady = np.abs(flow.section_currents_a(drawn_a)).max(axis=1, initial=0.0)
        return np.broadcast_to(steady[:, None], index.shape)
    # Every size with currents of its own; those that come out alike are reckoned once.
    apart, which = factors
    scaled = drawn_a[:, :, None] * np.sqrt(apart)[:, None, :]
    currents = np.abs(flow.section_currents_a(scaled.reshape(len(drawn_a), -1)))
    most = currents.reshape(len(currents), drawn_a.shape[1], apart.shape[1]).max(axis=1, initial=0.0)
    return np.asarray(np.take_along_axis(most, which[index], axis=1))


def fuse_heating_a(circuits: CircuitsResult, flow: Flow, drawn_a: FloatArray) -> dict[str, float]:
    """The current that heats each path inside a device as much as what goes on and off in it, in A; and,
    by its pin, the fuse of the machine that a protected feed is behind.
    """
    share = np.array(
        [
            float(settled_share(loop.duty, loop.cycle_s, np.array([FUSE_TIME_CONSTANT_S]))[0])
            if loop.duty < 1 and loop.cycle_s
            else 1.0
            for loop in circuits.loops
        ]
    )
    heating = drawn_a * np.sqrt(share)[:, None]
    heats = np.abs(flow.currents_a(heating)[flow.sections :])
    paths = dict(zip(flow.inner, heats.max(axis=1, initial=0.0).tolist(), strict=True))
    for pin in (s.pin for s in circuits.sources.values() if s.fuse_a is not None):
        fed = [n for n, loop in enumerate(circuits.loops) if loop.source == pin and not loop.charging]
        paths[pin] = float(heating[fed].sum(axis=0).max(initial=0.0))
    return paths


def _duty_factors(
    cycles: tuple[tuple[float, float | None], ...], table: CandidateTable
) -> tuple[FloatArray, IntArray] | None:
    """Share of the steady rise that each loop's current brings, by what sizes differ in, (loops, d), and
    which of these each size goes by, (s,); None where all loops are on for good. ``cycles`` are duty and
    cycle."""
    cycling = [n for n, (duty, cycle_s) in enumerate(cycles) if duty < 1 and cycle_s]
    if not cycling:
        return None
    capacity = np.array(
        [
            heat_capacity_j_per_m_k(size.area_mm2, size.conductor_diameter_mm, size.od_mm)
            for size in table.sizes
        ]
    )
    room = table.rating_c - np.array([min((a for a, _ in table.airs), default=20.0)])
    warm = table.resistance_20c_ohm_per_m * (1 + COPPER_ALPHA_20C_PER_K * (table.rating_c - 20))
    tau = capacity * np.maximum(room, 1.0) / np.maximum(table.free_air_a.max(axis=0) ** 2 * warm, NOUGHT)
    factors = np.ones((len(cycles), len(table.sizes)))
    for n in cycling:
        duty, cycle_s = cycles[n]
        factors[n] = settled_share(duty, cycle_s or 0.0, tau)
    apart, which = np.unique(factors, axis=1, return_inverse=True)
    return apart, which.ravel().astype(np.intp)


def mean_alone_c(
    curves: HeatCurves, chains: Chains, sizes: int, placement: WirePlacement, current_a: FloatArray
) -> FloatArray:
    """Temperature of every candidate by itself at its current (n, k), the mean along its way. (n, k)."""
    mean = np.zeros(chains.index.shape)
    for air in range(len(placement.airs)):
        there = np.nonzero(placement.air_share[:, air] > 0)[0]
        rows = air * sizes + chains.index[there]
        current = current_a[there]
        alone = alone_c(curves, rows.ravel(), current.ravel()).reshape(rows.shape)
        mean[there] += placement.air_share[there, air][:, None] * alone
    return mean
