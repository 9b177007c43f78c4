"""Work that goes on beside the requests, one thing after the other."""

from __future__ import annotations

import logging
import threading
from collections import deque
from collections.abc import Callable


class InTurn:
    """A thread that does what it is given, in order. It ends with the server and has nothing to keep."""

    def __init__(self) -> None:
        self._waiting: deque[Callable[[], None]] = deque()
        self._lock = threading.Lock()
        self._thread: threading.Thread | None = None

    @property
    def busy(self) -> bool:
        """Whether something is being done or waits."""
        return self._thread is not None

    def do(self, work: Callable[[], None], *, or_leave: bool = False) -> None:
        """Do this after all that waits; ``or_leave``: not at all where something is being done."""
        with self._lock:
            if or_leave and self._thread is not None:
                return
            self._waiting.append(work)
            if self._thread is None:
                self._thread = threading.Thread(target=self._go, daemon=True)
                self._thread.start()

    def wait(self) -> None:
        """Until nothing is to be done any more."""
        while (thread := self._thread) is not None:
            thread.join()

    def _go(self) -> None:
        while True:
            with self._lock:
                if not self._waiting:
                    self._thread = None
                    return
                work = self._waiting.popleft()
            try:
                work()
            except Exception:
                logging.getLogger(__name__).exception("What was to be done beside the requests failed.")
