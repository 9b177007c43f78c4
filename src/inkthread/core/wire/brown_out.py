"""What every load still gets while another is at its peak: brown-outs, worked out in the whole network.

The least supply is what the terminals give with everything at rest current; what a peak asks on top is
lost in the source's own resistance too, and in every wire, contact, fuse and stud on its way.
"""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from inkthread.core.circuits import CircuitsResult, Loop
from inkthread.core.document.types import Document
from inkthread.core.physics.conductor import BoolArray, FloatArray, IntArray
from inkthread.core.record import record
from inkthread.core.route import Flow
from inkthread.core.tolerances import ROUNDING
from inkthread.core.wire.solve import Solved, solve

_LOOK_AGAIN = 2.0
"""A brown-out is looked for in full where twice the straight-line sag would bring one about: loads of
constant power draw more as the volts fall."""


@record
class BrownOut:
    """A load that falls below what it needs, in V, while others are at their peak."""

    peaks: tuple[str, ...]
    """The loads at their peak."""
    peak_a: float
    load: str
    device: str
    gets_v: float
    needs_v: float
    rest_v: float
    """What it gets with everything at rest current."""


def needs_v(document: Document, load_id: str, supply_v: float) -> float | None:
    """Least volts that a load works at; a regulator that steps down needs what it makes."""
    load = document.circuits.loads.get(load_id)
    if load is not None:
        return load.least_v
    device_id, _, path_id = load_id.partition("~")
    device = document.circuits.devices.get(device_id)
    inner = device.paths.get(path_id) if device is not None else None
    if inner is None or inner.out_v is None or inner.out_v >= supply_v:
        return None
    return inner.out_v


def brown_outs(
    document: Document, circuits: CircuitsResult, flow: Flow, row_ohm: FloatArray, least: Solved
) -> list[BrownOut]:
    """Every load that browns out at a peak of its own or of another, worst first for each peak.

    ``least`` is the settled state at the least supply. Loads that are below already are left out.
    """
    loops = circuits.loops
    needs = np.array(
        [np.nan if (v := needs_v(document, loop.load, loop.supply_v)) is None else v for loop in loops],
        dtype=float,
    )
    whole = np.array(flow.whole, dtype=bool)
    supply = np.array([loop.least_supply_v for loop in loops], dtype=float)
    rest_v = supply[:, None] - least.drop_v
    mode_fraction = np.array([loop.mode_fraction for loop in loops], dtype=float).reshape(
        len(loops), circuits.states
    )
    asked = [n for n in range(len(loops)) if whole[n] and not loops[n].charging and np.isfinite(needs[n])]
    if not asked:
        return []
    source_row, source_ohm = _sources(circuits)
    given = np.zeros((len(source_ohm), circuits.states))
    np.add.at(given, source_row, least.drawn_a * all_running(loops, mode_fraction))
    peaks = [
        (together, m, _more_a(document, circuits, together, least.drawn_a[:, m]))
        for together in _peaks(document, loops)
        for m in range(circuits.states)
        if all(mode_fraction[n, m] > 0 for n in together)
    ]
    if not peaks:
        return []
    more = np.stack([a for _, _, a in peaks], axis=1)
    sag = flow.around_v(flow.currents_a(more) * row_ohm[:, None])
    from_source = np.zeros((len(source_ohm), len(peaks)))
    np.add.at(from_source, source_row, more)
    sag = sag + (from_source * source_ohm[:, None])[source_row]
    at = [m for _, m, _ in peaks]
    rested, on, asks = rest_v[asked][:, at], mode_fraction[asked][:, at] > 0, needs[asked][:, None]
    may: BoolArray = np.any((rested - _LOOK_AGAIN * sag[asked] < asks) & (rested >= asks) & on, axis=0)
    tries = [peak for peak, brown_out in zip(peaks, may.tolist(), strict=True) if brown_out]
    if not tries:
        return []
    columns = [m for _, m, _ in tries]
    more = np.stack([a for _, _, a in tries], axis=1)
    solved = solve(
        loops,
        flow,
        row_ohm,
        supply[:, None] + (given * source_ohm[:, None])[source_row][:, columns],
        np.where(np.array([loop.charging for loop in loops])[:, None], 0.0, mode_fraction[:, columns]),
        more,
        source_row,
        source_ohm,
    )
    volts = supply[:, None] + (given * source_ohm[:, None])[source_row][:, columns] - solved.drop_v
    worst: dict[tuple[tuple[str, ...], str], BrownOut] = {}
    for c, (together, m, _) in enumerate(tries):
        names = tuple(loops[n].load for n in together)
        peak = sum(_peak_a(document, loops[n]) for n in together)
        for q in asked:
            gets, need, rest = float(volts[q, c]), float(needs[q]), float(rest_v[q, m])
            if mode_fraction[q, m] <= 0 or rest < need or gets >= need - ROUNDING:
                continue
            brown_out = BrownOut(names, peak, loops[q].load, loops[q].device, max(gets, 0.0), need, rest)
            before = worst.get((names, brown_out.load))
            if before is None or brown_out.gets_v < before.gets_v:
                worst[names, brown_out.load] = brown_out
    return sorted(worst.values(), key=lambda b: (b.peaks, b.gets_v - b.needs_v))


