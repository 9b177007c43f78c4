"""The API of what is done at the machine: fitting, first power."""

from __future__ import annotations

from flask import Response
from pydantic import ConfigDict, Field

from inkthread.core.build import FittingStep, fitting_steps
from inkthread.core.document import Problem
from inkthread.core.prove import (
    BadComplaint,
    Cause,
    PowerStep,
    expected_volts,
    failed_later,
    first_power,
    read_complaint,
    shorted_behind,
)
from inkthread.web.problems import problem
from inkthread.web.schemas import REPLY, DesignPath
from inkthread.web.sent import Sent
from inkthread.web.studies_api import now
from inkthread.web.views import json_reply, view


class FittingReply(Sent):
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


class LaterBody(Sent):
    """What fails and what was read, as typed; in which operating mode, counted from 0, where one is named."""

    model_config = ConfigDict(extra="forbid")
    text: str = Field(max_length=600)
    mode: int | None = Field(None, ge=0, le=100)


class LaterReply(Sent):
    """What may have failed, the likeliest first, and what to measure next."""

    model_config = REPLY
    device: str
    causes: list[Cause]
    next: str
    explained: bool


@view("post", "/designs/<design_id>/prove/later", {200: LaterReply})
def post_later(path: DesignPath, body: LaterBody) -> Response:
    """Why a harness fails on its machine: causes along the circuit that is complained of."""
    _, w = now(path)
    places = {row.place for row in expected_volts(w.rooms, w.circuits).rows}
    try:
        symptoms = w.catalogue.proofs.later.symptoms
        complaint = read_complaint(body.text, w.document, places, symptoms, w.circuits.fuses)
        last = max(len(w.circuits.modes) - 1, 0)
        mode = None if body.mode is None else min(body.mode, last)
        later = (
            shorted_behind(w.rooms, w.circuits, complaint.blows)
            if complaint.blows
            else failed_later(w.rooms, w.circuits, complaint, mode)
        )
    except BadComplaint as error:
        return problem(422, "Not understood", str(error), [Problem("/text", str(error), "")])
    load = w.document.circuits.loads.get(later.load)
    device = f"{load.device} {w.document.circuits.devices[load.device].name}" if load is not None else ""
    reply = LaterReply(device=device, causes=list(later.causes), next=later.next, explained=later.explained)
    return json_reply(LaterReply, reply)
