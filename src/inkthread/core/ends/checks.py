"""What is wrong with a connector where it lies: genders, locks, water, heat, fluids, look-alikes."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from itertools import combinations

from inkthread.core.brief import BriefResult
from inkthread.core.catalogue import CLASSES, Accessory, Catalogue, ConnectorFamily, Contact
from inkthread.core.catalogue.ends import Protection
from inkthread.core.circuits import CircuitsResult
from inkthread.core.document.choices import Connector
from inkthread.core.document.load import pointer
from inkthread.core.document.types import Document, Zone
from inkthread.core.ends.fit import WireEnd
from inkthread.core.findings import Finding, FindingBook, Place
from inkthread.core.memo import Memo
from inkthread.core.quantity import format_length, format_temperature
from inkthread.core.route import RouteResult
from inkthread.core.words import list_in_words

_HOLDS_FAST = {"latch", "wedge", "position assurance", "lever", "screws", "coupling ring", "nut"}


@dataclass(frozen=True, slots=True)
class _Here:
    """A connector with its family and the zones it lies in; those of them whose water reaches it."""

    id: str
    connector: Connector
    family: ConnectorFamily
    zones: tuple[Zone, ...]
    damp: tuple[Zone, ...]

    @property
    def place(self) -> Place:
        return Place("ends", "connector", self.id)


def zones_at(document: Document, route: RouteResult, point: str | None) -> tuple[Zone, ...]:
    """The zone that a point names, else those of the branches that end there."""
    own = document.route.points[point].zone if point in document.route.points else None
    if own is not None:
        return (document.brief.zones[own],)
    met: dict[str, Zone] = {}
    for branch in document.route.branches.values():
        if point in (branch.from_point, branch.to_point):
            whole = [branch.zone] if branch.zone else []
            for stretch in branch.stretches.values():
                at_end = branch.from_point == point and stretch.from_mm <= 0
                at_end |= branch.to_point == point and stretch.to_mm >= branch.length_mm
                if at_end:
                    whole = [stretch.zone]
            for zone_id in whole:
                met[zone_id] = document.brief.zones[zone_id]
    return tuple(met.values())


def zones_about(document: Document, route: RouteResult, point: str | None) -> tuple[Zone, ...]:
    """The zones that a point lies within: none where a branch leads out of them there, for it is at their
    edge. A point that names its zone lies in it.
    """
    met = zones_at(document, route, point)
    if point in document.route.points and document.route.points[point].zone is not None:
        return met
    touching = [b for b in document.route.branches.values() if point in (b.from_point, b.to_point)]
    for branch in touching:
        stretch = [
            s.zone
            for s in branch.stretches.values()
            if (branch.from_point == point and s.from_mm <= 0)
            or (branch.to_point == point and s.to_mm >= branch.length_mm)
        ]
        zone = stretch[-1] if stretch else branch.zone
        if zone is None or class_wanted(document.brief.zones[zone]) is None:
            return ()
    return met


def find_in_connectors(
    document: Document,
    catalogue: Catalogue,
    brief: BriefResult,
    circuits: CircuitsResult,
    route: RouteResult,
    book: FindingBook,
) -> None:
    """Every connector against its family's data and the place it lies in."""
    c = document.circuits
    delivered = tuple(sorted(circuits.live))
    volts = tuple(circuits.volts.items())
    inputs = (
        document.route,
        document.ends,
        document.brief,
        c.circuits,
        c.devices,
        catalogue,
        delivered,
        volts,
    )
    book.once(
        _LOOKED_AT,
        inputs,
        lambda apart: _look(document, catalogue, brief, circuits, set(delivered), route, apart),
    )


_LOOKED_AT: Memo[tuple[Finding, ...]] = Memo()


