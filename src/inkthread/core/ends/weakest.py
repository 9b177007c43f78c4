"""The weakest link: of every circuit, and of what each fuse protects."""

from __future__ import annotations

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
from inkthread.core.physics.conductor import FloatArray, IntArray
from inkthread.core.record import record
from inkthread.core.route import RouteResult, Threaded
from inkthread.core.tolerances import NOUGHT, SAID_LESS, SAID_OVER
from inkthread.core.wire import MadeWire, MadeWires, WireResult
from inkthread.core.wire.limits import OVERLOAD_LONG, OVERLOAD_SHORT

LinkKind = Literal["wire", "contact", "terminal", "splice", "protection"]


class Link(NamedTuple):
    """A link, the amperes it holds for good, and what crosses it in the mode where that is most."""

    holds_a: float
    name: str
    kind: LinkKind
    carries_a: float = 0.0


@record
class Weakest:
    """Where a harness gives first."""

    by_fuse: dict[str, Link]
    """Least link of what a fuse protects, held to the fuse's overloads."""
    links: _Links | None

    def by_circuit(self) -> dict[str, Link]:
        """The fullest link of every circuit, each held against the current through it: worked out when it is
        looked at."""
        return {} if self.links is None else _fullest(self.links)


def find_weakest(
    context: Context,
    circuits: CircuitsResult,
    route: RouteResult,
    wire: WireResult,
    contacts: dict[WireEnd, Contact],
    joints: dict[str, Joint],
    book: FindingBook,
) -> Weakest:
    """Name the weakest link everywhere; a fuse above it is a finding."""
    if not wire.tables.keys:
        return Weakest({}, None)
    chains = context.memo.get(_chains, route.threaded, wire.made, contacts, joints)
    fuses = tuple(circuits.circuits[c].fuse for c in chains.circuits)
    rows = np.arange(len(fuses))
    allowed = wire.tables.judgement.allowed_a[rows, wire.tables.chosen]
    heats = wire.tables.heating_a
    left = np.array([wire.derating_by_connector.get(end.connector, 1.0) for end in chains.ends], dtype=float)
    through = np.zeros(len(chains.ends))
    np.maximum.at(through, chains.joint, heats[chains.row])
    ends = _Ends(chains.holds_a * left, through[chains.joint])
    links = _Links(circuits, wire, chains, fuses, allowed, ends)
    by_fuse = _least(links)
    for key, link in by_fuse.items():
        _fuse_above(context.catalogue, circuits, key, link, book)
    return Weakest(by_fuse, links)


class _Ends(NamedTuple):
    """What every end of every wire holds, as it is derated, and what crosses it. (e,), in A."""

    holds_a: FloatArray
    carries_a: FloatArray


class _Links(NamedTuple):
    """Every wire and what it ends in, with what each holds and carries."""

    circuits: CircuitsResult
    wire: WireResult
    chains: _Chains
    fuses: tuple[str | None, ...]
    """Of every wire, the one that protects it."""
    allowed_a: FloatArray
    """(n,): what each wire may carry where it lies."""
    ends: _Ends


def _fullest(links: _Links) -> dict[str, Link]:
    """By circuit the link that carries most of what it holds; of two as full, the one that holds less."""
    circuits, wire, chains, fuses, allowed_a, ends = links
    wires = np.arange(len(fuses))
    fused = np.array([i for i, fuse in enumerate(fuses) if fuse is not None], dtype=np.intp)
    behind = [fuses[i] or "" for i in fused.tolist()]
    rating_a = [circuits.fuses[fuse].rating_a for fuse in behind]
    through_a = [wire.through_a.get(fuse, 0.0) for fuse in behind]
    # A wire, then its ends, then its fuse, wire by wire: of links that are alike the first counts.
    row = np.concatenate([wires, chains.row, fused])
    kind = np.repeat(np.arange(3), [len(wires), len(chains.row), len(fused)])
    place = np.concatenate([wires, np.arange(len(chains.row)), np.arange(len(fused))])
    holds_a = np.concatenate([allowed_a, ends.holds_a, np.array(rating_a, dtype=float)])
    carries_a = np.concatenate([wire.tables.heating_a, ends.carries_a, np.array(through_a, dtype=float)])
    fullness = carries_a / np.maximum(holds_a, NOUGHT)
    circuit = chains.circuit[row]
    fullest = np.full(len(wires), -np.inf)
    np.maximum.at(fullest, circuit, fullness)
    near = np.nonzero(fullness == fullest[circuit])[0]
    order = near[np.lexsort((place[near], kind[near], row[near], holds_a[near], circuit[near]))]
    _, first = np.unique(circuit[order], return_index=True)
    by_circuit: dict[str, Link] = {}
    for n in order[first].tolist():
        i = int(row[n])
        what: LinkKind
        if kind[n] == 0:
            name, what = chains.wire_name(i), "wire"
        elif kind[n] == 1:
            end = chains.ends[int(place[n])]
            name, what = end.name, end.kind
        else:
            name, what = f"the fuse {fuses[i]}", "protection"
        by_circuit[chains.circuits[i]] = Link(float(holds_a[n]), name, what, float(carries_a[n]))
    return by_circuit


