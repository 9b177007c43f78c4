"""Wire against what its zones are besides hot: cold, and rubbing."""

from __future__ import annotations

from inkthread.core.brief import BriefResult
from inkthread.core.catalogue import Catalogue
from inkthread.core.document.types import Document
from inkthread.core.findings import FindingBook, Place, phrase
from inkthread.core.measures import format_length, format_temperature
from inkthread.core.route import RouteResult, Section
from inkthread.core.wire.families import known_families
from inkthread.core.wire.results import WireResult
from inkthread.core.wire.strength import bending_wires
from inkthread.core.words import in_words, list_in_words, some_in_words

HEAVY_WALL_MM = 0.55
"""Insulation of a general wall, as GXL's 0.58 mm (SAE J1128, from memory); thin wall is 0.4 mm."""


def find_by_zone(
    document: Document,
    catalogue: Catalogue,
    brief: BriefResult,
    route: RouteResult,
    sections: list[Section],
    result: WireResult,
    book: FindingBook,
) -> None:
    """Families against the cold, the fluids, the water and the bending of a zone, and thin walls where it
    rubs, once a zone and family.
    """
    zones = document.brief.zones
    tinned = int(brief.value("tinned_copper"))
    minded = {
        z
        for z, zone in zones.items()
        if zone.least_c is not None or zone.abrasion or zone.fluids or zone.flex or zone.has_water
    }
    if not minded and not any(d.moving for d in document.circuits.devices.values()):
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
        _splashed(document, result, zone_id, code, wires, book)
        _bare(document, result, zone_id, code, wires, tinned, book)
    _coarse(document, route, sections, result, book)


def _cold(
    document: Document, catalogue: Catalogue, result: WireResult, zone_id: str, code: str, book: FindingBook
) -> None:
    zone, family = document.brief.zones[zone_id], result.families[code]
    if zone.least_c is None or family.least_c is None or zone.least_c >= family.least_c:
        return
    units = document.brief.measures
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
        what=phrase("wire", family=code),
        rated=format_temperature(family.least_c, units),
        such_as=phrase("such as", good=good) if good else "",
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
        wires=phrase("one" if len(thin) == 1 else "several", count=in_words(len(thin))),
        zone=document.brief.zones[zone_id].name,
        wall=format_length(min(thin.values()), document.brief.measures),
        family=code,
    )


def _splashed(
    document: Document, result: WireResult, zone_id: str, code: str, wires: list[Section], book: FindingBook
) -> None:
    """Insulation whose data do not name what splashes there."""
    zone, family = document.brief.zones[zone_id], result.families[code]
    said = [f for f in (fluid.strip() for fluid in zone.fluids.split(",")) if f]
    bad = [f for f in said if f not in family.fluids]
    if bad:
        book.add(
            "fluid-not-stood",
            Place("brief", "zone", zone_id),
            *(Place("wire", "wire", s.key) for s in wires[:6]),
            what=phrase("wire", family=code, insulation=family.insulation),
            fluids=list_in_words(bad),
            zone=zone.name,
        )


IN_SALT, IN_WET = 1, 2
"""What the house rule on tinned copper means: asked for in salt; in salt and in wet."""


def _bare(
    document: Document,
    result: WireResult,
    zone_id: str,
    code: str,
    wires: list[Section],
    tinned: int,
    book: FindingBook,
) -> None:
    """Bare copper where water creeps in at every cut end."""
    zone, family = document.brief.zones[zone_id], result.families[code]
    wet = zone.wet or zone.jets or zone.immersed
    if family.plating != "bare" or family.construction == "ignition":
        return
    if (zone.salt and tinned >= IN_SALT) or (wet and tinned >= IN_WET):
        good = next(
            (f for f in result.families.values() if f.plating != "bare" and f.general and f.code != code),
            None,
        )
        book.add(
            "bare-copper-in-salt" if zone.salt else "bare-copper-in-wet",
            Place("brief", "zone", zone_id),
            *(Place("wire", "wire", s.key) for s in wires[:6]),
            family=code,
            zone=zone.name,
            such_as=phrase("such as", good=good.code) if good is not None else "",
        )


CLASS_5_STRAND_MM = (
    (1.0, 0.21), (2.5, 0.26), (6.0, 0.31), (50.0, 0.41), (300.0, 0.51),
)  # fmt: skip
"""Thickest strand of a flexible conductor up to a nominal area (IEC 60228, class 5, table 3, from memory)."""
_STRAND_SHARE = 1.02
"""A strand may be this much over by rounding of its nominal diameter."""


def coarse_strands(area_mm2: float, strand_mm: float) -> bool:
    """Whether strands are thicker than a flexible conductor of this area has."""
    most = next((mm for area, mm in CLASS_5_STRAND_MM if area_mm2 <= area * 1.1), CLASS_5_STRAND_MM[-1][1])
    return strand_mm > most * _STRAND_SHARE


def _coarse(
    document: Document, route: RouteResult, sections: list[Section], result: WireResult, book: FindingBook
) -> None:
    """Thick strands where the harness bends as the machine works; solid wire is told apart."""
    moves = any(d.moving for d in document.circuits.devices.values())
    if not moves and not any(z.flex for z in document.brief.zones.values()):
        return
    bending = bending_wires(document, route.zones, sections)
    by_family: dict[str, list[str]] = {}
    for key in bending:
        size = result.size(key)
        if not size.solid and coarse_strands(size.area_mm2, size.strand_diameter_mm):
            by_family.setdefault(result.wires[key].family, []).append(key)
    for code, keys in by_family.items():
        first = result.size(keys[0])
        book.add(
            "coarse-strands",
            *(Place("wire", "wire", k) for k in keys[:6]),
            wires=some_in_words([result.wires[k].label for k in keys], 6),
            family=code,
            strands=str(first.strands),
            strand=f"{first.strand_diameter_mm:.2f} mm",
        )
