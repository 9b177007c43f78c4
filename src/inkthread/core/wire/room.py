"""The wire room: gauge, colour, drop, temperature and governing limit of every wire."""

from __future__ import annotations

from typing import Any

import numpy as np

from inkthread.core.brief import BriefResult, drop_limit_v
from inkthread.core.catalogue import Catalogue, WireFamily, WireSize
from inkthread.core.circuits import CircuitsResult, Loop
from inkthread.core.document.load import pointer
from inkthread.core.document.types import Document
from inkthread.core.findings import FindingBook, Place
from inkthread.core.physics.conductor import FloatArray
from inkthread.core.physics.heat import conductor_temperature_c
from inkthread.core.quantity import (
    QuantityError,
    parse_gauge,
)
from inkthread.core.route import RouteResult, Section, SectionEnd
from inkthread.core.wire.checks import find_in_wires
from inkthread.core.wire.colours import choose_colours
from inkthread.core.wire.drop import DropProblem, IntArray, least_copper, loop_volts
from inkthread.core.wire.limits import LIMITS, EndFit, Judgement, SizeTable, end_fit, judge, size_table
from inkthread.core.wire.results import LoopDrop, Wire, WireResult


def end_text(document: Document, end: SectionEnd) -> str:
    """An end in words: ``P1-2 lift pump`` or ``splice at tail``."""
    if end.kind == "splice":
        if end.point in document.ends.connectors:
            return f"splice by {end.point}"
        return f"splice at {document.route.points[end.point].name or end.point}"
    device_id = end.id.partition(".")[0]
    device = document.circuits.devices[device_id]
    return f"{end.connector}-{end.cavity} {device.name or device_id}"


