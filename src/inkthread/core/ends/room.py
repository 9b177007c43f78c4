"""The ends room: what is crimped on every wire end and what it slides into."""

from __future__ import annotations

from collections.abc import Mapping

from inkthread.core.catalogue import Accessory, Catalogue, Contact, Seal, SpliceSize
from inkthread.core.circuits import CircuitsResult
from inkthread.core.context import Context
from inkthread.core.document.only import only
from inkthread.core.document.pin_ref import device_of, read_ref
from inkthread.core.document.types import Device, Document
from inkthread.core.ends.checks import find_in_connectors
from inkthread.core.ends.fit import ContactRule, Crimp, WireEnd
from inkthread.core.ends.fitted import (
    CavityEnd,
    ConnectorEnds,
    FacePair,
    Fitted,
    FittedParts,
    Landed,
    all_landed,
    faces_of,
    fit_connector,
)
from inkthread.core.ends.fittings import Fittings
from inkthread.core.ends.joined import find_in_joining
from inkthread.core.ends.joints import Joint
from inkthread.core.ends.leads import find_made_leads, find_unclocked
from inkthread.core.ends.mating import find_in_pairs, find_swapped_roles, find_turned_over
from inkthread.core.ends.pairs import find_split_pairs, find_turned
from inkthread.core.ends.replacing import find_in_replacement
from inkthread.core.ends.splices import SpliceEnd, fit_splices
from inkthread.core.ends.tools import critical_pins, find_in_tools
from inkthread.core.ends.weakest import Weakest, find_weakest
from inkthread.core.findings import FindingBook, Place, phrase
from inkthread.core.measures import format_temperature
from inkthread.core.memo import Memo
from inkthread.core.record import altered, record
from inkthread.core.route import RouteResult
from inkthread.core.wire import WireResult


@record
class EndsResult:
    """What is fitted on connectors and splices, their faces, and the weakest links."""

    fittings: Fittings
    connectors: dict[str, ConnectorEnds]
    """By id, with what they and their pins are called."""
    faces: dict[str, FacePair]
    """``family/ways/shell`` to its faces."""
    weakest: Weakest

    @property
    def contacts(self) -> dict[WireEnd, Contact]:
        """By wire end."""
        return self.fittings.contacts

    @property
    def seals(self) -> dict[WireEnd, Seal]:
        """By wire end."""
        return self.fittings.seals

    @property
    def crimps(self) -> dict[WireEnd, Crimp]:
        """The tool for each contact; absent where no tool is on record."""
        return self.fittings.crimps

    @property
    def accessories(self) -> dict[str, tuple[Accessory, ...]]:
        """What each connector needs or is wanted on it, beside its housing and lock."""
        return self.fittings.accessories

    @property
    def splices(self) -> dict[str, SpliceEnd]:
        """By id."""
        return self.fittings.splices

    @property
    def joints(self) -> dict[str, Joint]:
        """The parts chosen for each splice."""
        return self.fittings.joints

    @property
    def blocks(self) -> dict[str, int]:
        """Block to the studs it needs."""
        return self.fittings.blocks

    @property
    def splice_sizes(self) -> dict[str, SpliceSize]:
        """The barrel of each splice."""
        return self.fittings.splice_sizes


_MATED = ("ends", "route", "circuits.circuits", "circuits.devices", "circuits.groups")


def ends_room(
    context: Context,
    named: Document,
    circuits: CircuitsResult,
    route: RouteResult,
    wire: WireResult,
    book: FindingBook,
) -> EndsResult:
    """Fit every wire end with contact and seal, every spare sealed way with a plug.

    ``named`` says what connectors and pins are called.
    """
    document, catalogue, memo = context.document, context.catalogue, context.memo
    fitted = _fit_connectors(context, route, wire, book)
    connectors = {k: f.ends for k, f in fitted.items()}
    parts = _all_parts(fitted, memo)
    contacts, crimps = parts.contacts, parts.crimps
    mated = only(document, *_MATED)
    book.once(memo, find_split_pairs, mated, catalogue)
    find_in_connectors(context, named, circuits, route, book)
    book.once(memo, _find_mated, mated, catalogue)
    laid = route.threaded.sections
    book.once(memo, find_made_leads, laid, contacts, document.brief.measures)
    book.once(memo, find_unclocked, only(document, "ends"), contacts, laid)
    book.once(memo, find_in_joining, context.only("ends", "route"), wire.made, contacts)
    splices = fit_splices(context, route, wire, book)
    joints = memo.alike("joints", splices.joints)
    critical = tuple(sorted(critical_pins(document, catalogue, circuits))) if context.shop.tools else ()
    book.once(memo, find_in_tools, context.only(), critical, wire.made, contacts, crimps)
    faces: dict[str, FacePair] = {}
    for f in fitted.values():
        if f.ends.face not in faces:
            family = catalogue.connectors[f.ends.family]
            faces[f.ends.face] = memo.get(faces_of, family, f.ends.ways, f.ends.shell, of=f.ends.face)
    fittings = Fittings(
        connectors,
        contacts,
        parts.seals,
        crimps,
        {k: f.accessories for k, f in fitted.items()},
        splices.fitted,
        joints,
        splices.blocks,
    )
    return EndsResult(
        memo.alike("fittings", fittings),
        _all_in_names(connectors, named, memo),
        faces,
        find_weakest(context, circuits, route, wire, contacts, joints, book),
    )


