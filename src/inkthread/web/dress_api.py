"""The API of what goes over the wires: covers, shrink tube, labels, holds, rings and masses of a harness."""

from __future__ import annotations

import math

from flask import Response
from pydantic import Field

from inkthread.core.dress.mass import mass_of
from inkthread.core.dress.view import DressSheet
from inkthread.exchange.squares import square_svg
from inkthread.web.schemas import REPLY, DesignPath
from inkthread.web.sent import Sent
from inkthread.web.studies_api import now
from inkthread.web.views import json_reply, view


class DressReply(Sent):
    """All that goes over the wires of a harness."""

    model_config = REPLY
    version: int
    sheet: DressSheet


class OfSquare(Sent):
    """What a square code says."""

    text: str = Field(min_length=1, max_length=200)


@view("get", "/square", {200: {"content": {"image/svg+xml": {}}}})
def get_square(query: OfSquare) -> Response:
    """A square code as it is printed on a label (ISO/IEC 18004)."""
    return Response(square_svg(query.text), mimetype="image/svg+xml")


@view("get", "/designs/<design_id>/dress", {200: DressReply})
def get_dress(path: DesignPath) -> Response:
    """Covers, shrink tube, labels, holds, rings and masses, as they are worked out."""
    stored, w = now(path)
    stations = {p: laid.station_mm for p, laid in w.evaluation.route.points.items()}
    dress = w.dress
    lengths = {own.code: own.cassette_m for own in w.catalogue.coverings.labels}
    sheet = DressSheet(
        dress.covers,
        dress.shrinks,
        dress.labels.labels,
        dress.labels.marks,
        dress.labels.tape_mm,
        {code: math.ceil(mm / 1000 / lengths[code]) for code, mm in dress.labels.tape_mm.items()},
        dress.holds,
        dress.lays,
        mass_of(w.context, dress, stations),
    )
    return json_reply(DressReply, DressReply.model_construct(version=stored.version, sheet=sheet))
