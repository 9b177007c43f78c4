"""What the drops of all loops are worked out from: limits, lengths, resistances."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from inkthread.core.brief import BriefResult, drop_limit_v, served_as
from inkthread.core.catalogue import Catalogue
from inkthread.core.circuits import (
    CircuitsResult,
    Loop,
    load_current_a,
)
from inkthread.core.document.only import only
from inkthread.core.document.pin_ref import device_of
from inkthread.core.document.types import Document
from inkthread.core.document.values import PROTECTIVE
from inkthread.core.memo import Memo
from inkthread.core.physics.conductor import FloatArray, IntArray
from inkthread.core.physics.twist import pitch_diameter_mm, twist_factor
from inkthread.core.route import STUD, Flow, Section
from inkthread.core.tolerances import FAR_BELOW
from inkthread.core.wire.drop import DropProblem, EndToEnd
from inkthread.core.wire.families import CandidateTable, Chains

WIRES_SHARE = 0.25
"""Of its drop limit, what is always left to a loop's wires, however much their ends lose (house rule)."""
_BY_HAND: dict[str, int] = {"pair": 2, "three": 3}


def twisted_by_hand(document: Document) -> dict[str, str]:
    """Circuits whose wires are twisted with others, each with its group: pairs and threes."""
    return {
        circuit: group_id
        for group_id, group in document.circuits.groups.items()
        if group.kind in _BY_HAND and len(group.members) == _BY_HAND[group.kind]
        for circuit in group.members
    }


def path_ohms(
    document: Document, brief: BriefResult, circuits: CircuitsResult, memo: Memo
) -> dict[str, float]:
    """Resistance in ohm inside devices, by ``device.path``: as stated, else the fuse's own, else none.

    Whether fuses count is a house rule; what the builder stated of one always does.
    """
    stated, protective = memo.get(_stated_ohms, only(document, "circuits.devices"))
    ohms = dict(stated)
    if brief.value("fuse_drop") > 0:
        for key in protective:
            if (part := circuits.fuses[key].part) is not None:
                ohms[key] = part.resistance_mohm / 1000
    return ohms


def _stated_ohms(document: Document) -> tuple[dict[str, float], tuple[str, ...]]:
    """What the builder stated, and the fuses and breakers of which nothing is stated."""
    stated: dict[str, float] = {}
    protective: list[str] = []
    for device_id, device in document.circuits.devices.items():
        for path_id, inner in device.paths.items():
            if inner.resistance_mohm is not None:
                stated[f"{device_id}.{path_id}"] = inner.resistance_mohm / 1000
            elif inner.kind in PROTECTIVE:
                protective.append(f"{device_id}.{path_id}")
    return stated, tuple(protective)


def inner_ohms(document: Document, flow: Flow, path_ohm: dict[str, float]) -> FloatArray:
    """Resistance in ohm of every inner row of the flow: paths inside devices, studs into the structure."""
    devices = document.circuits.devices
    ohms = np.zeros(len(flow.inner))
    for i, name in enumerate(flow.inner):
        if name.startswith(STUD):
            device = device_of(name.removeprefix(STUD))
            ohms[i] = devices[device].structure_mohm / 1000
        else:
            ohms[i] = path_ohm.get(name, 0.0)
    return ohms


def loop_limit(document: Document, catalogue: Catalogue, brief: BriefResult, loop: Loop) -> tuple[float, str]:
    """Allowed drop in V around a loop, and its source. A regulator's input is a continuous load."""
    load = document.circuits.loads.get(loop.load)
    return drop_limit_v(brief, document, catalogue, served_as(document, catalogue, load), loop.supply_v)


def twist_factors(
    document: Document, catalogue: Catalogue, table: CandidateTable, sections: list[Section], chains: Chains
) -> FloatArray:
    """How much longer each candidate is for being twisted by hand with others of its group. (n, k).

    Groups of two and three in single wire; in a cable the cores are twisted as it is made, and its data
    count that.
    """
    factors = np.ones(chains.index.shape)
    wound = twisted_by_hand(document)
    for i, section in enumerate(sections):
        if section.circuit not in wound:
            continue
        group = document.circuits.groups[wound[section.circuit]]
        if table.families[int(table.family_of[chains.index[i, 0]])].cores > 1:
            continue
        wires = _BY_HAND[group.kind]
        for k, candidate in enumerate(chains.index[i].tolist()):
            lay = group.lay_mm or catalogue.twists.lay_mm(float(table.area_mm2[candidate]), wires)
            pitch = pitch_diameter_mm(float(table.outside_mm[candidate]), wires)
            factors[i, k] = twist_factor(pitch, lay)
    return factors


