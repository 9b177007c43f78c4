"""What would be if: the same harness evaluated with one thing otherwise, side by side."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable
from dataclasses import dataclass, replace
from typing import get_args

import numpy as np

from inkthread.core.brief import brief_room
from inkthread.core.circuits import Loop, circuits_room, load_current_a
from inkthread.core.document.choices import FixedWire
from inkthread.core.document.only import only
from inkthread.core.document.types import Document
from inkthread.core.document.values import Threading
from inkthread.core.evaluate import otherwise
from inkthread.core.evaluation import Evaluation
from inkthread.core.findings import FindingBook
from inkthread.core.measures import format_temperature
from inkthread.core.physics.bundle import scale_to_limit
from inkthread.core.physics.conductor import COPPER_ALPHA_20C_PER_K
from inkthread.core.tolerances import HOLDS
from inkthread.core.wire import LIMITS, size_and_judge
from inkthread.core.wire.bundle_ampacity import bundle_limits_c, bundles_of
from inkthread.core.workings import Workings

Tell = Callable[[float], None]
"""Hears how far a study is, from 0 to 1."""


def _nobody(_share: float) -> None:
    pass


THREADINGS: tuple[Threading, ...] = get_args(Threading)
_STEPS = 12
"""Halvings when a change is sought: the answer is good to a four-thousandth of what was searched."""
_MOST_MORE_A = 500.0
"""More current than this behind a fuse is not sought."""
_MOST_SCALE = 19.0
"""Times what a branch carries; beyond that nobody asks."""


@dataclass(frozen=True, slots=True)
class ThreadingCost:
    """One way of joining a circuit. Length and mass are of that circuit's own wires and joints."""

    threading: Threading
    chosen: bool
    wires: int
    splices: int
    metres: float
    grams: float
    cost: float
    """Of the whole harness, less that of the way chosen now."""
    worst_drop_percent: float | None
    """Of the loops that cross the circuit."""
    worst_drop_load: str | None
    stops: int
    """More or fewer than now."""
    fixes: int


def compare_threading(now: Workings, circuit_id: str, tell: Tell = _nobody) -> tuple[ThreadingCost, ...]:
    """Every way of threading one circuit. Raises KeyError where there is no such circuit."""
    circuit = now.stated.circuits.circuits[circuit_id]
    chosen = circuit.threading or "cascade"
    counts_now = _counts(now.evaluation)
    costs = []
    for n, threading in enumerate(THREADINGS):
        tell(n / len(THREADINGS))
        other = now
        if threading != chosen:
            circuits = {
                **now.stated.circuits.circuits,
                circuit_id: replace(circuit, threading=threading),
            }
            document = replace(now.stated, circuits=replace(now.stated.circuits, circuits=circuits))
            other = otherwise(now, document)
        e = other.evaluation
        cuts = [c for c in e.cut.cuts if e.wire.wires[c.wire].circuit == circuit_id]
        splices = [s for s, splice in e.route.splices.items() if splice.circuit == circuit_id]
        joints_g = sum(other.ends.splice_sizes[s].mass_g for s in splices if s in other.ends.splice_sizes)
        worst = max(
            (
                loop
                for loop in e.wire.loops.values()
                if any(e.wire.wires[w].circuit == circuit_id for w in loop.wires)
            ),
            key=lambda loop: loop.drop_percent,
            default=None,
        )
        stops, fixes = _counts(e)
        costs.append(
            ThreadingCost(
                threading,
                threading == chosen,
                len(cuts),
                len(splices),
                round(sum(c.cut_mm for c in cuts) / 1000, 3),
                round(sum(c.mass_g for c in cuts) + joints_g, 2),
                round(e.tally.cost - now.evaluation.tally.cost, 2),
                worst.drop_percent if worst else None,
                worst.load if worst else None,
                stops - counts_now[0],
                fixes - counts_now[1],
            )
        )
    return tuple(costs)


def _counts(evaluation: Evaluation) -> tuple[int, int]:
    return evaluation.tally.stops, evaluation.tally.fixes


@dataclass(frozen=True, slots=True)
class FutureCost:
    """What the conductors for a future need come to, laid against left out."""

    circuits: tuple[str, ...]
    wires: int
    metres: float
    grams: float
    cost: float


def future_cost(now: Workings) -> FutureCost:
    """The harness with all its optional circuits that are marked to be laid, less the one without."""
    optional = tuple(c for c, circuit in now.stated.circuits.circuits.items() if circuit.optional)
    if not optional:
        return FutureCost((), 0, 0.0, 0.0, 0.0)
    other = replace(
        now.stated, circuits=replace(now.stated.circuits, future_in=not now.stated.circuits.future_in)
    )
    then = otherwise(now, other).evaluation.tally
    today = now.evaluation.tally
    laid, bare = (today, then) if now.stated.circuits.future_in else (then, today)
    return FutureCost(
        optional,
        laid.wires - bare.wires,
        round(laid.metres - bare.metres, 3),
        round(laid.grams - bare.grams, 2),
        round(laid.cost - bare.cost, 2),
    )