def _all_parts(fitted: dict[str, Fitted], memo: Memo) -> FittedParts:
    """What is fitted on all connectors: the same objects where an edit left it as it was."""
    before: dict[str, FittedParts] = memo.last(_all_parts) or {}
    by_connector: dict[str, FittedParts] = {}
    for connector_id, f in fitted.items():
        was = before.get(connector_id)
        by_connector[connector_id] = was if was is not None and was.like(f.parts) else f.parts
    memo.put_down(_all_parts, by_connector)
    return memo.get(_gathered, tuple(by_connector.values()))


def _gathered(parts: tuple[FittedParts, ...]) -> FittedParts:
    return FittedParts(
        {end: contact for p in parts for end, contact in p.contacts.items()},
        {end: seal for p in parts for end, seal in p.seals.items()},
        {end: crimp for p in parts for end, crimp in p.crimps.items()},
    )


def _fit_connectors(
    context: Context, route: RouteResult, wire: WireResult, book: FindingBook
) -> dict[str, Fitted]:
    document, catalogue, memo = context.document, context.catalogue, context.memo
    drawn = context.only("ends", "circuits.devices")
    landed = memo.get(all_landed, drawn.document, route.threaded, wire.made)
    rule = memo.get(_contact_rule, context.only("ends"), landed)
    carries_a = [w.carries_a for w in wire.wires.values()]
    heats_a = wire.tables.heating_a.tolist()
    every: dict[str, Fitted] = {}
    for connector_id, connector in sorted(document.ends.connectors.items(), key=lambda kv: kv[1].order):
        family = catalogue.connectors[connector.family]
        lands = landed[connector_id]
        fitted = memo.get(
            fit_connector,
            connector_id,
            connector,
            family,
            catalogue,
            context.shop,
            rule,
            wire.derating_by_connector.get(connector_id, 1.0),
            lands.pins,
            tuple((carries_a[n], heats_a[n]) for n in lands.wires),
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


def _in_names(ends: ConnectorEnds, name: str, devices: Mapping[str, Device]) -> ConnectorEnds:
    """The same with its name, and the names of the pins in its cavities."""

    def named(cavity: CavityEnd) -> CavityEnd:
        if cavity.pin is None:
            return cavity
        device_id, pin_id = read_ref(cavity.pin)
        own = devices[device_id].pins[pin_id].name
        return altered(cavity, pin_name=own) if own else cavity

    return altered(ends, name=name, cavities=tuple([named(c) for c in ends.cavities]))


def _all_in_names(
    connectors: dict[str, ConnectorEnds], named: Document, memo: Memo
) -> dict[str, ConnectorEnds]:
    """The same with their names: the same objects where neither they nor their names are others."""
    devices, every = named.circuits.devices, list(connectors.values())
    names = [named.ends.connectors[k].name for k in connectors]
    at = memo.get(_devices_at, only(named, "ends.pinout"))
    met = [tuple([devices[d] for d in at.get(k, ())]) for k in connectors]
    return memo.row_by_row(
        _in_names,
        tuple(connectors),
        (every, names, met),
        lambda rows: (_in_names(every[n], names[n], devices) for n in rows),
    )


def _devices_at(document: Document) -> dict[str, dict[str, None]]:
    """By connector, the devices that pins in it are of."""
    at: dict[str, dict[str, None]] = {}
    for ref, entry in document.ends.pinout.items():
        at.setdefault(entry.connector, {})[device_of(ref)] = None
    return at


def _contact_rule(context: Context, landed: dict[str, Landed]) -> ContactRule:
    """How contacts are chosen here. At hand are the tools owned, and those that some wire asks for anyhow."""
    document, catalogue, shop = context.document, context.catalogue, context.shop
    needed: set[str] = set()
    seen: set[tuple[str, str, str | None, str, str]] = set()
    for connector_id, connector in document.ends.connectors.items():
        family = catalogue.connectors[connector.family]
        for w in (w for _, pins in landed[connector_id].pins for pin in pins for w in pin.wires):
            asked = (family.code, connector.contact_gender, connector.stud, w.family, w.size.gauge)
            if asked in seen:
                continue
            seen.add(asked)
            stud = connector.stud or family.usual_stud
            able = [
                c for c in family.contacts_for(connector.contact_gender, stud) if c.worst_miss(w.size) <= 1
            ]
            tools = {row.tool for c in able if (row := c.tool_row(w.size.area_mm2)) is not None}
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
