"""The cut list: finished length, allowances, rounding up, strips; longest first."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass, replace

from inkthread.core.brief import BriefResult
from inkthread.core.catalogue import WireFamily
from inkthread.core.document.types import Document
from inkthread.core.ends import EndsResult
from inkthread.core.route import RouteResult, SectionEnd
from inkthread.core.wire import WireResult
from inkthread.core.wire.cables import core_sizes


@dataclass(frozen=True, slots=True)
class Cut:
    """One piece of wire to cut. Lengths in mm."""

    wire: str
    label: str
    part: str
    """Family and gauge."""
    colour: str
    route_mm: float
    slack_mm: float
    twist_mm: float
    """What being twisted by hand takes up."""
    finished_mm: float
    allowance_a_mm: float
    allowance_b_mm: float
    cut_mm: float
    strip_a_mm: float
    strip_b_mm: float
    from_text: str
    to_text: str
    mass_g: float
    lead_ohm: tuple[float, float] | None = None
    """Least and most resistance, end to end, of a resistive lead of its finished length."""
    cable: str = ""
    """The cable it is a core or the shield of, cut with it in one piece."""


@dataclass(frozen=True, slots=True)
class Cable:
    """One piece of cable to cut: its cores are cut together, its unused ones with them."""

    id: str
    """``crank`` for the first piece of a group, ``crank/2`` for the second."""
    group: str
    part: str
    """Family and gauge."""
    cores: int
    """In the cable; more than its wires where some are not used."""
    wires: tuple[str, ...]
    shield: str | None
    """The wire that is its shield, if it has one that is landed."""
    cut_mm: float
    from_text: str
    to_text: str
    mass_g: float
    unused: tuple[str, ...] = ()
    """Colours of the cores that are no wire: cut back and capped."""
    peels: tuple[str, ...] = ()
    """Of a strip of ribbon, in words: which core leaves it after what length, and how far it goes on."""


@dataclass(frozen=True, slots=True)
class CutResult:
    """Pieces, longest first, and what is cut for one harness in metres, a cable counted once."""

    cuts: tuple[Cut, ...]
    total_m: float
    cables: tuple[Cable, ...] = ()


BLOCK_ALLOWANCE_MM = 25.0
BLOCK_STRIP_MM = 8.0
"""A wire at a block of studs: its ring terminal, and one more try (typical)."""


def round_up_mm(length_mm: float, step_mm: float) -> float:
    """Up to the next whole step; a length on the step stays. Zero step leaves it as it is."""
    if step_mm <= 0:
        return length_mm
    return round(math.ceil(round(length_mm / step_mm, 6)) * step_mm, 4)


def cut_room(
    document: Document, brief: BriefResult, route: RouteResult, wire: WireResult, ends: EndsResult
) -> CutResult:
    """Cut = finished + allowance at each end, rounded up; finished = route + slack, and what a
    twist by hand takes up.

    Cores of one cable are cut together, as long as the longest of them.
    """
    step = brief.value("cut_step_mm")

    def end(key: str, e: SectionEnd) -> tuple[float, float]:
        if e.kind == "splice":
            size = ends.splice_sizes[e.id]
            return size.allowance_mm, size.strip_mm
        if e.kind == "block":
            return BLOCK_ALLOWANCE_MM, BLOCK_STRIP_MM
        contact = ends.contacts.get((e.id, key))
        return (contact.allowance_mm, contact.strip_mm) if contact else (0.0, 0.0)

    cuts: list[Cut] = []
    for key in wire.tables.keys:
        section = route.sections[key]
        sized = wire.wires[key]
        size = wire.size(key)
        straight = section.length_mm + section.slack_mm
        finished = straight * float(wire.tables.twist[wire.tables.at[key]])
        allowance_a, strip_a = end(key, section.a)
        allowance_b, strip_b = end(key, section.b)
        cut = round_up_mm(finished + allowance_a + allowance_b, step)
        cuts.append(
            Cut(
                key,
                sized.label,
                f"{sized.family} {sized.gauge}",
                sized.colour,
                round(section.length_mm, 3),
                section.slack_mm,
                round(finished - straight, 3),
                round(finished, 3),
                allowance_a,
                allowance_b,
                cut,
                strip_a,
                strip_b,
                sized.from_text,
                sized.to_text,
                round(cut * size.mass_g_per_m / 1000, 3),
                _lead_ohm(wire.families[sized.family], finished),
            )
        )
    cables = _cables(document, route, wire, cuts)
    of = {w: c for c in cables for w in (*c.wires, *([c.shield] if c.shield else []))}
    cuts = [
        replace(
            c,
            cable=of[c.wire].id,
            cut_mm=of[c.wire].cut_mm,
            mass_g=0.0 if c.wire == of[c.wire].shield else c.mass_g * of[c.wire].cut_mm / c.cut_mm,
        )
        if c.wire in of
        else c
        for c in cuts
    ]
    cuts.sort(key=lambda c: (-c.cut_mm, c.cable, c.label))
    total_mm = sum(c.cut_mm for c in cuts if not c.cable) + sum(c.cut_mm for c in cables)
    return CutResult(tuple(cuts), round(total_mm / 1000, 4), tuple(cables))


def _lead_ohm(family: WireFamily, finished_mm: float) -> tuple[float, float] | None:
    if family.resistance_max_ohm_per_m is None:
        return None
    low, high = family.lead_ohm(finished_mm / 1000)
    return round(low, 2), round(high, 2)


def _unused(wire: WireResult, wires: tuple[str, ...], family: WireFamily, cores: int) -> tuple[str, ...]:
    """Colours of the cores that no wire of the harness is, each as often as it is left."""
    left = [family.colours[n % len(family.colours)] if family.colours else "" for n in range(cores)]
    for key in wires:
        colour = wire.wires[key].colour
        if colour in left:
            left.remove(colour)
        elif left:
            left.pop()
    return tuple(left)


def _peels(route: RouteResult, wires: tuple[str, ...], longest: str) -> Iterator[str]:
    """Cores that leave the longest on their way."""
    whole = set(route.sections[longest].spans)
    for key in wires:
        section = route.sections[key]
        alone = [high - low for span in section.spans if span not in whole for _, low, high in (span,)]
        if alone:
            along = section.length_mm - sum(alone)
            yield f"{section.label} peels off after {along:.0f} mm and goes on {sum(alone):.0f} mm"


def _cables(document: Document, route: RouteResult, wire: WireResult, cuts: list[Cut]) -> list[Cable]:
    """Every piece of cable, as long as the longest of its cores asks for."""
    by_wire = {c.wire: c for c in cuts}
    shields: dict[tuple[str, frozenset[str]], str] = {}
    for key, section in route.sections.items():
        for group_id, group in document.circuits.groups.items():
            if group.shield == section.circuit:
                shields[group_id, frozenset((section.a.point, section.b.point))] = key
    cables: list[Cable] = []
    count: dict[str, int] = {}
    for piece in wire.tables.cables:
        first = max(piece.wires, key=lambda k: by_wire[k].cut_mm)
        sized, section = wire.wires[first], route.sections[first]
        family = wire.families[sized.family]
        between = frozenset((section.a.point, section.b.point))
        shield = shields.pop((piece.group, between), None) if family.shielded else None
        cut_mm = by_wire[first].cut_mm
        cores = family.cores * math.ceil(len(piece.wires) / family.cores)
        weights = [s.mass_g_per_m for s in core_sizes(family, wire.size(first), cores)]
        count[piece.group] = number = count.get(piece.group, 0) + 1
        cables.append(
            Cable(
                piece.group if number == 1 else f"{piece.group}/{number}",
                piece.group,
                family.sold_as(sized.gauge),
                cores,
                piece.wires,
                shield,
                cut_mm,
                sized.from_text,
                sized.to_text,
                round(cut_mm * sum(weights) / 1000, 3),
                _unused(wire, piece.wires, family, cores),
                tuple(_peels(route, piece.wires, first)),
            )
        )
    return sorted(cables, key=lambda c: (-c.cut_mm, c.id))
