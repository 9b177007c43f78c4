"""What is fitted on one connector: contact, seal, plug, tool and lock, with both its faces."""

from __future__ import annotations

from typing import NamedTuple

from inkthread.core.catalogue import (
    Accessory,
    Catalogue,
    ConnectorFamily,
    Contact,
    Seal,
    WireSize,
)
from inkthread.core.document.choices import Connector
from inkthread.core.document.pin_ref import pin_of
from inkthread.core.document.types import Document
from inkthread.core.document.values import Shell
from inkthread.core.ends.checks import at_the_rear
from inkthread.core.ends.faces import FaceView, MarkView, face_view, marks_view
from inkthread.core.ends.fit import (
    ContactRule,
    Crimp,
    Fit,
    Misfit,
    WireEnd,
    choose_contact,
    choose_seal,
    crimp_of,
    holds_together,
    misfits,
    together_in_words,
)
from inkthread.core.ends.mating import Half, half_in_words, mating_half
from inkthread.core.findings import Finding, FindingBook, Place, phrase
from inkthread.core.measures import format_current
from inkthread.core.physics.packing import bundle_diameters
from inkthread.core.record import record
from inkthread.core.route import Threaded
from inkthread.core.shop import Shop
from inkthread.core.tolerances import SAID_OVER
from inkthread.core.wire import MadeWires, WireResult
from inkthread.core.words import in_words, list_in_words


@record
class CavityEnd:
    """One cavity: the device pin given to it, the wire that ends there and what goes on it."""

    cavity: str
    pin: str | None
    pin_name: str
    wire: str | None
    contact: str | None
    seal: str | None
    cavity_plug: str | None
    carries_a: float
    contact_a: float
    strip_mm: float
    strip_tolerance_mm: float
    conductor_window_mm2: tuple[float, float] | None
    seal_window_mm: tuple[float, float] | None
    fits: bool
    shared: bool = False
    """Whether it lies in the contact of the wire named before it at the same cavity."""


@record
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


@record
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


class WireHere(NamedTuple):
    """A wire as its end sees it, whatever it carries."""

    key: str
    label: str
    family: str
    cores: int
    size: WireSize


class PinHere(NamedTuple):
    """A device pin in a cavity, and the contact that the builder fixed for it."""

    ref: str
    fixed: str | None
    wires: tuple[WireHere, ...]


@record
class FittedParts:
    """What is fitted on a connector, or on all of them."""

    contacts: dict[WireEnd, Contact]
    seals: dict[WireEnd, Seal]
    crimps: dict[WireEnd, Crimp]
    """The tool for each contact; absent where no tool is on record."""

    def like(self, other: FittedParts) -> bool:
        """Whether the same is fitted at the same ends in the same order."""
        return self is other or all(
            list(mine.items()) == list(theirs.items())
            for mine, theirs in (
                (self.contacts, other.contacts),
                (self.seals, other.seals),
                (self.crimps, other.crimps),
            )
        )


@record
class Fitted:
    """A connector as fitted, with what the later rooms ask of it."""

    ends: ConnectorEnds
    accessories: tuple[Accessory, ...]
    """What it needs or is wanted on it, beside its housing and lock."""
    parts: FittedParts
    findings: list[Finding]


PinsAt = tuple[tuple[str, tuple[PinHere, ...]], ...]
"""Cavities with the device pins in each."""


def fit_connector(
    connector_id: str,
    connector: Connector,
    family: ConnectorFamily,
    catalogue: Catalogue,
    shop: Shop,
    rule: ContactRule,
    derating: float,
    pins: PinsAt,
    carried_a: tuple[tuple[float, float], ...],
) -> Fitted:
    """What is fitted on a connector. ``derating`` is the part of its contacts' current that is left them;
    ``carried_a`` is what each of its wires carries, and what that heats as much as, in their order.
    """
    ends = ((pin.ref, w.key) for _, in_cavity in pins for pin in in_cavity for w in pin.wires)
    carried = dict(zip(ends, carried_a, strict=True))
    return _Fitting(connector_id, connector, family, catalogue, shop, rule, derating, carried).fit(dict(pins))


def unnamed_pin(ref: str) -> str:
    """What a pin without a name is called."""
    return f"pin {pin_of(ref)}"


