"""Studies of a harness, asked for when they are looked at: tables, loads, sections, reckonings."""

from __future__ import annotations

from flask import Response

from inkthread.core.circuits import analyse_loads, draw_schematic
from inkthread.core.compare import compare_families, compare_threading, future_cost, headroom
from inkthread.core.dress import cross_section
from inkthread.core.evaluate import Workings
from inkthread.core.reckoning import reckon
from inkthread.exchange import csv_text
from inkthread.storage import StoredDesign
from inkthread.web.problems import problem
from inkthread.web.schemas import (
    CsvPath,
    DesignPath,
    FamiliesReply,
    FutureReply,
    HeadroomReply,
    LoadsReply,
    OfBranch,
    OfCircuit,
    ReckoningQuery,
    ReckoningReply,
    SchematicReply,
    SectionReply,
    ThreadingReply,
)
from inkthread.web.views import json_reply, view, workshop


@view("get", "/designs/<design_id>/tables/<table>", {200: {"content": {"text/csv": {}}}})
def get_table(path: CsvPath) -> Response:
    """Wire list, bill of materials or cut list as CSV."""
    shop = workshop()
    stored = shop.shelf.get(path.design_id)
    evaluation = shop.workings(stored.id, stored.version, stored.document).evaluation
    response = Response(csv_text(evaluation, path.table), mimetype="text/csv")
    response.headers["Content-Disposition"] = f'attachment; filename="{path.table}.csv"'
    return response


def now(path: DesignPath) -> tuple[StoredDesign, Workings]:
    shop = workshop()
    stored = shop.shelf.get(path.design_id)
    return stored, shop.workings(stored.id, stored.version, stored.document)


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


@view("get", "/designs/<design_id>/threading", {200: ThreadingReply})
def get_threading(path: DesignPath, query: OfCircuit) -> Response:
    """Every way of joining one circuit, side by side."""
    stored, w = now(path)
    if query.id not in w.document.circuits.circuits:
        return problem(404, "No such circuit", f"There is no circuit {query.id!r} in this harness.")
    ways = list(compare_threading(w, query.id))
    return json_reply(ThreadingReply, ThreadingReply.model_construct(version=stored.version, ways=ways))


@view("get", "/designs/<design_id>/section", {200: SectionReply})
def get_section(path: DesignPath, query: OfBranch) -> Response:
    """A branch cut across, its wires as packed."""
    stored, w = now(path)
    if query.id not in w.dress.contents:
        return problem(404, "No such branch", f"There is no branch {query.id!r} in this harness.")
    circles = list(cross_section(w.dress, query.id))
    return json_reply(SectionReply, SectionReply.model_construct(version=stored.version, circles=circles))


@view("get", "/designs/<design_id>/families", {200: FamiliesReply})
def get_families(path: DesignPath) -> Response:
    """The harness in each family of single wire, side by side."""
    stored, w = now(path)
    codes = [f.code for f in w.wire.families.values() if f.construction == "single"]
    families = list(compare_families(w, codes))
    return json_reply(FamiliesReply, FamiliesReply.model_construct(version=stored.version, families=families))


@view("get", "/designs/<design_id>/future", {200: FutureReply})
def get_future(path: DesignPath) -> Response:
    """What the conductors for a future need come to, laid against left out."""
    stored, w = now(path)
    return json_reply(FutureReply, FutureReply.model_construct(version=stored.version, future=future_cost(w)))


@view("get", "/designs/<design_id>/headroom", {200: HeadroomReply})
def get_headroom(path: DesignPath) -> Response:
    """How many amperes more every source, fuse and branch takes until something must change."""
    stored, w = now(path)
    return json_reply(
        HeadroomReply, HeadroomReply.model_construct(version=stored.version, rows=list(headroom(w)))
    )


@view("get", "/designs/<design_id>/reckoning", {200: ReckoningReply})
def get_reckoning(path: DesignPath, query: ReckoningQuery) -> Response:
    """Why a figure is what it is, rendered now."""
    shop = workshop()
    stored = shop.shelf.get(path.design_id)
    workings = shop.workings(stored.id, stored.version, stored.document)
    made = ReckoningReply.model_construct(
        version=stored.version, reckoning=reckon(workings, query.kind, query.id)
    )
    return json_reply(ReckoningReply, made, etag=shop.etag(stored))
