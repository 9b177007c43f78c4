"""What a meter shows at each place against the battery's minus, in every operating mode.

From the same network as the drops: the solved current of every wire, path and stud, times its resistance,
along each load's way from its source and back to it.
"""

from __future__ import annotations

import itertools
import re
from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from typing import Literal

import numpy as np

from inkthread.core.build import Rooms
from inkthread.core.circuits import CircuitsResult, Crossing, Loop
from inkthread.core.document.pin_ref import device_of
from inkthread.core.physics.conductor import BoolArray, FloatArray, IntArray
from inkthread.core.prove.harness import node_of
from inkthread.core.record import record
from inkthread.core.route import STUD
from inkthread.core.wire.loop_drops import solve_loads

_SWITCHING = ("switch", "relay", "contactor")
_OUTPUTS = ("output_low", "output_high")


@record
class VoltRow:
    """One place: what it shows by mode, everything plugged in, and with the device there unplugged."""

    place: str
    circuit: str
    side: Literal["feed", "return"]
    volts: tuple[float, ...]
    """By mode, at the working supply."""
    unplugged_v: tuple[float, ...] | None
    """By mode, with the load's device unplugged here; None where no load hangs on it directly."""
    load: str
    """The load that hangs on it directly; empty on the way there."""
    fuse: str
    """The nearest fuse ahead: with that out it reads nothing. Empty where none is."""


@record
class VoltSheet:
    """Every place that current reaches."""

    modes: tuple[str, ...]
    rows: tuple[VoltRow, ...]


@dataclass(slots=True)
class _At:
    """What is known of one place so far."""

    row: VoltRow
    on: tuple[bool, ...]
    """By mode, whether a load that runs said so."""


def expected_volts(rooms: Rooms, circuits: CircuitsResult) -> VoltSheet:
    """Volts at every place of every loop that is whole, in the first battery's modes."""
    document = rooms.context.document
    names = tuple(
        document.circuits.modes[m].name if m in document.circuits.modes else "" for m in circuits.modes
    )
    walker = LoopWalker(rooms, circuits, len(names))
    known: dict[tuple[str, str], _At] = {}
    whole = [
        (n, loop)
        for n, loop in enumerate(circuits.loops)
        if not loop.charging and loop.alternative == 0 and walker.flow.whole[n] and loop.back
    ]
    # What hangs behind a regulator is above the battery's minus by what the regulator's own return loses.
    whole.sort(key=lambda own: circuits.sources[own[1].source].kind == "regulator")
    for n, loop in whole:
        minus = known.get((walker.place(loop.back[-1].to_pin), "return"))
        above = np.array(minus.row.volts) if minus is not None else np.zeros(len(names))
        for row, on in walker.rows(n, loop, above):
            _merge(known, row, on)
    order = sorted(known.values(), key=lambda at: (_counted(at.row.place), at.row.side))
    return VoltSheet(names, tuple(at.row for at in order))


def _merge(known: dict[tuple[str, str], _At], row: VoltRow, on: tuple[bool, ...]) -> None:
    """A place that several loads pass shows what those that run make of it; at rest the higher stands."""
    before = known.get((row.place, row.side))
    if before is None:
        known[row.place, row.side] = _At(row, on)
        return
    volts = tuple(
        mine if runs and not ran else theirs if ran else max(mine, theirs)
        for mine, theirs, runs, ran in zip(row.volts, before.row.volts, on, before.on, strict=True)
    )
    main = row if row.unplugged_v is not None and before.row.unplugged_v is None else before.row
    merged = VoltRow(
        row.place, row.circuit, row.side, volts, main.unplugged_v, main.load, before.row.fuse or row.fuse
    )
    known[row.place, row.side] = _At(merged, tuple(a or b for a, b in zip(on, before.on, strict=True)))