class Landed(NamedTuple):
    """What lands on a connector, whatever it carries: its pins by cavity, and the places of their wires."""

    pins: PinsAt
    wires: tuple[int, ...]


def all_landed(document: Document, threaded: Threaded, wires: MadeWires) -> dict[str, Landed]:
    """By connector: the pins in each cavity with their wires."""
    cores = {code: family.cores for code, family in wires.families.items()}
    wires_at: dict[str, list[WireHere]] = {}
    places_at: dict[str, list[int]] = {}
    for n, (key, sized) in enumerate(wires.wires.items()):
        section = threaded.sections[key]
        wire_here = WireHere(key, sized.label, sized.family, cores[sized.family], sized.size)
        for end in (section.a, section.b):
            if end.kind == "pin":
                if end.id in wires_at:
                    wires_at[end.id].append(wire_here)
                    places_at[end.id].append(n)
                else:
                    wires_at[end.id], places_at[end.id] = [wire_here], [n]
    pins_of: dict[str, dict[str, list[PinHere]]] = {k: {} for k in document.ends.connectors}
    for ref, entry in sorted(document.ends.pinout.items(), key=lambda kv: kv[1].order):
        pin = PinHere(ref, entry.contact, tuple(wires_at.get(ref, ())))
        pins_of[entry.connector].setdefault(entry.cavity, []).append(pin)
    landed: dict[str, Landed] = {}
    for connector, by_cavity in pins_of.items():
        pins = tuple([(cavity, tuple(here_on)) for cavity, here_on in by_cavity.items()])
        places = [n for _, on_it in pins for pin in on_it for n in places_at.get(pin.ref, ())]
        landed[connector] = Landed(pins, tuple(places))
    return landed


def heats_with(wire: WireResult, key: str) -> float:
    """Current in A that a wire's contacts must bear for good: by duty, not by its moments."""
    return float(wire.tables.heating_a[wire.tables.at[key]])


