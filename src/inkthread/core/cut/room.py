"""The cut list: finished length, what each end takes, rounding, strips; the first to be cut first."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from typing import Annotated, NamedTuple, TypeVar

from pydantic import Field

from inkthread.core.catalogue import WireFamily
from inkthread.core.context import Context
from inkthread.core.cut.cables import Cable, cut_cables
from inkthread.core.cut.checks import find_in_cuts
from inkthread.core.cut.ends import EndCut, EndCutter, unsure_of_mm
from inkthread.core.cut.lengths import Rounding, cut_length_mm
from inkthread.core.document.types import Document
from inkthread.core.ends import EndsResult, Fittings
from inkthread.core.findings import Finding, FindingBook
from inkthread.core.memo import Memo
from inkthread.core.record import altered, record
from inkthread.core.route import RouteResult, Section, Threaded
from inkthread.core.route.checks import unsure_mm
from inkthread.core.wire import MadeWires, WireResult


class Laid(NamedTuple):
    """How a wire or cable lies in a branch: how much longer it is for its lay, and for the branch's bends."""

    factor: float
    bend_mm: float


LaidIn = Mapping[tuple[str, str], Laid]
"""By branch, and by wire or ``cable`` and its group. What is not in it runs straight."""


OnItsCard = Annotated[float, Field(exclude=True)]
"""A figure that is told on the card of its length, and not sent with every edit."""


@record
class Cut:
    """One piece of wire to cut. Lengths in mm."""

    wire: str
    label: str
    part: str
    """Family and gauge."""
    colour: str
    route_mm: OnItsCard
    slack_mm: OnItsCard
    """Along its branches, at their points, and at its ends so that they can be made again."""
    twist_mm: OnItsCard
    """What being twisted by hand takes up."""
    lay_mm: OnItsCard
    """What lying in rings takes up, and what bends do."""
    finished_mm: float
    unsure_mm: float
    """The finished length may be this much off either way, by how its branches were measured."""
    cut_mm: float
    a: EndCut
    b: EndCut
    from_text: str
    to_text: str
    mass_g: OnItsCard
    lead_ohm: tuple[float, float] | None = None
    """Least and most resistance, end to end, of a resistive lead of its finished length."""
    cable: str = ""
    """The cable it is a core or the shield of, cut with it in one piece."""


@record
class CutResult:
    """Pieces in the order they are cut, and what is cut for one harness in metres, a cable counted once."""

    cuts: tuple[Cut, ...]
    total_m: float
    cables: tuple[Cable, ...] = ()
    decided_by: tuple[str, ...] = ()
    """By cable, the core that decides its length."""


_ROUNDINGS: dict[int, Rounding] = {1: "up", 2: "nearest"}


def cut_room(
    context: Context,
    route: RouteResult,
    wire: WireResult,
    ends: EndsResult,
    laid: LaidIn,
    book: FindingBook,
) -> CutResult:
    """Cut = finished + what each end takes, rounded; finished = route + slack + what lay and twist take up.

    Cores of one cable are cut together, as long as the longest of them. What their ends are called is
    said by ``cut_in_words``.
    """
    result, findings = context.memo.get(
        _work_out, context.only(*_READ), route.threaded, wire.made, ends.fittings, laid
    )
    book.entries += findings
    return result


_READ = (
    "route", "ends", "cut", "circuits.circuits", "circuits.groups", "circuits.buses",
)  # fmt: skip


def _work_out(
    context: Context, route: Threaded, wire: MadeWires, ends: Fittings, laid: LaidIn
) -> tuple[CutResult, list[Finding]]:
    document, brief = context.document, context.brief
    book = FindingBook(context.catalogue.checks)
    cuts = _pieces(context, route, wire, EndCutter(document, brief, route, ends), laid)
    longest = cut_cables(context, route, wire, ends, {c.wire: c.cut_mm for c in cuts})
    cables = [cable for cable, _ in longest]
    of = {w: c for c in cables for w in (*c.wires, *([c.shield] if c.shield else []))}
    cuts = [
        altered(
            c,
            cable=of[c.wire].id,
            cut_mm=of[c.wire].cut_mm,
            mass_g=0.0 if c.wire == of[c.wire].shield else c.mass_g * of[c.wire].cut_mm / c.cut_mm,
        )
        if c.wire in of
        else c
        for c in cuts
    ]
    find_in_cuts(context, route, wire, ends, {c.wire: (c.a, c.b) for c in cuts}, book)
    total_mm = sum(c.cut_mm for c in cuts if not c.cable) + sum(c.cut_mm for c in cables)
    result = CutResult(
        tuple(_in_order(document, route, cuts)),
        round(total_mm / 1000, 4),
        tuple(cables),
        tuple(key for _, key in longest),
    )
    return result, book.entries


def cut_in_words(cut: CutResult, texts: dict[str, tuple[str, str]], memo: Memo) -> CutResult:
    """The same with what the ends of every piece are called, ``texts`` by wire."""
    cuts = memo.row_by_row(
        cut_in_words,
        tuple(c.wire for c in cut.cuts),
        (list(cut.cuts), [texts[c.wire] for c in cut.cuts]),
        lambda rows: (_between(cut.cuts[n], texts[cut.cuts[n].wire]) for n in rows),
        telling=True,
    )
    cables = zip(cut.cables, cut.decided_by, strict=True)
    return replace(cut, cuts=tuple(cuts.values()), cables=tuple(_between(c, texts[key]) for c, key in cables))


