"""Bundles that are too hot cooled by larger wires: in each the wire that then sheds most less heat, again and
again, until none is too hot.

One wire a turn in every bundle, and every bundle looked at anew, would be right and slow. As long as a bundle
would stay too hot whatever the wires raised since it was looked at could have spared it at the very most, its
next is raised without looking: the order is the same.
"""

from __future__ import annotations

import heapq
from collections.abc import Sequence
from dataclasses import dataclass, field

import numpy as np

from inkthread.core.physics.bundle import (
    BUNDLE_CONDUCTIVITY_W_PER_M_K,
    OUTER_CONDUCTIVITY_W_PER_M_K,
    BundleHeat,
    Bundles,
)
from inkthread.core.physics.conductor import COPPER_ALPHA_20C_PER_K, BoolArray, FloatArray, IntArray
from inkthread.core.tolerances import FAR_BELOW
from inkthread.core.wire.bundle_ampacity import bundle_limits_c, heat_of
from inkthread.core.wire.cables import tie
from inkthread.core.wire.free_air import FreeAir
from inkthread.core.wire.limits import Asked
from inkthread.core.wire.placement import WirePlacement

TOO_HOT_K = 0.25
"""A bundle is too hot when it is over its limit by more."""
_SURE = 1.6
"""What wires may spare a bundle is taken as so much more than the most that is reckoned."""


def too_hot(placement: WirePlacement, core_c: FloatArray, limit_c: FloatArray) -> BoolArray:
    """By bundle: whether it is one of several wires and over its limit."""
    counts = np.bincount(placement.bundle, minlength=len(core_c))
    return (core_c - limit_c - TOO_HOT_K > 0) & (counts > 1)


@dataclass(slots=True)
class Raising:
    """The sizes of a harness while its bundles are being cooled."""

    free: FreeAir
    placement: WirePlacement
    asked: Asked
    chosen: IntArray
    """(n,): place of each wire in its chain, raised as it goes on."""
    highest: IntArray
    onward: IntArray
    tied: tuple[IntArray, ...]
    made_a2_ohm: FloatArray = field(init=False)
    """(n, k): heat in W/m that each wire makes with its copper at 20 deg C."""
    saves: FloatArray = field(init=False)
    """(n, k): how much less it makes one size on, within the highest it may take."""

    def __post_init__(self) -> None:
        table, chains = self.free.table, self.free.chains
        rows, places = np.arange(len(self.chosen))[:, None], np.arange(chains.index.shape[1])[None, :]
        ohm_per_m = table.resistance_20c_ohm_per_m[chains.index]
        then = ohm_per_m[rows, np.minimum(places + 1, np.maximum(self.highest, 0)[:, None])]
        self.made_a2_ohm = self.asked.current_a**2 * ohm_per_m
        may = (places < self.highest[:, None]) & ~self.free.ambient_above_rating[:, None]
        self.saves = np.where(may, self.asked.current_a**2 * (ohm_per_m - then), 0.0)

    def next_in(self, hot: BoolArray) -> list[int]:
        """The wire of every hot bundle that sheds most less heat one size on. Of equals, the first."""
        saves = self.saves[np.arange(len(self.chosen)), self.chosen]
        wire, bundle = self.placement.wire, self.placement.bundle
        at = np.nonzero(hot[bundle] & (saves[wire] > 0))[0]
        order = at[np.lexsort((-wire[at], saves[wire[at]], bundle[at]))]
        return sorted(set(dict(zip(bundle[order].tolist(), wire[order].tolist(), strict=True)).values()))

    def raise_by_one(self, wires: Sequence[int]) -> None:
        """The next size that their ends take, and what is tied to them with them."""
        up = np.asarray(wires, dtype=np.intp)
        self.chosen[up] = self.onward[up, self.chosen[up] + 1]
        tie(self.chosen, self.tied, self.onward)

    def cool(self, hot: BoolArray) -> int:
        """Raise wires until none of the ``hot`` bundles is too hot or can be helped. The turns it took."""
        return _Cooling(self, np.nonzero(hot)[0]).run()


