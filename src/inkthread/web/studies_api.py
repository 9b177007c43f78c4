"""Studies of a harness, asked for when they are looked at: tables, loads, sections, reckonings."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from flask import Response, current_app
from pydantic_core import to_json

from inkthread.core.circuits import analyse_loads, draw_schematic
from inkthread.core.dress import cross_section
from inkthread.core.reckoning import reckon
from inkthread.core.workings import Workings
from inkthread.exchange import csv_text, xlsx_bytes
from inkthread.storage import StoredDesign
from inkthread.web.problems import problem
from inkthread.web.schemas import (
    AlternativesReply,
    CrossSectionReply,
    CsvPath,
    DesignPath,
    FamiliesReply,
    FutureReply,
    HeadroomReply,
    LoadsReply,
    OfBranch,
    OfCircuit,
    OfDevice,
    ProblemDetails,
    ReckoningQuery,
    ReckoningReply,
    SchematicReply,
    ThreadingReply,
    UnderwayReply,
)
from inkthread.web.studies import Busy
from inkthread.web.study_work import Material, Task
from inkthread.web.views import json_reply, view, workshop
from inkthread.web.workshop import Unreadable


@view("get", "/designs/<design_id>/tables/<table>", {200: {"content": {"text/csv": {}}}})
def get_table(path: CsvPath) -> Response:
    """Wire list, bill of materials, cut list, dress list or labels as CSV."""
    shop = workshop()
    stored = shop.shelf.get(path.design_id)
    w = shop.workings(stored.id, stored.version, stored.document)
    response = Response(csv_text(w, path.table), mimetype="text/csv")
    response.headers["Content-Disposition"] = f'attachment; filename="{path.table}.csv"'
    return response


_XLSX = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"


@view("get", "/designs/<design_id>/workbook", {200: {"content": {_XLSX: {}}}})
def get_workbook(path: DesignPath) -> Response:
    """All tables of a harness as one workbook, a sheet each."""
    stored, w = now(path)
    response = Response(xlsx_bytes(w), mimetype=_XLSX)
    response.headers["Content-Disposition"] = f'attachment; filename="{stored.id}.xlsx"'
    return response


def now(path: DesignPath) -> tuple[StoredDesign, Workings]:
    shop = workshop()
    stored = shop.shelf.get(path.design_id)
    return stored, shop.workings(stored.id, stored.version, stored.document)


def study(path: DesignPath, name: str, make: Callable[[int, Any], Any], of: str = "") -> Response:
    """A study worked out beside the server, or how far it is: ask again until it is there."""
    shop = workshop()
    stored = shop.shelf.get(path.design_id)
    task = Task(name, of, (stored.id, stored.version, shop.catalogue.version))

    def material() -> Material:
        return Material(to_json(stored.document), shop.packed())

    try:
        answer = shop.studies.ask(task, material)
    except Busy:
        return problem(503, "Too many studies", "Many studies wait already. Ask again in a moment.")
    if answer.unreadable:
        raise Unreadable(list(answer.unreadable))
    if answer.failed:
        current_app.logger.error("study %s of %s: %s", name, stored.id, answer.failed)
        return problem(500, "The study failed", "It could not be worked out. The harness is as it was.")
    if not answer.done:
        return json_reply(UnderwayReply, UnderwayReply(version=stored.version, share=answer.share), 202)
    reply = make(stored.version, answer.value)
    return json_reply(type(reply), reply)


UNDERWAY = {202: UnderwayReply, 500: ProblemDetails, 503: ProblemDetails}


@view("get", "/designs/<design_id>/loads", {200: LoadsReply})
def get_loads(path: DesignPath) -> Response:
    """What is asked of every source, by operating mode, and how long batteries last."""
    stored, w = now(path)
    names = [w.document.circuits.modes[m].name if m else "" for m in w.circuits.modes]
    groups = list(analyse_loads(w.document, w.circuits))
    return json_reply(
        LoadsReply, LoadsReply.model_construct(version=stored.version, modes=names, groups=groups)
    )


@view("get", "/designs/<design_id>/schematic", {200: SchematicReply})
def get_schematic(path: DesignPath) -> Response:
    """From source to load and back, one feed a line."""
    stored, w = now(path)
    drawn = draw_schematic(w.document, w.circuits)
    return json_reply(SchematicReply, SchematicReply.model_construct(version=stored.version, schematic=drawn))


@view("get", "/designs/<design_id>/threading", {200: ThreadingReply, **UNDERWAY})
def get_threading(path: DesignPath, query: OfCircuit) -> Response:
    """Every way of joining one circuit, side by side."""
    circuits = workshop().shelf.get(path.design_id).document.get("circuits", {})
    if query.id not in circuits.get("circuits", {}):
        return problem(404, "No such circuit", f"There is no circuit {query.id!r} in this harness.")
    return study(
        path,
        "threading",
        lambda version, ways: ThreadingReply.model_construct(version=version, ways=list(ways)),
        query.id,
    )


@view("get", "/designs/<design_id>/alternatives", {200: AlternativesReply, **UNDERWAY})
def get_alternatives(path: DesignPath, query: OfDevice) -> Response:
    """What else a relay, a fuse or a breaker may be made as, side by side; nothing for other devices."""
    circuits = workshop().shelf.get(path.design_id).document.get("circuits", {})
    if query.id not in circuits.get("devices", {}):
        return problem(404, "No such device", f"There is no device {query.id!r} in this harness.")
    return study(
        path,
        "alternatives",
        lambda version, ways: AlternativesReply.model_construct(version=version, ways=list(ways)),
        query.id,
    )


@view("get", "/designs/<design_id>/cross-section", {200: CrossSectionReply})
def get_cross_section(path: DesignPath, query: OfBranch) -> Response:
    """A branch cut across, its wires as packed."""
    stored, w = now(path)
    if query.id not in w.dress.contents:
        return problem(404, "No such branch", f"There is no branch {query.id!r} in this harness.")
    circles = list(cross_section(w.dress, query.id))
    return json_reply(
        CrossSectionReply, CrossSectionReply.model_construct(version=stored.version, circles=circles)
    )


@view("get", "/designs/<design_id>/families", {200: FamiliesReply, **UNDERWAY})
def get_families(path: DesignPath) -> Response:
    """The harness in each family of single wire, side by side."""
    return study(
        path,
        "families",
        lambda version, rows: FamiliesReply.model_construct(version=version, families=list(rows)),
    )


@view("get", "/designs/<design_id>/future", {200: FutureReply, **UNDERWAY})
def get_future(path: DesignPath) -> Response:
    """What the conductors for a future need come to, laid against left out."""
    return study(
        path, "future", lambda version, cost: FutureReply.model_construct(version=version, future=cost)
    )


@view("get", "/designs/<design_id>/headroom", {200: HeadroomReply, **UNDERWAY})
def get_headroom(path: DesignPath) -> Response:
    """How many amperes more every source, fuse and branch takes until something must change."""
    return study(
        path,
        "headroom",
        lambda version, rows: HeadroomReply.model_construct(version=version, rows=list(rows)),
    )


@view("get", "/designs/<design_id>/reckoning", {200: ReckoningReply})
def get_reckoning(path: DesignPath, query: ReckoningQuery) -> Response:
    """Why a figure is what it is, rendered now."""
    shop = workshop()
    stored = shop.shelf.get(path.design_id)
    workings = shop.workings(stored.id, stored.version, stored.document)
    reckoned = ReckoningReply.model_construct(
        version=stored.version, reckoning=reckon(workings, query.kind, query.id)
    )
    return json_reply(ReckoningReply, reckoned, etag=shop.etag(stored))