class _Fitting:
    """One connector being fitted."""

    def __init__(
        self,
        connector_id: str,
        connector: Connector,
        family: ConnectorFamily,
        catalogue: Catalogue,
        shop: Shop,
        rule: ContactRule,
        derating: float,
        carried_a: dict[WireEnd, tuple[float, float]],
    ) -> None:
        """``carried_a`` is what the wire at each end carries, and what that heats as much as."""
        self.carried_a = carried_a
        self.id = connector_id
        self.connector = connector
        self.family = family
        self.catalogue = catalogue
        self.shop = shop
        self.rule = rule
        self.derating = derating
        self.book = FindingBook(catalogue.checks)
        self.contacts: dict[WireEnd, Contact] = {}
        self.seals: dict[WireEnd, Seal] = {}
        self.crimps: dict[WireEnd, Crimp] = {}
        self.known: dict[tuple[str | None, str, str], tuple[Fit, Crimp | None]] = {}
        self.unfit: dict[Misfit, list[tuple[str, str, str]]] = {}

    def fit(self, pins: dict[str, tuple[PinHere, ...]]) -> Fitted:
        """Every cavity, both faces, and what goes at the rear."""
        connector, family = self.connector, self.family
        housing = family.housing(connector.ways)
        assert housing is not None, "refused when the document was read"
        cavities: list[CavityEnd] = []
        for cavity in housing.face.cavities:
            in_cavity = pins.get(cavity, ())
            if len(in_cavity) > 1:
                self.book.add(
                    "cavity-used-twice",
                    Place("ends", "connector", self.id),
                    *(Place("ends", "pin", pin.ref) for pin in in_cavity),
                    place=f"{self.id}-{cavity}",
                    pins=" and ".join(pin.ref for pin in in_cavity),
                )
            if not in_cavity:
                cavities.append(self.spare(cavity))
            for pin in in_cavity:
                together = self.doubled(cavity, pin) if len(pin.wires) > 1 else None
                cavities += [
                    self.end(cavity, pin, wire_end, together, shared=n > 0 and not family.studs)
                    for n, wire_end in enumerate(pin.wires)
                ] or [_bare(cavity, pin)]
        for misfit, where in self.unfit.items():
            self.book.add(
                misfit.code,
                *(Place("ends", "pin", ref) for _, ref, _ in where),
                *(Place("wire", "wire", key) for _, _, key in where),
                mechanical=None,
                family=family.code,
                place=list_in_words([f"{self.id}-{cavity}" for cavity, _, _ in where]),
                **dict(misfit.words),
            )
        shell: Shell = connector.shell if not family.loose else "none"
        wires = [w for c in housing.face.cavities for pin in pins.get(c, ()) for w in pin.wires]
        accessories = at_the_rear(family, connector, lambda: _cable_mm(connector, wires), self.id, self.book)
        part, lock = housing.shells.get(shell), housing.locks.get(shell)
        used = sum(bool(pins.get(c)) for c in housing.face.cavities)
        plugged = sum(c.cavity_plug is not None for c in cavities)
        ends = ConnectorEnds(
            self.id,
            "",
            family.code,
            connector.ways,
            used,
            shell,
            connector.contact_gender,
            part.code if part else None,
            lock.code if lock else None,
            self.mates(),
            _sentence(self.id, connector, family, used, plugged),
            f"{family.code}/{connector.ways}/{shell}",
            tuple(cavities),
        )
        return Fitted(
            ends,
            accessories,
            FittedParts(self.contacts, self.seals, self.crimps),
            self.book.entries,
        )

    def mates(self) -> str:
        """What it meets, in words."""
        connector, family = self.connector, self.family
        if family.loose or family.genderless:
            return family.mating
        half = Half(family.code, connector.ways, connector.shell, connector.contact_gender, connector.key)
        meets = mating_half(self.catalogue, half)
        words = half_in_words(meets, self.catalogue.connectors[meets.family])
        return f"Meets: {meets.family}, {words}{f', key {meets.key}' if meets.key else ''}."

    def spare(self, cavity: str) -> CavityEnd:
        """A way without a pin: plugged, unless it is meant to be open."""
        meant, cavity_plug = self.connector.spares.get(cavity), self.family.cavity_plug
        plugged = cavity_plug is not None and (meant is None or meant.state != "open")
        kept = "" if meant is None else meant.reason or meant.state
        code = cavity_plug.code if plugged and cavity_plug is not None else None
        return CavityEnd(cavity, None, kept, None, None, None, code, 0, 0, 0, 0, None, None, True)

    def end(
        self, cavity: str, pin: PinHere, wire_end: WireHere, together: Contact | None, *, shared: bool
    ) -> CavityEnd:
        """Contact, seal and tool for one wire; ``together`` is the contact it shares with others."""
        connector, family, size = self.connector, self.family, wire_end.size
        at = (pin.ref, wire_end.key)
        carried_a, heats_a = self.carried_a[at]
        fixed = together.code if together is not None else pin.fixed
        key = (fixed, wire_end.family, size.gauge)
        known = self.known.get(key)
        if known is None:
            chosen = choose_contact(family, connector.contact_gender, connector.stud, size, fixed, self.rule)
            if together is not None:
                chosen = together, True
            words = f"{wire_end.family} {size.gauge}"
            crimp = crimp_of(chosen[0], words, size.area_mm2, self.shop) if chosen[0] is not None else None
            known = self.known[key] = ((*chosen, *choose_seal(family, size)), crimp)
        fit, crimp = known
        contact, contact_fits, seal, seal_fits = fit
        if contact is not None:
            self.contacts[at] = contact
            if crimp is not None:
                self.crimps[at] = crimp
        if seal is not None:
            self.seals[at] = seal
        carries = contact.current_a(size.area_mm2) * self.derating if contact else 0.0
        if not (contact_fits and seal_fits):
            for misfit in misfits(family, wire_end.family, size, fit, self.options(pin)):
                self.unfit.setdefault(misfit, []).append((cavity, pin.ref, wire_end.key))
        if contact is not None and heats_a > carries * SAID_OVER:
            self.book.add(
                "contact-overloaded",
                Place("ends", "pin", pin.ref),
                Place("wire", "wire", wire_end.key),
                place=f"{self.id}-{cavity}",
                current=format_current(carried_a, carries),
                carries=format_current(carries),
                gauge=size.gauge,
            )
        return CavityEnd(
            cavity,
            pin.ref,
            unnamed_pin(pin.ref),
            wire_end.key,
            contact.code if contact else None,
            seal.code if seal else None,
            None,
            carried_a,
            carries,
            contact.strip_mm if contact else 0.0,
            contact.strip_tolerance_mm if contact else 0.0,
            (contact.conductor_min_mm2, contact.conductor_max_mm2) if contact else None,
            (seal.od_min_mm, seal.od_max_mm) if seal else None,
            contact_fits and seal_fits,
            shared,
        )

    def options(self, pin: PinHere) -> tuple[Contact, ...]:
        """Contacts that may be fitted at a pin."""
        connector = self.connector
        stud = connector.stud or self.family.usual_stud
        return self.family.contacts_for(connector.contact_gender, stud, pin.fixed)

    def doubled(self, cavity: str, pin: PinHere) -> Contact | None:
        """Several wires at one cavity: on a stud each has its lug, else a contact's list must have them.

        The contact that holds them together, or None where each has its own or none does.
        """
        areas = [w.size.area_mm2 for w in pin.wires]
        options = self.family.contacts_for(self.connector.contact_gender, self.connector.stud, pin.fixed)
        holding = next((c for c in options if holds_together(c, areas)), None)
        if holding is not None:
            return None if self.family.studs else holding
        most = max((c.most_wires for c in options), default=1)
        listed = next((c for c in options if c.doubled), None)
        circuits = {w.key.partition(":")[0] for w in pin.wires}
        mechanical = None
        if len(circuits) == 1:
            path = f"/circuits/circuits/{next(iter(circuits))}/threading"
            operations = ({"op": "replace", "path": path, "value": "cascade"},)
            mechanical = (phrase("splice"), operations)
        self.book.add(
            "too-many-in-one",
            Place("ends", "pin", pin.ref),
            *(Place("wire", "wire", w.key) for w in pin.wires[:6]),
            mechanical=mechanical,
            place=f"{self.id}-{cavity}",
            wires=list_in_words([w.label for w in pin.wires[:6]]),
            most=phrase("together", pair=together_in_words(listed)) if listed is not None else in_words(most),
            family=self.family.code,
        )
        return None


