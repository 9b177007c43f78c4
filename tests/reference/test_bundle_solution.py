"""What one wire may carry beside others, against full solutions of the bundle it lies in.

Two derivations that share nothing with the core's regula falsi: the current sought by bisection on the
whole bundle's heat balance, and steady conduction in two dimensions by finite differences, with every
wire where the packing laid it.
"""

from __future__ import annotations

import math

import numpy as np
import pytest
from scipy.optimize import brentq
from scipy.sparse import coo_matrix
from scipy.sparse.linalg import spsolve

from inkthread.core.physics.bundle import (
    BUNDLE_CONDUCTIVITY_W_PER_M_K,
    Bundles,
    bundle_heat,
    core_rise_k,
    scale_to_limit,
    spare_heat_w_per_m,
)
from inkthread.core.physics.packing import pack
from inkthread.demo import DEMOS
from tests.core.reckoning.test_one_truth import WORKED
from tests.oracles import HeatBalance

pytestmark = pytest.mark.slow

LIMIT = 125.0


def bundle(outside: list[float], ambient: float = 40.0, radiant: float = 0.0, cover: float = 0.0) -> Bundles:
    n = len(outside)
    over = np.array(outside, dtype=float)
    return Bundles(
        np.zeros(n, dtype=np.intp),
        over,
        over * 0.6,
        np.array([ambient]),
        np.array([cover]),
        np.array([radiant]),
    )


def spare(b: Bundles, currents: np.ndarray, ohm: np.ndarray) -> np.ndarray:
    hot = ohm * (1 + 0.00393 * (LIMIT - 20))
    rows = np.arange(len(currents))
    begin = np.ones(len(rows))
    heat = spare_heat_w_per_m(b, rows, np.ones(len(rows)), currents**2 * hot, np.array([LIMIT]), begin)
    return np.sqrt(heat / hot)


@pytest.mark.parametrize("seed", range(12))
def test_a_wires_spare_current_is_where_the_whole_bundle_comes_to_its_limit(seed):
    """Bisected on the whole balance: never above it, and within half a per cent below."""
    rng = np.random.default_rng(seed)
    n = int(rng.integers(1, 18))
    outside = rng.uniform(1, 5, n)
    currents = rng.uniform(0, 9, n) * rng.integers(0, 2, n) * (outside / 3)
    ohm = 0.05 / outside**2
    b = bundle(outside.tolist(), float(rng.uniform(-20, 90)), float(rng.choice([0.0, 300.0])))
    found = spare(b, currents, ohm)
    for w in range(n):

        def over(amps: float, w: int = w) -> float:
            tried = currents.copy()
            tried[w] = amps
            return float(bundle_heat(b, tried, ohm).core_c[0]) - LIMIT

        if over(0.0) > 0:
            assert found[w] == 0
            continue
        exact = brentq(over, 0.0, 500.0, xtol=1e-5)
        assert found[w] == pytest.approx(exact, rel=5e-3)
        assert found[w] <= exact * 1.001


@pytest.mark.parametrize("seed", range(6))
def test_what_a_wire_may_make_is_the_same_in_any_company(seed):
    """Several bundles at once, some settled long before others, with equal heats among them: each as alone."""
    rng = np.random.default_rng(100 + seed)
    bundles = [bundle(rng.choice([1.2, 2.0, 3.1], int(rng.integers(1, 15))).tolist()) for _ in range(5)]
    counts = [rng.integers(1, 4, len(b.bundle)).astype(float) for b in bundles]
    heats = [rng.choice([0.0, 0.4, 3.0], len(b.bundle)) * b.outside_mm for b in bundles]
    limits = rng.uniform(50, 200, len(bundles))
    begins = [rng.uniform(0.01, 20, len(b.bundle)) for b in bundles]
    alone = [
        spare_heat_w_per_m(b, np.arange(len(h)), c, h, np.array([limit]), begin)
        for b, c, h, limit, begin in zip(bundles, counts, heats, limits, begins, strict=True)
    ]
    together = Bundles(
        np.concatenate([np.full(len(b.bundle), n) for n, b in enumerate(bundles)]),
        *(np.concatenate([getattr(b, of) for b in bundles]) for of in ("outside_mm", "conductor_mm")),
        *(
            np.concatenate([getattr(b, of) for b in bundles])
            for of in ("ambient_c", "sleeve_k_m_per_w", "radiant_w_per_m2")
        ),
    )
    rows = np.arange(len(together.bundle))
    found = spare_heat_w_per_m(
        together, rows, np.concatenate(counts), np.concatenate(heats), limits, np.concatenate(begins)
    )
    assert found == pytest.approx(np.concatenate(alone), rel=1e-12)


@pytest.mark.parametrize("name", DEMOS)
def test_every_wire_of_every_demo_may_carry_what_the_full_solution_says(name):
    """At most 5 % below it and never above it by more than 1 %: all others as they are, bisected."""
    w = WORKED[name].wire.tables
    placement, table = w.placement, w.free.table
    picked = w.free.chains.index[np.arange(len(w.keys)), w.chosen]
    for i in range(0, len(w.keys), 3):
        rows = np.nonzero(placement.wire == i)[0]
        n = int(w.chosen[i])
        said = float(w.in_bundles.by_method["heat-balance"][i, n])
        alone = float(w.free.by_method["heat-balance"][i, n])
        least = alone
        for row in rows:
            at = int(placement.bundle[row])
            inside = np.nonzero(placement.bundle == at)[0]
            cover = float(w.in_bundles.rough.bundles.sleeve_k_m_per_w[at])
            if len(inside) < 2 and not cover:
                continue
            wires = placement.wire[inside]
            b = bundle(
                table.outside_mm[picked[wires]].tolist(),
                float(placement.ambient_c[at]),
                float(placement.radiant_w_per_m2[at]),
                cover,
            )
            ohm, limit = table.resistance_20c_ohm_per_m[picked[wires]], float(w.in_bundles.limit_c[at])
            currents = w.heating_a[wires]
            me = int(np.nonzero(wires == i)[0][0])

            def over(amps: float, b=b, ohm=ohm, limit=limit, currents=currents, me=me) -> float:
                tried = currents.copy()
                tried[me] = amps
                return float(bundle_heat(b, tried, ohm).core_c[0]) - limit

            if over(0.0) < 0 < over(least):
                least = brentq(over, 0.0, least, xtol=1e-4)
        assert said <= least * 1.01, (w.keys[i], said, least)
        assert said >= least * 0.95, (w.keys[i], said, least)