def _look(
    document: Document,
    catalogue: Catalogue,
    brief: BriefResult,
    circuits: CircuitsResult,
    delivered: set[str],
    route: RouteResult,
    book: FindingBook,
) -> None:
    refs: dict[str, list[str]] = {}
    for ref, entry in document.ends.pinout.items():
        refs.setdefault(entry.connector, []).append(ref)
    for connector_id, connector in document.ends.connectors.items():
        here = _Here(
            connector_id,
            connector,
            catalogue.connectors[connector.family],
            zones_at(document, route, connector.point),
            zones_about(document, route, connector.point),
        )
        _gender(here, book)
        _held(here, book)
        _kept_dry(here, book)
        _fluids(here, book)
        _too_cold(document, here, book)
        _voltage(document, circuits, here, refs.get(connector_id, []), book)
        _ignition(document, here, refs.get(connector_id, []), book)
        _lead_ends(document, catalogue, here, refs.get(connector_id, []), book)
        _accessories(here, book)
        _spares(here, refs.get(connector_id, []), document, book)
        _live(here, [r for r in refs.get(connector_id, []) if r in delivered], book)
    _rows_of_singles(document, catalogue, book)
    _ports(document, catalogue, book)
    _look_alikes(document, catalogue, brief, route, book)


def at_the_rear(
    family: ConnectorFamily, connector: Connector, cable_mm: float, connector_id: str, book: FindingBook
) -> tuple[Accessory, ...]:
    """What goes on a connector beside housing and lock: what is required and what is wanted.

    Of glands the one is taken whose window holds the cable. A cable outside every window is a finding.
    """
    fits = [a for a in family.accessories if a.fits(connector.ways, connector.shell)]
    taken = [a for a in fits if a.kind != "gland" and (a.required or a.code in connector.accessories)]
    glands = [a for a in fits if a.kind == "gland"]
    wanted = [a for a in glands if a.code in connector.accessories] or glands
    if glands:
        taken.append(next((g for g in wanted if _enters(g, cable_mm)), wanted[0]))
    if cable_mm > 0:
        for accessory in taken:
            if not _enters(accessory, cable_mm):
                book.add(
                    "cable-outside-entry",
                    Place("ends", "connector", connector_id),
                    connector=connector_id,
                    cable=f"{cable_mm:.1f} mm",
                    accessory=accessory.code,
                    window=f"{accessory.cable_min_mm:g} to {accessory.cable_max_mm:g} mm",
                )
    _fan_out(connector, taken, connector_id, book)
    return tuple(taken)


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
        window=f"{window[0]:g} to {window[1]:g} mm",
    )


def _enters(accessory: Accessory, cable_mm: float) -> bool:
    low, high = accessory.cable_min_mm, accessory.cable_max_mm
    return low is None or high is None or low <= cable_mm <= high


def _gender(here: _Here, book: FindingBook) -> None:
    rule = here.family.gender_for(here.connector.shell)
    if rule is not None and rule != here.connector.contact_gender:
        other = "socket" if rule == "pin" else "pin"
        book.add(
            "gender-muddle",
            here.place,
            mechanical=(
                f"Let {here.id} carry {rule}s.",
                (
                    {
                        "op": "replace",
                        "path": f"/ends/connectors/{here.id}/contact_gender",
                        "value": rule,
                    },
                ),
            ),
            connector=here.id,
            family=here.family.code,
            shell=here.connector.shell,
            rule=f"{rule}s",
            has=f"{other}s",
        )


def _held(here: _Here, book: FindingBook) -> None:
    """Something that holds it, where it shakes."""
    shaking = next((z for z in here.zones if z.vibration), None)
    if shaking is None or _HOLDS_FAST & set(here.family.locks):
        return
    clips = [a.code for a in here.family.accessories if a.kind in ("clip", "jack screws")]
    if any(code in here.connector.accessories for code in clips):
        return
    clip = clips[0] if clips else None
    operations = (
        {"op": "add", "path": f"/ends/connectors/{here.id}/accessories/{clip}", "value": {"order": 1}},
    )
    book.add(
        "may-shake-loose",
        here.place,
        mechanical=(f"Put {clip} on it.", operations) if clip else None,
        connector=here.id,
        family=here.family.code,
        zone=shaking.name,
    )


IMMERSED_M, IMMERSED_MIN = 1.0, 30.0
"""What IPX7 is tried in: up to 1 m of water for half an hour (IEC 60529, 14.2.7, from memory)."""