def wire_room(
    document: Document,
    catalogue: Catalogue,
    brief: BriefResult,
    circuits: CircuitsResult,
    route: RouteResult,
    book: FindingBook,
) -> WireResult:
    """Size, colour and judge every section of the route."""
    family = catalogue.wires[brief.family]
    sections = list(route.sections.values())
    keys = [s.key for s in sections]
    index = {k: i for i, k in enumerate(keys)}
    ambients = tuple(
        sorted({s.ambient_c for s in sections} | {route.hottest[b][0] for s in sections for b in s.branches})
    ) or (brief.value("default_ambient_c"),)
    ambient_at = {a: i for i, a in enumerate(ambients)}
    ambient_index = np.array([ambient_at[s.ambient_c] for s in sections], dtype=np.intp)
    table = size_table(family, ambients)
    current = np.array([s.current_a for s in sections], dtype=float)

    loops, loop_rows = _loop_rows(circuits, route, index)
    fuse_single, fuse_sum = _fuses_on(circuits, loop_rows, loops, sections)
    fits = _fits(document, catalogue, family, sections)
    judgement = judge(
        table,
        ambient_index,
        current,
        fuse_single,
        fuse_sum,
        brief.value("bundle_share"),
        brief.value("least_area_mm2"),
        fits,
    )
    resistance, temperature = _working(table, ambient_index, current)
    joints = _joints(document, catalogue, sections)
    length_m = np.array([(s.length_mm + s.slack_mm) / 1000 for s in sections], dtype=float)
    volts = current[:, None] * (resistance * length_m[:, None] + joints[:, None])
    copper = table.area_mm2[None, :] * (length_m[:, None] * 1000)

    lowest, highest, stuck, fixed = _bounds(document, judgement, keys, family, book)
    limits = [
        drop_limit_v(brief, document, catalogue, document.circuits.loads[x.load].service) for x in loops
    ]
    problem = DropProblem(
        volts, copper, lowest, highest, loop_rows, np.array([v for v, _ in limits], dtype=float)
    )
    chosen = least_copper(problem)
    lost = loop_volts(problem, chosen) if loop_rows else np.zeros(0)
    drop_ratio, worst_loop = _drop_ratios(problem, chosen, lost)

    colours = choose_colours(document, catalogue, family, circuits, route)
    wires: dict[str, Wire] = {}
    rows = np.arange(len(keys))

    def at(matrix: FloatArray) -> FloatArray:
        return np.asarray(matrix[rows, chosen])

    ratios = (
        np.stack(
            [
                at(judgement.current),
                at(drop_ratio),
                at(judgement.fuse),
                at(judgement.strength),
                at(judgement.ends),
            ],
            axis=1,
        )
        if keys
        else np.zeros((0, 5))
    )
    governs = _governs(judgement, drop_ratio, chosen)
    supply = document.brief.supply_working_v
    worst_v = lost[worst_loop] * (worst_loop >= 0) if loop_rows else np.zeros(len(keys))
    figures = zip(
        sections,
        chosen.tolist(),
        governs,
        np.round(np.where(np.isfinite(ratios), ratios, 99.0), 4).tolist(),
        np.round(current, 6).tolist(),
        np.round(at(volts), 6).tolist(),
        np.round(worst_v, 6).tolist(),
        np.round(worst_v / supply * 100, 4).tolist(),
        np.round(at(temperature), 2).tolist(),
        strict=True,
    )
    text_of: dict[str, str] = {}
    for i, (s, n, governing, limits_here, carries, loss, drop, percent, hot) in enumerate(figures):
        size = family.sizes[n]
        choice = document.wire.fixed.get(s.key)
        colour = colours.get(s.circuit, "")
        if choice is not None and choice.colour is not None:
            colour = choice.colour
        for end in (s.a, s.b):
            if end.id not in text_of:
                text_of[end.id] = end_text(document, end)
        wires[s.key] = Wire(
            s.key,
            s.label,
            s.circuit,
            text_of[s.a.id],
            text_of[s.b.id],
            family.code,
            size.gauge,
            size.area_mm2,
            size.od_mm,
            size.conductor_diameter_mm,
            colour,
            carries,
            tuple(limits_here),
            governing,
            i in fixed,
            loss,
            drop,
            percent,
            hot,
            s.ambient_c,
        )
    loop_drops = {
        loop.load: LoopDrop(
            loop.load,
            round(float(lost[k]), 6),
            round(float(lost[k]) / supply * 100, 4),
            limits[k][0],
            limits[k][1],
            tuple(keys[i] for i in loop_rows[k].tolist()),
        )
        for k, loop in enumerate(loops)
    }
    result = WireResult(
        wires,
        loop_drops,
        {},
        {},
        table,
        keys,
        chosen,
        judgement,
        drop_ratio,
        resistance,
        joints,
        fuse_single,
        fuse_sum,
    )
    _branches(sections, wires, route, result)
    find_in_wires(document, family, route, sections, result, stuck, fixed, book)
    return result


def _loop_rows(
    circuits: CircuitsResult, route: RouteResult, index: dict[str, int]
) -> tuple[list[Loop], list[IntArray]]:
    """The loops whose every crossing has been threaded, and the rows of their sections."""
    loops: list[Loop] = []
    rows: list[IntArray] = []
    for loop in circuits.loops:
        crossed: list[int] = []
        whole = True
        for crossing in (*loop.feed, *loop.back):
            between = route.crossing_sections(crossing.circuit, crossing.from_pin, crossing.to_pin)
            whole = whole and bool(between)
            crossed += [index[k] for k in between]
        if whole and crossed:
            loops.append(loop)
            rows.append(np.array(crossed, dtype=np.intp))
    return loops, rows


def _fuses_on(
    circuits: CircuitsResult, loop_rows: list[IntArray], loops: list[Loop], sections: list[Section]
) -> tuple[FloatArray, FloatArray]:
    """Rating of the one fuse protecting each wire, or the sum of those feeding a shared return."""
    single = np.zeros(len(sections))
    shared: dict[int, set[str]] = {}
    feeding: dict[int, bool] = {}
    for i, s in enumerate(sections):
        fuse = circuits.circuits[s.circuit].fuse
        if fuse is not None:
            single[i] = circuits.fuses[fuse].rating_a
            feeding[i] = True
    for loop, rows in zip(loops, loop_rows, strict=True):
        if not loop.fuses:
            continue
        back = {c.circuit for c in loop.back}
        for i in rows.tolist():
            if sections[i].circuit in back and i not in feeding:
                shared.setdefault(i, set()).add(loop.fuses[-1])
    total = np.zeros(len(sections))
    for i, fuses in shared.items():
        ratings = [circuits.fuses[f].rating_a for f in fuses]
        if len(ratings) == 1:
            single[i] = ratings[0]
        else:
            total[i] = sum(ratings)
    return single, total


