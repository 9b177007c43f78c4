"""The API of wire at hand and of what is cut: spools, the plan of a harness, its ticks."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any, Literal

from flask import Response
from pydantic import ConfigDict, Field

from inkthread.core.catalogue import Catalogue
from inkthread.core.cut.spools import (
    Done,
    SpoolPlan,
    assigned,
    find_in_plan,
    piece_lengths_mm,
    plan_sentence,
    plan_spools,
    spool_lines,
)
from inkthread.core.document.draft import LineError
from inkthread.core.findings import Finding, FindingBook
from inkthread.core.quantity import QuantityError, parse_length_mm
from inkthread.core.shop import Spool
from inkthread.core.workings import Workings
from inkthread.storage import CutRefused
from inkthread.web.schemas import REPLY, DesignPath, ProblemDetails, RowId
from inkthread.web.sent import Sent
from inkthread.web.studies_api import now
from inkthread.web.views import json_reply, view, workshop


class SpoolItem(Sent):
    """A spool or remnant at hand."""

    model_config = REPLY
    id: str
    code: str
    colour: str
    length_mm: float
    remnant: bool
    place: str
    held: bool
    """Whether the catalogue has such wire."""


class SpoolsReply(Sent):
    """Wire at hand."""

    model_config = REPLY
    spools: list[SpoolItem]


class SpoolsBody(Sent):
    """Lines like ``AS22759/32 20 AWG RD 30 m in drawer 3``."""

    text: str = Field(max_length=60_000)


class SpoolBody(Sent):
    """What of a spool is corrected. Lengths as they are typed."""

    model_config = ConfigDict(extra="forbid")
    id: RowId
    length: str | None = Field(None, max_length=40)
    place: str | None = Field(None, max_length=120)


class OfSpool(Sent):
    """Which spool."""

    id: RowId


Act = Literal["cut", "taken back", "spoiled", "good after all"]


class CutBody(Sent):
    """What happened to a piece: of which harness of the quantity, off which spool."""

    model_config = ConfigDict(extra="forbid")
    piece: str = Field(max_length=140)
    number: int = Field(1, ge=1, le=10_000)
    spool: RowId | None = None
    act: Act = "cut"


class PlanReply(Sent):
    """Which piece comes off which spool, what is cut, and what is short."""

    model_config = REPLY
    version: int
    plan: SpoolPlan
    findings: tuple[Finding, ...]
    remnant_mm: float
    sentence: str
    """How far the cutting is; empty where no wire is at hand."""


_LONGEST_MM = 1e7


def _spools() -> list[Spool]:
    return [Spool(**data) for data in workshop().cuts.spools()]


def _listed(catalogue: Catalogue) -> Response:
    known = {family.sold_as(size.gauge) for family in catalogue.wires.values() for size in family.sizes}
    items = [SpoolItem(**asdict(s), held=s.code in known) for s in _spools()]
    return json_reply(SpoolsReply, SpoolsReply(spools=items))


@view("get", "/shop/spools", {200: SpoolsReply})
def get_spools() -> Response:
    """Wire at hand, by spool and remnant."""
    return _listed(workshop().catalogue)


@view("post", "/shop/spools", {200: SpoolsReply})
def post_spools(body: SpoolsBody) -> Response:
    """Note more spools and remnants: every line of it, or none."""
    shop = workshop()
    spools = spool_lines(shop.catalogue, body.text)
    shop.cuts.keep_spools([{k: v for k, v in asdict(s).items() if k != "id"} for s in spools])
    return _listed(shop.catalogue)


@view("post", "/shop/spools/change", {200: SpoolsReply})
def post_spool(body: SpoolBody) -> Response:
    """Correct how much is left on a spool, or where it lies."""
    values: dict[str, Any] = {}
    if body.length is not None:
        try:
            values["length_mm"] = parse_length_mm(body.length)
        except QuantityError as error:
            raise LineError(str(error)) from None
        if not 0 <= values["length_mm"] <= _LONGEST_MM:
            raise LineError(f"{body.length!r} is no length of a spool: none or more, at most 10 km.")
    if body.place is not None:
        values["place"] = body.place.strip()
    workshop().cuts.change_spool(body.id, **values)
    return _listed(workshop().catalogue)


@view("delete", "/shop/spools", {200: SpoolsReply})
def delete_spool(query: OfSpool) -> Response:
    """Take a spool out. It can be put back."""
    workshop().cuts.remove_spool(query.id)
    return _listed(workshop().catalogue)


@view("post", "/shop/spools/restore", {200: SpoolsReply})
def post_spool_back(query: OfSpool) -> Response:
    """Put a spool back that was taken out."""
    workshop().cuts.restore_spool(query.id)
    return _listed(workshop().catalogue)


def plan_now(design_id: str, w: Workings) -> SpoolPlan:
    """The plan as things lie now; what was planned before stays where nothing is better."""
    shop = workshop()
    done = [Done(**data) for data in shop.cuts.cut_of(design_id)]
    quantity = w.document.brief.quantity
    begin = shop.plans.get(design_id)
    plan = plan_spools(w.cut, quantity, _spools(), done, w.brief, begin=begin)
    shop.plans.keep(design_id, assigned(plan))
    return plan


def _plan(design_id: str, version: int, w: Workings) -> Response:
    plan = plan_now(design_id, w)
    book = FindingBook(w.catalogue.checks)
    find_in_plan(plan, w.document.brief.measures, book)
    reply = PlanReply.model_construct(
        version=version,
        plan=plan,
        findings=book.in_order(),
        remnant_mm=w.brief.value("remnant_mm"),
        sentence=plan_sentence(w.catalogue.openings["cut"], plan, w.document.brief.measures),
    )
    return json_reply(PlanReply, reply)


@view("get", "/designs/<design_id>/cut-plan", {200: PlanReply})
def get_plan(path: DesignPath) -> Response:
    """Which piece of a harness comes off which spool or remnant, and what none of them holds."""
    stored, w = now(path)
    return _plan(stored.id, stored.version, w)


@view("post", "/designs/<design_id>/cuts", {200: PlanReply, 409: ProblemDetails})
def post_cut(path: DesignPath, body: CutBody) -> Response:
    """Note a piece as cut, take that back, or note it as spoiled: the length goes off its spool, or back."""
    stored, w = now(path)
    cuts = workshop().cuts
    if body.act == "taken back":
        cuts.take_back(stored.id, body.piece, body.number)
    elif body.act == "spoiled":
        cuts.spoil(stored.id, body.piece, body.number)
    elif body.act == "good after all":
        cuts.unspoil(stored.id, body.piece, body.number)
    else:
        cuts.cut(stored.id, body.piece, body.number, _length_mm(w, body), body.spool)
    return _plan(stored.id, stored.version, w)


def _length_mm(w: Workings, body: CutBody) -> float:
    """How long a piece is cut. Raises CutRefused for one that is not on the list."""
    lengths = piece_lengths_mm(w.cut)
    if body.piece not in lengths or body.number > w.document.brief.quantity:
        raise CutRefused(f"{body.piece} of harness {body.number} is not on the cut list.")
    return lengths[body.piece]
