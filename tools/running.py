"""The program as a process of its own."""

from __future__ import annotations

import contextlib
import json
import os
import re
import signal
import subprocess
import sys
import urllib.request
from collections.abc import Iterator
from pathlib import Path
from typing import Any


class Running:
    """The program as a process of its own."""

    def __init__(self, data: Path, *, wait: bool = True) -> None:
        self.process = subprocess.Popen(
            [sys.executable, "-m", "inkthread.cli", "serve", "--port", "0", "--data", str(data)],
            stdout=subprocess.PIPE,
            stderr=subprocess.DEVNULL,
            text=True,
            env={k: v for k, v in os.environ.items() if k != "PYTHONDONTWRITEBYTECODE"},
        )
        self.base = ""
        if wait:
            assert self.process.stdout is not None
            match = re.search(r"http://127\.0\.0\.1:\d+", self.process.stdout.readline())
            assert match is not None
            self.base = match[0]

    def ask(self, path: str, method: str = "GET", body: object = None, if_match: object = None) -> Any:
        data = json.dumps(body).encode() if body is not None else None
        request = urllib.request.Request(self.base + path, data, method=method)
        if method != "GET":
            request.add_header("Content-Type", "application/json")
        if if_match is not None:
            request.add_header("If-Match", f'"{if_match}"')
        with urllib.request.urlopen(request, timeout=120) as reply:
            return json.loads(reply.read() or b"null") if reply.status != 304 else None

    def kill(self) -> None:
        with contextlib.suppress(ProcessLookupError):
            os.kill(self.process.pid, signal.SIGKILL)
        self.process.communicate(timeout=20)

    def stop(self) -> None:
        self.process.terminate()
        self.process.communicate(timeout=20)


@contextlib.contextmanager
def running(data: Path) -> Iterator[Running]:
    program = Running(data)
    try:
        yield program
    finally:
        program.stop()
