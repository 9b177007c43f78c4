"""The corridor: runs the rooms in order. Document in, evaluation out."""

from __future__ import annotations

from dataclasses import replace

from inkthread.core.brief import brief_room, find_in_offers, find_in_rules, make_or_buy
from inkthread.core.brief.view import brief_opening, brief_view
from inkthread.core.build import Rooms, build_opening, build_room
from inkthread.core.catalogue import Catalogue
from inkthread.core.causes import by_cause, standing
from inkthread.core.circuits import circuits_room
from inkthread.core.circuits.view import circuits_opening, circuits_view
from inkthread.core.context import Context
from inkthread.core.cut import cut_in_words, cut_room
from inkthread.core.cut.view import cut_opening, cut_view
from inkthread.core.document.left_out import as_made
from inkthread.core.document.only import only
from inkthread.core.document.types import Document
from inkthread.core.dress import dress_room, writes_harness
from inkthread.core.dress.view import DressView, dress_opening
from inkthread.core.ends import ends_room
from inkthread.core.ends.view import EndsView, ends_opening
from inkthread.core.evaluation import Evaluation, tally_of
from inkthread.core.findings import FindingBook, in_names
from inkthread.core.memo import Memo
from inkthread.core.missing_parts import stand_in_for_gone
from inkthread.core.opening import room_states
from inkthread.core.parts import find_in_bill, parts_room
from inkthread.core.parts.view import PartsView, parts_opening
from inkthread.core.prove import prove_opening, prove_room
from inkthread.core.route import longest_run_mm, route_room
from inkthread.core.route.view import route_opening, route_view
from inkthread.core.shop import EMPTY_SHOP, Shop
from inkthread.core.unnamed import unnamed
from inkthread.core.wire import wire_room
from inkthread.core.wire.view import WireView, wire_opening
from inkthread.core.workings import Workings


def evaluate(
    document: Document, catalogue: Catalogue, shop: Shop = EMPTY_SHOP, memo: Memo | None = None
) -> Evaluation:
    """Derive everything from a valid document. Pure; never fails on a valid document.

    With a ``memo`` of the same harness, what an edit left alone is not worked out again.
    """
    return work_out(document, catalogue, shop, memo).evaluation


def work_out(
    document: Document, catalogue: Catalogue, shop: Shop = EMPTY_SHOP, memo: Memo | None = None
) -> Workings:
    """Run the rooms in order and keep their results."""
    kept_before, memo = memo is not None, memo or Memo()
    stated, stock, words = document, catalogue, catalogue.openings
    book = FindingBook(catalogue.checks)
    kept = as_made(document)
    named = kept.document
    # What things are called decides no figure: called otherwise, it is the same harness to the rooms.
    things = replace(named, brief=memo.alike("brief", replace(named.brief, name="", machine="")))
    document = unnamed(things, _deciding(catalogue), memo) if kept_before else things
    catalogue = stand_in_for_gone(document, catalogue, memo, book)
    brief = memo.get(brief_room, only(document, "route", "wire.family"), catalogue)
    context = Context(document, catalogue, brief, shop, memo)
    find_in_rules(document, brief, book)
    circuits = circuits_room(context, things, book)
    route = route_room(context, circuits, book)
    wire = wire_room(context, things, circuits, route, book)
    ends = ends_room(context, things, circuits, route, wire, book)
    called = named.brief.name if writes_harness(document.dress) else ""
    dress = dress_room(context, things, called, circuits, route, wire, ends, book)
    cut = cut_room(context, route, wire, ends, dress.laid, book)
    parts = parts_room(context, circuits, wire, ends, dress, cut)
    find_in_bill(context, wire, ends, parts, book)
    cut = memo.get(cut_in_words, cut, wire.texts, memo)
    rooms = Rooms(context, route, wire, ends, cut, dress)
    build_room(rooms, book)
    prove_room(rooms, book)
    longest_mm = memo.get(longest_run_mm, route.threaded)
    offered = make_or_buy(document, brief, longest_mm, parts.cost_total, parts.tooling_total)
    find_in_offers(document, offered, book)
    book.entries = in_names(book.entries, named, memo)
    findings = by_cause(standing(book, kept), circuits, route, wire, memo)
    openings = {
        "brief": brief_opening(words["brief"], named, brief),
        "circuits": circuits_opening(words["circuits"], named, circuits),
        "route": route_opening(words["route"], document),
        "wire": wire_opening(words["wire"], catalogue.limit_words, wire),
        "ends": ends_opening(words["ends"], document),
        "dress": dress_opening(words["dress"], dress),
        "cut": cut_opening(words["cut"], cut, document.brief.measures),
        "parts": parts_opening(words["parts"], parts, document.brief, len(wire.wires)),
        "build": build_opening(words["build"], rooms),
        "prove": prove_opening(words["prove"], rooms),
    }
    evaluation = Evaluation(
        catalogue.version,
        brief_view(named, brief, offered),
        circuits_view(circuits, memo),
        route_view(context, route, wire.branch_hottest_c),
        WireView(wire.wires, wire.loops),
        EndsView(ends.connectors, ends.splices, ends.faces),
        memo.get(cut_view, only(document, "ends"), cut),
        DressView(dress.bundles),
        PartsView(parts.lines, parts.tools, parts.mass_each_g, parts.cost_total, parts.tooling_total),
        findings,
        room_states(openings, findings),
        tally_of(wire, cut, parts, findings, document.brief.quantity),
    )
    context = replace(context, document=named)
    return Workings(
        context, circuits, route, wire, ends, cut, dress, parts, evaluation, stated, stock, document
    )


def _deciding(catalogue: Catalogue) -> tuple[str, ...]:
    """Words that decide something where a device's name has them."""
    return *catalogue.critical.words, *catalogue.rules["unfused_receiver_pack"].words


def otherwise(now: Workings, document: Document) -> Workings:
    """Another document, worked out with the same catalogue and shop."""
    return work_out(document, now.catalogue_given, now.context.shop, now.context.memo)
