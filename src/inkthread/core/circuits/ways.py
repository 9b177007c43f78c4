"""The way of current to a load and back: along the feed to its source, and along the return."""

from __future__ import annotations

from inkthread.core.catalogue import CheckText
from inkthread.core.circuits.facts import Crossing
from inkthread.core.circuits.network import Hop, Network
from inkthread.core.circuits.supplies import grounds_by_rank
from inkthread.core.circuits.walks import Walks
from inkthread.core.document.pin_ref import device_of, read_ref
from inkthread.core.document.types import Document
from inkthread.core.document.values import PROTECTIVE
from inkthread.core.findings import Finding, FindingBook, Place, called
from inkthread.core.memo import Memo
from inkthread.core.record import record


@record
class Way:
    """From a source to a supply pin and from a return pin back."""

    feed: tuple[Crossing, ...]
    back: tuple[Crossing, ...]
    fuses: tuple[str, ...]
    paths: tuple[str, ...]
    source: str
    studs: tuple[str, ...]
    """By which the return crosses the structure."""


Asked = tuple[str, str, str, str, str]
"""Kind of place and its id, device, supply pin, return pin."""


def walk_back(net: Network, ranks: tuple[tuple[str, ...], ...], without: tuple[str, ...]) -> dict[str, Hop]:
    """Walk backward from these grounds, rank by rank, along no path of ``without``."""
    return net.walk(*(list(rank) for rank in ranks), forward=False, without=frozenset(without))


def find_ways(
    document: Document,
    walks: Walks,
    feed: dict[str, Hop],
    back: dict[str, Hop],
    without: tuple[str, ...],
    asked: tuple[Asked, ...],
    checks: dict[str, CheckText],
    memo: Memo,
) -> tuple[tuple[Way | None, ...], tuple[Finding, ...]]:
    """The way to each of these and back, None where there is none, and what is wrong then.

    ``document`` needs its devices and sources alone. Nothing is asked of what flows.
    """
    book = FindingBook(checks)
    finder = _Finder(document, walks, feed, back, frozenset(without), memo, book)
    ways = tuple(finder.way(Place("circuits", kind, of), *pins) for kind, of, *pins in asked)
    return ways, tuple(book.entries)


class _Finder:
    def __init__(
        self,
        document: Document,
        walks: Walks,
        feed: dict[str, Hop],
        back: dict[str, Hop],
        without: frozenset[str],
        memo: Memo,
        book: FindingBook,
    ) -> None:
        self.document = document
        self.net = walks.net
        self.feed = feed
        self.back = back
        self.strap = walks.strap
        self.without = without
        self.memo = memo
        self.book = book
        self.studs = self.net.studs if self.strap is not None else []
        self._back_to: dict[str, dict[str, Hop]] = {}
        self._walked_all: set[str] = set()
        self._converting = {device_of(p) for p in self.net.converters}
        self._grounds: dict[str, list[str]] = {}
        for ground in self.net.grounds:
            self._grounds.setdefault(device_of(ground), []).append(ground)

    def way(self, place: Place, device_id: str, supply_pin: str, return_pin: str) -> Way | None:
        """The way to these pins and back, or None with a finding."""
        name = called("device", device_id)
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
        return Way(
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
