"""What is wrong with a connector where it lies: genders, locks, water, heat, fluids, look-alikes."""

from __future__ import annotations

from collections.abc import Callable

from inkthread.core.brief import BriefResult
from inkthread.core.catalogue import CLASSES, Accessory, Catalogue, ConnectorFamily
from inkthread.core.circuits import CircuitsResult
from inkthread.core.context import Context
from inkthread.core.document.choices import Connector
from inkthread.core.document.only import only
from inkthread.core.document.pin_ref import device_of
from inkthread.core.document.problems import pointer
from inkthread.core.document.types import Document, Zone
from inkthread.core.ends.look_alikes import find_look_alikes
from inkthread.core.ends.surroundings import class_wanted, touching_branches, zones_about, zones_at
from inkthread.core.findings import FindingBook, Place, called, phrase
from inkthread.core.measures import format_temperature, told_apart
from inkthread.core.record import record
from inkthread.core.route import RouteResult, Threaded
from inkthread.core.words import list_in_words

_HOLDS_FAST = {"latch", "wedge", "position assurance", "lever", "screws", "coupling ring", "nut"}


@record
class _Placed:
    """A connector with its family and the zones it lies in; those of them whose water reaches it."""

    id: str
    connector: Connector
    family: ConnectorFamily
    zones: tuple[Zone, ...]
    damp: tuple[Zone, ...]

    @property
    def place(self) -> Place:
        return Place("ends", "connector", self.id)


_PLACED = ("route", "ends", "circuits.circuits", "circuits.devices")


def find_in_connectors(
    context: Context, named: Document, circuits: CircuitsResult, route: RouteResult, book: FindingBook
) -> None:
    """Every connector against its family's data and the place it lies in."""
    book.once(
        context.memo,
        _find_as_placed,
        only(context.document, *_PLACED),
        context.catalogue,
        context.brief,
        route.threaded,
        circuits.live,
        circuits.circuit_of,
        tuple(circuits.volts.items()),
    )
    book.once(context.memo, _ports, only(named, "ends"), context.catalogue)
    alike = only(context.document, *_PLACED), context.catalogue, context.brief, route.threaded.tree
    book.once(context.memo, find_look_alikes, *alike)


def _find_as_placed(
    document: Document,
    catalogue: Catalogue,
    brief: BriefResult,
    threaded: Threaded,
    live: frozenset[str],
    circuit_of: dict[str, str],
    volts: tuple[tuple[str, float], ...],
    book: FindingBook,
) -> None:
    refs: dict[str, list[str]] = {}
    for ref, entry in document.ends.pinout.items():
        refs.setdefault(entry.connector, []).append(ref)
    volts_of, touching = dict(volts), touching_branches(document)
    ignition = {
        f"{device_id}.{pin_id}"
        for device_id, device in document.circuits.devices.items()
        for pin_id, pin in device.pins.items()
        if pin.role == "ignition"
    }
    for connector_id, connector in document.ends.connectors.items():
        pins = refs.get(connector_id, [])
        placed = _Placed(
            connector_id,
            connector,
            catalogue.connectors[connector.family],
            zones_at(document, connector.point, touching),
            zones_about(document, connector.point, touching),
        )
        _gender(placed, book)
        _held(placed, book)
        _kept_dry(placed, book)
        _fluids(placed, book)
        _too_cold(document, placed, book)
        _voltage(placed, max((volts_of.get(circuit_of.get(r, ""), 0.0) for r in pins), default=0.0), book)
        _ignition(placed, pins, ignition, book)
        _lead_ends(document, catalogue, placed, pins, book)
        _accessories(placed, book)
        _spares(placed, pins, document, book)
        _live(placed, [r for r in pins if r in live], book)
    _rows_of_singles(document, catalogue, book)


