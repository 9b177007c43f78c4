"""All there is to know of one end, for the bench: contact, seal, tool, strip, pull force, release."""

from __future__ import annotations

from inkthread.core.catalogue import Catalogue, ConnectorFamily, Contact, PullTable, WireSize
from inkthread.core.document.types import Document
from inkthread.core.ends.methods import JointMethod, joint_methods
from inkthread.core.ends.pairs import ANY_WAY
from inkthread.core.ends.room import EndsResult
from inkthread.core.ends.tools import strippers_for
from inkthread.core.physics.conductor import awg_area_mm2
from inkthread.core.record import record
from inkthread.core.wire import WireResult


@record
class EndDetail:
    """One end: what is on it and how it is made. Lengths in mm, force in N."""

    ref: str
    wire_key: str
    connector: str
    cavity: str
    wire: str
    contact: str
    description: str
    kind: str
    size: str
    plating: str
    gender: str
    joint: str
    angle_deg: float
    strip_mm: float
    strip_tolerance_mm: float
    copper_least_mm: float
    copper_most_mm: float
    cycles: int
    reusable: bool
    tool: str
    tool_name: str
    nest: str
    depth: str
    tool_owned: bool
    proven: str
    tool_source: str
    extraction: str
    strippers: tuple[str, ...]
    seal: str
    pull_n: float | None
    pull_source: str
    """Of samples only: a contact pulled to it is spoiled."""
    others: tuple[str, ...]
    """Contacts that would hold the wire as well."""
    locked: bool
    fixed: bool
    turn: str
    """How the contact must lie on its wire to go in; empty where nobody has said."""
    in_cable: bool
    """Whether its wire is a core of a cable, or one of a pair."""
    torque_nm: float | None
    steps: tuple[str, ...]
    """What is done with it by hand, in order."""
    methods: tuple[JointMethod, ...] = ()
    """How the wire may be joined to it, those that suit first."""


def pull_force_n(table: PullTable | None, size: WireSize) -> float | None:
    """The least force in N that a sample of a size is pulled off at; tables go by the gauge's name, however
    much copper a maker puts into it.
    """
    if table is None:
        return None
    return table.force_n(size.area_mm2 if size.awg is None else awg_area_mm2(size.awg))


def end_detail(
    document: Document, catalogue: Catalogue, wire: WireResult, ends: EndsResult, ref: str, key: str = ""
) -> EndDetail | None:
    """What is known of a wire's end at a device pin, or None where it does not end there.

    The first wire there where none is named.
    """
    entry = document.ends.pinout.get(ref)
    key = key or next((k for pin, k in ends.contacts if pin == ref), "")
    contact = ends.contacts.get((ref, key))
    if entry is None or contact is None:
        return None
    size, sized = wire.size(key), wire.wires[key]
    family_of_wire = wire.families[sized.family]
    connector = document.ends.connectors[entry.connector]
    family = catalogue.connectors[connector.family]
    crimp = ends.crimps.get((ref, key))
    crimper = catalogue.tools.get(crimp.tool) if crimp else None
    seal = ends.seals.get((ref, key))
    table = catalogue.pull.get(contact.pull)
    strippers = tuple(
        f"{tool.code}, {notch}" if notch else tool.code
        for tool, notch in strippers_for(catalogue, family_of_wire, size)
    )
    others = tuple(
        c.code
        for c in family.contacts_for(
            connector.contact_gender, connector.stud or family.usual_stud, with_leads_made=True
        )
        if c.code != contact.code and c.miss(size).worst <= 1
    )
    return EndDetail(
        ref, key, entry.connector, entry.cavity, f"{sized.family} {size.gauge}", contact.code,
        contact.description,
        contact.kind, contact.size, contact.plating, contact.gender, contact.joint, contact.angle_deg,
        contact.strip_mm, contact.strip_tolerance_mm, contact.copper_least_mm, contact.copper_most_mm,
        contact.cycles, contact.reusable, crimp.tool if crimp else "", crimper.description if crimper else "",
        crimp.nest if crimp else "", crimp.depth if crimp else "", crimp.owned if crimp else False,
        crimp.proven if crimp else "", crimp.source if crimp else "", contact.extraction, strippers,
        seal.code if seal else "", pull_force_n(table, size),
        table.source if table else "", others, entry.locked, entry.contact is not None,
        family.turn if contact.joint == "crimp" and contact.kind in ("stamped", "machined") else ANY_WAY,
        any(sized.circuit in g.members for g in document.circuits.groups.values()),
        contact.torque_nm, hand_steps(contact, family),
        joint_methods(document, catalogue, contact, ref, sized.ambient_c),
    )  # fmt: skip


def hand_steps(contact: Contact, family: ConnectorFamily) -> tuple[str, ...]:
    """What hands do with an end, in order: a screw, a spring, a cage and a crimp have their own words.

    Common practice, no source.
    """
    if contact.kind == "screw":
        tight = f"to {contact.torque_nm:g} N m" if contact.torque_nm else "as its part says"
        return (
            "Open the clamp all the way before the wire goes in.",
            "Every strand goes under it, bare or in a ferrule, never tinned: solder creeps.",
            f"Tighten {tight}, tug, and tighten once more a day later: copper settles.",
        )
    if contact.kind == "cage":
        return (
            "Press the driver into the slot beside the hole until the cage opens.",
            "Push the wire in to the stop, bare and untwisted, one wire to a cage.",
            "Take the driver out and tug.",
        )
    if contact.kind == "spring" or (contact.kind == "ferrule" and family.group == "terminal block"):
        ferrule = ("Crimp the ferrule on with its collar down to the insulation.",)
        return (
            *(ferrule if contact.kind == "ferrule" else ()),
            "Lift the lever, push the wire in to the stop, shut the lever, tug.",
        )
    if contact.factory:
        return (
            "Made on the lead as it is bought: nothing is cut here. All correction falls on the other end.",
        )
    if contact.kind == "end":
        return ("Try the end on its tower: it must click or seat with a pop.",)
    if family.loose:
        return ("Tug before the boot or shrink goes over.",) if contact.joint == "crimp" else ()
    if contact.joint == "solder":
        return ("Fill the cup and let it cool still; the strands must show, the wire must not wick stiff.",)
    shut = (
        ", then shut the lock" if set(family.locks) - {"friction", "latch", "screws", "coupling ring"} else ""
    )
    return (f"Listen for one click, tug{shut}.",)
