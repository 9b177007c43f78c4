"""The API of wholes side by side, and of two harnesses or versions held against each other."""

from __future__ import annotations

from flask import Response
from pydantic import Field

from inkthread.core.build import TimeLine, standard_times, steps_of
from inkthread.core.differences import Differences, differences
from inkthread.core.document import Problem
from inkthread.core.evaluate import work_out
from inkthread.core.trade import Whole, WholeName, wholes_offered
from inkthread.storage.history import NotKept, Version, document_at, versions
from inkthread.web.problems import problem
from inkthread.web.schemas import REPLY, DesignPath
from inkthread.web.sent import Sent
from inkthread.web.studies_api import UNDERWAY, now, study
from inkthread.web.views import json_reply, view, workshop


class WholesReply(Sent):
    """Ways of making the harness that can be put beside it, and the time that it takes as it is."""

    model_config = REPLY
    version: int
    wholes: list[WholeName]
    times: list[TimeLine]
    source: str


class OfWholes(Sent):
    """Which of them, with ``|`` between: three at most."""

    ids: str = Field(max_length=300)


class TradeReply(Sent):
    """Wholes side by side, the harness as it is first."""

    model_config = REPLY
    version: int
    wholes: list[Whole]


class VersionsReply(Sent):
    """Versions of a harness that are kept, the newest first."""

    model_config = REPLY
    version: int
    versions: list[Version]


class OfOther(Sent):
    """What it is held against: another harness, or with a version an earlier one of either."""

    other: str = Field(max_length=32)
    at: int | None = Field(None, ge=1, le=2**53)


class DifferencesReply(Sent):
    """What is otherwise between the two."""

    model_config = REPLY
    version: int
    differences: Differences


@view("get", "/designs/<design_id>/wholes", {200: WholesReply})
def get_wholes(path: DesignPath) -> Response:
    """Ways of making the whole harness that can be put side by side."""
    stored, w = now(path)
    times = list(standard_times(steps_of(w.rooms).values()))
    reply = WholesReply.model_construct(
        version=stored.version,
        wholes=list(wholes_offered(w)),
        times=times,
        source=w.catalogue.sources["minutes"],
    )
    return json_reply(WholesReply, reply)


@view("get", "/designs/<design_id>/trade", {200: TradeReply, **UNDERWAY})
def get_trade(path: DesignPath, query: OfWholes) -> Response:
    """Up to four wholes side by side: what each costs, weighs, takes, and what is wrong with it."""
    return study(
        path,
        "trade",
        lambda version, wholes: TradeReply.model_construct(version=version, wholes=list(wholes)),
        query.ids,
    )


@view("get", "/designs/<design_id>/versions", {200: VersionsReply})
def get_versions(path: DesignPath) -> Response:
    """Versions of a harness that are kept, with the edit that made each."""
    shelf = workshop().shelf
    stored = shelf.get(path.design_id)
    kept = versions(shelf.engine, stored.id)
    return json_reply(VersionsReply, VersionsReply.model_construct(version=stored.version, versions=kept))


@view("get", "/designs/<design_id>/differences", {200: DifferencesReply})
def get_differences(path: DesignPath, query: OfOther) -> Response:
    """Bill, cost, mass and cut list of a harness against another, or against an earlier version."""
    shop = workshop()
    stored, w = now(path)
    other = shop.shelf.get(query.other)
    plain = other.document
    if query.at is not None and query.at != other.version:
        try:
            plain = document_at(shop.shelf.engine, query.other, query.at)
        except NotKept:
            message = f"Version {query.at} of it is not kept any more."
            return problem(404, "Not kept", message, [Problem("at", message, "Choose a later version.")])
    before = work_out(shop.read(plain), shop.catalogue, shop.equipment)
    reply = DifferencesReply.model_construct(version=stored.version, differences=differences(before, w))
    return json_reply(DifferencesReply, reply)