def at_the_rear(
    family: ConnectorFamily,
    connector: Connector,
    measured_mm: Callable[[], float],
    connector_id: str,
    book: FindingBook,
) -> tuple[Accessory, ...]:
    """What goes on a connector beside housing and lock: what is required and what is wanted.

    Of glands the one is taken whose window holds the cable. A cable outside every window is a finding.
    ``measured_mm`` gives the diameter of the cable, which is asked only where something has a window.
    """
    fits = [a for a in family.accessories if a.fits(connector.ways, connector.shell)]
    taken = [a for a in fits if a.kind != "gland" and (a.required or a.code in connector.accessories)]
    glands = [a for a in fits if a.kind == "gland"]
    wanted = [a for a in glands if a.code in connector.accessories] or glands
    windowed = [a for a in (*taken, *wanted) if a.cable_min_mm is not None and a.cable_max_mm is not None]
    cable_mm = measured_mm() if windowed else 0.0
    if glands:
        taken.append(next((g for g in wanted if _enters(g, cable_mm)), wanted[0]))
    if cable_mm > 0:
        for accessory in taken:
            if not _enters(accessory, cable_mm):
                book.add(
                    "cable-outside-entry",
                    Place("ends", "connector", connector_id),
                    connector=connector_id,
                    cable=f"{told_apart(cable_mm, _passed(accessory, cable_mm))} mm",
                    accessory=accessory.code,
                    low=f"{accessory.cable_min_mm:g}",
                    high=f"{accessory.cable_max_mm:g} mm",
                )
    _fan_out(connector, taken, connector_id, book)
    return tuple(taken)


def _passed(accessory: Accessory, cable_mm: float) -> float:
    """The end of its window, in mm, that a cable is outside of."""
    low, high = accessory.cable_min_mm or 0.0, accessory.cable_max_mm or 0.0
    return low if cable_mm < low else high


def _fan_out(connector: Connector, taken: list[Accessory], connector_id: str, book: FindingBook) -> None:
    """Cores longer than the shell leave the jacket outside its gland; shorter ones are hard to work."""
    window = next((a.fan_out_mm for a in taken if a.fan_out_mm is not None), None)
    length = connector.fan_out_mm
    if window is None or length is None or window[0] <= length <= window[1]:
        return
    book.add(
        "fan-out-too-long" if length > window[1] else "fan-out-short",
        Place("ends", "connector", connector_id),
        connector=connector_id,
        length=f"{length:g} mm",
        low=f"{window[0]:g}",
        high=f"{window[1]:g} mm",
    )


def _enters(accessory: Accessory, cable_mm: float) -> bool:
    low, high = accessory.cable_min_mm, accessory.cable_max_mm
    return low is None or high is None or low <= cable_mm <= high


def _gender(placed: _Placed, book: FindingBook) -> None:
    rule = placed.family.gender_for(placed.connector.shell)
    if rule is not None and rule != placed.connector.contact_gender:
        other = "socket" if rule == "pin" else "pin"
        book.add(
            "gender-muddle",
            placed.place,
            mechanical=(
                phrase("carry"),
                (
                    {
                        "op": "replace",
                        "path": f"/ends/connectors/{placed.id}/contact_gender",
                        "value": rule,
                    },
                ),
            ),
            connector=placed.id,
            family=placed.family.code,
            shell=placed.connector.shell,
            rule=f"{rule}s",
            has=f"{other}s",
        )


def _held(placed: _Placed, book: FindingBook) -> None:
    """Something that holds it, where it shakes."""
    shaking = next((z for z in placed.zones if z.vibration), None)
    if shaking is None or _HOLDS_FAST & set(placed.family.locks):
        return
    clips = [a.code for a in placed.family.accessories if a.kind in ("clip", "jack screws")]
    if any(code in placed.connector.accessories for code in clips):
        return
    clip = clips[0] if clips else None
    operations = (
        {"op": "add", "path": f"/ends/connectors/{placed.id}/accessories/{clip}", "value": {"order": 1}},
    )
    book.add(
        "may-shake-loose",
        placed.place,
        mechanical=(phrase("put", clip=clip), operations) if clip else None,
        connector=placed.id,
        family=placed.family.code,
        zone=shaking.name,
    )


