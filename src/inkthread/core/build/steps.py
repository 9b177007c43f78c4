"""Every step of a harness, from the first cut to the last label."""

from __future__ import annotations

from inkthread.core.build.bundles import dress_steps, thread_steps
from inkthread.core.build.ends import end_steps
from inkthread.core.build.operations import Maker, Operation, Rooms
from inkthread.core.build.pieces import cut_steps, splice_steps


def steps_of(rooms: Rooms) -> dict[str, Operation]:
    """Every step by its id, each with what has to be done before it."""
    maker = Maker(rooms)
    cut_steps(maker)
    splice_steps(maker)
    thread_steps(maker)
    end_steps(maker)
    dress_steps(maker)
    return maker.made
