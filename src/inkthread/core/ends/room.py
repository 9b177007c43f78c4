"""The ends room: what is crimped on every wire end and what it slides into."""

from __future__ import annotations

from dataclasses import dataclass, field

from inkthread.core.brief import BriefResult
from inkthread.core.catalogue import Accessory, Catalogue, ConnectorFamily, Contact, Seal, SpliceSize
from inkthread.core.circuits import CircuitsResult
from inkthread.core.document.types import Connector, Document
from inkthread.core.ends.checks import at_the_rear, find_in_connectors, find_unclocked
from inkthread.core.ends.faces import FaceView, MarkView, face_view, marks_view
from inkthread.core.ends.fit import (
    Crimp,
    Fit,
    Misfit,
    choose_contact,
    choose_seal,
    crimp_of,
    holds_together,
    misfits,
    together_in_words,
)
from inkthread.core.ends.joints import KINDS, Joint, JointWire, choose_joint
from inkthread.core.ends.mating import Half, find_in_pairs, find_swapped_roles, half_in_words, mating_half
from inkthread.core.ends.pairs import find_split_pairs
from inkthread.core.ends.tools import find_in_tools
from inkthread.core.ends.weakest import Weakest, find_weakest
from inkthread.core.findings import FindingBook, Place
from inkthread.core.physics.packing import PACKED_AT_MOST, bound_by_area, pack
from inkthread.core.quantity import format_area, format_current, format_temperature
from inkthread.core.route import RouteResult
from inkthread.core.shop import EMPTY_SHOP, Shop
from inkthread.core.wire import WireResult
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
    outline: str
    first: str
    """Way 1, or whatever the first is called."""
    numbering: str
    wire_side: FaceView
    mating_side: FaceView
    wire_marks: tuple[MarkView, ...]
    mating_marks: tuple[MarkView, ...]


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
    contacts: dict[str, Contact]
    """Device pin to contact."""
    seals: dict[str, Seal]
    splice_sizes: dict[str, SpliceSize]
    blocks: dict[str, int]
    """Block to the studs it needs."""
    fits: dict[tuple[str, str, str | None, str | None, str, str], tuple[Fit, Crimp | None]]
    """Contact and seal by (family, gender, stud, fixed contact, wire family, gauge), and the tool."""
    joints: dict[str, Joint]
    crimps: dict[str, Crimp]
    """Device pin to the tool for its contact; absent where no tool is on record."""
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
    result = EndsResult({}, {}, {}, {}, {}, {}, {}, {}, {}, {}, {})
    wire_at: dict[str, list[str]] = {}
    for section in route.sections.values():
        for end in (section.a, section.b):
            if end.kind == "pin":
                wire_at.setdefault(end.id, []).append(section.key)
    pins_of: dict[str, dict[str, list[str]]] = {k: {} for k in document.ends.connectors}
    for ref, entry in sorted(document.ends.pinout.items(), key=lambda kv: kv[1].order):
        pins_of[entry.connector].setdefault(entry.cavity, []).append(ref)
    hottest = route.at_points(document)
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
            shop,
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
    find_in_connectors(document, catalogue, brief, circuits, route, book)
    find_in_pairs(document, catalogue, book)
    find_swapped_roles(document, catalogue, book)
    find_unclocked(document, result.contacts, route, book)
    _splices(document, catalogue, brief, route, wire, result, book)
    find_in_tools(document, catalogue, wire, result.contacts, result.crimps, shop, book)
    result.weakest = find_weakest(
        document, catalogue, circuits, route, wire, result.contacts, result.splice_sizes, book
    )
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
    shop: Shop,
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
            meant = connector.spares.get(cavity)
            plugged = family.plug is not None and (meant is None or meant.state != "open")
            plug = family.plug.code if plugged and family.plug is not None else None
            spare += plugged
            kept = "" if meant is None else meant.reason or meant.state
            cavities.append(
                CavityEnd(cavity, None, kept, None, None, None, plug, 0, 0, 0, 0, None, None, True)
            )
            continue
        used += 1
        for ref in refs:
            keys = wire_at.get(ref, [])
            if len(keys) > 1:
                _doubled(family, connector_id, connector, cavity, ref, keys, wire, book)
            for key in (*keys, *([] if keys else [None])):
                cavities.append(
                    _cavity(
                        document,
                        connector_id,
                        connector,
                        family,
                        cavity,
                        ref,
                        key,
                        wire,
                        result,
                        shop,
                        unfit,
                        book,
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
            face.outline,
            next(iter(face.cavities)),
            family.numbering,
            face_view(face, shell, "wire"),
            face_view(face, shell, "mating"),
            marks_view(face, shell, "wire"),
            marks_view(face, shell, "mating"),
        )
    result.accessories[connector_id] = at_the_rear(
        family, connector, _cable_mm(connector, cavities, wire), connector_id, book
    )
    part = housing.shells.get(shell)
    lock = housing.locks.get(shell)
    half = Half(family.code, connector.ways, connector.shell, connector.contact_gender, connector.key)
    meets = mating_half(catalogue, half)
    met = catalogue.connectors[meets.family]
    mates = (
        family.mating
        if family.loose or family.genderless
        else f"Meets: {meets.family}, {half_in_words(meets, met)}{f', key {meets.key}' if meets.key else ''}."
    )
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


def _cable_mm(connector: Connector, cavities: list[CavityEnd], wire: WireResult) -> float:
    """Diameter in mm of what enters the rear: as measured, else its wires side by side, or their cable."""
    if connector.cable_mm is not None:
        return connector.cable_mm
    keys = [c.wire for c in cavities if c.wire is not None]
    if not keys:
        return 0.0
    sizes = [wire.size(k) for k in keys]
    if all(s.cable_od_mm is not None for s in sizes) and len({wire.wires[k].family for k in keys}) == 1:
        cores = wire.families[wire.wires[keys[0]].family].cores
        over = tuple(s.cable_od_mm or 0.0 for s in sizes[:: max(cores, 1)])
    else:
        over = tuple(s.od_mm for s in sizes)
    return pack(over).diameter if len(over) <= PACKED_AT_MOST else bound_by_area(over)


def _loose_thing(family: ConnectorFamily) -> str:
    """What one of a loose family is called."""
    if family.studs:
        return "loose ring"
    return {"ignition": "lead end", "flying lead": "flying lead"}.get(family.group, "loose push-on terminal")


def _sentence(connector_id: str, connector: Connector, family: ConnectorFamily, used: int, spare: int) -> str:
    count = connector.ways
    plural = "" if count == 1 else "s"
    if family.loose:
        stud = f" for {connector.stud}" if connector.stud else ""
        thing = f"{_loose_thing(family)}{plural}{stud}"
        return f"**{connector_id}** is {in_words(count)} {thing}, {in_words(used)} used."
    if family.genderless:
        return f"**{connector_id}** has {in_words(count)} way{plural}, {in_words(used)} used. {family.mating}"
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
    shop: Shop,
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
    fixed = document.ends.pinout[ref].contact
    key_of_fit = (family.code, connector.contact_gender, connector.stud, fixed, made.family, made.gauge)
    known = result.fits.get(key_of_fit)
    if known is None:
        chosen = choose_contact(family, connector.contact_gender, connector.stud, size, fixed, shop.tools)
        what = f"{made.family} {size.gauge}"
        crimp = crimp_of(chosen[0], what, size.area_mm2, shop) if chosen[0] is not None else None
        known = result.fits[key_of_fit] = ((*chosen, *choose_seal(family, size)), crimp)
    fit, crimp = known
    contact, contact_fits, seal, seal_fits = fit
    if contact is not None:
        result.contacts[ref] = contact
        if crimp is not None:
            result.crimps[ref] = crimp
    if seal is not None:
        result.seals[ref] = seal
    carries = contact.current_a(size.area_mm2) * wire.shares.get(connector_id, 1.0) if contact else 0.0
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
    """Several wires at one cavity: on a stud each has its lug, else a contact's list must have them."""
    areas = [wire.wires[k].area_mm2 for k in keys]
    options = family.contacts_for(connector.contact_gender, connector.stud)
    if any(holds_together(c, areas) for c in options):
        return
    most = max((c.most_wires for c in options), default=1)
    listed = next((c for c in options if c.doubled), None)
    circuits = {k.partition(":")[0] for k in keys}
    mechanical = None
    if len(circuits) == 1:
        path = f"/circuits/circuits/{next(iter(circuits))}/threading"
        operations = ({"op": "replace", "path": path, "value": "cascade"},)
        mechanical = ("Join them in a splice where they part, and bring one wire here.", operations)
    book.add(
        "too-many-in-one",
        Place("ends", "pin", ref),
        *(Place("wire", "wire", k) for k in keys[:6]),
        mechanical=mechanical,
        place=f"{connector_id}-{cavity}",
        wires=list_in_words([wire.wires[k].label for k in keys[:6]]),
        most=f"{together_in_words(listed)} together" if listed is not None else in_words(most),
        family=family.code,
    )


def heats_with(wire: WireResult, key: str) -> float:
    """Current in A that a wire's contacts must bear for good: by duty, not by its moments."""
    return float(wire.asked.current_a[wire.at[key]])


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
