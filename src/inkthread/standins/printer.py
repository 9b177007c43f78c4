"""A simulated printer of label sleeve: one cassette, a text protocol over TCP on 127.0.0.1, and its faults.

A line a command, answered by a line::

    STATUS                     READY LS-1/4 1500 | JAMMED LS-1/4 1500
    LOAD LS-3/8 1500           LOADED LS-3/8 1500
    CLEAR                      CLEARED
    ASK 17                     PRINTED 17 | UNKNOWN 17
    JOB 17 LS-1/4 2            (then a line a label: length mm, letters mm, text, and after a tab
                               what a square code beside it says; END)
                               PRINTED 17 1458 | REFUSED sleeve LS-1/4 | REFUSED short 12 | REFUSED jam

A job is printed whole or not at all, and one that was printed is never printed again. Every strip is kept as
PNG and PDF.
"""

from __future__ import annotations

import socketserver
import threading
import time
from dataclasses import dataclass, field
from pathlib import Path

from inkthread.core.record import record

DOTS_PER_MM = 8
"""203 dots an inch."""
FEED_MM = 4.0
"""Sleeve fed for each label beside its length."""
CASSETTE_MM = 1500.0
_LINES_AT_MOST = 20_000
_SQUARE_MM = 8.0
"""A strip with a square code is printed so high at least."""
_LETTERS_AT_MOST = 400


@record
class Strip:
    """One label of a job. Lengths in mm; lines of its text between `` / ``."""

    length_mm: float
    letters_mm: float
    text: str
    square: str = ""


@dataclass(slots=True)
class LabelPrinter:
    """The printer: what is loaded, what is left of it, what is wrong with it."""

    folder: Path
    """Where the strips are kept."""
    sleeve: str = "LS-1/4"
    left_mm: float = CASSETTE_MM
    jammed: bool = False
    late_s: float = 0.0
    """How long it takes to answer after it has printed."""
    printed: dict[str, int] = field(default_factory=dict)
    """Job to the labels that were printed of it."""
    _lock: threading.Lock = field(default_factory=threading.Lock)

    def command(self, line: str) -> str:
        """The answer to any command but a job."""
        word, *rest = line.split()
        if word == "STATUS":
            return f"{'JAMMED' if self.jammed else 'READY'} {self.sleeve} {self.left_mm:.0f}"
        if word == "LOAD" and len(rest) == 2:
            self.sleeve, self.left_mm = rest[0], float(rest[1])
            return f"LOADED {self.sleeve} {self.left_mm:.0f}"
        if word == "CLEAR":
            self.jammed = False
            return "CLEARED"
        if word == "ASK" and len(rest) == 1:
            return f"{'PRINTED' if rest[0] in self.printed else 'UNKNOWN'} {rest[0]}"
        return "WHAT"

    def job(self, job: str, sleeve: str, strips: list[Strip]) -> str:
        """Print a job whole, or say why not."""
        with self._lock:
            if job in self.printed:
                return f"PRINTED {job} {self.left_mm:.0f}"
            if self.jammed:
                return "REFUSED jam"
            if sleeve != self.sleeve:
                return f"REFUSED sleeve {self.sleeve}"
            needed = sum(strip.length_mm + FEED_MM for strip in strips)
            if needed > self.left_mm:
                return f"REFUSED short {needed - self.left_mm:.0f}"
            for n, strip in enumerate(strips, 1):
                draw(strip, self.folder / f"job-{job}-{n}")
            self.left_mm -= needed
            self.printed[job] = len(strips)
            answer = f"PRINTED {job} {self.left_mm:.0f}"
        time.sleep(self.late_s)
        return answer


def draw(strip: Strip, path: Path) -> None:
    """A strip as it comes out, as PNG and PDF beside each other."""
    from PIL import Image, ImageDraw, ImageFont

    path.parent.mkdir(parents=True, exist_ok=True)
    lines = strip.text.split(" / ")
    high = strip.letters_mm * (1.5 * len(lines) + 0.5)
    high = max(high, _SQUARE_MM) if strip.square else high
    size = max(round(strip.length_mm * DOTS_PER_MM), 1), max(round(high * DOTS_PER_MM), 1)
    image = Image.new("1", size, 1)
    pen = ImageDraw.Draw(image)
    font = ImageFont.load_default(size=strip.letters_mm * DOTS_PER_MM * 1.3)
    beside = 0
    if strip.square:
        import segno

        code = segno.make(strip.square, error="m", micro=False)
        rows = list(code.matrix_iter(border=2))
        dot = max(size[1] // len(rows), 1)
        beside = dot * len(rows)
        for y, row in enumerate(rows):
            for x, dark in enumerate(row):
                if dark:
                    pen.rectangle((x * dot, y * dot, (x + 1) * dot - 1, (y + 1) * dot - 1), fill=0)
    for n, line in enumerate(lines):
        pen.text(
            ((size[0] + beside) / 2, size[1] * (n + 0.5) / len(lines)), line, fill=0, font=font, anchor="mm"
        )
    dots = DOTS_PER_MM * 25.4
    image.save(path.with_suffix(".png"), dpi=(dots, dots))
    image.convert("L").save(path.with_suffix(".pdf"), resolution=dots)


class _Handler(socketserver.StreamRequestHandler):
    def handle(self) -> None:
        printer: LabelPrinter = self.server.printer  # type: ignore[attr-defined]
        while line := self._line():
            words = line.split()
            if words[0] == "JOB" and len(words) == 4 and words[3].isdigit():
                answer = self._job(printer, words[1], words[2], int(words[3]))
            else:
                answer = printer.command(line)
            self.wfile.write(f"{answer}\n".encode())

    def _line(self) -> str:
        return self.rfile.readline(_LETTERS_AT_MOST).decode("utf-8", "replace").strip()

    def _job(self, printer: LabelPrinter, job: str, sleeve: str, count: int) -> str:
        strips: list[Strip] = []
        while len(strips) < min(count, _LINES_AT_MOST):
            length, letters, text = [*self._line().split(" ", 2), "", ""][:3]
            try:
                words, _, square = text.partition("\t")
                strips.append(Strip(float(length), float(letters), words, square))
            except ValueError:
                return "REFUSED what"
        return printer.job(job, sleeve, strips) if self._line() == "END" else "REFUSED what"


class _Server(socketserver.ThreadingTCPServer):
    allow_reuse_address = True
    daemon_threads = True


def serve_printer(printer: LabelPrinter, port: int) -> tuple[_Server, int]:
    """Serve a printer on 127.0.0.1 in a thread of its own; the server, and its port. Raises OSError."""
    server = _Server(("127.0.0.1", port), _Handler)
    server.printer = printer  # type: ignore[attr-defined]
    threading.Thread(target=server.serve_forever, daemon=True).start()
    return server, int(server.server_address[1])
