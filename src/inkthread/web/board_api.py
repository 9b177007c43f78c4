"""The API of the board at 1:1: to look at, to print, to plot."""

from __future__ import annotations

from flask import Response
from pydantic import Field

from inkthread.core.build import Board, CannotFold, board_of, folded
from inkthread.core.document import Problem
from inkthread.core.workings import Workings
from inkthread.exchange.board import RULER_MM, WHOLE, NoBoard, board_dxf, board_pdf, board_svg
from inkthread.web.problems import problem
from inkthread.web.schemas import DesignPath, ProblemDetails
from inkthread.web.sent import Sent
from inkthread.web.studies_api import now
from inkthread.web.views import view


class Wide(Sent):
    """How wide the board may be, in mm; folded where it is wider. As it lies where nothing is said."""

    wide: float | None = Field(None, gt=0, le=100_000)


class OnPaper(Wide):
    """On which paper, and what the printed ruler of 100 mm measured."""

    paper: str = Field(WHOLE, max_length=20)
    measured: float = Field(RULER_MM, ge=50, le=200)


class Looked(Wide):
    """Whether it is looked at in small."""

    small: bool = False


def _laid(w: Workings, query: Wide) -> Board:
    """The board, folded where it is to be narrower. Raises CannotFold."""
    board = board_of(w.rooms)
    return board if query.wide is None else folded(board, query.wide)


def _refused(error: Exception, field: str) -> Response:
    return problem(422, "No such board", str(error), [Problem(field, str(error), "Take tiles, or the SVG.")])


@view("get", "/designs/<design_id>/board.svg",
      {200: {"content": {"image/svg+xml": {}}}, 422: ProblemDetails})  # fmt: skip
def get_board_svg(path: DesignPath, query: Looked) -> Response:
    """The board at 1:1, or to be looked at in small."""
    _, w = now(path)
    try:
        svg = board_svg(_laid(w, query), w.document.brief.name, small=query.small)
    except CannotFold as error:
        return _refused(error, "wide")
    return Response(svg, mimetype="image/svg+xml")


@view(
    "get", "/designs/<design_id>/board.pdf", {200: {"content": {"application/pdf": {}}}, 422: ProblemDetails}
)
def get_board_pdf(path: DesignPath, query: OnPaper) -> Response:
    """The board at 1:1 on one sheet, or on tiles of paper with a map of them."""
    stored, w = now(path)
    try:
        pdf = board_pdf(_laid(w, query), w.document.brief.name, query.paper, query.measured)
    except (NoBoard, CannotFold) as error:
        return _refused(error, "wide" if isinstance(error, CannotFold) else "paper")
    return _file(pdf, "application/pdf", f"{stored.id}-board.pdf")


@view("get", "/designs/<design_id>/board.dxf", {200: {"content": {"image/vnd.dxf": {}}}, 422: ProblemDetails})
def get_board_dxf(path: DesignPath, query: Wide) -> Response:
    """The board at 1:1 by layers, for a plotter or a cutter."""
    stored, w = now(path)
    try:
        drawing = board_dxf(_laid(w, query))
    except CannotFold as error:
        return _refused(error, "wide")
    return _file(drawing.encode(), "image/vnd.dxf", f"{stored.id}-board.dxf")


def _file(data: bytes, kind: str, name: str) -> Response:
    reply = Response(data, mimetype=kind)
    reply.headers["Content-Disposition"] = f'attachment; filename="{name}"'
    return reply
