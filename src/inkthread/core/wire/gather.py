"""What the wire room needs from the rooms before it, as arrays over the wires."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace

import numpy as np

from inkthread.core.brief import BriefResult, drop_limit_v, served_as
from inkthread.core.catalogue import Catalogue, WireFamily
from inkthread.core.circuits import (
    CircuitsResult,
    Loop,
    SourceFacts,
    driven_otherwise,
    load_current_a,
    most_current_a,
    never_clears,
)
from inkthread.core.document.types import Document
from inkthread.core.document.values import PROTECTIVE
from inkthread.core.physics.conductor import COPPER_ALPHA_20C_PER_K, BoolArray, FloatArray, IntArray
from inkthread.core.physics.heat import HeatCurves
from inkthread.core.physics.short_time import heat_capacity_j_per_m_k, settled_share
from inkthread.core.physics.twist import pitch_diameter_mm, twist_factor
from inkthread.core.route import STUD, Flow, RouteResult, Section
from inkthread.core.wire.bundle_ampacity import alone_c
from inkthread.core.wire.drop import DropProblem
from inkthread.core.wire.families import CandidateTable, Chains, strength_areas_mm2
from inkthread.core.wire.limits import OVERLOAD_LONG, EndFit, end_fit
from inkthread.core.wire.placement import WirePlacement

WIRES_SHARE = 0.25
"""Of its drop limit, what is always left to a loop's wires, however much their ends lose (house rule)."""
CORE_SHARE = 0.6
"""A core held in a cable may have this share of the least copper (24 AWG where 22 is the least)."""


@dataclass(frozen=True, slots=True)
class ProtectionOn:
    """What protects each wire, in A. (n,)."""

    single_a: FloatArray
    """Rating of the one fuse that protects it, or what the protection behind it lets through."""
    sum_a: FloatArray
    """Sum of the ratings of those that feed a shared return."""
    ahead: BoolArray
    """Whether it lies ahead of the first protection: ``single_a`` is then of what it feeds."""


def protection_on(
    document: Document,
    catalogue: Catalogue,
    circuits: CircuitsResult,
    route: RouteResult,
    sections: list[Section],
) -> ProtectionOn:
    """What protects each wire.

    Where no fuse can clear what a supply is limited to, that limit stands in for the rating. A wire
    ahead of the first protection is kept from overload only by what comes after it: it must stand the
    ratings behind it that can run together, or the source's limit.
    """
    single = np.zeros(len(sections))
    held: dict[str, float] = {}
    for key, fuse in circuits.fuses.items():
        source = circuits.sources.get(fuse.source or "")
        held[key] = fuse.rating_a
        if source is None or source.limit_a is None or not never_clears(catalogue, fuse, source):
            continue
        if not driven_otherwise(document, circuits, fuse):
            held[key] = source.limit_a / OVERLOAD_LONG
    limited = {
        c: rating
        for s in circuits.sources.values()
        if (rating := _stands_for_fuse_a(s)) is not None
        for c, fuse in s.spread.items()
        if fuse is None
    }
    feeding: set[int] = set()
    for i, s in enumerate(sections):
        fuse_key = circuits.circuits[s.circuit].fuse
        if fuse_key is not None:
            single[i] = held[fuse_key]
            feeding.add(i)
        elif s.circuit in limited and circuits.circuits[s.circuit].role != "ground":
            single[i] = limited[s.circuit]
            feeding.add(i)
    shared: dict[int, set[str]] = {}
    behind: dict[int, list[int]] = {}
    back_of: list[set[str]] = [{c.circuit for c in loop.back} for loop in circuits.loops]
    for n, i in zip(route.flow.loop.tolist(), route.flow.row.tolist(), strict=True):
        loop = circuits.loops[n]
        if i >= len(sections) or i in feeding:
            continue
        if sections[i].circuit in back_of[n]:
            if loop.fuses:
                shared.setdefault(i, set()).add(loop.fuses[-1])
            elif circuits.sources[loop.source].fuse_a is not None:
                held[loop.source] = circuits.sources[loop.source].fuse_a or 0.0
                shared.setdefault(i, set()).add(loop.source)
        elif not loop.charging:
            behind.setdefault(i, []).append(n)
    ahead = np.zeros(len(sections), dtype=bool)
    for i, loops in behind.items():
        through = _lets_through_a(circuits, [circuits.loops[n] for n in loops], held)
        limit = circuits.sources[circuits.loops[loops[0]].source].limit_a
        if through > 0:
            ahead[i] = True
            single[i] = min(through, limit / OVERLOAD_LONG) if limit is not None else through
    total = np.zeros(len(sections))
    for i, fuses in shared.items():
        ratings = [held[f] for f in fuses]
        if len(ratings) == 1:
            single[i] = ratings[0]
        else:
            total[i] = sum(ratings)
    return ProtectionOn(single, total, ahead)


