"""The API of tools and hands: gauges, pulled samples, what was made since; and recall."""

from __future__ import annotations

import re
from datetime import UTC, date, datetime, timedelta

from flask import Response

from inkthread.core.document import Problem
from inkthread.core.ends.detail import pull_force_n
from inkthread.core.prove import CONFIDENCE
from inkthread.core.prove.plan import crimp_setups
from inkthread.core.quantity import QuantityError, parse_number
from inkthread.core.workings import Workings
from inkthread.storage import Gauged
from inkthread.web.made import MadePiece, hands, made_pieces, matches
from inkthread.web.problems import problem
from inkthread.web.schemas import DesignPath
from inkthread.web.studies_api import now
from inkthread.web.tool_schemas import (
    GaugeBody,
    GaugeItem,
    LoggedTool,
    OfEntry,
    PieceMade,
    PullBody,
    PullItem,
    RecallQuery,
    RecallReply,
    SetupItem,
    ToolLogReply,
)
from inkthread.web.views import json_reply, view, workshop

_GAUGED = ("crimper", "press", "die")
_DAYS_OF_YEAR = 365.25
_MOST_N = 50_000.0


def _today() -> date:
    return datetime.now(UTC).date()


@view("get", "/designs/<design_id>/tools/log", {200: ToolLogReply})
def get_tool_log(path: DesignPath) -> Response:
    """The tools that a harness needs with their gauges, pulled samples, and whose hands they speak for."""
    _, w = now(path)
    return _log(w)


def _log(w: Workings) -> Response:
    shop = workshop()
    gauges: dict[str, list[Gauged]] = {}
    for gauged in shop.tool_log.gauges():
        gauges.setdefault(gauged.tool, []).append(gauged)
    pieces = list(made_pieces())
    years = w.brief.value("tool_gauge_years")
    pulls = shop.tool_log.pulls()
    setups = _setups(w)
    codes = {setup.contact for setup in setups}
    tools = [
        _tool(need.code, need.description, need.kind, gauges.get(need.code, []), pieces, years)
        for need in w.parts.tools
        if need.kind in _GAUGED
    ]
    reply = ToolLogReply(
        tools=tools,
        setups=list(setups),
        pulls=[
            PullItem(
                id=p.id, contact=p.contact, wire=p.wire, tool=p.tool, least_n=p.least_n, force_n=p.force_n,
                holds=p.holds, who=p.who, day=p.at.date().isoformat(), note=p.note,
            )
            for p in reversed(pulls)
            if p.contact in codes
        ],
        hands=list(hands()),
        confidence=CONFIDENCE,
        asked=w.brief.value("hands_percent") / 100,
    )  # fmt: skip
    return json_reply(ToolLogReply, reply)


def _tool(
    code: str, description: str, kind: str, gauges: list[Gauged], pieces: list[MadePiece], years: float
) -> LoggedTool:
    owned = workshop().equipment.tools.get(code)
    good = [g.day for g in gauges if g.result == "passed"]
    if owned is not None and owned.result == "passed" and owned.gauged_on:
        good.append(owned.gauged_on)
    last = max(good, default="")
    until = date.fromisoformat(last) + timedelta(days=round(years * _DAYS_OF_YEAR)) if last else None
    since = [
        PieceMade(
            design=own.design, name=own.name, number=own.number, serial=own.serial,
            why=[f"last crimped with it {own.crimped[code]:%Y-%m-%d}"],
        )
        for own in pieces
        if code in own.crimped and own.crimped[code].date().isoformat() > last
    ]  # fmt: skip
    return LoggedTool(
        code=code,
        description=description,
        kind=kind,
        owned=owned is not None,
        status=owned.status if owned is not None else "",
        gauges=[
            GaugeItem(id=g.id, day=g.day, result=g.result, note=g.note, who=g.who) for g in reversed(gauges)
        ],
        due=until.isoformat() if until is not None else "",
        overdue=until is not None and until < _today(),
        since=since,
    )


@view("post", "/designs/<design_id>/tools/gauges", {200: ToolLogReply})
def post_gauge(path: DesignPath, body: GaugeBody) -> Response:
    """Note that a tool was gauged. Its newest gauge says in every design how it stands."""
    shop = workshop()
    shop.shelf.get(path.design_id)
    if body.tool not in shop.catalogue.tools:
        message = f"There is no tool {body.tool!r}."
        return problem(422, "No such tool", message, [Problem("/tool", message, "Take one of the list.")])
    try:
        day = date.fromisoformat(body.day)
    except ValueError:
        message = f"{body.day} is no day."
        return problem(422, "No such day", message, [Problem("/day", message, "Type it as 2026-11-29.")])
    if day > _today():
        message = f"{body.day} is still to come."
        return problem(422, "No such day", message, [Problem("/day", message, "Type the day it was done.")])
    shop.tool_log.gauge(body.tool, body.day, body.result, body.note.strip(), body.who.strip())
    _stand_by_newest(body.tool)
    return _log(now(path)[1])


