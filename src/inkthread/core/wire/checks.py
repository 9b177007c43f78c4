"""What is wrong with the wires as sized: limits that fail, drops, heat, insulation, colours, samples."""

from __future__ import annotations

import numpy as np

from inkthread.core.brief import BriefResult
from inkthread.core.catalogue import Catalogue
from inkthread.core.circuits import CircuitsResult, Role
from inkthread.core.context import Context
from inkthread.core.document.only import only
from inkthread.core.document.pin_ref import device_of, read_ref
from inkthread.core.document.problems import pointer
from inkthread.core.document.types import Document
from inkthread.core.findings import FindingBook, Phrase, Place, called, phrase
from inkthread.core.measures import format_area, format_current, format_temperature, told_apart
from inkthread.core.route import RouteResult, Section, Threaded
from inkthread.core.tolerances import SAID_OVER, SAID_OVER_IN_FOUR_PLACES
from inkthread.core.wire.bounds import Bounds
from inkthread.core.wire.brown_out import BrownOut
from inkthread.core.wire.by_zone import find_by_zone
from inkthread.core.wire.cables import find_parting
from inkthread.core.wire.colour_checks import find_in_colours
from inkthread.core.wire.families import known_families, stands_air
from inkthread.core.wire.limits import LIMITS
from inkthread.core.wire.made import MadeWires
from inkthread.core.wire.protection import find_in_protection
from inkthread.core.wire.results import WireResult
from inkthread.core.wire.sample_checks import find_in_samples
from inkthread.core.wire.strength import moving_wires
from inkthread.core.words import list_in_words

TOO_HOT_K = 0.5
"""A bundle is told to be too hot when it is over its limit by more."""


def find_in_wires(
    context: Context,
    circuits: CircuitsResult,
    route: RouteResult,
    result: WireResult,
    bounds: Bounds,
    book: FindingBook,
) -> None:
    """All checks of the wire room."""
    document, catalogue, brief = context.document, context.catalogue, context.brief
    sections = list(route.sections.values())
    _limits(result, sections, bounds, book)
    _drops(document, circuits, result, book)
    _at_peaks(document, result, book)
    _heat(document, catalogue, sections, result, book)
    find_by_zone(document, catalogue, brief, route, sections, result, book)
    find_parting(document, result.tables.cables, route, book)
    known = only(document, "wire", "circuits.devices"), brief, circuits.role_of
    volts = context.memo.alike("volts", circuits.volts)
    book.once(context.memo, _insulation, *known, volts, route.threaded, result.made)
    find_in_samples(document, catalogue, book)
    _sensor_returns(document, circuits, route, result, book)
    coloured = context.only("wire", "ends", "circuits.circuits", "circuits.groups")
    book.once(
        context.memo,
        find_in_colours,
        coloured.document,
        catalogue,
        circuits.role_of,
        route.threaded,
        result.made,
    )
    find_in_protection(document, catalogue, brief, circuits, route, result, book)


def _limits(result: WireResult, sections: list[Section], bounds: Bounds, book: FindingBook) -> None:
    stuck, fixed = bounds.stuck, bounds.fixed
    # Air that no size stands is told once, of its zone.
    ambient_above_rating = result.tables.free.ambient_above_rating
    own = [n for n, name in enumerate(LIMITS) if name in ("current", "fuse", "strength")]
    over = (result.told[:, own] > SAID_OVER_IN_FOUR_PLACES).any(axis=1)
    failing = set(np.nonzero(over)[0].tolist())
    for i in sorted(stuck | fixed | failing):
        w = result.wires[sections[i].key]
        asked = [
            limit
            for limit in zip(w.limits, LIMITS, strict=True)
            if not ambient_above_rating[i] or limit[1] not in ("current", "fuse")
        ]
        worst = max(asked)
        if worst[0] <= SAID_OVER_IN_FOUR_PLACES or (i in stuck and worst[1] == "ends"):
            continue
        if i not in fixed and i not in stuck and worst[1] == "ends":
            worst = max(limit for limit in asked if limit[1] != "ends")
        place = Place("wire", "wire", w.key)
        percent = told_apart(worst[0] * 100, 100, 0) if worst[0] < 99 else "more than 9900"
        if i in fixed:
            operation = {"op": "remove", "path": pointer(["wire", "fixed", w.key])}
            book.add(
                "fixed-fails",
                place,
                wire=w.label,
                gauge=w.gauge,
                limit=worst[1],
                percent=percent,
                mechanical=(phrase("choose"), (operation,)),
            )
        else:
            book.add(
                "nothing-fits",
                place,
                wire=w.label,
                gauge=w.gauge,
                family=w.family,
                limit=worst[1],
                percent=percent,
                would_do=_would_do(result, i, w.area_mm2, worst),
            )