def _bare(cavity: str, pin: PinHere) -> CavityEnd:
    """A pin that no wire comes to yet."""
    return CavityEnd(
        cavity, pin.ref, unnamed_pin(pin.ref), None, None, None, None, 0, 0, 0, 0, None, None, True
    )


def faces_of(family: ConnectorFamily, ways: int, shell: Shell) -> FacePair:
    """Both faces of the housing with so many ways."""
    housing = family.housing(ways)
    assert housing is not None, "refused when the document was read"
    face = housing.face
    return FacePair(
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


def _cable_mm(connector: Connector, wires: list[WireHere]) -> float:
    """Diameter in mm of what enters the rear: as measured, else its wires side by side, or their cable."""
    if connector.cable_mm is not None:
        return connector.cable_mm
    if not wires:
        return 0.0
    sizes = [w.size for w in wires]
    if all(s.cable_od_mm is not None for s in sizes) and len({w.family for w in wires}) == 1:
        over = tuple(s.cable_od_mm or 0.0 for s in sizes[:: max(wires[0].cores, 1)])
    else:
        over = tuple(s.od_mm for s in sizes)
    return bundle_diameters((over,))[0]


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
    if family.meets_its_like:
        lie = "the other way up than usual" if connector.turned_over else family.turn or "as their part says"
        return (
            f"**{connector_id}** has {in_words(count)} way{plural}, {in_words(used)} used. {family.mating} "
            f"Contacts: **{lie}**, the same in both halves."
        )
    if family.genderless:
        return f"**{connector_id}** has {in_words(count)} way{plural}, {in_words(used)} used. {family.mating}"
    gender = connector.contact_gender
    other = "pins" if gender == "socket" else "sockets"
    text = (
        f"**{connector_id}** has {in_words(count)} way{plural}, {in_words(used)} used. "
        f"The {connector.shell} carries **{gender}s**; the half it meets carries {other}."
    )
    if spare and family.cavity_plug is not None:
        verb = "ways are" if spare > 1 else "way is"
        text += f" {in_words(spare).capitalize()} {verb} plugged for you."
    return text
