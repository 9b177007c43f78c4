"""The API of the label printer: what it says of itself, the queue of a harness, sending and sending again."""

from __future__ import annotations

from flask import Response
from pydantic import ConfigDict, Field

from inkthread.web.schemas import REPLY, DesignPath, RowId
from inkthread.web.sent import Sent
from inkthread.web.studies_api import now
from inkthread.web.views import json_reply, view, workshop


class PrintJobItem(Sent):
    """Labels of one sleeve that wait, were printed, or could not be."""

    model_config = REPLY
    id: int
    sleeve: str
    labels: int
    state: str
    says: str


class PrintReply(Sent):
    """The printer as it says it is, and the jobs of a harness."""

    model_config = REPLY
    there: bool
    jammed: bool
    sleeve: str
    left_mm: float
    port: int
    jobs: list[PrintJobItem]


class PrintBody(Sent):
    """Which sleeve's labels are printed; all where none is named."""

    model_config = ConfigDict(extra="forbid")
    sleeve: str | None = Field(None, max_length=30)


class OfJob(Sent):
    """Which job."""

    job: RowId


class CassetteBody(Sent):
    """What was put into the printer, or that it was cleared."""

    model_config = ConfigDict(extra="forbid")
    sleeve: str | None = Field(None, max_length=30)
    cleared: bool = False


def _reply(design_id: str) -> Response:
    printing = workshop().printing
    status = printing.line.status()
    jobs = [
        PrintJobItem(
            id=j["id"], sleeve=j["sleeve"], labels=len(j["labels"]), state=j["state"], says=j["says"]
        )
        for j in printing.prints.of(design_id)
    ]
    return json_reply(
        PrintReply,
        PrintReply(
            there=status.there,
            jammed=status.jammed,
            sleeve=status.sleeve,
            left_mm=status.left_mm,
            port=printing.line.port,
            jobs=jobs,
        ),
    )


@view("get", "/designs/<design_id>/prints", {200: PrintReply})
def get_prints(path: DesignPath) -> Response:
    """The printer, and the label jobs of a harness."""
    return _reply(workshop().shelf.get(path.design_id).id)


@view("post", "/designs/<design_id>/prints", {200: PrintReply})
def post_prints(path: DesignPath, body: PrintBody) -> Response:
    """Queue the labels of a harness, a job for every sleeve."""
    stored, w = now(path)
    by_sleeve: dict[str, list[dict[str, object]]] = {}
    for label in w.dress.labels.labels:
        if body.sleeve in (None, label.code):
            strip = {
                "length_mm": label.length_mm,
                "letters_mm": label.height_mm,
                "text": " / ".join(label.lines),
                "square": label.square,
            }
            by_sleeve.setdefault(label.code, []).append(strip)
    printing = workshop().printing
    printing.prints.add(stored.id, sorted(by_sleeve.items()))
    printing.go()
    return _reply(stored.id)


@view("post", "/designs/<design_id>/prints/again", {200: PrintReply})
def post_print_again(path: DesignPath, query: OfJob) -> Response:
    """Send a job again. One that may have been printed is asked after first."""
    stored = workshop().shelf.get(path.design_id)
    workshop().printing.again(query.job)
    return _reply(stored.id)


@view("delete", "/designs/<design_id>/prints", {200: PrintReply})
def delete_print(path: DesignPath, query: OfJob) -> Response:
    """Take a job out of the queue."""
    stored = workshop().shelf.get(path.design_id)
    workshop().printing.prints.remove(query.job)
    return _reply(stored.id)


@view("post", "/designs/<design_id>/prints/cassette", {200: PrintReply})
def post_cassette(path: DesignPath, body: CassetteBody) -> Response:
    """Say that a cassette was put in, or that a jam was cleared."""
    from inkthread.web.printing import Late, NoPrinter

    stored = workshop().shelf.get(path.design_id)
    line = workshop().printing.line
    lengths = {own.code: own.cassette_m for own in workshop().catalogue.coverings.labels}
    try:
        if body.cleared:
            line.ask("CLEAR")
        if body.sleeve in lengths:
            line.ask(f"LOAD {body.sleeve} {lengths[body.sleeve] * 1000:.0f}")
    except (NoPrinter, Late):
        pass  # the reply says that it is not there
    return _reply(stored.id)
