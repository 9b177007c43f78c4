"""Long studies beside the server: few processes, progress, given up when nobody waits for them."""

from __future__ import annotations

import multiprocessing
import sys
import threading
import time
from collections import OrderedDict
from collections.abc import Callable
from contextlib import suppress
from dataclasses import dataclass, field
from multiprocessing.connection import Connection
from multiprocessing.process import BaseProcess
from typing import Any

from inkthread.core.document import Problem
from inkthread.core.record import record
from inkthread.web import study_work
from inkthread.web.study_work import Material, Task

AT_ONCE = 2
"""Processes, one a core of a small machine."""
MOST_WAITING = 24
GIVEN_UP_S = 3.0
"""Seconds without being asked for, after which nobody waits any more."""
_ANSWERED_S = 0.15
"""Seconds for which a request waits for its answer, before it says how far the study is."""
_RESULTS_KEPT = 64
_LOOKED_S = 0.1


class Busy(Exception):
    """Too many studies wait."""


@record
class Answer:
    """A study, or how far it is."""

    done: bool
    value: Any = None
    share: float = 0.0
    failed: str = ""
    unreadable: tuple[Problem, ...] = ()
    """What is wrong with the harness, where it cannot be read."""


@dataclass(eq=False, slots=True)
class _Run:
    task: Task
    material: Callable[[], Material]
    asked_at: float
    share: float = 0.0
    answer: Answer | None = None
    outdated: bool = False
    over: threading.Event = field(default_factory=threading.Event)

    def unwanted(self) -> bool:
        return self.outdated or time.monotonic() - self.asked_at > GIVEN_UP_S


@dataclass(eq=False, slots=True)
class _Worker:
    process: BaseProcess
    connection: Connection
    design: str = ""


def _context() -> Any:
    """Processes of their own that begin quickly where the platform can: a fork of a small server."""
    if sys.platform == "linux":
        context = multiprocessing.get_context("forkserver")
        context.set_forkserver_preload([study_work.__name__])
        return context
    return multiprocessing.get_context("spawn")


class Studies:
    """Studies under way and the newest that were answered."""

    def __init__(self, at_once: int = AT_ONCE) -> None:
        self._context = _context()
        self._slots = threading.Semaphore(at_once)
        self._lock = threading.Lock()
        self._idle: list[_Worker] = []
        self._runs: dict[Task, _Run] = {}
        self._answers: OrderedDict[Task, Answer] = OrderedDict()

    def ask(self, task: Task, material: Callable[[], Material]) -> Answer:
        """The study if it is there or comes at once, else how far it is. Ask again to keep it going.

        A study of an older version of the same harness is given up. Raises Busy.
        """
        with self._lock:
            known = self._answers.get(task)
            if known is not None:
                self._answers.move_to_end(task)
                return known
            design, version, stamp = task.key
            for other in self._runs.values():
                theirs = other.task.key
                if theirs[0] == design and (theirs[1] < version or theirs[2] != stamp):
                    other.outdated = True
            run = self._runs.get(task)
            if run is None:
                if len(self._runs) >= MOST_WAITING:
                    raise Busy
                run = self._runs[task] = _Run(task, material, time.monotonic())
                threading.Thread(target=self._tend, args=(run,), daemon=True).start()
            run.asked_at = time.monotonic()
        run.over.wait(_ANSWERED_S)
        return run.answer or Answer(False, share=run.share)

    def warm(self) -> None:
        """Begin a process before the first study is asked for."""
        with self._lock:
            if not self._idle:
                self._idle.append(self._begun())

    def close(self) -> None:
        """Give up all that is under way."""
        with self._lock:
            for run in self._runs.values():
                run.outdated = True
            workers, self._idle = self._idle, []
        for worker in workers:
            worker.connection.close()
            worker.process.terminate()
            worker.process.join()

    def under_way(self) -> int:
        """Studies that are worked out or wait."""
        with self._lock:
            return len(self._runs)

    def _begun(self) -> _Worker:
        ours, theirs = self._context.Pipe()
        process = self._context.Process(target=study_work.work, args=(theirs,), daemon=True)
        process.start()
        theirs.close()
        return _Worker(process, ours)

    def _taken(self, design: str) -> _Worker:
        """A process that is free, rather one that has had this harness before."""
        with self._lock:
            self._idle = [w for w in self._idle if w.process.is_alive()]
            self._idle.sort(key=lambda w: w.design == design)
            worker = self._idle.pop() if self._idle else None
        worker = worker or self._begun()
        worker.design = design
        return worker

    def _tend(self, run: _Run) -> None:
        """See a study through, on a thread of its own."""
        got = False
        while not got and not run.unwanted():
            got = self._slots.acquire(timeout=_LOOKED_S)
        try:
            answer = self._worked(run) if got else None
        except Exception as error:  # whatever became of the process, who waits is told
            answer = Answer(True, failed=f"{type(error).__name__}: {error}")
        if got:
            self._slots.release()
        with self._lock:
            del self._runs[run.task]
            if answer is not None and not answer.failed:
                self._answers[run.task] = answer
                while len(self._answers) > _RESULTS_KEPT:
                    self._answers.popitem(last=False)
            run.answer = answer
        run.over.set()

    def _worked(self, run: _Run) -> Answer | None:
        """The answer; None where it was given up, and its process with it."""
        worker = self._taken(run.task.key[0])
        answer = None
        try:
            worker.connection.send(run.task)
            while answer is None and not run.unwanted():
                if not worker.connection.poll(_LOOKED_S):
                    continue
                what, value = worker.connection.recv()
                if what == "need":
                    worker.connection.send(run.material())
                elif what == "share":
                    run.share = value
                elif what == "done":
                    answer = Answer(True, value)
                elif what == "unreadable":
                    answer = Answer(True, unreadable=tuple(value))
                else:
                    answer = Answer(True, failed=str(value))
        finally:
            if answer is not None:
                with self._lock:
                    self._idle.append(worker)
            else:
                with suppress(OSError):
                    worker.connection.close()
                worker.process.terminate()
                worker.process.join()
        return answer