@dataclass(frozen=True, slots=True)
class FamilyCost:
    """The whole harness in one wire family."""

    family: str
    name: str
    chosen: bool
    grams: float
    cost: float
    metres: float
    worst_drop_percent: float | None
    hottest_c: float | None
    largest_bundle_mm: float
    wire_parts: int
    """Different wires to buy: family, gauge and colour."""
    stops: int
    fixes: int


def compare_families(now: Workings, codes: Iterable[str], tell: Tell = _nobody) -> tuple[FamilyCost, ...]:
    """The harness in each family instead of its own; circuits and wires with a family of their own keep
    it. Unknown codes are passed over.
    """
    own = now.brief.family
    costs = []
    wanted = list(dict.fromkeys([own, *codes]))
    for n, code in enumerate(wanted):
        tell(n / len(wanted))
        family = now.wire.families.get(code)
        if family is None:
            continue
        other = now
        if code != own:
            wire = replace(now.stated.wire, family=code, also={})
            other = otherwise(now, replace(now.stated, wire=wire))
        e = other.evaluation
        costs.append(
            FamilyCost(
                code,
                family.name,
                code == own,
                e.tally.grams,
                e.tally.cost,
                e.tally.metres,
                e.tally.worst_drop_percent,
                e.tally.hottest_c,
                max((b.loose_mm for b in e.dress.bundles.values()), default=0.0),
                sum(line.group == "wire" for line in e.parts.lines),
                e.tally.stops,
                e.tally.fixes,
            )
        )
    return tuple(costs)


@dataclass(frozen=True, slots=True)
class Headroom:
    """How many amperes more until something must change, and what that is."""

    place: str
    """``source``, ``fuse`` or ``branch``."""
    id: str
    name: str
    carries_a: float
    more_a: float | None
    """None where nothing changes within 500 A, or nothing is known that would."""
    at: str
    """Where the amperes are thought added."""
    changes: tuple[str, ...]


def headroom(now: Workings, tell: Tell = _nobody) -> tuple[Headroom, ...]:
    """Headroom of every source, fuse and branch.

    For a fuse, its largest load is raised and the harness, wired as it is, reckoned anew until a rating
    changes or a wire passes a limit. For a source, what it can give is set against what it is asked for.
    For a branch, all currents in it are raised together, its wires as they are, until one reaches its
    temperature.
    """
    return (*_sources(now), *_fuses(now, tell), *_branches(now))


def _sources(now: Workings) -> list[Headroom]:
    rows = []
    for pin, source in now.circuits.sources.items():
        name = now.stated.circuits.devices[source.device].name
        demands = [_demand_a(now, pin, m) for m in range(len(now.circuits.modes))]
        more = None
        if source.limit_a is None:
            changes: tuple[str, ...] = ()
        else:
            given = [
                (source.limit_a * s, d) for s, d in zip(source.mode_fraction, demands, strict=False) if s > 0
            ]
            more = max(min((g - d for g, d in given), default=0.0), 0.0)
            changes = (f"It gives {source.limit_a:g} A at most; beyond that batteries make up the rest",)
        rows.append(
            Headroom(
                "source",
                pin,
                f"{source.device} {name}".strip(),
                round(max(demands, default=0.0), 3),
                None if more is None else round(more, 2),
                "anywhere it feeds, on average",
                changes,
            )
        )
    return rows


def _demand_a(now: Workings, pin: str, mode: int) -> float:
    """A that the loads a source can drive draw on average in a mode."""
    spread = now.circuits.sources[pin].spread
    return sum(
        load_current_a(loop, loop.supply_v) * loop.mode_fraction[mode] * loop.duty
        for loop in now.circuits.loops
        if not loop.charging and loop.alternative == 0 and any(c.circuit in spread for c in loop.feed)
    )


def _largest_behind(now: Workings, fuse: str) -> Loop | None:
    behind = [
        loop
        for loop in now.circuits.loops
        if fuse in loop.fuses
        and not loop.charging
        and loop.load in now.stated.circuits.loads
        and loop.current_a > 0
    ]
    return max(behind, key=lambda loop: (loop.current_a, loop.load), default=None)


def _with_more(document: Document, load_id: str, more_a: float) -> Document:
    load = document.circuits.loads[load_id]
    loads = {**document.circuits.loads, load_id: replace(load, current_a=load.current_a + more_a)}
    return replace(document, circuits=replace(document.circuits, loads=loads))