def _too_cold(document: Document, placed: _Placed, book: FindingBook) -> None:
    """Housings and seals where it gets colder than they stand."""
    stands = placed.family.least_c
    for zone in placed.zones:
        if stands is not None and zone.least_c is not None and zone.least_c < stands:
            units = document.brief.measures
            book.add(
                "zone-too-cold",
                placed.place,
                what=f"{placed.id} ({placed.family.code})",
                rated=format_temperature(stands, units),
                such_as="",
                zone=zone.name,
                least=format_temperature(zone.least_c, units),
            )
            return


def _kept_dry(placed: _Placed, book: FindingBook) -> None:
    """Its protection class against water as it comes placed."""
    if placed.family.group in ("flying lead", "ignition"):
        return
    for zone in placed.damp:
        wanted = class_wanted(zone)
        if wanted is None:
            continue
        needs, words = wanted
        has = placed.family.protection
        # A ring under its nut, greased or painted, is the custom in the wet; nothing else open is.
        if placed.family.studs and not zone.immersed and not zone.jets:
            continue
        if CLASSES.index(has) < CLASSES.index(needs):
            book.add(
                "not-tight-enough",
                placed.place,
                connector=placed.id,
                family=placed.family.code,
                has=has if has != "open" else phrase("open"),
                zone=zone.name,
                water=words,
                needs=needs,
                jets=phrase("jets") if zone.jets else "",
            )
            return


def _fluids(placed: _Placed, book: FindingBook) -> None:
    for zone in placed.zones:
        bad = [
            f
            for f in (fluid.strip() for fluid in zone.fluids.split(","))
            if f and f not in placed.family.fluids
        ]
        if bad and not placed.family.loose:
            book.add(
                "fluid-not-stood",
                placed.place,
                what=f"{placed.id} ({placed.family.code})",
                fluids=list_in_words(bad),
                zone=zone.name,
            )


def _ignition(placed: _Placed, refs: list[str], ignition: set[str], book: FindingBook) -> None:
    """Kilovolts belong in ends made for them, and in no connector beside anything else."""
    high = [r for r in refs if r in ignition]
    if high and placed.family.group != "ignition":
        book.add(
            "ignition-in-low-voltage",
            placed.place,
            *(Place("ends", "pin", r) for r in high[:6]),
            connector=placed.id,
            family=placed.family.code,
            pins=list_in_words(high[:6]),
        )


def _lead_ends(
    document: Document, catalogue: Catalogue, placed: _Placed, refs: list[str], book: FindingBook
) -> None:
    """An end made for a spark plug does not sit in a tower, nor the other way round."""
    for ref in refs if placed.family.made_for else ():
        kind = document.circuits.devices[device_of(ref)].kind
        fitting = [
            f.code
            for f in catalogue.connectors.values()
            if f.group == placed.family.group and kind in f.made_for
        ]
        if fitting and placed.family.code not in fitting:
            wanted = fitting[0]
            device_id = device_of(ref)
            path = pointer(["ends", "connectors", placed.id, "family"])
            book.add(
                "lead-end-elsewhere",
                placed.place,
                Place("ends", "pin", ref),
                mechanical=(phrase("make"), ({"op": "replace", "path": path, "value": wanted},)),
                connector=placed.id,
                family=placed.family.code,
                device=called("device", device_id),
                wanted=wanted,
            )


def _voltage(placed: _Placed, most_v: float, book: FindingBook) -> None:
    if placed.family.voltage_v < most_v:
        book.add(
            "connector-voltage",
            placed.place,
            connector=placed.id,
            family=placed.family.code,
            rated=f"{placed.family.voltage_v:g} V",
            supply=f"{most_v:g} V",
        )


