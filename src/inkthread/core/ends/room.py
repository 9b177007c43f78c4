"""The ends room: what is crimped on every wire end and what it slides into."""

from __future__ import annotations

from dataclasses import dataclass

from inkthread.core.catalogue import Accessory, Catalogue, Contact, Seal, SpliceSize
from inkthread.core.circuits import CircuitsResult
from inkthread.core.context import Context
from inkthread.core.document.only import only
from inkthread.core.document.types import Document
from inkthread.core.ends.checks import find_in_connectors
from inkthread.core.ends.fit import ContactRule, Crimp, WireEnd
from inkthread.core.ends.fitted import ConnectorEnds, FacePair, Fitted, fit_connector, pins_at
from inkthread.core.ends.joined import find_in_joining
from inkthread.core.ends.joints import Joint
from inkthread.core.ends.leads import find_made_leads, find_unclocked
from inkthread.core.ends.mating import find_in_pairs, find_swapped_roles, find_turned_over
from inkthread.core.ends.pairs import find_split_pairs, find_turned
from inkthread.core.ends.replacing import find_in_replacement
from inkthread.core.ends.splices import SpliceEnd, Splices, fit_splices
from inkthread.core.ends.tools import find_in_tools
from inkthread.core.ends.weakest import Weakest, find_weakest
from inkthread.core.findings import FindingBook, Place, phrase
from inkthread.core.measures import format_temperature
from inkthread.core.route import RouteResult
from inkthread.core.wire import WireResult


@dataclass(frozen=True, slots=True)
class EndsResult:
    """Connectors and splices; contacts and splice sizes by wire end for the later rooms."""

    connectors: dict[str, ConnectorEnds]
    faces: dict[str, FacePair]
    """``family/ways/shell`` to its faces."""
    contacts: dict[WireEnd, Contact]
    seals: dict[WireEnd, Seal]
    crimps: dict[WireEnd, Crimp]
    """The tool for each contact; absent where no tool is on record."""
    accessories: dict[str, tuple[Accessory, ...]]
    """What each connector needs or is wanted on it, beside its housing and lock."""
    joined: Splices
    weakest: Weakest

    @property
    def splices(self) -> dict[str, SpliceEnd]:
        """By id."""
        return self.joined.fitted

    @property
    def joints(self) -> dict[str, Joint]:
        """The parts chosen for each splice."""
        return self.joined.joints

    @property
    def blocks(self) -> dict[str, int]:
        """Block to the studs it needs."""
        return self.joined.blocks

    @property
    def splice_sizes(self) -> dict[str, SpliceSize]:
        """The barrel of each splice."""
        return {k: joint.part for k, joint in self.joints.items()}


_MATED = ("ends", "route", "circuits.circuits", "circuits.devices", "circuits.groups")


def ends_room(
    context: Context, circuits: CircuitsResult, route: RouteResult, wire: WireResult, book: FindingBook
) -> EndsResult:
    """Fit every wire end with contact and seal, every spare sealed way with a plug."""
    document, catalogue, memo = context.document, context.catalogue, context.memo
    fitted = _fit_connectors(context, route, wire, book)
    connectors = {k: f.ends for k, f in fitted.items()}
    contacts = {end: c for f in fitted.values() for end, c in f.contacts.items()}
    crimps = {end: c for f in fitted.values() for end, c in f.crimps.items()}
    mated = only(document, *_MATED)
    book.once(memo, find_split_pairs, mated, catalogue)
    find_in_connectors(context, circuits, route, book)
    book.once(memo, _find_mated, mated, catalogue)
    find_made_leads(route, contacts, document.brief.measures, book)
    find_unclocked(document, contacts, route, book)
    find_in_joining(context, route, wire, contacts, book)
    splices = fit_splices(context, route, wire, book)
    find_in_tools(context, circuits, wire, contacts, crimps, book)
    faces: dict[str, FacePair] = {}
    for f in fitted.values():
        faces.setdefault(f.ends.face, f.faces)
    return EndsResult(
        connectors,
        faces,
        contacts,
        {end: s for f in fitted.values() for end, s in f.seals.items()},
        crimps,
        {k: f.accessories for k, f in fitted.items()},
        splices,
        find_weakest(context, circuits, route, wire, contacts, splices.joints, book),
    )


def _fit_connectors(
    context: Context, route: RouteResult, wire: WireResult, book: FindingBook
) -> dict[str, Fitted]:
    document, catalogue = context.document, context.catalogue
    wire_at: dict[str, list[str]] = {}
    for section in route.sections.values():
        for end in (section.a, section.b):
            if end.kind == "pin":
                wire_at.setdefault(end.id, []).append(section.key)
    pins_of: dict[str, dict[str, list[str]]] = {k: {} for k in document.ends.connectors}
    for ref, entry in sorted(document.ends.pinout.items(), key=lambda kv: kv[1].order):
        pins_of[entry.connector].setdefault(entry.cavity, []).append(ref)
    rule = _contact_rule(context, pins_of, wire_at, wire)
    every: dict[str, Fitted] = {}
    for connector_id, connector in sorted(document.ends.connectors.items(), key=lambda kv: kv[1].order):
        family = catalogue.connectors[connector.family]
        fitted = context.memo.get(
            fit_connector,
            connector_id,
            connector,
            family,
            catalogue,
            context.shop,
            rule,
            wire.derating_by_connector.get(connector_id, 1.0),
            pins_at(document, pins_of[connector_id], wire_at, wire),
            of=connector_id,
        )
        book.entries += fitted.findings
        every[connector_id] = fitted
        air = context.brief.point_airs.get(connector.point or "")
        if air is not None and air.ambient_c >= family.temperature_c:
            units = document.brief.measures
            book.add(
                "zone-too-hot",
                Place("ends", "connector", connector_id),
                what=f"{connector_id} ({family.code})",
                such_as="",
                shines="",
                rated=format_temperature(family.temperature_c, units),
                zone=document.brief.zones[air.zone].name if air.zone else phrase("its place"),
                ambient=format_temperature(air.ambient_c, units),
            )
    return every


def _contact_rule(
    context: Context,
    pins_of: dict[str, dict[str, list[str]]],
    wire_at: dict[str, list[str]],
    wire: WireResult,
) -> ContactRule:
    """How contacts are chosen here. At hand are the tools owned, and those that some wire asks for anyhow."""
    document, catalogue, shop = context.document, context.catalogue, context.shop
    needed: set[str] = set()
    seen: set[tuple[str, str, str | None, str, str]] = set()
    wires = wire.wires
    for connector_id, connector in document.ends.connectors.items():
        family = catalogue.connectors[connector.family]
        for ref in (r for refs in pins_of[connector_id].values() for r in refs):
            for key in wire_at.get(ref, ()):
                sized = wires[key]
                asked = (family.code, connector.contact_gender, connector.stud, sized.family, sized.gauge)
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
    return ContactRule(
        int(context.brief.value("contact_kind")), frozenset(needed | shop.tools.keys()), prices
    )


def _find_mated(document: Document, catalogue: Catalogue, book: FindingBook) -> None:
    find_in_pairs(document, catalogue, book)
    find_turned_over(document, catalogue, book)
    find_swapped_roles(document, catalogue, book)
    find_turned(document, catalogue, book)
    find_in_replacement(document, catalogue, book)
