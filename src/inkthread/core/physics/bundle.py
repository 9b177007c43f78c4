"""Temperature of a bundle of wires in still air, the hot ones lying together at its core.

Wires are laid from the core outward in falling heat per area. Each is a ring of a round body that
conducts alike all through: the heat made inside a radius crosses it. That order is the hottest of
all orders, so more current in any wire never lowers the temperature at the core. A wire by itself is
a bundle of one: its own insulation is what the heat crosses.

Everything is worked out for many bundles at once: one row a (bundle, wire) pair.
"""

from __future__ import annotations

import numpy as np

from inkthread.core.physics import air
from inkthread.core.physics.conductor import COPPER_ALPHA_20C_PER_K, BoolArray, FloatArray, IntArray
from inkthread.core.physics.heat import heat_at_limit_w_per_m, heat_shed_w_per_m, insulation_k_m_per_w
from inkthread.core.record import record

BUNDLE_CONDUCTIVITY_W_PER_M_K = 0.22
"""Across a bundle of insulated wires with air between. Calibrated: 12 of 12 loaded comes to 0.43 of
free air (FAA AC 43.13-1B para 11-69, from memory)."""
OUTER_CONDUCTIVITY_W_PER_M_K = 0.13
"""Of the unloaded wires around a hot core. Calibrated: 7 of 35 loaded comes to 0.52 (same source)."""

SHARES = np.linspace(0.1, 1.0, 10)
"""Of the bundle's area, the places at which the heat inside is looked at."""

_SETTLED_K = 1e-3
"""Surface and core are settled when a turn moves them by less."""
_FIRST_RISE_K = 30.0
"""Guessed for the first turn."""
_SPARE_SHARE = 2e-3
"""Share of a wire's heat to which what it may make is settled: a thousandth of its current."""
_SPARE_TURNS = 12
_LEAST_TRIED_W_PER_M = 1e-3
_NO_HEAT_W_PER_M = 1e-9
"""Less than this is looked for no further; less than that is none."""

TOP_C = 900.0
"""Where a bundle would run hotter, it is said to be this hot."""

_OUTLINE = (1, 1.6366, 1.9549, 2.2732, 2.5915, 2.9099, 2.9099)
"""Diameter of a circle as long as a string drawn taut around n equal wires, in wire diameters."""
_PACKED = (3.3047649, 3.6131259, 3.8130256, 3.9238044, 4.0296020, 4.2360680, 4.3284285, 4.5213570)
_PACKED_TO_20 = (4.6154255, 4.7920337, 4.8637033, 4.8637033, 5.1223208)
"""Least circle around n equal circles, n = 8 to 20 (packing literature, from memory)."""
_TAUT = 0.09
"""What the taut string saves on that circle, in wire diameters: at seven wires, 3 less 2.91."""
OUTLINE = np.array((*_OUTLINE, *(r - _TAUT for r in (*_PACKED, *_PACKED_TO_20))))


def outline_ratio(counts: IntArray) -> FloatArray:
    """Diameter of a bundle's outline in diameters of its wires, all alike; rises with the count.

    Source: geometry of a taut string to seven wires, then the least circle around n equal circles
    (packing literature, from memory).

    >>> outline_ratio(np.array([1, 2, 7])).round(2).tolist()
    [1.0, 1.64, 2.91]
    """
    tabled = np.clip(counts, 1, len(OUTLINE))
    ratio: FloatArray = OUTLINE[tabled - 1] * np.sqrt(np.maximum(counts, 1) / tabled)
    return ratio


