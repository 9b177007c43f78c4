"""The prove room: what the plan of tests leaves out, and how the room opens."""

from __future__ import annotations

from inkthread.core.build import LOOKED_AT, Rooms
from inkthread.core.findings import FindingBook, Place
from inkthread.core.opening import Opening, many
from inkthread.core.prove.plan import NEVER, NOT_ASKED, data_pairs, moving_branches
from inkthread.core.route import Threaded
from inkthread.core.words import some_in_words

_SHOWN = 6


def prove_room(rooms: Rooms, book: FindingBook) -> None:
    """Find what the house rules leave unproved that should not be."""
    brief = rooms.context.brief
    if not rooms.wire.wires:
        return
    if int(brief.value("test_leads")) == NOT_ASKED:
        leads = [
            key
            for key, wire in rooms.wire.wires.items()
            if rooms.wire.families[wire.family].resistance_max_ohm_per_m is not None
        ]
        if leads:
            _add(rooms, book, "lead-only-buzzed", leads)
    if int(brief.value("test_motion")) == NEVER:
        moving = moving_branches(rooms)
        shaken = [
            key for key, section in rooms.route.sections.items() if moving.intersection(section.branches)
        ]
        if shaken:
            _add(rooms, book, "tested-still", shaken)
    if int(brief.value("crimp_evidence")) == LOOKED_AT and not int(brief.value("test_pulls")):
        crimps = sum(crimp is not None for crimp in rooms.ends.crimps.values())
        if crimps:
            book.add("crimps-only-looked-at", Place("brief", "rule", "crimp_evidence"), count=str(crimps))
    if int(brief.value("test_isolation")) == NOT_ASKED and len(rooms.route.trees) > 1:
        book.add(
            "lamp-test-only", Place("brief", "rule", "test_isolation"), circuits=str(len(rooms.route.trees))
        )
        for one, other in data_pairs(rooms):
            book.add("pair-untested", Place("circuits", "circuit", one), one=one, other=other)


def _add(rooms: Rooms, book: FindingBook, code: str, keys: list[str]) -> None:
    labels = [rooms.wire.wires[key].label for key in keys if key in rooms.wire.wires]
    places = (Place("wire", "wire", key) for key in keys[:_SHOWN])
    rule = {"lead-only-buzzed": "test_leads", "tested-still": "test_motion"}[code]
    book.add(code, Place("brief", "rule", rule), *places, wires=some_in_words(labels, _SHOWN))


def prove_opening(words: dict[str, str], rooms: Rooms) -> Opening:
    """What there is to be measured."""
    reached = rooms.context.memo.get(_pins_reached, rooms.route.threaded)
    if not reached:
        return Opening("empty", 0, words["none"])
    count = sum(max(pins - 1, 0) for pins in reached)
    sentence = words["plan"].format(
        rows=many(count, "row"),
        probes=many(max(len(reached) - 1, 0).bit_length(), "probe"),
    )
    return Opening("full", count, sentence)


def _pins_reached(threaded: Threaded) -> tuple[int, ...]:
    """How many pins the wires of each circuit reach."""
    reached: dict[str, set[str]] = {}
    for section in threaded.sections.values():
        for end in (section.a, section.b):
            if end.kind == "pin":
                reached.setdefault(section.circuit, set()).add(end.id)
    return tuple(map(len, reached.values()))
