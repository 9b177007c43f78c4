"""How the wires of a branch lie: side by side, or in rings that turn against each other."""

from __future__ import annotations

import math
from collections.abc import Mapping

from inkthread.core.brief import BriefResult
from inkthread.core.context import Context
from inkthread.core.cut import Laid
from inkthread.core.physics.coverings import outer_growth_mm
from inkthread.core.physics.lay import LaidUp, lay_up
from inkthread.core.record import record
from inkthread.core.route import Threaded
from inkthread.core.tolerances import HAIR_MM

IN_RINGS = 2
"""What the house rule on the lay means."""
_HEAVIEST, _SPLICED = 2, 3
_CORES_TRIED_TO = 40
"""With more wires than this, rings are laid about a core of one."""


@record
class LaidRing:
    """One ring of a branch, from the core outward. Lengths in mm."""

    things: tuple[str, ...]
    """Wires by key, ``cable`` and its group."""
    fillers: int
    filler_mm: float
    outside_mm: float
    lay_mm: float
    turns: str
    """``left`` or ``right``; empty where it runs straight."""
    longer: float
    """Length of its longest wire over the branch's."""


@record
class Lay:
    """How a branch is laid."""

    rings: tuple[LaidRing, ...]
    """None where its wires lie side by side."""
    diameter_mm: float

    @property
    def fillers(self) -> int:
        """In all rings."""
        return sum(ring.fillers for ring in self.rings)


@record
class FillerRun:
    """Fillers in one ring of a branch. Lengths in mm."""

    branch: str
    code: str
    count: int
    length_mm: float
    """Of all of them together."""
    mass_g: float


def fillers_of(context: Context, lays: Mapping[str, Lay]) -> tuple[FillerRun, ...]:
    """Cord for every ring that has room left: the thickest that is no thicker than its wires."""
    cords = sorted(context.catalogue.coverings.fillers, key=lambda cord: cord.diameter_mm)
    runs: list[FillerRun] = []
    for branch_id, lay in lays.items():
        long = context.document.route.branches[branch_id].length_mm
        for ring in lay.rings:
            if not ring.fillers:
                continue
            fitting = [cord for cord in cords if cord.diameter_mm <= ring.filler_mm + HAIR_MM]
            cord = fitting[-1] if fitting else cords[0]
            total = ring.fillers * long * ring.longer
            mass = total / 1000 * cord.mass_g_per_m
            runs.append(FillerRun(branch_id, cord.code, ring.fillers, round(total, 1), round(mass, 3)))
    return tuple(runs)


Contents = Mapping[str, tuple[tuple[str, float], ...]]


def lay_branches(
    context: Context, route: Threaded, contents: Contents, tight_mm: Mapping[str, float]
) -> tuple[dict[str, Lay], dict[tuple[str, str], Laid]]:
    """Branches that are laid in rings, and what each thing takes up where it does not run straight."""
    document, brief = context.document, context.brief
    in_rings = int(brief.value("lay")) == IN_RINGS
    lays: dict[str, Lay] = {}
    laid: dict[tuple[str, str], Laid] = {}
    rank = _Rank(brief, route) if in_rings else None
    for branch_id, things in contents.items():
        branch = document.route.branches[branch_id]
        ringed = None
        if rank is not None and len(things) > 1 and not branch.separators:
            ringed = context.memo.get(
                _lay,
                tuple(rank.ordered(branch_id, things)),
                brief.value("lay_factor"),
                tight_mm[branch_id],
                of=branch_id,
            )
        if ringed is not None:
            lays[branch_id], factors = ringed
            laid |= {(branch_id, thing): Laid(factor, 0.0) for thing, factor in factors if factor > 1}
        elif branch.bend_deg:
            # Side by side a wire keeps its side: any of them may be the one at the outside.
            for thing, diameter in things:
                grown = outer_growth_mm(branch.bend_deg, max(tight_mm[branch_id] - diameter, 0.0) / 2)
                if grown > 0:
                    laid[branch_id, thing] = Laid(1.0, grown)
    return lays, laid