@record
class Bundles:
    """Geometry of bundles, their wires listed bundle by bundle.

    ``bundle`` (rows,) rises; ``outside_mm`` and ``conductor_mm`` (rows,) are each wire's diameters over
    all and over its strands; ``ambient_c`` and ``sleeve_k_m_per_w`` (bundles,) the air around each and
    the resistance of what covers it.
    """

    bundle: IntArray
    outside_mm: FloatArray
    conductor_mm: FloatArray
    ambient_c: FloatArray
    sleeve_k_m_per_w: FloatArray
    radiant_w_per_m2: FloatArray
    """Heat falling on each bundle from outside, per area of its surface."""
    pressure_pa: float = air.STANDARD_PRESSURE_PA

    @property
    def counts(self) -> IntArray:
        return np.bincount(self.bundle, minlength=len(self.ambient_c)).astype(np.intp)

    @property
    def diameter_mm(self) -> FloatArray:
        """Diameter of each bundle's outline, by which it sheds its heat."""
        counts = self.counts
        square = np.bincount(self.bundle, self.outside_mm**2, minlength=len(self.ambient_c))
        mean: FloatArray = np.sqrt(square / np.maximum(counts, 1))
        return mean * outline_ratio(counts)


def core_rise_k(bundles: Bundles, heat_w_per_m: FloatArray, order: IntArray | None = None) -> FloatArray:
    """Rise in K from the surface to the core. Shape (bundles,).

    ``order`` (rows,), where it is known, names the rows bundle by bundle in falling heat per area, of
    equals the first first.

    The most heat that a share of the bundle's area can hold is gathered in its middle; the rest is
    taken as unheated, but lets that heat through less well. The share is the one that comes out
    hottest, of ``SHARES``. Each share's rise grows with every wire's heat, so the hottest does too.
    In a bundle of one it is the rise over the wire's insulation. Source: conduction in a cylinder that heats
    evenly (Carslaw and Jaeger, Conduction of Heat in Solids, 7.2, from memory), ring by ring.

    >>> seven = np.zeros(7, dtype=np.intp)
    >>> sizes = np.full(7, 1.5), np.full(7, 1.0)
    >>> held = Bundles(seven, *sizes, np.array([30.0]), np.array([0.0]), np.array([0.0]))
    >>> round(float(core_rise_k(held, np.full(7, 1.0))[0]), 2)
    2.84
    """
    area = bundles.outside_mm**2
    density = heat_w_per_m / area
    if order is None:
        order = np.lexsort((-density, bundles.bundle))
    bundle = bundles.bundle[order]
    count = len(bundles.ambient_c)
    if len(bundle) == 0:
        return np.zeros(count)
    first = np.searchsorted(bundle, np.arange(count))
    last = np.searchsorted(bundle, np.arange(count), side="right") - 1
    # In long figures, so that a bundle comes out the same whatever is listed before it.
    a, q = (np.cumsum(of[order], dtype=np.longdouble) for of in (area, heat_w_per_m))
    start = first[bundle]
    before_a, before_q = a - area[order], q - heat_w_per_m[order]
    inner_a = (before_a - before_a[start]).astype(float)
    inner_q = (before_q - before_q[start]).astype(float)
    g = density[order]
    # Heat crossing the circle of area x is inner_q + g (x - inner_a). The rise over a ring is the
    # integral of that over 4 pi k x, since dr / r is dx / 2x.
    ring = _ring(inner_q, inner_a, g, inner_a + area[order])
    done = np.cumsum(ring, dtype=np.longdouble) - ring
    inside = (done - done[start]).astype(float)
    total = np.where(
        last >= first, a[np.maximum(last, 0)] - before_a[np.minimum(first, len(a) - 1)], 1
    ).astype(float)
    at = (inner_a + area[order]) / total[bundle] + bundle
    # All shares at once: a row a share.
    share = SHARES[:, None]
    row = np.minimum(np.searchsorted(at, np.arange(count) + share - 1e-9), np.maximum(last, 0))
    enclosed_a = share * total
    crossing = inner_q[row] + g[row] * (enclosed_a - inner_a[row])
    within = (
        inside[row] + _ring(inner_q[row], inner_a[row], g[row], enclosed_a)
    ) / BUNDLE_CONDUCTIVITY_W_PER_M_K
    beyond = crossing * -np.log(share) / OUTER_CONDUCTIVITY_W_PER_M_K
    hottest = ((within + beyond) / (4 * np.pi)).max(axis=0)
    rise = np.where(last >= first, np.maximum(hottest, 0.0), 0.0)
    alone = np.nonzero(first == last)[0]
    wire = order[first[alone]]
    rise[alone] = heat_w_per_m[wire] * insulation_k_m_per_w(
        bundles.conductor_mm[wire], bundles.outside_mm[wire]
    )
    return rise


