"""The ends room: what is crimped on every wire end and what it slides into."""

from __future__ import annotations

from dataclasses import dataclass, field

from inkthread.core.brief import BriefResult
from inkthread.core.catalogue import Accessory, Catalogue, Contact, Seal, SpliceSize
from inkthread.core.circuits import CircuitsResult
from inkthread.core.document.types import Document
from inkthread.core.ends.checks import find_in_connectors, find_made_leads, find_unclocked
from inkthread.core.ends.fit import Crimp, WireEnd
from inkthread.core.ends.fitted import ConnectorEnds, FacePair, Stock, fit_connector
from inkthread.core.ends.joints import KINDS, Joint, JointWire, choose_joint
from inkthread.core.ends.mating import find_in_pairs, find_swapped_roles, find_turned_over
from inkthread.core.ends.pairs import find_split_pairs, find_turned
from inkthread.core.ends.replacing import find_in_replacement
from inkthread.core.ends.tools import find_in_tools
from inkthread.core.ends.weakest import Weakest, find_weakest
from inkthread.core.findings import Finding, FindingBook, Place
from inkthread.core.kept import Kept
from inkthread.core.quantity import format_area, format_temperature
from inkthread.core.route import RouteResult
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
    stock = Stock(catalogue, shop, book.checks)
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
    _splices(document, catalogue, brief, route, wire, result, book)
    find_in_tools(document, catalogue, wire, result.contacts, result.crimps, shop, book)
    result.weakest = find_weakest(
        document, catalogue, circuits, route, wire, result.contacts, result.splice_sizes, book
    )
    return result


_PAIRED: Kept[tuple[Finding, ...]] = Kept()
_MATED: Kept[tuple[Finding, ...]] = Kept()


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
    kind = KINDS[int(brief.value("splice_kind")) - 1]
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
        joint = choose_joint(catalogue, wires[:1], wires[1:], kind, lined=wet or everywhere, free_sides=True)
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
