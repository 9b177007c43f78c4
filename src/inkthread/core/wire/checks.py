"""What is wrong with the wires as sized: limits that fail, drops, heat, colours."""

from __future__ import annotations

from inkthread.core.catalogue import WireFamily
from inkthread.core.document.load import pointer
from inkthread.core.document.types import Document
from inkthread.core.findings import FindingBook, Place
from inkthread.core.quantity import format_temperature
from inkthread.core.route import RouteResult, Section
from inkthread.core.wire.limits import LIMITS
from inkthread.core.wire.results import WireResult


def find_in_wires(
    document: Document,
    family: WireFamily,
    route: RouteResult,
    sections: list[Section],
    result: WireResult,
    stuck: set[int],
    fixed: set[int],
    book: FindingBook,
) -> None:
    units = document.brief.units
    for i in sorted(stuck | fixed):
        w = result.wires[sections[i].key]
        worst = max(zip(w.limits, LIMITS, strict=True))
        if worst[0] <= 1 or (i in stuck and worst[1] == "ends"):
            continue
        place = Place("wire", "wire", w.key)
        percent = f"{min(worst[0], 99) * 100:.0f}"
        if i in fixed:
            operation = {"op": "remove", "path": pointer(["wire", "fixed", w.key])}
            book.add(
                "fixed-fails",
                place,
                wire=w.label,
                gauge=w.gauge,
                limit=worst[1],
                percent=percent,
                mechanical=("Let the program choose.", (operation,)),
            )
        else:
            book.add(
                "nothing-fits",
                place,
                wire=w.label,
                gauge=w.gauge,
                family=family.code,
                limit=worst[1],
                percent=percent,
            )
    for loop in result.loops.values():
        if loop.drop_v > loop.limit_v * (1 + 1e-9):
            load = document.circuits.loads[loop.load]
            device = document.circuits.devices[load.device]
            book.add(
                "drop-over-limit",
                Place("circuits", "load", loop.load),
                *(Place("wire", "wire", k) for k in loop.wires[:6]),
                load=f"{load.device} {device.name}",
                drop=f"{loop.drop_v:.2f} V",
                percent=f"{loop.drop_percent:.1f}",
                limit=loop.limit_source.partition(",")[0],
            )
    hot_zones: dict[str | None, float] = {}
    for s in sections:
        for b in s.branches:
            ambient, zone = route.hottest[b]
            hot_zones[zone] = ambient
    for zone, ambient in hot_zones.items():
        if ambient >= family.temperature_c:
            book.add(
                "zone-too-hot",
                Place("brief", "zone", zone or ""),
                what=f"{family.code} wire",
                rated=format_temperature(family.temperature_c, units),
                zone=document.brief.zones[zone].name if zone else "the harness",
                ambient=format_temperature(ambient, units),
            )
    _colour_findings(sections, result, book)


def _colour_findings(sections: list[Section], result: WireResult, book: FindingBook) -> None:
    seen: dict[tuple[str, str], list[str]] = {}
    circuits: dict[tuple[str, str], set[str]] = {}
    for s in sections:
        for end in (s.a, s.b):
            if end.connector is not None:
                w = result.wires[s.key]
                seen.setdefault((end.connector, w.colour), []).append(w.label)
                circuits.setdefault((end.connector, w.colour), set()).add(s.circuit)
    for (connector, colour), labels in seen.items():
        if len(circuits[connector, colour]) > 1:
            book.add(
                "colour-repeats",
                Place("ends", "connector", connector),
                place=connector,
                colour=colour,
                wires=", ".join(labels[:6]),
            )