def _ring(inner_q: FloatArray, inner_a: FloatArray, density: FloatArray, outer_a: FloatArray) -> FloatArray:
    """Rise over a ring of even density, times 4 pi k."""
    with np.errstate(divide="ignore", invalid="ignore"):
        spread = np.where(inner_a > 1e-9, np.log(np.maximum(outer_a / inner_a, 1.0)), 0.0)
    return (inner_q - density * inner_a) * spread + density * (outer_a - inner_a)


@record
class BundleHeat:
    """Temperatures of bundles, shapes (bundles,)."""

    core_c: FloatArray
    surface_c: FloatArray


def bundle_heat(
    bundles: Bundles, current_a: FloatArray, resistance_20c_ohm_per_m: FloatArray, passes: int = 200
) -> BundleHeat:
    """Core and surface temperature of each bundle at the currents its wires carry (rows,).

    Every conductor is reckoned at its bundle's core temperature, which is where it may lie. Then
    all heats of a bundle grow alike with that temperature, and so does the rise to the core. Source: the
    heat balance of ``heat`` about the whole; calibrated to AC 43.13-1B para 11-69 as said above.

    >>> pair = np.zeros(2, dtype=np.intp)
    >>> sizes = np.full(2, 1.5), np.full(2, 1.0)
    >>> held = Bundles(pair, *sizes, np.array([30.0]), np.array([0.0]), np.array([0.0]))
    >>> bundle_heat(held, np.zeros(2), np.full(2, 0.021)).core_c.tolist()
    [30.0]
    """
    cold = current_a**2 * resistance_20c_ohm_per_m
    total: FloatArray = np.bincount(bundles.bundle, cold, minlength=len(bundles.ambient_c)).astype(float)
    inner = core_rise_k(bundles, cold) + total * bundles.sleeve_k_m_per_w
    diameter = np.maximum(bundles.diameter_mm, 1e-6)
    falls = bundles.radiant_w_per_m2 * diameter / 1000 * np.pi
    hot = total + falls > _NO_HEAT_W_PER_M
    most = TOP_C - bundles.ambient_c
    core = bundles.ambient_c.copy()
    rise = np.where(hot, np.minimum(_FIRST_RISE_K, most), 0.0)
    # Heat shed goes about as the rise to the power 5/4, so each step of the surface is nearly right;
    # the copper follows it in the same step.
    # Each bundle stays as it is once it is settled, so that it comes out the same in any company.
    going = np.ones(len(core), dtype=bool)
    with np.errstate(divide="ignore", invalid="ignore"):
        for _ in range(passes):
            factor = np.maximum(1 + COPPER_ALPHA_20C_PER_K * (core - 20), 0.1)
            shed = heat_shed_w_per_m(
                bundles.ambient_c + rise, bundles.ambient_c, diameter, bundles.pressure_pa
            )
            before, was = rise, core
            rise = np.where(hot, np.minimum(rise * ((total * factor + falls) / shed) ** 0.78, most), 0.0)
            core = np.minimum(bundles.ambient_c + rise + inner * factor, TOP_C)
            rise, core = np.where(going, rise, before), np.where(going, core, was)
            going &= np.maximum(np.abs(rise - before), np.abs(core - was)) >= _SETTLED_K
            if not going.any():
                break
    return BundleHeat(core, bundles.ambient_c + rise)


