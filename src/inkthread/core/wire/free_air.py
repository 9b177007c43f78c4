"""What every candidate may carry by itself, by the methods that bind, in the worst air on its way."""

from __future__ import annotations

import numpy as np

from inkthread.core.catalogue import Catalogue
from inkthread.core.physics.conductor import BoolArray, FloatArray
from inkthread.core.record import record
from inkthread.core.wire.ampacity import (
    Method,
    OutOfTable,
    aircraft_altitude_factor,
    aircraft_free_air_a,
    marine_bundle_factor,
    marine_outside_a,
)
from inkthread.core.wire.families import CandidateTable, Chains
from inkthread.core.wire.placement import WirePlacement


@record
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
