"""Splices as fitted: barrel and cover by all the copper under the same wings, and where they lie."""

from __future__ import annotations

import numpy as np

from inkthread.core.brief import Air, BriefResult
from inkthread.core.catalogue import Cover, SpliceSize
from inkthread.core.context import Context
from inkthread.core.document.only import only
from inkthread.core.document.types import Document, Zone
from inkthread.core.ends.joints import BY_RULE, Joint, JointWire, choose_joint
from inkthread.core.findings import Finding, FindingBook, Place, phrase
from inkthread.core.measures import format_area, format_temperature
from inkthread.core.record import record
from inkthread.core.route import RouteResult, Splice, Threaded
from inkthread.core.wire import MadeWires, WireResult


@record
class SpliceEnd:
    """A splice: its barrel by all the copper under the same wings, and where it lies."""

    id: str
    circuit: str
    point: str
    offset_mm: float
    part: str
    cover: str
    """Shrink over it; empty where it needs none."""
    area_mm2: float
    wires: tuple[str, ...]


@record
class Splices:
    """Every splice by its id: as it is fitted, and the parts chosen for it; blocks by the studs they need."""

    fitted: dict[str, SpliceEnd]
    joints: dict[str, Joint]
    blocks: dict[str, int]


@record
class _Lies:
    """A splice with what of it does not hang on any current."""

    splice: Splice
    wires: tuple[JointWire, ...]
    labels: tuple[str, ...]
    at: tuple[int, ...]
    """Places of its wires."""
    zones: tuple[Zone, ...]
    """That it lies in, or may."""
    air: Air

    @property
    def wet(self) -> bool:
        """Whether there is water about it."""
        return any(z.has_water for z in self.zones)


@record
class _Fitted:
    end: SpliceEnd
    joint: Joint
    findings: list[Finding]


def fit_splices(context: Context, route: RouteResult, wire: WireResult, book: FindingBook) -> Splices:
    """Choose barrel and cover of every splice. What nothing made fits or stands is a finding."""
    document, catalogue, memo = context.document, context.catalogue, context.memo
    lies = memo.get(_where_they_lie, only(document, "route"), context.brief, route.threaded, wire.made)
    basis = (document.brief, catalogue, context.brief)
    rise_k = [
        max(w.temperature_c - s.ambient_c, 0.0)
        for w, s in zip(wire.wires.values(), route.sections.values(), strict=True)
    ]
    hot_c = np.array([one.air.ambient_c + max(rise_k[i] for i in one.at) for one in lies], dtype=float)
    # Parts are chosen by which of them stand it: how hot exactly is told only where none does.
    rated_c = {s.temperature_c for s in catalogue.splices} | {c.temperature_c for c in catalogue.covers}
    standing = np.searchsorted(np.array(sorted(rated_c)), hot_c, side="right")
    fitted = memo.row_by_row(
        fit_splices,
        tuple(one.splice.id for one in lies),
        (list(lies), standing),
        lambda rows: (_fit(context, lies[n], float(hot_c[n])) for n in rows),
        basis,
    )
    hot = [n for n, f in enumerate(fitted.values()) if _weakest_in_heat(f.joint).temperature_c <= hot_c[n]]
    told = memo.row_by_row(
        _weakest_in_heat,
        tuple(lies[n].splice.id for n in hot),
        ([lies[n] for n in hot], standing[hot], hot_c[hot]),
        lambda rows: (_fit(context, lies[hot[n]], float(hot_c[hot[n]])) for n in rows),
        basis,
    )
    for key, one in fitted.items():
        book.entries += told.get(key, one).findings
    return Splices(
        {key: one.end for key, one in fitted.items()},
        {key: one.joint for key, one in fitted.items()},
        {s.id: len(s.sections) for s in route.splices.values() if s.kind == "block"},
    )


def _where_they_lie(
    document: Document, brief: BriefResult, threaded: Threaded, as_made: MadeWires
) -> tuple[_Lies, ...]:
    """All that are no blocks."""
    place = {key: i for i, key in enumerate(threaded.sections)}
    lies = []
    for splice in threaded.splices.values():
        if splice.kind == "block":
            continue
        sections = [threaded.sections[k] for k in splice.sections]
        near = [b for s in sections for b in s.branches[:1] + s.branches[-1:]]
        if splice.branch is not None:
            near = [splice.branch]
        wires = [as_made.wires[k] for k in splice.sections]
        lies.append(
            _Lies(
                splice,
                tuple(JointWire(w.area_mm2, w.od_mm) for w in wires),
                tuple(w.label for w in wires),
                tuple(place[k] for k in splice.sections),
                tuple(document.brief.zones[z] for b in dict.fromkeys(near) for z in threaded.zones[b]),
                _air_at(document, brief, splice),
            )
        )
    return tuple(lies)


