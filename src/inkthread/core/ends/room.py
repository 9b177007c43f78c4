"""The ends room: what is crimped on every wire end and what it slides into."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from inkthread.core.catalogue import (
    Catalogue,
    ConnectorFamily,
    Contact,
    Seal,
    SpliceSize,
)
from inkthread.core.circuits import CircuitsResult
from inkthread.core.document.load import pointer
from inkthread.core.document.types import Connector, Document
from inkthread.core.ends.faces import FaceView, face_view
from inkthread.core.ends.fit import Fit, Misfit, choose_contact, choose_seal, misfits
from inkthread.core.ends.pairs import find_split_pairs
from inkthread.core.findings import FindingBook, Place
from inkthread.core.quantity import format_area, format_current, format_temperature
from inkthread.core.route import RouteResult
from inkthread.core.wire import WireResult
from inkthread.core.wire.limits import OVERLOAD_LONG, OVERLOAD_SHORT
from inkthread.core.words import in_words, list_in_words


@dataclass(frozen=True, slots=True)
class CavityEnd:
    """One cavity: the device pin given to it, the wire that ends there and what goes on it."""

    cavity: str
    pin: str | None
    pin_name: str
    wire: str | None
    contact: str | None
    seal: str | None
    plug: str | None
    carries_a: float
    contact_a: float
    strip_mm: float
    strip_tolerance_mm: float
    conductor_window_mm2: tuple[float, float] | None
    seal_window_mm: tuple[float, float] | None
    fits: bool


@dataclass(frozen=True, slots=True)
class ConnectorEnds:
    """A connector on the harness: its parts, its cavities, both faces."""

    id: str
    name: str
    family: str
    ways: int
    used: int
    shell: str
    contact_gender: str
    housing: str | None
    lock: str | None
    mates_with: str
    sentence: str
    face: str
    """Key of its faces in the room's table of faces."""
    cavities: tuple[CavityEnd, ...]


@dataclass(frozen=True, slots=True)
class FacePair:
    """Both faces of one housing, and its outline. Lengths in mm."""

    width_mm: float
    height_mm: float
    cavity_diameter_mm: float
    latch: str
    wire_side: FaceView
    mating_side: FaceView


@dataclass(frozen=True, slots=True)
class SpliceEnd:
    """A splice: its barrel by all the copper under the same wings, and where it lies."""

    id: str
    circuit: str
    point: str
    offset_mm: float
    part: str
    area_mm2: float
    wires: tuple[str, ...]


@dataclass(slots=True)
class EndsResult:
    """Connectors and splices; contacts and splice sizes by wire end for the later rooms."""

    connectors: dict[str, ConnectorEnds]
    splices: dict[str, SpliceEnd]
    faces: dict[str, FacePair]
    """``family/ways/shell`` to its faces."""
    contacts: dict[str, Contact]
    """Device pin to contact."""
    seals: dict[str, Seal]
    splice_sizes: dict[str, SpliceSize]
    blocks: dict[str, int]
    """Block to the studs it needs."""
    weakest: dict[str, tuple[float, str, str]]
    """Fuse to the least of what it protects: amperes, its name, its kind."""
    fits: dict[tuple[str, str, str | None, str], Fit]
    """Contact and seal by (family, gender, stud, gauge), each with whether it fits."""


