"""The API of the work at the bench: steps in order on cards, what is done, who has what, what happened."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Literal

from flask import Response
from pydantic import ConfigDict, Field

from inkthread.core.build import (
    Broken,
    BuildPlan,
    Card,
    Learned,
    Operation,
    Ticked,
    Timed,
    TimeLine,
    again_after,
    find_reused,
    find_unpractised,
    labour_cost,
    learned_minutes,
    minutes_left,
    sessions_of,
    standard_times,
    steps_of,
    taken_out,
)
from inkthread.core.cut.spools import assigned, cut_piece, piece_lengths_mm
from inkthread.core.document import Problem
from inkthread.core.ends.tools import critical_pins
from inkthread.core.findings import Finding, FindingBook
from inkthread.core.quantity import QuantityError, parse_length_mm
from inkthread.core.workings import Workings
from inkthread.storage import NotAtHand, NotInShop, WorkRefused
from inkthread.web.cut_api import plan_now
from inkthread.web.made import plan_of, shares_shown
from inkthread.web.problems import problem
from inkthread.web.proved import prove_setting
from inkthread.web.schemas import REPLY, DesignPath, ProblemDetails
from inkthread.web.sent import Sent
from inkthread.web.studies_api import now
from inkthread.web.views import json_reply, view, workshop

Happened = Literal["spoiled", "trimmed", "setting", "taken out", "looked at", "as built", "note"]
_SESSIONS_SHOWN = 20
_CUT, _CUT_CABLE = "cut-wire ", "cut-cable "


class SessionItem(Sent):
    """Work at one bench without a long break."""

    model_config = REPLY
    who: str
    began: datetime
    minutes: float
    steps: int


class WorkReply(Sent):
    """The work on a harness, in order."""

    model_config = REPLY
    version: int
    steps: list[Operation]
    cards: list[Card]
    broken: list[Broken]
    left_out: list[Operation]
    lost: list[str]
    minutes: float
    settings: int
    times: list[TimeLine]
    learned: dict[str, Learned]
    """What was timed in this shop."""
    source: str
    labour: float | None
    """What the hand work of all of them costs; None where no rate is given."""
    currency: str
    sessions: list[SessionItem]


class DoneItem(Sent):
    """A step that is done."""

    model_config = REPLY
    step: str
    who: str
    bench: str


class TakenItem(Sent):
    """A card that lies on a bench."""

    model_config = REPLY
    card: str
    who: str
    bench: str


class HappeningItem(Sent):
    """What happened at a step."""

    model_config = REPLY
    id: int
    step: str
    kind: str
    part: str
    note: str
    who: str
    at: datetime
    photo: bool


class WorkState(Sent):
    """How far the work on one harness of the quantity is."""

    model_config = REPLY
    version: int
    number: int
    quantity: int
    done: list[DoneItem]
    taken: list[TakenItem]
    happened: list[HappeningItem]
    minutes_left: float
    findings: list[Finding]
    """What is wrong with what was done."""
    says: str
    """What came of what was just done; empty where there is nothing to say."""


class OfHarness(Sent):
    """Which harness of the quantity, and which bench asks."""

    number: int = Field(1, ge=1, le=10_000)
    bench: str = Field("", max_length=40)


Differs = Literal["", "colour", "way", "length", "part", "lay"]
"""What of a piece is otherwise than its design says."""


class _AtBench(Sent):
    model_config = ConfigDict(extra="forbid")
    number: int = Field(1, ge=1, le=10_000)
    bench: str = Field(min_length=1, max_length=40)
    who: str = Field("", max_length=60)


class StepsBody(_AtBench):
    """Steps that are done, or are not after all."""

    steps: list[str] = Field(min_length=1, max_length=60)
    done: bool = True


class TakeBody(_AtBench):
    """A card that is laid on a bench; an empty name lays it back."""

    card: str = Field(max_length=320)


class HappenedBody(_AtBench):
    """What happened at a step."""

    step: str = Field(min_length=1, max_length=300)
    kind: Happened
    note: str = Field("", max_length=400)
    differs: Differs = ""
    """Of what was made otherwise, or trimmed: what is otherwise."""
    now: str = Field("", max_length=80)
    """And what it is now, as typed."""


class OfHappening(Sent):
    """Which note, of which harness."""

    number: int = Field(1, ge=1, le=10_000)
    id: int = Field(ge=1)


@view("get", "/designs/<design_id>/work", {200: WorkReply})
def get_work(path: DesignPath) -> Response:
    """Every step in order, on cards, with what it waits for."""
    stored, w = now(path)
    plan = plan_of(w)
    every = steps_of(w.rooms) if plan.left_out else {}
    reply = WorkReply.model_construct(
        version=stored.version,
        steps=[plan.operations[step] for step in plan.order],
        cards=list(plan.cards),
        broken=list(plan.broken),
        left_out=[every[step] for step in plan.left_out],
        lost=list(plan.lost),
        minutes=plan.minutes,
        settings=plan.settings,
        learned=_learned(),
        times=list(standard_times(plan.operations[step] for step in plan.order)),
        source=w.catalogue.sources["minutes"],
        labour=labour_cost(plan.minutes * w.document.brief.quantity, w.brief),
        currency=w.document.brief.currency,
        sessions=_sessions(stored.id, w.document.brief.quantity),
    )
    return json_reply(WorkReply, reply)


def _sessions(design_id: str, quantity: int) -> list[SessionItem]:
    """Sessions of work on a harness, the newest first."""
    ticks = [
        Ticked(d.who, d.bench, d.at.replace(tzinfo=UTC).timestamp())
        for number in range(1, quantity + 1)
        for d in workshop().work.done(design_id, number)
    ]
    return [
        SessionItem(
            who=s.who,
            began=datetime.fromtimestamp(s.began_s, UTC),
            minutes=round((s.ended_s - s.began_s) / 60, 1),
            steps=s.steps,
        )
        for s in reversed(sessions_of(ticks))
    ][:_SESSIONS_SHOWN]


def _learned() -> dict[str, Learned]:
    """What operations take in this shop, by the ticks of all its harnesses."""
    shop = workshop()
    known: tuple[int, dict[str, Learned]] | None = shop.learned.get("")
    if known is not None and known[0] == shop.work.changed:
        return known[1]
    changed, ticks = shop.work.changed, shop.work.ticks()
    learned = learned_minutes(Timed(bench, at.timestamp(), timed, times) for bench, at, timed, times in ticks)
    shop.learned.keep("", (changed, learned))
    return learned


def state_of(design_id: str, version: int, w: Workings, number: int, says: str = "") -> Response:
    shop, plan = workshop(), plan_of(w)
    done = [DoneItem(step=d.step, who=d.who, bench=d.bench) for d in shop.work.done(design_id, number)]
    for cut in shop.cuts.cut_of(design_id):
        if cut["number"] == number and not cut["spoiled"]:
            done.append(DoneItem(step=_step_of_piece(str(cut["piece"])), who="", bench=""))
    reply = WorkState(
        version=version,
        number=number,
        quantity=w.document.brief.quantity,
        done=[d for d in done if d.step in plan.operations],
        taken=[
            TakenItem(card=t.card, who=t.who, bench=t.bench)
            for t in shop.work.taken(design_id, number)
            if t.card
        ],
        happened=[
            HappeningItem(
                id=h.id,
                step=h.step,
                kind=h.kind,
                part=h.part,
                note=h.note,
                who=h.who,
                at=h.at.replace(tzinfo=UTC),
                photo=h.photo,
            )
            for h in shop.work.happened(design_id, number)
        ],
        minutes_left=minutes_left(plan, {d.step for d in done}, _learned()),
        findings=list(_find(w, plan, design_id, number, {d.step for d in done})),
        says=says,
    )
    return json_reply(WorkState, reply)


def _find(w: Workings, plan: BuildPlan, design_id: str, number: int, done: set[str]) -> tuple[Finding, ...]:
    """What is wrong with what was done: contacts that went in again, crimps by hands that were not shown."""
    book = FindingBook(w.catalogue.checks)
    happened = [(h.kind, h.step) for h in reversed(workshop().work.happened(design_id, number))]
    find_reused(plan.operations, happened, done, w.brief, book)
    if w.brief.value("hands_percent"):
        made_by = [(d.step, d.who) for d in workshop().work.done(design_id, number)]
        relied_on = critical_pins(w.document, w.catalogue, w.circuits)
        find_unpractised(w.rooms, plan.operations, made_by, relied_on, shares_shown(), book)
    return book.in_order()


def _step_of_piece(piece: str) -> str:
    cable = cut_piece("")
    return f"{_CUT_CABLE}{piece.removeprefix(cable)}" if piece.startswith(cable) else f"{_CUT}{piece}"


def _piece_of_step(step: str) -> str | None:
    if step.startswith(_CUT_CABLE):
        return cut_piece(step.removeprefix(_CUT_CABLE))
    return step.removeprefix(_CUT) if step.startswith(_CUT) else None


@view("get", "/designs/<design_id>/work/state", {200: WorkState})
def get_state(path: DesignPath, query: OfHarness) -> Response:
    """What is done, which cards lie on a bench, what happened. The bench that asks is at work."""
    stored, w = now(path)
    if query.bench:
        workshop().work.heard_of(stored.id, query.number, query.bench)
    return state_of(stored.id, stored.version, w, query.number)


@view("post", "/designs/<design_id>/work/steps", {200: WorkState, 409: ProblemDetails})
def post_steps(path: DesignPath, body: StepsBody) -> Response:
    """Note steps as done, or take that back. A piece that is cut goes off its spool, as in Cut."""
    stored, w = now(path)
    refused = unknown_steps(w, body.number, body.steps)
    if refused is not None:
        return refused
    shop = workshop()
    pieces = [piece for step in body.steps if (piece := _piece_of_step(step)) is not None]
    others = [step for step in body.steps if _piece_of_step(step) is None]
    says = ""
    if body.done:
        _own_card(stored.id, w, body)
        if others:
            operations = plan_of(w).operations
            steps = {step: (operations[step].timed, operations[step].times) for step in others}
            shop.work.tick(stored.id, body.number, steps, body.who, body.bench)
        says = " ".join(dict.fromkeys(_cut(stored.id, w, piece, body.number) for piece in pieces)).strip()
    else:
        shop.work.take_back(stored.id, body.number, others)
        for piece in pieces:
            shop.cuts.take_back(stored.id, piece, body.number)
    return state_of(stored.id, stored.version, w, body.number, says)


def unknown_steps(w: Workings, number: int, steps: list[str]) -> Response | None:
    """A step that there is not, or a harness beyond the quantity."""
    quantity = w.document.brief.quantity
    if number > quantity:
        message = f"Harness {number} of {quantity} is none."
        return problem(
            422, "No such harness", message, [Problem("/number", message, "Raise the quantity in Brief.")]
        )
    plan = plan_of(w)
    missing = next((step for step in steps if step not in plan.operations), None)
    if missing is not None:
        message = f"There is no step {missing!r} now."
        remedy = "The harness has changed: look at the order again."
        return problem(422, "No such step", message, [Problem("/steps", message, remedy)])
    return None


def _own_card(design_id: str, w: Workings, body: StepsBody) -> None:
    """Raises WorkRefused where a step's card lies on another bench."""
    lying = {
        t.card: t for t in workshop().work.taken(design_id, body.number) if t.bench != body.bench and t.card
    }
    if not lying:
        return
    steps = set(body.steps)
    for card in plan_of(w).cards:
        if card.id in lying and steps & set(card.steps):
            who = lying[card.id].who or "the other"
            raise WorkRefused(f"Its card lies on {who}'s bench.")


