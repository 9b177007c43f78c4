"""What every load gets: drops solved at a supply voltage, each load by its own kind.

Resistive loads draw less at low volts, constant power draws more; currents and volts settle
together. All modes and supplies are solved at once.
"""

from __future__ import annotations

import numpy as np

from inkthread.core.circuits import Loop
from inkthread.core.physics.conductor import BoolArray, FloatArray, IntArray
from inkthread.core.record import record
from inkthread.core.route import Flow

_TURNS = 80
_SETTLED_V = 1e-7
"""Loads' voltages are settled when a turn moves none by more."""


@record
class Solved:
    """Settled state. Shapes (loops, columns) and (rows of the flow, columns)."""

    drop_v: FloatArray
    drawn_a: FloatArray
    row_a: FloatArray
    """In every section, then in every path and stud."""
    starved: BoolArray
    """(loops,): constant power that asks for more than the wires can bring: the supply collapses."""
    charging_a: FloatArray | None = None
    """(rows, columns) under what charges alone, where that is solved apart."""


def solve(
    loops: list[Loop],
    flow: Flow,
    row_ohm: FloatArray,
    supply_v: FloatArray,
    mode_fraction: FloatArray,
    more_a: FloatArray | float = 0.0,
    source_row: IntArray | None = None,
    source_ohm: FloatArray | None = None,
) -> Solved:
    """Currents and drops. ``supply_v`` and ``shares`` (loops, columns): a column is a mode at a supply.

    ``row_ohm`` (rows,) is the resistance of every row of the flow; ``more_a`` (loops, columns) is drawn
    whatever the volts. With ``source_row`` (loops,) the place of each loop's source and ``source_ohm``
    (sources,), what a source gives is lost in it too, for all its loads alike.
    """
    rated, stated = (
        np.array(of, dtype=float)[:, None]
        for of in ([loop.rated_v for loop in loops], [loop.current_a for loop in loops])
    )
    resistive, power = (
        np.array([loop.kind == kind for loop in loops], dtype=bool)[:, None]
        for kind in ("resistive", "constant power")
    )
    steady = stated * mode_fraction * ~(resistive | power)
    conductance = stated * mode_fraction / rated * resistive
    watts = stated * mode_fraction * rated * power
    volts = supply_v.copy()
    drop = np.zeros_like(volts)
    drawn = np.zeros_like(volts)
    rows = np.zeros((flow.rows, volts.shape[1]))
    for turn in range(_TURNS):
        # Currents by kind at the volts a load gets; see ``circuits.load_current_a``.
        drawn = steady + conductance * volts + watts / np.maximum(volts, rated / 2) + more_a
        rows = flow.currents_a(drawn)
        before = drop
        drop = flow.around_v(rows * row_ohm[:, None])
        if source_row is not None and source_ohm is not None:
            given = np.zeros((len(source_ohm), drawn.shape[1]))
            np.add.at(given, source_row, drawn)
            drop += (given * source_ohm[:, None])[source_row]
        # Smaller steps late on: near collapse, volts and currents would swing for ever.
        if turn > 6:
            drop = before + (drop - before) * max(0.5 - turn / 160, 0.1)
        volts = np.maximum(supply_v - drop, 0.0)
        if float(np.abs(drop - before).max(initial=0.0)) < _SETTLED_V:
            break
    starved = np.asarray((power & (volts < rated / 2) & (mode_fraction > 0)).any(axis=1))
    return Solved(drop, drawn, rows, starved)