def class_wanted(zone: Zone) -> tuple[Protection, str] | None:
    """The protection class that a zone's water and dust ask for, and these in words; None where it is dry.

    Deeper or longer than IPX7 is tried in is IPX8, as agreed with the maker (IEC 60529, from memory).
    """
    if zone.jets:
        return "IP69K", "jets of water"
    if zone.immersed:
        deep, long = zone.immersed_m or 0.0, zone.immersed_min or 0.0
        if deep > IMMERSED_M or long > IMMERSED_MIN:
            said = [*([f"{deep:g} m"] if deep else []), *([f"{long:g} min"] if long else [])]
            return "IP68", f"standing under water, {' for '.join(said)}"
        return "IP67", "standing under water"
    if zone.wet or zone.salt:
        return "IP54", "salt water" if zone.salt else "water"
    return ("IP54", "dust") if zone.dust else None


def _too_cold(document: Document, here: _Here, book: FindingBook) -> None:
    """Housings and seals where it gets colder than they stand."""
    stands = here.family.least_c
    for zone in here.zones:
        if stands is not None and zone.least_c is not None and zone.least_c < stands:
            units = document.brief.units
            book.add(
                "zone-too-cold",
                here.place,
                what=f"{here.id} ({here.family.code})",
                rated=format_temperature(stands, units),
                such_as="",
                zone=zone.name,
                least=format_temperature(zone.least_c, units),
            )
            return


def _kept_dry(here: _Here, book: FindingBook) -> None:
    """Its protection class against water as it comes here."""
    if here.family.group in ("flying lead", "ignition"):
        return
    for zone in here.damp:
        wanted = class_wanted(zone)
        if wanted is None:
            continue
        needs, words = wanted
        has = here.family.protection
        # A ring under its nut, greased or painted, is the custom in the wet; nothing else open is.
        if here.family.studs and not zone.immersed and not zone.jets:
            continue
        if CLASSES.index(has) < CLASSES.index(needs):
            book.add(
                "not-tight-enough",
                here.place,
                connector=here.id,
                family=here.family.code,
                has=has if has != "open" else "no protection class",
                zone=zone.name,
                water=words,
                needs=needs,
                jets=" IP67 says nothing about jets; IP69K does." if zone.jets else "",
            )
            return


def _fluids(here: _Here, book: FindingBook) -> None:
    for zone in here.zones:
        bad = [f for f in (x.strip() for x in zone.fluids.split(",")) if f and f not in here.family.fluids]
        if bad and not here.family.loose:
            book.add(
                "fluid-not-stood",
                here.place,
                what=f"{here.id} ({here.family.code})",
                fluids=list_in_words(bad),
                zone=zone.name,
            )


def _ignition(document: Document, here: _Here, refs: list[str], book: FindingBook) -> None:
    """Kilovolts belong in ends made for them, and in no connector beside anything else."""
    devices = document.circuits.devices
    high = [r for r in refs if devices[(d := r.partition("."))[0]].pins[d[2]].role == "ignition"]
    if high and here.family.group != "ignition":
        book.add(
            "ignition-in-low-voltage",
            here.place,
            *(Place("ends", "pin", r) for r in high[:6]),
            connector=here.id,
            family=here.family.code,
            pins=list_in_words(high[:6]),
        )


def _lead_ends(
    document: Document, catalogue: Catalogue, here: _Here, refs: list[str], book: FindingBook
) -> None:
    """An end made for a spark plug does not sit in a tower, nor the other way round."""
    for ref in refs if here.family.made_for else ():
        kind = document.circuits.devices[ref.partition(".")[0]].kind
        fitting = [
            f.code
            for f in catalogue.connectors.values()
            if f.group == here.family.group and kind in f.made_for
        ]
        if fitting and here.family.code not in fitting:
            wanted = fitting[0]
            device_id = ref.partition(".")[0]
            path = pointer(["ends", "connectors", here.id, "family"])
            book.add(
                "lead-end-elsewhere",
                here.place,
                Place("ends", "pin", ref),
                mechanical=(f"Make it {wanted}.", ({"op": "replace", "path": path, "value": wanted},)),
                connector=here.id,
                family=here.family.code,
                device=f"{device_id} {document.circuits.devices[device_id].name}".strip(),
                wanted=wanted,
            )


def find_made_leads(
    route: RouteResult, contacts: Mapping[tuple[str, str], Contact], book: FindingBook
) -> None:
    """Leads that come with both ends made on: their length is as it is bought."""
    for key, section in route.sections.items():
        made = [contacts.get((end.id, key)) for end in (section.a, section.b)]
        if all(c is not None and c.factory for c in made):
            book.add(
                "both-ends-made",
                Place("wire", "wire", key),
                wire=section.label,
                length=f"{section.length_mm + section.slack_mm:.0f} mm",
            )