def _stands_for_fuse_a(source: SourceFacts) -> float | None:
    """The rating in A that what a source is limited to comes to, or that of the fuse ahead of it."""
    if source.limit_a is not None and source.kind != "alternator":
        return source.limit_a / OVERLOAD_LONG
    return source.fuse_a


def _lets_through_a(circuits: CircuitsResult, loops: list[Loop], held: dict[str, float]) -> float:
    """What the first protection of each of these loops lets through together, in the mode of most.

    Loads without protection count with what they draw. Nothing where none of them is protected.
    """
    most = 0.0
    for mode in range(circuits.states):
        running = [x for x in loops if x.shares[mode] > 0]
        first = {x.fuses[0] for x in running if x.fuses}
        if first:
            bare = sum(most_current_a(x) * x.shares[mode] for x in running if not x.fuses)
            most = max(most, sum(held[f] for f in first) + bare / OVERLOAD_LONG)
    return most


def heating_currents_a(
    circuits: CircuitsResult, flow: Flow, drawn_a: FloatArray, table: CandidateTable, index: IntArray
) -> FloatArray:
    """Current in A that heats each wire as much as what it carries, at every candidate. (n, k).

    A load that goes on and off heats a wire by the peak of what settles: (1 - exp(-on / tau)) over
    (1 - exp(-cycle / tau)) of its steady rise, with tau the wire's own time constant. That is the mean
    where the cycle is short beside tau and all of it where it is long. Contacts and bundles are slower,
    so what holds for the wire is enough for them. Without a cycle a duty says nothing, and it counts as
    on for good.
    """
    factors = _duty_factors(circuits, table)
    if factors is None:
        steady = np.abs(flow.section_currents_a(drawn_a)).max(axis=1, initial=0.0)
        return np.broadcast_to(steady[:, None], index.shape)
    # Every size with currents of its own; those that come out alike are reckoned once.
    apart, which = np.unique(factors, axis=1, return_inverse=True)
    scaled = drawn_a[:, :, None] * np.sqrt(apart)[:, None, :]
    currents = np.abs(flow.section_currents_a(scaled.reshape(len(drawn_a), -1)))
    most = currents.reshape(len(currents), drawn_a.shape[1], apart.shape[1]).max(axis=1, initial=0.0)
    return np.asarray(np.take_along_axis(most, which.ravel()[index], axis=1))


FUSE_TIME_CONSTANT_S = 10.0
"""Of a blade fuse: it opens within ten minutes at 135 % and within seconds at 200 % (typical, no source)."""


def fuse_heating_a(circuits: CircuitsResult, flow: Flow, drawn_a: FloatArray) -> dict[str, float]:
    """The current that heats each path inside a device as much as what goes on and off in it, in A; and,
    by its pin, the fuse of the machine that a protected feed is behind.
    """
    share = np.array(
        [
            float(settled_share(x.duty, x.cycle_s, np.array([FUSE_TIME_CONSTANT_S]))[0])
            if x.duty < 1 and x.cycle_s
            else 1.0
            for x in circuits.loops
        ]
    )
    heating = drawn_a * np.sqrt(share)[:, None]
    heats = np.abs(flow.currents_a(heating)[flow.sections :])
    paths = dict(zip(flow.inner, heats.max(axis=1, initial=0.0).tolist(), strict=True))
    for pin in (s.pin for s in circuits.sources.values() if s.fuse_a is not None):
        fed = [n for n, x in enumerate(circuits.loops) if x.source == pin and not x.charging]
        paths[pin] = float(heating[fed].sum(axis=0).max(initial=0.0))
    return paths