def scale_to_limit(bundles: Bundles, heat_w_per_m: FloatArray, limit_c: FloatArray) -> FloatArray:
    """Factor on the heat of all wires of a bundle alike that brings its core to its limit. (bundles,).

    ``heat_w_per_m`` (rows,) is what each wire makes with its copper at ``limit_c`` (bundles,), so the
    factor is on every current squared. Infinite where nothing is made. Source: the same balance as
    ``bundle_heat``, at the limit.

    >>> pair = np.zeros(2, dtype=np.intp)
    >>> sizes = np.full(2, 1.5), np.full(2, 1.0)
    >>> held = Bundles(pair, *sizes, np.array([30.0]), np.array([0.0]), np.array([0.0]))
    >>> one, two = (float(scale_to_limit(held, np.full(2, w), np.array([150.0]))[0]) for w in (1.0, 2.0))
    >>> round(one / two, 6)
    2.0
    """
    total = np.bincount(bundles.bundle, heat_w_per_m, minlength=len(bundles.ambient_c))
    inner = core_rise_k(bundles, heat_w_per_m) + total * bundles.sleeve_k_m_per_w
    heated = total > _NO_HEAT_W_PER_M
    through = np.where(heated, inner / np.where(heated, total, 1.0), 0.0)
    holds = heat_at_limit_w_per_m(
        np.maximum(bundles.diameter_mm, 1e-6),
        through,
        bundles.ambient_c,
        limit_c,
        bundles.pressure_pa,
        bundles.radiant_w_per_m2,
    )
    return np.where(heated, holds / np.where(heated, total, 1.0), np.inf)


def spare_heat_w_per_m(
    bundles: Bundles,
    wires: IntArray,
    counts: FloatArray,
    heat_w_per_m: FloatArray,
    limit_c: FloatArray,
    near_w_per_m: FloatArray,
) -> FloatArray:
    """Heat that one wire may make until the core is at its limit, all the others as they are. (asked,).

    Rows are kinds of wire: ``counts`` (rows,) alike, each making ``heat_w_per_m`` (rows,) with its copper
    at ``limit_c`` (bundles,). ``wires`` (asked,) names the rows of which one wire is asked about. Zero
    where the others alone are too hot. ``near_w_per_m`` (asked,) is where to begin.

    The bundle is solved again with that wire's heat until the core is at its limit, by the secant: what
    the bundle still holds falls evenly with that heat, but is not taken as straight. Source: the
    same balance as ``bundle_heat``, searched for each wire.

    >>> alone = np.zeros(1, dtype=np.intp)
    >>> held = Bundles(alone, np.array([2.0]), np.array([1.0]), np.array([30.0]), np.zeros(1), np.zeros(1))
    >>> heat, limit, near = np.zeros(1), np.array([80.0]), np.array([5.0])
    >>> round(float(spare_heat_w_per_m(held, alone, np.ones(1), heat, limit, near)[0]), 1)
    7.5
    """
    home = bundles.bundle[wires]
    first = np.searchsorted(bundles.bundle, np.arange(len(bundles.ambient_c)))
    kinds = np.bincount(bundles.bundle, minlength=len(bundles.ambient_c))[home]
    # One problem a wire asked about: every kind of its bundle, one wire less of its own, and itself.
    problem = np.repeat(np.arange(len(wires)), kinds + 1)
    start = np.repeat(np.cumsum(kinds + 1) - kinds - 1, kinds + 1)
    step = np.arange(len(problem)) - start
    itself = step == kinds[problem]
    row = np.where(itself, wires[problem], first[home][problem] + step)
    count = np.where(itself, 1.0, counts[row] - (~itself & (row == wires[problem])))
    kept = count > 0.5
    problem, row, itself, count = problem[kept], row[kept], itself[kept], count[kept]
    outside_mm, conductor_mm = (mm[row] * np.sqrt(count) for mm in (bundles.outside_mm, bundles.conductor_mm))
    others = np.where(itself, 0.0, heat_w_per_m[row] * count)
    rest = np.bincount(problem, others, minlength=len(wires)).astype(float)
    # The others in falling heat per area, as they stay, and the wire itself behind them.
    order = np.lexsort((-others / outside_mm**2, itself, problem))
    asked = _Asked(
        Bundles(
            problem,
            outside_mm[order],
            conductor_mm[order],
            bundles.ambient_c[home],
            bundles.sleeve_k_m_per_w[home],
            bundles.radiant_w_per_m2[home],
            bundles.pressure_pa,
        ),
        rest,
        others[order],
        itself[order],
    )
    ambient_c = bundles.ambient_c[home]
    many = np.bincount(bundles.bundle, counts, minlength=len(bundles.ambient_c))
    square = np.bincount(bundles.bundle, counts * bundles.outside_mm**2, minlength=len(many))
    diameter = (np.sqrt(square / np.maximum(many, 1)) * outline_ratio(many.astype(np.intp)))[home]
    limit = limit_c[home]

    falls = bundles.radiant_w_per_m2[home] * diameter / 1000 * np.pi

    # With the surface at some temperature, what is shed there leaves this to the wire itself; the core
    # is at its limit at one such temperature. The first step by the power law, then by the secant.
    own = np.maximum(near_w_per_m, _LEAST_TRIED_W_PER_M)
    rise = asked.rise_to_core_k(own)
    surface = np.clip(limit - rise, ambient_c, limit)
    before = over_before = np.full_like(surface, np.nan)
    # Each stays as it is once it is settled, so that it comes out the same in any company.
    going = np.ones(len(own), dtype=bool)
    for _ in range(_SPARE_TURNS):
        shed = heat_shed_w_per_m(surface, ambient_c, diameter, bundles.pressure_pa)
        was, own = own, np.where(going, np.maximum(shed - falls - rest, 0.0), own)
        going &= np.abs(own - was) > _SPARE_SHARE * np.maximum(own, _LEAST_TRIED_W_PER_M)
        if not going.any():
            break
        some = np.nonzero(going)[0]
        rise[some] = asked.only(going).rise_to_core_k(own[some])
        over = surface + rise - limit
        steepness = 1.25 * shed / np.maximum(surface - ambient_c, 0.1)
        slope = 1 + rise / np.maximum(rest + own, _NO_HEAT_W_PER_M) * steepness
        gone = surface - before
        moved = np.abs(gone) > 1e-9
        slope = np.where(moved, (over - over_before) / np.where(moved, gone, 1.0), slope)
        before, over_before = surface, over
        # The core rises at least as fast as the surface.
        surface = np.maximum(surface - over / np.maximum(slope, 1.0), ambient_c)
    return own


