"""The dress room: bundle diameters, and advice on clamps, ties and bends for every branch."""

from __future__ import annotations

from dataclasses import replace
from typing import Annotated

from pydantic import Field

from inkthread.core.brief import BriefResult
from inkthread.core.brief.airs import HOT_C
from inkthread.core.circuits import CircuitsResult, Role
from inkthread.core.context import Context
from inkthread.core.cut import Laid
from inkthread.core.document.only import only
from inkthread.core.document.problems import pointer
from inkthread.core.document.types import Document
from inkthread.core.dress.barrels import barrel_tubes
from inkthread.core.dress.checks import find_in_dress
from inkthread.core.dress.covers import BranchCover
from inkthread.core.dress.dressed import BareBundle, Dressed, dress_branches
from inkthread.core.dress.holds import Hold
from inkthread.core.dress.labels import NO_LABELS, Labels, make_labels, names_on_labels
from inkthread.core.dress.lay import FillerRun, Lay, fillers_of, lay_branches, ring_places
from inkthread.core.dress.lying import Lying, what_lies, wire_masses
from inkthread.core.dress.shrinks import ShrinkPiece
from inkthread.core.ends import EndsResult, Fittings
from inkthread.core.findings import Finding, FindingBook, Place, phrase
from inkthread.core.measures import format_length
from inkthread.core.physics.packing import PACKED_AT_MOST, bundle_diameters, pack, pack_closely
from inkthread.core.record import record
from inkthread.core.route import RouteResult, Threaded
from inkthread.core.wire import MadeWires, WireResult

BEND_RUN = 10.0
"""Times the outside diameter of the largest wire, along a run (AC 43.13-1B, from memory)."""
BEND_HELD = 3.0
"""At a breakout where the wire is supported (AC 43.13-1B, from memory)."""
BEND_COAX = 6.0
"""Coaxial cable (AC 43.13-1B, from memory)."""


OnItsCard = Annotated[bool, Field(exclude=True)]
"""What is told on the card of its branch, and not sent with every edit."""


@record
class BranchBundle:
    """A branch as a bundle. Lengths in mm."""

    tight_mm: float
    """As tightly as its wires can be laid, or over its rings."""
    loose_mm: float
    """As hands lay it."""
    estimated: bool
    """By area: too many wires to lay out one by one."""
    clamps: int
    """Supports along it, as fitted or by the house rules, its ends not counted."""
    clamp_every_mm: float
    clamped_by_mass: OnItsCard
    """Closer than by distance alone, for what each clamp carries."""
    ties: int
    bend_run_mm: float
    bend_held_mm: float
    shares_with: tuple[str, ...]
    """What it shares the branch with that matters: ignition, data, heat, an instrument."""


@record
class DressResult:
    """Bundles by branch, and what lies in each: (what, diameter) in the order packed."""

    bundles: dict[str, BranchBundle]
    contents: dict[str, tuple[tuple[str, float], ...]]
    twists: dict[tuple[str, str], tuple[tuple[str, float], ...]]
    """By branch and thing: wires that are twisted together by hand, each with its diameter."""
    wires_g: dict[str, float]
    """What the wires in each branch weigh."""
    lays: dict[str, Lay]
    """By branch, where its wires are laid in rings."""
    laid: dict[tuple[str, str], Laid]
    """By branch and wire or cable, what lay and bends take up, for the cut."""
    fillers: tuple[FillerRun, ...]
    covers: tuple[BranchCover, ...]
    shrinks: tuple[ShrinkPiece, ...]
    labels: Labels
    holds: tuple[Hold, ...]

    def outside_mm(self) -> dict[str, float]:
        """Over each branch, cover and all."""
        return {b: cover.outside_mm for cover in self.covers for b in cover.branches}

    def mass_g(self) -> float:
        """Of all that goes over the wires."""
        return (
            sum(cover.mass_g for cover in self.covers)
            + sum(filler.mass_g for filler in self.fillers)
            + sum(piece.mass_g * piece.count for piece in self.shrinks)
            + sum(label.mass_g for label in self.labels.labels)
            + sum(hold.mass_g * hold.count for hold in self.holds)
        )


