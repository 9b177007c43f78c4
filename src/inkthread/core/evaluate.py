"""The corridor: runs the rooms in order. Document in, evaluation out."""

from __future__ import annotations

import gc
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from typing import Literal

from inkthread.core.brief import (
    BriefResult,
    MakeOrBuy,
    brief_room,
    find_in_offers,
    find_in_rules,
    make_or_buy,
)
from inkthread.core.catalogue import Catalogue
from inkthread.core.causes import by_cause
from inkthread.core.circuits import CircuitsResult, circuits_room
from inkthread.core.cut import Cable, Cut, CutResult, cut_room
from inkthread.core.document.left_out import AsMade, as_made
from inkthread.core.document.types import Document
from inkthread.core.dress import BranchBundle, DressResult, dress_room
from inkthread.core.ends import ConnectorEnds, EndsResult, FacePair, SpliceEnd, ToolNeed, ends_room
from inkthread.core.findings import Finding, FindingBook
from inkthread.core.missing_parts import stand_in_for_gone
from inkthread.core.parts import BillLine, PartsResult, find_in_bill, parts_room
from inkthread.core.quantity import format_length
from inkthread.core.route import LaidPoint, RouteResult, lay_out, route_room
from inkthread.core.shop import EMPTY_SHOP, Shop
from inkthread.core.wire import LIMITS, LoopDrop, Wire, WireResult, wire_room
from inkthread.core.words import in_words

Progress = Literal["empty", "begun", "full"]


@dataclass(frozen=True, slots=True)
class RoomState:
    """How far a room is, what it counts, its findings, and its opening sentence."""

    progress: Progress
    count: int
    stops: int
    fixes: int
    sentence: str
    """Numbers that matter stand between double asterisks."""


@dataclass(frozen=True, slots=True)
class RuleView:
    """A rule as it applies: its value, whose it is, the practice's own, and the reason given for another.

    What it is called, and what may be chosen, is the catalogue's.
    """

    value: float | None
    """None where a published table decides instead."""
    origin: str
    """``practice``, ``house`` or ``trial lead``."""
    preset_value: float | None
    reason: str


@dataclass(frozen=True, slots=True)
class BriefView:
    """Rules in force, the family in force and where it comes from, cautions, and whether to make or buy."""

    rules: dict[str, RuleView]
    family: str
    family_origin: str
    cautions: tuple[str, ...]
    make_or_buy: MakeOrBuy


@dataclass(frozen=True, slots=True)
class CircuitView:
    """A circuit: role, current through it, the fuse that protects it."""

    role: str
    carries_a: float
    fuse: str | None


@dataclass(frozen=True, slots=True)
class FuseView:
    """A fuse: load, rating, whether fixed, and its part code."""

    device: str
    path: str
    load_a: float
    rating_a: float
    fixed: bool
    code: str | None


@dataclass(frozen=True, slots=True)
class CircuitsView:
    """Circuits and fuses by key."""

    circuits: dict[str, CircuitView]
    fuses: dict[str, FuseView]


@dataclass(frozen=True, slots=True)
class BranchView:
    """A branch: wires in it, its ambient, its hottest conductor, its bundle."""

    wires: int
    ambient_c: float
    hottest_c: float | None
    bundle: BranchBundle


@dataclass(frozen=True, slots=True)
class SpliceView:
    """Where a splice lies: at a point, or along a branch from it."""

    circuit: str
    point: str
    branch: str | None
    offset_mm: float


@dataclass(frozen=True, slots=True)
class RouteView:
    """Points as laid on the board, branches, splices."""

    points: dict[str, LaidPoint]
    branches: dict[str, BranchView]
    splices: dict[str, SpliceView]
    wires: dict[str, tuple[str, ...]]
    """Branch to the keys of the wires in it."""
    total_m: float


@dataclass(frozen=True, slots=True)
class WireView:
    """Wires by key and drop by load."""

    wires: dict[str, Wire]
    loops: dict[str, LoopDrop]


@dataclass(frozen=True, slots=True)
class EndsView:
    """Connectors and splices as fitted."""

    connectors: dict[str, ConnectorEnds]
    splices: dict[str, SpliceEnd]
    faces: dict[str, FacePair]


@dataclass(frozen=True, slots=True)
class CutView:
    """The cut list, longest first."""

    cuts: tuple[Cut, ...]
    cables: tuple[Cable, ...]
    total_m: float


@dataclass(frozen=True, slots=True)
class PartsView:
    """The bill of materials."""

    lines: tuple[BillLine, ...]
    tools: tuple[ToolNeed, ...]
    mass_each_g: float
    cost_total: float
    tooling_total: float
    """What the tools that are not owned cost."""


