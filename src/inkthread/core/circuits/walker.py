"""The loop of each load: back along the feed to its source, and along the return."""

from __future__ import annotations

from collections.abc import Callable

from inkthread.core.circuits.facts import (
    Crossing,
    Loop,
    most_current_a,
)
from inkthread.core.circuits.naming import named
from inkthread.core.circuits.network import Hop, Network, PathAt
from inkthread.core.circuits.supplies import (
    grounds_by_rank,
)
from inkthread.core.circuits.walks import OtherFeed, Walks
from inkthread.core.document.pin_ref import device_of, read_ref
from inkthread.core.document.types import Document, Load
from inkthread.core.document.values import PROTECTIVE
from inkthread.core.findings import FindingBook, Place
from inkthread.core.memo import Memo

_EndsFound = tuple[
    tuple[Crossing, ...], tuple[Crossing, ...], tuple[str, ...], tuple[str, ...], str, tuple[str, ...]
]
"""Feed, return, fuses, paths, source, and the studs by which the return crosses the structure."""


def walk_back(net: Network, ranks: tuple[tuple[str, ...], ...], without: tuple[str, ...]) -> dict[str, Hop]:
    """Walk backward from these grounds, rank by rank, along no path of ``without``."""
    return net.walk(*(list(rank) for rank in ranks), forward=False, without=frozenset(without))


