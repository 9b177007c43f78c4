"""Splices as fitted: barrel and cover by all the copper under the same wings, and where they lie."""

from __future__ import annotations

from dataclasses import dataclass

from inkthread.core.brief import Air, BriefResult
from inkthread.core.catalogue import Catalogue, Cover, SpliceForm, SpliceKind, SpliceSize
from inkthread.core.context import Context
from inkthread.core.document.types import Document, Zone
from inkthread.core.ends.joints import BY_RULE, Joint, JointWire, choose_joint
from inkthread.core.findings import FindingBook, Place, phrase
from inkthread.core.measures import format_area, format_temperature
from inkthread.core.route import RouteResult, Splice
from inkthread.core.wire import WireResult


@dataclass(frozen=True, slots=True)
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


@dataclass(frozen=True, slots=True)
class Splices:
    """Every splice by its id: as it is fitted, and the parts chosen for it; blocks by the studs they need."""

    fitted: dict[str, SpliceEnd]
    joints: dict[str, Joint]
    blocks: dict[str, int]


def _joint(
    catalogue: Catalogue,
    wires: tuple[JointWire, ...],
    kind: SpliceKind,
    lined: bool,
    form: SpliceForm | None,
    hottest_c: float,
) -> Joint:
    """Barrel and cover of a splice: the wires may lie on either side."""
    return choose_joint(
        catalogue,
        wires[:1],
        wires[1:],
        kind,
        lined=lined,
        free_sides=True,
        form=form,
        hottest_c=hottest_c,
    )


def fit_splices(context: Context, route: RouteResult, wire: WireResult, book: FindingBook) -> Splices:
    """Choose barrel and cover of every splice. What nothing made fits or stands is a finding."""
    document, catalogue, brief = context.document, context.catalogue, context.brief
    splices: dict[str, SpliceEnd] = {}
    joints: dict[str, Joint] = {}
    blocks: dict[str, int] = {}
    kind, form = BY_RULE[int(brief.value("splice_kind"))]
    zones = document.brief.zones
    everywhere = brief.value("lined_covers") > 0
    for splice in route.splices.values():
        if splice.kind == "block":
            blocks[splice.id] = len(splice.sections)
            continue
        wires = [JointWire(wire.wires[k].area_mm2, wire.size(k).od_mm) for k in splice.sections]
        near = {
            b
            for k in splice.sections
            for b in route.sections[k].branches[:1] + route.sections[k].branches[-1:]
        }
        near = {splice.branch} if splice.branch is not None else near
        about = [zones[z] for b in near for z in route.zones[b]]
        wet = any(z.has_water for z in about)
        air = _air_at(document, brief, splice)
        own_rise_k = max(
            max(wire.wires[k].temperature_c - route.sections[k].ambient_c, 0.0) for k in splice.sections
        )
        hot_c = air.ambient_c + own_rise_k
        joint = context.memo.get(
            _joint, catalogue, tuple(wires), kind, wet or everywhere, form, hot_c, of=splice.id
        )
        if not joint.fits:
            overlaps = [splice for splice in catalogue.splices if splice.kind == "overlap"]
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
                wet=phrase("wet") if wet else "",
            )
        _splice_stands(document, splice, joint, hot_c, air, about, book)
        if joint.part.kind == "sleeve" and any(z.vibration for z in about):
            book.add(
                "solder-shakes",
                Place("route", "splice", splice.id),
                circuit=splice.circuit,
                point=splice.point,
                part=joint.part.code,
            )
        joints[splice.id] = joint
        splices[splice.id] = SpliceEnd(
            splice.id,
            splice.circuit,
            splice.point,
            splice.offset_mm,
            joint.part.code,
            joint.cover.code if joint.cover is not None else "",
            joint.total_mm2,
            tuple(wire.wires[k].label for k in splice.sections),
        )
    return Splices(splices, joints, blocks)


def _air_at(document: Document, brief: BriefResult, splice: Splice) -> Air:
    """The air that a splice lies in: of its stretch of branch, or of its point."""
    if splice.branch is None:
        return brief.point_airs[splice.point]
    branch = document.route.branches[splice.branch]
    far = branch.from_point != splice.point
    at = branch.length_mm - splice.offset_mm if far else splice.offset_mm
    met = [s.air for s in brief.airs[splice.branch] if s.from_mm <= at <= s.to_mm]
    return max(met or [brief.point_airs[splice.point]], key=lambda a: a.severity)


def _splice_stands(
    document: Document,
    splice: Splice,
    joint: Joint,
    hot_c: float,
    air: Air,
    zones: list[Zone],
    book: FindingBook,
) -> None:
    """A splice and its cover against the heat and the cold where they lie: nothing made stands it."""
    units = document.brief.measures
    place = Place("route", "splice", splice.id)
    parts: list[SpliceSize | Cover] = [joint.part, *([joint.cover] if joint.cover is not None else [])]
    where = document.brief.zones[air.zone].name if air.zone else phrase("its place")
    hot = min(parts, key=lambda p: p.temperature_c)
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