@dataclass(frozen=True, slots=True)
class Tally:
    """The swing tag: what one harness comes to."""

    wires: int
    metres: float
    grams: float
    cost: float
    worst_drop_percent: float | None
    worst_drop_load: str | None
    hottest_c: float | None
    hottest_branch: str | None
    stops: int
    fixes: int
    considers: int


@dataclass(frozen=True, slots=True)
class Evaluation:
    """Everything derived from a document, one field a room, and the findings."""

    catalogue_version: str
    brief: BriefView
    circuits: CircuitsView
    route: RouteView
    wire: WireView
    ends: EndsView
    cut: CutView
    parts: PartsView
    findings: tuple[Finding, ...]
    rooms: dict[str, RoomState]
    tally: Tally


@dataclass(frozen=True, slots=True)
class Workings:
    """The rooms' own results, kept for reckonings, and the evaluation they make."""

    document: Document
    catalogue: Catalogue
    brief: BriefResult
    circuits: CircuitsResult
    route: RouteResult
    wire: WireResult
    ends: EndsResult
    cut: CutResult
    dress: DressResult
    parts: PartsResult
    evaluation: Evaluation
    stated: Document
    """The document as the builder states it; ``document`` is without what is left out."""
    given: tuple[Catalogue, Shop]
    """The catalogue without what stands in for parts that have gone, and the shop."""

    def otherwise(self, document: Document) -> Workings:
        """Another document, worked out with the same catalogue and shop."""
        return work_out(document, *self.given)


def evaluate(document: Document, catalogue: Catalogue, shop: Shop = EMPTY_SHOP) -> Evaluation:
    """Derive everything from a valid document. Pure; never fails on a valid document."""
    return work_out(document, catalogue, shop).evaluation


@contextmanager
def _collector_at_rest() -> Iterator[None]:
    """Hold the cyclic garbage collector: an evaluation makes many objects and no cycles.

    It changes no result; a fifth of the time of a large harness goes to the collector otherwise.
    """
    enabled = gc.isenabled()
    gc.disable()
    try:
        yield
    finally:
        if enabled:
            gc.enable()


def work_out(document: Document, catalogue: Catalogue, shop: Shop = EMPTY_SHOP) -> Workings:
    """Run the rooms in order and keep their results."""
    with _collector_at_rest():
        return _work_out(document, catalogue, shop)


def _work_out(document: Document, catalogue: Catalogue, shop: Shop) -> Workings:
    book = FindingBook(catalogue.checks)
    given = (catalogue, shop)
    stated, made = document, as_made(document)
    document = made.document
    catalogue = stand_in_for_gone(document, catalogue, book)
    brief = brief_room(document, catalogue)
    find_in_rules(document, brief, book)
    circuits = circuits_room(document, catalogue, brief, book)
    route = route_room(document, catalogue, brief, circuits, book)
    wire = wire_room(document, catalogue, brief, circuits, route, book)
    ends = ends_room(document, catalogue, brief, circuits, route, wire, book, shop)
    cut = cut_room(document, brief, route, wire, ends)
    dress = dress_room(document, brief, circuits, route, wire, book)
    parts = parts_room(document, catalogue, circuits, wire, ends, cut, shop)
    find_in_bill(document, parts, book)
    offered = make_or_buy(
        document,
        route.longest_run_mm(),
        brief.value("surplus_mm"),
        parts.cost_total,
        parts.tooling_total,
    )
    find_in_offers(document, offered, book)
    trial = document.brief.job == "trial lead"
    findings = tuple(
        f
        for f in book.in_order()
        if not _about_left_out(f, made) and not (trial and catalogue.checks[f.code].lasting)
    )
    findings = by_cause(findings, circuits, route, wire)
    tally = _tally(wire, cut, parts, findings, document.brief.quantity)
    evaluation = Evaluation(
        catalogue.version,
        BriefView(_rules(brief), brief.family, brief.family_origin, brief.cautions, offered),
        CircuitsView(
            {k: CircuitView(f.role, round(f.carries_a, 6), f.fuse) for k, f in circuits.circuits.items()},
            {
                k: FuseView(
                    f.device, f.path, round(f.load_a, 6), f.rating_a, f.fixed, f.part.code if f.part else None
                )
                for k, f in circuits.fuses.items()
            },
        ),
        _route_view(document, route, wire, dress),
        WireView(wire.wires, wire.loops),
        EndsView(ends.connectors, ends.splices, ends.faces),
        CutView(cut.cuts, cut.cables, cut.total_m),
        PartsView(parts.lines, parts.tools, parts.mass_each_g, parts.cost_total, parts.tooling_total),
        findings,
        _rooms(document, brief, circuits, route, wire, ends, cut, parts, findings),
        tally,
    )
    return Workings(
        document, catalogue, brief, circuits, route, wire, ends, cut, dress, parts, evaluation, stated, given
    )