def _would_do(result: WireResult, i: int, area_mm2: float, worst: tuple[float, str]) -> Phrase:
    """The copper that would hold, and a family made that large."""
    need = area_mm2 * min(worst[0], 99.0) ** (1.0 if worst[1] in ("drop", "strength") else 1.4)
    asked = max(float(result.tables.heating_a[i]), 0.0)
    larger = [
        (size.area_mm2, family.code, size.gauge)
        for family in result.families.values()
        if family.general and family.construction == "single"
        for size in family.sizes
        if size.area_mm2 >= need
    ]
    if not larger:
        return phrase("split", need=format_area(need))
    _, code, gauge = min(larger)
    return phrase("larger", need=format_area(need), asked=f"{asked:.3g} A", such_as=f"{code} {gauge}")


def _drops(document: Document, circuits: CircuitsResult, result: WireResult, book: FindingBook) -> None:
    stated = {loop.load: loop for loop in circuits.loops}
    for loop in result.loops.values():
        device_id = stated[loop.load].device
        load = document.circuits.loads.get(loop.load)
        name = called("device", device_id)
        place = Place("circuits", "load", loop.load) if load else Place("circuits", "device", device_id)
        if loop.drop_v > loop.limit_v * SAID_OVER:
            book.add(
                "drop-over-limit",
                place,
                *(Place("wire", "wire", k) for k in loop.wires[:6]),
                load=name,
                drop=f"{told_apart(loop.drop_v, loop.limit_v, 2)} V",
                percent=told_apart(loop.drop_percent, loop.limit_percent),
                limit=loop.limit_source.partition(",")[0],
            )
        if load is not None and load.least_v is not None and loop.least_gets_v < load.least_v:
            book.add(
                "brown-out",
                place,
                load=name,
                gets=f"{told_apart(loop.least_gets_v, load.least_v, 2)} V",
                least=f"{load.least_v:g} V",
                supply=f"{stated[loop.load].least_supply_v:g} V",
            )
    power = [
        loop for n, loop in enumerate(circuits.loops) if n in result.starved and loop.load in result.loops
    ]
    if power:
        book.add(
            "supply-collapses",
            *(Place("circuits", "device", loop.device) for loop in power[:6]),
            loads=list_in_words([called("device", loop.device) for loop in power[:6]]),
        )


def _at_peaks(document: Document, result: WireResult, book: FindingBook) -> None:
    """What browns out while a load is at its peak, itself or its neighbours."""
    by_peak: dict[tuple[str, ...], list[BrownOut]] = {}
    for brown_out in result.brown_outs:
        by_peak.setdefault(brown_out.peaks, []).append(brown_out)
    told: set[str] = set()
    for peaks, hit in sorted(by_peak.items(), key=lambda kv: len(kv[0])):
        if len(peaks) > 1 and {h.load for h in hit} <= told:
            continue  # one of them alone does it
        told |= {h.load for h in hit}
        loads = [document.circuits.loads[p] for p in peaks]
        book.add(
            "brown-out-at-peak",
            *(Place("circuits", "load", p) for p in peaks[:4]),
            *(Place("circuits", "device", h.device) for h in hit[:6]),
            load=list_in_words([called("device", load.device) for load in loads]),
            takes=phrase("takes" if len(peaks) == 1 else "take"),
            peak=format_current(hit[0].peak_a),
            hit=[
                phrase(
                    "itself" if (h.load,) == peaks else "gets",
                    device=called("device", h.device),
                    gets=f"{h.gets_v:.2f} V",
                    needs=f"{h.needs_v:g}",
                )
                for h in hit[:6]
            ],
        )