class LoopWalker:
    """Walks loops with the solved currents."""

    def __init__(self, rooms: Rooms, circuits: CircuitsResult, modes: int) -> None:
        tables = rooms.wire.tables
        self.rooms, self.circuits, self.modes = rooms, circuits, modes
        self.flow, self.ohm = tables.flow, tables.row_ohm
        solved, _ = solve_loads(circuits, self.flow, self.ohm)
        self.row_a, self.drawn_a = solved.row_a[:, :modes], solved.drawn_a[:, :modes]
        self.inner = {name: self.flow.sections + n for n, name in enumerate(self.flow.inner)}
        self.closed: dict[str, BoolArray] = {}
        """Path to whether any load runs through it, by mode."""
        for loop in circuits.loops:
            runs = np.array(loop.mode_fraction[:modes]) > 0
            for path in loop.paths:
                self.closed[path] = self.closed[path] | runs if path in self.closed else runs
        self.places: dict[str, str] = {}
        for key, section in rooms.route.sections.items():
            for end in (section.a, section.b):
                if end.kind == "pin":
                    self.places.setdefault(end.id, node_of(end, key))

    def rows(self, n: int, loop: Loop, above: FloatArray) -> Iterator[tuple[VoltRow, tuple[bool, ...]]]:
        """Every place of one loop, and in which modes its load runs. ``above`` is its source's minus."""
        on = np.array(loop.mode_fraction[: self.modes]) > 0
        alone = self._without(
            k
            for k, other in enumerate(self.circuits.loops)
            if other.device == loop.device and not other.charging
        )
        ahead, behind = self.feed(loop, self.row_a), self.back(loop, self.row_a)
        free, free_back = self.feed(loop, alone), self.back(loop, alone)
        open_feed, open_back = (self._before_open(loop, way) for way in (loop.feed, loop.back))
        feed_v = ahead[-1][1]
        for k, ((pin, volts), (_, open_v)) in enumerate(zip(ahead, free, strict=True)):
            live = on | (k < open_feed)
            last = k == len(ahead) - 1
            unplugged = np.where(live, open_v + above, 0.0) if last else None
            shown = np.where(live, volts + above, 0.0)
            yield self._row(loop, pin, "feed", shown, unplugged, self._fuse(loop, k)), tuple(on)
        for k, ((pin, volts), (_, open_v)) in enumerate(zip(behind, free_back, strict=True)):
            # At rest, what is behind the load and before an open switch floats up to the feed.
            floats = ~on & (k < open_back) & (open_back < len(behind)) & (open_feed >= len(ahead))
            lifted = above + np.where(floats, feed_v, np.where(on, volts, open_v))
            yield self._row(loop, pin, "return", lifted, open_v + above if k == 0 else None, ""), tuple(on)

    def place(self, pin: str) -> str:
        """Where a probe finds a pin."""
        return self.places.get(pin, pin)

    def _row(
        self, loop: Loop, pin: str, side: Literal["feed", "return"], volts: FloatArray,
        unplugged: FloatArray | None, fuse: str,
    ) -> VoltRow:  # fmt: skip
        own = unplugged is not None
        return VoltRow(
            self.place(pin), self.circuits.circuit_of.get(pin, ""), side, _rounded(volts),
            _rounded(unplugged) if unplugged is not None else None, loop.load if own else "", fuse,
        )  # fmt: skip

    def _without(self, loops: Iterable[int]) -> FloatArray:
        """The currents of all rows without those of some loops."""
        rows_a = self.row_a.copy()
        for n in loops:
            rows, share = self.flow.of_loop(n)
            np.subtract.at(rows_a, rows, share[:, None] * self.drawn_a[n][None, :])
        return rows_a

    def _lost(self, crossing: Crossing, rows_a: FloatArray) -> FloatArray:
        """V lost along a crossing, in its own direction."""
        lost = np.zeros(self.modes)
        for key, sign in self.rooms.route.trees[crossing.circuit].between(crossing.from_pin, crossing.to_pin):
            row = self.rooms.wire.tables.at[key]
            lost += sign * rows_a[row] * self.ohm[row]
        return lost

    def _inside(self, loop: Loop, one: str, other: str, rows_a: FloatArray) -> FloatArray:
        """V lost inside a device, or through the structure, between two crossings."""
        lost = np.zeros(self.modes)
        if device_of(one) != device_of(other):
            for stud, sign in zip(loop.studs, (1.0, -1.0), strict=False):
                row = self.inner[STUD + stud]
                lost += sign * rows_a[row] * self.ohm[row]
            return lost
        for path in loop.paths:
            inner = self.inner_path(path)
            if inner is not None and {inner[0], inner[1]} == {one, other}:
                row = self.inner[path]
                lost += rows_a[row] * self.ohm[row]
        return lost

    def inner_path(self, path: str) -> tuple[str, str, str] | None:
        """Both pins of a path inside a device, and its kind; None of what is no path."""
        device_id, _, path_id = path.partition(".")
        inner = self.rooms.context.document.circuits.devices[device_id].paths.get(path_id)
        return (f"{device_id}.{inner.from_pin}", f"{device_id}.{inner.to_pin}", inner.kind) if inner else None

    def feed(self, loop: Loop, rows_a: FloatArray) -> list[tuple[str, FloatArray]]:
        """Pins from the source to the load, each with its volts."""
        volts = np.full(self.modes, loop.supply_v)
        pins: list[tuple[str, FloatArray]] = []
        before = ""
        for crossing in loop.feed:
            if before:
                volts = volts - self._inside(loop, before, crossing.from_pin, rows_a)
            pins.append((crossing.from_pin, volts))
            volts = volts - self._lost(crossing, rows_a)
            pins.append((crossing.to_pin, volts))
            before = crossing.to_pin
        return pins

    def back(self, loop: Loop, rows_a: FloatArray) -> list[tuple[str, FloatArray]]:
        """Pins from the load back to the source's minus, each with its volts above that."""
        volts = np.zeros(self.modes)
        pins: list[tuple[str, FloatArray]] = []
        after = ""
        for crossing in reversed(loop.back):
            if after:
                volts = volts + self._inside(loop, crossing.to_pin, after, rows_a)
            pins.append((crossing.to_pin, volts))
            volts = volts + self._lost(crossing, rows_a)
            pins.append((crossing.from_pin, volts))
            after = crossing.from_pin
        return pins[::-1]

    def _before_open(self, loop: Loop, crossings: tuple[Crossing, ...]) -> IntArray:
        """By mode, how many pins come before the first open switch: all where none is open.

        A switch is closed in a mode where any load runs through it.
        """
        before = np.full(self.modes, 2 * len(crossings))
        for k, (one, other) in reversed(list(enumerate(itertools.pairwise(crossings)))):
            for path in loop.paths:
                inner = self.inner_path(path)
                if inner is None or {inner[0], inner[1]} != {one.to_pin, other.from_pin}:
                    continue
                if inner[2] in _SWITCHING or self._output(one.to_pin) or self._output(other.from_pin):
                    before[~self.closed[path]] = 2 * (k + 1)
        return before

    def _output(self, pin: str) -> bool:
        device_id, _, pin_id = pin.partition(".")
        return self.rooms.context.document.circuits.devices[device_id].pins[pin_id].role in _OUTPUTS

    def _fuse(self, loop: Loop, k: int) -> str:
        """The nearest fuse ahead of the k-th pin of a feed."""
        nearest = ""
        for one, other in zip(loop.feed[: k // 2], loop.feed[1:], strict=False):
            for path in loop.fuses:
                inner = self.inner_path(path)
                if inner is not None and {inner[0], inner[1]} == {one.to_pin, other.from_pin}:
                    nearest = path
        return nearest


def _counted(place: str) -> list[tuple[int, str]]:
    """``A1-2`` before ``A1-10``."""
    return [(int(part), "") if part.isdigit() else (-1, part) for part in re.split(r"(\d+)", place)]


def _rounded(volts: FloatArray) -> tuple[float, ...]:
    return tuple(round(float(v), 4) for v in volts)