def _rules(brief: BriefResult) -> dict[str, RuleView]:
    return {
        k: RuleView(r.value, r.origin, r.preset_value, r.why if r.origin == "house" else "")
        for k, r in brief.rules.items()
    }


def _about_left_out(finding: Finding, made: AsMade) -> bool:
    """Whether all that a finding is about is left out of the harness."""
    gone = {"device": made.devices, "connector": made.connectors, "circuit": made.circuits}
    return bool(finding.places) and all(
        p.id in gone.get(p.kind, ()) or (p.kind == "pin" and p.id.partition(".")[0] in made.devices)
        for p in finding.places
    )


def _route_view(document: Document, route: RouteResult, wire: WireResult, dress: DressResult) -> RouteView:
    inside: dict[str, list[str]] = {}
    for s in route.sections.values():
        for b in s.branches:
            inside.setdefault(b, []).append(s.key)
    return RouteView(
        lay_out(document.route),
        {
            b: BranchView(
                len(inside.get(b, ())),
                route.hottest(b).ambient_c,
                wire.branch_hottest_c.get(b),
                dress.bundles[b],
            )
            for b in document.route.branches
        },
        {
            s.id: SpliceView(s.circuit, s.point, s.branch, round(s.offset_mm, 2))
            for s in route.splices.values()
        },
        {b: tuple(keys) for b, keys in inside.items()},
        round(sum(b.length_mm for b in document.route.branches.values()) / 1000, 4),
    )


def _tally(
    wire: WireResult, cut: CutResult, parts: PartsResult, findings: tuple[Finding, ...], quantity: int
) -> Tally:
    worst = max(wire.loops.values(), key=lambda x: x.drop_v / x.limit_v, default=None)
    hottest = max(wire.branch_hottest_c.items(), key=lambda kv: kv[1], default=None)
    counts = {
        s: sum(f.severity == s and f.follows is None for f in findings) for s in ("stop", "fix", "consider")
    }
    return Tally(
        len(wire.wires),
        round(cut.total_m, 3),
        parts.mass_each_g,
        round(parts.cost_total / quantity, 2),
        worst.drop_percent if worst else None,
        worst.load if worst else None,
        round(hottest[1], 1) if hottest else None,
        hottest[0] if hottest else None,
        counts["stop"],
        counts["fix"],
        counts["consider"],
    )


def _many(count: int, one: str, several: str | None = None) -> str:
    return f"**{count}** {one if count == 1 else several or one + 's'}"


