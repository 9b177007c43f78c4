"""Shrink tube over the ends of covers and over breakouts: ratio, lining, size, length, order."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence

from inkthread.core.brief.covers_wanted import is_wet
from inkthread.core.catalogue.coverings import Tube
from inkthread.core.catalogue.tubes import TubeChoice, choose_tube, standing_tubes
from inkthread.core.context import Context
from inkthread.core.document.choices import ShrinkChoice
from inkthread.core.dress.choose import choose_shape, tube_to_cut_mm
from inkthread.core.dress.covers import TAPE_OVERLAP, BranchCover
from inkthread.core.physics.coverings import wound_tape
from inkthread.core.physics.packing import packed_diameter
from inkthread.core.record import record
from inkthread.core.route import RouteTree

LINED_ALWAYS, LINED_BY_DISTANCE, LINED_WHEN_WET = 1, 2, 3
"""What the house rule on lining means."""
MOULDED = 2
"""What the house rule on boots and transitions means."""
REAR_TO_FACE_MM = 25.0
"""From the rear of a shell to its mating face, at least (typical, no source)."""
TERMINAL_TO_FACE_MM = 8.0
"""From the insulation of a loose terminal to where it mates, at least (typical, no source)."""
_SLEEVED = ("braid", "fabric", "nylon")


@record
class ShrinkPiece:
    """One piece of shrink tube. Lengths in mm."""

    place: str
    """The connector's or the point's id."""
    what: str
    """``end of R3`` or ``breakout``."""
    code: str
    description: str
    ratio: str
    lined: bool
    over_mm: float
    """The largest that it passes."""
    onto_mm: float
    """The smallest that it closes on."""
    finished_mm: float
    cut_mm: float
    threaded: int
    """Threaded on in this order, the first number first; shrunk the other way round."""
    clear_mm: float | None
    """From its end to the nearest mating face; None where there is none near."""
    because: str
    fits: bool
    instead: str
    mass_g: float
    """Of one piece."""
    count: int = 1
    """So many equal pieces."""
    over_barrel: bool = False
    """Over terminals' barrels: its size and length go by them."""

    @property
    def wound(self) -> bool:
        """Tape that is wound on when all is together, where no tube passes and closes."""
        return not self.ratio


@record
class _Wish:
    """What a tube has to be."""

    place: str
    what: str
    over_mm: float
    onto_mm: float
    long_mm: float
    threaded: int
    clear_mm: float | None
    wet: bool
    body_mm: tuple[float, float] | None = None
    """Where a moulded shape could be: what its body passes and closes on."""
    legs_mm: tuple[tuple[float, float], ...] = ()
    air_c: float | None = None
    """The air that it has to stand."""


def shrink_pieces(
    context: Context,
    tree: RouteTree,
    covers: Sequence[BranchCover],
    tight_mm: Mapping[str, float],
    windows: Mapping[str, bool],
    rear_mm: Callable[[str], float | None],
) -> tuple[ShrinkPiece, ...]:
    """Every piece of shrink tube. ``windows`` tells of each point whether wires stay bare there;
    ``rear_mm`` how wide the connectors at a point are, None where there is none or it is not known.
    """
    maker = _Maker(context)
    brief, document = context.brief, context.document
    at: dict[str, list[str]] = {}
    for connector_id, connector in document.ends.connectors.items():
        if connector.point is not None:
            at.setdefault(connector.point, []).append(connector_id)
    pieces: list[ShrinkPiece] = []
    by_point: dict[str, list[tuple[str, BranchCover]]] = {}
    for cover in covers:
        for branch_id, point, bare in cover_ends(context, cover):
            by_point.setdefault(point, []).append((branch_id, cover))
            if cover.kind not in _SLEEVED:
                continue
            connectors = at.get(point, [])
            loose = (
                bool(connectors)
                and context.catalogue.connectors[document.ends.connectors[connectors[0]].family].loose
            )
            face = TERMINAL_TO_FACE_MM if loose else REAR_TO_FACE_MM
            place = connectors[0] if connectors else point
            across = rear_mm(point)
            piece = maker.make(
                _Wish(
                    place,
                    f"end of {branch_id}",
                    cover.outside_mm,
                    tight_mm[branch_id],
                    brief.value("shrink_mm"),
                    2 if connectors else 1,
                    bare + face if connectors else None,
                    is_wet(context.document, context.brief, branch_id)
                    or (bool(connectors) and not windows[point]),
                    None if across is None else (across, across),
                    ((cover.outside_mm, tight_mm[branch_id]),),
                    brief.point_airs[point].ambient_c,
                )
            )
            if piece is not None:
                pieces.append(piece)
    for point, legs in by_point.items():
        if len(tree.near[point]) < _BREAKOUT_OF or not any(c.kind != "none" for _, c in legs):
            continue
        piece = maker.make(_breakout(context, point, legs, tight_mm))
        if piece is not None:
            pieces.append(piece)
    return tuple(pieces)


