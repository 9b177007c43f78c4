"""A simulated continuity tester with a harness plugged in: a line protocol over TCP on 127.0.0.1, and faults.

A line a command, answered by a line::

    HELLO                      TESTER 1 SIMULATED
    PLUG 2 4                   (then a line a wire: W key place place least most joints; a line a
                               place: P place connector x y; END)   PLUGGED 2
    READ A1-1 J2-5             READ A1-1 J2-5 0.0213 | READ A1-1 J2-5 OPEN | UNKNOWN A1-1
    READ A1-1&A1-2 J2-5&J2-6   the same of groups strapped together
    MOVE A1-1 J2-5             MOVE A1-1 J2-5 OPEN   (the worst that was seen while it was shaken)
    LINKS A1-1                 LINKS A1-1 J2-5:0.0213
    anything else              WHAT

What is plugged in is the harness as it was made: wires with a resistance somewhere in their band, and the
faults that the stand-in was told of. It is worked out by nodal analysis, apart from the program that asks.
"""

from __future__ import annotations

import math
import random
import socketserver
import threading
import time
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field

import numpy as np

from inkthread.core.record import record

_LINES_AT_MOST = 100_000
_LETTERS_AT_MOST = 200_000
_NO_OHM = 1e-6
_SHORT_OHM = 0.05
_OVER_OHM = 1e9


class BadFault(ValueError):
    """A fault that is not understood; says how it is written."""


@record
class PluggedWire:
    """A wire between two places or joints: its copper in ohm from least to most, its joints at most."""

    key: str
    a: str
    b: str
    least_ohm: float
    most_ohm: float
    joints_ohm: float


@record
class PluggedPlace:
    """A place that the tester reaches, and where it lies on its connector's face in mm."""

    name: str
    connector: str
    x_mm: float
    y_mm: float


FAULTS = {
    "open": "open:WIRE", "missing": "missing:WIRE", "loose": "loose:WIRE", "gauge": "gauge:WIRE/TIMES",
    "high": "high:WIRE/OHM", "swap": "swap:PLACE/PLACE", "move": "move:PLACE/PLACE",
    "short": "short:PLACE/PLACE", "leak": "leak:PLACE/PLACE/OHM", "mirror": "mirror:CONNECTOR",
    "turn": "turn:CONNECTOR", "rows": "rows:CONNECTOR",
}  # fmt: skip
"""How each fault is written."""


