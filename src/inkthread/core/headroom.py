"""Headroom: how much more every source, fuse and branch takes before something must change.

The harness stays wired as it is. What it carries is not worked out anew for every guess: of every wire only
the size that it has is judged, of the bundles only those that got warmer, and each guess is laid where the
two before it say that the first limit is met.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import replace

import numpy as np

from inkthread.core.circuits import CircuitsResult, Loop, currents_in, load_current_a
from inkthread.core.compare import Tell, unheard
from inkthread.core.context import Context
from inkthread.core.findings import FindingBook
from inkthread.core.measures import format_temperature
from inkthread.core.physics.bundle import scale_to_limit
from inkthread.core.physics.conductor import COPPER_ALPHA_20C_PER_K, BoolArray, FloatArray
from inkthread.core.record import record
from inkthread.core.tolerances import HOLDS, WHOLE
from inkthread.core.wire import LIMITS, SetOut, as_made_only, limit_ratios, ratios_at
from inkthread.core.wire.bundle_ampacity import bundle_limits_c, bundles_of
from inkthread.core.workings import Workings

_MOST_MORE_A = 500.0
"""More current than this behind a fuse is not sought."""
_MOST_SCALE = 19.0
"""Times what a branch carries; beyond that nobody asks."""
_CLOSE = 0.005
"""Between what holds and what does not lies no more than this part of it, or as many amperes."""


@record
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


def headroom(now: Workings, tell: Tell = unheard) -> tuple[Headroom, ...]:
    """Headroom of every source, fuse and branch.

    For a fuse, its largest load is raised, the harness wired as it is, until a rating changes or a wire
    passes a limit. For a source, what it can give is set against what it is asked for. For a branch, all
    currents in it are raised together, its wires as they are, until one reaches its temperature.
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


def _fuses(now: Workings, tell: Tell) -> list[Headroom]:
    rows = []
    built = _AsBuilt.of(now)
    known: dict[str, tuple[float, tuple[str, ...]]] = {}
    for n, (key, fuse) in enumerate(now.circuits.fuses.items()):
        tell(n / len(now.circuits.fuses))
        loop = _largest_behind(now, key)
        if loop is None:
            continue
        if loop.load not in known:
            known[loop.load] = _until_it_changes(built, loop)
        holds_a, changes = known[loop.load]
        rows.append(
            Headroom(
                "fuse",
                key,
                fuse.called,
                round(fuse.load_a, 3),
                math.floor(holds_a * 100 + 0.001) / 100 if changes else None,
                f"{loop.device} {now.stated.circuits.devices[loop.device].name}".strip(),
                changes,
            )
        )
    return rows


@record
class _AsBuilt:
    """The harness with every wire as it is, to be judged with more current in it."""

    now: Workings
    context: Context
    """With a memory of its own: what an edit would find kept is left as it is."""
    out: SetOut
    """Of every wire the size that it has."""
    ratios: FloatArray
    """(wires, limits): what is asked of each over what is allowed, as it is."""
    passes: BoolArray
    """(wires, limits): which of these hold."""

    @classmethod
    def of(cls, now: Workings) -> _AsBuilt:
        context = replace(now.context, document=now.unnamed, memo=now.context.memo.copy())
        tables = now.wire.tables
        ratios = ratios_at(tables.judgement, tables.drop_ratio, tables.chosen)
        return cls(now, context, as_made_only(now.wire.set_out, tables.chosen), ratios, ratios <= HOLDS)

    def with_more(self, load_id: str, more_a: float) -> Context:
        """The same where a load draws so much more."""
        document = self.context.document
        load = document.circuits.loads[load_id]
        loads = {**document.circuits.loads, load_id: replace(load, current_a=load.current_a + more_a)}
        circuits = replace(document.circuits, loads=loads)
        return replace(self.context, document=replace(document, circuits=circuits))

    def rated_otherwise(self, circuits: CircuitsResult) -> list[str]:
        """Fuses that would have another rating, in words."""
        before = self.now.circuits.fuses
        return [
            f"{before[k].called} from {before[k].rating_a:g} to {f.rating_a:g} A"
            for k, f in circuits.fuses.items()
            if f.rating_a != before[k].rating_a
        ]

    def no_longer_pass(self, beyond: BoolArray) -> list[str]:
        """Wires that pass a limit that held, in words."""
        tables, said = self.now.wire.tables, []
        for n, limit in enumerate(LIMITS):
            over = np.nonzero(beyond[:, n])[0].tolist()
            labels = [self.now.wire.wires[tables.keys[i]].label for i in over]
            if labels:
                more = f" and {len(labels) - 2} more" if len(labels) > 2 else ""
                said.append(f"{', '.join(labels[:2])}{more}: {self.now.catalogue.limit_words[limit].fails}")
        return said