def _fits(
    document: Document, catalogue: Catalogue, family: WireFamily, sections: list[Section]
) -> list[tuple[EndFit, ...]]:
    cache: dict[tuple[str, str, str | None], EndFit] = {}
    fits: list[tuple[EndFit, ...]] = []
    for s in sections:
        pair: list[EndFit] = []
        for end in (s.a, s.b):
            if end.connector is None:
                continue
            c = document.ends.connectors[end.connector]
            key = (c.family, c.contact_gender, c.stud)
            if key not in cache:
                cache[key] = end_fit(family, catalogue.connectors[c.family], c.contact_gender, c.stud)
            pair.append(cache[key])
        fits.append(tuple(pair))
    return fits


def _working(table: SizeTable, ambient_index: Any, current: FloatArray) -> tuple[FloatArray, FloatArray]:
    """Resistance in ohm/m at working temperature, and that temperature, shapes (n, s)."""
    n, s = len(current), len(table.area_mm2)
    temperature = np.empty((n, s))
    for a in range(len(table.ambients_c)):
        here = np.nonzero(ambient_index == a)[0]
        for size in range(s):
            temperature[here, size] = conductor_temperature_c(table.curves, table.row(a, size), current[here])
    resistance = table.resistance_20c[None, :] * (1 + 0.00393 * (temperature - 20))
    return resistance, temperature


def _joints(document: Document, catalogue: Catalogue, sections: list[Section]) -> FloatArray:
    """Contact resistance in ohm at both ends of each wire; a splice counts as its smallest size."""
    splice = catalogue.splices[0].resistance_mohm / 1000
    by_connector = {
        k: catalogue.connectors[c.family].contact_resistance_mohm / 1000
        for k, c in document.ends.connectors.items()
    }
    return np.array(
        [sum(by_connector[e.connector] if e.connector else splice for e in (s.a, s.b)) for s in sections],
        dtype=float,
    )


def _bounds(
    document: Document,
    judgement: Judgement,
    keys: list[str],
    family: WireFamily,
    book: FindingBook,
) -> tuple[IntArray, IntArray, set[int], set[int]]:
    """Lowest and highest size index of each wire; which fit nowhere; which are fixed."""
    ok = (judgement.current <= 1) & (judgement.fuse <= 1) & (judgement.strength <= 1) & ~judgement.too_small
    top = len(family.sizes) - 1
    whole = ok & ~judgement.too_large
    lowest = (
        np.where(
            whole.any(axis=1),
            whole.argmax(axis=1),
            np.where(ok.any(axis=1), ok.argmax(axis=1), top),
        )
        if keys
        else np.zeros(0, dtype=np.intp)
    )
    stuck = {int(i) for i in np.nonzero(~ok.any(axis=1))[0]} if keys else set()
    if keys:
        fits = ~judgement.too_large
        largest_fit = np.where(fits.any(axis=1), top - fits[:, ::-1].argmax(axis=1), top)
        highest = np.maximum(lowest, largest_fit)
    else:
        highest = np.zeros(0, dtype=np.intp)
    # Where only the ends ask for more than the family has, the best fit is nearer than the largest.
    for i in stuck:
        electric = (judgement.current[i] <= 1) & (judgement.fuse[i] <= 1) & (judgement.strength[i] <= 1)
        if electric.any():
            first = int(electric.argmax())
            lowest[i] = first + int(judgement.ends[i, first:].argmin())
            highest[i] = lowest[i]
    fixed: set[int] = set()
    index = {k: i for i, k in enumerate(keys)}
    for key, choice in document.wire.fixed.items():
        place = Place("wire", "wire", key)
        remove = ("Let the program choose.", ({"op": "remove", "path": pointer(["wire", "fixed", key])},))
        if key not in index:
            book.add("fixed-orphan", place, wire=key, mechanical=remove)
            continue
        if choice.gauge is None:
            continue
        found = next((n for n, s in enumerate(family.sizes) if _same_gauge(s, choice.gauge)), None)
        if found is None:
            book.add(
                "fixed-unknown", place, wire=key, value=choice.gauge, family=family.code, mechanical=remove
            )
            continue
        i = index[key]
        lowest[i] = highest[i] = found
        fixed.add(i)
        stuck.discard(i)
    return lowest.astype(np.intp), highest.astype(np.intp), stuck, fixed