def _cut(design_id: str, w: Workings, piece: str, number: int) -> str:
    """A piece is cut off the spool that the plan has for it now; what is said of it where there is none."""
    spool = assigned(plan_now(design_id, w)).get(f"{piece} {number}")
    length_mm = piece_lengths_mm(w.cut)[piece]
    workshop().cuts.cut(design_id, piece, number, length_mm, int(spool) if spool is not None else None)
    return "" if spool is not None else "No spool is noted that it comes off."


@view("post", "/designs/<design_id>/work/take", {200: WorkState, 409: ProblemDetails})
def post_take(path: DesignPath, body: TakeBody) -> Response:
    """Lay a card on a bench. No other bench can take it until it is laid back, or not heard of for long."""
    stored, w = now(path)
    if body.card and body.card not in {card.id for card in plan_of(w).cards}:
        message = f"There is no card {body.card!r} now."
        item = Problem("/card", message, "The harness has changed: look at the order again.")
        return problem(422, "No such card", message, [item])
    workshop().work.take_card(stored.id, body.number, body.card, body.who, body.bench)
    return state_of(stored.id, stored.version, w, body.number)


def as_built_note(differs: str, now: str, note: str) -> str:
    """What stands in the record of what is otherwise: ``length is 812 mm; ...``."""
    said = f"{differs} is {now}" if differs and now else ""
    return "; ".join(part for part in (said, note) if part)


