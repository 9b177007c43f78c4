"""What goes over every branch: kind by rule, size by what it must pass and hold, cut length, order."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import cast

from inkthread.core.brief.covers_wanted import is_wet
from inkthread.core.catalogue.coverings import Sleeve, SleeveKind, Tape
from inkthread.core.catalogue.tubes import choose_tube
from inkthread.core.context import Context
from inkthread.core.document.choices import CoverChoice
from inkthread.core.document.types import Document
from inkthread.core.document.values import CoverKind
from inkthread.core.dress.choose import choose_sleeve, sleeve_cut_mm, tube_to_cut_mm
from inkthread.core.physics.coverings import wound_tape
from inkthread.core.record import record
from inkthread.core.route import RouteTree
from inkthread.core.route.checks import passes_mm

WINDOW_WHEN_DRY, WINDOW_ALWAYS = 1, 2
"""What the house rule on the bare window means."""
BREAKOUT_GAP_MM = 8.0
"""A cover ends so far from the middle of a breakout: the shrink tube over it closes the rest (typical)."""
TAPE_OVERLAP = 0.5
"""Each turn of harness tape covers half of the one before (common practice, no source)."""
TAPED_END_TURNS = 3.0
"""Turns of tape that hold each end of a split cover (common practice, no source)."""


@record
class BranchCover:
    """What goes over a branch or over a run of branches in one piece. Lengths in mm."""

    branches: tuple[str, ...]
    kind: CoverKind
    code: str
    """Empty where nothing goes over it."""
    description: str
    holds_mm: float
    """The thinnest bundle in it, as tightly as it lies."""
    passes_mm: float
    """The largest that it goes over: the loose bundle, or a connector."""
    bare_from_mm: float
    bare_to_mm: float
    covers_mm: float
    cut_mm: float
    """Of the cover, or of tape."""
    outside_mm: float
    """Over all; over the bundle where there is no cover."""
    goes_on: str
    """``before A1``, ``after``, ``either``; empty where nothing goes on."""
    because: str
    fits: bool
    absorbent: bool
    split: bool
    mass_g: float
    taped_mm: float = 0.0
    """Tape that holds the ends of a split cover."""


@record
class Run:
    """Branches that one piece of cover goes over, in order, with the points at both its ends."""

    branches: tuple[str, ...]
    from_point: str
    to_point: str


def runs_of(context: Context, tree: RouteTree, kinds: Mapping[str, tuple[CoverKind, str]]) -> list[Run]:
    """Branches of one kind that only go on from each other, past a point where nothing ends, as one run."""
    document = context.document
    ends_here = {c.point for c in document.ends.connectors.values()}
    near = tree.near
    done: set[str] = set()
    runs: list[Run] = []

    def goes_on(point: str, branch_id: str) -> tuple[str, str] | None:
        """The branch that goes on at a point, and its far point."""
        if point in ends_here or len(near[point]) != 2 or kinds[branch_id][0] in ("none", "shrink"):
            return None
        other, far = next(((b, p) for b, p in near[point] if b != branch_id), ("", ""))
        same = other and other not in done and kinds[other] == kinds[branch_id]
        alike = same and _same_wish(document, other, branch_id)
        return (other, far) if alike else None

    for branch_id, branch in document.route.branches.items():
        if branch_id in done:
            continue
        done.add(branch_id)
        run, at = [branch_id], branch.to_point
        while (step := goes_on(at, run[-1])) is not None:
            run.append(step[0])
            done.add(step[0])
            at = step[1]
        start = branch.from_point
        while (step := goes_on(start, run[0])) is not None:
            run.insert(0, step[0])
            done.add(step[0])
            start = step[1]
        runs.append(Run(tuple(run), start, at))
    return runs


def _same_wish(document: Document, one: str, other: str) -> bool:
    wishes = [document.dress.covers.get(b) for b in (one, other)]
    parts = [w.part if w is not None else None for w in wishes]
    return parts[0] == parts[1]


@record
class _Stretch:
    """What a cover has to do on a run. Lengths in mm."""

    run: Run
    bare: tuple[float, float]
    """Left bare at either end."""
    covers_mm: float
    tight_mm: float
    loose_mm: float


class Coverer:
    """Chooses the cover of every run of one harness."""

    def __init__(
        self,
        context: Context,
        tree: RouteTree,
        tight_mm: Mapping[str, float],
        loose_mm: Mapping[str, float],
        solid: Mapping[str, bool],
    ) -> None:
        self._context, self._tree = context, tree
        self._tight, self._loose, self._solid = tight_mm, loose_mm, solid
        self._at: dict[str, list[str]] = {}
        for connector_id, connector in context.document.ends.connectors.items():
            if connector.point is not None:
                self._at.setdefault(connector.point, []).append(connector_id)
        self._sleeves = {s.code: s for s in context.catalogue.coverings.sleeves}

    def cover(self, run: Run, kind: CoverKind, because: str) -> BranchCover:
        """What goes over a run."""
        branches = self._context.document.route.branches
        length = sum(branches[b].length_mm for b in run.branches)
        bare = (self._bare_mm(run, run.from_point), self._bare_mm(run, run.to_point))
        covers = length - sum(bare)
        tight = min(self._tight[b] for b in run.branches)
        loose = max(self._loose[b] for b in run.branches)
        if kind == "none" or covers <= 0:
            why = because if kind == "none" else "too short to cover"
            return BranchCover(
                run.branches, "none", "", "", tight, loose, 0.0, 0.0, 0.0, 0.0, loose, "", why, True, False,
                False, 0.0,
            )  # fmt: skip
        stretch = _Stretch(run, bare, covers, tight, loose)
        if kind == "tape":
            return self._taped(stretch, because)
        if kind == "shrink":
            return self._shrunk(stretch, because)
        return self._sleeved(stretch, kind, because)

    def _bare_mm(self, run: Run, point: str) -> float:
        """Left bare at one end of a run: the window behind a connector, or a breakout's middle."""
        brief = self._context.brief
        first = point == run.from_point
        branch_id = run.branches[0] if first else run.branches[-1]
        wish = self._context.document.dress.covers.get(branch_id)
        own = self._wished_bare(wish, branch_id, point)
        if own is not None:
            return own
        if point in self._at:
            return brief.value("window_mm") if self.has_window(point) else 0.0
        return BREAKOUT_GAP_MM if len(self._tree.near[point]) > 2 else 0.0

    def _wished_bare(self, wish: CoverChoice | None, branch_id: str, point: str) -> float | None:
        if wish is None:
            return None
        at_first = self._context.document.route.branches[branch_id].from_point == point
        return wish.bare_from_mm if at_first else wish.bare_to_mm

    def has_window(self, point: str) -> bool:
        """Whether the wires stay bare behind the connectors at a point."""
        rule = int(self._context.brief.value("window"))
        if rule == WINDOW_WHEN_DRY:
            zone = self._context.brief.point_airs[point].zone
            return zone is None or not self._context.document.brief.zones[zone].has_water
        return rule == WINDOW_ALWAYS

    def passes_at(self, point: str) -> float | None:
        """The largest connector at a point, as a hole would have to pass it; None where there is none."""
        catalogue, connectors = self._context.catalogue, self._context.document.ends.connectors
        across = [
            passes_mm(catalogue, connectors[c], catalogue.connectors[connectors[c].family])
            for c in self._at.get(point, ())
        ]
        return max((mm for mm in across if mm is not None), default=None)

    def _wished(self, run: Run) -> bool:
        """Whether the builder asks for a kind or a part of cover there."""
        wish = self._context.document.dress.covers.get(run.branches[0])
        return wish is not None and (wish.kind is not None or wish.part is not None)

    def _order(self, run: Run, most_mm: float, *, split: bool) -> str:
        """When it goes on: after, either way, or before the connector at one end is fitted."""
        if split:
            return "after"
        named = [p for p in (run.from_point, run.to_point) if p in self._at]
        passing = [self.passes_at(p) for p in named]
        if any(mm is not None and mm <= most_mm for mm in passing):
            return "either"
        return f"before {self._at[named[-1]][0]}" if named else f"before what lies beyond {run.to_point}"

    def _sleeved(self, stretch: _Stretch, kind: CoverKind, because: str) -> BranchCover:
        run, loose = stretch.run, stretch.loose_mm
        sleeve, fits = self._sleeve(run, cast(SleeveKind, kind), stretch.tight_mm, loose)
        if not fits and not self._wished(run):
            # What the rule asks for is not made so thin or so thick: shrink tube, or tape.
            return self._shrunk(stretch, f"no {kind} is made for it")
        lies = min(max(loose, sleeve.least_mm), sleeve.most_mm)
        cut = sleeve_cut_mm(sleeve, lies, stretch.covers_mm)
        outside = (max(sleeve.nominal_mm, loose) if kind == "conduit" else lies) + 2 * sleeve.wall_mm
        order = self._order(run, sleeve.most_mm, split=sleeve.split)
        taped = 2 * TAPED_END_TURNS * 3.1416 * outside if sleeve.split else 0.0
        return BranchCover(
            run.branches,
            kind,
            sleeve.code,
            sleeve.description,
            stretch.tight_mm,
            loose,
            *stretch.bare,
            round(stretch.covers_mm, 2),
            round(cut, 1),
            round(outside, 2),
            order,
            because,
            fits,
            sleeve.absorbent,
            sleeve.split,
            round(cut / 1000 * sleeve.mass_g_per_m, 3),
            round(taped, 1),
        )

    def _sleeve(self, run: Run, kind: SleeveKind, tight: float, loose: float) -> tuple[Sleeve, bool]:
        wish = self._context.document.dress.covers.get(run.branches[0])
        if wish is not None and wish.part in self._sleeves:
            own = self._sleeves[wish.part]
            return own, own.least_mm <= tight and own.most_mm >= loose
        choice = choose_sleeve(
            self._context.catalogue.coverings.sleeves,
            kind,
            tight,
            loose,
            larger=any(self._solid[b] for b in run.branches),
        )
        assert choice.sleeve is not None, "every kind has its sizes"
        return choice.sleeve, choice.fits

    def _taped(self, stretch: _Stretch, because: str) -> BranchCover:
        run, loose = stretch.run, stretch.loose_mm
        tapes = self._context.catalogue.coverings.tapes
        wish = self._context.document.dress.covers.get(run.branches[0])
        named = next((t for t in tapes if wish is not None and t.code == wish.part), None)
        tape = named or _tape_for(tapes, loose)
        try:
            length = wound_tape(loose, stretch.covers_mm, tape.width_mm, TAPE_OVERLAP).length_mm
            fits = True
        except ValueError:
            length, fits = stretch.covers_mm, False
        return BranchCover(
            run.branches,
            "tape",
            tape.code,
            tape.description,
            stretch.tight_mm,
            loose,
            *stretch.bare,
            round(stretch.covers_mm, 2),
            round(length, 1),
            round(loose + 4 * tape.thick_mm, 2),
            "after",
            because,
            fits,
            tape.absorbent,
            False,
            round(length / 1000 * tape.mass_g_per_m, 3),
        )

    def _shrunk(self, stretch: _Stretch, because: str) -> BranchCover:
        run, loose = stretch.run, stretch.loose_mm
        wet = any(is_wet(self._context.document, self._context.brief, b) for b in run.branches)
        tubes = self._context.tubes()
        choice = choose_tube(tubes, loose, stretch.tight_mm, lined=wet)
        if not choice.fits:
            choice = choose_tube(tubes, loose, stretch.tight_mm)
        tube = choice.tube
        assert tube is not None
        if not choice.fits and not self._wished(run):
            return self._taped(stretch, "no tube is made for it")
        cut = tube_to_cut_mm(tube, stretch.covers_mm, stretch.tight_mm)
        return BranchCover(
            run.branches,
            "shrink",
            tube.code,
            tube.description,
            stretch.tight_mm,
            loose,
            *stretch.bare,
            round(stretch.covers_mm, 2),
            round(cut, 1),
            round(loose + 2 * tube.wall_mm, 2),
            self._order(run, tube.supplied_mm, split=False),
            because,
            choice.fits,
            False,
            False,
            round(cut / 1000 * tube.mass_g_per_m, 3),
        )


def _tape_for(tapes: tuple[Tape, ...], bundle_mm: float) -> Tape:
    """Cloth tape as wide as it can be wound; on a thin bundle the narrow one."""
    cloth = [t for t in tapes if t.absorbent]
    windable = [t for t in cloth if (1 - TAPE_OVERLAP) * t.width_mm < 3.14 * bundle_mm]
    return max(windable or cloth[:1], key=lambda t: t.width_mm)


def cover_masses(document: Document, covers: Sequence[BranchCover]) -> dict[str, float]:
    """What lies over every branch weighs, in g: a cover over several is shared out by their lengths."""
    branches = document.route.branches
    masses = dict.fromkeys(branches, 0.0)
    for cover in covers:
        length_mm = sum(branches[b].length_mm for b in cover.branches)
        for b in cover.branches:
            share = branches[b].length_mm / length_mm if length_mm else 1 / len(cover.branches)
            masses[b] += cover.mass_g * share
    return masses