def _fuses(now: Workings, tell: Tell) -> list[Headroom]:
    rows = []
    fixed = _as_made(now)
    for n, (key, fuse) in enumerate(now.circuits.fuses.items()):
        tell(n / len(now.circuits.fuses))
        loop = _largest_behind(now, key)
        if loop is None:
            continue
        changes: tuple[str, ...] = ()
        low, high = 0.0, 0.0
        step = max(loop.current_a * 0.1, 0.05)
        while not changes and high < _MOST_MORE_A:
            low, high = high, high + step
            step *= 2
            changes = _changes(now, fixed, loop.load, high)
        if changes:
            for _ in range(_STEPS):
                if high - low <= max(0.005 * high, 0.005):
                    break
                middle = (low + high) / 2
                then = _changes(now, fixed, loop.load, middle)
                if then:
                    high, changes = middle, then
                else:
                    low = middle
        rows.append(
            Headroom(
                "fuse",
                key,
                _fuse_name(now, key),
                round(fuse.load_a, 3),
                math.floor(low * 100) / 100 if changes else None,
                f"{loop.device} {now.stated.circuits.devices[loop.device].name}".strip(),
                changes,
            )
        )
    return rows


def _fuse_name(now: Workings, key: str) -> str:
    """``F1.o3 fuse block`` where a device holds several, else ``F1 kill fuse``."""
    fuse = now.circuits.fuses[key]
    several = sum(f.device == fuse.device for f in now.circuits.fuses.values()) > 1
    path = now.stated.circuits.devices[fuse.device].paths[fuse.path]
    return f"{fuse.device}{'.' + path.to_pin if several else ''} {fuse.name}".strip()


def _as_made(now: Workings) -> Document:
    """The document with every wire fixed as it is now."""
    fixed = dict(now.stated.wire.fixed)
    for key, wire in now.evaluation.wire.wires.items():
        before = fixed.get(key) or FixedWire(0.0, "as made")
        fixed[key] = replace(before, gauge=wire.gauge, family=wire.family)
    return replace(now.stated, wire=replace(now.stated.wire, fixed=fixed))


def _changes(now: Workings, fixed: Document, load_id: str, more_a: float) -> tuple[str, ...]:
    """What must change when a load draws so much more: ratings, and wires that pass a limit."""
    document = _with_more(fixed, load_id, more_a)
    book = FindingBook(now.catalogue.checks)
    memo = now.context.memo
    brief = memo.get(brief_room, only(document, "route", "wire.family"), now.catalogue)
    context = replace(now.context, document=document, brief=brief)
    circuits = circuits_room(context, book)
    wire, _ = size_and_judge(context, circuits, now.route, book)
    changes = [
        f"{_fuse_name(now, k)} from {now.circuits.fuses[k].rating_a:g} to {f.rating_a:g} A"
        for k, f in circuits.fuses.items()
        if f.rating_a != now.circuits.fuses[k].rating_a
    ]
    over: dict[str, list[str]] = {}
    for key, after in wire.wires.items():
        before = now.evaluation.wire.wires[key]
        for n, limit in enumerate(LIMITS):
            if after.limits[n] > HOLDS and before.limits[n] <= HOLDS:
                over.setdefault(limit, []).append(after.label)
    for limit, labels in over.items():
        more = f" and {len(labels) - 2} more" if len(labels) > 2 else ""
        changes.append(f"{', '.join(labels[:2])}{more}: {now.catalogue.limit_words[limit].fails}")
    return tuple(changes)


def _branches(now: Workings) -> list[Headroom]:
    wire, document = now.wire, now.stated
    units = document.brief.measures
    placement, table = wire.tables.placement, wire.tables.free.table
    if not len(placement.wire):
        return []
    row_pick = wire.tables.free.chains.index[np.arange(len(wire.tables.keys)), wire.tables.chosen][
        placement.wire
    ]
    current = wire.tables.heating_a[placement.wire]
    limit = bundle_limits_c(table, placement, row_pick, wire.tables.free.ambient_above_rating)
    top = np.where(np.isfinite(limit), limit, placement.ambient_c)
    warm = 1 + COPPER_ALPHA_20C_PER_K * (top[placement.bundle] - 20)
    heat = current**2 * table.resistance_20c_ohm_per_m[row_pick] * warm
    scale = np.sqrt(scale_to_limit(bundles_of(table, placement, row_pick), heat, top))
    total = np.bincount(placement.bundle, current, minlength=len(limit))
    rows: dict[str, Headroom] = {}
    for b, branch_id in enumerate(placement.branch):
        inside = np.nonzero(placement.bundle == b)[0]
        if branch_id is None or not len(inside) or total[b] <= 0:
            continue
        branch = document.route.branches[branch_id]
        points = document.route.points
        name = " to ".join(points[p].name or p for p in (branch.from_point, branch.to_point))
        hottest = inside[int(np.argmax(heat[inside]))]
        label = wire.wires[wire.tables.keys[int(placement.wire[hottest])]].label
        more = float(total[b] * (scale[b] - 1))
        stands = format_temperature(float(limit[b]), units)
        before = rows.get(branch_id)
        if before is not None and before.more_a is not None and more >= before.more_a:
            continue  # another stretch of the branch has less to spare
        rows[branch_id] = Headroom(
            "branch",
            branch_id,
            name,
            round(float(total[b]), 3),
            None if scale[b] >= _MOST_SCALE else round(max(more, 0.0), 2),
            f"all {len(inside)} of its wires alike" if len(inside) > 1 else "its one wire",
            (f"The insulation's {stands} is reached, most heat in {label}",),
        )
    return list(rows.values())
