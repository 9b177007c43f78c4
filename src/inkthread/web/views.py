"""What every view of the API uses: its registration, the workshop, JSON replies."""

from __future__ import annotations

from collections.abc import Callable
from functools import cache
from importlib import import_module
from typing import Any, cast

from flask import Response, current_app
from flask_openapi3 import APIBlueprint
from pydantic import TypeAdapter
from werkzeug.routing import Rule

from inkthread.web.schemas import ProblemDetails
from inkthread.web.workshop import Workshop

View = Callable[..., Response]
_VIEWS: list[tuple[str, str, Any, View]] = []


def view(method: str, rule: str, responses: Any) -> Callable[[View], View]:
    """Note a view; ``make_api`` puts all of them into a blueprint."""

    def note(function: View) -> View:
        _VIEWS.append((method, rule, responses, function))
        return function

    return note


class ReadRule(Rule):
    """An address that requests are read by. To write one out for a view is prepared when somebody asks for
    it, which no page does; all of them, at every start, take a tenth of it.
    """

    def _compile_builder(self, append_unknown: bool = True) -> Callable[..., tuple[str, str]]:
        def write(rule: ReadRule, **values: Any) -> tuple[str, str]:
            written: tuple[str, str] = Rule._compile_builder(rule, append_unknown)(rule, **values)
            return written

        return write


def make_api(*, describe: bool) -> APIBlueprint:
    """The API's views. Describing them as OpenAPI takes a second, so it is done only when asked for."""
    for module in (
        "api",
        "bench_api",
        "catalogue_api",
        "acts_api",
        "studies_api",
        "machine_api",
        "practice_api",
        "book_of_machine_api",
        "tool_api",
        "parts_api",
        "stock_api",
        "cut_api",
        "dress_api",
        "print_api",
        "buy_api",
        "trade_api",
        "work_api",
        "photo_api",
        "rescue_api",
        "board_api",
        "book_api",
        "prove_api",
        "piece_api",
        "data_api",
    ):
        import_module(f"inkthread.web.{module}")  # for the views they note
    blueprint = APIBlueprint(
        "api",
        __name__,
        url_prefix="/api",
        abp_responses={404: ProblemDetails, 422: ProblemDetails},
        doc_ui=describe,
    )
    for method, rule, responses, function in _VIEWS:
        getattr(blueprint, method)(rule, responses=responses)(function)
    return blueprint


def workshop() -> Workshop:
    """The application's workshop."""
    return cast(Workshop, current_app.extensions["workshop"])


@cache
def _dumper(model: Any) -> TypeAdapter[Any]:
    return TypeAdapter(model)


def as_json(model: Any, value: Any) -> bytes:
    """A value of a model as JSON."""
    return _dumper(model).dump_json(value)


def bytes_reply(data: bytes, status: int = 200, etag: str | None = None) -> Response:
    """JSON that is ready to be sent."""
    response = Response(data, status, mimetype="application/json")
    if etag is not None:
        response.headers["ETag"] = f'"{etag}"'
    response.headers["Cache-Control"] = "no-cache"
    return response


def json_reply(model: Any, value: Any, status: int = 200, etag: str | None = None) -> Response:
    """A value of a model as a reply."""
    return bytes_reply(as_json(model, value), status, etag)
