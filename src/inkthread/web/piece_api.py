"""The API of what belongs to a piece beside its readings: tests without ohms, batches, the record as CSV."""

from __future__ import annotations

import json

from flask import Response

from inkthread.core.document import Problem
from inkthread.core.prove import PlanRow
from inkthread.core.quantity import QuantityError, parse_number
from inkthread.exchange.record import record_csv
from inkthread.web.problems import problem
from inkthread.web.prove_api import get_piece, plan_by_hand
from inkthread.web.prove_schemas import BatchBody, CheckBody, PiecePath, PieceState
from inkthread.web.schemas import ProblemDetails
from inkthread.web.studies_api import now
from inkthread.web.views import view, workshop

_UNITS = {"pull": "N", "drop": "V"}
_ROOT = "/designs/<design_id>/prove/pieces/<serial>"


@view("post", f"{_ROOT}/checks", {200: PieceState, 409: ProblemDetails})
def post_check(path: PiecePath, body: CheckBody) -> Response:
    """Note what came of a test that is no reading in ohm: a force, volts, what a device does."""
    _, w = now(path)
    piece = workshop().pieces.get(path.design_id, path.serial)
    row = next((r for r in plan_by_hand(w, piece).rows if r.id == body.row and not r.by_ohm), None)
    if row is None or row.kind == "looks":
        message = f"Row {body.row} is none that is noted so."
        return problem(422, "No such test", message, [Problem("/row", message, "Look at the list again.")])
    value, fine = None, body.fine
    text = body.text.strip()
    if text:
        unit = _UNITS.get(row.kind, "")
        try:
            value = parse_number(text.removesuffix(unit).strip())
        except QuantityError:
            message = f"{body.text!r} is no figure in {unit or 'numbers'}."
            return problem(422, "Not understood", message, [Problem("/text", message, "Type 82, say.")])
        fine = row.holds(value) if body.fine is None else body.fine
    workshop().records.check(piece, named(row), value, fine, body.who.strip())
    return get_piece(path)


def named(row: PlanRow) -> str:
    """What a test is kept under: its number is of one plan only."""
    return f"{row.kind}: {row.words}"[:300]


@view("post", f"{_ROOT}/batches", {200: PieceState, 409: ProblemDetails})
def post_batch(path: PiecePath, body: BatchBody) -> Response:
    """Note which batch of a part went into a piece."""
    _, w = now(path)
    piece = workshop().pieces.get(path.design_id, path.serial)
    if body.part not in {line.code for line in w.parts.lines}:
        message = f"{body.part} is not in this harness."
        return problem(422, "No such part", message, [Problem("/part", message, "Take one of its bill.")])
    workshop().records.batch(piece, body.part, body.batch.strip(), body.who.strip())
    return get_piece(path)


@view("get", f"{_ROOT}/record.csv", {200: {"content": {"text/csv": {}}}, 409: ProblemDetails})
def get_record_table(path: PiecePath) -> Response:
    """The record of a signed piece as a table: every reading, test, batch, tool and difference."""
    piece = workshop().pieces.get(path.design_id, path.serial)
    if piece.signed_at is None:
        message = f"{piece.serial} is not signed yet."
        return problem(409, "Not signed", message, [Problem("", message, "Sign it once it is proved.")])
    text = record_csv(json.loads(piece.record), piece.sha256, piece.signed_by, piece.signed_at)
    reply = Response(text, mimetype="text/csv; charset=utf-8")
    reply.headers["Content-Disposition"] = f'attachment; filename="{piece.serial}.csv"'
    return reply