_Piece = TypeVar("_Piece", Cut, Cable)


def _between(piece: _Piece, texts: tuple[str, str]) -> _Piece:
    return altered(piece, from_text=texts[0], to_text=texts[1])


def _pieces(context: Context, route: Threaded, wire: MadeWires, cutter: EndCutter, laid: LaidIn) -> list[Cut]:
    """Every piece by itself. One of which nothing is another since the last time is the same object."""
    document = context.document
    all_read = (document.route, document.cut, context.brief, wire.families)
    before: tuple[object, ...]
    known: dict[str, tuple[tuple[object, ...], Cut]]
    before, known = context.memo.last(_pieces) or ((), {})
    if not before or any(a is not b for a, b in zip(before, all_read, strict=True)):
        known = {}
    unsure = {b: unsure_mm(branch) for b, branch in document.route.branches.items()}
    off_by_mm: dict[int, float] = {}
    """By the stretches passed, which many wires share."""
    rounded = rounding_of(context)
    pieces: dict[str, tuple[tuple[object, ...], Cut]] = {}
    for key, sized in wire.wires.items():
        section = route.sections[key]
        thing = key if sized.cable is None else f"cable {sized.cable}"
        lies = [laid.get((branch_id, thing)) for branch_id, _, _ in section.spans] if laid else []
        read = (section, sized, cutter.reads(key, section.a), cutter.reads(key, section.b), lies)
        piece = known.get(key)
        if piece is None or piece[0] != read:
            way = id(section.spans)
            if way not in off_by_mm:
                off_by_mm[way] = round(unsure_of_mm(document, section, unsure), 1)
            piece = (read, _cut(route, wire, key, cutter, laid, off_by_mm[way], *rounded))
        pieces[key] = piece
    context.memo.put_down(_pieces, (all_read, pieces))
    return [cut for _, cut in pieces.values()]


def rounding_of(context: Context) -> tuple[float, Rounding]:
    """The cutting step in mm, and which way lengths go to it."""
    return context.brief.value("cut_step_mm"), _ROUNDINGS[int(context.brief.value("cut_rounding"))]


def _cut(
    route: Threaded,
    wire: MadeWires,
    key: str,
    cutter: EndCutter,
    laid: LaidIn,
    off_by_mm: float,
    step: float,
    rounding: Rounding,
) -> Cut:
    section = route.sections[key]
    sized = wire.wires[key]
    size = wire.size(key)
    lay_mm = _lay_mm(section, key if sized.cable is None else f"cable {sized.cable}", laid)
    a, b = cutter.cut(key, section.a), cutter.cut(key, section.b)
    slack = section.slack_mm + a.service_mm + b.service_mm
    straight = section.length_mm + slack
    finished = (straight + lay_mm) * sized.twist
    # What is trimmed off for a neighbour's fold is cut away from a length that all cores share.
    cut = cut_length_mm(finished, a.takes_mm, b.takes_mm, step_mm=step, rounding=rounding)
    return Cut(
        key,
        sized.label,
        f"{sized.family} {sized.gauge}",
        sized.colour,
        round(section.length_mm, 2),
        round(slack, 2),
        round(finished - straight - lay_mm, 2),
        round(lay_mm, 2),
        round(finished, 2),
        off_by_mm,
        cut,
        a,
        b,
        "",
        "",
        round(cut * size.mass_g_per_m / 1000, 2),
        _lead_ohm(wire.families[sized.family], finished),
    )


def _lay_mm(section: Section, thing: str, laid: LaidIn) -> float:
    """What lying in rings takes up of the lengths that a wire passes, and what bends do."""
    total = 0.0
    for branch_id, low, high in section.spans if laid else ():
        lies = laid.get((branch_id, thing))
        if lies is not None:
            total += (high - low) * (lies.factor - 1) + lies.bend_mm
    return total


def alone_mm(context: Context, cut: Cut) -> float:
    """What a core would be cut to by itself."""
    step, rounding = rounding_of(context)
    return cut_length_mm(cut.finished_mm, cut.a.takes_mm, cut.b.takes_mm, step_mm=step, rounding=rounding)


def _in_order(document: Document, route: Threaded, cuts: list[Cut]) -> list[Cut]:
    """The list as the builder takes it: within what goes first, the longest first."""
    first = document.cut.first
    points = document.route.points
    start = next((p for p, point in points.items() if point.datum), next(iter(points), ""))

    def away_mm(point: str) -> float:
        return route.tree.distance_mm(start, point) or 0.0

    def place(c: Cut) -> tuple[object, ...]:
        section = route.sections[c.wire]
        if first == "wire part":
            return (c.part, c.colour)
        if first == "connector":
            return (min(end.connector or "~" for end in (section.a, section.b)),)
        if first == "furthest":
            return (-max(away_mm(end.point) for end in (section.a, section.b)),)
        return ()

    return sorted(cuts, key=lambda c: (*place(c), -c.cut_mm, c.cable, c.label))


def _lead_ohm(family: WireFamily, finished_mm: float) -> tuple[float, float] | None:
    if family.resistance_max_ohm_per_m is None:
        return None
    low, high = family.lead_ohm(finished_mm / 1000)
    return round(low, 2), round(high, 2)
