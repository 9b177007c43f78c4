"""Wire against what its zones are besides hot: cold, and rubbing."""

from __future__ import annotations

from inkthread.core.catalogue import Catalogue
from inkthread.core.document.types import Document
from inkthread.core.findings import FindingBook, Place
from inkthread.core.quantity import format_length, format_temperature
from inkthread.core.route import RouteResult, Section
from inkthread.core.wire.families import known_families
from inkthread.core.wire.results import WireResult
from inkthread.core.words import in_words

HEAVY_WALL_MM = 0.55
"""Insulation of a general wall, as GXL's 0.58 mm (SAE J1128, from memory); thin wall is 0.4 mm."""


def find_by_zone(
    document: Document,
    catalogue: Catalogue,
    route: RouteResult,
    sections: list[Section],
    result: WireResult,
    book: FindingBook,
) -> None:
    """Families that a zone is too cold for, and thin walls where it rubs, once a zone and family."""
    zones = document.brief.zones
    minded = {z for z, zone in zones.items() if zone.least_c is not None or zone.abrasion}
    if not minded:
        return
    there: dict[tuple[str, str], list[Section]] = {}
    for section in sections:
        family = result.wires[section.key].family
        for zone in minded & {z for b in section.branches for z in route.zones.get(b, ())}:
            there.setdefault((zone, family), []).append(section)
    for (zone_id, code), wires in sorted(there.items()):
        _cold(document, catalogue, result, zone_id, code, book)
        if zones[zone_id].abrasion:
            _rubs(document, result, zone_id, code, wires, book)


def _cold(
    document: Document, catalogue: Catalogue, result: WireResult, zone_id: str, code: str, book: FindingBook
) -> None:
    zone, family = document.brief.zones[zone_id], result.families[code]
    if zone.least_c is None or family.least_c is None or zone.least_c >= family.least_c:
        return
    units = document.brief.units
    able = (
        f.code
        for f in known_families(document, catalogue).values()
        if f.general and f.least_c is not None and f.least_c <= zone.least_c
        and f.temperature_c > zone.ambient_c
    )  # fmt: skip
    good = next(able, None)
    book.add(
        "zone-too-cold",
        Place("brief", "zone", zone_id),
        what=f"{code} wire",
        rated=format_temperature(family.least_c, units),
        such_as=f", such as {good}" if good else "",
        zone=zone.name,
        least=format_temperature(zone.least_c, units),
    )


def _rubs(
    document: Document,
    result: WireResult,
    zone_id: str,
    code: str,
    wires: list[Section],
    book: FindingBook,
) -> None:
    walls = {s.key: (result.size(s.key).od_mm - result.size(s.key).conductor_diameter_mm) / 2 for s in wires}
    thin = {k: w for k, w in walls.items() if w < HEAVY_WALL_MM}
    if not thin or result.families[code].cores > 1:
        return
    book.add(
        "rubs-on-thin-wall",
        Place("brief", "zone", zone_id),
        *(Place("wire", "wire", k) for k in list(thin)[:6]),
        wires=f"{in_words(len(thin))} wire{'s' if len(thin) != 1 else ''}",
        zone=document.brief.zones[zone_id].name,
        wall=format_length(min(thin.values()), document.brief.units),
        family=code,
    )
