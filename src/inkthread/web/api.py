"""The API: designs in, evaluations out."""

from __future__ import annotations

import json
import re
from collections.abc import Callable
from functools import partial
from typing import Any
from urllib.parse import unquote

from flask import Flask, Response, current_app, request
from pydantic_core import to_json

from inkthread.core.conventions import colours_into, shown_in_into
from inkthread.core.document import DocumentError, Problem, dump_document, parse_document, parse_document_text
from inkthread.core.document.complete import complete
from inkthread.core.document.draft import Draft
from inkthread.core.document.newest import newest_form
from inkthread.core.document.starter import begun_document, working_follows
from inkthread.core.evaluation import Tally
from inkthread.core.measures import measures_of
from inkthread.core.quantity import QuantityError, parse_voltage_v
from inkthread.storage import Conflict, ShelfEntry, StoredDesign
from inkthread.web.problems import problem
from inkthread.web.reply_changes import changes
from inkthread.web.schemas import (
    ConflictDetails,
    DesignPath,
    DesignReply,
    EditReply,
    NewDesign,
    PatchBody,
    ProblemDetails,
    ShelfItem,
    ShelfReply,
    VersionReply,
)
from inkthread.web.typed import read_typed
from inkthread.web.views import as_json, bytes_reply, json_reply, view, workshop
from inkthread.web.workshop import Unreadable


def _reply_model(stored: StoredDesign) -> DesignReply:
    shop = workshop()
    workings = shop.workings(stored.id, stored.version, stored.document)
    return DesignReply.model_construct(
        id=stored.id,
        version=stored.version,
        etag=shop.etag(stored),
        document=workings.stated,
        evaluation=workings.evaluation,
        undo_label=stored.undo_label,
        redo_label=stored.redo_label,
    )


def reply(stored: StoredDesign, status: int = 200) -> Response:
    """A harness and its evaluation. Thirty windows that fetch the same version are sent the same bytes.

    A window that says which reply it holds (X-Holds) is sent what is another since.
    """
    shop = workshop()
    etag = shop.etag(stored)
    changed = _changes(stored, etag)
    if changed is not None:
        part = bytes_reply(to_json(changed, inf_nan_mode="null"), status, etag)
        part.headers["Cache-Control"] = "no-store"  # under this ETag a browser keeps the whole, not a part
        return part
    key = (stored.id, etag, stored.undo_label, stored.redo_label)
    data = shop.replies.get(key)
    if data is None:
        data = as_json(DesignReply, _reply_model(stored))
        shop.replies.keep(key, data)
    return bytes_reply(data, status, etag)


def _changes(stored: StoredDesign, etag: str) -> dict[str, Any] | None:
    """The reply as changes of the one that the window holds, or None where that is not known any more."""
    said = request.headers.get("X-Holds", "").strip('"')
    version, _, catalogue = said.partition("-")
    if not version.isdigit() or catalogue != workshop().catalogue.version:
        return None
    before = workshop().worked(stored.id, int(version))
    if before is None:
        return None
    after = workshop().workings(stored.id, stored.version, stored.document)
    return {
        "id": stored.id,
        "version": stored.version,
        "etag": etag,
        "held": said,
        "undo_label": stored.undo_label,
        "redo_label": stored.redo_label,
        "changes": [
            *changes(before.stated, after.stated, ("document",)),
            *changes(before.evaluation, after.evaluation, ("evaluation",)),
        ],
    }


def _base_version() -> int | Response:
    """Version that the client edits, from If-Match."""
    header = request.headers.get("If-Match")
    if header is None:
        return problem(428, "Precondition required", "Send If-Match with the harness's ETag.")
    match = re.fullmatch(r'(?:W/)?"?(\d{1,9})(?:-[0-9a-f]+)?"?', header.strip())
    if match is None:
        return problem(422, "If-Match not understood", "Send If-Match with the harness's ETag.")
    return int(match[1])


def _typed(document: dict[str, Any], operations: list[dict[str, Any]]) -> list[dict[str, Any]]:
    units = measures_of(document["brief"])
    return working_follows(document, read_typed(complete(document, operations), units))


def edit_design(design_id: str, base: int, operations: list[dict[str, Any]], label: str) -> Response:
    shop = workshop()
    try:
        return reply(shop.shelf.patch(design_id, base, operations, label, shop.validate, _typed))
    except Conflict as conflict:
        return _conflict(
            conflict,
            "The same place was changed meanwhile. Look at it as it is now, then repeat your edit.",
        )


