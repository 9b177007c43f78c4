"""Crimps that one relies on, made by hands that have not shown yet that theirs hold."""

from __future__ import annotations

from collections.abc import Collection, Iterable, Mapping

from inkthread.core.brief import BriefResult
from inkthread.core.build.operations import Operation, Rooms
from inkthread.core.findings import FindingBook, Place, phrase
from inkthread.core.words import some_in_words

_SHOWN = 6


def find_unpractised(
    rooms: Rooms,
    steps: Mapping[str, Operation],
    done_by: Iterable[tuple[str, str]],
    relied_on: Collection[str],
    shown: Mapping[tuple[str, str, str, str], float],
    book: FindingBook,
) -> None:
    """Crimps that are done, and by whom, at pins that one relies on, where the house rule asks for more than
    the hand has shown: ``shown`` has its least share of good crimps by who, contact, wire and tool.
    """
    asked = _asked(rooms.context.brief)
    if not asked:
        return
    short: dict[tuple[str, str, str], list[str]] = {}
    for step, who in done_by:
        own = steps.get(step)
        if own is None or own.work != "crimp" or own.end not in relied_on or not own.wires:
            continue
        sized = rooms.wire.wires[own.wires[0]]
        contact = rooms.ends.contacts[own.end, own.wires[0]].code
        wire = f"{sized.family} {sized.gauge}"
        if shown.get((who, contact, wire, own.tool), 0.0) < asked:
            short.setdefault((who, contact, wire), []).append(step)
    for (who, contact, wire), crimps in short.items():
        book.add(
            "hand-not-shown",
            *(Place("build", "step", step) for step in crimps[:_SHOWN]),
            who=who or phrase("nobody"),
            contact=contact,
            wire=wire,
            asked=f"{asked:.0%}",
            places=some_in_words([f"{steps[s].place}-{steps[s].cavity}" for s in crimps], _SHOWN),
        )


def _asked(brief: BriefResult) -> float:
    return brief.value("hands_percent") / 100
