"""The ends room: what is crimped on every wire end and what it slides into."""

from __future__ import annotations

from dataclasses import dataclass, field

from inkthread.core.brief import Air, BriefResult
from inkthread.core.catalogue import Accessory, Catalogue, Contact, Cover, Seal, SpliceSize
from inkthread.core.circuits import CircuitsResult
from inkthread.core.document.types import Document, Zone
from inkthread.core.ends.checks import find_in_connectors, find_made_leads, find_unclocked
from inkthread.core.ends.fit import ContactRule, Crimp, WireEnd
from inkthread.core.ends.fitted import ConnectorEnds, FacePair, Stock, fit_connector
from inkthread.core.ends.joined import find_in_joining
from inkthread.core.ends.joints import BY_RULE, Joint, JointWire, choose_joint
from inkthread.core.ends.mating import find_in_pairs, find_swapped_roles, find_turned_over
from inkthread.core.ends.pairs import find_split_pairs, find_turned
from inkthread.core.ends.replacing import find_in_replacement
from inkthread.core.ends.tools import find_in_tools
from inkthread.core.ends.weakest import Weakest, find_weakest
from inkthread.core.findings import Finding, FindingBook, Place
from inkthread.core.memo import Memo
from inkthread.core.quantity import format_area, format_temperature
from inkthread.core.route import RouteResult, Splice
from inkthread.core.shop import EMPTY_SHOP, Shop
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


@dataclass(slots=True)
class EndsResult:
    """Connectors and splices; contacts and splice sizes by wire end for the later rooms."""

    connectors: dict[str, ConnectorEnds]
    splices: dict[str, SpliceEnd]
    faces: dict[str, FacePair]
    """``family/ways/shell`` to its faces."""
    contacts: dict[WireEnd, Contact]
    seals: dict[WireEnd, Seal]
    splice_sizes: dict[str, SpliceSize]
    blocks: dict[str, int]
    """Block to the studs it needs."""
    joints: dict[str, Joint]
    crimps: dict[WireEnd, Crimp]
    """The tool for each contact; absent where no tool is on record."""
    accessories: dict[str, tuple[Accessory, ...]]
    """What each connector needs or is wanted on it, beside its housing and lock."""
    weakest: Weakest = field(default_factory=Weakest)


def ends_room(
    document: Document,
    catalogue: Catalogue,
    brief: BriefResult,
    circuits: CircuitsResult,
    route: RouteResult,
    wire: WireResult,
    book: FindingBook,
    shop: Shop = EMPTY_SHOP,
) -> EndsResult:
    """Fit every wire end with contact and seal, every spare sealed way with a plug."""
    result = EndsResult({}, {}, {}, {}, {}, {}, {}, {}, {}, {})
    wire_at: dict[str, list[str]] = {}
    for section in route.sections.values():
        for end in (section.a, section.b):
            if end.kind == "pin":
                wire_at.setdefault(end.id, []).append(section.key)
    pins_of: dict[str, dict[str, list[str]]] = {k: {} for k in document.ends.connectors}
    for ref, entry in sorted(document.ends.pinout.items(), key=lambda kv: kv[1].order):
        pins_of[entry.connector].setdefault(entry.cavity, []).append(ref)
    rule = contact_rule(document, catalogue, brief, pins_of, wire_at, wire, shop)
    stock = Stock(catalogue, shop, book.checks, rule)
    for connector_id, connector in sorted(document.ends.connectors.items(), key=lambda kv: kv[1].order):
        family = catalogue.connectors[connector.family]
        fitted = fit_connector(document, stock, connector_id, pins_of[connector_id], wire_at, wire)
        result.connectors[connector_id] = fitted.ends
        result.faces.setdefault(fitted.ends.face, fitted.faces)
        result.contacts |= fitted.contacts
        result.seals |= fitted.seals
        result.crimps |= fitted.crimps
        result.accessories[connector_id] = fitted.accessories
        book.entries += fitted.found
        air = route.point_airs.get(connector.point or "")
        if air is not None and air.ambient_c >= family.temperature_c:
            units = document.brief.units
            book.add(
                "zone-too-hot",
                Place("ends", "connector", connector_id),
                what=f"{connector_id} ({family.code})",
                such_as="",
                rated=format_temperature(family.temperature_c, units),
                zone=document.brief.zones[air.zone].name if air.zone else "its place",
                ambient=format_temperature(air.ambient_c, units),
            )
    c = document.circuits
    inputs = (document.ends, c.circuits, c.devices, c.groups, document.brief, document.route, catalogue)
    book.once(_PAIRED, inputs, lambda apart: find_split_pairs(document, catalogue, apart))
    find_in_connectors(document, catalogue, brief, circuits, route, book)
    book.once(_MATED, inputs, lambda apart: _find_mated(document, catalogue, apart))
    find_made_leads(route, result.contacts, book)
    find_unclocked(document, result.contacts, route, book)
    find_in_joining(document, catalogue, brief, route, wire, result.contacts, book)
    _splices(document, catalogue, brief, route, wire, result, book)
    find_in_tools(document, catalogue, brief, circuits, wire, result.contacts, result.crimps, shop, book)
    result.weakest = find_weakest(
        document, catalogue, circuits, route, wire, result.contacts, result.splice_sizes, book
    )
    return result


_PAIRED: Memo[tuple[Finding, ...]] = Memo()
_MATED: Memo[tuple[Finding, ...]] = Memo()


