"""The cyclic garbage collector, held by the program around the core: its business is not the core's."""

from __future__ import annotations

import gc

_NEW_OBJECTS = 60_000
_ROUNDS = 20, 50


def collect_seldom() -> None:
    """Let what was made so far stay unlooked at, and look for cycles at large intervals.

    An evaluation makes many objects and hardly a cycle; at the usual intervals a fifth of the time of a large
    harness goes to the collector.
    """
    gc.freeze()
    gc.set_threshold(_NEW_OBJECTS, *_ROUNDS)
    gc.enable()
