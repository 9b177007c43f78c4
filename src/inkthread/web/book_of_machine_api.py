"""The API of the machine's book: what became of a piece, what is due, and an end that is picked up."""

from __future__ import annotations

from datetime import UTC, date, datetime
from typing import Literal

from flask import Response
from pydantic import ConfigDict, Field

from inkthread.core.document import Problem
from inkthread.core.prove import (
    LifeEntry,
    MatingsUsed,
    PickedUp,
    SpareToCarry,
    ZoneDue,
    picked_up,
    upkeep_of,
)
from inkthread.core.workings import Workings
from inkthread.storage import Piece
from inkthread.web.problems import problem
from inkthread.web.prove_schemas import PiecePath
from inkthread.web.schemas import REPLY, RowId
from inkthread.web.sent import Sent
from inkthread.web.studies_api import now
from inkthread.web.views import json_reply, view, workshop
from inkthread.web.workshop import Unreadable

_ROOT = "/designs/<design_id>/prove/pieces/<serial>/machine"


class LifeItem(Sent):
    """A line of the machine's book."""

    model_config = REPLY
    id: int
    kind: str
    place: str
    day: str
    times: int
    note: str
    who: str


class ZoneItem(Sent):
    """A zone of the harness, and when it is looked at next."""

    model_config = REPLY
    zone: str
    name: str
    every_months: float
    look: str
    last: str
    due: str
    """Empty until it is fitted."""
    overdue: bool


class MachineReply(Sent):
    """The machine's book of one piece."""

    model_config = REPLY
    entries: list[LifeItem]
    fitted_at: str
    """Where it is fitted; empty until it is."""
    zones: list[ZoneItem]
    matings: list[MatingsUsed]
    spares: list[SpareToCarry]
    connectors: list[str]


class LifeBody(Sent):
    """A line for the machine's book."""

    model_config = ConfigDict(extra="forbid")
    kind: Literal["fitted", "inspected", "joined", "renewed", "repaired", "taken out", "noted"]
    place: str = Field("", max_length=64)
    day: str = Field(pattern=r"^\d{4}-\d{2}-\d{2}$")
    times: int = Field(1, ge=1, le=10_000)
    note: str = Field("", max_length=600)
    who: str = Field("", max_length=60)


class OfLine(Sent):
    """Which line."""

    id: RowId


class FindQuery(Sent):
    """What a label says, typed or scanned."""

    text: str = Field(min_length=1, max_length=200)


class FoundEnd(Sent):
    """Ends of one harness that a label names."""

    model_config = REPLY
    design: str
    name: str
    ends: list[PickedUp]


class FindReply(Sent):
    """What a label names, of all harnesses here."""

    model_config = REPLY
    harnesses: list[FoundEnd]


def _today() -> date:
    return datetime.now(UTC).date()


def _zone(zone: ZoneDue) -> ZoneItem:
    last, due = (
        date.fromordinal(day).isoformat() if day is not None else "" for day in (zone.last, zone.due)
    )
    return ZoneItem(
        zone=zone.zone, name=zone.name, every_months=zone.every_months, look=zone.look, last=last, due=due,
        overdue=zone.overdue,
    )  # fmt: skip


def _reply(w: Workings, piece: Piece) -> Response:
    entries = workshop().records.life(piece)
    life = [LifeEntry(e.kind, e.place, date.fromisoformat(e.day).toordinal(), e.times) for e in entries]
    upkeep = upkeep_of(w.rooms, w.circuits, life, _today().toordinal())
    fitted = [e.place for e in entries if e.kind in ("fitted", "taken out")]
    out = entries and [e.kind for e in entries if e.kind in ("fitted", "taken out")][-1:] == ["taken out"]
    reply = MachineReply(
        entries=[
            LifeItem(id=e.id, kind=e.kind, place=e.place, day=e.day, times=e.times, note=e.note, who=e.who)
            for e in reversed(entries)
        ],
        fitted_at=fitted[-1] if fitted and not out else "",
        zones=[_zone(zone) for zone in upkeep.zones],
        matings=list(upkeep.matings),
        spares=list(upkeep.spares),
        connectors=list(w.document.ends.connectors),
    )
    return json_reply(MachineReply, reply)


@view("get", _ROOT, {200: MachineReply})
def get_machine_book(path: PiecePath) -> Response:
    """What became of a piece on its machine, what is due, and what to carry."""
    _, w = now(path)
    return _reply(w, workshop().pieces.get(path.design_id, path.serial))


@view("post", _ROOT, {200: MachineReply})
def post_machine_book(path: PiecePath, body: LifeBody) -> Response:
    """Write a line into the machine's book. A signed piece's record stays as it is."""
    _, w = now(path)
    piece = workshop().pieces.get(path.design_id, path.serial)
    try:
        day = date.fromisoformat(body.day)
    except ValueError:
        return _no_day(f"{body.day} is no day.")
    if day > _today():
        return _no_day(f"{body.day} is still to come.")
    place = body.place.strip()
    if body.kind == "fitted" and not place:
        message = "Say on which machine it is fitted."
        return problem(422, "No machine", message, [Problem("/place", message, "Type its name or number.")])
    if body.kind in ("joined", "renewed") and place != "all" and place not in w.document.ends.connectors:
        return _no_place(f"There is no connector {place!r}.")
    if body.kind == "inspected" and place not in ("", "all", *w.document.brief.zones):
        return _no_place(f"There is no zone {place!r}.")
    workshop().records.enter(
        piece, body.kind, place, body.day, body.times, body.note.strip(), body.who.strip()
    )
    return _reply(w, piece)


def _no_place(message: str) -> Response:
    return problem(422, "No such place", message, [Problem("/place", message, "Take one of the list.")])


def _no_day(message: str) -> Response:
    return problem(422, "No such day", message, [Problem("/day", message, "Type the day it was done.")])


@view("delete", _ROOT, {200: MachineReply})
def delete_machine_line(path: PiecePath, query: OfLine) -> Response:
    """Take a line out of the machine's book again."""
    _, w = now(path)
    piece = workshop().pieces.get(path.design_id, path.serial)
    workshop().records.strike(piece, query.id)
    return _reply(w, piece)


@view("get", "/find", {200: FindReply})
def get_find(query: FindQuery) -> Response:
    """Which end a label names, of all harnesses here: what it meets, and where its wires go."""
    shop = workshop()
    harnesses: list[FoundEnd] = []
    said = query.text.casefold()
    listed = [(entry, entry.name.casefold() in said) for entry in shop.shelf.entries()]
    named = [entry for entry, so in listed if so] or [entry for entry, _ in listed]
    for entry in named:
        stored = shop.shelf.get(entry.id)
        try:
            w = shop.workings(stored.id, stored.version, stored.document)
        except Unreadable:
            continue
        rest = query.text
        if entry.name and entry.name.casefold() in said:
            at = said.index(entry.name.casefold())
            rest = query.text[:at] + query.text[at + len(entry.name) :]
        ends = picked_up(w.rooms, w.circuits, rest)
        if ends:
            harnesses.append(FoundEnd(design=entry.id, name=entry.name, ends=list(ends)))
    return json_reply(FindReply, FindReply(harnesses=harnesses))