@view("delete", "/designs/<design_id>/tools/gauges", {200: ToolLogReply})
def delete_gauge(path: DesignPath, query: OfEntry) -> Response:
    """Take a gauge out of the log again."""
    log = workshop().tool_log
    struck = next((g for g in log.gauges() if g.id == query.id), None)
    log.strike_gauge(query.id)
    if struck is not None:
        _stand_by_newest(struck.tool)
    return _log(now(path)[1])


def _stand_by_newest(tool: str) -> None:
    """What the shop says of a tool is what its newest gauge said."""
    shop = workshop()
    of_tool = [g for g in shop.tool_log.gauges() if g.tool == tool]
    known = shop.equipment.tools.get(tool)
    data = {
        "certified": known.certified if known else False,
        "borrowed": known.borrowed if known else False,
        "note": known.note if known else "",
        "gauged_on": of_tool[-1].day if of_tool else "",
        "result": of_tool[-1].result if of_tool else "not gauged",
    }
    shop.shop.own_tool(tool, data)
    shop.stock_up()


@view("post", "/designs/<design_id>/tools/pulls", {200: ToolLogReply})
def post_pulls(path: DesignPath, body: PullBody) -> Response:
    """Note samples that were pulled until they gave, against the published minimum of contact and wire."""
    _, w = now(path)
    least_n = _least_n(w, body.contact, body.wire)
    if least_n is None:
        message = f"No pull force is published for {body.contact} on {body.wire}."
        return problem(
            422, "No minimum", message, [Problem("/contact", message, "Take a set-up of the list.")]
        )
    forces: list[float] = []
    for word in re.split(r"[;\s]+|,(?=\s)|,(?=\d{2,})", body.forces.strip()):
        text = word.strip().removesuffix("N").strip()
        if not text:
            continue
        try:
            force_n = parse_number(text)
        except QuantityError:
            force_n = -1.0
        if not 0 <= force_n <= _MOST_N:
            message = f"{word!r} is no force in N."
            return problem(
                422,
                "Not understood",
                message,
                [Problem("/forces", message, "Type forces in N, 82 90 88 say.")],
            )
        forces.append(force_n)
    workshop().tool_log.pull(
        body.tool, body.contact, body.wire, least_n, forces, body.note.strip(), body.who.strip()
    )
    return _log(w)


def _setups(w: Workings) -> tuple[SetupItem, ...]:
    """Every contact on a wire with a tool, and the force that a sample of it must hold."""
    setups = {
        (contact, wire, tool.partition(",")[0]): round(force_n, 1)
        for (contact, wire, tool), force_n in crimp_setups(w.rooms).items()
    }
    return tuple(
        SetupItem(contact=contact, wire=wire, tool=tool, least_n=least_n)
        for (contact, wire, tool), least_n in setups.items()
    )


def _least_n(w: Workings, contact: str, wire: str) -> float | None:
    """The published minimum in N of a contact on a wire part, or None where there is none."""
    own = next(
        (c for family in w.catalogue.connectors.values() for c in family.contacts if c.code == contact), None
    )
    family = next((f for f in w.catalogue.wires.values() if wire.startswith(f"{f.code} ")), None)
    size = family.size(wire.removeprefix(f"{family.code} ")) if family is not None else None
    if own is None or size is None:
        return None
    force_n = pull_force_n(w.catalogue.pull.get(own.pull), size)
    return round(force_n, 1) if force_n is not None else None


@view("delete", "/designs/<design_id>/tools/pulls", {200: ToolLogReply})
def delete_pull(path: DesignPath, query: OfEntry) -> Response:
    """Take a pulled sample out of the log again."""
    workshop().tool_log.strike_pull(query.id)
    return _log(now(path)[1])


@view("get", "/recall", {200: RecallReply})
def get_recall(query: RecallQuery) -> Response:
    """Which pieces have a batch, were made with a tool or a setting, by a person, or have a part."""
    what = query.what.strip()
    pieces = []
    for own in made_pieces():
        why = list(dict.fromkeys(t.words for t in own.traits if what and matches(t, what)))
        if why:
            pieces.append(
                PieceMade(design=own.design, name=own.name, number=own.number, serial=own.serial, why=why)
            )
    return json_reply(RecallReply, RecallReply(what=what, pieces=pieces))