def ends_room(
    document: Document,
    catalogue: Catalogue,
    circuits: CircuitsResult,
    route: RouteResult,
    wire: WireResult,
    book: FindingBook,
) -> EndsResult:
    """Fit every wire end with contact and seal, every spare sealed way with a plug."""
    result = EndsResult({}, {}, {}, {}, {}, {}, {}, {}, {})
    wire_at: dict[str, list[str]] = {}
    for section in route.sections.values():
        for end in (section.a, section.b):
            if end.kind == "pin":
                wire_at.setdefault(end.id, []).append(section.key)
    pins_of: dict[str, dict[str, list[str]]] = {k: {} for k in document.ends.connectors}
    for ref, entry in sorted(document.ends.pinout.items(), key=lambda kv: kv[1].order):
        pins_of[entry.connector].setdefault(entry.cavity, []).append(ref)
    hottest: dict[str, tuple[float, str | None]] = {}
    for branch_id, branch in document.route.branches.items():
        here = route.hottest[branch_id]
        for point in (branch.from_point, branch.to_point):
            if point not in hottest or here[0] < hottest[point][0]:
                hottest[point] = here
    for connector_id, connector in sorted(document.ends.connectors.items(), key=lambda kv: kv[1].order):
        family = catalogue.connectors[connector.family]
        result.connectors[connector_id] = _connector(
            document,
            catalogue,
            connector_id,
            connector,
            family,
            pins_of[connector_id],
            wire_at,
            wire,
            result,
            book,
        )
        ambient, zone = hottest.get(connector.point or "", (-273.0, None))
        if ambient >= family.temperature_c:
            units = document.brief.units
            book.add(
                "zone-too-hot",
                Place("ends", "connector", connector_id),
                what=f"{connector_id} ({family.code})",
                rated=format_temperature(family.temperature_c, units),
                zone=document.brief.zones[zone].name if zone else "its place",
                ambient=format_temperature(ambient, units),
            )
    find_split_pairs(document, catalogue, book)
    _splices(document, catalogue, route, wire, result, book)
    _fuses_against_weakest(document, catalogue, circuits, route, wire, result, book)
    return result


def _connector(
    document: Document,
    catalogue: Catalogue,
    connector_id: str,
    connector: Connector,
    family: ConnectorFamily,
    pins_of: dict[str, list[str]],
    wire_at: dict[str, list[str]],
    wire: WireResult,
    result: EndsResult,
    book: FindingBook,
) -> ConnectorEnds:
    housing = family.housing(connector.ways)
    assert housing is not None, "refused when the document was read"
    cavities: list[CavityEnd] = []
    unfit: dict[Misfit, list[tuple[str, str, str]]] = {}
    used = 0
    spare = 0
    for cavity in housing.face.cavities:
        refs = pins_of.get(cavity, [])
        if len(refs) > 1:
            book.add(
                "cavity-used-twice",
                Place("ends", "connector", connector_id),
                *(Place("ends", "pin", r) for r in refs),
                place=f"{connector_id}-{cavity}",
                pins=" and ".join(refs),
            )
        if not refs:
            plug = family.plug.code if family.plug is not None else None
            spare += 1
            cavities.append(CavityEnd(cavity, None, "", None, None, None, plug, 0, 0, 0, 0, None, None, True))
            continue
        used += 1
        for ref in refs:
            keys = wire_at.get(ref, [])
            if len(keys) > 1:
                _doubled(family, connector_id, connector, cavity, ref, keys, wire, book)
            for key in (*keys, *([] if keys else [None])):
                cavities.append(
                    _cavity(
                        document, connector_id, connector, family, cavity, ref, key, wire, result, unfit, book
                    )
                )
    for misfit, where in unfit.items():
        book.add(
            misfit.code,
            *(Place("ends", "pin", ref) for _, ref, _ in where),
            *(Place("wire", "wire", key) for _, _, key in where),
            mechanical=None,
            family=family.code,
            place=list_in_words([f"{connector_id}-{cavity}" for cavity, _, _ in where]),
            **dict(misfit.words),
        )
    face = housing.face
    shell = connector.shell if not family.loose else "none"
    face_key = f"{family.code}/{connector.ways}/{shell}"
    if face_key not in result.faces:
        result.faces[face_key] = FacePair(
            face.width_mm,
            face.height_mm,
            face.cavity_diameter_mm,
            face.latch,
            face_view(face, shell, "wire"),
            face_view(face, shell, "mating"),
        )
    part = housing.shells.get(shell)
    lock = housing.locks.get(shell)
    other = {"plug": "receptacle", "receptacle": "plug", "none": ""}[shell]
    opposite = "pins" if connector.contact_gender == "socket" else "sockets"
    mates = f"Meets: {family.code} {other} with {opposite}." if other else family.mating
    return ConnectorEnds(
        connector_id,
        connector.name,
        family.code,
        connector.ways,
        used,
        shell,
        connector.contact_gender,
        part.code if part else None,
        lock.code if lock else None,
        mates,
        _sentence(connector_id, connector, family, used, spare),
        face_key,
        tuple(cavities),
    )


