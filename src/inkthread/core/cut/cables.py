"""Cables to cut: each in one piece, its cores and its shield with it."""

from __future__ import annotations

import math
from collections.abc import Iterator

from inkthread.core.catalogue import WireFamily
from inkthread.core.catalogue.tubes import choose_tube
from inkthread.core.context import Context
from inkthread.core.ends import Fittings
from inkthread.core.measures import Measures, format_length
from inkthread.core.record import record
from inkthread.core.route import Threaded
from inkthread.core.wire import MadeWires
from inkthread.core.wire.cables import CablePiece, core_sizes

_JACKETED = ("jacketed", "shielded")
JACKET_OFF_MM = 40.0
"""Jacket taken off its cores where neither the builder nor a gland says how far (typical, no source)."""
BRAID_BACK_MM = 15.0
"""Shield folded back under a backshell (typical, no source)."""
CUT_BACK_MM = 20.0
"""Tube over a shield that is cut back and insulated (typical, no source)."""


@record
class CableEnd:
    """How one end of a cable is prepared. Lengths in mm."""

    at: str
    """The connector, or where it ends otherwise."""
    jacket_mm: float
    """Taken off the cores."""
    by: str
    """Why so much: ``as prepared``, ``its gland``, ``usual``."""
    shield: str
    """What is done with its shield, in words; empty where it has none."""
    part: str
    """The solder sleeve or tube that this takes; empty where it takes none."""
    piece_mm: float
    """Of the pigtail, the braid that is folded back, or the tube."""


@record
class Cable:
    """One piece of cable to cut: its cores are cut together, its unused ones with them."""

    id: str
    """``crank`` for the first piece of a group, ``crank/2`` for the second."""
    group: str
    part: str
    """Family and gauge."""
    cores: int
    """In the cable; more than its wires where some are not used."""
    wires: tuple[str, ...]
    shield: str | None
    """The wire that is its shield, if it has one that is landed."""
    cut_mm: float
    from_text: str
    to_text: str
    mass_g: float
    unused: tuple[str, ...] = ()
    """Colours of the cores that are no wire: cut back and capped."""
    ends: tuple[CableEnd, ...] = ()
    """Both, from first to second, where they lie in connectors."""
    peels: tuple[str, ...] = ()
    """Of a strip of ribbon, in words: which core leaves it after what length, and how far it goes on."""


def _unused(wire: MadeWires, wires: tuple[str, ...], family: WireFamily, cores: int) -> tuple[str, ...]:
    """Colours of the cores that no wire of the harness is, each as often as it is left."""
    left = [family.colours[n % len(family.colours)] if family.colours else "" for n in range(cores)]
    for key in wires:
        colour = wire.wires[key].colour
        if colour in left:
            left.remove(colour)
        elif left:
            left.pop()
    return tuple(left)


def _peels(route: Threaded, wires: tuple[str, ...], longest: str, units: Measures) -> Iterator[str]:
    """Cores that leave the longest on their way."""
    whole = set(route.sections[longest].spans)
    for key in wires:
        section = route.sections[key]
        alone = [high - low for span in section.spans if span not in whole for _, low, high in (span,)]
        if alone:
            along = section.length_mm - sum(alone)
            after, on = format_length(max(along, 0.0), units), format_length(sum(alone), units)
            yield f"{section.label} peels off after {after} and goes on {on}"


def _prepared(
    context: Context, route: Threaded, wire: MadeWires, ends: Fittings, piece: CablePiece, first: str
) -> Iterator[CableEnd]:
    """Both ends of a piece that lie in a connector: jacket, and what becomes of the shield."""
    document = context.document
    group = document.circuits.groups.get(piece.group)
    shield = group.shield if group is not None else None
    family = wire.families[wire.wires[first].family]
    section = route.sections[first]
    for end in (section.a, section.b):
        connector = document.ends.connectors.get(end.connector or "")
        if connector is None:
            continue
        window = next(
            (a.fan_out_mm for a in ends.accessories.get(end.connector or "", ()) if a.fan_out_mm), None
        )
        jacket, by = JACKET_OFF_MM, "usual"
        if connector.fan_out_mm is not None:
            jacket, by = connector.fan_out_mm, "as prepared"
        elif window is not None:
            # Nearer the upper end: too short is awkward to work (common practice, no source).
            jacket, by = window[1], "its gland"
        shielded = _shield_at(
            context, ends, shield, end.connector or "", wire.size(first).cable_od_mm or 0.0, jacket
        )
        yield CableEnd(
            end.connector or "", round(jacket, 1), by, *(shielded if family.shielded else ("", "", 0.0))
        )


