"""The machine's book: what is due on a fitted harness, matings used up, spares to carry.

Days are counted from the first of January of year 1, which is day 1: no clock and no calendar is needed here.
"""

from __future__ import annotations

from collections.abc import Iterable

from inkthread.core.build import Rooms
from inkthread.core.circuits import CircuitsResult
from inkthread.core.document.types import Zone
from inkthread.core.record import record
from inkthread.core.words import some_in_words

FITTED, INSPECTED, JOINED, RENEWED = "fitted", "inspected", "joined", "renewed"
_DAYS_OF_MONTH = 365.25 / 12
_SOON = 0.8
"""From this share of its matings on, a connector is told."""
_NAMED = 4
_ELSEWHERE = ""


@record
class LifeEntry:
    """A line of the book, as far as it counts here."""

    kind: str
    place: str
    day: int
    times: int = 1


@record
class ZoneDue:
    """A zone of the harness, and when it is looked at next."""

    zone: str
    name: str
    every_months: float
    look: str
    last: int | None
    due: int | None
    """None until it is fitted."""
    overdue: bool


@record
class MatingsUsed:
    """A connector, how often it was joined, and how often it may be."""

    connector: str
    used: int
    most: int
    soon: bool
    source: str


@record
class SpareToCarry:
    """Something to have in the machine, and where what it replaces sits."""

    what: str
    count: int
    where: str


@record
class Upkeep:
    """What is due, what is used up, what to carry."""

    zones: tuple[ZoneDue, ...]
    matings: tuple[MatingsUsed, ...]
    spares: tuple[SpareToCarry, ...]


def upkeep_of(rooms: Rooms, circuits: CircuitsResult, life: Iterable[LifeEntry], today: int) -> Upkeep:
    """Of one piece, by the lines of its book up to ``today``. The interval is the house rule's, shortened by
    what each zone does to it; matings count from the first joining, once when it is fitted.
    """
    entries = [entry for entry in life if entry.day <= today]
    return Upkeep(
        tuple(_zones(rooms, entries, today)), tuple(_matings(rooms, entries)), tuple(_spares(rooms, circuits))
    )


def _zones(rooms: Rooms, entries: list[LifeEntry], today: int) -> Iterable[ZoneDue]:
    document, data = rooms.context.document, rooms.context.catalogue.proofs.upkeep
    rule_months = rooms.context.brief.value("inspect_months")
    zoned = [zone for zones in rooms.route.zones.values() for zone in zones]
    bare = any(not zones for zones in rooms.route.zones.values())
    fitted = max((e.day for e in entries if e.kind == FITTED), default=None)
    for zone_id in dict.fromkeys((*zoned, *([_ELSEWHERE] if bare else []))):
        zone = document.brief.zones.get(zone_id)
        met = [data.zones[name] for name in _conditions(zone) if name in data.zones]
        months = rule_months
        for condition in met:
            months *= condition.share
        seen = [e.day for e in entries if e.kind == INSPECTED and e.place in (zone_id, "all")]
        last = max((*seen, *([fitted] if fitted is not None else [])), default=None)
        due = last + round(months * _DAYS_OF_MONTH) if last is not None else None
        yield ZoneDue(
            zone_id,
            zone.name if zone is not None else "",
            round(months, 2),
            "; ".join((*(condition.look for condition in met), data.look)),
            last,
            due,
            due is not None and due < today,
        )


def _conditions(zone: Zone | None) -> list[str]:
    if zone is None:
        return []
    said = {
        "vibration": zone.vibration,
        "flex": zone.flex,
        "salt": zone.salt,
        "wet": zone.has_water and not zone.salt,
        "abrasion": zone.abrasion,
        "engine_space": zone.engine_space,
        "dust": zone.dust,
    }
    return [name for name, so in said.items() if so]


def _matings(rooms: Rooms, entries: list[LifeEntry]) -> Iterable[MatingsUsed]:
    """By the contact that is good for the fewest."""
    document, families = rooms.context.document, rooms.context.catalogue.connectors
    most: dict[str, int] = {}
    for (ref, _), contact in rooms.ends.contacts.items():
        connector_id = document.ends.pinout[ref].connector
        most[connector_id] = min(contact.cycles, most.get(connector_id, contact.cycles))
    for connector_id, connector in document.ends.connectors.items():
        family = families[connector.family]
        if connector_id not in most or family.loose:
            continue
        renewed = [e.day for e in entries if e.kind == RENEWED and e.place == connector_id]
        since = max(renewed, default=0)
        joinings = [
            e.times
            for e in entries
            if e.day >= since
            and (e.kind == FITTED or (e.kind == JOINED and e.place in (connector_id, "all")))
        ]
        used = sum(joinings) + (1 if renewed else 0)  # what was renewed was joined once then
        if used or connector.joined == "at every use":
            limit = most[connector_id]
            source = family.sources.get("cycles", "")
            yield MatingsUsed(connector_id, used, limit, used >= _SOON * limit, source)


def _spares(rooms: Rooms, circuits: CircuitsResult) -> Iterable[SpareToCarry]:
    """A fuse of every rating and a relay of every kind, with where they sit; a contact of every kind at what
    is joined at every use (common practice).
    """
    document = rooms.context.document
    by_what: dict[str, list[str]] = {}
    for fuse in circuits.fuses.values():
        by_what.setdefault(f"{fuse.kind} {fuse.rating_a:g} A", []).append(_sits(rooms, fuse.device))
    for device_id, device in document.circuits.devices.items():
        kinds = {path.kind for path in device.paths.values()} & {"relay", "contactor"}
        if kinds:
            by_what.setdefault(f"{min(kinds)}, as {device.name or device_id}", []).append(
                _sits(rooms, device_id)
            )
    for (ref, _), contact in rooms.ends.contacts.items():
        connector_id = document.ends.pinout[ref].connector
        if document.ends.connectors[connector_id].joined == "at every use":
            by_what.setdefault(f"contact {contact.code}", []).append(connector_id)
    for what, places in by_what.items():
        yield SpareToCarry(what, len(places), some_in_words(list(dict.fromkeys(places)), _NAMED))


def _sits(rooms: Rooms, device_id: str) -> str:
    """A device, and the point that its connector lies at."""
    document = rooms.context.document
    name = f"{device_id} {document.circuits.devices[device_id].name}".strip()
    for ref, entry in document.ends.pinout.items():
        if ref.startswith(f"{device_id}."):
            point = document.ends.connectors[entry.connector].point
            if point is not None:
                return f"{name} at {document.route.points[point].name or point}"
    return name
