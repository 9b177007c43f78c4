"""Whether protection protects: faults, peaks, and wire before the first fuse."""

from __future__ import annotations

import math
from collections import deque

import numpy as np

from inkthread.core.brief import BriefResult
from inkthread.core.catalogue import Catalogue
from inkthread.core.circuits import CircuitsResult, FuseFacts, Loop, SourceFacts
from inkthread.core.circuits.checks import CRANKING
from inkthread.core.circuits.curve import opens_within_s
from inkthread.core.circuits.feeds import may_go_without_fuse
from inkthread.core.circuits.fuses import made_as, smallest_fuse
from inkthread.core.document.pin_ref import device_of, read_ref
from inkthread.core.document.problems import pointer
from inkthread.core.document.types import Document
from inkthread.core.document.values import CONVERTING, PROTECTIVE
from inkthread.core.findings import FindingBook, Place, called, phrase
from inkthread.core.measures import format_current, format_length, format_temperature
from inkthread.core.physics.conductor import FloatArray, resistance_at_temperature
from inkthread.core.physics.short_time import ADIABATIC_LIMIT_S, Pulse, withstand_s
from inkthread.core.record import record
from inkthread.core.route import RouteResult
from inkthread.core.tolerances import FAR_BELOW, NO_OHM, SAID_OVER
from inkthread.core.wire.peaks import candidate_peak_c
from inkthread.core.wire.results import WireResult
from inkthread.core.words import list_in_words


@record
class Fault:
    """A short at a load's far end: what flows, by when its fuse has opened, what its wires stand."""

    load: str
    fuse: str
    current_a: float
    opens_s: float
    stands_s: float
    """Time that the thinnest of its fused wires stands that current, no heat leaving."""
    wire: str


def faults(
    document: Document, catalogue: Catalogue, circuits: CircuitsResult, result: WireResult
) -> dict[str, Fault]:
    """A short across every load with a fuse, by load."""
    by_load: dict[str, Fault] = {}
    tables = result.tables
    hot_ohm = hot_ohms(result).tolist()
    for loop in circuits.loops:
        drop = result.loops.get(loop.load)
        if drop is None or not loop.fuses or loop.load not in document.circuits.loads:
            continue
        fuse = circuits.fuses[loop.fuses[-1]]
        source = circuits.sources[loop.source]
        if fuse.part is None:
            continue
        ohm = sum(hot_ohm[tables.at[k]] for k in drop.wires)
        ohm += sum(tables.path_ohm.get(p, 0.0) for p in loop.paths)
        current_a = loop.supply_v / max(ohm + (source.internal_ohm or 0.0), NO_OHM)
        if source.limit_a is not None:
            current_a = min(current_a, source.limit_a)
        elif source.fault_a is not None:
            current_a = min(current_a, source.fault_a)
        opens = opens_within_s(catalogue.curves[fuse.part.curve], current_a, fuse.rating_a)
        behind = [
            k for k in drop.wires if result.tables.asked.fuse_single_a[result.tables.at[k]] > 0
        ] or list(drop.wires)
        thin = min(behind, key=lambda k: result.wires[k].area_mm2)
        sized = result.wires[thin]
        rating = result.families[sized.family].temperature_c
        final, _ = catalogue.fault_limits.of(result.families[sized.family])
        stands = withstand_s(
            max(current_a, FAR_BELOW), sized.area_mm2, min(sized.temperature_c, rating), final
        )
        by_load[loop.load] = Fault(loop.load, fuse.key, current_a, opens, stands, thin)
    return by_load


def hot_ohms(result: WireResult) -> FloatArray:
    """Resistance of every wire at its insulation's rating, ends included: a fault begins warm. (n,)."""
    tables, table = result.tables, result.tables.free.table
    rows = np.arange(len(tables.keys))
    chosen, ends = tables.chosen, tables.termination_ohm
    picked = tables.free.chains.index[rows, chosen] if len(rows) else rows
    warm = resistance_at_temperature(table.resistance_20c_ohm_per_m[picked], table.rating_c[picked])
    return np.asarray(
        ends + (tables.row_ohm[: len(rows)] - ends) * warm / tables.resistance_ohm_per_m[rows, chosen]
    )


