"""Memory: the cyclic garbage collector and the heap, held by the program around the core, whose business they
are not.
"""

from __future__ import annotations

import ctypes
import gc
import sys

_NEW_OBJECTS = 400_000
"""More than an evaluation of 5,000 wires makes."""
_ROUNDS = 5, 20


def collect_seldom() -> None:
    """Let what was made so far stay unlooked at, and look for cycles at large intervals.

    An evaluation makes many objects and no cycle; at the usual intervals a fifth of the time of a large
    harness goes to the collector.
    """
    gc.freeze()
    gc.set_threshold(_NEW_OBJECTS, *_ROUNDS)
    gc.enable()


_ARENAS, _TRIMMED_FROM = -8, -1
"""Of mallopt(3): M_ARENA_MAX and M_TRIM_THRESHOLD."""


def share_one_heap() -> None:
    """Let all threads take large pieces of memory from one heap, and give back what is free at its end.

    With a heap a thread, as the C library has it, each keeps what its largest evaluation took: twice as
    much after some edits. Before the first thread begins, of numpy's too: later it has no effect. Where there
    is no mallopt nothing is done.
    """
    if not sys.platform.startswith("linux"):
        return
    mallopt = getattr(ctypes.CDLL(None), "mallopt", None)
    if mallopt is not None:
        mallopt(_ARENAS, 1)
        mallopt(_TRIMMED_FROM, 1 << 17)