@view("post", "/designs/<design_id>/work/happened", {200: WorkState, 409: ProblemDetails})
def post_happened(path: DesignPath, body: HappenedBody) -> Response:
    """Note what happened. What is spoiled goes off the stock, and its steps are to be done again."""
    stored, w = now(path)
    refused = unknown_steps(w, body.number, [body.step])
    if refused is not None:
        return refused
    if body.differs == "length" and body.now:
        try:
            parse_length_mm(body.now, w.document.brief.measures)
        except QuantityError as error:
            return problem(
                422, "Not a length", str(error), [Problem("/now", str(error), "Type 812 mm, say.")]
            )
    shop, plan = workshop(), plan_of(w)
    own = plan.operations[body.step]
    part, says = "", ""
    if body.kind == "spoiled":
        part = own.parts[0] if own.parts else ""
        piece = _piece_of_step(body.step)
        if piece is not None:
            shop.cuts.spoil(stored.id, piece, body.number)
        else:
            shop.work.take_back(stored.id, body.number, again_after(plan.operations, body.step))
            says = _off_stock(stored.id, part)
    if body.kind == "taken out":
        shop.work.take_back(stored.id, body.number, taken_out(plan.operations, body.step))
        says = "Look at its tang and wings before it goes in again."
    if body.kind == "setting":
        says = prove_setting(w, own, body.note.strip())
    shop.work.note(
        stored.id,
        body.number,
        step=body.step,
        kind=body.kind,
        part=part or body.differs,
        note=as_built_note(body.differs, body.now.strip(), body.note.strip()),
        who=body.who,
    )
    return state_of(stored.id, stored.version, w, body.number, says)


def _off_stock(design_id: str, part: str) -> str:
    """One of a part less at hand; what is left, in words."""
    shop = workshop()
    if not part:
        return ""
    try:
        shop.buying.use(design_id, {part: 1})
    except (NotInShop, NotAtHand):
        return f"No {part} is left in a drawer: take one of the spares, and put it on the order."
    left = shop.shop.stock()[part]
    place = f" in {left['place']}" if left.get("place") else ""
    return f"{left['quantity']:g} of {part} are left{place}."


@view("delete", "/designs/<design_id>/work/happened", {200: WorkState, 404: ProblemDetails})
def delete_happened(path: DesignPath, query: OfHappening) -> Response:
    """Take a note out again; a spoiled part goes back to the stock."""
    stored, w = now(path)
    struck = workshop().work.strike(stored.id, query.number, query.id)
    if struck is None:
        message = "There is no such note."
        return problem(404, "No such note", message, [Problem("id", message, "Look at the list again.")])
    if struck.kind == "spoiled" and struck.part in workshop().shop.stock():
        workshop().buying.use(stored.id, {struck.part: -1})
    return state_of(stored.id, stored.version, w, query.number)