@dataclass(slots=True)
class DropMaker:
    """Makes drop problems: the loops that are whole, their limits, volts by resistance."""

    rows: list[IntArray]
    """The sections of every whole loop, once for each mode that binds."""
    limits_v: FloatArray
    """Left for the wires, devices and structure taken off."""
    carried_a: FloatArray
    """By wire, in the mode and kind of most, at the working supply; constant power at the limit."""
    length_m: FloatArray
    """(n, k): slack and twist with it."""
    termination_ohm: FloatArray
    copper: FloatArray
    parts: list[FloatArray] | None
    """Of ``carried_a``, what counts in each loop: modes, loads and charging are reckoned apart."""
    end_to_end: EndToEnd

    def problem(self, resistance_ohm_per_m: FloatArray) -> DropProblem:
        """The problem at resistances (n, k) in ohm per metre."""
        volts = self.carried_a[:, None] * (
            resistance_ohm_per_m * self.length_m + self.termination_ohm[:, None]
        )
        zero = np.zeros(len(self.carried_a), dtype=np.intp)
        return DropProblem(
            volts, self.copper, zero, zero, self.rows, self.limits_v, self.parts, self.end_to_end
        )


def make_drops(
    circuits: CircuitsResult,
    flow: Flow,
    limits: list[tuple[float, str]],
    inner_ohm: FloatArray,
    termination_ohm: FloatArray,
    length_m: FloatArray,
    spent: FloatArray,
) -> DropMaker:
    """Gather the loops; ``spent`` (n, k) is what each candidate costs per metre."""
    loops = circuits.loops
    # The most each can draw within its limit: resistive loads that lie nearer get nearly all volts.
    at_limit = np.array(
        [
            [
                max(
                    load_current_a(loop, loop.supply_v),
                    load_current_a(loop, max(loop.supply_v - limits[n][0], loop.supply_v / 2)),
                )
                * s
                for s in loop.mode_fraction
            ]
            for n, loop in enumerate(loops)
        ]
    ).reshape(len(loops), circuits.states)
    # What charges helps the loads: neither is reckoned on top of the other.
    charging = np.array([loop.charging for loop in loops], dtype=bool)
    kinds = [flow.currents_a(at_limit * (charging == which)[:, None]) for which in (False, True)]
    carried = np.max([np.abs(a[: flow.sections]).max(axis=1, initial=0.0) for a in kinds], axis=0)
    inside = np.zeros((len(loops), circuits.states))
    for which, rows_a in zip((False, True), kinds, strict=True):
        volts = np.concatenate(
            [np.zeros_like(rows_a[: flow.sections]), rows_a[flow.sections :] * inner_ohm[:, None]]
        )
        inside = np.where((charging == which)[:, None], flow.around_v(volts), inside)
    # What contacts and splices lose is theirs to mend: copper is asked for the rest, and never for less
    # than a quarter of the limit.
    ends_v = carried * termination_ohm
    of_kind = np.stack([a[: flow.sections] / np.maximum(carried, FAR_BELOW)[:, None] for a in kinds])
    cells, loop_at, share = flow.through_wires()
    whole, first = np.unique(loop_at, return_index=True)
    in_mode = np.maximum(of_kind[charging[loop_at].astype(np.intp), cells] * share[:, None], 0.0)
    limit_v = np.array([v for v, _ in limits], dtype=float)[whole, None]
    at_ends_v = np.add.reduceat(ends_v[cells, None] * in_mode, first) if len(whole) else in_mode
    room_v = np.maximum(limit_v - inside[whole], at_ends_v + limit_v * WIRES_SHARE)
    last = [*first[1:].tolist(), len(cells)][: len(first)]
    crossed: list[IntArray] = []
    parts: list[FloatArray] = []
    left: list[float] = []
    for n, start, end, rooms in zip(whole.tolist(), first.tolist(), last, room_v, strict=True):
        modes = in_mode[start:end]
        for m in _modes_that_bind(modes, rooms, loops[n].mode_fraction):
            crossed.append(cells[start:end])
            parts.append(modes[:, m])
            left.append(float(rooms[m]))
    # Every wire's whole drop counts in each of its loops, unless modes, loads and charging or ways side by
    # side part it.
    plain = not charging.any() and flow.rounds is None and circuits.states == 1
    counted = None if plain else parts
    return DropMaker(
        crossed,
        np.array(left, dtype=float),
        carried,
        length_m,
        termination_ohm,
        spent * (length_m * 1000),
        counted,
        EndToEnd.of(crossed, counted),
    )


def _modes_that_bind(in_mode: FloatArray, rooms: FloatArray, mode_fraction: Sequence[float]) -> list[int]:
    """The modes of a loop that no other of its modes covers: more in every wire, and no more room."""
    on = [m for m, share in enumerate(mode_fraction) if share > 0]
    if len(on) < 2:
        return on
    most = in_mode.sum(axis=0).tolist()
    order = sorted(on, key=lambda m: (-most[m], m))
    fullest = order[0]
    covered = (in_mode[:, on] <= in_mode[:, fullest, None]).all(axis=0) & (rooms[fullest] <= rooms[on])
    if covered.all():
        return [fullest]
    kept: list[int] = []
    for m in order:
        if not any(rooms[o] <= rooms[m] and (in_mode[:, o] >= in_mode[:, m]).all() for o in kept):
            kept.append(m)
    return kept