_THICKER_AT_MOST = 1.3
"""Rings are laid where they make a bundle no thicker than this, over its wires side by side (typical)."""


def _lay(
    ordered: tuple[tuple[str, float], ...], lay_factor: float, tight_mm: float
) -> tuple[Lay, tuple[tuple[str, float], ...]] | None:
    """Rings as ordered; thick wires among thin ones go to the core; None where rings are still too thick."""
    for tried in (ordered, tuple(sorted(ordered, key=lambda thing: -thing[1]))):
        rings = _rings(tried, lay_factor)
        if rings[0].diameter_mm <= _THICKER_AT_MOST * tight_mm:
            return rings
    return None


def _rings(
    ordered: tuple[tuple[str, float], ...], lay_factor: float
) -> tuple[Lay, tuple[tuple[str, float], ...]]:
    names = [thing for thing, _ in ordered]
    cores = (1, 2, 3, 4, 5) if len(ordered) <= _CORES_TRIED_TO else (1,)
    up: LaidUp = lay_up(tuple(d for _, d in ordered), lay_factor, cores)
    rings = tuple(
        LaidRing(
            tuple(names[w] for w in ring.wires),
            ring.fillers,
            round(ring.filler_mm, 3),
            round(ring.outside_mm, 3),
            round(ring.lay_mm, 2),
            ring.turns,
            round(max(ring.factors), 5),
        )
        for ring in up.rings
    )
    factors = tuple(
        (names[w], factor) for ring in up.rings for w, factor in zip(ring.wires, ring.factors, strict=True)
    )
    return Lay(rings, round(up.diameter_mm, 3)), factors


class _Rank:
    """Which wire of a branch lies nearer its core, by the house rule."""

    def __init__(self, brief: BriefResult, route: Threaded) -> None:
        self._rule = int(brief.value("lay_core"))
        self._runs: dict[str, float] = {}
        for section in route.sections.values():
            self._runs[section.key] = section.length_mm
        self._spliced: dict[str, set[str]] = {}
        for splice in route.splices.values():
            if splice.branch is not None:
                self._spliced.setdefault(splice.branch, set()).update(splice.sections)

    def ordered(self, branch_id: str, things: tuple[tuple[str, float], ...]) -> list[tuple[str, float]]:
        """From the core outward."""
        spliced = self._spliced.get(branch_id, set())

        def place(thing: tuple[str, float]) -> tuple[object, ...]:
            name, diameter = thing
            runs = self._runs.get(name, 0.0)
            if self._rule == _HEAVIEST:
                return (-diameter, -runs, name)
            if self._rule == _SPLICED:
                return (name not in spliced, -runs, -diameter, name)
            return (-runs, -diameter, name)

        return sorted(things, key=place)


def ring_places(lay: Lay, diameter_mm: Mapping[str, float]) -> list[tuple[str, float, float, float]]:
    """Where the wires and fillers of a branch lie: (thing, x, y, diameter) in mm about its axis.

    Side by side round each ring; what a ring has to spare is shared out evenly between them.
    """
    places: list[tuple[str, float, float, float]] = []
    for n, ring in enumerate(lay.rings):
        things = [(thing, diameter_mm[thing]) for thing in ring.things]
        things += [(f"filler {n}.{k}", ring.filler_mm) for k in range(ring.fillers)]
        thickest = max(d for _, d in things)
        inside = ring.outside_mm - 2 * thickest
        if len(things) == 1:
            places.append((things[0][0], 0.0, 0.0, things[0][1]))
            continue
        wide = [math.asin(min(d / max(inside + d, d), 1.0)) for _, d in things]
        spare = (2 * math.pi - 2 * sum(wide)) / len(things)
        angle = 0.0
        for (thing, d), half in zip(things, wide, strict=True):
            angle += half + spare / 2
            out = (inside + d) / 2
            places.append((thing, out * math.cos(angle), out * math.sin(angle), d))
            angle += half + spare / 2
    return places