def _shield_at(
    context: Context,
    ends: Fittings,
    shield: str | None,
    connector_id: str,
    jacket_od_mm: float,
    jacket_mm: float,
) -> tuple[str, str, float]:
    """What is done with a shield at a connector, the part for it, and the length of its piece."""
    document, catalogue = context.document, context.catalogue
    connectors = document.ends.connectors
    if shield is not None and connectors[connector_id].shield == shield:
        return "folded back under the backshell", "", BRAID_BACK_MM
    landed = [
        ref
        for ref in (document.circuits.circuits[shield].ends if shield is not None else ())
        if (entry := document.ends.pinout.get(ref)) is not None
        and entry.connector in connectors
        and connectors[entry.connector].point == connectors[connector_id].point
    ]
    if landed:
        sleeves = [
            s
            for s in catalogue.splices
            if s.form == "solder sleeve" and s.od_min_mm <= jacket_od_mm <= s.od_max_mm
        ]
        part = min(sleeves, key=lambda s: s.od_max_mm).code if sleeves else ""
        takes = next((c.allowance_mm for (ref, _), c in ends.contacts.items() if ref == landed[0]), 0.0)
        end = document.ends.pinout[landed[0]]
        return f"pigtail to {end.connector}-{end.cavity}", part, round(jacket_mm + takes, 1)
    choice = choose_tube(catalogue.coverings.tubes(), jacket_od_mm, jacket_od_mm)
    tube = choice.tube.code if choice.fits and choice.tube is not None else ""
    return "cut back and insulated", tube, CUT_BACK_MM


def cut_cables(
    context: Context, route: Threaded, wire: MadeWires, ends: Fittings, alone_mm: dict[str, float]
) -> list[tuple[Cable, str]]:
    """Every piece of cable, as long as the longest of its cores asks for by itself, and that core."""
    document = context.document
    shields: dict[tuple[str, frozenset[str]], str] = {}
    for key, section in route.sections.items():
        for group_id, group in document.circuits.groups.items():
            if group.shield == section.circuit:
                shields[group_id, frozenset((section.a.point, section.b.point))] = key
    cables: list[tuple[Cable, str]] = []
    count: dict[str, int] = {}
    for piece in wire.cables:
        first = max(piece.wires, key=lambda k: alone_mm[k])
        sized, section = wire.wires[first], route.sections[first]
        family = wire.families[sized.family]
        between = frozenset((section.a.point, section.b.point))
        shield = shields.pop((piece.group, between), None) if family.shielded else None
        cores = family.cores * math.ceil(len(piece.wires) / family.cores)
        weights = [s.mass_g_per_m for s in core_sizes(family, wire.size(first), cores)]
        count[piece.group] = number = count.get(piece.group, 0) + 1
        cables.append(
            (
                Cable(
                    piece.group if number == 1 else f"{piece.group}/{number}",
                    piece.group,
                    family.sold_as(sized.gauge),
                    cores,
                    piece.wires,
                    shield,
                    alone_mm[first],
                    "",
                    "",
                    round(alone_mm[first] * sum(weights) / 1000, 3),
                    _unused(wire, piece.wires, family, cores),
                    tuple(_prepared(context, route, wire, ends, piece, first))
                    if family.construction in _JACKETED
                    else (),
                    tuple(_peels(route, piece.wires, first, document.brief.measures)),
                ),
                first,
            )
        )
    return sorted(cables, key=lambda own: (-own[0].cut_mm, own[0].id))
