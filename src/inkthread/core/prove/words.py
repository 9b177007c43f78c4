"""Faults in a builder's words, what to do about them, and which measurement tells two apart."""

from __future__ import annotations

import itertools
import math

from inkthread.core.catalogue import Proofs
from inkthread.core.prove.candidates import where_beside
from inkthread.core.prove.diagnose import Explanation
from inkthread.core.prove.faults import Built, Fault, Meter, Network, Way, circuits_of
from inkthread.core.words import list_in_words, some_in_words

_PLACES_AT_MOST = 30
_PAIRS_SAID = 6


def format_ohm(ohm: float) -> str:
    """A resistance as a meter shows it.

    >>> format_ohm(0.0312), format_ohm(4.7), format_ohm(1200.0), format_ohm(2.2e6), format_ohm(math.inf)
    ('31.2 mΩ', '4.7 Ω', '1.2 kΩ', '2.2 MΩ', 'open')
    """
    if math.isinf(ohm):
        return "open"
    for least, unit in ((1e6, "MΩ"), (1e3, "kΩ"), (1.0, "Ω")):
        if ohm >= least:
            return f"{ohm / least:.3g} {unit}"
    return f"{ohm * 1000:.3g} mΩ"


class Sayer:
    """Says faults of one harness."""

    def __init__(self, network: Network, proofs: Proofs) -> None:
        self.network, self.proofs, self.harness = network, proofs, network.harness

    def words(self, fault: Fault) -> str:
        """What is wrong."""
        return self.proofs.faults[fault.kind].words.format(**self._fills(fault))

    def remedy(self, fault: Fault) -> str:
        """What to do at the bench."""
        return self.proofs.faults[fault.kind].do.format(**self._fills(fault))

    def _fills(self, fault: Fault) -> dict[str, str]:
        fills = {"connector": fault.connector, "ohm": format_ohm(abs(fault.ohm)), "gauge": fault.gauge}
        if fault.wire:
            wire = self.harness.wires[fault.wire]
            fills |= {"wire": wire.label, "a": wire.a, "b": wire.b, "asked": wire.gauge}
        elif fault.moves:
            fills |= {"pairs": _pairs(fault), "a": fault.moves[0][0], "b": fault.moves[0][1]}
            first, *_ = self.harness.on(fault.connector)
            ways = [p.removeprefix(f"{fault.connector}-") for p in self.harness.on(fault.connector)]
            latch = self.harness.latch.get(fault.connector, "")
            fills |= {"first": min(ways, key=_counted, default=first), "latch": latch}
        elif fault.kind == "not home":
            wires = self.harness.terminals[fault.a].wires
            fills |= {"a": fault.a, "wires": list_in_words([self.harness.wires[w].label for w in wires])}
        else:
            one, other = (self.network.points[p] for p in (fault.a, fault.b))
            beside = where_beside(self.network, fault.a, fault.b)
            at = " or ".join(f"{a} and {b}" for a, b in beside[:3])
            fills |= {"one": one, "other": other, "place": f" at {at}" if at else ""}
        return fills

    def tells_apart(self, explanations: tuple[Explanation, ...], meter: Meter) -> str:
        """What to measure or look at to tell the likeliest from the others; empty where it is alone."""
        if len(explanations) < 2:
            return ""
        built = [Built(self.network, e.faults) for e in explanations]
        best: tuple[int, float, tuple[str, str]] | None = None
        for pair in itertools.combinations(self._places(explanations), 2):
            ways = [m.way(*pair) for m in built]
            apart = sum(differ(ways[0], way, meter) for way in ways[1:])
            if apart:
                rank = (apart, -_ohm_of(ways[0]), pair)
                best = max(best, rank) if best is not None else rank
        if best is not None:
            pair = best[2]
            first, others = built[0].way(*pair), [m.way(*pair) for m in built[1:]]
            other = next(way for way in others if differ(first, way, meter))
            return (
                f"Measure {pair[0]} to {pair[1]}: {way_in_words(first, meter)} is this, "
                f"{way_in_words(other, meter)} is the other."
            )
        return self._looks(explanations, built)

    def _places(self, explanations: tuple[Explanation, ...]) -> list[str]:
        faults = [f for e in explanations for f in e.faults]
        circuits = dict.fromkeys(c for f in faults for c in circuits_of(self.network, f))
        places = dict.fromkeys(p for f in faults for move in f.moves for p in move)
        places |= dict.fromkeys(p for c in circuits for p in self.harness.circuits[c])
        return list(places)[:_PLACES_AT_MOST]

    def _looks(self, explanations: tuple[Explanation, ...], built: list[Built]) -> str:
        for one, other in ((built[0], m) for m in built[1:]):
            for place in {**one.holds, **other.holds}:
                colours = [self._colour(m.held(place)) for m in (one, other)]
                if colours[0] != colours[1]:
                    return f"Look at {place}: {colours[0]} there is this, {colours[1]} is the other."
        faults = [f for e in explanations for f in e.faults if f.kind == "wrong gauge"]
        if faults:
            label = self.harness.wires[faults[0].wire].label
            return f"Read the gauge printed on {label}: if it is {self._asked(faults[0])}, a joint is poor."
        return "Nothing that can be measured here tells them apart: look at each in turn."

    def _asked(self, fault: Fault) -> str:
        return self.harness.wires[fault.wire].gauge

    def _colour(self, contact: str | None) -> str:
        if contact is None:
            return "no contact"
        wires = self.harness.terminals[contact].wires
        wire = self.harness.wires[wires[0]]
        return f"{wire.colour or 'the wire'} ({wire.label})"


def _pairs(fault: Fault) -> str:
    """Which cavities are exchanged, each pair once: ``1-4, 2-3``."""
    ways = {
        a.removeprefix(f"{fault.connector}-"): b.removeprefix(f"{fault.connector}-") for a, b in fault.moves
    }
    told: set[str] = set()
    said: list[str] = []
    for a, b in sorted(ways.items(), key=lambda pair: _counted(pair[0])):
        if a in told:
            continue
        both = ways.get(b) == a
        told.update((a, b) if both else (a,))
        said.append(f"{a}-{b}" if both else f"{a} sits in {b}")
    return some_in_words(said, _PAIRS_SAID)


def _counted(way: str) -> tuple[int, str]:
    return (int(way), "") if way.isdigit() else (10_000, way)


def differ(one: Way | None, other: Way | None, meter: Meter) -> bool:
    """Whether a meter shows two ways as different."""
    opens = [way is None or meter.is_open(way.least) for way in (one, other)]
    if opens[0] or opens[1] or one is None or other is None:
        return opens[0] != opens[1]
    (low, high), (least, most) = meter.band(one.least, one.most), meter.band(other.least, other.most)
    return high < least or most < low


def _ohm_of(way: Way | None) -> float:
    return way.most if way is not None else 0.0


def way_in_words(way: Way | None, meter: Meter) -> str:
    """What would be read."""
    if way is None or meter.is_open(way.least):
        return "open"
    low, high = meter.band(way.least, way.most)
    return f"{format_ohm(low)} to {format_ohm(high)}"
