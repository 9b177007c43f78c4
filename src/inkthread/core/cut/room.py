"""The cut list: finished length, allowances, rounding up, strips; longest first."""

from __future__ import annotations

import math
from dataclasses import dataclass

from inkthread.core.brief import BriefResult
from inkthread.core.ends import EndsResult
from inkthread.core.route import RouteResult, SectionEnd
from inkthread.core.wire import WireResult


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
    finished_mm: float
    allowance_a_mm: float
    allowance_b_mm: float
    cut_mm: float
    strip_a_mm: float
    strip_b_mm: float
    from_text: str
    to_text: str
    mass_g: float


@dataclass(frozen=True, slots=True)
class CutResult:
    """Pieces, longest first, and their sum for one harness in metres."""

    cuts: tuple[Cut, ...]
    total_m: float


BLOCK_ALLOWANCE_MM = 25.0
BLOCK_STRIP_MM = 8.0
"""A wire at a block of studs: its ring terminal, and one more try (typical)."""


def round_up_mm(length_mm: float, step_mm: float) -> float:
    """Up to the next whole step; a length on the step stays. Zero step leaves it as it is."""
    if step_mm <= 0:
        return length_mm
    return round(math.ceil(round(length_mm / step_mm, 6)) * step_mm, 4)


def cut_room(brief: BriefResult, route: RouteResult, wire: WireResult, ends: EndsResult) -> CutResult:
    """Cut = finished + allowance at each end, rounded up; finished = route + slack."""
    step = brief.value("cut_step_mm")

    def end(e: SectionEnd) -> tuple[float, float]:
        if e.kind == "splice":
            size = ends.splice_sizes[e.id]
            return size.allowance_mm, size.strip_mm
        if e.kind == "block":
            return BLOCK_ALLOWANCE_MM, BLOCK_STRIP_MM
        contact = ends.contacts.get(e.id)
        return (contact.allowance_mm, contact.strip_mm) if contact else (0.0, 0.0)

    cuts: list[Cut] = []
    for key in wire.keys:
        section = route.sections[key]
        made = wire.wires[key]
        size = wire.size(key)
        finished = section.length_mm + section.slack_mm
        allowance_a, strip_a = end(section.a)
        allowance_b, strip_b = end(section.b)
        cut = round_up_mm(finished + allowance_a + allowance_b, step)
        cuts.append(
            Cut(
                key,
                made.label,
                f"{made.family} {made.gauge}",
                made.colour,
                round(section.length_mm, 3),
                section.slack_mm,
                round(finished, 3),
                allowance_a,
                allowance_b,
                cut,
                strip_a,
                strip_b,
                made.from_text,
                made.to_text,
                round(cut * size.mass_g_per_m / 1000, 3),
            )
        )
    cuts.sort(key=lambda c: (-c.cut_mm, c.label))
    return CutResult(tuple(cuts), round(sum(c.cut_mm for c in cuts) / 1000, 4))