@record
class _Asked:
    """Wires asked about, each in a bundle of its own: the others in falling heat per area, then itself."""

    bundles: Bundles
    rest_w_per_m: FloatArray
    """(asked,): what all the others make."""
    others_w_per_m: FloatArray
    """(rows,): what each of them makes; nothing for the wire itself."""
    itself: BoolArray

    def only(self, some: BoolArray) -> _Asked:
        """The same of some of them, counted anew."""
        if some.all():
            return self
        every = self.bundles
        rows = some[every.bundle]
        return _Asked(
            Bundles(
                (np.cumsum(some) - 1)[every.bundle[rows]],
                every.outside_mm[rows],
                every.conductor_mm[rows],
                every.ambient_c[some],
                every.sleeve_k_m_per_w[some],
                every.radiant_w_per_m2[some],
                every.pressure_pa,
            ),
            self.rest_w_per_m[some],
            self.others_w_per_m[rows],
            self.itself[rows],
        )

    def rise_to_core_k(self, own_w_per_m: FloatArray) -> FloatArray:
        """K from the surface to the core with this of the wires themselves, (asked,)."""
        bundles = self.bundles
        bundle = bundles.bundle
        heat = np.where(self.itself, own_w_per_m[bundle], self.others_w_per_m)
        density = heat / bundles.outside_mm**2
        own = np.nonzero(self.itself)[0]
        # Those that make less for their area move one on, to let the wire itself in before them.
        less = density < density[own][bundle]
        place = np.arange(len(bundle)) + less
        place[own] = own - np.bincount(bundle, less, minlength=len(own)).astype(np.intp)
        order = np.empty(len(bundle), dtype=np.intp)
        order[place] = np.arange(len(bundle))
        sleeve_k = (self.rest_w_per_m + own_w_per_m) * bundles.sleeve_k_m_per_w
        return core_rise_k(bundles, heat, order) + sleeve_k
