"""The drop of every load around its loop, solved, and what each wire has of it."""

from __future__ import annotations

import numpy as np

from inkthread.core.circuits import CircuitsResult
from inkthread.core.physics.conductor import FloatArray, IntArray
from inkthread.core.route import Flow
from inkthread.core.wire.results import LoopDrop, LoopDrops
from inkthread.core.wire.solve import Solved, solve


def solve_loads(circuits: CircuitsResult, flow: Flow, row_ohm: FloatArray) -> tuple[Solved, Solved]:
    """What every load gets at the working and at the least supply.

    What charges helps the loads: neither is reckoned on top of the other.
    """
    loops, modes = circuits.loops, circuits.states
    mode_fraction = np.array([loop.mode_fraction for loop in loops], dtype=float).reshape(len(loops), modes)
    charging = np.array([[loop.charging] for loop in loops], dtype=bool).reshape(len(loops), 1)
    volts = np.array([[loop.supply_v, loop.least_supply_v] for loop in loops], dtype=float).reshape(
        len(loops), 2
    )
    # Columns: loads and charging at the working supply, then both at the least.
    apart = [mode_fraction * ~charging, mode_fraction * charging] if charging.any() else [mode_fraction]
    solved = solve(
        loops,
        flow,
        row_ohm,
        np.repeat(volts, modes * len(apart), axis=1),
        np.concatenate(apart * 2, axis=1),
    )

    def at(supply: int) -> Solved:
        first = supply * modes * len(apart)
        loads, charges = slice(first, first + modes), slice(first + modes, first + 2 * modes)
        if len(apart) == 1:
            charges = loads
        return Solved(
            np.where(charging, solved.drop_v[:, charges], solved.drop_v[:, loads]),
            np.where(charging, solved.drawn_a[:, charges], solved.drawn_a[:, loads]),
            solved.row_a[:, loads],
            solved.starved,
            solved.row_a[:, charges] if len(apart) > 1 else None,
        )

    return at(0), at(1)


def loop_drops(
    circuits: CircuitsResult,
    flow: Flow,
    limits: list[tuple[float, str]],
    keys: list[str],
    row_ohm: FloatArray,
    nominal: Solved,
    least: Solved,
) -> LoopDrops:
    """The drop of each load in the mode where it loses most; of the batteries that may feed it, the worst."""
    loops = circuits.loops
    running = np.array([loop.mode_fraction for loop in loops], dtype=float) > 0
    running = running.reshape(len(loops), circuits.states)
    running[~running.any(axis=1), :1] = True
    every = np.arange(len(loops))
    mode = np.where(running, nominal.drop_v, -np.inf).argmax(axis=1) if len(loops) else every
    low = np.where(running, least.drop_v, -np.inf).argmax(axis=1) if len(loops) else every
    drop_v, low_v = nominal.drop_v[every, mode].tolist(), least.drop_v[every, low].tolist()
    drawn_a = nominal.drawn_a[every, mode].tolist()
    charging = np.array([loop.charging for loop in loops], dtype=bool)
    by_kind_a = np.stack([nominal.row_a, nominal.row_a if nominal.charging_a is None else nominal.charging_a])
    crossing_a = by_kind_a[charging[flow.loop].astype(np.intp), flow.row, mode[flow.loop]]
    inside = flow.row >= flow.sections
    lost_v = np.where(inside, crossing_a * flow.share * row_ohm[flow.row], 0.0)
    inside_v = np.bincount(flow.loop, lost_v, minlength=len(loops)).tolist()
    cells, loop_at, share = flow.through_wires()
    signed_a = (by_kind_a[charging[loop_at].astype(np.intp), cells, mode[loop_at]] * np.sign(share)).tolist()
    counted, rows = np.abs(share).tolist(), cells.tolist()
    drops: dict[str, LoopDrop] = {}
    currents_a: dict[str, list[float]] = {}
    parts: dict[str, list[float]] = {}
    whole, first = np.unique(loop_at, return_index=True)
    for n, start, end in zip(whole.tolist(), first.tolist(), [*first[1:].tolist(), len(rows)], strict=False):
        loop, drop = loops[n], drop_v[n]
        before = drops.get(loop.load)
        if before is not None and before.drop_v >= drop:
            continue  # another battery feeds it over a longer way
        currents_a[loop.load] = signed_a[start:end]
        parts[loop.load] = counted[start:end]
        limit_v, source = limits[n]
        drops[loop.load] = LoopDrop(
            loop.load,
            round(drop, 6),
            round(drop / loop.supply_v * 100, 4),
            limit_v,
            source,
            tuple([keys[i] for i in rows[start:end]]),
            round(drawn_a[n], 6),
            round(loop.supply_v - drop, 4),
            round(loop.least_supply_v - low_v[n], 4),
            loop.supply_v,
            round(inside_v[n], 6),
            round(limit_v / loop.supply_v * 100, 4),
        )
    return LoopDrops(drops, currents_a, parts)


def drop_ratios(
    flow: Flow, limits: list[tuple[float, str]], solved: Solved, ohm: FloatArray, chosen: IntArray
) -> tuple[FloatArray, IntArray]:
    """Worst drop over limit with each wire at each candidate (others as chosen), and its loop.

    ``ohm`` (n, k) is each candidate with its terminations. Every loop is taken in the mode it loses most.
    """
    n, width = ohm.shape
    ratio = np.zeros((n, width))
    worst = np.full(n, -1, dtype=np.intp)
    row, loop, share = flow.through_wires()
    if not len(row):
        return ratio, worst
    limit = np.array([v for v, _ in limits], dtype=float)
    mode = solved.drop_v.argmax(axis=1)
    drop = solved.drop_v[np.arange(len(mode)), mode]
    current = np.maximum(solved.row_a[row, mode[loop]] * share, 0.0)
    change = (ohm[row] - ohm[row, chosen[row]][:, None]) * current[:, None]
    np.maximum.at(ratio, row, (drop[loop][:, None] + change) / limit[loop][:, None])
    order = np.argsort(drop[loop] / limit[loop], kind="stable")
    worst[row[order]] = loop[order]
    return ratio, worst