def _sentence(connector_id: str, connector: Connector, family: ConnectorFamily, used: int, spare: int) -> str:
    count = connector.ways
    plural = "" if count == 1 else "s"
    if family.loose:
        thing = "ring" if family.studs else "push-on terminal"
        stud = f" for {connector.stud}" if connector.stud else ""
        return f"**{connector_id}** is {in_words(count)} loose {thing}{plural}{stud}, {in_words(used)} used."
    gender = connector.contact_gender
    other = "pins" if gender == "socket" else "sockets"
    text = (
        f"**{connector_id}** has {in_words(count)} way{plural}, {in_words(used)} used. "
        f"The {connector.shell} carries **{gender}s**; the half it meets carries {other}."
    )
    if spare and family.plug is not None:
        verb = "ways are" if spare > 1 else "way is"
        text += f" {in_words(spare).capitalize()} {verb} plugged for you."
    return text


def _cavity(
    document: Document,
    connector_id: str,
    connector: Connector,
    family: ConnectorFamily,
    cavity: str,
    ref: str,
    key: str | None,
    wire: WireResult,
    result: EndsResult,
    unfit: dict[Misfit, list[tuple[str, str, str]]],
    book: FindingBook,
) -> CavityEnd:
    device_id, _, pin_id = ref.partition(".")
    device = document.circuits.devices[device_id]
    name = device.pins[pin_id].name or f"pin {pin_id}"
    if key is None:
        return CavityEnd(cavity, ref, name, None, None, None, None, 0, 0, 0, 0, None, None, True)
    made = wire.wires[key]
    size = wire.size(key)
    key_of_fit = (family.code, connector.contact_gender, connector.stud, f"{made.family} {size.gauge}")
    fit = result.fits.get(key_of_fit)
    if fit is None:
        fit = result.fits[key_of_fit] = (
            *choose_contact(family, connector.contact_gender, connector.stud, size),
            *choose_seal(family, size),
        )
    contact, contact_fits, seal, seal_fits = fit
    if contact is not None:
        result.contacts[ref] = contact
    if seal is not None:
        result.seals[ref] = seal
    carries = contact.current_a(size.area_mm2) if contact else 0.0
    if not (contact_fits and seal_fits):
        for misfit in misfits(family, made, size, fit):
            unfit.setdefault(misfit, []).append((cavity, ref, key))
    if contact is not None and heats_with(wire, key) > carries * 1.0005:
        book.add(
            "contact-overloaded",
            Place("ends", "pin", ref),
            Place("wire", "wire", key),
            place=f"{connector_id}-{cavity}",
            current=format_current(made.carries_a),
            carries=format_current(carries),
            gauge=made.gauge,
        )
    return CavityEnd(
        cavity,
        ref,
        name,
        key,
        contact.code if contact else None,
        seal.code if seal else None,
        None,
        made.carries_a,
        carries,
        contact.strip_mm if contact else 0.0,
        contact.strip_tolerance_mm if contact else 0.0,
        (contact.conductor_min_mm2, contact.conductor_max_mm2) if contact else None,
        (seal.od_min_mm, seal.od_max_mm) if seal else None,
        contact_fits and seal_fits,
    )


def _doubled(
    family: ConnectorFamily,
    connector_id: str,
    connector: Connector,
    cavity: str,
    ref: str,
    keys: list[str],
    wire: WireResult,
    book: FindingBook,
) -> None:
    """Several wires at one cavity: on a stud each has its lug, else one barrel must hold them all."""
    most = max(
        (
            c.most_wires
            for c in family.contacts
            if c.gender in (connector.contact_gender, "none") or family.loose
        ),
        default=1,
    )
    if len(keys) <= most:
        return
    book.add(
        "too-many-in-one",
        Place("ends", "pin", ref),
        *(Place("wire", "wire", k) for k in keys[:6]),
        place=f"{connector_id}-{cavity}",
        wires=list_in_words([wire.wires[k].label for k in keys[:6]]),
        most=in_words(most),
        family=family.code,
    )


