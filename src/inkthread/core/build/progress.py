"""How far the work is: what is left, and what is to be done again where something was spoiled."""

from __future__ import annotations

from collections.abc import Collection, Mapping

from inkthread.core.build.operations import Operation
from inkthread.core.build.order import BuildPlan
from inkthread.core.build.times import ENOUGH, Learned

_FROM_STRIP = (
    "strip",
    "open-clamp",
    "crimp",
    "solder",
    "solder-sleeve",
    "weld",
    "clamp",
    "strands",
    "tug",
    "shrink-barrel",
    "insert",
    "home",
)


def minutes_left(
    plan: BuildPlan, done: Collection[str], learned: Mapping[str, Learned] | None = None
) -> float:
    """Minutes of what is not done: the shop's own where enough were timed, else standard."""
    known = {name: own.minutes for name, own in (learned or {}).items() if own.timed >= ENOUGH}
    return round(
        sum(
            own.times * known[own.timed] if own.timed in known else own.minutes
            for step, own in plan.operations.items()
            if step not in done
        ),
        1,
    )


def again_after(steps: Mapping[str, Operation], spoiled: str) -> tuple[str, ...]:
    """The steps that are done again when what a step was done to is spoiled, from the strip on.

    A spoiled contact is cut off: its end is stripped, made and put in anew. A spoiled splice is made anew.
    Any other step is only done again itself.
    """
    own = steps[spoiled]
    if own.end:
        return tuple(
            s
            for s, o in steps.items()
            if o.end == own.end and o.wires[:1] == own.wires[:1] and o.work in _FROM_STRIP
        )
    if own.card.startswith("splice "):
        return tuple(s for s, o in steps.items() if o.card == own.card and o.kind != "thread")
    return (spoiled,)


def taken_out(steps: Mapping[str, Operation], step: str) -> tuple[str, ...]:
    """The steps that are done again when a contact was taken out of its cavity: in, and tugged."""
    own = steps[step]
    return tuple(
        s
        for s, o in steps.items()
        if (o.place, o.cavity) == (own.place, own.cavity) and o.work in ("insert", "home")
    )