def _duty_factors(circuits: CircuitsResult, table: CandidateTable) -> FloatArray | None:
    """Share of the steady rise that each loop's current brings in each size, (loops, s); None where all
    are on for good."""
    cycling = [n for n, x in enumerate(circuits.loops) if x.duty < 1 and x.cycle_s]
    if not cycling:
        return None
    capacity = np.array(
        [heat_capacity_j_per_m_k(x.area_mm2, x.conductor_diameter_mm, x.od_mm) for x in table.sizes]
    )
    room = table.rating_c - np.array([min((a for a, _ in table.airs), default=20.0)])
    warm = table.resistance_20c * (1 + COPPER_ALPHA_20C_PER_K * (table.rating_c - 20))
    tau = capacity * np.maximum(room, 1.0) / np.maximum(table.free_air_a.max(axis=0) ** 2 * warm, 1e-9)
    factors = np.ones((len(circuits.loops), len(table.sizes)))
    for n in cycling:
        factors[n] = settled_share(circuits.loops[n].duty, circuits.loops[n].cycle_s or 0.0, tau)
    return factors


def bending_wires(document: Document, route: RouteResult, sections: Iterable[Section]) -> list[str]:
    """Wires that bend as the machine works: in a flex zone, or at a device that moves on it."""
    zones, devices = document.brief.zones, document.circuits.devices
    flexing = {b for b, held in route.zones.items() if any(zones[z].flex for z in held)}
    return [
        s.key
        for s in sections
        if flexing.intersection(s.branches)
        or any(e.kind == "pin" and devices[e.id.partition(".")[0]].moving for e in (s.a, s.b))
    ]


def moving_wires(document: Document, route: RouteResult, sections: Iterable[Section]) -> set[str]:
    """Wires that shake or bend on their way, or end at a device that moves on the machine."""
    zones, devices = document.brief.zones, document.circuits.devices
    shaking = {b for b, held in route.zones.items() if any(zones[z].vibration or zones[z].flex for z in held)}
    return {
        s.key
        for s in sections
        if shaking.intersection(s.branches)
        or any(e.kind == "pin" and devices[e.id.partition(".")[0]].moving for e in (s.a, s.b))
    }


def strength_areas_mm2_of(
    document: Document,
    brief: BriefResult,
    route: RouteResult,
    sections: list[Section],
    table: CandidateTable,
    index: IntArray,
) -> FloatArray:
    """What every candidate counts as against the least size of its wire, in mm2. (n, k)."""
    moved = moving_wires(document, route, sections)
    still = strength_areas_mm2(table, brief.value("least_area_mm2"))
    moving = strength_areas_mm2(table, brief.value("least_area_moving_mm2"))
    if brief.value("least_area_moving_mm2") < brief.value("least_area_mm2"):
        moving = still
    moves = np.array([s.key in moved for s in sections], dtype=bool).reshape(len(sections), 1)
    return np.where(moves, moving[index], still[index])


def least_areas(
    document: Document,
    brief: BriefResult,
    route: RouteResult,
    sections: list[Section],
    families: dict[str, WireFamily],
    codes: list[tuple[str, ...]],
) -> FloatArray:
    """Least copper of every wire by practice, more where it shakes or flexes, less inside a cable."""
    still, moving = brief.value("least_area_mm2"), brief.value("least_area_moving_mm2")
    moved = moving_wires(document, route, sections)
    found = np.empty(len(sections))
    for i, s in enumerate(sections):
        least = max(still, moving) if s.key in moved else still
        found[i] = least * CORE_SHARE if families[codes[i][0]].cores > 1 else least
    return found


def contact_shares(
    document: Document,
    catalogue: Catalogue,
    route: RouteResult,
    sections: list[Section],
    heating_a: FloatArray,
) -> dict[str, float]:
    """Part of its contacts' current that each connector may carry: by loaded ways and its ambient."""
    currents: dict[str, list[float]] = {k: [] for k in document.ends.connectors}
    for s, current in zip(sections, heating_a.tolist(), strict=True):
        for end in (s.a, s.b):
            if end.connector is not None:
                currents[end.connector].append(current)
    shares: dict[str, float] = {}
    for k, c in document.ends.connectors.items():
        family, air = catalogue.connectors[c.family], route.point_airs.get(c.point or "")
        shares[k] = family.current_share(
            family.loaded_ways(currents[k]), air.ambient_c if air is not None else -273.0
        )
    return shares