def _fit(context: Context, lies: _Lies, hot_c: float) -> _Fitted:
    """Barrel and cover of one splice, as hot as it gets, and what is wrong with them."""
    catalogue, brief, splice = context.catalogue, context.brief, lies.splice
    book = FindingBook(catalogue.checks)
    kind, form = BY_RULE[int(brief.value("splice_kind"))]
    # The wires may lie on either side.
    joint = choose_joint(
        catalogue,
        lies.wires[:1],
        lies.wires[1:],
        kind,
        lined=lies.wet or brief.value("lined_covers") > 0,
        free_sides=True,
        form=form,
        hottest_c=hot_c,
    )
    if not joint.fits:
        overlaps = [size for size in catalogue.splices if size.kind == "overlap"]
        book.add(
            "splice-none-fits",
            Place("route", "splice", splice.id),
            circuit=splice.circuit,
            point=splice.point,
            area=format_area(joint.total_mm2),
            low=f"{overlaps[0].area_min_mm2:g}",
            high=f"{overlaps[-1].area_max_mm2:g} mm²",
        )
    elif joint.cover is None and not joint.part.covered:
        book.add(
            "splice-not-covered",
            Place("route", "splice", splice.id),
            circuit=splice.circuit,
            point=splice.point,
            thick=f"{joint.over_all_mm:.1f} mm",
            wet=phrase("wet") if lies.wet else "",
        )
    _splice_stands(context.document, splice, joint, hot_c, lies.air, lies.zones, book)
    if joint.part.kind == "sleeve" and any(z.vibration for z in lies.zones):
        book.add(
            "solder-shakes",
            Place("route", "splice", splice.id),
            circuit=splice.circuit,
            point=splice.point,
            part=joint.part.code,
        )
    end = SpliceEnd(
        splice.id,
        splice.circuit,
        splice.point,
        splice.offset_mm,
        joint.part.code,
        joint.cover.code if joint.cover is not None else "",
        joint.total_mm2,
        lies.labels,
    )
    return _Fitted(end, joint, book.entries)


def _air_at(document: Document, brief: BriefResult, splice: Splice) -> Air:
    """The air that a splice lies in: of its stretch of branch, or of its point."""
    if splice.branch is None:
        return brief.point_airs[splice.point]
    branch = document.route.branches[splice.branch]
    far = branch.from_point != splice.point
    at = branch.length_mm - splice.offset_mm if far else splice.offset_mm
    met = [s.air for s in brief.airs[splice.branch] if s.from_mm <= at <= s.to_mm]
    return max(met or [brief.point_airs[splice.point]], key=lambda a: a.severity)


def _weakest_in_heat(joint: Joint) -> SpliceSize | Cover:
    """The barrel or its cover, whichever stands less heat."""
    cover = joint.cover
    return joint.part if cover is None or joint.part.temperature_c <= cover.temperature_c else cover


def _splice_stands(
    document: Document,
    splice: Splice,
    joint: Joint,
    hot_c: float,
    air: Air,
    zones: tuple[Zone, ...],
    book: FindingBook,
) -> None:
    """A splice and its cover against the heat and the cold where they lie: nothing made stands it."""
    units = document.brief.measures
    place = Place("route", "splice", splice.id)
    parts: list[SpliceSize | Cover] = [joint.part, *([joint.cover] if joint.cover is not None else [])]
    where = document.brief.zones[air.zone].name if air.zone else phrase("its place")
    hot = _weakest_in_heat(joint)
    if hot.temperature_c <= hot_c:
        book.add(
            "zone-too-hot",
            place,
            what=phrase("splice", circuit=splice.circuit, point=splice.point, part=hot.code),
            such_as="",
            shines="",
            rated=format_temperature(hot.temperature_c, units),
            zone=where,
            ambient=format_temperature(hot_c, units),
        )
    coldest = max((p for p in parts if p.least_c is not None), key=lambda p: p.least_c or 0.0, default=None)
    if coldest is None or coldest.least_c is None:
        return
    for zone in zones:
        if zone.least_c is not None and coldest.least_c > zone.least_c:
            book.add(
                "zone-too-cold",
                place,
                what=phrase("splice", circuit=splice.circuit, point=splice.point, part=coldest.code),
                such_as="",
                rated=format_temperature(coldest.least_c, units),
                zone=zone.name,
                least=format_temperature(zone.least_c, units),
            )
            return