def _heat(
    document: Document,
    catalogue: Catalogue,
    sections: list[Section],
    result: WireResult,
    book: FindingBook,
) -> None:
    units = document.brief.measures
    in_bundles, placement, table = result.tables.in_bundles, result.tables.placement, result.tables.free.table
    marine_only = result.tables.free.methods == ("marine",)
    told: dict[str | None, int] = {}
    hot = in_bundles.heat.core_c > in_bundles.limit_c + TOO_HOT_K
    for n in np.nonzero(hot & (in_bundles.counts > 1) & (placement.ambient_c < in_bundles.limit_c))[
        0
    ].tolist():
        # Of the stretches of one branch, the one that is most over.
        key = placement.branch[n] or placement.point[n]
        over = in_bundles.heat.core_c - in_bundles.limit_c
        if key not in told or over[n] > over[told[key]]:
            told[key] = n
    for n in told.values():
        branch, point = placement.branch[n], placement.point[n]
        book.add(
            "branch-too-hot" if not marine_only else "branch-hot-by-balance",
            Place("route", "branch", branch) if branch is not None else Place("route", "point", point or ""),
            branch=placement.name(document, n),
            core=format_temperature(float(in_bundles.heat.core_c[n]), units, float(in_bundles.limit_c[n])),
            rated=format_temperature(float(in_bundles.limit_c[n]), units),
            wires=str(int(in_bundles.counts[n])),
        )
    # Air that leaves a wire nothing to carry is told once, of its zone.
    picked = (
        result.tables.free.chains.index[np.arange(len(sections)), result.tables.chosen]
        if sections
        else result.tables.chosen
    )
    bare = table.free_air_a[placement.air[placement.bundle], picked[placement.wire]] <= 0
    zones: dict[tuple[str | None, str], int] = {}
    for row in np.nonzero(bare)[0].tolist():
        code = table.families[int(table.family_of[picked[placement.wire[row]]])].code
        zones.setdefault((placement.zone[int(placement.bundle[row])], code), row)
    for (zone, code), row in zones.items():
        ambient, radiant = placement.airs[int(placement.air[placement.bundle[row]])]
        rating = result.families[code].temperature_c
        good = (
            stands_air(known_families(document, catalogue).values(), ambient) if ambient >= rating else None
        )
        book.add(
            "zone-too-hot",
            Place("brief", "zone", zone or ""),
            what=phrase("wire", family=code),
            rated=format_temperature(rating, units),
            such_as=phrase("such as", good=good.code) if good else "",
            zone=document.brief.zones[zone].name if zone else phrase("harness"),
            ambient=format_temperature(ambient, units),
            shines=phrase("shines", radiant=f"{radiant:g}") if radiant > 0 else "",
        )