class _More:
    """A load that draws more: what flows then, and how near every wire is to its limits. Each asked once."""

    def __init__(self, built: _AsBuilt, load_id: str) -> None:
        self.built, self.load_id = built, load_id
        self._flows: dict[float, tuple[Context, CircuitsResult]] = {}
        self._ratios = {0.0: built.ratios}

    def currents(self, more_a: float) -> CircuitsResult:
        """What flows, and the ratings that it asks for."""
        return self._flow(more_a)[1]

    def rated_otherwise(self, more_a: float) -> bool:
        """Whether some fuse would have another rating."""
        return bool(self.built.rated_otherwise(self.currents(more_a)))

    def ratios(self, more_a: float) -> FloatArray:
        """(wires, limits): what is asked of every wire over what is allowed."""
        if more_a not in self._ratios:
            context, circuits = self._flow(more_a)
            self._ratios[more_a] = limit_ratios(context, circuits, self.built.now.route, self.built.out)
        return self._ratios[more_a]

    def beyond(self, more_a: float) -> BoolArray:
        """(wires, limits): what held and holds no longer."""
        return np.asarray((self.ratios(more_a) > HOLDS) & self.built.passes)

    def _flow(self, more_a: float) -> tuple[Context, CircuitsResult]:
        if more_a not in self._flows:
            context = self.built.with_more(self.load_id, more_a)
            self._flows[more_a] = context, currents_in(context, FindingBook(self.built.now.catalogue.checks))
        return self._flows[more_a]


def _until_it_changes(built: _AsBuilt, loop: Loop) -> tuple[float, tuple[str, ...]]:
    """How much more a load may draw, in A, and what changes then; nothing where nothing does within 500 A."""
    more = _More(built, loop.load)
    step = max(loop.current_a * 0.1, 0.05)
    low, high = _narrowed(more.rated_otherwise, _rating_asked_at(built, more.currents(step), step))
    if more.beyond(low).any():
        low, high = _crossing(more, low)
    elif high > _MOST_MORE_A:
        return low, ()
    return low, (*built.rated_otherwise(more.currents(high)), *built.no_longer_pass(more.beyond(high)))


def _rating_asked_at(built: _AsBuilt, stepped: CircuitsResult, step_a: float) -> float:
    """Where a fuse is first asked for more than its rating holds, if its load rises straight with it."""
    share = built.now.brief.value("fuse_load_share_percent") / 100
    at = [
        (fuse.rating_a * share * fuse.left - fuse.load_a) * step_a / more_a
        for key, fuse in built.now.circuits.fuses.items()
        if not fuse.fixed and (more_a := stepped.fuses[key].load_a - fuse.load_a) > 0
    ]
    return min((a for a in at if a > 0), default=math.inf)


def _narrowed(changed: Callable[[float], bool], guess_a: float) -> tuple[float, float]:
    """The most that changes nothing and the least that does, in A, within a hair of each other; the latter
    infinite where nothing changes within 500 A."""
    low, high = 0.0, math.inf
    for at in (guess_a * (1 - WHOLE), guess_a * (1 + WHOLE) + WHOLE, _MOST_MORE_A):
        if low < at < min(high, _MOST_MORE_A + 1):
            if changed(at):
                high = at
            else:
                low = at
    while math.isfinite(high) and high - low > max(_CLOSE * high, _CLOSE):
        middle = (low + high) / 2
        if changed(middle):
            high = middle
        else:
            low = middle
    return low, high


def _crossing(more: _More, high: float) -> tuple[float, float]:
    """What still holds and what does not any more, in A, from none to ``high``, close together.

    What is asked of a wire bends upward with the current: a line through the last two that held comes out
    beyond what is sought, one to the least that did not comes out within it.
    """
    before, low = None, 0.0
    while (apart := high - low) > (close := max(_CLOSE * high, _CLOSE)):
        if before is not None:
            guess = low + _met_after(more.ratios(before), more.ratios(low), more.built.passes) * (
                low - before
            )
        else:
            met = _met_after(more.ratios(low), more.ratios(high), more.beyond(high))
            guess = high + met * apart
        if not low < guess < high:
            guess = low + apart / 2
        if apart > 2 * close:
            guess = min(max(guess, low + 0.9 * close), high - 0.9 * close)
        if more.beyond(guess).any():
            # Next time from the other side, unless the line has done better than half.
            high, before = guess, None if guess - low > apart / 2 else before
        else:
            before, low = low, guess
    return low, high


def _met_after(one: FloatArray, other: FloatArray, of: BoolArray) -> float:
    """How far beyond the other of two the first limit of these is met, straight on, in what lies between
    them; infinite where none is."""
    rise = (other - one)[of]
    with np.errstate(divide="ignore", invalid="ignore"):
        after = np.where(rise > 0, (1 - other[of]) / rise, np.inf)
    return float(np.min(after, initial=np.inf))


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
