"""Splices: which barrel holds a joint, by its kind, and what covers it.

An open-barrel overlap is sized on all the copper under the same wings. A closed butt takes each side
in its own range. A solder sleeve goes by all the copper and by the diameter over the wires in it.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import replace
from itertools import combinations

from inkthread.core.catalogue import Catalogue, Cover, SpliceForm, SpliceKind, SpliceSize
from inkthread.core.physics.packing import packed_diameter
from inkthread.core.record import record

KINDS: tuple[SpliceKind, ...] = ("overlap", "butt", "sleeve")
BY_RULE: dict[int, tuple[SpliceKind, SpliceForm | None]] = {
    1: ("overlap", None),
    2: ("butt", "closed barrel"),
    3: ("sleeve", None),
    4: ("butt", "sub-miniature"),
    5: ("butt", "lined butt"),
}
"""What the house rule on splices means: a kind, and the form of it that is looked at first."""
_ANY_HEAT_C = -273.0
"""Every part is rated above it: heat is not asked about."""
_BARREL_WALL_MM = 0.8
"""Of an open barrel as crimped (typical, no source)."""
_GOES_OVER = 1.05
"""A cover is drawn over with this much to spare (common practice)."""
_LINING_FILLS = 1.25
"""Adhesive closes on what is this much thinner than the tube recovered (common practice)."""


@record
class JointWire:
    """A wire that goes into a joint: copper in mm2, diameter over its insulation in mm."""

    area_mm2: float
    od_mm: float


@record
class Joint:
    """A splice as chosen, and what covers it. ``fits`` is False where nothing made here holds it."""

    part: SpliceSize
    cover: Cover | None
    fits: bool
    total_mm2: float
    larger_side_mm2: float
    over_all_mm: float
    """Diameter over the thicker side, or the barrel where that is thicker."""
    reasons: tuple[str, ...]


def choose_joint(
    catalogue: Catalogue,
    one: Sequence[JointWire],
    other: Sequence[JointWire],
    kind: SpliceKind,
    *,
    lined: bool,
    free_sides: bool = False,
    form: SpliceForm | None = None,
    hottest_c: float = _ANY_HEAT_C,
) -> Joint:
    """The smallest splice of a kind that holds the wires, with its cover.

    Splices of a form are looked at before others of the kind. What does not stand ``hottest_c`` is taken
    only where nothing made does.

    ``one`` and ``other`` are the wires that come from either end; an overlap may have them all on
    one. With ``free_sides`` a butt may have them shared out as fits best. Where no splice of the kind holds
    them another kind is taken, and said; where none at all does, the nearest, and ``fits`` is False.
    """
    wires = (tuple(one), tuple(other))
    joint = _choose(catalogue, *wires, kind, lined, free_sides, form, hottest_c)
    if joint.fits and (joint.cover is not None or joint.part.covered):
        return joint
    # A joint that nothing covers is not chosen where one of another kind is closed.
    for other_kind in KINDS if joint.fits else ():
        closed = _choose(catalogue, *wires, other_kind, lined, free_sides, None, hottest_c)
        if closed.fits and (closed.cover is not None or closed.part.covered):
            why = f"No cover closes on a {kind} here: a {closed.part.kind} is taken."
            return replace(closed, reasons=(why, *closed.reasons))
    anyhow = _choose(catalogue, *wires, kind, lined, free_sides, form, _ANY_HEAT_C)
    covered = anyhow.cover is not None or anyhow.part.covered
    return anyhow if (anyhow.fits and not joint.fits) or (covered and joint.cover is None) else joint


def _choose(
    catalogue: Catalogue,
    one: tuple[JointWire, ...],
    other: tuple[JointWire, ...],
    kind: SpliceKind,
    lined: bool,
    free_sides: bool,
    form: SpliceForm | None,
    hottest_c: float,
) -> Joint:
    wires = [*one, *other]
    total = sum(w.area_mm2 for w in wires)
    reasons: list[str] = []
    for tried in (kind, *(k for k in KINDS if k != kind)):
        for sides in _sides(one, other) if tried == "butt" and free_sides else [(list(one), list(other))]:
            part, why = _of_kind(catalogue, sides, tried, form, hottest_c)
            if part is not None:
                break
        if part is not None:
            if tried != kind:
                reasons.insert(
                    0, f"No {kind} splice holds this: {'an' if tried == 'overlap' else 'a'} {tried} does."
                )
            else:
                reasons.append(why)
            return _covered(catalogue, part, sides, total, lined, hottest_c, reasons, fits=True)
        if tried == kind:
            reasons.append(why)
    overlaps = [s for s in catalogue.splices if s.kind == "overlap"]
    near = overlaps[-1] if total > overlaps[0].area_min_mm2 else overlaps[0]
    return _covered(catalogue, near, (list(one), list(other)), total, lined, hottest_c, reasons, fits=False)


Sides = tuple[list[JointWire], list[JointWire]]


def _sides(one: Sequence[JointWire], other: Sequence[JointWire]) -> list[Sides]:
    """Every way to share the wires out to two sides, the most even first. Up to eight wires."""
    wires = [*one, *other]
    if len(wires) > 8 or len(wires) < 2:
        return [(list(one), list(other))]
    sides: list[Sides] = []
    rest = range(1, len(wires))
    for count in range(len(wires) - 1):
        for with_first in combinations(rest, count):
            one_side = [wires[0], *(wires[i] for i in with_first)]
            there = [wires[i] for i in rest if i not in with_first]
            sides.append((one_side, there))
    return sorted(sides, key=lambda s: abs(_area(s[0]) - _area(s[1])))


def _area(wires: Sequence[JointWire]) -> float:
    return sum(w.area_mm2 for w in wires)


def diameter_over(wires: Sequence[JointWire]) -> float:
    """Diameter in mm of the circle that wires side by side go into."""
    return packed_diameter(w.od_mm for w in wires)


def _of_kind(
    catalogue: Catalogue, sides: Sides, kind: SpliceKind, form: SpliceForm | None, hottest_c: float
) -> tuple[SpliceSize | None, str]:
    sizes = [s for s in catalogue.splices if s.kind == kind and s.temperature_c > hottest_c]
    sizes.sort(key=lambda s: s.form != form)
    total = _area(sides[0]) + _area(sides[1])
    if not sizes:
        return None, f"No {kind} splice is held here."
    least, most = min(s.area_min_mm2 for s in sizes), max(s.area_max_mm2 for s in sizes)
    if kind == "overlap":
        fitting = next((s for s in sizes if s.area_min_mm2 <= total <= s.area_max_mm2), None)
        said = f"{total:.2f} mm² lies under the same wings; overlaps take {least:g} to {most:g} mm² in all."
        return fitting, said
    if kind == "butt":
        if not sides[0] or not sides[1]:
            return None, "A butt splice needs a wire on either side."
        a, b = _area(sides[0]), _area(sides[1])
        fitting = next(
            (s for s in sizes if all(s.area_min_mm2 <= area_mm2 <= s.area_max_mm2 for area_mm2 in (a, b))),
            None,
        )
        said = f"A butt takes each side in its own range: here {a:.2f} and {b:.2f} mm²."
        return fitting, said
    over = diameter_over([*sides[0], *sides[1]])
    fitting = next(
        (
            s
            for s in sizes
            if s.area_min_mm2 <= total <= s.area_max_mm2 and s.od_min_mm <= over <= s.od_max_mm
        ),
        None,
    )
    return fitting, f"A sleeve holds all {total:.2f} mm² and what measures {over:.1f} mm over all."


def _covered(
    catalogue: Catalogue,
    part: SpliceSize,
    sides: Sides,
    total: float,
    lined: bool,
    hottest_c: float,
    reasons: list[str],
    *,
    fits: bool,
) -> Joint:
    ends = [diameter_over(s) for s in sides if s]
    barrel = 2 * math.sqrt(total / math.pi) * 1.1 + 2 * _BARREL_WALL_MM
    thick, thin = max([*ends, barrel]), min(ends, default=barrel)
    cover = None
    if not part.covered:
        # Must pass over the thickest, and grip the thinner side when it has shrunk. Lining fills a little.
        able = [
            c
            for c in catalogue.covers
            if c.supplied_mm >= thick * _GOES_OVER
            and c.recovered_mm <= thin * (_LINING_FILLS if c.lined else 1.0)
            and (c.lined or not lined)
            and c.temperature_c > hottest_c
        ]
        cover = min(
            able, key=lambda c: (c.lined != lined, c.temperature_c, c.supplied_mm, c.price), default=None
        )
        if cover is None:
            words = "lined" if lined else "plain"
            reasons.append(
                f"No {words} shrink goes over {thick:.1f} mm and still closes on {thin:.1f} mm: "
                "build up the thin side."
            )
        else:
            reasons.append(
                f"{cover.code} goes over {thick:.1f} mm and closes to {cover.recovered_mm:g} mm."
                + (" Its lining keeps water out of the strands." if cover.lined else "")
            )
    return Joint(
        part,
        cover,
        fits,
        round(total, 4),
        round(max(_area(s) for s in sides), 4),
        round(thick, 2),
        tuple(reasons),
    )
