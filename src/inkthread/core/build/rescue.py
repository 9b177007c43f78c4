"""Help at the vice: how an end looks that is right or wrong, questions where it jams, taking it apart."""

from __future__ import annotations

from dataclasses import replace

from inkthread.core.build.ends import OPENED_FIRST
from inkthread.core.build.operations import Operation, Rooms
from inkthread.core.catalogue import Contact
from inkthread.core.catalogue.rescue import CrimpPicture, RescuePath
from inkthread.core.document.choices import Connector
from inkthread.core.ends.methods import is_soldered
from inkthread.core.ends.pairs import ANY_WAY
from inkthread.core.record import record

_RINGS = ("ring", "lug", "closed barrel", "ferrule", "end")


@record
class Help:
    """What helps at one step."""

    drawn: str
    """How its pictures are drawn: ``barrel``, ``ring``, ``machined``, ``clamp``, ``solder``; empty where no
    end is made."""
    part: str
    """The contact or splice that they are of."""
    pictures: tuple[CrimpPicture, ...]
    paths: tuple[RescuePath, ...]
    """Where it will not go in, and where it will not come out."""
    apart: tuple[str, ...]
    """How the contact is taken out of its way and put in again, step by step."""


def help_at(rooms: Rooms, own: Operation) -> Help:
    """What helps at a step of the work; empty where it is about no end. Common practice, no source."""
    rescue = rooms.context.catalogue.rescue
    if own.kind == "splice" or own.work in ("strip-splice", "tug-splice"):
        return Help("ring", own.parts[0] if own.parts else "", rescue.pictures["ring"], (), ())
    key = own.wires[0] if own.wires else ""
    contact = rooms.ends.contacts.get((own.end, key))
    if contact is None:
        return Help("", "", (), (), ())
    drawn = _drawn(rooms, own.end, contact)
    if not own.cavity or rooms.context.catalogue.connectors[_connector(rooms, own.end).family].loose:
        return Help(drawn, contact.code, rescue.pictures[drawn], (), ())
    fills = _fills(rooms, own, contact)
    paths = tuple(_worded(path, fills) for path in rescue.paths.values())
    return Help(drawn, contact.code, rescue.pictures[drawn], paths, tuple(_apart(rooms, own, contact)))


def _connector(rooms: Rooms, pin: str) -> Connector:
    document = rooms.context.document
    return document.ends.connectors[document.ends.pinout[pin].connector]


def _drawn(rooms: Rooms, pin: str, contact: Contact) -> str:
    if contact.joint == "clamp":
        return "clamp"
    if is_soldered(rooms.context.document, contact, pin):
        return "solder"
    if contact.kind == "machined":
        return "machined"
    return "ring" if contact.kind in _RINGS else "barrel"


def _fills(rooms: Rooms, own: Operation, contact: Contact) -> dict[str, str]:
    family = rooms.context.catalogue.connectors[_connector(rooms, own.end).family]
    lock = next((k for k in family.locks if k in OPENED_FIRST), "")
    tool = rooms.context.catalogue.tools.get(contact.extraction)
    return {
        "turn": f", {family.turn}" if family.turn not in ("", ANY_WAY) else "",
        "lock": f", the {lock}" if lock else "",
        "contact": contact.code,
        "tool": f", {contact.extraction}" if contact.extraction else "",
        "toolname": f"{contact.extraction}, {tool.description.lower()}" if tool else "the tool of its family",
    }


def _worded(path: RescuePath, fills: dict[str, str]) -> RescuePath:
    steps = {
        name: replace(step, ask=step.ask.format(**fills), end=step.end.format(**fills))
        for name, step in path.steps.items()
    }
    return replace(path, steps=steps)


def _apart(rooms: Rooms, own: Operation, contact: Contact) -> list[str]:
    """A contact out of its way and in again."""
    document, words = rooms.context.document, rooms.context.catalogue.rescue.apart
    connector_id = document.ends.pinout[own.end].connector
    connector = document.ends.connectors[connector_id]
    family = rooms.context.catalogue.connectors[connector.family]
    fills = _fills(rooms, own, contact)
    lock = next((k for k in family.locks if k in OPENED_FIRST), "")
    wire = rooms.wire.wires[own.wires[0]]
    seal = rooms.ends.seals.get((own.end, own.wires[0]))
    steps = [words["part"].format(connector=connector_id)]
    steps += [words["cover"].format(part=part) for part in connector.accessories]
    steps += [words["lock"].format(lock=lock)] if lock else []
    steps += [
        words["note"],
        words["tool"].format(
            cavity=own.cavity,
            wire=wire.label,
            colour=wire.colour,
            tool=fills["toolname"],
            **{"from": words["rear" if contact.kind == "machined" else "front"]},
        ),
        words["draw" if seal is not None else "draw bare"],
        words["look"],
        words["again"].format(turn=fills["turn"]),
    ]
    return [*steps, *([words["shut"]] if lock else [])]