def _accessories(placed: _Placed, book: FindingBook) -> None:
    known = {a.code: a for a in placed.family.accessories}
    for code in placed.connector.accessories:
        accessory = known.get(code)
        if accessory is None or not accessory.fits(placed.connector.ways, placed.connector.shell):
            fits = [a.code for a in known.values() if a.fits(placed.connector.ways, placed.connector.shell)]
            book.add(
                "accessory-does-not-fit",
                placed.place,
                mechanical=(
                    phrase("off"),
                    ({"op": "remove", "path": f"/ends/connectors/{placed.id}/accessories/{code}"},),
                ),
                connector=placed.id,
                accessory=code,
                fits=fits or phrase("nothing"),
            )


def _spares(placed: _Placed, refs: list[str], document: Document, book: FindingBook) -> None:
    """An unused way left open lets water in."""
    wet = next((z for z in placed.damp if z.has_water), None)
    if wet is None or not placed.family.sealed:
        return
    used = {document.ends.pinout[r].cavity for r in refs}
    open_ways = [c for c, s in placed.connector.spares.items() if s.state == "open" and c not in used]
    if open_ways:
        book.add(
            "spare-left-open",
            placed.place,
            mechanical=(
                phrase("plug"),
                tuple(
                    {
                        "op": "replace",
                        "path": f"/ends/connectors/{placed.id}/spares/{c}/state",
                        "value": "plugged",
                    }
                    for c in open_ways
                ),
            ),
            connector=placed.id,
            ways=list_in_words(open_ways),
            zone=wet.name,
        )


def _live(placed: _Placed, delivered: list[str], book: FindingBook) -> None:
    """Pins that are live while the half swings on its wires, unmated."""
    c = placed.connector
    if (
        c.contact_gender != "pin"
        or c.panel
        or placed.family.genderless
        or placed.family.loose
        or not delivered
    ):
        return
    book.add(
        "live-pins-swing",
        placed.place,
        *(Place("ends", "pin", r) for r in delivered[:6]),
        connector=placed.id,
        pins=list_in_words(delivered[:6]),
    )


def _rows_of_singles(document: Document, catalogue: Catalogue, book: FindingBook) -> None:
    """Single-way shells in a row at one device: any can be plugged into any."""
    rows: dict[tuple[str, str, str], list[str]] = {}
    for ref, entry in document.ends.pinout.items():
        c = document.ends.connectors[entry.connector]
        if c.ways == 1 and not catalogue.connectors[c.family].loose and not c.mark:
            key = (device_of(ref), c.family, c.point or "")
            rows.setdefault(key, []).append(entry.connector)
    for (device, family, _), connectors in rows.items():
        if len(connectors) > 1:
            book.add(
                "row-of-singles",
                *(Place("ends", "connector", k) for k in connectors[:6]),
                connectors=list_in_words(connectors[:6]),
                device=device,
                family=family,
            )


def _ports(document: Document, catalogue: Catalogue, book: FindingBook) -> None:
    """Connectors of one kind at one device: each named after the port it goes into, or keyed."""
    ports: dict[tuple[str, str, int, str], list[str]] = {}
    alike = {
        k: c
        for k, c in document.ends.connectors.items()
        if not (c.ways == 1 or c.key or c.mark or c.meets is not None or catalogue.connectors[c.family].loose)
    }
    for ref, entry in document.ends.pinout.items():
        if entry.connector not in alike:
            continue
        c = alike[entry.connector]
        port = ports.setdefault((device_of(ref), c.family, c.ways, c.shell), [])
        if entry.connector not in port:
            port.append(entry.connector)
    for (device_id, family_code, ways, _), port in ports.items():
        names = [document.ends.connectors[k].name.strip().lower() for k in port]
        if len(port) > 1 and ("" in names or len(set(names)) < len(names)):
            book.add(
                "port-not-named",
                *(Place("ends", "connector", k) for k in port[:8]),
                connectors=list_in_words(port[:8]),
                device=device_id,
                family=family_code,
                ways=str(ways),
            )