class PluggedHarness:
    """A harness as it was made, faults and all."""

    def __init__(
        self,
        wires: Iterable[PluggedWire],
        places: Iterable[PluggedPlace],
        faults: Sequence[str] = (),
        seed: int = 1,
    ) -> None:
        chance = random.Random(seed)
        self.places = {place.name: place for place in places}
        self.wires = {wire.key: wire for wire in wires}
        self.copper = {k: chance.uniform(w.least_ohm, w.most_ohm) for k, w in self.wires.items()}
        self.joints = {k: chance.uniform(0.0, w.joints_ohm) for k, w in self.wires.items()}
        self._known: dict[bool, dict[str, list[tuple[str, float]]]] = {}
        self.sits: dict[str, str] = {}
        """Where the contact of a place sits, if elsewhere."""
        self.loose: set[str] = set()
        self.bridges: list[tuple[str, str, float]] = []
        for fault in faults:
            self._spoil(fault)

    def _spoil(self, fault: str) -> None:
        kind, _, rest = fault.partition(":")
        words = rest.split("/")
        how = FAULTS.get(kind)
        if how is None or not rest:
            raise BadFault(f"{fault!r} is no fault. Write one of {', '.join(FAULTS.values())}.")
        try:
            self._do(kind, words)
        except (KeyError, ValueError, IndexError) as error:
            raise BadFault(f"{fault!r} is not on this harness. Write {how}.") from error

    def _do(self, kind: str, words: list[str]) -> None:
        if kind in ("open", "missing"):
            self.joints[self._wire(words[0])] = math.inf
        elif kind == "loose":
            self.loose.add(self._wire(words[0]))
        elif kind == "gauge":
            self.copper[self._wire(words[0])] *= float(words[1])
        elif kind == "high":
            self.joints[self._wire(words[0])] += float(words[1])
        elif kind in ("swap", "move"):
            one, other = (self.places[w].name for w in words)
            self.sits[one] = other
            if kind == "swap":
                self.sits[other] = one
        elif kind in ("short", "leak"):
            ohm = float(words[2]) if kind == "leak" else _SHORT_OHM
            self.bridges.append((self.places[words[0]].name, self.places[words[1]].name, ohm))
        else:
            self._turn(kind, words[0])

    def _wire(self, word: str) -> str:
        return self.wires[word].key

    def _turn(self, kind: str, connector: str) -> None:
        face = [p for p in self.places.values() if p.connector == connector]
        if not face:
            raise KeyError(connector)
        if kind == "rows":
            rows: dict[float, list[PluggedPlace]] = {}
            for place in face:
                rows.setdefault(round(place.y_mm, 1), []).append(place)
            for row in rows.values():
                row.sort(key=lambda p: p.x_mm)
                for n, place in enumerate(row):
                    self.sits[place.name] = row[(n + 1) % len(row)].name
            return
        down = -1.0 if kind == "turn" else 1.0
        for place in face:
            to = min(face, key=lambda p: math.hypot(p.x_mm + place.x_mm, p.y_mm - down * place.y_mm))
            self.sits[place.name] = to.name

    def read(self, a: Sequence[str], b: Sequence[str], *, moved: bool = False) -> float:
        """Ohm between two groups of places strapped together, infinite where nothing joins them.

        Raises KeyError for a place that there is not.
        """
        for place in (*a, *b):
            _ = self.places[place]
        starts, ends = ([f"at {place}" for place in group] for group in (a, b))
        beside = self._beside(moved=moved)
        near = _reached(beside, starts)
        if near.isdisjoint(ends):
            return math.inf
        edges = [(one, other, ohm) for one in near for other, ohm in beside.get(one, ()) if one < other]
        edges += [(group[0], place, _NO_OHM) for group in (starts, ends) for place in group[1:]]
        ohm = _between(edges, starts[0], ends[0])
        return math.inf if ohm > _OVER_OHM else ohm

    def _beside(self, *, moved: bool) -> dict[str, list[tuple[str, float]]]:
        """Node to the nodes beside it, each with the ohm between; what is open is not there."""
        known = self._known.get(moved)
        if known is None:
            known = self._known[moved] = {}
            edges = [
                (*self._ends(wire), max(self.copper[key] + self.joints[key], _NO_OHM))
                for key, wire in self.wires.items()
                if not (moved and key in self.loose)
            ]
            edges += [(f"at {one}", f"at {other}", ohm) for one, other, ohm in self.bridges]
            for one, other, ohm in edges:
                if not math.isinf(ohm):
                    known.setdefault(one, []).append((other, ohm))
                    known.setdefault(other, []).append((one, ohm))
        return known

    def links(self, place: str) -> dict[str, float]:
        """Every place that is joined with one, and the ohm between. Raises KeyError."""
        near = _reached(self._beside(moved=False), [f"at {self.places[place].name}"])
        others = {p: self.read((place,), (p,)) for p in self.places if p != place and f"at {p}" in near}
        return {p: ohm for p, ohm in others.items() if not math.isinf(ohm)}

    def _ends(self, wire: PluggedWire) -> tuple[str, str]:
        one, other = (
            f"at {self.sits.get(node, node)}" if node in self.places else node for node in (wire.a, wire.b)
        )
        return one, other


def _reached(beside: dict[str, list[tuple[str, float]]], starts: Sequence[str]) -> set[str]:
    """Every node that is joined with any of these."""
    near, queue = set(starts), list(starts)
    while queue:
        for other, _ in beside.get(queue.pop(), ()):
            if other not in near:
                near.add(other)
                queue.append(other)
    return near


def _between(edges: Iterable[tuple[str, str, float]], start: str, end: str) -> float:
    """Ohm between two nodes of a network by nodal analysis: a current of 1 A in at one, out at the other."""
    beside: dict[str, list[tuple[str, float]]] = {}
    for one, other, ohm in edges:
        if not math.isinf(ohm):
            beside.setdefault(one, []).append((other, 1 / ohm))
            beside.setdefault(other, []).append((one, 1 / ohm))
    at = {start: 0}
    queue = [start]
    while queue:
        for other, _ in beside.get(queue.pop(), ()):
            if other not in at:
                at[other] = len(at)
                queue.append(other)
    if end not in at:
        return math.inf
    if len(at) == 1:
        return 0.0
    matrix = np.zeros((len(at), len(at)))
    for node, n in at.items():
        for other, siemens in beside.get(node, ()):
            matrix[n, n] += siemens
            matrix[n, at[other]] -= siemens
    # Volts are counted from the far node: its row and column are left out.
    keep = [n for node, n in at.items() if node != end]
    current = np.zeros(len(at))
    current[at[start]] = 1.0
    volts = np.linalg.solve(matrix[np.ix_(keep, keep)], current[keep])
    return float(volts[keep.index(at[start])])


