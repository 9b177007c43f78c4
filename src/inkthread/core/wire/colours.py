"""Colours by role from a scheme: as the family is made, with no repeat inside a connector if possible."""

from __future__ import annotations

import numpy as np

from inkthread.core.catalogue import Catalogue, ColourScheme, WireFamily
from inkthread.core.circuits import CircuitsResult, Role
from inkthread.core.context import Context
from inkthread.core.document.only import only
from inkthread.core.document.types import Document
from inkthread.core.route import RouteResult, Section, Threaded
from inkthread.core.wire.cables import CablePiece, standard_colours
from inkthread.core.wire.results import WireTables

PASSING_KINDS = ("bulkhead", "inline")
"""Kinds of device through which a circuit goes on: its colour goes on too."""


def scheme_in_force(document: Document, catalogue: Catalogue) -> ColourScheme:
    """The scheme chosen, else the practice's."""
    name = document.wire.scheme or catalogue.preset_schemes[document.brief.practice]
    return catalogue.colour_schemes[name]


def role_colours(document: Document, scheme: ColourScheme, role: str) -> tuple[str, ...]:
    """Colours of a role in order of choice: the builder's own list, else the scheme's."""
    own = document.wire.role_colours.get(role)
    if own is not None and own.colours.split():
        return tuple(own.colours.split())
    return scheme.roles.get(role) or scheme.roles["signal"]


_UNDER_THEIR_NAME: dict[str, tuple[str, ...]] = {
    "ground": ("return", "ground"),
    "sensor_return": ("return", "ground"),
    "drain": ("shield", "drain"),
}
"""Roles whose circuits bear the name of what they serve, and the words that mean them."""


def circuit_colours(document: Document, scheme: ColourScheme, role: str, name: str) -> tuple[str, ...]:
    """Colours of a circuit in order of choice: of the words in its name, else of its role."""
    said = set(name.lower().split())
    for words, entry in document.wire.circuit_colours.items():
        mine = set(words.split())
        own = _UNDER_THEIR_NAME.get(role)
        if mine and mine <= said and entry.colours.split() and (own is None or mine & set(own)):
            return tuple(entry.colours.split())
    return role_colours(document, scheme, role)


_COLOURED = ("ends", "wire", "circuits.circuits", "circuits.groups", "circuits.devices")


def choose_colours(
    context: Context, circuits: CircuitsResult, route: RouteResult, tables: WireTables
) -> dict[str, str]:
    """Colour of every section. A circuit keeps one colour, and keeps it through a bulkhead."""
    made_of = _made_of(tables)
    return context.memo.get(
        _choose,
        only(context.document, *_COLOURED),
        context.catalogue,
        route.threaded,
        circuits.circuit_of,
        circuits.role_of,
        tables.cables,
        tables.families,
        made_of,
    )


def _made_of(tables: WireTables) -> tuple[tuple[str, str], ...]:
    """What the colour of each wire hangs on: its family; of unequal cores the gauge too, else none."""
    table = tables.free.table
    index = tables.free.chains.index
    picked = index[np.arange(len(tables.keys)), tables.chosen] if tables.keys else tables.chosen
    alike = [(family.code, "") for family in table.families]
    return tuple(
        (table.families[of].code, table.sizes[at].gauge) if table.families[of].core_gauges else alike[of]
        for at, of in zip(picked, table.family_of[picked].tolist(), strict=True)
    )


def _choose(
    document: Document,
    catalogue: Catalogue,
    threaded: Threaded,
    circuit_of: dict[str, str],
    role_of: dict[str, Role],
    cables: tuple[CablePiece, ...],
    families: dict[str, WireFamily],
    made_of: tuple[tuple[str, str], ...],
) -> dict[str, str]:
    scheme = scheme_in_force(document, catalogue)
    through = _through(document, circuit_of, role_of)
    used: dict[str, dict[str, int]] = {}
    connectors_of: dict[str, set[str]] = {}
    sections_of: dict[str, list[Section]] = {}
    for section in threaded.sections.values():
        key = through.get(section.circuit, section.circuit)
        sections_of.setdefault(key, []).append(section)
        for end in (section.a, section.b):
            if end.connector is not None:
                connectors_of.setdefault(key, set()).add(end.connector)
    made_as = dict(zip(threaded.sections, made_of, strict=True))
    cores = _core_colours(document, catalogue, threaded, cables, families, made_as)
    chosen: dict[str, str] = {}
    order = document.circuits.circuits
    options: dict[tuple[tuple[str, ...], str, str], tuple[str, ...]] = {}
    # Cores of cables have no choice: the others keep off their colours.
    for circuit in sorted(connectors_of, key=lambda c: (c not in cores, order[c].order)):
        role = role_of[circuit]
        taken = [used.setdefault(k, {}) for k in connectors_of[circuit]]
        sections = sections_of[circuit]
        if circuit in cores:
            colour = cores[circuit]
        else:
            code, _ = made_as[sections[0].key]
            wanted = circuit_colours(document, scheme, role, order[circuit].name)
            if (wanted, role, code) not in options:
                family = families[code]
                options[wanted, role, code] = _available(wanted, family.colours, family.tracers, role)
            colour = _least_used(options[wanted, role, code], taken)
        for section in sections:
            chosen[section.key] = colour
        for t in taken:
            t[colour] = t.get(colour, 0) + 1
    return chosen


