"""How current can go, whatever the loads: walks from every source along declared paths, and back."""

from __future__ import annotations

from inkthread.core.catalogue import CheckText
from inkthread.core.circuits.facts import (
    Crossing,
    Mesh,
    Role,
    SourceFacts,
)
from inkthread.core.circuits.feeds import find_fed_twice, live_pins
from inkthread.core.circuits.network import Hop, Network, build_network
from inkthread.core.circuits.side_by_side import (
    all_chords,
    find_parallel_fuses,
    through_structure,
)
from inkthread.core.circuits.supplies import (
    by_rank,
    grounds_by_rank,
    sharing_batteries,
    source_facts,
    structure_strap,
)
from inkthread.core.document.types import Document
from inkthread.core.findings import Finding, FindingBook, Place, called
from inkthread.core.record import record


def _role(roles: set[str]) -> Role:
    for role, of_pins in (
        ("data", ("data",)),
        ("ignition", ("ignition",)),
        ("supply", ("supply_out",)),
        ("output", ("output_high", "output_low")),
        ("ground", ("ground",)),
        ("drain", ("drain",)),
        ("sensor_return", ("sensor_return",)),
        ("signal", ("signal", "dry_contact", "trigger")),
    ):
        if roles & set(of_pins) and not (role == "drain" and roles - {"drain"}):
            return role  # type: ignore[return-value]
    return "supply"


@record
class OtherFeed:
    """Another battery that can take over, or another switched way: what can be reached then."""

    without: frozenset[str]
    feed: dict[str, Hop]
    back: dict[str, Hop]


@record
class Walks:
    """How current can go, whatever the loads: walks from every source and back to it."""

    net: Network
    modes: tuple[str, ...]
    feed: dict[str, Hop]
    back: dict[str, Hop]
    strap: Crossing | None
    sources: dict[str, SourceFacts]
    meshes: tuple[Mesh, ...]
    """Where current divides by resistance."""
    others: tuple[OtherFeed, ...]
    """Ways in which it may be fed instead."""
    live: frozenset[str]
    role_of: dict[str, Role]
    findings: list[Finding]


def walk_all(document: Document, checks: dict[str, CheckText]) -> Walks:
    book = FindingBook(checks)
    net = build_network(document, book)
    modes = tuple(m for m, _ in sorted(document.circuits.modes.items(), key=lambda kv: kv[1].order)) or ("",)
    feed = net.walk(*by_rank(document, net), forward=True)
    strap = structure_strap(document, net)
    studs = net.studs if strap is not None else []
    back = net.walk(*grounds_by_rank(document, net), studs, forward=False)
    for sink in (*net.grounds, *net.studs):
        shorted = net.circuit_of.get(sink)
        if shorted is not None and shorted in feed:
            book.add(
                "short-circuit",
                Place("circuits", "circuit", shorted),
                circuit=called("circuit", shorted),
                source=_source_of(shorted, feed),
                pin=sink,
            )
    meshes: list[Mesh] = []
    either: list[str] = []
    for chord in all_chords(document, net, feed, strap):
        if chord.may_open or not chord.closable:
            if chord.closable:
                find_fed_twice(document, chord, book)
            if chord.closable and chord.beside is not None:
                either.append(chord.beside)
            continue
        meshes.append(chord.mesh)
        find_parallel_fuses(document, chord, book)
    if strap is not None:
        meshes += through_structure(document, net, strap)
    sources = source_facts(document, net, modes)
    others = _others(document, net, studs, either)
    roles = {circuit_id: _role(net.roles[circuit_id]) for circuit_id in net.circuits}
    return Walks(
        net, modes, feed, back, strap, sources, tuple(meshes), others, live_pins(net), roles, book.entries
    )


def _others(document: Document, net: Network, studs: list[str], either: list[str]) -> tuple[OtherFeed, ...]:
    tries: list[tuple[str | None, frozenset[str]]] = [
        (b, frozenset()) for b in sharing_batteries(document, net)
    ]
    tries += [(None, frozenset((path,))) for path in dict.fromkeys(either)]
    return tuple(
        OtherFeed(
            without,
            net.walk(*by_rank(document, net, battery), forward=True, without=without),
            net.walk(*grounds_by_rank(document, net, battery), studs, forward=False, without=without),
        )
        for battery, without in tries[:_ALTERNATIVES_AT_MOST]
    )


_ALTERNATIVES_AT_MOST = 8
"""Ways in which a harness may be fed, tried in the order of its devices."""


def _source_of(circuit_id: str, feed: dict[str, Hop]) -> str:
    """The source pin that a fed circuit is reached from."""
    hop = feed[circuit_id]
    while hop.circuit is not None:
        hop = feed[hop.circuit]
    return hop.pin