def heats_with(wire: WireResult, key: str) -> float:
    """Current in A that a wire's contacts must bear for good: by duty, not by its moments."""
    return float(wire.asked.current_a[wire.at[key]])


def _splices(
    document: Document,
    catalogue: Catalogue,
    route: RouteResult,
    wire: WireResult,
    result: EndsResult,
    book: FindingBook,
) -> None:
    for splice in route.splices.values():
        if splice.kind == "block":
            result.blocks[splice.id] = len(splice.sections)
            continue
        area = sum(wire.wires[k].area_mm2 for k in splice.sections)
        size = next((s for s in catalogue.splices if s.area_min_mm2 <= area <= s.area_max_mm2), None)
        if size is None:
            size = catalogue.splices[-1] if area > catalogue.splices[0].area_min_mm2 else catalogue.splices[0]
            book.add(
                "splice-none-fits",
                Place("route", "splice", splice.id),
                splice=f"The splice of {splice.circuit} at {splice.point}",
                area=format_area(area),
                window=f"{catalogue.splices[0].area_min_mm2:g} to {catalogue.splices[-1].area_max_mm2:g} mm²",
            )
        result.splice_sizes[splice.id] = size
        result.splices[splice.id] = SpliceEnd(
            splice.id,
            splice.circuit,
            splice.point,
            splice.offset_mm,
            size.code,
            round(area, 4),
            tuple(wire.wires[k].label for k in splice.sections),
        )


def _fuses_against_weakest(
    document: Document,
    catalogue: Catalogue,
    circuits: CircuitsResult,
    route: RouteResult,
    wire: WireResult,
    result: EndsResult,
    book: FindingBook,
) -> None:
    """Each fuse against the least that its wires and their contacts carry, link named."""
    if not wire.keys:
        return
    rows = np.arange(len(wire.keys))
    allowed = wire.judgement.allowed_a[rows, wire.chosen]
    free = wire.judgement.free_air_a[rows, wire.chosen]
    weakest = result.weakest
    for i, key in enumerate(wire.keys):
        section = route.sections[key]
        fuse = circuits.circuits[section.circuit].fuse
        if fuse is None:
            continue
        made = wire.wires[key]
        ratio = float(wire.judgement.fuse[i, wire.chosen[i]])
        rating = circuits.fuses[fuse].rating_a
        # Held to 110 % where it lies, 135 % alone; a supply that no fuse clears is held to its limit.
        holds = min(float(allowed[i]) / OVERLOAD_LONG, float(free[i]) / OVERLOAD_SHORT)
        if float(wire.asked.fuse_single_a[i]) < rating * 0.999:
            holds = rating / max(ratio, 1e-9) if ratio > 1 else max(holds, rating)
        links = [(holds, f"wire {made.label} ({made.gauge})", "wire")]
        for end in (section.a, section.b):
            contact = result.contacts.get(end.id) if end.kind == "pin" else None
            if contact is not None:
                links.append(
                    (
                        contact.current_a(made.area_mm2),
                        f"the contact in {end.connector}-{end.cavity}",
                        "contact",
                    )
                )
        least = min(links)
        if fuse not in weakest or least < weakest[fuse]:
            weakest[fuse] = least
    for key, (holds, link, kind) in weakest.items():
        facts = circuits.fuses[key]
        if facts.rating_a <= holds * 1.0005:
            continue
        smaller = [f for f in catalogue.fuses if f.rating_a <= holds and f.rating_a >= facts.load_a]
        remedy = f"Fit {smaller[-1].rating_a:g} A, if the load allows it." if smaller else ""
        path = pointer(["circuits", "devices", facts.device, "paths", facts.path, "rating_a"])
        mechanical = (
            ("Let the program choose the rating.", ({"op": "replace", "path": path, "value": None},))
            if facts.fixed
            else None
        )
        book.add(
            "fuse-above-weakest",
            Place("circuits", "device", facts.device),
            mechanical=mechanical,
            fuse=f"{facts.device} {facts.name}",
            rating=format_current(facts.rating_a),
            link=link,
            carries=format_current(holds),
            remedy=remedy,
            kind=kind,
        )
