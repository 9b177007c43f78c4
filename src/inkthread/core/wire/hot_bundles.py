"""Bundles that are too hot cooled by larger wires: in each the wire that then sheds most less heat, again and
again, until none is too hot.

One wire a turn in every bundle, and every bundle looked at anew, would be right and slow. Looked at are the
bundles that are still too hot. And as long as a bundle would stay too hot whatever the wires raised so far
could have spared it at the very most, the next is raised without looking: the order is the same.
"""

from __future__ import annotations

import heapq
from collections.abc import Sequence
from dataclasses import dataclass, field

import numpy as np

from inkthread.core.physics.bundle import BUNDLE_CONDUCTIVITY_W_PER_M_K, OUTER_CONDUCTIVITY_W_PER_M_K
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
    return (core_c > limit_c + TOO_HOT_K) & (counts > 1)


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
        turns = 0
        left = np.nonzero(hot)[0]
        while len(left):
            within = self.placement.only(left)
            wires = np.arange(len(self.chosen))
            picked = self.free.chains.index[wires, self.chosen]
            bundles, heat = heat_of(self.free.table, within, picked, self.asked.heating_a(self.chosen))
            rows = picked[within.wire]
            limit_c = bundle_limits_c(self.free.table, within, rows, self.free.ambient_above_rating)
            over = heat.core_c - limit_c - TOO_HOT_K
            still = over > 0
            if still.any():
                outside = bundles.outside_mm**2
                turn = _Turn(
                    self, within, over, heat.core_c, heat.surface_c, outside, bundles.sleeve_k_m_per_w
                )
                raised = turn.raise_all()
                turns += raised
                if not raised:
                    return turns
            left = left[still]
        return turns


class _Turn:
    """What is raised in hot bundles before they are looked at again."""

    def __init__(
        self,
        raising: Raising,
        within: WirePlacement,
        over_k: FloatArray,
        core_c: FloatArray,
        surface_c: FloatArray,
        outside_mm2: FloatArray,
        sleeve_k_m_per_w: FloatArray,
    ) -> None:
        self._raising, self._within, self._over_k = raising, within, over_k
        count = len(over_k)
        ambient = within.ambient_c
        rise = np.maximum(core_c - ambient, 0.0)
        warm = 1 + COPPER_ALPHA_20C_PER_K * (core_c - 20)
        cold = np.bincount(
            within.bundle,
            raising.made_a2_ohm[within.wire, raising.chosen[within.wire]],
            minlength=count,
        )
        # Cooler copper makes less heat, which cools it again: by so much the first kelvin grows.
        grows = 1 / np.maximum(1 - rise * COPPER_ALPHA_20C_PER_K / warm, 0.05)
        surface_k = (
            np.maximum(surface_c - ambient, 0.0) / np.maximum(cold * warm, FAR_BELOW) + sleeve_k_m_per_w
        )
        area = np.bincount(within.bundle, outside_mm2, minlength=count)
        own = np.minimum(outside_mm2 / area[within.bundle], 1.0)
        inner_k = (1 / BUNDLE_CONDUCTIVITY_W_PER_M_K - np.log(own) / OUTER_CONDUCTIVITY_W_PER_M_K) / (
            4 * np.pi
        )
        at = within.bundle
        self._per_watt = _SURE * (surface_k[at] + inner_k) * warm[at] * grows[at]
        """K that a row's wire cools its bundle at most by, for a W/m less at 20 deg C."""
        self._per_mm2 = _SURE * (rise / area)[at]
        """And for a mm2 more of it over all."""

    def raise_all(self) -> int:
        """Raise turn after turn while it is certain that every hot bundle is still too hot. The turns."""
        raising, within = self._raising, self._within
        self._by_wire = np.argsort(within.wire, kind="stable")
        self._starts = np.searchsorted(within.wire[self._by_wire], np.arange(len(raising.chosen) + 1))
        self._left = np.where(self._over_k > 0, self._over_k, np.inf).tolist()
        saves = raising.saves[within.wire, raising.chosen[within.wire]]
        self._heaps: dict[int, list[tuple[float, int, int]]] = {
            b: [] for b in np.nonzero(self._over_k > 0)[0].tolist()
        }
        chosen = raising.chosen.tolist()
        for row in np.nonzero((self._over_k > 0)[within.bundle] & (saves > 0))[0].tolist():
            wire = int(within.wire[row])
            self._heaps[int(within.bundle[row])].append((-float(saves[row]), wire, chosen[wire]))
        for heap in self._heaps.values():
            heapq.heapify(heap)
        turns = 0
        while min(self._left) > 0:
            best = {self._best(heap) for heap in self._heaps.values()} - {-1}
            if not best:
                break
            self._raise(sorted(best))
            turns += 1
        return turns

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
            if table.rating_c[one] != table.rating_c[other]:
                more_mm2 = np.inf  # the limit is another: nothing is certain any more
            for row in self._by_wire[self._starts[wire] : self._starts[wire + 1]].tolist():
                bundle = int(self._within.bundle[row])
                self._left[bundle] -= less * float(self._per_watt[row]) + more_mm2 * float(self._per_mm2[row])
                if saves > 0 and bundle in self._heaps:
                    heapq.heappush(self._heaps[bundle], (-saves, wire, now))
