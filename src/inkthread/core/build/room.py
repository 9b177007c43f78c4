"""The build room: what is wrong with the work as it is planned, and how the room opens."""

from __future__ import annotations

from inkthread.core.build.checks import find_in_order, find_in_settings
from inkthread.core.build.operations import Rooms
from inkthread.core.build.order import plan_build
from inkthread.core.build.steps import steps_of
from inkthread.core.findings import FindingBook
from inkthread.core.opening import Opening, many


def build_room(rooms: Rooms, book: FindingBook) -> None:
    """Find what is wrong. The order is planned here only where the builder has changed it."""
    context = rooms.context
    tools = context.catalogue.tools
    book.once(context.memo, find_in_settings, tools, rooms.wire.made, rooms.ends.fittings)
    if rooms.context.document.build.steps:
        steps = steps_of(rooms)
        find_in_order(rooms, steps, plan_build(rooms, steps), book)


def build_opening(words: dict[str, str], rooms: Rooms) -> Opening:
    """What is to be cut, made and filled."""
    pieces = sum(not piece.cable for piece in rooms.cut.cuts) + len(rooms.cut.cables)
    ends = sum(not contact.factory for contact in rooms.ends.contacts.values())
    if not pieces:
        return Opening("empty", 0, words["none"])
    splices = len(rooms.ends.splices)
    sentence = words["work"].format(
        pieces=many(pieces, "piece"),
        ends=many(ends, "end"),
        splices=words["splices"].format(splices=many(splices, "splice")) if splices else "",
        connectors=many(len(rooms.ends.connectors), "connector"),
    )
    return Opening("full", ends, sentence)
