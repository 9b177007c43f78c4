"""What is shown of the circuits, and how they open."""

from __future__ import annotations

from inkthread.core.circuits.facts import CircuitsResult
from inkthread.core.document.types import Document
from inkthread.core.memo import Memo
from inkthread.core.opening import Opening, Progress, linked, many
from inkthread.core.record import record
from inkthread.core.words import some_in_words

_NAMED = 3


@record
class CircuitView:
    """A circuit: role, current through it, the fuse that protects it."""

    role: str
    carries_a: float
    fuse: str | None


@record
class FuseView:
    """A fuse: load, rating, whether fixed, and its part code."""

    device: str
    path: str
    load_a: float
    rating_a: float
    fixed: bool
    code: str | None


@record
class CircuitsView:
    """Circuits and fuses by key."""

    circuits: dict[str, CircuitView]
    fuses: dict[str, FuseView]


def circuits_view(result: CircuitsResult, memo: Memo) -> CircuitsView:
    """The circuits as they are sent."""
    facts = list(result.circuits.values())
    return CircuitsView(
        memo.row_by_row(
            CircuitView,
            tuple(result.circuits),
            (facts,),
            lambda rows: (
                CircuitView(facts[i].role, round(facts[i].carries_a, 6), facts[i].fuse) for i in rows
            ),
        ),
        {
            k: FuseView(
                f.device, f.path, round(f.load_a, 6), f.rating_a, f.fixed, f.part.code if f.part else None
            )
            for k, f in result.fuses.items()
        },
    )


def circuits_opening(words: dict[str, str], document: Document, result: CircuitsResult) -> Opening:
    """What is connected, what it draws, and the feeds that no fuse protects."""
    c = document.circuits
    if not c.devices:
        return Opening("empty", len(c.circuits), words["none"])
    progress: Progress = "full" if c.circuits else "begun"
    sentence = words["drawn"].format(
        devices=many(len(c.devices), "device"),
        circuits=many(len(c.circuits), "circuit"),
        drawn=f"{sum(load.current_a for load in c.loads.values()):.3g}",
        fuses=many(len(result.fuses), "fuse"),
    )
    bare = dict.fromkeys(loop.device for loop in result.loops if not loop.fuses and loop.current_a > 0)
    if bare:
        named = [linked(f"circuits?at={d}", f"{d} {c.devices[d].name}".strip()) for d in bare]
        sentence += words["one bare" if len(bare) == 1 else "bare"].format(
            feeds=many(len(bare), "feed"), devices=some_in_words(named, _NAMED)
        )
    return Opening(progress, len(c.circuits), sentence)