def end_fits(
    document: Document,
    catalogue: Catalogue,
    table: CandidateTable,
    sections: list[Section],
    shares: dict[str, float],
) -> list[tuple[EndFit, ...]]:
    """How every candidate fits the connectors at both ends of each wire."""
    made: dict[tuple[str, str, str | None, str | None, float], EndFit] = {}
    fits: list[tuple[EndFit, ...]] = []
    for s in sections:
        pair: list[EndFit] = []
        for end in (s.a, s.b):
            if end.connector is None:
                continue
            c = document.ends.connectors[end.connector]
            fixed = document.ends.pinout[end.id].contact
            key = (c.family, c.contact_gender, c.stud, fixed, shares[end.connector])
            if key not in made:
                whole = end_fit(table.sizes, catalogue.connectors[c.family], *key[1:4])
                made[key] = replace(whole, contact_a=whole.contact_a * shares[end.connector])
            pair.append(made[key])
        fits.append(tuple(pair))
    return fits


def joint_ohms(document: Document, catalogue: Catalogue, sections: list[Section]) -> FloatArray:
    """Contact resistance in ohm at both ends of each wire; a splice counts as its smallest size."""
    splice = next(x for x in catalogue.splices if x.kind == "overlap").resistance_mohm / 1000
    by_connector = {
        k: catalogue.connectors[c.family].contact_resistance_mohm / 1000
        for k, c in document.ends.connectors.items()
    }
    return np.array(
        [sum(by_connector[e.connector] if e.connector else splice for e in (s.a, s.b)) for s in sections],
        dtype=float,
    )


def path_ohms(document: Document, brief: BriefResult, circuits: CircuitsResult) -> dict[str, float]:
    """Resistance in ohm inside devices, by ``device.path``: as stated, else the fuse's own, else none.

    Whether fuses count is a house rule; what the builder stated of one always does.
    """
    fuses_count = brief.value("fuse_drop") > 0
    found: dict[str, float] = {}
    for device_id, device in document.circuits.devices.items():
        for path_id, inner in device.paths.items():
            key = f"{device_id}.{path_id}"
            if inner.resistance_mohm is not None:
                found[key] = inner.resistance_mohm / 1000
            elif fuses_count and inner.kind in PROTECTIVE and (part := circuits.fuses[key].part) is not None:
                found[key] = part.resistance_mohm / 1000
    return found


def inner_ohms(document: Document, flow: Flow, path_ohm: dict[str, float]) -> FloatArray:
    """Resistance in ohm of every inner row of the flow: paths inside devices, studs into the structure."""
    devices = document.circuits.devices
    found = np.zeros(len(flow.inner))
    for i, name in enumerate(flow.inner):
        if name.startswith(STUD):
            device = name.removeprefix(STUD).partition(".")[0]
            found[i] = devices[device].structure_mohm / 1000
        else:
            found[i] = path_ohm.get(name, 0.0)
    return found


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
    wound = {
        circuit: group
        for group in document.circuits.groups.values()
        if group.kind in _BY_HAND and len(group.members) == _BY_HAND[group.kind]
        for circuit in group.members
    }
    for i, section in enumerate(sections):
        group = wound.get(section.circuit)
        if group is None or table.families[int(table.family_of[chains.index[i, 0]])].cores > 1:
            continue
        wires = _BY_HAND[group.kind]
        for k, candidate in enumerate(chains.index[i].tolist()):
            lay = group.lay_mm or catalogue.twists.lay_mm(float(table.area_mm2[candidate]), wires)
            pitch = pitch_diameter_mm(float(table.outside_mm[candidate]), wires)
            factors[i, k] = twist_factor(pitch, lay)
    return factors


_BY_HAND: dict[str, int] = {"pair": 2, "three": 3}


@dataclass(slots=True)
class DropMaker:
    """Makes drop problems: the loops that are whole, their limits, volts by resistance."""

    circuits: CircuitsResult
    loops: list[int]
    """Places of the whole loops among all, once for each mode that binds."""
    rows: list[IntArray]
    limits_v: FloatArray
    """Left for the wires, devices and structure taken off."""
    carried_a: FloatArray
    """By wire, in the mode and kind of most, at the working supply; constant power at the limit."""
    length_m: FloatArray
    """(n, k): slack and twist with it."""
    joints: FloatArray
    copper: FloatArray
    parts: list[FloatArray] | None
    """Of ``carried_a``, what counts in each loop: modes, loads and charging are reckoned apart."""

    def problem(self, resistance: FloatArray) -> DropProblem:
        """The problem at resistances (n, k) in ohm per metre."""
        volts = self.carried_a[:, None] * (resistance * self.length_m + self.joints[:, None])
        zero = np.zeros(len(self.carried_a), dtype=np.intp)
        return DropProblem(volts, self.copper, zero, zero, self.rows, self.limits_v, self.parts)


