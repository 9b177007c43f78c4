"""What a harness is held by: clamps and ties by the loose bundle and its cover, grommets by their hole."""

from __future__ import annotations

import math
from collections.abc import Mapping

from inkthread.core.brief import BriefResult
from inkthread.core.catalogue.coverings import Clamp, Grommet, Tie
from inkthread.core.context import Context
from inkthread.core.document.types import Document
from inkthread.core.record import record
from inkthread.core.tolerances import ROUNDING

CLAMPS, LACING = 1, 3
"""What the house rule on holding means."""


@record
class Hold:
    """Clamps, ties or a grommet at one place."""

    place: str
    """The branch's id, or the point's."""
    kind: str
    """``clamp``, ``tie``, ``lacing`` or ``grommet``."""
    code: str
    count: int
    over_mm: float
    """Diameter that it holds, cover and all."""
    every_mm: float
    fits: bool
    mass_g: float
    by_mass: bool = False
    """Clamps that stand closer than by distance alone, for what each carries."""


@record
class Supports:
    """How a branch is held between its ends: so many clamps and ties, and how far apart. Lengths in mm."""

    clamps: int
    clamp_every_mm: float
    ties: int
    by_mass: bool = False
    """Its clamps stand closer than by distance alone, for what each of them carries."""


def supports_of(document: Document, brief: BriefResult, branch_id: str, mass_g: float) -> Supports:
    """How a branch is held that weighs ``mass_g`` with its cover; nothing holds one that weighs nothing.

    Clamps stand as the builder fitted them, else so close that neither the distance between two nor what
    one carries is above the house rule (AS50881 and ABYC E-11 give distances only; mass: common practice).
    """
    branch = document.route.branches[branch_id]
    if not mass_g:
        return Supports(0, round(branch.length_mm, 1), 0)
    apart_mm = branch.support_mm or brief.value("support_mm")
    by_distance = max(math.ceil(branch.length_mm / apart_mm - ROUNDING) - 1, 0)
    carried = max(math.ceil(mass_g / brief.value("support_g") - ROUNDING) - 1, 0)
    clamps = by_distance if branch.support_mm else max(by_distance, carried)
    between_mm, tie_from_mm = branch.length_mm / (clamps + 1), brief.value("clear_unheld_mm")
    ties = 0
    if between_mm > tie_from_mm:
        ties = max(math.ceil(branch.length_mm / tie_from_mm - ROUNDING) - 1 - clamps, 0)
    return Supports(clamps, round(between_mm, 1), ties, clamps > by_distance)


def holds_of(
    context: Context, ways: Mapping[str, Supports], outside_mm: Mapping[str, float]
) -> tuple[Hold, ...]:
    """Parts for every branch and opening. ``outside_mm`` is over each branch's cover."""
    coverings, document = context.catalogue.coverings, context.document
    rule = int(context.brief.value("held_by"))
    with_clamps = rule in (CLAMPS, LACING)
    lacing = coverings.lacing[0]
    holds: list[Hold] = []
    for branch_id, way in ways.items():
        over = outside_mm[branch_id]
        clamps, ties = (way.clamps, way.ties) if with_clamps else (0, way.clamps + way.ties)
        if clamps:
            clamp, fits = _clamp(coverings.clamps, over)
            holds.append(
                Hold(
                    branch_id, "clamp", clamp.code, clamps, round(over, 2), way.clamp_every_mm, fits,
                    clamp.mass_g, way.by_mass,
                )
            )  # fmt: skip
        if ties and rule == LACING:
            every = document.route.branches[branch_id].length_mm / (way.clamps + way.ties + 1)
            knot_g = lacing.knotted_mm(over) / 1000 * lacing.mass_g_per_m
            holds.append(
                Hold(
                    branch_id, "lacing", lacing.code, ties, round(over, 2), round(every, 1), True,
                    round(knot_g, 4),
                )
            )  # fmt: skip
        elif ties:
            tie, fits = _tie(coverings.ties, over)
            every = document.route.branches[branch_id].length_mm / (way.clamps + way.ties + 1)
            holds.append(
                Hold(branch_id, "tie", tie.code, ties, round(over, 2), round(every, 1), fits, tie.mass_g)
            )
    for point_id, point in document.route.points.items():
        if point.opening_mm is None or point.edge != "grommet":
            continue
        over = max(
            (
                outside_mm[b]
                for b, branch in document.route.branches.items()
                if point_id in (branch.from_point, branch.to_point)
            ),
            default=0.0,
        )
        grommet, fits = _grommet(coverings.grommets, point.opening_mm, over)
        holds.append(Hold(point_id, "grommet", grommet.code, 1, round(over, 2), 0.0, fits, grommet.mass_g))
    return tuple(holds)


def _clamp(clamps: tuple[Clamp, ...], over_mm: float) -> tuple[Clamp, bool]:
    """The smallest clamp that closes on it; a thinner bundle is wrapped up to the smallest there is."""
    fitting = [c for c in clamps if over_mm <= c.most_mm]
    if fitting:
        return min(fitting, key=lambda c: c.most_mm), True
    return max(clamps, key=lambda c: c.most_mm), False


def _tie(ties: tuple[Tie, ...], over_mm: float) -> tuple[Tie, bool]:
    fitting = [t for t in ties if over_mm <= t.most_mm]
    return (min(fitting, key=lambda t: t.most_mm), True) if fitting else (ties[-1], False)


def _grommet(grommets: tuple[Grommet, ...], hole_mm: float, over_mm: float) -> tuple[Grommet, bool]:
    """The grommet for a hole of this size whose inside passes the bundle; else the nearest."""
    fitting = [g for g in grommets if g.hole_mm <= hole_mm and g.inside_mm >= over_mm]
    if fitting:
        return max(fitting, key=lambda g: g.hole_mm), True
    return min(grommets, key=lambda g: abs(g.hole_mm - hole_mm)), False