class Walker:
    """Finds the loop of each load: back along the feed to its source, and along the return."""

    def __init__(
        self,
        document: Document,
        walks: Walks,
        feed: dict[str, Hop],
        back: dict[str, Hop],
        limit_v: Callable[[Load | None, float], float],
        memo: Memo,
        book: FindingBook,
        without: frozenset[str] = frozenset(),
    ) -> None:
        self.document = document
        self.walks = walks
        self.net = walks.net
        self.modes = walks.modes
        self.feed = feed
        self.back = back
        self.strap = walks.strap
        self.sources = walks.sources
        self.limit_v = limit_v
        self.memo = memo
        self._back_to: dict[str, dict[str, Hop]] = {}
        self._walked_all: set[str] = set()
        self._converting = {device_of(p) for p in self.net.converters}
        self._grounds: dict[str, list[str]] = {}
        for ground in self.net.grounds:
            self._grounds.setdefault(device_of(ground), []).append(ground)
        self.book = book
        self.without = without
        self.studs = self.net.studs if self.strap is not None else []

    def instead(self, other: OtherFeed, book: FindingBook) -> Walker:
        """The same where the harness is fed in another way."""
        return Walker(
            self.document,
            self.walks,
            other.feed,
            other.back,
            self.limit_v,
            self.memo,
            book,
            other.without,
        )

    def all_loops(self) -> list[Loop]:
        """The loops of every load, and of every regulator's input."""
        of_loads = [self.loop(load_id, load) for load_id, load in self.document.circuits.loads.items()]
        loops = [of_load for of_load in of_loads if of_load is not None]
        return loops + self.conversions(loops)

    def loop(self, load_id: str, load: Load) -> Loop | None:
        """The loop of a stated load, or None with a finding."""
        mode_fraction = tuple(load.modes[m].percent / 100 if m in load.modes else 1.0 for m in self.modes)
        ends = self._ends(Place("circuits", "load", load_id), load.device, load.supply_pin, load.return_pin)
        if ends is None:
            return None
        feed, back, fuses, paths, source, studs = ends
        facts = self.sources[source]
        return Loop(
            load_id,
            load.device,
            load.current_a,
            feed,
            back,
            fuses,
            paths,
            source,
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
            studs,
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
        place = Place("circuits", "device", device_id)
        book, self.book = self.book, FindingBook(self.book.checks) if quiet else self.book
        ends = self._ends(place, device_id, inner.from_pin, ground)
        self.book = book
        if ends is None:
            return None
        feed, back, fuses, paths, source, studs = ends
        fed = self.sources[source]
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
            feed,
            back,
            fuses,
            paths,
            source,
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
            studs,
        )

    def _ends(self, place: Place, device_id: str, supply_pin: str, return_pin: str) -> _EndsFound | None:
        name = named(self.document, device_id)
        supply_ref, return_ref = f"{device_id}.{supply_pin}", f"{device_id}.{return_pin}"
        supply_circuit = self.net.circuit_of.get(supply_ref)
        fed = supply_circuit is not None and supply_circuit in self.feed
        if not fed:
            sinking = self._low_side_in(supply_circuit, device_id)
            if sinking is not None:
                self.book.add("low-side-as-supply", place, output=sinking, load=name)
            else:
                self.book.add("no-feed", place, load=name, pin=supply_ref)
        return_circuit = self.net.circuit_of.get(return_ref)
        if return_circuit is None or (not fed and return_circuit not in self.back):
            self.book.add("no-return", place, load=name, pin=return_ref)
            return None
        if not fed or supply_circuit is None:
            return None
        fuses: list[str] = []
        paths: list[str] = []
        feed: list[Crossing] = []
        pin, circuit = supply_ref, supply_circuit
        while True:
            hop = self.feed[circuit]
            feed.append(Crossing(circuit, hop.pin, pin))
            if hop.across is None or hop.circuit is None:
                break
            inner_device, path_id, inner = hop.across
            paths.append(f"{inner_device}.{path_id}")
            if inner.kind in PROTECTIVE:
                fuses.append(f"{inner_device}.{path_id}")
            pin, circuit = f"{inner_device}.{inner.from_pin}", hop.circuit
        source = hop.pin
        feed.reverse()
        back: list[Crossing] = []
        pin, circuit = return_ref, return_circuit
        returns = self._returns(source, circuit)
        if circuit not in returns:
            self.book.add("no-return", place, load=name, pin=return_ref)
            return None
        while True:
            hop = returns[circuit]
            back.append(Crossing(circuit, pin, hop.pin))
            if hop.across is None or hop.circuit is None:
                break
            inner_device, path_id, inner = hop.across
            paths.append(f"{inner_device}.{path_id}")
            pin, circuit = f"{inner_device}.{inner.to_pin}", hop.circuit
        last = back[-1].to_pin
        studs: tuple[str, ...] = ()
        if self.strap is not None and self.document.circuits.devices[device_of(last)].structure:
            # Through the structure, out at the stud the source is tied to, along its strap.
            studs = (last, self.strap.from_pin)
            back.append(self.strap)
        return (
            tuple(c for c in feed if c.from_pin != c.to_pin),
            tuple(c for c in back if c.from_pin != c.to_pin),
            tuple(reversed(fuses)),
            tuple(paths),
            source,
            studs,
        )

    def _returns(self, source: str, circuit: str) -> dict[str, Hop]:
        """Walks back to what feeds: to its own ground before any other; a converter's only to its own.

        What comes back to its own ground is sure by that alone: the others are walked to where it does not.
        """
        known = self._back_to.get(source)
        if known is None:
            apart = source not in self.net.converters and device_of(source) in self._converting
            known = self._walk_back(
                source, (() if apart else tuple(self._grounds.get(device_of(source), ())),)
            )
        if circuit not in known and source not in self.net.converters and source not in self._walked_all:
            ranks = (*grounds_by_rank(self.document, self.net, source), self.studs)
            known = self._walk_back(source, tuple(tuple(rank) for rank in ranks))
            self._walked_all.add(source)
        return known

    def _walk_back(self, source: str, ranks: tuple[tuple[str, ...], ...]) -> dict[str, Hop]:
        without = tuple(sorted(self.without))
        walked = self.memo.get(walk_back, self.net, ranks, without, of=(source, self.without, len(ranks)))
        self._back_to[source] = walked
        return walked

    def _low_side_in(self, circuit_id: str | None, device_id: str) -> str | None:
        """A low-side output of another device in the circuit, if any."""
        if circuit_id is None:
            return None
        for ref in self.net.circuits[circuit_id].ends:
            other, pin = read_ref(ref)
            if other != device_id and self.document.circuits.devices[other].pins[pin].role == "output_low":
                return ref
        return None