def _conflict(conflict: Conflict, detail: str) -> Response:
    """Somebody was first: what stands now, beside why nothing was done."""
    body = ConflictDetails.model_construct(
        type="about:blank",
        title="Changed meanwhile",
        status=412,
        detail=detail,
        errors=[],
        current=_reply_model(conflict.current),
    )
    response = json_reply(ConflictDetails, body, 412)
    response.content_type = "application/problem+json"
    return response


def operations_of(body: PatchBody) -> list[dict[str, Any]]:
    """The operations of a patch as plain data. Raises DocumentError."""
    operations = []
    for op in body.root:
        plain: dict[str, Any] = {"op": op.op, "path": op.path}
        if op.op in ("add", "replace", "test"):
            plain["value"] = op.value
        if op.op in ("move", "copy"):
            if op.from_ is None:
                raise DocumentError([Problem("/from", f"{op.op} needs from.", "Give the path to take from.")])
            plain["from"] = op.from_
        operations.append(plain)
    return operations


_SHELF_S = 0.1
"""For how long the shelf waits for harnesses of which nothing is kept yet, before it shows what there is."""


@view("get", "/designs", {200: ShelfReply})
def get_shelf() -> Response:
    """The shelf, newest change first. What is still to be worked out is there when it is asked for again."""
    shop = workshop()
    entries = shop.shelf.entries(shop.stamp)
    missing = [e for e in entries if e.summary is None and shop.summaries.get(_worked_as(e)) is None]
    if missing:
        work = partial(_work_out, current_app._get_current_object(), missing)  # type: ignore[attr-defined]
        shop.beside(work).join(_SHELF_S)
    items = [_on_shelf(e, *(shop.summaries.get(_worked_as(e)) or (e.summary, ""))) for e in entries]
    return json_reply(ShelfReply, ShelfReply.model_construct(designs=items))


def _worked_as(entry: ShelfEntry) -> tuple[str, int, str]:
    return entry.id, entry.version, workshop().stamp


def _work_out(app: Flask, entries: list[ShelfEntry]) -> None:
    """What the shelf shows of harnesses of which nothing is kept, one after another."""
    with app.app_context():
        for entry in entries:
            worked_as = _worked_as(entry)
            workshop().summaries.keep(worked_as, _summary(entry))


def _summary(entry: ShelfEntry) -> tuple[dict[str, Any] | None, str]:
    """What the shelf shows of a harness, worked out now and kept, and what is wrong with it.

    One that cannot be read says so and keeps no other from being seen.
    """
    shop = workshop()
    try:
        stored = shop.shelf.get(entry.id)
        summary = shop.summary(shop.workings(stored.id, stored.version, stored.document))
        shop.shelf.keep_summary(stored.id, stored.version, shop.stamp, summary)
        return summary, ""
    except Unreadable as error:
        return None, str(error)
    except Exception:  # whatever it is, the other harnesses are still there
        current_app.logger.exception("harness %s cannot be worked out", entry.id)
        return None, "It cannot be worked out, or its part of the data file is damaged."


def _on_shelf(entry: ShelfEntry, summary: dict[str, Any] | None, trouble: str) -> ShelfItem:
    """One harness of the shelf; without a tally and without trouble it is still to be worked out."""
    shown = summary or {"machine": "", "practice": "", "tally": None}
    return ShelfItem.model_construct(
        id=entry.id,
        name=entry.name,
        version=entry.version,
        changed_at=entry.changed_at.isoformat() + "Z",
        machine=shown["machine"],
        practice=shown["practice"],
        tally=Tally(**shown["tally"]) if shown["tally"] else None,
        trouble=trouble,
    )


@view("post", "/designs", {201: DesignReply})
def post_design(body: NewDesign) -> Response:
    """Put a new harness on the shelf: empty, or from a design document."""
    shop = workshop()
    if body.document is not None:
        plain = dump_document(shop.known(parse_document(newest_form(body.document))))
    else:
        if not body.name.strip():
            raise DocumentError([Problem("/name", "The harness has no name.", "Type a name.")])
        try:
            nominal_v = parse_voltage_v(body.supply) if body.supply.strip() else None
        except QuantityError as error:
            raise DocumentError([Problem("/supply", str(error), "Write 12 V.")]) from None
        draft = Draft(begun_document(body.name.strip(), body.practice, nominal_v))
        colours_into(draft, shop.catalogue)
        shown_in_into(draft, shop.catalogue)
        plain = draft.plain
    return reply(shop.shelf.create(plain), 201)


@view("post", "/designs/file", {201: DesignReply, 413: ProblemDetails})
def post_file() -> Response:
    """Put a new harness on the shelf from a design file, sent as it is."""
    shop = workshop()
    document = parse_document_text(request.get_data())
    return reply(shop.shelf.create(dump_document(shop.known(document))), 201)


