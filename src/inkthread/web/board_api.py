"""The API of the board at 1:1: to look at, to print, to plot."""

from __future__ import annotations

from flask import Response
from pydantic import BaseModel, Field

from inkthread.core.build import board_of
from inkthread.core.document import Problem
from inkthread.exchange.board import RULER_MM, WHOLE, NoBoard, board_dxf, board_pdf, board_svg
from inkthread.web.problems import problem
from inkthread.web.schemas import DesignPath
from inkthread.web.studies_api import now
from inkthread.web.views import view


class OnPaper(BaseModel):
    """On which paper, and what the printed ruler of 100 mm measured."""

    paper: str = Field(WHOLE, max_length=20)
    measured: float = Field(RULER_MM, ge=50, le=200)


class Looked(BaseModel):
    """Whether it is looked at in small."""

    small: bool = False


@view("get", "/designs/<design_id>/board.svg", {200: {"content": {"image/svg+xml": {}}}})
def get_board_svg(path: DesignPath, query: Looked) -> Response:
    """The board at 1:1, or to be looked at in small."""
    _, w = now(path)
    svg = board_svg(board_of(w.rooms), w.document.brief.name, small=query.small)
    return Response(svg, mimetype="image/svg+xml")


@view("get", "/designs/<design_id>/board.pdf", {200: {"content": {"application/pdf": {}}}})
def get_board_pdf(path: DesignPath, query: OnPaper) -> Response:
    """The board at 1:1 on one sheet, or on tiles of paper with a map of them."""
    stored, w = now(path)
    try:
        pdf = board_pdf(board_of(w.rooms), w.document.brief.name, query.paper, query.measured)
    except NoBoard as error:
        return problem(
            422, "No such board", str(error), [Problem("paper", str(error), "Take tiles, or the SVG.")]
        )
    return _file(pdf, "application/pdf", f"{stored.id}-board.pdf")


@view("get", "/designs/<design_id>/board.dxf", {200: {"content": {"image/vnd.dxf": {}}}})
def get_board_dxf(path: DesignPath) -> Response:
    """The board at 1:1 by layers, for a plotter or a cutter."""
    stored, w = now(path)
    return _file(board_dxf(board_of(w.rooms)).encode(), "image/vnd.dxf", f"{stored.id}-board.dxf")


def _file(data: bytes, kind: str, name: str) -> Response:
    reply = Response(data, mimetype=kind)
    reply.headers["Content-Disposition"] = f'attachment; filename="{name}"'
    return reply