def _voltage(
    document: Document, circuits: CircuitsResult, here: _Here, refs: list[str], book: FindingBook
) -> None:
    most = max((circuits.volts.get(circuits.circuit_of.get(r, ""), 0.0) for r in refs), default=0.0)
    if here.family.voltage_v < most:
        book.add(
            "connector-voltage",
            here.place,
            connector=here.id,
            family=here.family.code,
            rated=f"{here.family.voltage_v:g} V",
            supply=f"{most:g} V",
        )


def _accessories(here: _Here, book: FindingBook) -> None:
    known = {a.code: a for a in here.family.accessories}
    for code in here.connector.accessories:
        accessory = known.get(code)
        if accessory is None or not accessory.fits(here.connector.ways, here.connector.shell):
            fits = [a.code for a in known.values() if a.fits(here.connector.ways, here.connector.shell)]
            book.add(
                "accessory-does-not-fit",
                here.place,
                mechanical=(
                    "Take it off.",
                    ({"op": "remove", "path": f"/ends/connectors/{here.id}/accessories/{code}"},),
                ),
                connector=here.id,
                accessory=code,
                fits=list_in_words(fits) or "nothing",
            )


def _spares(here: _Here, refs: list[str], document: Document, book: FindingBook) -> None:
    """An unused way left open lets water in."""
    wet = next((z for z in here.damp if z.wet or z.salt or z.jets or z.immersed), None)
    if wet is None or not here.family.sealed:
        return
    used = {document.ends.pinout[r].cavity for r in refs}
    open_ways = [c for c, s in here.connector.spares.items() if s.state == "open" and c not in used]
    if open_ways:
        book.add(
            "spare-left-open",
            here.place,
            mechanical=(
                "Plug them.",
                tuple(
                    {
                        "op": "replace",
                        "path": f"/ends/connectors/{here.id}/spares/{c}/state",
                        "value": "plugged",
                    }
                    for c in open_ways
                ),
            ),
            connector=here.id,
            ways=list_in_words(open_ways),
            zone=wet.name,
        )


def _live(here: _Here, delivered: list[str], book: FindingBook) -> None:
    """Pins that are live while the half swings on its wires, unmated."""
    c = here.connector
    if c.contact_gender != "pin" or c.panel or here.family.genderless or here.family.loose or not delivered:
        return
    book.add(
        "live-pins-swing",
        here.place,
        *(Place("ends", "pin", r) for r in delivered[:6]),
        connector=here.id,
        pins=list_in_words(delivered[:6]),
    )


def _rows_of_singles(document: Document, catalogue: Catalogue, book: FindingBook) -> None:
    """Single-way shells in a row at one device: any can be plugged into any."""
    rows: dict[tuple[str, str, str], list[str]] = {}
    for ref, entry in document.ends.pinout.items():
        c = document.ends.connectors[entry.connector]
        if c.ways == 1 and not catalogue.connectors[c.family].loose and not c.mark:
            key = (ref.partition(".")[0], c.family, c.point or "")
            rows.setdefault(key, []).append(entry.connector)
    for (device, family, _), held in rows.items():
        if len(held) > 1:
            book.add(
                "row-of-singles",
                *(Place("ends", "connector", k) for k in held[:6]),
                connectors=list_in_words(held[:6]),
                device=device,
                family=family,
            )


def _ports(document: Document, catalogue: Catalogue, book: FindingBook) -> None:
    """Connectors of one kind at one device: each named after the port it goes into, or keyed."""
    ports: dict[tuple[str, str, int, str], list[str]] = {}
    for ref, entry in document.ends.pinout.items():
        c = document.ends.connectors[entry.connector]
        family = catalogue.connectors[c.family]
        if family.loose or c.ways == 1 or c.key or c.mark or c.meets is not None:
            continue
        held = ports.setdefault((ref.partition(".")[0], c.family, c.ways, c.shell), [])
        if entry.connector not in held:
            held.append(entry.connector)
    for (device_id, family_code, ways, _), held in ports.items():
        names = [document.ends.connectors[k].name.strip().lower() for k in held]
        if len(held) > 1 and ("" in names or len(set(names)) < len(names)):
            book.add(
                "port-not-named",
                *(Place("ends", "connector", k) for k in held[:8]),
                connectors=list_in_words(held[:8]),
                device=device_id,
                family=f"{family_code}, {ways} ways",
            )


