"""Errors as RFC 9457 problem details, naming the field and the remedy."""

from __future__ import annotations

from typing import Any

from flask import Flask, Response, jsonify
from pydantic import ValidationError
from sqlalchemy.exc import DatabaseError
from werkzeug.exceptions import HTTPException, RequestEntityTooLarge

from inkthread.core.bench import BenchError
from inkthread.core.document import DocumentError, Problem
from inkthread.core.document.draft import LineError
from inkthread.core.document.problems import pointer
from inkthread.core.reckoning import UnknownFigure
from inkthread.storage import (
    CutRefused,
    NoPiece,
    NotAtHand,
    NothingToUndo,
    NotInShop,
    NotOnShelf,
    PatchError,
    PieceRefused,
    WorkRefused,
)
from inkthread.storage.trouble import Kind, trouble_of
from inkthread.web.workshop import Unreadable


def problem(
    status: int, title: str, detail: str, errors: list[Problem] | None = None, **more: Any
) -> Response:
    """A problem details response."""
    body = {
        "type": "about:blank",
        "title": title,
        "status": status,
        "detail": detail,
        "errors": [{"path": e.path, "message": e.message, "remedy": e.remedy} for e in errors or []],
        **more,
    }
    response = jsonify(body)
    response.status_code = status
    response.content_type = "application/problem+json"
    return response


def validation_problem(error: ValidationError) -> Response:
    """The request itself is malformed (body, query or path)."""
    items = [Problem(pointer(e["loc"]), str(e["msg"]), "Correct the request.") for e in error.errors()[:20]]
    malformed = any(e["type"] in ("json_invalid",) for e in error.errors())
    title = "Malformed JSON" if malformed else "Request not understood"
    return problem(422, title, items[0].message if items else "The request is malformed.", items)


_STATUS: dict[Kind, int] = {"full": 507, "locked": 503, "read-only": 503, "missing": 503}


def data_problem(error: DatabaseError) -> Response:
    """What is wrong with the data file, in a sentence; nothing was changed, and what was typed is kept."""
    trouble = trouble_of(error)
    detail = f"{trouble.what}. {trouble.remedy} Nothing was changed; what you typed is kept."
    return problem(_STATUS.get(trouble.kind, 500), trouble.what, detail)


_SAID: tuple[tuple[type[Exception], int, str, str], ...] = (
    (NotOnShelf, 404, "Not on the shelf", "There is no such harness. It may have been removed."),
    (NotInShop, 404, "Not in the shop", "There is no such thing in the shop. It may have been taken out."),
    (NothingToUndo, 409, "Nothing left", "There is no further edit to take back or bring back."),
    (
        RequestEntityTooLarge,
        413,
        "Too large",
        "The request is larger than 8 MB. Split the harness, or check the file.",
    ),
    (CutRefused, 409, "Not cut so", ""),
    (WorkRefused, 409, "Somebody else's", ""),
    (PieceRefused, 409, "Not so", ""),
    (NoPiece, 404, "No such piece", ""),
    (NotAtHand, 409, "Not at hand", ""),
    (UnknownFigure, 404, "No such figure", ""),
)
"""Errors that are told by a title and a sentence; where that is empty, by their own words."""


def register(app: Flask) -> None:
    """Turn the core's and the storage's errors into problem details."""

    def on_document(error: DocumentError) -> Response:
        first = error.problems[0]
        return problem(
            422, "The harness would not be valid", f"{first.message} {first.remedy}", error.problems
        )

    def on_unreadable(error: Unreadable) -> Response:
        detail = f"{error} Export it and keep the file, or go back to its last version that reads."
        return problem(422, "The harness cannot be read", detail, error.problems)

    def on_bench(error: BenchError) -> Response:
        item = Problem(f"/fields/{error.field}", str(error), "Correct it; the rest is kept.")
        return problem(422, "Not understood", str(error), [item])

    def on_line(error: LineError) -> Response:
        return problem(422, "Line not understood", str(error), [Problem("/text", str(error), "")])

    def on_patch(error: PatchError) -> Response:
        item = Problem(error.path, str(error), "Fetch the harness again and repeat the edit.")
        return problem(422, "Patch cannot be applied", str(error), [item])

    def on_http(error: HTTPException) -> Response:
        return problem(error.code or 500, error.name, error.description or error.name)

    for kind, status, title, words in _SAID:
        # Each handler has its own.
        def on_error(
            error: Exception, status: int = status, title: str = title, words: str = words
        ) -> Response:
            return problem(status, title, words or str(error))

        app.register_error_handler(kind, on_error)
    app.register_error_handler(DatabaseError, data_problem)
    app.register_error_handler(DocumentError, on_document)
    app.register_error_handler(Unreadable, on_unreadable)
    app.register_error_handler(BenchError, on_bench)
    app.register_error_handler(LineError, on_line)
    app.register_error_handler(PatchError, on_patch)
    app.register_error_handler(HTTPException, on_http)
