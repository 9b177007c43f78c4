"""The loop of each load: back along the feed to its source, and along the return."""

from __future__ import annotations

from collections.abc import Callable

from inkthread.core.circuits.facts import Loop, most_current_a
from inkthread.core.circuits.network import Hop, PathAt
from inkthread.core.circuits.walks import Walks
from inkthread.core.circuits.ways import Asked, Way, find_ways
from inkthread.core.document.only import only
from inkthread.core.document.types import Document, Load
from inkthread.core.findings import FindingBook
from inkthread.core.memo import Memo


class Walker:
    """Finds the loop of each load: back along the feed to its source, and along the return."""

    def __init__(
        self,
        document: Document,
        walks: Walks,
        limit_v: Callable[[Load | None, float], float],
        basis: tuple[object, ...],
        memo: Memo,
        book: FindingBook,
        other: int = 0,
    ) -> None:
        """``limit_v`` reads a load and the ``basis``; ``other`` counts the ways in which the harness may be
        fed: 0 is as it mostly is."""
        self.basis = basis
        self.document = document
        self.walks = walks
        self.net = walks.net
        self.modes = walks.modes
        self.other = other
        self.feed: dict[str, Hop] = walks.feed
        self.back: dict[str, Hop] = walks.back
        self.without: tuple[str, ...] = ()
        if other:
            fed = walks.others[other - 1]
            self.feed, self.back, self.without = fed.feed, fed.back, tuple(sorted(fed.without))
        self.sources = walks.sources
        self.limit_v = limit_v
        self.memo = memo
        self.book = book

    def instead(self, other: int, book: FindingBook) -> Walker:
        """The same where the harness is fed in another way."""
        return Walker(self.document, self.walks, self.limit_v, self.basis, self.memo, book, other)

    def all_loops(self) -> list[Loop]:
        """The loops of every load, and of every regulator's input."""
        loads = self.document.circuits.loads
        ways = self._ways(
            tuple(("load", k, load.device, load.supply_pin, load.return_pin) for k, load in loads.items())
        )
        fed = [(k, load, way) for (k, load), way in zip(loads.items(), ways, strict=True) if way is not None]
        of_loads = self.memo.row_by_row(
            ("loops", self.other),
            tuple([load_id for load_id, _, _ in fed]),
            ([load for _, load, _ in fed], [way for _, _, way in fed]),
            lambda rows: (self._loop(*fed[row]) for row in rows),
            (self.walks, *self.basis),
        )
        loops = list(of_loads.values())
        return loops + self.conversions(loops)

    def _ways(
        self, asked: tuple[Asked, ...], of: str = "loads", *, quiet: bool = False
    ) -> tuple[Way | None, ...]:
        """The way to each of these and back, or None with a finding."""
        ways, findings = self.memo.get(
            find_ways,
            only(self.document, "circuits.devices", "circuits.sources"),
            self.walks,
            self.feed,
            self.back,
            self.without,
            asked,
            self.book.checks,
            self.memo,
            of=(of, self.other),
        )
        if not quiet:
            self.book.entries += findings
        return ways

    def _loop(self, load_id: str, load: Load, way: Way) -> Loop:
        """The loop of a stated load."""
        mode_fraction = tuple(load.modes[m].percent / 100 if m in load.modes else 1.0 for m in self.modes)
        facts = self.sources[way.source]
        return Loop(
            load_id,
            load.device,
            load.current_a,
            way.feed,
            way.back,
            way.fuses,
            way.paths,
            way.source,
            facts.nominal_v,
            facts.least_v,
            facts.most_v,
            load.kind,
            load.rated_v or facts.nominal_v,
            load.duty_percent / 100,
            load.cycle_s,
            mode_fraction,
            max(load.peak_a or 0.0, load.current_a),
            self.limit_v(load, facts.nominal_v),
            way.studs,
        )

    def conversions(self, loops: list[Loop]) -> list[Loop]:
        """The input of every regulator as a load of its own, from what hangs behind it."""
        inputs: dict[str, Loop] = {}
        for _ in range(len(self.net.converters)):
            added = False
            for out, at in self.net.converters.items():
                behind = [loop for loop in (*loops, *inputs.values()) if loop.source == out]
                new = self._conversion(out, at, behind, quiet=out in inputs)
                if new is not None and new != inputs.get(out):
                    inputs[out] = new
                    added = True
            if not added:
                break
        return list(inputs.values())

    def _conversion(self, out: str, at: PathAt, behind: list[Loop], *, quiet: bool) -> Loop | None:
        device_id, path_id, inner = at
        if not behind:
            return None
        facts = self.sources[out]
        ground = facts.return_pin
        if ground is None:
            return None
        asked = "device", device_id, device_id, inner.from_pin, ground
        (way,) = self._ways((asked,), out, quiet=quiet)
        if way is None:
            return None
        fed = self.sources[way.source]
        by_mode = [
            sum(most_current_a(loop) * loop.mode_fraction[m] for loop in behind)
            for m in range(len(self.modes))
        ]
        most = max(by_mode)
        switching = inner.efficiency_percent is not None
        taken = most
        if inner.efficiency_percent is not None:
            taken = most * facts.nominal_v / (inner.efficiency_percent / 100) / fed.nominal_v
        return Loop(
            f"{device_id}~{path_id}",
            device_id,
            taken,
            way.feed,
            way.back,
            way.fuses,
            way.paths,
            way.source,
            fed.nominal_v,
            fed.least_v,
            fed.most_v,
            "constant power" if switching else "constant current",
            fed.nominal_v,
            1.0,
            None,
            tuple(a / most if most else 0.0 for a in by_mode),
            taken,
            self.limit_v(None, fed.nominal_v),
            way.studs,
        )
