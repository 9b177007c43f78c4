"""How wires are joined to their contacts: solder, sleeves over barrels, two wires in one."""

from __future__ import annotations

from inkthread.core.brief import BriefResult
from inkthread.core.catalogue import Catalogue, Contact
from inkthread.core.context import Context
from inkthread.core.document.problems import pointer
from inkthread.core.document.types import Document
from inkthread.core.ends.fit import WireEnd
from inkthread.core.ends.methods import is_soldered, joined_as, suits
from inkthread.core.ends.surroundings import zones_at
from inkthread.core.findings import FindingBook, Place, phrase
from inkthread.core.wire import MadeWires
from inkthread.core.words import list_in_words

LUG_MM2 = 7.5
"""Copper from which a terminal is a lug (about 8 AWG, common practice)."""


def find_in_joining(
    context: Context,
    wire: MadeWires,
    contacts: dict[WireEnd, Contact],
    book: FindingBook,
) -> None:
    """Solder where it shakes and on lugs, barrels that cannot be seen, doubled wires where none may be."""
    document, catalogue, brief = context.document, context.catalogue, context.brief
    _soldered(document, catalogue, brief, wire, contacts, book)
    _pre_insulated(document, catalogue, brief, book)
    if brief.value("doubled_wires") < 1:
        _doubled(document, catalogue, contacts, book)


def _soldered(
    document: Document,
    catalogue: Catalogue,
    brief: BriefResult,
    wire: MadeWires,
    contacts: dict[WireEnd, Contact],
    book: FindingBook,
) -> None:
    shaking: dict[str, list[str]] = {}
    for (ref, key), contact in contacts.items():
        entry = document.ends.pinout[ref]
        if entry.joint == "as its part" and contact.joint != "solder":
            continue
        connector = document.ends.connectors[entry.connector]
        if not suits(catalogue, contact, joined_as(document, contact, ref)):
            path = pointer(["ends", "pinout", ref, "joint"])
            book.add(
                "joint-unsuitable",
                Place("ends", "pin", ref),
                mechanical=(phrase("part"), ({"op": "replace", "path": path, "value": "as its part"},)),
                place=f"{entry.connector}-{entry.cavity}",
                contact=contact.code,
                joint=entry.joint,
            )
            continue
        if not is_soldered(document, contact, ref):
            continue
        lug = catalogue.connectors[connector.family].studs and wire.wires[key].area_mm2 >= LUG_MM2
        path = pointer(["ends", "pinout", ref, "joint"])
        if lug and brief.value("soldered_lugs") < 1:
            book.add(
                "lug-soldered",
                Place("ends", "pin", ref),
                mechanical=(phrase("crimp"), ({"op": "replace", "path": path, "value": "crimped"},)),
                place=f"{entry.connector}-{entry.cavity}",
            )
        elif brief.value("soldered_contacts") < 1 and any(
            z.vibration for z in zones_at(document, connector.point)
        ):
            shaking.setdefault(entry.connector, []).append(ref)
    for connector_id, refs in shaking.items():
        operations = tuple(
            {"op": "replace", "path": pointer(["ends", "pinout", r, "joint"]), "value": "crimped"}
            for r in refs
            if document.ends.pinout[r].joint in ("soldered", "solder sleeve")
        )
        book.add(
            "contact-soldered-shakes",
            Place("ends", "connector", connector_id),
            *(Place("ends", "pin", r) for r in refs[:6]),
            mechanical=(phrase("crimp"), operations) if operations else None,
            connector=connector_id,
            pins=list_in_words(refs[:6]),
        )


def _pre_insulated(document: Document, catalogue: Catalogue, brief: BriefResult, book: FindingBook) -> None:
    """Terminals under a sleeve of their own: unlined in the wet, unseen anywhere."""
    dry: list[str] = []
    for connector_id, connector in document.ends.connectors.items():
        if not catalogue.connectors[connector.family].pre_insulated:
            continue
        zones = zones_at(document, connector.point)
        wet = next((z for z in zones if z.has_water), None)
        if wet is not None:
            book.add(
                "unlined-in-wet",
                Place("ends", "connector", connector_id),
                connector=connector_id,
                family=connector.family,
                zone=wet.name,
            )
        else:
            dry.append(connector_id)
    if dry and brief.value("insulated_terminals") < 1:
        book.add(
            "crimp-not-seen",
            *(Place("ends", "connector", k) for k in dry[:8]),
            connectors=list_in_words(dry[:6]),
        )


def _doubled(
    document: Document, catalogue: Catalogue, contacts: dict[WireEnd, Contact], book: FindingBook
) -> None:
    at: dict[str, list[str]] = {}
    for ref, key in contacts:
        at.setdefault(ref, []).append(key)
    for ref, keys in at.items():
        entry = document.ends.pinout[ref]
        family = catalogue.connectors[document.ends.connectors[entry.connector].family]
        if len(keys) > 1 and not family.studs:
            book.add(
                "doubled-wires",
                Place("ends", "pin", ref),
                *(Place("wire", "wire", k) for k in keys[:6]),
                place=f"{entry.connector}-{entry.cavity}",
            )
