"""What every load gets: drops solved at a supply voltage, each load by its own kind.

Resistive loads draw less at low volts, constant power draws more; currents and volts settle
together. All modes are solved at once.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from inkthread.core.circuits import Loop
from inkthread.core.physics.conductor import FloatArray
from inkthread.core.route import Flow

_TURNS = 80
_SETTLED_V = 1e-7


@dataclass(frozen=True, slots=True)
class Solved:
    """Settled state at one supply. Shapes (loops, modes) and (sections, modes)."""

    drop_v: FloatArray
    drawn_a: FloatArray
    section_a: FloatArray
    starved: tuple[int, ...]
    """Loops whose constant power asks for more than the wires can bring: the supply collapses."""


def solve(
    loops: list[Loop],
    flow: Flow,
    section_ohm: FloatArray,
    path_rows: list[tuple[list[int], float]],
    supply_v: FloatArray,
    series_ohm: FloatArray,
    modes: int,
) -> Solved:
    """Currents and drops. ``supply_v`` (loops,); ``path_rows`` lists, for every resistance inside a
    device, the loops that cross it and its ohms; ``series_ohm`` (loops,) is the structure's.
    """
    shares = np.array([x.shares for x in loops], dtype=float).reshape(len(loops), modes)
    rated = np.array([x.rated_v for x in loops], dtype=float)
    stated = np.array([x.current_a for x in loops], dtype=float)
    kinds = np.array([x.kind for x in loops])
    volts = np.repeat(supply_v[:, None], shares.shape[1], axis=1)
    drop = np.zeros_like(volts)
    drawn = np.zeros_like(volts)
    sections = np.zeros((flow.rows, shares.shape[1]))
    for turn in range(_TURNS):
        drawn = _drawn_a(kinds, stated, rated, volts) * shares
        sections = flow.section_currents_a(drawn)
        before = drop
        drop = flow.around_v(sections * section_ohm[:, None]) + drawn * series_ohm[:, None]
        for rows, ohm in path_rows:
            drop[rows] += ohm * drawn[rows].sum(axis=0)
        # Smaller steps late on: near collapse, volts and currents would swing for ever.
        if turn > 6:
            drop = before + (drop - before) * max(0.5 - turn / 160, 0.1)
        volts = np.maximum(supply_v[:, None] - drop, 0.0)
        if float(np.abs(drop - before).max(initial=0.0)) < _SETTLED_V:
            break
    starved = (kinds == "constant power")[:, None] & (volts < rated[:, None] / 2) & (shares > 0)
    return Solved(drop, drawn, sections, tuple(np.nonzero(starved.any(axis=1))[0].tolist()))


def _drawn_a(kinds: FloatArray, stated: FloatArray, rated: FloatArray, volts: FloatArray) -> FloatArray:
    """Current by kind at the volts a load gets; see ``circuits.load_current_a``."""
    base = np.repeat(stated[:, None], volts.shape[1], axis=1)
    resistive = base * volts / rated[:, None]
    power = base * rated[:, None] / np.maximum(volts, rated[:, None] / 2)
    return np.where(
        (kinds == "resistive")[:, None],
        resistive,
        np.where((kinds == "constant power")[:, None], power, base),
    )