def _least(links: _Links) -> dict[str, Link]:
    """By fuse the link that holds least of all that it protects."""
    circuits, wire, chains, fuses, allowed_a, ends = links
    rows = np.arange(len(fuses))
    free_a = wire.tables.judgement.free_air_a[rows, wire.tables.chosen]
    ratio = wire.tables.judgement.fuse[rows, wire.tables.chosen]
    rating_a = np.array([0.0 if f is None else circuits.fuses[f].rating_a for f in fuses], dtype=float)
    # Held to 110 % where it lies, 135 % alone; a supply that no fuse clears is held to its limit.
    alone_a = np.minimum(allowed_a / OVERLOAD_LONG, free_a / OVERLOAD_SHORT)
    limited_a = np.where(ratio > 1, rating_a / np.maximum(ratio, NOUGHT), np.maximum(alone_a, rating_a))
    wires_a = np.where(wire.tables.asked.fuse_single_a < rating_a * SAID_LESS, limited_a, alone_a)
    number = {fuse: n for n, fuse in enumerate(dict.fromkeys(f for f in fuses if f is not None))}
    fuse = np.array([-1 if f is None else number[f] for f in fuses], dtype=np.intp)
    # Where the air lets a wire carry nothing, that is said of its zone.
    own = np.nonzero((fuse >= 0) & ~wire.tables.free.ambient_above_rating)[0]
    met = np.nonzero(fuse[chains.row] >= 0)[0]
    least_a = np.full(len(number), np.inf)
    np.minimum.at(least_a, fuse[own], wires_a[own])
    np.minimum.at(least_a, fuse[chains.row[met]], ends.holds_a[met])
    nearest: dict[int, list[Link]] = {}
    for i in own[wires_a[own] <= least_a[fuse[own]]].tolist():
        nearest.setdefault(int(fuse[i]), []).append(Link(float(wires_a[i]), chains.wire_name(i), "wire"))
    for n in met[ends.holds_a[met] <= least_a[fuse[chains.row[met]]]].tolist():
        end, holds_a, carries_a = chains.ends[n], float(ends.holds_a[n]), float(ends.carries_a[n])
        at = int(fuse[chains.row[n]])
        nearest.setdefault(at, []).append(Link(holds_a, end.name, end.kind, carries_a))
    return {key: min(nearest[n]) for key, n in number.items() if n in nearest}


class _End(NamedTuple):
    """What a wire ends in."""

    kind: LinkKind
    what: str
    """The connector, or the splice's part."""
    at: str
    """The way, or the splice's point."""
    connector: str

    @property
    def name(self) -> str:
        """In words."""
        if self.kind == "splice":
            return f"the splice {self.what} at {self.at}"
        return f"the {self.kind} in {self.what}-{self.at}"


class _Chains(NamedTuple):
    """Wires with what they end in: arrays (n,) in the order of the sections, (e,) end by end."""

    circuits: tuple[str, ...]
    circuit: IntArray
    """(n,): a number of each circuit, as they are met."""
    wires: tuple[MadeWire, ...]
    ends: tuple[_End, ...]
    row: IntArray
    """(e,): the wire of each end."""
    joint: IntArray
    """(e,): the same number for all ends in one splice."""
    holds_a: FloatArray
    """(e,): the amperes that each end holds where nothing takes from them."""

    def wire_name(self, row: int) -> str:
        """A wire in words."""
        return f"wire {self.wires[row].label} ({self.wires[row].gauge})"


def _chains(
    threaded: Threaded, wire: MadeWires, contacts: dict[WireEnd, Contact], joints: dict[str, Joint]
) -> _Chains:
    ends: list[_End] = []
    rows: list[int] = []
    joint_of: list[int] = []
    holds_a: list[float] = []
    splices: dict[str, int] = {}
    for i, (key, section) in enumerate(threaded.sections.items()):
        sized = wire.wires[key]
        for end in (section.a, section.b):
            joint = joints.get(end.id) if end.kind == "splice" else None
            contact = contacts.get((end.id, key)) if end.kind == "pin" else None
            kind: LinkKind
            if joint is not None:
                kind, what, at, of = "splice", joint.part.code, end.point, ""
                holds, number = joint.part.current_a, splices.setdefault(end.id, len(ends))
            elif contact is not None:
                kind = "terminal" if contact.kind in ("ring", "lug", "push-on") else "contact"
                what, at, of = end.connector or "", end.cavity or "", end.connector or ""
                holds, number = contact.current_a(sized.area_mm2), len(ends)
            else:
                continue
            rows.append(i)
            joint_of.append(number)
            holds_a.append(holds)
            ends.append(_End(kind, what, at, of))
    circuits = tuple(s.circuit for s in threaded.sections.values())
    numbers = {c: n for n, c in enumerate(dict.fromkeys(circuits))}
    return _Chains(
        circuits,
        np.array([numbers[c] for c in circuits], dtype=np.intp),
        tuple(wire.wires[key] for key in threaded.sections),
        tuple(ends),
        np.array(rows, dtype=np.intp),
        np.array(joint_of, dtype=np.intp),
        np.array(holds_a, dtype=float),
    )


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