def _look_alikes(
    document: Document, catalogue: Catalogue, brief: BriefResult, route: RouteResult, book: FindingBook
) -> None:
    """Connectors that could be swapped: same family, ways, shell and key, near enough, other circuits."""
    reach = brief.value("lookalike_reach_mm")
    alike: dict[tuple[str, int, str, str, str], list[str]] = {}
    for connector_id, c in document.ends.connectors.items():
        family = catalogue.connectors[c.family]
        if family.loose or family.group in ("fuse and relay", "terminal block") or c.point is None or c.panel:
            continue
        alike.setdefault((c.family, c.ways, c.shell, c.contact_gender, c.key), []).append(connector_id)
    circuits_of: dict[str, dict[str, str]] = {}
    circuit_of = {r: k for k, c in document.circuits.circuits.items() for r in c.ends}
    for ref, entry in document.ends.pinout.items():
        if ref in circuit_of:
            circuits_of.setdefault(entry.connector, {})[entry.cavity] = circuit_of[ref]
    for held in alike.values():
        groups: list[set[str]] = []
        for a, b in combinations(held, 2):
            one, two = document.ends.connectors[a], document.ends.connectors[b]
            if (one.mark and two.mark and one.mark != two.mark) or one.meets == b or two.meets == a:
                continue
            if circuits_of.get(a) == circuits_of.get(b) or not circuits_of.get(a) or not circuits_of.get(b):
                continue
            apart = route.tree.distance_mm(one.point or "", two.point or "")
            if apart is None or apart > reach:
                continue
            joined = next((g for g in groups if a in g or b in g), None)
            if joined is None:
                groups.append({a, b})
            else:
                joined |= {a, b}
        for group in groups:
            names = sorted(group)
            family = catalogue.connectors[document.ends.connectors[names[0]].family]
            book.add(
                "look-alikes",
                *(Place("ends", "connector", k) for k in names[:8]),
                mechanical=_tell_apart(document, family, names),
                connectors=list_in_words(names[:8]),
                family=f"{family.code}, {document.ends.connectors[names[0]].ways} ways",
                reach=format_length(reach, document.brief.units),
                keys=f" {family.code} is made with keys {list_in_words(list(family.keyings))}."
                if len(family.keyings) > 1
                else "",
            )


_MARKS = ("red sleeve", "blue sleeve", "yellow sleeve", "green sleeve", "white sleeve", "violet sleeve")


def _tell_apart(
    document: Document, family: ConnectorFamily, names: list[str]
) -> tuple[str, tuple[dict[str, object], ...]] | None:
    """Keys where there are enough of them, else a coloured sleeve on each."""
    if len(family.keyings) >= len(names):
        return (
            f"Key them {list_in_words(list(family.keyings[: len(names)]))}.",
            tuple(
                {"op": "replace", "path": f"/ends/connectors/{n}/key", "value": k}
                for n, k in zip(names, family.keyings, strict=False)
            ),
        )
    if len(names) > len(_MARKS):
        return None
    return (
        "Mark them with coloured sleeves.",
        tuple(
            {"op": "replace", "path": f"/ends/connectors/{n}/mark", "value": m}
            for n, m in zip(names, _MARKS, strict=False)
        ),
    )


def find_unclocked(
    document: Document, contacts: dict[WireEnd, Contact], route: RouteResult, book: FindingBook
) -> None:
    """Leads with an elbow at both ends: the turn between them is part of the lead."""
    for section in route.sections.values():
        ends = [e for e in (section.a, section.b) if e.kind == "pin"]
        if len(ends) < 2 or not all(
            (c := contacts.get((e.id, section.key))) is not None and c.angle_deg for e in ends
        ):
            continue
        if all(document.ends.pinout[e.id].clock_deg is None for e in ends):
            book.add(
                "elbows-not-clocked",
                Place("ends", "pin", ends[0].id),
                Place("ends", "pin", ends[1].id),
                Place("wire", "wire", section.key),
                one=f"{ends[0].connector}-{ends[0].cavity}",
                other=f"{ends[1].connector}-{ends[1].cavity}",
            )