def dress_room(
    context: Context,
    named: Document,
    called: str,
    circuits: CircuitsResult,
    route: RouteResult,
    wire: WireResult,
    ends: EndsResult,
    book: FindingBook,
) -> DressResult:
    """Pack every branch; advise on how it is held and bent. ``named`` and ``called`` are its things and the
    harness by their names, for labels.
    """
    memo, own = context.memo, context.only(*_READ)
    unlabelled, dressed, findings = memo.get(
        _work_out, own, circuits.role_of, route.threaded, wire.made, ends.fittings
    )
    book.entries += findings
    labels = make_labels(
        context.only(*_LABELLED),
        names_on_labels(named, called, memo),
        route.threaded,
        wire.made,
        dressed.outside_at_mm,
        dressed.bundle_at_mm,
    )
    result, findings = memo.get(_labelled, own, unlabelled, memo.alike("labels", labels))
    book.entries += findings
    return result


_READ = (
    "route", "ends", "dress", "cut.ends", "circuits.circuits", "circuits.groups", "circuits.devices",
)  # fmt: skip


_LABELLED = "ends", "dress", "cut.ends", "route.points", "circuits.devices"


def _largest_first(lying: Lying) -> dict[str, tuple[tuple[str, float], ...]]:
    """By branch what lies in it with its diameter in mm, the largest first, then by name."""
    lies_in: dict[tuple[float, str], list[str]] = {}
    for branch_id, things in lying.items():
        for name, thing in things.items():
            lies_in.setdefault((-thing.outside_mm, name), []).append(branch_id)
    contents: dict[str, list[tuple[str, float]]] = {b: [] for b in lying}
    told = sorted((round(less, 3), name, less) for less, name in lies_in)
    for rounded, name, less in told:
        own = name, -rounded
        for branch_id in lies_in[less, name]:
            contents[branch_id].append(own)
    return {b: tuple(things) for b, things in contents.items()}


def _work_out(
    context: Context, role_of: dict[str, Role], route: Threaded, wire: MadeWires, ends: Fittings
) -> tuple[DressResult, Dressed, list[Finding]]:
    """All but its labels, and how its branches are dressed."""
    document, brief = context.document, context.brief
    book = FindingBook(context.catalogue.checks)
    lying = what_lies(document, route, wire)
    roles: dict[str, set[str]] = {b: set() for b in document.route.branches}
    for s in route.sections.values():
        for b in s.branches:
            roles[b].add(role_of[s.circuit])
    loose = brief.value("loose_factor")
    wires_g = wire_masses(document, route, wire)
    contents = _largest_first(lying)
    packed_mm = bundle_diameters([d for _, d in things] for things in contents.values())
    packed = dict(zip(contents, packed_mm, strict=True))
    lays, laid = lay_branches(context, route, contents, packed)
    for (branch_id, name), how in tuple(laid.items()):
        laid |= {(branch_id, key): how for key, _ in lying[branch_id][name].wires}
    tight = {b: lays[b].diameter_mm if b in lays else packed[b] for b in lying}
    dressed = context.memo.get(
        dress_branches,
        only(document, "route", "dress", "ends.connectors"),
        context.catalogue,
        brief,
        route.tree,
        tuple(
            BareBundle(
                b,
                sum(len(thing.wires) or 1 for thing in things.values()),
                round(tight[b], 2),
                round(tight[b] * loose, 2),
                any(thing.solid for thing in things.values()),
                wires_g[b],
            )
            for b, things in lying.items()
        ),
    )
    bundles: dict[str, BranchBundle] = {}
    for branch_id, things in lying.items():
        coax = max(
            (own.outside_mm for own in things.values() if own.family.construction == "coax"), default=0.0
        )
        largest = contents[branch_id][0][1] if things else 0.0
        supports = dressed.supports[branch_id]
        bundles[branch_id] = BranchBundle(
            round(tight[branch_id], 2),
            round(tight[branch_id] * loose, 2),
            len(things) > PACKED_AT_MOST,
            supports.clamps,
            supports.clamp_every_mm,
            supports.by_mass,
            supports.ties,
            round(max(BEND_RUN * (largest if largest > coax else 0.0), BEND_COAX * coax), 1),
            round(max(BEND_HELD * (largest if largest > coax else 0.0), BEND_COAX * coax), 1),
            _shares(document, route, branch_id, roles[branch_id]),
        )
    _openings(document, brief, dressed.outside_mm, book)
    shrinks = dressed.shrinks + barrel_tubes(context, wire, ends, book)
    twists = {
        (b, name): thing.wires for b, things in lying.items() for name, thing in things.items() if thing.wires
    }
    result = DressResult(
        bundles, contents, twists, wires_g, lays, laid, fillers_of(context, lays), dressed.covers,
        shrinks, NO_LABELS, dressed.holds,
    )  # fmt: skip
    return result, dressed, book.entries