class _Cooling:
    """Bundles that are being cooled: how far each is surely still over its limit, and what is next in it."""

    def __init__(self, raising: Raising, bundles: IntArray) -> None:
        self._raising = raising
        within = self._within = raising.placement.only(bundles)
        self._by_wire = np.argsort(within.wire, kind="stable")
        self._starts = np.searchsorted(within.wire[self._by_wire], np.arange(len(raising.chosen) + 1))
        self._sure_k: list[float] = [-np.inf] * len(bundles)
        """By bundle: K that it is over its limit by at the least. Endless once it was seen to be cool."""
        self._per_watt, self._per_mm2 = np.zeros(len(within.wire)), np.zeros(len(within.wire))
        saves = raising.saves[within.wire, raising.chosen[within.wire]]
        self._heaps: dict[int, list[tuple[float, int, int]]] = {b: [] for b in range(len(bundles))}
        chosen = raising.chosen.tolist()
        for row in np.nonzero(saves > 0)[0].tolist():
            wire = int(within.wire[row])
            self._heaps[int(within.bundle[row])].append((-float(saves[row]), wire, chosen[wire]))
        for heap in self._heaps.values():
            heapq.heapify(heap)

    def run(self) -> int:
        """Look where it is not certain any more, and raise one wire of each that is too hot. The turns."""
        turns = 0
        while self._heaps:
            self._look(np.nonzero(np.array(self._sure_k) <= 0)[0])
            while self._heaps and min(self._sure_k) > 0:
                best = {self._best(heap) for heap in self._heaps.values()} - {-1}
                if not best:
                    return turns
                self._raise(sorted(best))
                turns += 1
        return turns

    def _look(self, bundles: IntArray) -> None:
        """How hot these now are. Those that are cool are let go."""
        raising, place = self._raising, np.full(len(self._sure_k), -1, dtype=np.intp)
        place[bundles] = np.arange(len(bundles))
        rows = np.nonzero(place[self._within.bundle] >= 0)[0]
        within, free = self._within.only(bundles), raising.free
        picked = free.chains.index[np.arange(len(raising.chosen)), raising.chosen]
        geometry, heat = heat_of(free.table, within, picked, raising.asked.heating_a(raising.chosen))
        limit_c = bundle_limits_c(free.table, within, picked[within.wire], free.ambient_above_rating)
        over_k = heat.core_c - limit_c - TOO_HOT_K
        for bundle, over in zip(bundles.tolist(), over_k.tolist(), strict=True):
            self._sure_k[bundle] = over if over > 0 else np.inf
            if over <= 0:
                del self._heaps[bundle]
        if (over_k > 0).any():
            self._per_watt[rows], self._per_mm2[rows] = self._spares(within, geometry, heat)

    def _spares(
        self, within: WirePlacement, geometry: Bundles, heat: BundleHeat
    ) -> tuple[FloatArray, FloatArray]:
        """K that a row's wire cools its bundle at most by: for a W/m less of it at 20 deg C, and for a mm2
        more of it over all."""
        raising, at = self._raising, within.bundle
        count = len(heat.core_c)
        ambient, outside_mm2 = within.ambient_c, geometry.outside_mm**2
        rise = np.maximum(heat.core_c - ambient, 0.0)
        warm = 1 + COPPER_ALPHA_20C_PER_K * (heat.core_c - 20)
        cold = np.bincount(at, raising.made_a2_ohm[within.wire, raising.chosen[within.wire]], minlength=count)
        # Cooler copper makes less heat, which cools it again: by so much the first kelvin grows.
        grows = 1 / np.maximum(1 - rise * COPPER_ALPHA_20C_PER_K / warm, 0.05)
        surface_k = (
            np.maximum(heat.surface_c - ambient, 0.0) / np.maximum(cold * warm, FAR_BELOW)
            + geometry.sleeve_k_m_per_w
        )
        area = np.bincount(at, outside_mm2, minlength=count)
        own = np.minimum(outside_mm2 / area[at], 1.0)
        inner_k = (1 / BUNDLE_CONDUCTIVITY_W_PER_M_K - np.log(own) / OUTER_CONDUCTIVITY_W_PER_M_K) / (
            4 * np.pi
        )
        return _SURE * (surface_k[at] + inner_k) * warm[at] * grows[at], _SURE * (rise / area)[at]

    def _best(self, heap: list[tuple[float, int, int]]) -> int:
        """The wire of a bundle that now sheds most less heat, or -1; what it was put in as before goes."""
        while heap and heap[0][2] != self._raising.chosen[heap[0][1]]:
            heapq.heappop(heap)
        return heap[0][1] if heap else -1

    def _raise(self, wires: list[int]) -> None:
        raising = self._raising
        before = raising.chosen.copy() if raising.tied else None
        was = raising.chosen[wires]
        raising.raise_by_one(wires)
        if before is not None:
            wires = np.nonzero(raising.chosen != before)[0].tolist()
            was = before[wires]
        table, chains = raising.free.table, raising.free.chains
        for wire, place in zip(wires, was.tolist(), strict=True):
            now = int(raising.chosen[wire])
            less = max(float(raising.made_a2_ohm[wire, place] - raising.made_a2_ohm[wire, now]), 0.0)
            one, other = chains.index[wire, now], chains.index[wire, place]
            more_mm2 = max(float(table.outside_mm[one] ** 2 - table.outside_mm[other] ** 2), 0.0)
            saves = float(raising.saves[wire, now])
            limit_is_another = bool(table.rating_c[one] != table.rating_c[other])
            for row in self._by_wire[self._starts[wire] : self._starts[wire + 1]].tolist():
                bundle = int(self._within.bundle[row])
                if bundle in self._heaps:
                    spared_k = less * float(self._per_watt[row]) + more_mm2 * float(self._per_mm2[row])
                    self._sure_k[bundle] -= np.inf if limit_is_another else spared_k
                    if saves > 0:
                        heapq.heappush(self._heaps[bundle], (-saves, wire, now))
