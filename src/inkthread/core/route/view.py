"""What is shown of the route, and how it opens."""

from __future__ import annotations

from inkthread.core.context import Context
from inkthread.core.document.types import Document, Route
from inkthread.core.opening import Opening, many
from inkthread.core.record import record
from inkthread.core.route.layout import LaidPoint, lay_out, shape_of
from inkthread.core.route.room import RouteResult
from inkthread.core.route.threaded import Threaded
from inkthread.core.words import in_words


@record
class ZoneStretch:
    """A stretch of a branch in one zone."""

    zone: str
    from_mm: float
    to_mm: float


@record
class BranchView:
    """A branch: wires in it, its ambient, its hottest conductor."""

    wires: int
    ambient_c: float
    hottest_c: float | None
    stretches: tuple[ZoneStretch, ...]
    """Where it lies in zones, from its first point."""


@record
class SpliceView:
    """Where a splice lies: at a point, or along a branch from it."""

    circuit: str
    point: str
    branch: str | None
    offset_mm: float


@record
class RouteView:
    """Points as laid on the board, branches, splices."""

    points: dict[str, LaidPoint]
    branches: dict[str, BranchView]
    splices: dict[str, SpliceView]
    wires: dict[str, tuple[str, ...]]
    """Branch to the keys of the wires in it."""
    total_m: float


def route_view(context: Context, result: RouteResult, hottest_c: dict[str, float]) -> RouteView:
    """The route as it is sent; ``hottest_c`` is the hottest conductor by branch."""
    document, brief = context.document, context.brief
    inside = context.memo.get(_inside, result.threaded)
    return RouteView(
        context.memo.get(lay_out, shape_of(document.route)),
        {
            b: BranchView(
                len(inside.get(b, ())),
                brief.hottest(b).ambient_c,
                hottest_c.get(b),
                tuple(ZoneStretch(s.air.zone, s.from_mm, s.to_mm) for s in brief.airs[b] if s.air.zone),
            )
            for b in document.route.branches
        },
        context.memo.get(_spliced, result.threaded),
        inside,
        round(_metres(document.route), 4),
    )


def _inside(threaded: Threaded) -> dict[str, tuple[str, ...]]:
    """Branch to the keys of the wires in it."""
    inside: dict[str, list[str]] = {}
    for section in threaded.sections.values():
        for branch_id in section.branches:
            inside.setdefault(branch_id, []).append(section.key)
    return {b: tuple(keys) for b, keys in inside.items()}


def _spliced(threaded: Threaded) -> dict[str, SpliceView]:
    return {
        s.id: SpliceView(s.circuit, s.point, s.branch, round(s.offset_mm, 2))
        for s in threaded.splices.values()
    }


def _metres(route: Route) -> float:
    return sum(b.length_mm for b in route.branches.values()) / 1000


def route_opening(words: dict[str, str], document: Document) -> Opening:
    """How much harness there is, and how its lengths are known."""
    branches = document.route.branches
    if not branches:
        return Opening("empty", 0, words["none"])
    how = [b.measured for b in branches.values()]
    guesses, old = how.count("guess"), how.count("old part")
    if guesses:
        measured = words["guessed"].format(guesses=many(guesses, "length"))
    elif old:
        measured = words["old"].format(old=in_words(old).capitalize())
    else:
        measured = words["measured"]
    sentence = words["laid"].format(
        branches=many(len(branches), "branch", "branches"),
        metres=f"{_metres(document.route):.2f}",
        measured=measured,
    )
    return Opening("full", len(branches), sentence)
