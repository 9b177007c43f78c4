"""What a continuity tester is asked over TCP on 127.0.0.1, and how its answers are read."""

from __future__ import annotations

import socket
from collections.abc import Iterator
from types import TracebackType
from typing import Protocol

from inkthread.core.prove.harness import MeasuredHarness
from inkthread.core.prove.plan import PlanRow
from inkthread.core.prove.readings import OPEN_OHM, Reading

HOST = "127.0.0.1"
DEFAULT_PORT = 9139
STAND_IN = "TESTER 1 SIMULATED"
"""What one says that has to be told what is plugged into it."""
_PATIENCE_S = 5.0
_NONSENSE_AT_MOST = 20
"""Lines that are no answer, before the tester is given up."""
_LETTERS_AT_MOST = 200_000


class TroubleAtTester(OSError):
    """The tester cannot be reached, hangs up, or talks nonsense. The message says which."""


class Answers(Protocol):
    """Whatever reads a harness."""

    def read(self, a: tuple[str, ...], b: tuple[str, ...], *, moved: bool = False) -> float:
        """Ohm between two groups of places."""
        ...

    def links(self, place: str) -> dict[str, float]:
        """Everything that a place is joined with, in ohm."""
        ...


class LineToTester:
    """A line to a tester. Close it, or use it in a ``with``."""

    def __init__(self, port: int, host: str = HOST, patience_s: float = _PATIENCE_S) -> None:
        """Raises TroubleAtTester where nothing answers."""
        try:
            self._socket = socket.create_connection((host, port), timeout=patience_s)
        except OSError as error:
            raise TroubleAtTester(f"No tester answers at port {port}: {error}.") from error
        self._file = self._socket.makefile("rb")
        self.hello = self.ask("HELLO", "TESTER")

    def __enter__(self) -> LineToTester:
        return self

    def __exit__(
        self, kind: type[BaseException] | None, error: BaseException | None, trace: TracebackType | None
    ) -> None:
        self._file.close()
        self._socket.close()

    def ask(self, line: str, begins: str = "") -> str:
        """Its answer: the first line that begins as it should. Raises TroubleAtTester."""
        begins = begins or line
        try:
            self._socket.sendall(f"{line}\n".encode())
            said = ""
            for _ in range(_NONSENSE_AT_MOST):
                answer = self._file.readline(_LETTERS_AT_MOST).decode("utf-8", "replace")
                if not answer:
                    raise TroubleAtTester("The tester has hung up. What was read is kept.")
                said = answer.strip()
                if said.startswith(begins):
                    return said
                if said.startswith(("UNKNOWN", "REFUSED", "NOTHING", "WHAT")):
                    raise TroubleAtTester(f"The tester answers {said!r} to {line[:60]!r}.")
        except TimeoutError as error:
            raise TroubleAtTester("The tester does not answer in time. What was read is kept.") from error
        except TroubleAtTester:
            raise
        except OSError as error:
            raise TroubleAtTester(
                f"The line to the tester is gone: {error}. What was read is kept."
            ) from error
        raise TroubleAtTester(f"The tester talks nonsense: {said[:60]!r}. What was read is kept.")

    def plug(self, harness: MeasuredHarness) -> None:
        """Tell a stand-in what is plugged into it; a tester of metal knows. Raises TroubleAtTester."""
        if self.hello.startswith(STAND_IN):
            self.ask("\n".join(plugged_lines(harness)), "PLUGGED")

    def read(self, a: tuple[str, ...], b: tuple[str, ...], *, moved: bool = False) -> float:
        """Ohm between two groups of places. Raises TroubleAtTester."""
        line = f"{'MOVE' if moved else 'READ'} {'&'.join(a)} {'&'.join(b)}"
        return _ohm(self.ask(line).removeprefix(line))

    def links(self, place: str) -> dict[str, float]:
        """Everything that a place is joined with, in ohm. Raises TroubleAtTester."""
        line = f"LINKS {place}"
        pairs = (word.rpartition(":") for word in self.ask(line).removeprefix(line).split())
        return {other: _ohm(ohm) for other, _, ohm in pairs}


def _ohm(word: str) -> float:
    word = word.strip()
    if word == "OPEN":
        return OPEN_OHM
    try:
        value = float(word)
    except ValueError as error:
        raise TroubleAtTester(f"The tester reads {word[:40]!r}, which is no resistance.") from error
    if not 0 <= value < OPEN_OHM:
        raise TroubleAtTester(f"The tester reads {word[:40]!r}, which is no resistance.")
    return value


def plugged_lines(harness: MeasuredHarness) -> list[str]:
    """A harness as it is told to a stand-in."""
    places = sorted(harness.places)
    lines = [f"PLUG {len(harness.wires)} {len(places)}"]
    for wire in harness.wires.values():
        copper, joints = wire.ohms.minus(wire.joints), wire.joints.most
        nodes = " ".join(node.replace(" ", "_") for node in (wire.a, wire.b))
        lines.append(f"W {wire.key} {nodes} {copper.least:.9g} {copper.most:.9g} {joints:.9g}")
    for place in places:
        x, y = harness.face_mm.get(place, (0.0, 0.0))
        lines.append(f"P {place} {harness.connector_of[place]} {x:g} {y:g}")
    return [*lines, "END"]


def read_rows(tester: Answers, rows: list[PlanRow]) -> Iterator[Reading]:
    """Read rows in ohm, one after another; where two groups are joined, which of their places are.

    Raises TroubleAtTester; what was read before has been given by then.
    """
    linked: set[str] = set()
    for row in rows:
        if not row.by_ohm or row.kind == "insulation":
            continue
        ohm = tester.read(row.a, row.b, moved=row.moved)
        yield Reading(row.a, row.b, ohm, row.moved, row.id)
        apart = row.high_ohm is None
        wrong = ohm < (row.low_ohm or 0.0) if apart else ohm == OPEN_OHM
        if not wrong or row.moved:
            continue
        ask_of = [p for p in (*row.a, *row.b) if p not in linked] if len(row.a) == 1 else []
        for place in ask_of[:2] if not apart else ask_of[:1]:
            linked.add(place)
            for other, between in tester.links(place).items():
                yield Reading((place,), (other,), between)