def _rooms(
    document: Document,
    brief: BriefResult,
    circuits: CircuitsResult,
    route: RouteResult,
    wire: WireResult,
    ends: EndsResult,
    cut: CutResult,
    parts: PartsResult,
    findings: tuple[Finding, ...],
) -> dict[str, RoomState]:
    stops: dict[str, int] = {}
    fixes: dict[str, int] = {}
    for f in (x for x in findings if x.follows is None):
        tally = stops if f.severity == "stop" else fixes if f.severity == "fix" else None
        if tally is not None:
            room = f.places[0].room
            tally[room] = tally.get(room, 0) + 1

    def state(room: str, progress: Progress, count: int, sentence: str) -> RoomState:
        return RoomState(progress, count, stops.get(room, 0), fixes.get(room, 0), sentence)

    b = document.brief
    own = sum(r.origin == "house" for r in brief.rules.values())
    devices = document.circuits.devices
    made = len(wire.wires)
    placed = sum(ref in document.ends.pinout for c in document.circuits.circuits.values() for ref in c.ends)
    wanted = sum(len(c.ends) for c in document.circuits.circuits.values())
    connectors = document.ends.connectors
    to_buy = sum(not line.included for line in parts.lines)
    sentences = {
        "brief": (
            f"Built to **{b.practice}** practice on **{b.supply_working_v:g} V**, in {brief.family} wire. "
            + (f"{_many(own, 'house rule')} of your own." if own else "Every rule is the practice's own.")
        ),
        "circuits": _circuits_sentence(document, circuits)
        if devices
        else "Nothing here yet. Put in what the harness connects: a source first, then what it feeds.",
        "route": (
            f"{_many(len(document.route.branches), 'branch', 'branches')}, "
            f"**{sum(x.length_mm for x in document.route.branches.values()) / 1000:.2f} m** of harness. "
            + _measured_sentence(document)
            if document.route.branches
            else "No branch yet. Type the first run as you measure it: a point, a length, the next point."
        ),
        "wire": _wire_sentence(wire)
        if made
        else "No wire yet. A wire appears when both its ends have a cavity on the route.",
        "ends": (
            f"{_many(len(connectors), 'connector')}, **{placed}** of **{wanted}** device pins have a cavity."
            if connectors
            else "No connector yet. Pick what meets each device."
        ),
        "cut": (
            f"{_many(sum(not c.cable for c in cut.cuts) + len(cut.cables), 'piece')} to cut, "
            + (f"{_many(len(cut.cables), 'cable')} among them, " if cut.cables else "")
            + f"**{cut.total_m:.1f} m** in all, longest first: "
            f"**{format_length(cut.cuts[0].cut_mm, b.units)}**."
            if cut.cuts
            else "Nothing to cut yet."
        ),
        "parts": (
            f"{_many(to_buy, 'line')} to buy for {_many(b.quantity, 'harness', 'harnesses')}: "
            f"**{parts.cost_total:.2f}** in all, **{parts.mass_each_g:.0f} g** each."
            if parts.lines
            else "Nothing to buy yet."
        ),
    }
    full: dict[str, tuple[Progress, int]] = {
        "brief": ("full" if b.name else "begun", len(b.zones)),
        "circuits": (
            "empty" if not devices else "full" if document.circuits.circuits else "begun",
            len(document.circuits.circuits),
        ),
        "route": ("full" if document.route.branches else "empty", len(document.route.branches)),
        "wire": ("full" if made else "empty", made),
        "ends": (
            "empty" if not connectors else "full" if placed == wanted else "begun",
            len(connectors),
        ),
        "cut": ("full" if cut.cuts else "empty", len(cut.cuts)),
        "parts": ("full" if made else "empty", len(parts.lines)),
    }
    return {
        room: state(
            room,
            "begun" if progress == "full" and stops.get(room) else progress,
            count,
            sentences[room],
        )
        for room, (progress, count) in full.items()
    }


def _circuits_sentence(document: Document, circuits: CircuitsResult) -> str:
    c = document.circuits
    drawn = sum(load.current_a for load in c.loads.values())
    bare = sum(not loop.fuses and loop.current_a > 0 for loop in circuits.loops)
    text = (
        f"{_many(len(c.devices), 'device')}, {_many(len(c.circuits), 'circuit')}, "
        f"loads of **{drawn:.3g} A** behind {_many(len(circuits.fuses), 'fuse')}."
    )
    if bare:
        text += f" {_many(bare, 'feed')} {'has' if bare == 1 else 'have'} no fuse."
    return text


def _measured_sentence(document: Document) -> str:
    how: dict[str, int] = {}
    for branch in document.route.branches.values():
        how[branch.measured] = how.get(branch.measured, 0) + 1
    guesses = how.get("guess", 0)
    if guesses:
        return f"{_many(guesses, 'length')} still guessed."
    old = how.get("old part", 0)
    if old:
        return f"{in_words(old).capitalize()} taken from the old part."
    return "Every one measured."


_DECIDES = {
    "current": "current",
    "drop": "voltage drop",
    "fuse": "the fuse",
    "strength": "strength",
    "ends": "what the ends accept",
}


def _wire_sentence(wire: WireResult) -> str:
    counts = dict.fromkeys(LIMITS, 0)
    failing = 0
    for w in wire.wires.values():
        counts[w.governs] += 1
        failing += any(r > 1 + 1e-9 for r in w.limits)
    ranked = sorted(((n, k) for k, n in counts.items() if n), reverse=True)
    first = f"{_DECIDES[ranked[0][1]]} decides **{ranked[0][0]}** of them"
    rest = "".join(f", {_DECIDES[k]} **{n}**" for n, k in ranked[1:])
    others = len({w.family for w in wire.wires.values()} - {wire.family.code})
    beside = f" and {in_words(others)} other {'family' if others == 1 else 'families'}" if others else ""
    text = f"{_many(len(wire.wires), 'wire')} sized in {wire.family.code}{beside}. "
    text += f"{first[0].upper()}{first[1:]}{rest}."
    if wire.fewest is not None:
        few = wire.fewest
        proof = "proved the fewest" if few.proved else f"where no choice can do with fewer than {few.bound}"
        text += f" **{few.parts}** different gauges to buy, {proof}."
    if failing:
        text += f" {_many(failing, 'wire')} {'does' if failing == 1 else 'do'} not hold a limit."
    return text