def _same_gauge(size: WireSize, text: str) -> bool:
    if size.gauge == text:
        return True
    try:
        return size.gauge == parse_gauge(text).name
    except QuantityError:
        return False


def _drop_ratios(problem: DropProblem, chosen: IntArray, lost: FloatArray) -> tuple[FloatArray, IntArray]:
    """Worst drop over limit with each wire at each size (others as chosen), and its loop's row."""
    n, s = problem.volts.shape
    ratio = np.zeros((n, s))
    worst = np.full(n, -1, dtype=np.intp)
    worst_now = np.full(n, -1.0)
    if not problem.loops:
        return ratio, worst
    rows = np.concatenate(problem.loops)
    loop_at = np.repeat(np.arange(len(problem.loops)), [len(x) for x in problem.loops])
    here = problem.volts[rows, chosen[rows]]
    with_size = (lost[loop_at] - here)[:, None] + problem.volts[rows]
    each = with_size / problem.limits_v[loop_at][:, None]
    np.maximum.at(ratio, rows, each)
    now = lost[loop_at] / problem.limits_v[loop_at]
    order = np.argsort(now, kind="stable")
    worst[rows[order]] = loop_at[order]
    worst_now[rows[order]] = now[order]
    return ratio, worst


def _governs(judgement: Judgement, drop_ratio: FloatArray, chosen: IntArray) -> list[str]:
    """The limit that the next smaller size fails, worst first; the fullest at the smallest size."""
    n = len(chosen)
    if n == 0:
        return []
    rows = np.arange(n)
    below = np.maximum(chosen - 1, 0)
    stack = np.stack(
        [
            judgement.current[rows, below],
            drop_ratio[rows, below],
            judgement.fuse[rows, below],
            judgement.strength[rows, below],
            np.where(judgement.too_small[rows, below], judgement.ends[rows, below], 0.0),
        ],
        axis=1,
    )
    return [LIMITS[k] for k in stack.argmax(axis=1)]


def _branches(
    sections: list[Section], wires: dict[str, Wire], route: RouteResult, result: WireResult
) -> None:
    """Hottest conductor of every branch, in that branch's own air, and its bundle estimate.

    The estimate is the circle whose area is the wires' over 0.75 (area bound, estimated).
    """
    table = result.table
    ambient_at = {a: n for n, a in enumerate(table.ambients_c)}
    squares: dict[str, float] = {}
    lying: dict[int, tuple[list[float], list[str]]] = {}
    for i, s in enumerate(sections):
        od_squared = wires[s.key].od_mm ** 2
        for b in s.branches:
            squares[b] = squares.get(b, 0.0) + od_squared
            row = table.row(ambient_at[route.hottest[b][0]], int(result.chosen[i]))
            currents, branches = lying.setdefault(row, ([], []))
            currents.append(s.current_a)
            branches.append(b)
    hottest = result.branch_hottest_c
    for row, (currents, branches) in lying.items():
        found = conductor_temperature_c(table.curves, row, np.array(currents)).tolist()
        for b, temperature in zip(branches, found, strict=True):
            if temperature > hottest.get(b, -273.0):
                hottest[b] = round(temperature, 2)
    for b, square in squares.items():
        result.branch_bundle_mm[b] = round(float(np.sqrt(square / 0.75)), 2)
