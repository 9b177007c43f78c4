"""The API of what is done at the machine: fitting, first power."""

from __future__ import annotations

from flask import Response
from pydantic import BaseModel

from inkthread.core.build import FittingStep, fitting_steps
from inkthread.core.prove import PowerStep, first_power
from inkthread.web.schemas import REPLY, DesignPath
from inkthread.web.studies_api import now
from inkthread.web.views import json_reply, view


class FittingReply(BaseModel):
    """Fitting day and first power: the steps of each, and the modes that amperes are given for."""

    model_config = REPLY
    fitting: list[FittingStep]
    modes: list[str]
    power: list[PowerStep]


@view("get", "/designs/<design_id>/fitting", {200: FittingReply})
def get_fitting(path: DesignPath) -> Response:
    """How the harness goes into its machine, and how it gets its first power."""
    _, w = now(path)
    sheet = first_power(w.rooms, w.circuits)
    reply = FittingReply(
        fitting=list(fitting_steps(w.rooms)), modes=list(sheet.modes), power=list(sheet.steps)
    )
    return json_reply(FittingReply, reply)
