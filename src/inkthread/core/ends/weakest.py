"""The weakest link: of every circuit, and of what each fuse protects."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal, NamedTuple

import numpy as np

from inkthread.core.catalogue import Catalogue, Contact
from inkthread.core.circuits import CircuitsResult
from inkthread.core.circuits.fuses import made_as
from inkthread.core.context import Context
from inkthread.core.document.problems import pointer
from inkthread.core.ends.fit import WireEnd
from inkthread.core.ends.joints import Joint
from inkthread.core.findings import FindingBook, Place, phrase
from inkthread.core.measures import format_current
from inkthread.core.route import RouteResult, Threaded
from inkthread.core.tolerances import NOUGHT, SAID_LESS, SAID_OVER
from inkthread.core.wire import MadeWires, WireResult
from inkthread.core.wire.limits import OVERLOAD_LONG, OVERLOAD_SHORT

LinkKind = Literal["wire", "contact", "terminal", "splice", "protection"]


class Link(NamedTuple):
    """A link, the amperes it holds for good, and what crosses it in the mode where that is most."""

    holds_a: float
    name: str
    kind: LinkKind
    carries_a: float = 0.0

    @property
    def fullness(self) -> float:
        """What it carries of what it holds."""
        return self.carries_a / max(self.holds_a, NOUGHT)


@dataclass(frozen=True, slots=True)
class Weakest:
    """Least link by fuse, held to the fuse's overloads; by circuit the fullest, each link held against the
    current through it."""

    by_fuse: dict[str, Link]
    by_circuit: dict[str, Link]


# Every link of a circuit in one pass.
def find_weakest(  # noqa: C901
    context: Context,
    circuits: CircuitsResult,
    route: RouteResult,
    wire: WireResult,
    contacts: dict[WireEnd, Contact],
    joints: dict[str, Joint],
    book: FindingBook,
) -> Weakest:
    """Name the weakest link everywhere; a fuse above it is a finding."""
    by_circuit: dict[str, Link] = {}
    by_fuse: dict[str, Link] = {}
    if not wire.tables.keys:
        return Weakest(by_fuse, by_circuit)
    rows = np.arange(len(wire.tables.keys))
    allowed = wire.tables.judgement.allowed_a[rows, wire.tables.chosen].tolist()
    free = wire.tables.judgement.free_air_a[rows, wire.tables.chosen].tolist()
    fuse_ratio = wire.tables.judgement.fuse[rows, wire.tables.chosen].tolist()
    single = wire.tables.asked.fuse_single_a.tolist()
    heats = wire.tables.heating_a.tolist()
    chains = context.memo.get(_chains, route.threaded, wire.made, contacts, joints)
    through_splice: dict[str, float] = {}
    for i, chain in enumerate(chains):
        for end in chain.ends:
            if end.splice:
                through_splice[end.splice] = max(through_splice.get(end.splice, 0.0), heats[i])
    deratings = wire.derating_by_connector
    for i, chain in enumerate(chains):
        fuse = circuits.circuits[chain.circuit].fuse
        ends = [
            Link(end.holds_a, end.name, end.kind, through_splice[end.splice])
            if end.splice
            else Link(end.holds_a * deratings.get(end.connector, 1.0), end.name, end.kind, heats[i])
            for end in chain.ends
        ]
        links = [Link(allowed[i], chain.name, "wire", heats[i]), *ends]
        if fuse is not None:
            carried = wire.through_a.get(fuse, 0.0)
            links.append(Link(circuits.fuses[fuse].rating_a, f"the fuse {fuse}", "protection", carried))
        fullest = by_circuit.get(chain.circuit)
        for link in links:
            if fullest is None or (link.fullness, -link.holds_a) > (fullest.fullness, -fullest.holds_a):
                fullest = link
        by_circuit[chain.circuit] = fullest or links[0]
        if fuse is None:
            continue
        rating = circuits.fuses[fuse].rating_a
        # Held to 110 % where it lies, 135 % alone; a supply that no fuse clears is held to its limit.
        holds = min(allowed[i] / OVERLOAD_LONG, free[i] / OVERLOAD_SHORT)
        if single[i] < rating * SAID_LESS:
            holds = rating / max(fuse_ratio[i], NOUGHT) if fuse_ratio[i] > 1 else max(holds, rating)
        # Where the air lets a wire carry nothing, that is said of its zone.
        own = [] if wire.tables.free.ambient_above_rating[i] else [Link(holds, chain.name, "wire")]
        if not own and not ends:
            continue
        least = min([*own, *ends])
        if fuse not in by_fuse or least < by_fuse[fuse]:
            by_fuse[fuse] = least
    for key, link in by_fuse.items():
        _fuse_above(context.catalogue, circuits, key, link, book)
    return Weakest(by_fuse, by_circuit)


class _End(NamedTuple):
    """What a wire ends in, and the amperes that it holds where nothing takes from them."""

    holds_a: float
    name: str
    kind: LinkKind
    splice: str
    """Empty where it is none."""
    connector: str


class _Chain(NamedTuple):
    """A wire with what it ends in."""

    circuit: str
    name: str
    ends: tuple[_End, ...]


def _chains(
    threaded: Threaded, wire: MadeWires, contacts: dict[WireEnd, Contact], joints: dict[str, Joint]
) -> tuple[_Chain, ...]:
    """Of every wire, in the order of the sections."""
    chains = []
    for key, section in threaded.sections.items():
        sized = wire.wires[key]
        ends = []
        for end in (section.a, section.b):
            if end.kind == "splice" and (joint := joints.get(end.id)) is not None:
                name = f"the splice {joint.part.code} at {end.point}"
                ends.append(_End(joint.part.current_a, name, "splice", end.id, ""))
            contact = contacts.get((end.id, key)) if end.kind == "pin" else None
            if contact is not None:
                kind: LinkKind = "terminal" if contact.kind in ("ring", "lug", "push-on") else "contact"
                name = f"the {kind} in {end.connector}-{end.cavity}"
                holds_a = contact.current_a(sized.area_mm2)
                ends.append(_End(holds_a, name, kind, "", end.connector or ""))
        chains.append(_Chain(section.circuit, f"wire {sized.label} ({sized.gauge})", tuple(ends)))
    return tuple(chains)


def _fuse_above(
    catalogue: Catalogue, circuits: CircuitsResult, key: str, link: Link, book: FindingBook
) -> None:
    facts = circuits.fuses[key]
    if facts.rating_a <= link.holds_a * SAID_OVER:
        return
    ratings = made_as(facts.kind, catalogue)
    smaller = [f for f in ratings if facts.load_a <= f.rating_a <= link.holds_a]
    path = pointer(["circuits", "devices", facts.device, "paths", facts.path, "rating_a"])
    book.add(
        "fuse-above-weakest",
        Place("circuits", "device", facts.device),
        mechanical=(
            (phrase("choose"), ({"op": "replace", "path": path, "value": None},)) if facts.fixed else None
        ),
        fuse=facts.called,
        rating=format_current(facts.rating_a, link.holds_a),
        link=link.name,
        carries=format_current(link.holds_a),
        remedy=phrase("fit", smaller=f"{smaller[-1].rating_a:g} A") if smaller else "",
        kind=link.kind,
    )