def find_in_protection(
    document: Document,
    catalogue: Catalogue,
    brief: BriefResult,
    circuits: CircuitsResult,
    route: RouteResult,
    result: WireResult,
    book: FindingBook,
) -> None:
    """Checks that need both fuses and wires."""
    _loaded(document, catalogue, brief, circuits, result, book)
    _faults(document, catalogue, circuits, result, book)
    _interrupting(document, circuits, route, result, book)
    _peaks(document, circuits, result, book)
    _before_the_fuse(document, catalogue, brief, circuits, route, book)


def _loaded(
    document: Document,
    catalogue: Catalogue,
    brief: BriefResult,
    circuits: CircuitsResult,
    result: WireResult,
    book: FindingBook,
) -> None:
    """Fuses that carry more for good than the house rule lets them, as current really divides."""
    share = brief.value("fuse_load_share_percent") / 100
    for key, fuse in circuits.fuses.items():
        carries = result.fuse_heating_a.get(key, 0.0)
        holds = share * fuse.left
        largest = made_as(fuse.kind, catalogue)[-1].rating_a
        if carries <= fuse.rating_a * holds * SAID_OVER or (not fuse.fixed and fuse.rating_a >= largest):
            continue  # what no fuse is made for is told where ratings are chosen
        better = smallest_fuse(carries, holds, catalogue, fuse.kind)
        path = pointer(["circuits", "devices", fuse.device, "paths", fuse.path, "rating_a"])
        book.add(
            "fuse-below-load",
            Place("circuits", "device", fuse.device),
            mechanical=(
                (phrase("choose"), ({"op": "replace", "path": path, "value": None},)) if fuse.fixed else None
            ),
            fuse=fuse.called,
            rating=format_current(fuse.rating_a),
            load=format_current(carries, holds * fuse.rating_a),
            share=f"{holds * 100:.3g}",
            better=phrase("fit", larger=f"{better.rating_a:g} A") if better is not None else "",
        )
    for pin, source in circuits.sources.items():
        carries = result.fuse_heating_a.get(pin, 0.0)
        if source.fuse_a is not None and carries > source.fuse_a * share * SAID_OVER:
            book.add(
                "feed-over-its-fuse",
                Place("circuits", "device", source.device),
                feed=called("device", source.device),
                rating=format_current(source.fuse_a),
                load=format_current(carries, share * source.fuse_a),
                share=f"{share * 100:.3g}",
            )


def _faults(
    document: Document,
    catalogue: Catalogue,
    circuits: CircuitsResult,
    result: WireResult,
    book: FindingBook,
) -> None:
    loops = {loop.load: loop for loop in reversed(circuits.loops)}
    for load, fault in faults(document, catalogue, circuits, result).items():
        fuse = circuits.fuses[fault.fuse]
        source = circuits.sources[fuse.source] if fuse.source else None
        limited = source is not None and source.limit_a is not None and source.kind != "alternator"
        loop = loops[load]
        fuse_name = fuse.called
        load_name = called("device", loop.device)
        rating, short = format_current(fuse.rating_a), format_current(fault.current_a)
        place = Place("circuits", "device", fuse.device)
        if fault.opens_s > ADIABATIC_LIMIT_S:
            if not limited:
                never = math.isinf(fault.opens_s)
                book.add(
                    "fault-too-weak",
                    place,
                    *([Place("circuits", "load", load)] if load in document.circuits.loads else []),
                    fuse=fuse_name,
                    rating=rating,
                    load=load_name,
                    amps=short,
                    seconds=phrase("never") if never else phrase("within", seconds=f"{fault.opens_s:.0f} s"),
                )
        elif (
            fault.stands_s < fault.opens_s
            and not result.tables.free.ambient_above_rating[result.tables.at[fault.wire]]
        ):
            book.add(
                "fault-melts-wire",
                place,
                Place("wire", "wire", fault.wire),
                wire=result.wires[fault.wire].label,
                gauge=result.wires[fault.wire].gauge,
                stands=f"{fault.stands_s:.2f} s",
                opens=f"{fault.opens_s:.2f} s",
                fuse=fuse_name,
                load=load_name,
                amps=short,
            )


def first_behind(circuits: CircuitsResult) -> dict[str, Loop]:
    """Fuse to the first loop that it protects."""
    first: dict[str, Loop] = {}
    for loop in circuits.loops:
        for fuse in loop.fuses:
            first.setdefault(fuse, loop)
    return first