_BREAKOUT_OF = 3
"""Branches that meet at a breakout, at least."""


def _breakout(
    context: Context, point: str, legs: Sequence[tuple[str, BranchCover]], tight_mm: Mapping[str, float]
) -> _Wish:
    """One large tube over the trunk and the branches that leave it, over their own smaller pieces."""
    outside = sorted((c.outside_mm for _, c in legs if c.outside_mm > 0), reverse=True)
    tight = sorted((tight_mm[b] for b, _ in legs if tight_mm[b] > 0), reverse=True)
    trunk, leaving = outside[0], tuple(round(mm, 2) for mm in outside[1:])
    packed = packed_diameter(leaving) if leaving else trunk
    gripped = min(tight[0], packed_diameter(round(mm, 2) for mm in tight[1:]) if tight[1:] else tight[0])
    return _Wish(
        point,
        "breakout",
        max(trunk, packed),
        gripped,
        2 * context.brief.value("breakout_overlap_mm"),
        3,
        None,
        any(is_wet(context.document, context.brief, b) for b, _ in legs),
        (trunk, tight[0]),
        tuple(zip(outside[1:], tight[1:], strict=False)) if len(outside) == len(tight) else (),
        context.brief.point_airs[point].ambient_c,
    )


def cover_ends(context: Context, cover: BranchCover) -> list[tuple[str, str, float]]:
    """Both ends of a cover: its outermost branch there, the point, and what is left bare."""
    branches = context.document.route.branches
    if len(cover.branches) == 1:
        only = branches[cover.branches[0]]
        return [
            (cover.branches[0], only.from_point, cover.bare_from_mm),
            (cover.branches[0], only.to_point, cover.bare_to_mm),
        ]
    first, second = branches[cover.branches[0]], branches[cover.branches[1]]
    last, before = branches[cover.branches[-1]], branches[cover.branches[-2]]
    joined = {second.from_point, second.to_point}
    start = first.from_point if first.from_point not in joined else first.to_point
    joined = {before.from_point, before.to_point}
    end = last.to_point if last.to_point not in joined else last.from_point
    return [(cover.branches[0], start, cover.bare_from_mm), (cover.branches[-1], end, cover.bare_to_mm)]