def _insulation(
    document: Document,
    brief: BriefResult,
    role_of: dict[str, Role],
    volts: dict[str, float],
    threaded: Threaded,
    as_made: MadeWires,
    book: FindingBook,
) -> None:
    used: dict[str, list[str]] = {}
    fixed_by = document.wire.fixed
    for key, wire in as_made.wires.items():
        used.setdefault(wire.family, []).append(key)
    primary = [
        key for key, wire in as_made.wires.items()
        if role_of[wire.circuit] == "ignition" and as_made.families[wire.family].construction != "ignition"
    ]  # fmt: skip
    if primary:
        book.add(
            "ignition-in-primary",
            *(Place("wire", "wire", k) for k in primary[:6]),
            wires=list_in_words([as_made.wires[k].label for k in primary[:6]]),
            family=as_made.wires[primary[0]].family,
        )
    for code, keys in used.items():
        family = as_made.families[code]
        if document.brief.practice == "aviation" and not family.burn_rated and not document.wire.burn_reason:
            good = next((f.code for f in as_made.families.values() if f.burn_rated and f.general), "")
            path = pointer(["wire", "family"])
            mechanical = (
                (phrase("make", good=good), ({"op": "replace", "path": path, "value": good},))
                if code == brief.family and good
                else None
            )
            book.add(
                "no-burn-rating",
                Place("wire", "wire", keys[0]),
                mechanical=mechanical,
                family=f"{code} ({family.insulation})",
                wires=str(len(keys)),
            )
        supply = max((volts.get(as_made.wires[k].circuit, 0.0) for k in keys), default=0.0)
        if supply > family.voltage_v:
            book.add(
                "insulation-voltage",
                Place("wire", "wire", keys[0]),
                family=code,
                rated=f"{family.voltage_v:g} V",
                volts=f"{supply:g} V",
            )
        keys = [k for k in keys if as_made.size(k).solid]
        moved = moving_wires(document, threaded.zones, (threaded.sections[k] for k in keys))
        shaken = [k for k in keys if k in moved]
        # A shaped run may be meant so: the reason stands with the wire.
        shaken = [
            k for k in shaken if not (k in fixed_by and fixed_by[k].family and fixed_by[k].reason.strip())
        ]
        if shaken and brief.value("solid_where_it_moves") < 1:
            book.add(
                "solid-in-motion",
                *(Place("wire", "wire", k) for k in shaken[:6]),
                wires=list_in_words([as_made.wires[k].label for k in shaken[:6]]),
                family=code,
            )


SENSORS_OWN_A = 0.1
"""What sensors on one return may draw themselves before it counts as power (common practice)."""


def _sensor_returns(
    document: Document, circuits: CircuitsResult, route: RouteResult, result: WireResult, book: FindingBook
) -> None:
    """Power current in a circuit that a sensor measures against."""
    devices = document.circuits.devices
    for circuit_id in circuits.circuits:
        tree = route.trees.get(circuit_id)
        if tree is None or circuits.circuits[circuit_id].carries_a <= 0.001:
            continue
        ends = document.circuits.circuits[circuit_id].ends
        sensors = [
            ref for ref in ends
            if devices[(d := read_ref(ref)).device].pins[d.pin].role == "sensor_return"
        ]  # fmt: skip
        if not sensors:
            continue
        crossing = [
            loop for loop in circuits.loops if any(c.circuit == circuit_id for c in (*loop.feed, *loop.back))
        ]
        own = all(loop.back and loop.back[0].from_pin in sensors for loop in crossing)
        if own and circuits.circuits[circuit_id].carries_a <= SENSORS_OWN_A:
            continue  # what the sensors themselves draw
        worst, at, against = 0.0, "", ""
        for ref in sensors:
            for other in ends:
                volts = sum(result.wires[k].loss_v for k, _ in tree.between(ref, other))
                if other != ref and volts > worst:
                    worst, at, against = volts, ref, other
        device = devices[device_of(at)] if at else None
        reads = (
            f"{worst * 1000 / device.slope_mv:.3g} {device.slope_unit}" if device and device.slope_mv else ""
        )
        if worst > 0.0005:
            book.add(
                "sensor-return-shared",
                Place("circuits", "circuit", circuit_id),
                Place("ends", "pin", at),
                circuit=called("circuit", circuit_id),
                pin=at,
                against=against,
                millivolts=f"{worst * 1000:.0f} mV",
                reads=phrase("reads", as_if=reads.rstrip()) if reads else "",
            )