def test_scaling_all_alike_brings_the_core_to_its_limit():
    b = bundle([2.0] * 7 + [3.0] * 3)
    ohm = np.full(10, 0.01)
    currents = np.linspace(1, 6, 10)
    hot = ohm * (1 + 0.00393 * (LIMIT - 20))
    factor = float(scale_to_limit(b, currents**2 * hot, np.array([LIMIT]))[0])
    core = bundle_heat(b, currents * math.sqrt(factor), ohm).core_c[0]
    assert core == pytest.approx(LIMIT, abs=0.05)
    nothing = scale_to_limit(b, np.zeros(10), np.array([LIMIT]))
    assert math.isinf(nothing[0])


def conduct(outside: list[float], centres: list[tuple[float, float]], heat: np.ndarray, cells: int = 121):
    """Rise in K over the rim of a round body, by finite differences; the hottest of each wire.

    The body is the circle around the packing, conducting alike all through; every wire makes its heat
    evenly over its own circle. Five-point stencil on a square grid, rim held at zero.
    """
    radius = max(math.hypot(*c) + d / 2 for c, d in zip(centres, outside, strict=True))
    step = 2 * radius / (cells - 1)
    axis = np.linspace(-radius, radius, cells)
    x, y = np.meshgrid(axis, axis, indexing="ij")
    inside = np.hypot(x, y) < radius - 1e-9
    number = -np.ones_like(x, dtype=int)
    number[inside] = np.arange(inside.sum())
    source = np.zeros_like(x)
    masks = []
    for (cx, cy), d, q in zip(centres, outside, heat, strict=True):
        mask = (np.hypot(x - cx, y - cy) <= d / 2) & inside
        masks.append(mask)
        source[mask] += q / (mask.sum() * (step / 1000) ** 2)
    rows, columns, values = [], [], []
    flat = number[inside]
    rows.append(flat), columns.append(flat), values.append(np.full(len(flat), 4.0))
    for axis_, shift in ((0, 1), (0, -1), (1, 1), (1, -1)):
        other = np.roll(number, shift, axis=axis_)[inside]
        ok = other >= 0
        rows.append(flat[ok]), columns.append(other[ok]), values.append(np.full(ok.sum(), -1.0))
    system = coo_matrix((np.concatenate(values), (np.concatenate(rows), np.concatenate(columns)))).tocsr()
    right = source[inside] * (step / 1000) ** 2 / BUNDLE_CONDUCTIVITY_W_PER_M_K
    rise = np.zeros_like(x)
    rise[inside] = spsolve(system, right)
    return [float(rise[m].max()) for m in masks]


@pytest.mark.parametrize("wires", [7, 12, 19, 30])
def test_no_place_in_a_real_packing_is_hotter_than_the_core_is_said_to_be(wires):
    """One loaded wire in every place of the packing in turn.

    Both are brought to one footing by the bundle with all its wires loaded alike: that is what our
    conductivity is calibrated for (AC 43.13-1B para 11-69), and it holds the voids of a real packing.
    """
    outside = [2.0] * wires
    centres = [(float(x), float(y)) for x, y in pack(tuple(outside)).centres]
    even = np.full(wires, 1.0)
    ours = float(core_rise_k(bundle(outside), even)[0])
    footing = ours / max(conduct(outside, centres, even))
    assert 0.85 <= footing <= 1.10
    for heat in np.eye(wires) * 5.0:
        hottest = max(conduct(outside, centres, heat)) * footing
        assert float(core_rise_k(bundle(outside), heat)[0]) >= hottest


def test_two_dimensions_agree_with_the_textbook_for_even_heat():
    """q / (4 pi k) from rim to middle of a round body heated evenly, and our rise beside it."""
    rise = max(conduct([10.0], [(0.0, 0.0)], np.array([10.0])))
    assert rise == pytest.approx(10.0 / (4 * math.pi * BUNDLE_CONDUCTIVITY_W_PER_M_K), rel=0.02)


def test_a_wire_beside_a_nearly_idle_one_is_not_held_below_what_it_carries_alone(catalogue):
    """The neighbour adds surface and makes no heat: the wire is as free as by itself."""
    size = catalogue.wires["J1128-TXL"].size("18 AWG")
    ohm = np.full(2, size.resistance_ohm_per_km / 1000)
    b = Bundles(
        np.zeros(2, dtype=np.intp), np.full(2, size.od_mm), np.full(2, size.conductor_diameter_mm),
        np.array([40.0]), np.zeros(1), np.zeros(1),
    )  # fmt: skip
    found = spare(b, np.array([0.0, 0.05]), ohm)[0]
    alone = brentq(
        lambda amps: HeatBalance().conductor_temperature(size, amps, 40.0) - LIMIT, 1.0, 60.0, xtol=1e-3
    )
    assert found >= alone * 0.97
