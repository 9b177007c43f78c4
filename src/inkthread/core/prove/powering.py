"""First power: fuse by fuse, what each should carry, what to feel for, when to take it out again."""

from __future__ import annotations

from inkthread.core.build import Rooms
from inkthread.core.circuits import CircuitsResult, Loop
from inkthread.core.measures import format_current, format_temperature
from inkthread.core.record import record
from inkthread.core.wire.loop_drops import solve_loads
from inkthread.core.words import some_in_words

_NAMED = 6


@record
class PowerStep:
    """One fuse, or what comes before the first and after the last."""

    fuse: str
    """``device.path``; empty where it is no fuse."""
    rating_a: float | None
    amperes: tuple[float, ...]
    """By mode, at the working supply."""
    stop_a: float | None
    words: tuple[str, ...]


@record
class PowerSheet:
    """The steps, and the operating modes that amperes are given for."""

    modes: tuple[str, ...]
    steps: tuple[PowerStep, ...]


def first_power(rooms: Rooms, circuits: CircuitsResult) -> PowerSheet:
    """Every fuse and breaker, those nearest their source first; amperes from the network that drops are
    solved in. Without steps where nothing is fed. When to stop: common practice, no source.
    """
    if not circuits.loops:
        return PowerSheet((), ())
    document = rooms.context.document
    modes = tuple(
        document.circuits.modes[m].name if m in document.circuits.modes else "" for m in circuits.modes
    )
    maker = _Steps(rooms, circuits, modes)
    return PowerSheet(modes, (*maker.before(), *maker.fuses(), *maker.after()))


class _Steps:
    def __init__(self, rooms: Rooms, circuits: CircuitsResult, modes: tuple[str, ...]) -> None:
        self.rooms, self.circuits, self.modes = rooms, circuits, modes
        self.own = rooms.context.catalogue.fitting
        self.words = self.own.powering
        tables = rooms.wire.tables
        solved, _ = solve_loads(circuits, tables.flow, tables.row_ohm)
        self.row_a = solved.row_a[:, : len(modes)]
        self.row_of = {name: tables.flow.sections + n for n, name in enumerate(tables.flow.inner)}
        self.behind: dict[str, list[Loop]] = {}
        for loop in circuits.loops:
            if not loop.charging and loop.alternative == 0:
                for fuse in loop.fuses:
                    self.behind.setdefault(fuse, []).append(loop)

    def before(self) -> list[PowerStep]:
        """What is looked at and measured while every fuse is out."""
        apart_mohm = self.rooms.context.brief.value("test_apart_mohm")
        volts = max((loop.supply_v for loop in self.circuits.loops), default=0.0)
        steps = [
            _plain(self.words["begin"]),
            _plain(self.words["shorts"].format(apart=f"{apart_mohm:g} MΩ")),
            _plain(self.words["polarity"].format(volts=f"{volts:g}")),
        ]
        bare = [
            self._device(loop)
            for loop in self.circuits.loops
            if not loop.fuses
            and not loop.charging
            and loop.alternative == 0
            and self.circuits.sources[loop.source].kind != "regulator"
        ]
        if bare:
            loads = some_in_words(list(dict.fromkeys(bare)), _NAMED)
            steps.append(_plain(self.words["bare"].format(loads=loads)))
        return [*steps, _plain(self.words["stop"])]

    def fuses(self) -> list[PowerStep]:
        """One step a fuse that feeds something."""
        depth = {fuse: min(loop.fuses.index(fuse) for loop in loops) for fuse, loops in self.behind.items()}
        order = {fuse: n for n, fuse in enumerate(self.circuits.fuses)}
        return [
            self._fuse(fuse)
            for fuse in sorted(depth, key=lambda fuse: (depth[fuse], order.get(fuse, len(order))))
            if fuse in self.circuits.fuses
        ]

    def _fuse(self, fuse: str) -> PowerStep:
        facts, own = self.circuits.fuses[fuse], self.own
        row = self.row_of.get(fuse)
        amperes = (
            tuple(round(abs(float(a)), 3) for a in self.row_a[row])
            if row is not None
            else (round(facts.load_a, 3),) * len(self.modes)
        )
        most_a = max(amperes, default=0.0)
        stop_a = max(most_a * own.stop_share, most_a + own.stop_above_a)
        stop_a = min(stop_a, max(facts.rating_a, most_a + own.stop_above_a))
        loads = list(dict.fromkeys(self._device(loop) for loop in self.behind[fuse]))
        words = [
            self.words["fuse"].format(
                fuse=facts.called,
                rating=f", {format_current(facts.rating_a)}",
                loads=some_in_words(loads, _NAMED),
            )
        ]
        behind = sorted(
            {other for loop in self.behind[fuse] for other in loop.fuses[loop.fuses.index(fuse) + 1 :]}
        )
        if behind:
            words.append(self.words["ahead"].format(fuses=some_in_words(behind, _NAMED)))
        if not behind and (not all(amperes) or self.modes == ("",)):
            words.append(self.words["rest"].format(rest=format_current(own.rest_a)))
        warmest = self._warmest(fuse)
        if warmest:
            words.append(warmest)
        return PowerStep(fuse, facts.rating_a, amperes, round(stop_a, 3), tuple(words))

    def _warmest(self, fuse: str) -> str:
        wires = [
            wire
            for wire in self.rooms.wire.wires.values()
            if self.circuits.circuits[wire.circuit].fuse == fuse and wire.temperature_c > wire.ambient_c
        ]
        if not wires:
            return ""
        wire = max(wires, key=lambda own: own.temperature_c - own.ambient_c)
        at_most = format_temperature(wire.temperature_c, self.rooms.context.document.brief.measures)
        return self.words["feel"].format(wire=wire.label, temperature=at_most)

    def _device(self, loop: Loop) -> str:
        name = self.rooms.context.document.circuits.devices[loop.device].name
        return f"{loop.device} {name}".strip()

    def after(self) -> list[PowerStep]:
        """What is done when all are in."""
        return [_plain(self.words["end"])]


def _plain(words: str) -> PowerStep:
    return PowerStep("", None, (), None, (words,))