def contact_rule(
    document: Document,
    catalogue: Catalogue,
    brief: BriefResult,
    pins_of: dict[str, dict[str, list[str]]],
    wire_at: dict[str, list[str]],
    wire: WireResult,
    shop: Shop,
) -> ContactRule:
    """How contacts are chosen here. At hand are the tools owned, and those that some wire asks for anyhow."""
    needed: set[str] = set()
    seen: set[tuple[str, str, str | None, str, str]] = set()
    wires = wire.wires
    for connector_id, connector in document.ends.connectors.items():
        family = catalogue.connectors[connector.family]
        for ref in (r for refs in pins_of[connector_id].values() for r in refs):
            for key in wire_at.get(ref, ()):
                made = wires[key]
                asked = (family.code, connector.contact_gender, connector.stud, made.family, made.gauge)
                if asked in seen:
                    continue
                seen.add(asked)
                size = wire.size(key)
                stud = connector.stud or family.usual_stud
                able = [
                    c for c in family.contacts_for(connector.contact_gender, stud) if c.miss(size).worst <= 1
                ]
                tools = {row.tool for c in able if (row := c.tool_row(size.area_mm2)) is not None}
                needed |= tools if len(tools) == 1 else set()
    prices = tuple((t.code, t.price) for t in catalogue.tools.values() if t.kind in ("crimper", "press"))
    return ContactRule(int(brief.value("contact_kind")), frozenset(needed | shop.tools.keys()), prices)


def _find_mated(document: Document, catalogue: Catalogue, book: FindingBook) -> None:
    find_in_pairs(document, catalogue, book)
    find_turned_over(document, catalogue, book)
    find_swapped_roles(document, catalogue, book)
    find_turned(document, catalogue, book)
    find_in_replacement(document, catalogue, book)


def _splices(
    document: Document,
    catalogue: Catalogue,
    brief: BriefResult,
    route: RouteResult,
    wire: WireResult,
    result: EndsResult,
    book: FindingBook,
) -> None:
    kind, form = BY_RULE[int(brief.value("splice_kind"))]
    zones = document.brief.zones
    everywhere = brief.value("lined_covers") > 0
    for splice in route.splices.values():
        if splice.kind == "block":
            result.blocks[splice.id] = len(splice.sections)
            continue
        wires = [JointWire(wire.wires[k].area_mm2, wire.size(k).od_mm) for k in splice.sections]
        near = {
            b
            for k in splice.sections
            for b in route.sections[k].branches[:1] + route.sections[k].branches[-1:]
        }
        near = {splice.branch} if splice.branch is not None else near
        here = [zones[z] for b in near for z in route.zones[b]]
        wet = any(z.wet or z.salt or z.jets or z.immersed for z in here)
        air = _air_at(document, route, splice)
        own_rise_k = max(
            max(wire.wires[k].temperature_c - route.sections[k].ambient_c, 0.0) for k in splice.sections
        )
        hot_c = air.ambient_c + own_rise_k
        joint = choose_joint(
            catalogue,
            wires[:1],
            wires[1:],
            kind,
            lined=wet or everywhere,
            free_sides=True,
            form=form,
            hottest_c=hot_c,
        )
        name = f"The splice of {splice.circuit} at {splice.point}"
        if not joint.fits:
            overlaps = [x for x in catalogue.splices if x.kind == "overlap"]
            book.add(
                "splice-none-fits",
                Place("route", "splice", splice.id),
                splice=name,
                area=format_area(joint.total_mm2),
                window=f"{overlaps[0].area_min_mm2:g} to {overlaps[-1].area_max_mm2:g} mm²",
            )
        elif joint.cover is None and not joint.part.covered:
            book.add(
                "splice-not-covered",
                Place("route", "splice", splice.id),
                splice=name,
                thick=f"{joint.over_all_mm:.1f} mm",
                wet=" Here it is wet: the strands will draw water in." if wet else "",
            )
        _splice_stands(document, name, splice, joint, hot_c, air, here, book)
        if joint.part.kind == "sleeve" and any(z.vibration for z in here):
            book.add("solder-shakes", Place("route", "splice", splice.id), splice=name, part=joint.part.code)
        result.splice_sizes[splice.id] = joint.part
        result.joints[splice.id] = joint
        result.splices[splice.id] = SpliceEnd(
            splice.id,
            splice.circuit,
            splice.point,
            splice.offset_mm,
            joint.part.code,
            joint.cover.code if joint.cover is not None else "",
            joint.total_mm2,
            tuple(wire.wires[k].label for k in splice.sections),
        )


def _air_at(document: Document, route: RouteResult, splice: Splice) -> Air:
    """The air that a splice lies in: of its stretch of branch, or of its point."""
    if splice.branch is None:
        return route.point_airs[splice.point]
    branch = document.route.branches[splice.branch]
    far = branch.from_point != splice.point
    at = branch.length_mm - splice.offset_mm if far else splice.offset_mm
    met = [s.air for s in route.airs[splice.branch] if s.from_mm <= at <= s.to_mm]
    return max(met or [route.point_airs[splice.point]], key=lambda a: a.severity)


def _splice_stands(
    document: Document,
    name: str,
    splice: Splice,
    joint: Joint,
    hot_c: float,
    air: Air,
    zones: list[Zone],
    book: FindingBook,
) -> None:
    """A splice and its cover against the heat and the cold where they lie: nothing made stands it."""
    units = document.brief.units
    place = Place("route", "splice", splice.id)
    parts: list[SpliceSize | Cover] = [joint.part, *([joint.cover] if joint.cover is not None else [])]
    where = document.brief.zones[air.zone].name if air.zone else "its place"
    hot = min(parts, key=lambda p: p.temperature_c)
    if hot.temperature_c <= hot_c:
        book.add(
            "zone-too-hot",
            place,
            what=f"{name} ({hot.code})",
            such_as="",
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
                what=f"{name} ({coldest.code})",
                such_as="",
                rated=format_temperature(coldest.least_c, units),
                zone=zone.name,
                least=format_temperature(zone.least_c, units),
            )
            return
