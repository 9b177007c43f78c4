"""What every load gets: drops solved at a supply voltage, each load by its own kind.

Resistive loads draw less at low volts, constant power draws more; currents and volts settle
together. All modes and supplies are solved at once.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from inkthread.core.circuits import Loop
from inkthread.core.physics.conductor import BoolArray, FloatArray
from inkthread.core.route import Flow

_TURNS = 80
_SETTLED_V = 1e-7


@dataclass(frozen=True, slots=True)
class Solved:
    """Settled state. Shapes (loops, columns) and (sections, columns)."""

    drop_v: FloatArray
    drawn_a: FloatArray
    section_a: FloatArray
    starved: BoolArray
    """(loops,): constant power that asks for more than the wires can bring: the supply collapses."""
    charging_a: FloatArray | None = None
    """(sections, columns) under what charges alone, where that is solved apart."""


def solve(
    loops: list[Loop],
    flow: Flow,
    section_ohm: FloatArray,
    path_rows: list[tuple[list[int], float]],
    supply_v: FloatArray,
    shares: FloatArray,
    series_ohm: FloatArray,
) -> Solved:
    """Currents and drops. ``supply_v`` and ``shares`` (loops, columns): a column is a mode at a supply.

    ``path_rows`` lists, for every resistance inside a device, the loops that cross it and its ohms;
    ``series_ohm`` (loops,) is the structure's.
    """
    rated, stated = (
        np.array(of, dtype=float)[:, None]
        for of in ([x.rated_v for x in loops], [x.current_a for x in loops])
    )
    resistive, power = (
        np.array([x.kind == kind for x in loops], dtype=bool)[:, None]
        for kind in ("resistive", "constant power")
    )
    steady = stated * shares * ~(resistive | power)
    conductance = stated * shares / rated * resistive
    watts = stated * shares * rated * power
    volts = supply_v.copy()
    drop = np.zeros_like(volts)
    drawn = np.zeros_like(volts)
    sections = np.zeros((flow.rows, volts.shape[1]))
    for turn in range(_TURNS):
        # Currents by kind at the volts a load gets; see ``circuits.load_current_a``.
        drawn = steady + conductance * volts + watts / np.maximum(volts, rated / 2)
        sections = flow.section_currents_a(drawn)
        before = drop
        drop = flow.around_v(sections * section_ohm[:, None]) + drawn * series_ohm[:, None]
        for rows, ohm in path_rows:
            drop[rows] += ohm * drawn[rows].sum(axis=0)
        # Smaller steps late on: near collapse, volts and currents would swing for ever.
        if turn > 6:
            drop = before + (drop - before) * max(0.5 - turn / 160, 0.1)
        volts = np.maximum(supply_v - drop, 0.0)
        if float(np.abs(drop - before).max(initial=0.0)) < _SETTLED_V:
            break
    starved = np.asarray((power & (volts < rated / 2) & (shares > 0)).any(axis=1))
    return Solved(drop, drawn, sections, starved)