def make_drops(
    circuits: CircuitsResult,
    flow: Flow,
    limits: list[tuple[float, str]],
    inner_ohm: FloatArray,
    joints: FloatArray,
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
                    load_current_a(x, x.supply_v),
                    load_current_a(x, max(x.supply_v - limits[n][0], x.supply_v / 2)),
                )
                * s
                for s in x.shares
            ]
            for n, x in enumerate(loops)
        ]
    ).reshape(len(loops), circuits.states)
    # What charges helps the loads: neither is reckoned on top of the other.
    charging = np.array([x.charging for x in loops], dtype=bool)
    kinds = [flow.currents_a(at_limit * (charging == which)[:, None]) for which in (False, True)]
    carried = np.max([np.abs(a[: flow.sections]).max(axis=1, initial=0.0) for a in kinds], axis=0)
    inside = np.zeros((len(loops), circuits.states))
    for which, rows_a in zip((False, True), kinds, strict=True):
        volts = np.concatenate(
            [np.zeros_like(rows_a[: flow.sections]), rows_a[flow.sections :] * inner_ohm[:, None]]
        )
        inside = np.where((charging == which)[:, None], flow.around_v(volts), inside)
    taken: list[int] = []
    crossed: list[IntArray] = []
    parts: list[FloatArray] = []
    left: list[float] = []
    # What contacts and splices lose is theirs to mend: copper is asked for the rest, and never for less
    # than a quarter of the limit.
    ends_v = carried * joints
    of_kind = [a[: flow.sections] / np.maximum(carried, 1e-12)[:, None] for a in kinds]
    for n, loop in enumerate(loops):
        rows, share = flow.of_loop(n)
        wires = rows < flow.sections
        if not flow.whole[n] or not wires.any():
            continue
        at, limit = rows[wires], limits[n][0]
        in_mode = np.maximum(of_kind[int(charging[n])][at] * share[wires][:, None], 0.0)
        rooms = np.maximum(limit - inside[n], ends_v[at] @ in_mode + limit * WIRES_SHARE)
        for m in _modes_that_bind(in_mode, rooms, loop.shares):
            taken.append(n)
            crossed.append(at)
            parts.append(in_mode[:, m])
            left.append(float(rooms[m]))
    # Every wire's whole drop counts in each of its loops, unless modes, loads and charging or ways side by
    # side part it.
    plain = not charging.any() and flow.rounds is None and circuits.states == 1
    return DropMaker(
        circuits,
        taken,
        crossed,
        np.array(left, dtype=float),
        carried,
        length_m,
        joints,
        spent * (length_m * 1000),
        None if plain else parts,
    )


def _modes_that_bind(in_mode: FloatArray, rooms: FloatArray, shares: Sequence[float]) -> list[int]:
    """The modes of a loop that no other of its modes covers: more in every wire, and no more room."""
    on = [m for m, share in enumerate(shares) if share > 0]
    kept: list[int] = []
    for m in sorted(on, key=lambda m: (-float(in_mode[:, m].sum()), m)):
        if not any(rooms[o] <= rooms[m] and (in_mode[:, o] >= in_mode[:, m]).all() for o in kept):
            kept.append(m)
    return kept


def mean_alone_c(
    curves: HeatCurves, chains: Chains, sizes: int, placement: WirePlacement, current_a: FloatArray
) -> FloatArray:
    """Temperature of every candidate by itself at its current (n, k), the mean along its way. (n, k)."""
    mean = np.zeros(chains.index.shape)
    for air in range(len(placement.airs)):
        there = np.nonzero(placement.air_share[:, air] > 0)[0]
        rows = air * sizes + chains.index[there]
        current = current_a[there]
        alone = alone_c(curves, rows.ravel(), current.ravel()).reshape(rows.shape)
        mean[there] += placement.air_share[there, air][:, None] * alone
    return mean
