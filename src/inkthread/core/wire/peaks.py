"""Wires through short peaks: cranking, a stalled motor, a warming sensor."""

from __future__ import annotations

import math

import numpy as np

from inkthread.core.circuits import CircuitsResult
from inkthread.core.document.types import Document
from inkthread.core.physics.conductor import FloatArray, IntArray
from inkthread.core.physics.short_time import (
    COPPER_BETA_K,
    COPPER_OHM_MM,
    Pulse,
    adiabatic_k,
    heat_capacity_j_per_m_k,
    peak_temperature_c,
)
from inkthread.core.route import Flow
from inkthread.core.wire.bundle_ampacity import BundleAmpacity
from inkthread.core.wire.families import CandidateTable
from inkthread.core.wire.free_air import FreeAir
from inkthread.core.wire.placement import WirePlacement


def candidate_peak_c(
    table: CandidateTable, air: int, candidate: int, start_c: float, rest_a: float, pulse: Pulse
) -> float:
    """Temperature in deg C that a candidate reaches under pulses, from ``start_c`` among its neighbours."""
    size = table.sizes[candidate]
    cold = size.resistance_ohm_per_km / 1000
    # With no heat leaving it cannot get hotter than this; most wires pass already here.
    ideal = COPPER_OHM_MM * 1000 / size.area_mm2
    energy = pulse.current_a**2 * pulse.on_s * pulse.repeats * cold / ideal / size.area_mm2**2
    per_log = adiabatic_k(20, 21) ** 2 / math.log((COPPER_BETA_K + 21) / (COPPER_BETA_K + 20))
    no_loss = (COPPER_BETA_K + start_c) * math.exp(min(energy / per_log, 50.0)) - COPPER_BETA_K
    if no_loss <= table.rating_c[candidate]:
        return no_loss
    row = table.row(air, candidate)
    curves = table.curves
    alone = float(np.interp(rest_a**2, curves.current_squared_a2[row], curves.conductor_c[row]))
    return peak_temperature_c(
        curves,
        row,
        cold,
        heat_capacity_j_per_m_k(size.area_mm2, size.conductor_diameter_mm, size.od_mm),
        start_c,
        pulse,
        rest_a,
        max(start_c - alone, 0.0),
    )


def raise_for_peaks(
    document: Document,
    circuits: CircuitsResult,
    flow: Flow,
    carried_a: FloatArray,
    free: FreeAir,
    placement: WirePlacement,
    chosen: IntArray,
    highest: IntArray,
    onward: IntArray,
    in_bundles: BundleAmpacity,
) -> IntArray:
    """The candidates chosen, raised where a stated peak would overheat a wire. (n,)."""
    raised = chosen.copy()
    hottest = placement.most_along(in_bundles.row_c)
    for n, loop in enumerate(circuits.loops):
        load = document.circuits.loads.get(loop.load)
        if load is None or load.peak_a is None or not load.peak_s or load.peak_a <= load.current_a:
            continue
        rows, share = flow.of_loop(n)
        wires = rows < flow.sections
        for i, part in zip(rows[wires].tolist(), np.abs(share[wires]).tolist(), strict=True):
            if free.ambient_above_rating[i]:
                continue
            carried = float(carried_a[i])
            pulse = Pulse(
                carried + part * (load.peak_a - load.current_a),
                load.peak_s,
                load.peak_repeats,
                load.peak_pause_s,
            )
            while raised[i] < highest[i]:
                candidate = int(free.chains.index[i, raised[i]])
                reached = candidate_peak_c(
                    free.table, int(placement.hottest[i]), candidate, float(hottest[i]), carried, pulse
                )
                if reached <= free.table.rating_c[candidate]:
                    break
                raised[i] = onward[i, raised[i] + 1]
    return raised
