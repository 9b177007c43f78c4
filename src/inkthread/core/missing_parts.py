"""A document may name what has gone from the catalogue: it is stood in for, said, and the rest goes on."""

from __future__ import annotations

from dataclasses import replace

from inkthread.core.catalogue import BusStandard, Catalogue, ColourScheme, WireFamily
from inkthread.core.document.only import only
from inkthread.core.document.types import Document
from inkthread.core.ends.missing_parts import GONE, stand_in_for_ends
from inkthread.core.findings import Finding, FindingBook, Phrase, Place, phrase
from inkthread.core.memo import Memo


def stand_in_for_gone(document: Document, catalogue: Catalogue, memo: Memo, book: FindingBook) -> Catalogue:
    """The catalogue with something in the place of everything that the document names and nobody holds.

    What stands in costs nothing, and a finding says what has gone. Reading never fails for it.
    """
    naming = only(document, "wire", "circuits.circuits", "circuits.groups", "circuits.buses")
    stocked, without = memo.get(_stand_in, naming, catalogue)
    book.entries += without
    stocked, without = memo.get(stand_in_for_ends, only(document, "ends"), stocked)
    book.entries += without
    return stocked


def _stand_in(document: Document, catalogue: Catalogue) -> tuple[Catalogue, list[Finding]]:
    book = FindingBook(catalogue.checks)
    wires = _wires(document, catalogue, book)
    buses = _buses(document, catalogue, book)
    scheme = _scheme(document, catalogue, book)
    _rules(document, catalogue, book)
    if not book.entries:
        return catalogue, []
    return replace(catalogue, wires=wires, buses=buses, colour_schemes=scheme), book.entries


def _wires(document: Document, catalogue: Catalogue, book: FindingBook) -> dict[str, WireFamily]:
    """Every wire family that is named: one that has gone is reckoned as another, and said."""
    chosen, circuits, groups = document.wire, document.circuits.circuits, document.circuits.groups
    own = {code for code, f in chosen.own_families.items() if f.sizes}
    preset = catalogue.preset_families[document.brief.practice]
    named: dict[str, tuple[Phrase, Place, int]] = {}

    def name(code: str | None, what: Phrase, place: Place, cores: int = 1) -> None:
        if code is not None and code not in catalogue.wires and code not in own:
            named.setdefault(code, (what, place, cores))

    name(chosen.family, phrase("harness"), Place("wire", "harness", "harness"))
    if chosen.family is None:
        name(preset, phrase("practice"), Place("brief", "harness", "harness"))
    for code in chosen.also:
        name(code, phrase("list"), Place("wire", "harness", "harness"))
    for key, fixed in chosen.fixed.items():
        name(fixed.family, phrase("wire", of=key), Place("wire", "wire", key))
    for sample in chosen.samples.values():
        name(sample.family, phrase("sample"), Place("wire", "harness", "harness"))
    for circuit_id, circuit in circuits.items():
        name(circuit.family, phrase("circuit", of=circuit_id), Place("circuits", "circuit", circuit_id))
    for group_id, group in groups.items():
        first = next(iter(group.members), "")
        place = Place("circuits", "circuit", first) if first else Place("circuits", "harness", "harness")
        name(group.family, phrase("group", of=group.name or group_id), place, len(group.members))
    wires = dict(catalogue.wires)
    for code, (what, place, cores) in named.items():
        other = _nearest(catalogue, preset, cores)
        free = tuple(replace(s, price_per_m=0.0) for s in other.sizes)
        wires[code] = replace(other, code=code, name=GONE, general=False, sizes=free)
        book.add("family-gone", place, what=what, family=code, other=other.code)
    return wires


def _nearest(catalogue: Catalogue, preset: str, cores: int) -> WireFamily:
    """What is reckoned with: a cable of as many cores, else the practice's own wire, else any."""
    wires = catalogue.wires
    if cores > 1:
        cables = [f for f in wires.values() if f.cores >= cores and not f.core_gauges]
        if cables:
            return min(cables, key=lambda f: (f.cores, f.code))
    if preset in wires:
        return wires[preset]
    single = sorted((f for f in wires.values() if f.cores == 1), key=lambda f: (not f.general, f.code))
    return single[0]


def _buses(document: Document, catalogue: Catalogue, book: FindingBook) -> dict[str, BusStandard]:
    buses = dict(catalogue.buses)
    for bus_id, bus in document.circuits.buses.items():
        if bus.standard not in buses:
            # Allows everything.
            buses[bus.standard] = BusStandard(GONE, 0.0, 1e6, 1e6, 10**6, 0.0, None, False, 0, GONE)
        elif bus.standard in catalogue.buses:
            continue
        place = Place("circuits", "circuit", next(iter(bus.circuits), ""))
        book.add(
            "named-gone",
            place,
            what=phrase("bus", of=bus.name or bus_id),
            named=phrase("standard", name=bus.standard),
        )
    return buses


def _scheme(document: Document, catalogue: Catalogue, book: FindingBook) -> dict[str, ColourScheme]:
    schemes = dict(catalogue.colour_schemes)
    name = document.wire.scheme or catalogue.preset_schemes[document.brief.practice]
    if name not in schemes:
        usual = catalogue.preset_schemes[document.brief.practice]
        plain = ColourScheme(GONE, "", True, {"signal": (next(iter(catalogue.colours), "WH"),)})
        schemes[name] = schemes.get(usual) or next(iter(schemes.values()), plain)
        place = Place("wire", "harness", "harness")
        book.add("named-gone", place, what=phrase("harness"), named=phrase("scheme", name=name))
    return schemes


def _rules(document: Document, catalogue: Catalogue, book: FindingBook) -> None:
    for rule in document.brief.house_rules:
        if rule not in catalogue.rules:
            place = Place("brief", "harness", "harness")
            book.add("named-gone", place, what=phrase("brief"), named=phrase("rule", name=rule))