@view("get", "/designs/<design_id>", {200: EditReply, 304: None})
def get_design(path: DesignPath) -> Response:
    """A harness and its evaluation. Send If-None-Match to be told that nothing changed.

    Send X-Holds to be sent what is another since.
    """
    shop = workshop()
    stored = shop.shelf.get(path.design_id)
    if request.headers.get("If-None-Match") == f'"{shop.etag(stored)}"':
        return Response(status=304)
    return reply(stored)


@view("get", "/designs/<design_id>/version", {200: VersionReply})
def get_version(path: DesignPath) -> Response:
    """The newest version of a harness, for a window that asks each second whether another one edited it."""
    shop = workshop()
    version = shop.shelf.version(path.design_id)
    return json_reply(VersionReply, VersionReply(version=version, etag=f"{version}-{shop.catalogue.version}"))


@view("patch", "/designs/<design_id>", {200: EditReply, 412: ConflictDetails, 428: ProblemDetails})
def patch_design(path: DesignPath, body: PatchBody) -> Response:
    """Change a harness by JSON Patch. Needs If-Match; X-Label names the edit for undo."""
    base = _base_version()
    if isinstance(base, Response):
        return base
    label = unquote(request.headers.get("X-Label", "")) or "edit"
    return edit_design(path.design_id, base, operations_of(body), label)


_TURN = {200: EditReply, 409: ProblemDetails, 412: ConflictDetails, 428: ProblemDetails}


def _turned(turn: Callable[[str, int], StoredDesign], design_id: str) -> Response:
    base = _base_version()
    if isinstance(base, Response):
        return base
    try:
        return reply(turn(design_id, base))
    except Conflict as conflict:
        detail = "The harness was changed in another window meanwhile. Look at it as it is now first."
        return _conflict(conflict, detail)


@view("post", "/designs/<design_id>/undo", _TURN)
def post_undo(path: DesignPath) -> Response:
    """Take back the newest edit of the version named by If-Match."""
    return _turned(workshop().shelf.undo, path.design_id)


@view("post", "/designs/<design_id>/redo", _TURN)
def post_redo(path: DesignPath) -> Response:
    """Bring back the edit undone last, at the version named by If-Match."""
    return _turned(workshop().shelf.redo, path.design_id)


@view("post", "/designs/<design_id>/duplicate", {201: DesignReply})
def post_duplicate(path: DesignPath) -> Response:
    """A copy of a harness, beside it on the shelf."""
    shop = workshop()
    plain = dict(shop.shelf.get(path.design_id).document)
    plain["brief"] = {**plain["brief"], "name": f"{plain['brief']['name']} copy"[:120]}
    return reply(shop.shelf.create(plain), 201)


@view("delete", "/designs/<design_id>", {204: None})
def delete_design(path: DesignPath) -> Response:
    """Take a harness off the shelf. It can be restored."""
    workshop().shelf.remove(path.design_id)
    return Response(status=204)


@view("post", "/designs/<design_id>/restore", {200: DesignReply})
def post_restore(path: DesignPath) -> Response:
    """Put a removed harness back on the shelf."""
    return reply(workshop().shelf.restore(path.design_id))


@view("post", "/designs/<design_id>/mend", {200: DesignReply, 409: ProblemDetails, 412: ConflictDetails})
def post_mend(path: DesignPath) -> Response:
    """Take edits of a harness that cannot be read back until it can. They can be brought back."""
    shop = workshop()

    def reads(plain: dict[str, Any]) -> bool:
        try:
            shop.read(plain)
        except Unreadable:
            return False
        return True

    try:
        return reply(shop.shelf.mend(path.design_id, reads))
    except Conflict as conflict:
        return _conflict(conflict, "The harness was changed in another window meanwhile. Look at it first.")


@view("get", "/designs/<design_id>/file", {200: {"content": {"application/json": {}}}})
def get_file(path: DesignPath) -> Response:
    """The design file, to keep or send."""
    stored = workshop().shelf.get(path.design_id)
    said = stored.document.get("brief")
    called = str(said.get("name", "")) if isinstance(said, dict) else ""
    name = re.sub(r"[^a-z0-9]+", "-", called.lower()).strip("-") or "harness"
    text = json.dumps(stored.document, indent=1, ensure_ascii=False) + "\n"
    response = Response(text, mimetype="application/json")
    response.headers["Content-Disposition"] = f'attachment; filename="{name}.inkthread.json"'
    return response