def _available(
    wanted: tuple[str, ...], made_in: tuple[str, ...], tracers: bool, role: str
) -> tuple[str, ...]:
    """Colours of a role that the family is made in. Where none of them is, all that it is made in;
    but a feed is then never black and a return never red."""
    fitting = tuple(
        c
        for c in wanted
        if (not made_in or c in made_in or (tracers and "/" in c)) and (tracers or "/" not in c)
    )
    if fitting:
        return fitting
    safe = tuple(c for c in made_in if c != ("RD" if role == "ground" else "BK"))
    return safe or made_in or tuple(c for c in wanted if "/" not in c) or wanted[:1]


def _core_colours(
    document: Document,
    catalogue: Catalogue,
    threaded: Threaded,
    cables: tuple[CablePiece, ...],
    families: dict[str, WireFamily],
    made_as: dict[str, tuple[str, str]],
) -> dict[str, str]:
    """Circuits that are cores of a cable take the cable's own colours: those that a standard gives the ways
    they end in, the rest in order.
    """
    colours: dict[str, str] = {}
    cores = {key for piece in cables for key in piece.wires}
    present = {s.circuit: s for s in threaded.sections.values() if s.key in cores}
    by_standard = standard_colours(document, catalogue, present.values())
    for group in document.circuits.groups.values():
        members = [c for c, _ in sorted(group.members.items(), key=lambda kv: kv[1].order) if c in present]
        if not members:
            continue
        family = families[made_as[present[members[0]].key][0]]
        if not family.as_one or not family.colours:
            continue
        gauges = family.core_gauges or ("",) * len(family.colours)
        left = list(zip(family.colours, gauges, strict=True))
        core = {c: made_as[s.key][1] if family.core_gauges else "" for c, s in present.items()}
        for circuit in members:
            wanted = (by_standard.get(circuit, ""), core[circuit])
            if wanted in left:
                left.remove(wanted)
                colours[circuit] = wanted[0]
        for n, circuit in enumerate(c for c in members if c not in colours):
            mine = next((pair for pair in left if pair[1] == core[circuit]), None)
            if mine is not None:
                left.remove(mine)
            colours[circuit] = mine[0] if mine is not None else family.colours[n % len(family.colours)]
    return colours


def _through(document: Document, circuit_of: dict[str, str], role_of: dict[str, Role]) -> dict[str, str]:
    """Circuits that go on through a bulkhead, each to the first of its line."""
    parent: dict[str, str] = {}

    def root(c: str) -> str:
        while parent.get(c, c) != c:
            c = parent[c]
        return c

    order = document.circuits.circuits
    for device_id, device in document.circuits.devices.items():
        if device.kind not in PASSING_KINDS:
            continue
        for inner in device.paths.values():
            a = circuit_of.get(f"{device_id}.{inner.from_pin}")
            b = circuit_of.get(f"{device_id}.{inner.to_pin}")
            if a is None or b is None or root(a) == root(b):
                continue
            first, later = sorted((root(a), root(b)), key=lambda c: order[c].order)
            parent[later] = first
    return {c: root(c) for c in role_of}


def _least_used(options: tuple[str, ...], taken: list[dict[str, int]]) -> str:
    """The first colour in no connector yet, else the one least repeated in any."""
    best, fewest = options[0], 1 << 30
    for option in options:
        most = 0
        for counts in taken:
            count = counts.get(option, 0)
            if count > most:
                most = count
        if most == 0:
            return option
        if most < fewest:
            best, fewest = option, most
    return best