def all_running(loops: list[Loop], mode_fraction: FloatArray) -> FloatArray:
    """1 where a loop runs at all in a mode; what charges a source is not asked of it."""
    charging = np.array([loop.charging for loop in loops], dtype=bool)
    return np.where(charging[:, None], 0.0, (mode_fraction > 0).astype(float))


def _sources(circuits: CircuitsResult) -> tuple[IntArray, FloatArray]:
    """Place of each loop's source, and the sources' own resistance in ohm."""
    pins = {pin: i for i, pin in enumerate(circuits.sources)}
    row = np.array([pins[loop.source] for loop in circuits.loops], dtype=np.intp)
    return row, np.array([s.internal_ohm or 0.0 for s in circuits.sources.values()], dtype=float)


def _peak_a(document: Document, loop: Loop) -> float:
    load = document.circuits.loads[loop.load]
    return max(load.peak_a or 0.0, load.inrush_a or 0.0)


def _peaks(document: Document, loops: list[Loop]) -> Iterator[tuple[int, ...]]:
    """Each load at its peak in turn; loads that start together, together."""
    groups: dict[tuple[str, int], list[int]] = {}
    for n, loop in enumerate(loops):
        load = document.circuits.loads.get(loop.load)
        if load is None or _peak_a(document, loop) <= loop.current_a:
            continue
        yield (n,)
        if load.starts_with:
            groups.setdefault((load.starts_with, loop.alternative), []).append(n)
    for members in groups.values():
        if len(members) > 1:
            yield tuple(members)


def _more_a(
    document: Document, circuits: CircuitsResult, together: tuple[int, ...], drawn_a: FloatArray
) -> FloatArray:
    """What each loop draws on top of its rest current with these loads at their peak. (loops,).

    A load behind a regulator is felt at the regulator's input.
    """
    loops = circuits.loops
    more = np.zeros(len(loops))
    for n in together:
        extra = max(_peak_a(document, loops[n]) - float(drawn_a[n]), 0.0)
        more[n] += extra
        source = loops[n].source
        for _ in range(len(circuits.sources)):
            at = next(
                (
                    k for k, loop in enumerate(loops)
                    if "~" in loop.load and not loop.charging and _out_pin(document, loop.load) == source
                ),
                None,
            )  # fmt: skip
            if at is None:
                break
            device, _, path = loops[at].load.partition("~")
            inner = document.circuits.devices[device].paths[path]
            if inner.efficiency_percent is not None and inner.out_v is not None:
                extra *= inner.out_v / (inner.efficiency_percent / 100) / loops[at].supply_v
            more[at] += extra
            source = loops[at].source
    return more


def _out_pin(document: Document, load_id: str) -> str | None:
    device_id, _, path_id = load_id.partition("~")
    device = document.circuits.devices.get(device_id)
    inner = device.paths.get(path_id) if device is not None else None
    return f"{device_id}.{inner.to_pin}" if inner is not None else None
