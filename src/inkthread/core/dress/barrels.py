"""Tube over the barrels of rings, push-on terminals and bullets: seen, held, and shut against water."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from typing import NamedTuple

from inkthread.core.catalogue import Contact
from inkthread.core.catalogue.coverings import Tube
from inkthread.core.catalogue.tubes import TubeChoice, choose_tube, standing_tubes
from inkthread.core.context import Context
from inkthread.core.document.problems import pointer
from inkthread.core.document.types import Document
from inkthread.core.dress.choose import tube_to_cut_mm
from inkthread.core.dress.shrinks import ShrinkPiece
from inkthread.core.ends import Fittings
from inkthread.core.ends.surroundings import zones_at
from inkthread.core.findings import FindingBook, Place, phrase
from inkthread.core.physics.packing import packed_diameter
from inkthread.core.wire import MadeWires
from inkthread.core.words import some_in_words

BARE, LINED_IN_WET, LINED_ALWAYS = 1, 2, 3
"""What the house rule on tube over barrels means."""
_THREADED = 3
"""After what goes over the branch's cover, before the terminal."""
_SHOWN = 6


class Barrel(NamedTuple):
    """What tube over a barrel has to pass and close on, in mm."""

    connector: str
    over_mm: float
    """The barrel: as wide as the insulation that it takes (typical), or as the wires in it."""
    onto_mm: float
    """The wires behind it."""
    long_mm: float
    """The barrel, as long as what is stripped for it, and what lies on the insulation."""


def barrel_tubes(
    context: Context, wire: MadeWires, ends: Fittings, book: FindingBook
) -> tuple[ShrinkPiece, ...]:
    """A piece of tube for every bare barrel, equal ones at a connector as one line.

    By the house rule none, lined where it is wet, or lined everywhere. In the wet a barrel without lined
    tube is told: water is drawn up between the strands (common practice).
    """
    barrels = tuple(_barrels(context, wire, ends))
    if not barrels:
        return ()
    rule, tubes = int(context.brief.value("barrel_tube")), context.tubes()
    pieces: list[ShrinkPiece] = []
    open_in_wet: dict[str, list[str]] = {}
    for barrel, count in _counted(barrels).items():
        wet = _wet_zone(context.document, barrel.connector)
        piece = _piece(context, barrel, count, rule, tubes, wet=wet is not None)
        if piece is not None:
            pieces.append(piece)
        if wet is not None and (piece is None or not piece.lined):
            at = open_in_wet.setdefault(wet, [])
            if barrel.connector not in at:
                at.append(barrel.connector)
    for zone, at in open_in_wet.items():
        book.add(
            "barrel-open-in-wet",
            *(Place("dress", "shrink", connector) for connector in at[:_SHOWN]),
            mechanical=(phrase("lined"), _by_rule(context.document, at)) if rule != BARE else None,
            connectors=some_in_words(at, _SHOWN),
            zone=zone,
        )
    return tuple(pieces)


def _barrels(context: Context, wire: MadeWires, ends: Fittings) -> Iterator[Barrel]:
    document, families = context.document, context.catalogue.connectors
    bare = {
        k
        for k, c in document.ends.connectors.items()
        if families[c.family].group == "terminal" and not families[c.family].pre_insulated
    }
    if not bare:
        return
    onto_insulation_mm = context.brief.value("barrel_onto_mm")
    under: dict[tuple[str, str], list[tuple[float, Contact]]] = {}
    for (ref, key), contact in ends.contacts.items():
        connector = document.ends.pinout[ref].connector
        if connector not in bare or contact.factory or not contact.strip_mm:
            continue
        # Each wire on a stud has a ring of its own; two wires of a push-on terminal share its barrel.
        alone = key if families[document.ends.connectors[connector].family].studs else ""
        under.setdefault((ref, alone), []).append((wire.wires[key].od_mm, contact))
    for (ref, _), wires in under.items():
        contact = wires[0][1]
        onto_mm = packed_diameter(od_mm for od_mm, _ in wires)
        yield Barrel(
            document.ends.pinout[ref].connector,
            max(contact.insulation_max_mm, onto_mm),
            round(onto_mm, 2),
            contact.strip_mm + onto_insulation_mm,
        )


def _counted(barrels: tuple[Barrel, ...]) -> Mapping[Barrel, int]:
    counts: dict[Barrel, int] = {}
    for barrel in barrels:
        counts[barrel] = counts.get(barrel, 0) + 1
    return counts


def _wet_zone(document: Document, connector_id: str) -> str | None:
    """The name of a zone with water that a connector lies in."""
    zones = zones_at(document, document.ends.connectors[connector_id].point)
    return next((z.name for z in zones if z.has_water), None)


def _piece(
    context: Context, barrel: Barrel, count: int, rule: int, tubes: tuple[Tube, ...], *, wet: bool
) -> ShrinkPiece | None:
    own = context.document.dress.shrinks.get(barrel.connector)
    if rule == BARE or (own is not None and own.left_out):
        return None
    lined, because = wet or rule == LINED_ALWAYS, "wet: strands draw water" if wet else "house rule"
    if own is not None and own.lined is not None:
        lined, because = own.lined, own.reason or "you chose it"
    choice = _tube(context, barrel, tubes, lined=lined)
    if choice.tube is None:
        return None
    tube = choice.tube
    if tube.lined and not lined:
        because = "plain would not close"
    cut_mm = tube_to_cut_mm(tube, barrel.long_mm, barrel.onto_mm)
    return ShrinkPiece(
        barrel.connector,
        "a barrel" if count == 1 else f"{count} barrels",
        tube.code,
        tube.description,
        tube.ratio,
        tube.lined,
        round(barrel.over_mm, 2),
        barrel.onto_mm,
        round(barrel.long_mm, 1),
        round(cut_mm, 1),
        _THREADED,
        None,
        because,
        choice.fits,
        choice.instead,
        round(cut_mm / 1000 * tube.mass_g_per_m, 3),
        count,
        over_barrel=True,
    )


def _tube(context: Context, barrel: Barrel, every: tuple[Tube, ...], *, lined: bool) -> TubeChoice:
    """Plain tube where it need not be lined and one fits; else lined."""
    air = context.brief.point_airs.get(context.document.ends.connectors[barrel.connector].point or "")
    tubes = standing_tubes(every, air.ambient_c if air is not None else None)
    choice = choose_tube(tubes, barrel.over_mm, barrel.onto_mm, lined=lined)
    if choice.fits or lined:
        return choice
    other = choose_tube(tubes, barrel.over_mm, barrel.onto_mm)
    return other if other.fits else choice


def _by_rule(document: Document, connectors: list[str]) -> tuple[dict[str, object], ...]:
    """The patch that leaves the lining at these connectors to the rule again, and the tube in."""
    return tuple(
        {"op": "replace", "path": pointer(["dress", "shrinks", k, name]), "value": value}
        for k in connectors
        if k in document.dress.shrinks
        for name, value in (("lined", None), ("left_out", False))
    )
