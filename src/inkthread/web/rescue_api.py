"""The API of help at the vice: right and wrong, questions where it jams, taking apart, photographs."""

from __future__ import annotations

from flask import Response
from pydantic import Field

from inkthread.core.build import Help, help_at
from inkthread.web.made import plan_of
from inkthread.web.schemas import REPLY, DesignPath
from inkthread.web.sent import Sent
from inkthread.web.studies_api import now
from inkthread.web.views import json_reply, view, workshop
from inkthread.web.work_api import unknown_steps


class OfStep(Sent):
    """Which step."""

    step: str = Field(max_length=300)


class ShopPhoto(Sent):
    """A photograph of the same part, from this or another harness."""

    model_config = REPLY
    design: str
    happening: int
    note: str


class HelpReply(Sent):
    """What helps at a step."""

    model_config = REPLY
    help: Help
    photos: list[ShopPhoto]


@view("get", "/designs/<design_id>/work/help", {200: HelpReply})
def get_help(path: DesignPath, query: OfStep) -> Response:
    """How the end of a step looks when it is right, what is wrong otherwise, and what to do then."""
    _, w = now(path)
    refused = unknown_steps(w, 1, [query.step])
    if refused is not None:
        return refused
    own = help_at(w.rooms, plan_of(w).operations[query.step])
    photos = workshop().work.photos_of(own.part) if own.part else []
    reply = HelpReply(help=own, photos=[ShopPhoto(design=d, happening=h, note=note) for d, h, note in photos])
    return json_reply(HelpReply, reply)
