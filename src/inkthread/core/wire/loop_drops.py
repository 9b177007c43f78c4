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
    drops: dict[str, LoopDrop] = {}
    currents_a: dict[str, list[float]] = {}
    parts: dict[str, list[float]] = {}
    for n, loop in enumerate(circuits.loops):
        if not flow.whole[n]:
            continue
        rows, share = flow.of_loop(n)
        wires = rows < flow.sections
        if not wires.any():
            continue
        running = [m for m, s in enumerate(loop.mode_fraction) if s > 0] or [0]
        m = max(running, key=lambda m: float(nominal.drop_v[n, m]))
        low = max(running, key=lambda m: float(least.drop_v[n, m]))
        drop = float(nominal.drop_v[n, m])
        before = drops.get(loop.load)
        if before is not None and before.drop_v >= drop:
            continue  # another battery feeds it over a longer way
        carried = nominal.row_a
        if loop.charging and nominal.charging_a is not None:
            carried = nominal.charging_a
        inside = float((carried[rows, m] * share * row_ohm[rows])[~wires].sum())
        currents_a[loop.load] = (carried[rows[wires], m] * np.sign(share[wires])).tolist()
        parts[loop.load] = np.abs(share[wires]).tolist()
        drops[loop.load] = LoopDrop(
            loop.load,
            round(drop, 6),
            round(drop / loop.supply_v * 100, 4),
            limits[n][0],
            limits[n][1],
            tuple(keys[i] for i in rows[wires].tolist()),
            round(float(nominal.drawn_a[n, m]), 6),
            round(loop.supply_v - drop, 4),
            round(loop.least_supply_v - float(least.drop_v[n, low]), 4),
            loop.supply_v,
            round(inside, 6),
            round(limits[n][0] / loop.supply_v * 100, 4),
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
