"""The API of photographs from the bench."""

from __future__ import annotations

from flask import Response, request
from pydantic import Field

from inkthread.core.build import help_at
from inkthread.core.document import Problem
from inkthread.exchange.photos import NotAPhoto, clean_photo
from inkthread.web.made import plan_of
from inkthread.web.problems import problem
from inkthread.web.schemas import DesignPath, ProblemDetails
from inkthread.web.sent import Sent
from inkthread.web.studies_api import now
from inkthread.web.views import view, workshop
from inkthread.web.work_api import WorkState, state_of, unknown_steps


class OfPhoto(Sent):
    """At which step of which harness it was taken, and by whom."""

    number: int = Field(1, ge=1, le=10_000)
    step: str = Field(min_length=1, max_length=300)
    who: str = Field("", max_length=60)
    note: str = Field("", max_length=600)


class PhotoPath(DesignPath):
    """A photograph by its happening."""

    happening: int


@view("post", "/designs/<design_id>/work/photos", {200: WorkState, 413: ProblemDetails})
def post_photo(path: DesignPath, query: OfPhoto) -> Response:
    """Keep a photograph with a step: a JPEG or a PNG, sent as it is. Only the picture is kept of it."""
    stored, w = now(path)
    refused = unknown_steps(w, query.number, [query.step])
    if refused is not None:
        return refused
    try:
        jpeg = clean_photo(request.get_data())
    except NotAPhoto as error:
        item = Problem("", str(error), "Send a photograph as JPEG or PNG.")
        return problem(422, "Not a photograph", str(error), [item])
    part = help_at(w.rooms, plan_of(w).operations[query.step]).part
    workshop().work.note(
        stored.id, query.number, step=query.step, kind="photograph", part=part, note=query.note.strip(),
        who=query.who, photo=jpeg,
    )  # fmt: skip
    return state_of(stored.id, stored.version, w, query.number, "Kept with the step.")


@view("get", "/designs/<design_id>/work/photos/<happening>", {200: {"content": {"image/jpeg": {}}}})
def get_photo(path: PhotoPath) -> Response:
    """A photograph from the bench."""
    jpeg = workshop().work.photo(path.design_id, path.happening)
    if jpeg is None:
        message = "There is no such photograph."
        return problem(
            404, "No such photograph", message, [Problem("happening", message, "Look at the list again.")]
        )
    return Response(jpeg, mimetype="image/jpeg", headers={"Cache-Control": "private, max-age=86400"})
