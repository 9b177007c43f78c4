"""The wire room: family, gauge, colour, drop, temperature and governing limit of every wire."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from inkthread.core.brief import BriefResult
from inkthread.core.catalogue import Catalogue, WireFamily, WireSize
from inkthread.core.circuits import CircuitsResult
from inkthread.core.document.load import pointer
from inkthread.core.document.types import Document
from inkthread.core.findings import FindingBook, Place
from inkthread.core.memo import Memo
from inkthread.core.physics.conductor import FloatArray, IntArray
from inkthread.core.quantity import QuantityError, parse_gauge
from inkthread.core.route import Flow, RouteResult, Section, SectionEnd
from inkthread.core.wire import gather
from inkthread.core.wire.ampacity import deciding_methods
from inkthread.core.wire.brown_out import brown_outs
from inkthread.core.wire.bundle_ampacity import FreeAir, bundle_ampacity, free_air
from inkthread.core.wire.cables import CablePiece, cable_pieces, fixed_cores, tie, tie_bounds, tied_rows
from inkthread.core.wire.checks import find_in_wires
from inkthread.core.wire.choose import fewest_parts
from inkthread.core.wire.colours import choose_colours
from inkthread.core.wire.equal_loads import equal_loads
from inkthread.core.wire.families import (
    CandidateTable,
    Chains,
    build_chains,
    candidate_table,
    family_codes,
    known_families,
)
from inkthread.core.wire.limits import LIMITS, Asked, Judgement, judge, next_that_fits, worst_ends
from inkthread.core.wire.peaks import raise_for_peaks
from inkthread.core.wire.placement import WirePlacement, place_wires
from inkthread.core.wire.results import LoopDrop, Wire, WireResult
from inkthread.core.wire.sizing import size_wires
from inkthread.core.wire.solve import Solved, solve

_DIVISIONS_AT_MOST = 6
"""Turns in which sizes and the division of current between ways side by side are settled."""
_SETTLED_A = 0.02


def end_text(document: Document, end: SectionEnd) -> str:
    """An end in words: ``P1-2 lift pump`` or ``splice at tail``."""
    if end.kind == "open":
        return f"cut back at {end.id}"
    if end.kind != "pin":
        if end.point in document.ends.connectors:
            return f"{end.kind} by {end.point}"
        return f"{end.kind} at {document.route.points[end.point].name or end.point}"
    device_id = end.id.partition(".")[0]
    device = document.circuits.devices[device_id]
    way = _SIGN.get(end.cavity or "", f"-{end.cavity}")
    return f"{end.connector}{way} {device.name or device_id}"


_SIGN = {"+": " +", "-": " \N{MINUS SIGN}"}
"""Ways that are called by a sign, as they are read after their connector."""


@dataclass(frozen=True, slots=True)
class _SetOut:
    """Where the wires lie and what each may be made as, whatever they carry."""

    families: dict[str, WireFamily]
    free: FreeAir
    placement: WirePlacement
    least: FloatArray
    strength_mm2: FloatArray
    """(n, k): what every candidate counts as against its least size."""
    twist: FloatArray
    """(n, k): how much longer each candidate is for being twisted by hand."""
    joints: FloatArray
    texts: list[tuple[str, str]]
    """Both ends of each wire in words."""
    cables: tuple[CablePiece, ...]
    tied: tuple[IntArray, ...]
    """Rows of the cores of each piece of cable."""


_SET_OUT: Memo[_SetOut] = Memo()


def _set_out(
    document: Document,
    catalogue: Catalogue,
    brief: BriefResult,
    route: RouteResult,
    sections: list[Section],
) -> _SetOut:
    families = known_families(document, catalogue)
    lead = next((f.code for f in families.values() if f.construction == "ignition"), None)
    cables = cable_pieces(document, families, sections)
    cores = {key for piece in cables for key in piece.wires}
    multicore = {g for g, x in document.circuits.groups.items() if x.family and families[x.family].as_one}
    may_part = {c for g in multicore for c in document.circuits.groups[g].members}
    codes = [
        family_codes(
            document, brief.family, s.circuit, s.key, lead, alone=s.circuit in may_part and s.key not in cores
        )
        for s in sections
    ]
    in_play = tuple(dict.fromkeys([brief.family, *(c for of_wire in codes for c in of_wire)]))
    placement = place_wires(document, route, sections, brief.value("point_bundles") > 0)
    table = candidate_table(
        tuple(families[c] for c in in_play),
        placement.airs or ((brief.value("default_ambient_c"), 0.0),),
        document.brief.altitude_m,
    )
    chains = build_chains(table, codes, document.wire.choice)
    free = free_air(
        catalogue,
        table,
        chains,
        deciding_methods(document.brief.practice),
        placement,
        brief.value("marine_bundling") > 0,
    )
    least = gather.least_areas(document, brief, route, sections, families, codes)
    strength = gather.strength_areas_mm2_of(document, brief, route, sections, table, chains.index)
    twist = gather.twist_factors(document, catalogue, table, sections, chains)
    joints = gather.joint_ohms(document, catalogue, sections)
    said = {end.id: end_text(document, end) for s in sections for end in (s.a, s.b)}
    texts = [(said[s.a.id], said[s.b.id]) for s in sections]
    unequal = {
        p.group for p in cables if families[document.circuits.groups[p.group].family or ""].core_gauges
    }
    tied = tied_rows(cables, unequal, [s.key for s in sections], chains)
    return _SetOut(families, free, placement, least, strength, twist, joints, texts, cables, tied)


def wire_room(
    document: Document,
    catalogue: Catalogue,
    brief: BriefResult,
    circuits: CircuitsResult,
    route: RouteResult,
    book: FindingBook,
) -> WireResult:
    """Size, colour and judge every section of the route."""
    sections = list(route.sections.values())
    keys = [s.key for s in sections]
    c = document.circuits
    # The trees are kept with the threading: the same trees are the same sections.
    inputs = (route.trees, document.route, document.ends, document.wire, document.brief, c.circuits)
    out = _SET_OUT.get(
        (*inputs, c.groups, c.devices, catalogue),
        lambda: _set_out(document, catalogue, brief, route, sections),
    )
    families, free, placement, joints = out.families, out.free, out.placement, out.joints
    table, chains = free.table, free.chains
    path_ohm = gather.path_ohms(document, brief, circuits)
    inner_ohm = gather.inner_ohms(document, route.flow, path_ohm)
    along_m = np.array([(s.length_mm + s.slack_mm) / 1000 for s in sections], dtype=float)
    length_m = along_m[:, None] * out.twist
    limits = [gather.loop_limit(document, catalogue, brief, x) for x in circuits.loops]
    spent = {"lightest": table.mass_g_per_m, "cheapest": table.price_per_m}.get(
        document.wire.choice, table.area_mm2
    )[chains.index]
    drawn, flow = circuits.drawn_a(), route.flow
    tied = out.tied
    if brief.value("equal_loads") > 0:
        tied = (*tied, *equal_loads(document, circuits, route, chains))
    protection = gather.protection_on(document, catalogue, circuits, route, sections)
    strength = out.strength_mm2
    lowest = highest = np.zeros(0, dtype=np.intp)
    stuck: set[int] = set()
    fixed: set[int] = set()
    rows = np.arange(len(keys))
    for turn in range(_DIVISIONS_AT_MOST):
        heating = gather.heating_currents_a(circuits, flow, drawn, table, chains.index)
        asked = Asked(heating, protection.single_a, protection.sum_a, out.least, protection.ahead)
        carried = np.abs(flow.section_currents_a(drawn)).max(axis=1, initial=0.0)
        shares = gather.contact_shares(document, catalogue, route, sections, carried)
        fits = gather.end_fits(document, catalogue, table, sections, shares)
        ends = worst_ends(fits, chains.index, len(table.sizes))
        if turn == 0:
            first = judge(asked.unless(free.ambient_above_rating), free.free_a, free.free_a, strength, ends)
            load = dict(zip(keys, carried.tolist(), strict=True))
            cores = fixed_cores(document, catalogue, families, out.cables, route, load)
            lowest, highest, stuck, fixed = _bounds(document, first, keys, chains, table, cores, book)
            tie_bounds(lowest, highest, fixed, out.tied)
        onward = next_that_fits(ends, chains.length)
        onward = np.where(onward <= highest[:, None], onward, np.arange(onward.shape[1])[None, :])
        drops = gather.make_drops(circuits, flow, limits, inner_ohm, joints, length_m, spent)
        alone = gather.mean_alone_c(table.curves, chains, len(table.sizes), placement, heating)
        sized = size_wires(
            free, placement, asked, alone, drops.problem, lowest, highest, onward, catalogue, tied
        )
        chosen, in_bundles = sized.chosen, sized.in_bundles
        ohm = sized.resistance * length_m + joints[:, None]
        if flow.rounds is None or not keys:
            break
        # Where ways lie side by side, current divides by what they were made as.
        again = route.flow.divided(np.concatenate([ohm[rows, chosen], inner_ohm]))
        moved = np.abs(again.currents_a(drawn)).max(axis=1) - np.abs(flow.currents_a(drawn)).max(axis=1)
        flow, lowest = again, np.maximum(lowest, chosen)
        if float(np.abs(moved).max(initial=0.0)) < _SETTLED_A:
            break
    if raise_for_peaks(
        document, circuits, flow, carried, free, placement, chosen, highest, onward, in_bundles
    ):
        tie(chosen, tied, onward)
        in_bundles = bundle_ampacity(free, placement, chosen, asked.heating_a(chosen), catalogue)
    proof = None
    if document.wire.choice == "fewest parts" and keys:
        judged = judge(asked, in_bundles.allowed_a, free.free_a, strength, ends)
        proof = fewest_parts(chains, chosen, judged.passes() & ~judged.too_large, fixed, spent)
        chosen = proof.chosen
        tie(chosen, tied, onward)
        in_bundles = bundle_ampacity(free, placement, chosen, asked.heating_a(chosen), catalogue)
    judgement = judge(asked, in_bundles.allowed_a, free.free_a, strength, ends)
    section_ohm = ohm[rows, chosen] if keys else np.zeros(0)
    row_ohm = np.concatenate([section_ohm, inner_ohm])
    nominal, least_supply = _solve(circuits, flow, row_ohm)
    drop_ratio, worst_loop = _drop_ratios(flow, limits, nominal, ohm, chosen)

    result = WireResult(
        {}, {}, {}, families[brief.family], families, free, placement, asked, in_bundles, keys, chosen,
        judgement, drop_ratio, sized.resistance, joints, path_ohm, proof,
    )  # fmt: skip
    result.shares = shares
    result.cables = out.cables
    result.flow, result.row_ohm = flow, row_ohm
    result.heating_a = asked.heating_a(chosen)
    result.carried_a = carried
    result.twist = out.twist[rows, chosen] if keys else np.ones(0)
    result.fuse_heating_a = gather.fuse_heating_a(circuits, flow, drawn)
    result.through_a = {
        name: float(a)
        for name, a in zip(
            flow.inner, np.abs(flow.currents_a(drawn)[flow.sections :]).max(axis=1, initial=0.0), strict=True
        )
    }
    result.ends_of = {s.key: tuple(e.id for e in (s.a, s.b) if e.kind == "pin") for s in sections}
    result.brown_outs = tuple(brown_outs(document, circuits, flow, row_ohm, least_supply))
    result.starved = tuple(np.nonzero(nominal.starved)[0].tolist())
    _loops(circuits, flow, limits, keys, nominal, least_supply, result)
    governs = _governs(judgement, drop_ratio, chosen)
    names = [x.load for x in circuits.loops]
    _wires(
        document,
        catalogue,
        circuits,
        route,
        sections,
        governs,
        fixed,
        section_ohm,
        worst_loop,
        names,
        out.texts,
        result,
    )
    _hottest(result)
    find_in_wires(document, catalogue, brief, circuits, route, sections, result, stuck, fixed, book)
    return result


def _bounds(
    document: Document,
    judgement: Judgement,
    keys: list[str],
    chains: Chains,
    table: CandidateTable,
    cores: dict[str, str],
    book: FindingBook,
) -> tuple[IntArray, IntArray, set[int], set[int]]:
    """Lowest and highest place in each wire's chain; which fit nowhere; which are fixed.

    ``cores`` are wires whose gauge is that of a core as it is sold.
    """
    if not keys:
        none = np.zeros(0, dtype=np.intp)
        return none, none, set(), set()
    width = chains.index.shape[1]
    counts = np.arange(width)[None, :] < chains.length[:, None]
    ok = judgement.passes() & counts
    top = chains.length - 1
    whole = ok & ~judgement.too_large
    lowest = np.where(
        whole.any(axis=1), whole.argmax(axis=1), np.where(ok.any(axis=1), ok.argmax(axis=1), top)
    )
    stuck = {int(i) for i in np.nonzero(~ok.any(axis=1))[0]}
    fits = ~judgement.too_large & counts
    largest_fit = np.where(fits.any(axis=1), width - 1 - fits[:, ::-1].argmax(axis=1), top)
    # Another family is for currents the first cannot carry, not for a last tenth of a volt.
    kept = np.where(lowest < chains.first, chains.first - 1, top)
    highest = np.maximum(lowest, np.minimum(largest_fit, kept))
    # Where only the ends ask for more than the family has, the best fit is nearer than the largest.
    for i in stuck:
        last = int(top[i]) + 1
        electric = (
            (judgement.current[i, :last] <= 1)
            & (judgement.fuse[i, :last] <= 1)
            & (judgement.strength[i, :last] <= 1)
        )
        if electric.any():
            first = int(electric.argmax())
            lowest[i] = first + int(judgement.ends[i, first:last].argmin())
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
        i = index[key]
        chain = chains.index[i, : chains.length[i]].tolist()
        found = next((n for n, c in enumerate(chain) if _same_gauge(table.sizes[c], choice.gauge)), None)
        if found is None or (key in cores and table.sizes[chain[found]].gauge != cores[key]):
            made_in = sorted({table.families[int(table.family_of[c])].code for c in chain})
            book.add(
                "fixed-unknown",
                place,
                wire=key,
                value=choice.gauge,
                family=" or ".join(made_in),
                mechanical=remove,
            )
            continue
        lowest[i] = highest[i] = found
        fixed.add(i)
        stuck.discard(i)
    for key, gauge in cores.items():
        i = index[key]
        chain = chains.index[i, : chains.length[i]].tolist()
        lowest[i] = highest[i] = next(n for n, c in enumerate(chain) if table.sizes[c].gauge == gauge)
    return lowest.astype(np.intp), highest.astype(np.intp), stuck, fixed


def _same_gauge(size: WireSize, text: str) -> bool:
    if size.gauge == text:
        return True
    try:
        return size.gauge == parse_gauge(text).name
    except QuantityError:
        return False


def _solve(circuits: CircuitsResult, flow: Flow, row_ohm: FloatArray) -> tuple[Solved, Solved]:
    """What every load gets at the working and at the least supply.

    What charges helps the loads: neither is reckoned on top of the other.
    """
    loops, modes = circuits.loops, circuits.states
    shares = np.array([x.shares for x in loops], dtype=float).reshape(len(loops), modes)
    charging = np.array([[x.charging] for x in loops], dtype=bool).reshape(len(loops), 1)
    volts = np.array([[x.supply_v, x.least_supply_v] for x in loops], dtype=float).reshape(len(loops), 2)
    # Columns: loads and charging at the working supply, then both at the least.
    apart = [shares * ~charging, shares * charging] if charging.any() else [shares]
    found = solve(
        loops,
        flow,
        row_ohm,
        np.repeat(volts, modes * len(apart), axis=1),
        np.concatenate(apart * 2, axis=1),
    )

    def at(supply: int) -> Solved:
        first = supply * modes * len(apart)
        loads, charges = slice(first, first + modes), slice(first + modes, first + 2 * modes)
        if len(apart) == 1:
            charges = loads
        return Solved(
            np.where(charging, found.drop_v[:, charges], found.drop_v[:, loads]),
            np.where(charging, found.drawn_a[:, charges], found.drawn_a[:, loads]),
            found.row_a[:, loads],
            found.starved,
            found.row_a[:, charges] if len(apart) > 1 else None,
        )

    return at(0), at(1)


def _loops(
    circuits: CircuitsResult,
    flow: Flow,
    limits: list[tuple[float, str]],
    keys: list[str],
    nominal: Solved,
    least: Solved,
    result: WireResult,
) -> None:
    for n, loop in enumerate(circuits.loops):
        rows, share = flow.of_loop(n)
        wires = rows < flow.sections
        if not flow.whole[n] or not wires.any():
            continue
        running = [m for m, s in enumerate(loop.shares) if s > 0] or [0]
        m = max(running, key=lambda m: float(nominal.drop_v[n, m]))
        low = max(running, key=lambda m: float(least.drop_v[n, m]))
        drop = float(nominal.drop_v[n, m])
        before = result.loops.get(loop.load)
        if before is not None and before.drop_v >= drop:
            continue  # another battery feeds it over a longer way
        carried = nominal.row_a
        if loop.charging and nominal.charging_a is not None:
            carried = nominal.charging_a
        inside = float((carried[rows, m] * share * result.row_ohm[rows])[~wires].sum())
        result.loop_currents_a[loop.load] = (carried[rows[wires], m] * np.sign(share[wires])).tolist()
        result.loop_shares[loop.load] = np.abs(share[wires]).tolist()
        result.loops[loop.load] = LoopDrop(
            loop.load,
            round(drop, 6),
            round(drop / loop.supply_v * 100, 4),
            limits[n][0],
            limits[n][1],
            tuple(keys[i] for i in rows[wires].tolist()),
            round(float(nominal.drawn_a[n, m]), 6),
            round(loop.supply_v - drop, 4),
            round(loop.least_supply_v - float(least.drop_v[n, low]), 4),
            loop.supply_v,
            round(inside, 6),
        )


def _wires(
    document: Document,
    catalogue: Catalogue,
    circuits: CircuitsResult,
    route: RouteResult,
    sections: list[Section],
    governs: list[str],
    fixed: set[int],
    section_ohm: FloatArray,
    worst_loop: IntArray,
    whole: list[str],
    texts: list[tuple[str, str]],
    result: WireResult,
) -> None:
    judgement, chosen = result.judgement, result.chosen
    rows = np.arange(len(sections))
    ratios = np.stack(
        [
            m[rows, chosen] if len(sections) else np.zeros(0)
            for m in (
                judgement.current,
                result.drop_ratio,
                judgement.fuse,
                judgement.strength,
                judgement.ends,
            )
        ],
        axis=1,
    )
    hottest = result.placement.most_along(result.in_bundles.row_c)
    colours = choose_colours(document, catalogue, result, circuits, route)
    cores = {key: piece.group for piece in result.cables for key in piece.wires}
    grouped = {
        c: g
        for g, group in document.circuits.groups.items()
        if group.family is None or result.families[group.family].cores == 1
        for c in group.members
    }
    lists = zip(
        np.round(np.where(np.isfinite(ratios), ratios, 99.0), 4).tolist(),
        np.round(hottest, 2).tolist(),
        worst_loop.tolist(),
        section_ohm.tolist(),
        chosen.tolist(),
        result.carried_a.tolist(),
        strict=True,
    )
    for i, (s, (limits_here, hot, worst, ohm, k, carried)) in enumerate(zip(sections, lists, strict=True)):
        size, family = result.size_at(i, k), result.family_at(i, k)
        choice = document.wire.fixed.get(s.key)
        colour = colours.get(s.key, "")
        if choice is not None and choice.colour is not None:
            colour = choice.colour
        loop = result.loops.get(whole[worst]) if worst >= 0 else None
        result.wires[s.key] = Wire(
            s.key,
            s.label,
            s.circuit,
            *texts[i],
            family.code,
            size.gauge,
            size.area_mm2,
            size.od_mm,
            size.conductor_diameter_mm,
            colour,
            round(carried, 6),
            tuple(limits_here),
            governs[i],
            i in fixed,
            round(carried * ohm, 6),
            loop.drop_v if loop else 0.0,
            loop.drop_percent if loop else 0.0,
            hot,
            s.ambient_c,
            cores.get(s.key) or grouped.get(s.circuit),
        )


def _hottest(result: WireResult) -> None:
    """Hottest conductor of every branch that holds a wire."""
    placement = result.placement
    hottest = np.full(len(placement.branch), -np.inf)
    np.maximum.at(hottest, placement.bundle, result.in_bundles.row_c)
    for branch_id, value in zip(placement.branch, np.round(hottest, 2).tolist(), strict=True):
        if branch_id is not None and np.isfinite(value):
            result.branch_hottest_c[branch_id] = max(value, result.branch_hottest_c.get(branch_id, value))


def _drop_ratios(
    flow: Flow, limits: list[tuple[float, str]], solved: Solved, ohm: FloatArray, chosen: IntArray
) -> tuple[FloatArray, IntArray]:
    """Worst drop over limit with each wire at each candidate (others as chosen), and its loop.

    ``ohm`` (n, k) is each candidate with its joints. Every loop is taken in the mode it loses most.
    """
    n, width = ohm.shape
    ratio = np.zeros((n, width))
    worst = np.full(n, -1, dtype=np.intp)
    whole = np.array([bool(w) for w in flow.whole], dtype=bool)
    if not len(flow.loop) or not whole.any():
        return ratio, worst
    limit = np.array([v for v, _ in limits], dtype=float)
    mode = solved.drop_v.argmax(axis=1)
    drop = solved.drop_v[np.arange(len(mode)), mode]
    entries = whole[flow.loop] & (flow.row < flow.sections)
    loop, row, share = flow.loop[entries], flow.row[entries], flow.share[entries]
    current = np.maximum(solved.row_a[row, mode[loop]] * share, 0.0)
    change = (ohm[row] - ohm[row, chosen[row]][:, None]) * current[:, None]
    np.maximum.at(ratio, row, (drop[loop][:, None] + change) / limit[loop][:, None])
    order = np.argsort(drop[loop] / limit[loop], kind="stable")
    worst[row[order]] = loop[order]
    return ratio, worst


def _governs(judgement: Judgement, drop_ratio: FloatArray, chosen: IntArray) -> list[str]:
    """The limit that the next smaller candidate fails, worst first; the fullest at the smallest."""
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