@dataclass(slots=True)
class CableTester:
    """The tester: what is plugged into it, what is wrong with it and with that."""

    faults: tuple[str, ...] = ()
    late_s: float = 0.0
    """How long it takes for each answer."""
    drops_after: int | None = None
    """It hangs up once after so many answers."""
    noisy: bool = False
    """It sends nonsense between its answers."""
    seed: int = 1
    harness: PluggedHarness | None = None
    _answers: int = 0
    _lock: threading.Lock = field(default_factory=threading.Lock)

    def answer(self, line: str) -> str:
        """The answer to any command but PLUG."""
        words = line.split()
        if words[:1] == ["HELLO"]:
            return "TESTER 1 SIMULATED"
        if self.harness is None:
            return "NOTHING"
        try:
            if words[0] in ("READ", "MOVE") and len(words) == 3:
                groups = [w.split("&") for w in words[1:]]
                ohm = self.harness.read(groups[0], groups[1], moved=words[0] == "MOVE")
                return f"{line} {'OPEN' if math.isinf(ohm) else f'{ohm:.6g}'}"
            if words[0] == "LINKS" and len(words) == 2:
                links = self.harness.links(words[1])
                return " ".join([line, *(f"{place}:{ohm:.6g}" for place, ohm in links.items())])
        except KeyError as error:
            return f"UNKNOWN {error.args[0]}"
        return "WHAT"

    def plug(self, lines: Sequence[str]) -> str:
        """Plug a harness in."""
        wires, places = [], []
        try:
            for line in lines:
                sort, *words = line.split()
                if sort == "W":
                    wires.append(PluggedWire(words[0], words[1], words[2], *(float(w) for w in words[3:6])))
                else:
                    places.append(PluggedPlace(words[0], words[1], float(words[2]), float(words[3])))
            self.harness = PluggedHarness(wires, places, self.faults, self.seed)
        except BadFault as error:
            return f"REFUSED {error}"
        except (ValueError, IndexError):
            return "REFUSED line"
        return f"PLUGGED {len(wires)}"

    def hangs_up(self) -> bool:
        """Whether it drops the line now."""
        with self._lock:
            self._answers += 1
            if self.drops_after is not None and self._answers > self.drops_after:
                self.drops_after = None
                return True
            return False


class _Handler(socketserver.StreamRequestHandler):
    def handle(self) -> None:
        tester: CableTester = self.server.tester  # type: ignore[attr-defined]
        while line := self._line():
            words = line.split()
            if words[0] == "PLUG" and len(words) == 3 and words[1].isdigit() and words[2].isdigit():
                count = min(int(words[1]) + int(words[2]), _LINES_AT_MOST)
                lines = [self._line() for _ in range(count)]
                answer = tester.plug(lines) if self._line() == "END" else "REFUSED what"
            else:
                answer = tester.answer(line)
            if tester.hangs_up():
                return
            time.sleep(tester.late_s)
            noise = "~#@ 17\n" if tester.noisy else ""
            self.wfile.write(f"{noise}{answer}\n".encode())

    def _line(self) -> str:
        return self.rfile.readline(_LETTERS_AT_MOST).decode("utf-8", "replace").strip()


class _Server(socketserver.ThreadingTCPServer):
    allow_reuse_address = True
    daemon_threads = True


def serve_tester(tester: CableTester, port: int) -> tuple[_Server, int]:
    """Serve a tester on 127.0.0.1 in a thread of its own; the server, and its port. Raises OSError."""
    server = _Server(("127.0.0.1", port), _Handler)
    server.tester = tester  # type: ignore[attr-defined]
    threading.Thread(target=server.serve_forever, daemon=True).start()
    return server, int(server.server_address[1])