def fault_at_fuse_a(
    circuits: CircuitsResult,
    route: RouteResult,
    result: WireResult,
    fuse: FuseFacts,
    loop: Loop | None,
    hot_ohm: FloatArray,
) -> float | None:
    """Current in A of a short just behind a fuse, or None where the source's is not known. ``loop`` is the
    first that the fuse protects, ``hot_ohm`` (n,) what every wire has where it is hot."""
    source = circuits.sources.get(fuse.source or "")
    if source is None or loop is None or source.fault_a is None:
        return None
    if source.limit_a is not None:
        return min(source.fault_a, source.limit_a) if source.kind != "alternator" else source.fault_a
    ohm = source.nominal_v / max(source.fault_a, FAR_BELOW)
    for crossing in loop.feed:
        if device_of(crossing.from_pin) == fuse.device:
            break
        rows = [result.tables.at[key] for key in route.threaded.crossing_sections(crossing)]
        ohm += float(hot_ohm[rows].sum())
    return source.nominal_v / ohm


def _interrupting(
    document: Document,
    circuits: CircuitsResult,
    route: RouteResult,
    result: WireResult,
    book: FindingBook,
) -> None:
    told: set[str] = set()
    behind, hot_ohm = first_behind(circuits), hot_ohms(result)
    for fuse in circuits.fuses.values():
        fault = fault_at_fuse_a(circuits, route, result, fuse, behind.get(fuse.key), hot_ohm)
        if fuse.part is None or fault is None or fault <= fuse.part.interrupt_a or fuse.device in told:
            continue
        told.add(fuse.device)
        source = circuits.sources[fuse.source or ""]
        book.add(
            "fuse-cannot-interrupt",
            Place("circuits", "device", fuse.device),
            fuse=fuse.called,
            source=called("device", source.device),
            fault=format_current(fault, fuse.part.interrupt_a),
            breaks=format_current(fuse.part.interrupt_a),
        )


def _peaks(document: Document, circuits: CircuitsResult, result: WireResult, book: FindingBook) -> None:
    """Wires of every load with a stated peak, from their working temperature, repeats and all."""
    for loop in circuits.loops:
        load = document.circuits.loads.get(loop.load)
        drop = result.loops.get(loop.load)
        if load is None or drop is None or load.peak_a is None or not load.peak_s:
            continue
        if load.peak_a <= load.current_a:
            continue
        hot: list[tuple[float, str]] = []
        for key in drop.wires:
            sized = result.wires[key]
            rating = result.families[sized.family].temperature_c
            current_a = sized.carries_a - load.current_a + load.peak_a
            pulse = Pulse(current_a, load.peak_s, load.peak_repeats, load.peak_pause_s)
            reached = peak_c(result, result.tables.at[key], key, pulse)
            if reached > rating + 0.5 and not result.tables.free.ambient_above_rating[result.tables.at[key]]:
                hot.append((reached, key))
        if hot:
            reached, worst = max(hot)
            sized = result.wires[worst]
            rating = result.families[sized.family].temperature_c
            book.add(
                "peak-too-hot",
                Place("circuits", "load", loop.load),
                *(Place("wire", "wire", k) for _, k in hot[:6]),
                load=called("device", loop.device),
                peak=format_current(load.peak_a),
                wire=sized.label,
                gauge=sized.gauge,
                reached=format_temperature(reached, document.brief.measures, rating),
                rated=format_temperature(rating, document.brief.measures),
            )


def peak_c(result: WireResult, i: int, key: str, pulse: Pulse) -> float:
    """Temperature in deg C that a wire reaches under pulses, from its working temperature."""
    sized = result.wires[key]
    table = result.tables.free.table
    air = int(result.tables.placement.hottest[i])
    candidate = int(result.tables.free.chains.index[i, int(result.tables.chosen[i])])
    return candidate_peak_c(table, air, candidate, sized.temperature_c, sized.carries_a, pulse)