def _labelled(context: Context, dress: DressResult, labels: Labels) -> tuple[DressResult, list[Finding]]:
    """The same with its labels, and what is wrong with what is on it."""
    book = FindingBook(context.catalogue.checks)
    find_in_dress(context, dress.covers, dress.shrinks, labels, dress.holds, book)
    return replace(dress, labels=labels), book.entries


@record
class Circle:
    """A wire or cable in a cross-section: where its middle lies from the bundle's, in mm."""

    thing: str
    """A wire's key, or ``cable`` and its group."""
    x_mm: float
    y_mm: float
    diameter_mm: float


def cross_section(dress: DressResult, branch_id: str) -> tuple[Circle, ...]:
    """A branch as it lies: in its rings, else as packed, largest first; empty where there are too many
    wires to lay out one by one.
    """
    things = dress.contents[branch_id]
    if branch_id in dress.lays:
        circles = [
            Circle(thing, round(x, 3), round(y, 3), d)
            for thing, x, y, d in ring_places(dress.lays[branch_id], dict(things))
        ]
    elif not things or len(things) > PACKED_AT_MOST:
        return ()
    else:
        packed = pack_closely(tuple(d for _, d in things))
        circles = [
            Circle(thing, round(x, 3), round(y, 3), d)
            for (thing, d), (x, y) in zip(things, packed.centres, strict=True)
        ]
    drawn: list[Circle] = []
    for circle in circles:
        wires = dress.twists.get((branch_id, circle.thing))
        drawn += [circle] if wires is None else _turned(circle, wires)
    return tuple(drawn)


def _turned(circle: Circle, wires: tuple[tuple[str, float], ...]) -> list[Circle]:
    """The wires of a twist within the circle that they turn in."""
    widest = sorted(wires, key=lambda own: (-own[1], own[0]))
    centres = pack(tuple(d for _, d in widest)).centres
    return [
        Circle(key, round(circle.x_mm + x, 3), round(circle.y_mm + y, 3), d)
        for (key, d), (x, y) in zip(widest, centres, strict=True)
    ]


def _shares(document: Document, route: Threaded, branch_id: str, roles: set[str]) -> tuple[str, ...]:
    zones = [document.brief.zones[z] for z in route.zones[branch_id]]
    words = []
    if "ignition" in roles:
        words.append("an ignition lead")
    if "data" in roles:
        words.append("a data pair")
    if any(z.noisy for z in zones):
        words.append("noise")
    if any(z.sensitive for z in zones):
        words.append("an instrument")
    if any(z.ambient_c >= HOT_C for z in zones):
        words.append("heat")
    return tuple(words)


def _openings(
    document: Document, brief: BriefResult, outside_mm: dict[str, float], book: FindingBook
) -> None:
    """The thickest branch at an opening must pass it as hands lay it, cover and all."""
    units = document.brief.measures
    for point_id, point in document.route.points.items():
        if point.opening_mm is None:
            continue
        thickest = max(
            (
                outside_mm[b]
                for b, branch in document.route.branches.items()
                if point_id in (branch.from_point, branch.to_point)
            ),
            default=0.0,
        )
        if thickest > point.opening_mm:
            book.add(
                "bundle-cannot-pass",
                Place("route", "point", point_id),
                point=point.name or point_id,
                opening=format_length(point.opening_mm, units),
                bundle=format_length(thickest, units, point.opening_mm),
            )
        clear_mm = (point.opening_mm - thickest) / 2
        if point.edge == "bare metal" and thickest and clear_mm < brief.value("edge_clear_mm"):
            path = pointer(["route", "points", point_id, "edge"])
            book.add(
                "edge-bare",
                Place("route", "point", point_id),
                mechanical=(phrase("grommet"), ({"op": "replace", "path": path, "value": "grommet"},)),
                point=point.name or point_id,
                clear=format_length(max(clear_mm, 0.0), units, brief.value("edge_clear_mm")),
                limit=format_length(brief.value("edge_clear_mm"), units),
            )
