"""Sending label jobs to the printer, one after the other, beside what the screen asks for."""

from __future__ import annotations

import socket
from contextlib import suppress
from typing import Any

from inkthread.core.record import record
from inkthread.storage.prints import Prints, PrintState
from inkthread.storage.shop import NotInShop
from inkthread.web.in_turn import InTurn

DEFAULT_PORT = 9137
PATIENCE_S = 3.0
"""How long an answer is waited for."""
_ANSWER_AT_MOST = 200


class NoPrinter(Exception):
    """Nothing answers at the printer's port. The message says so in words."""


class Late(Exception):
    """It did not answer in time: what became of the job is not known."""


@record
class PrinterStatus:
    """What the printer says of itself."""

    there: bool
    jammed: bool = False
    sleeve: str = ""
    left_mm: float = 0.0


class PrinterLine:
    """The wire to the printer: a line asked, a line answered."""

    def __init__(self, port: int, patience_s: float = PATIENCE_S) -> None:
        self.port = port
        self._patience_s = patience_s

    def ask(self, text: str) -> str:
        """Send text and read one line. Raises NoPrinter where nothing answers, Late where it is slow."""
        try:
            with socket.create_connection(("127.0.0.1", self.port), self._patience_s) as wire:
                wire.sendall(f"{text}\n".encode())
                answer = b""
                while not answer.endswith(b"\n") and len(answer) < _ANSWER_AT_MOST:
                    more = wire.recv(_ANSWER_AT_MOST)
                    if not more:
                        break
                    answer += more
        except ConnectionError:
            raise NoPrinter(f"No printer answers at port {self.port}.") from None
        except TimeoutError:
            raise Late("The printer did not answer in time.") from None
        except OSError as error:
            raise NoPrinter(f"The printer cannot be reached: {error.strerror or error}.") from None
        if not answer:
            raise Late("The printer hung up.")
        return answer.decode("utf-8", "replace").strip()

    def status(self) -> PrinterStatus:
        """What is loaded and how much of it is left."""
        try:
            word, sleeve, left = self.ask("STATUS").split()
            return PrinterStatus(True, word == "JAMMED", sleeve, float(left))
        except (NoPrinter, Late, ValueError):
            return PrinterStatus(False)

    def send(self, job: dict[str, Any], *, asked_before: bool) -> tuple[PrintState, str]:
        """Print a job, and never twice: one of which nothing is known is asked after first."""
        number = str(job["id"])
        try:
            if asked_before and self.ask(f"ASK {number}").startswith("PRINTED"):
                return "printed", ""
            lines = [f"JOB {number} {job['sleeve']} {len(job['labels'])}"]
            lines += [_strip(own) for own in job["labels"]]
            return _outcome(self.ask("\n".join([*lines, "END"])))
        except NoPrinter as error:
            return "refused", str(error)
        except Late as error:
            return "not known", f"{error} It is asked after before it is sent again."


def _strip(label: dict[str, Any]) -> str:
    """A label in a line of a job: a tab stands before what its square code says."""
    square = f"\t{label['square']}" if label.get("square") else ""
    return f"{label['length_mm']:g} {label['letters_mm']:g} {label['text']}{square}"


def _outcome(answer: str) -> tuple[PrintState, str]:
    """The printer's answer to a job, in words."""
    word, _, rest = answer.partition(" ")
    if word == "PRINTED":
        return "printed", ""
    what, _, figure = rest.partition(" ")
    said = {
        "jam": "The sleeve is jammed. Clear it, then send it again.",
        "sleeve": f"{figure} is loaded. Load the cassette of this job, then send it again.",
        "short": f"The cassette is {figure} mm short. Load a new one, then send it again.",
    }
    return "refused", said.get(what, f"The printer does not understand the job ({answer[:60]}).")


class Printing:
    """The queue's worker: takes what waits, in order, in a thread of its own."""

    def __init__(self, prints: Prints, line: PrinterLine) -> None:
        self.prints, self.line = prints, line
        self._unsure: set[int] = set()
        self._turn = InTurn()

    def go(self) -> None:
        """See to what waits."""
        self._turn.do(self._work)

    def again(self, job_id: int) -> None:
        """Send a job again. Raises NotInShop."""
        self._unsure.add(job_id)
        self.prints.mark(job_id, "waiting")
        self.go()

    def wait(self) -> None:
        """Until nothing waits any more."""
        self._turn.wait()

    def _work(self) -> None:
        while waiting := self.prints.waiting():
            job = waiting[0]
            state, says = self.line.send(job, asked_before=job["id"] in self._unsure)
            if state == "not known":
                self._unsure.add(job["id"])
            with suppress(NotInShop):  # taken out meanwhile
                self.prints.mark(job["id"], state, says)