def unprotected_mm(
    document: Document, circuits: CircuitsResult, route: RouteResult, source: SourceFacts
) -> dict[str, tuple[float, tuple[str, ...]]]:
    """Wire from a source to each pin that its current reaches without a fuse: its length, and which."""
    start = circuits.circuit_of.get(source.pin)
    if start is None:
        return {}
    reach: dict[str, tuple[float, tuple[str, ...]]] = {}
    queue: deque[tuple[str, str, float, tuple[str, ...]]] = deque([(start, source.pin, 0.0, ())])
    seen = {start}
    devices = document.circuits.devices
    while queue:
        circuit_id, entered, before, passed = queue.popleft()
        tree = route.trees.get(circuit_id)
        if circuits.circuits[circuit_id].role == "ground":
            continue
        for ref in document.circuits.circuits[circuit_id].ends:
            between = tree.between(entered, ref) if tree is not None else []
            so_far_mm = before + sum(
                route.sections[k].length_mm + route.sections[k].slack_mm for k, _ in between
            )
            keys = (*passed, *(k for k, _ in between))
            if ref != source.pin:
                reach[ref] = so_far_mm, keys
            device_id, pin = read_ref(ref)
            for inner in devices[device_id].paths.values():
                if inner.from_pin != pin or inner.kind in (*PROTECTIVE, *CONVERTING):
                    continue
                onward = circuits.circuit_of.get(f"{device_id}.{inner.to_pin}")
                if onward is not None and onward not in seen:
                    seen.add(onward)
                    queue.append((onward, f"{device_id}.{inner.to_pin}", so_far_mm, keys))
    return reach


def _unfused_limits_mm(
    document: Document, brief: BriefResult, route: RouteResult, source: SourceFacts, keys: tuple[str, ...]
) -> float:
    """How long wire may be before its first fuse: longer in a sheath, longest in one straight from a battery.

    ABYC E-11, from memory: 7 in, 40 in in a sheath or an enclosure, 72 in in one from the battery's terminal.
    """
    branches = document.route.branches
    sheathed = keys and all(branches[b].sheath != "none" for k in keys for b in route.sections[k].branches)
    if not sheathed:
        return brief.value("unprotected_mm")
    from_battery = source.kind == "battery" and all(
        branches[b].sheath == "sheath" for k in keys for b in route.sections[k].branches
    )
    longest = brief.value("unprotected_battery_mm") if from_battery else 0.0
    return max(brief.value("unprotected_mm"), brief.value("unprotected_sheathed_mm"), longest)


def _before_the_fuse(
    document: Document,
    catalogue: Catalogue,
    brief: BriefResult,
    circuits: CircuitsResult,
    route: RouteResult,
    book: FindingBook,
) -> None:
    units = document.brief.measures
    for source in circuits.sources.values():
        if source.limit_a is not None or source.fuse_a is not None:
            continue
        if may_go_without_fuse(document, catalogue, brief, source):
            continue
        limits: dict[str, float] = {}
        far: dict[str, float] = {}
        for ref, (mm, keys) in unprotected_mm(document, circuits, route, source).items():
            limit_mm = _unfused_limits_mm(document, brief, route, source, keys)
            if mm > limit_mm and document.circuits.devices[device_of(ref)].kind != CRANKING:
                far[ref], limits[ref] = mm, limit_mm
        if not far:
            continue
        worst = max(far, key=lambda r: far[r])
        limit = limits[worst]
        book.add(
            "unprotected-too-long",
            Place("circuits", "device", source.device),
            *(Place("ends", "pin", r) for r in sorted(far, key=lambda r: -far[r])[:4]),
            source=called("device", source.device),
            pins=list_in_words(sorted(far)[:5]),
            length=format_length(far[worst], units),
            limit=format_length(limit, units),
        )


def overload_c(result: WireResult, key: str, rating_a: float, share: float) -> float:
    """Temperature in deg C of a wire where it lies, carrying a share of its fuse's rating for good.

    Its company stays as it is; what the wire alone would rise on top is added.
    """
    sized = result.wires[key]
    i = result.tables.at[key]
    table = result.tables.free.table
    row = table.row(
        int(result.tables.placement.hottest[i]),
        int(result.tables.free.chains.index[i, int(result.tables.chosen[i])]),
    )

    def alone(current_a: float) -> float:
        squares, temperatures = table.curves.current_squared_a2[row], table.curves.conductor_c[row]
        return float(np.interp(current_a**2, squares, temperatures))

    now = float(result.tables.heating_a[i])
    return sized.temperature_c + max(alone(rating_a * share) - alone(now), 0.0)