class _Maker:
    """Chooses tube for a place, by rule or as the builder has it."""

    def __init__(self, context: Context) -> None:
        self._context = context
        self._tubes = context.tubes()
        self._by_code = {t.code: t for t in self._tubes}

    def make(self, wish: _Wish) -> ShrinkPiece | None:
        own = self._context.document.dress.shrinks.get(wish.place)
        if own is not None and own.left_out:
            return None
        lined, because = self._lined(wish, own)
        moulded = self._moulded(wish) if own is None else None
        if moulded is not None:
            return moulded
        choice = self._chosen(wish, own, lined=lined)
        tube = choice.tube
        if tube is None:
            return None
        if not choice.fits and own is None:
            return self._wound(wish)
        long = own.length_mm if own is not None and own.length_mm else wish.long_mm
        cut = tube_to_cut_mm(tube, long, wish.onto_mm)
        return ShrinkPiece(
            wish.place,
            wish.what,
            tube.code,
            tube.description,
            tube.ratio,
            tube.lined,
            round(wish.over_mm, 2),
            round(wish.onto_mm, 2),
            round(long, 1),
            round(cut, 1),
            wish.threaded,
            None if wish.clear_mm is None else round(wish.clear_mm, 1),
            because,
            choice.fits,
            choice.instead,
            round(cut / 1000 * tube.mass_g_per_m, 3),
        )

    def _moulded(self, wish: _Wish) -> ShrinkPiece | None:
        """A boot or a transition, where the house rule asks for them and one fits."""
        if self._context.brief.value("moulded") != MOULDED or wish.body_mm is None or not wish.legs_mm:
            return None
        shape = choose_shape(self._context.catalogue.coverings.shapes, wish.body_mm, wish.legs_mm)
        if shape is None:
            return None
        return ShrinkPiece(
            wish.place,
            wish.what,
            shape.code,
            shape.description,
            "moulded",
            True,
            round(wish.body_mm[0], 2),
            round(min(onto for _, onto in wish.legs_mm), 2),
            shape.length_mm,
            shape.length_mm,
            wish.threaded,
            None,
            "house rule: moulded",
            True,
            "",
            shape.mass_g,
        )

    def _wound(self, wish: _Wish) -> ShrinkPiece:
        """Where no tube passes and closes: self-fusing tape, wound on when all is together."""
        tape = next(t for t in self._context.catalogue.coverings.tapes if not t.absorbent and t.width_mm > 20)
        length = wound_tape(wish.over_mm, wish.long_mm, tape.width_mm, TAPE_OVERLAP).length_mm
        return ShrinkPiece(
            wish.place,
            wish.what,
            tape.code,
            tape.description,
            "",
            False,
            round(wish.over_mm, 2),
            round(wish.onto_mm, 2),
            round(wish.long_mm, 1),
            round(length, 1),
            wish.threaded,
            None,
            "no tube passes and closes: wound on",
            True,
            "",
            round(length / 1000 * tape.mass_g_per_m, 3),
        )

    def _lined(self, wish: _Wish, own: ShrinkChoice | None) -> tuple[bool, str]:
        if own is not None and own.lined is not None:
            return own.lined, own.reason or "you chose it"
        rule = int(self._context.brief.value("shrink_lining"))
        if rule == LINED_ALWAYS:
            return True, "house rule: lined everywhere"
        if rule == LINED_WHEN_WET:
            return wish.wet, "wet" if wish.wet else "dry"
        near = wish.clear_mm is not None and wish.clear_mm < self._context.brief.value("face_clear_mm")
        return not near, "near a mating face" if near else "no mating face near"

    def _chosen(self, wish: _Wish, own: ShrinkChoice | None, *, lined: bool) -> TubeChoice:
        tubes = standing_tubes(self._tubes, wish.air_c)
        tube: Tube | None = self._by_code.get(own.part or "") if own is not None else None
        if tube is not None:
            only = choose_tube([tube], wish.over_mm, wish.onto_mm)
            other = choose_tube(tubes, wish.over_mm, wish.onto_mm)
            instead = f"{other.tube.code} does" if other.fits and other.tube else other.instead
            return TubeChoice(tube, only.passes, only.closes, "" if only.fits else instead)
        choice = choose_tube(tubes, wish.over_mm, wish.onto_mm, lined=lined)
        # Better plain than none, away from what adhesive would be for; near a face never lined.
        return choose_tube(tubes, wish.over_mm, wish.onto_mm, lined=False) if not choice.fits else choice
