"""The wire room: family, gauge, colour, drop, temperature and governing limit of every wire."""

from __future__ import annotations

import numpy as np

from inkthread.core.circuits import CircuitsResult
from inkthread.core.context import Context
from inkthread.core.document.only import only
from inkthread.core.document.types import Document
from inkthread.core.findings import FindingBook
from inkthread.core.physics.conductor import FloatArray
from inkthread.core.route import RouteResult, Threaded
from inkthread.core.wire.as_chosen import hottest_by_branch_c, ratios_as_told, wires_as_chosen
from inkthread.core.wire.bounds import Bounds
from inkthread.core.wire.brown_out import brown_outs
from inkthread.core.wire.checks import find_in_wires
from inkthread.core.wire.colours import choose_colours
from inkthread.core.wire.drop_inputs import loop_limit, path_ohms
from inkthread.core.wire.heating import fuse_heating_a
from inkthread.core.wire.limits import ratios_at
from inkthread.core.wire.loop_drops import drop_ratios, loop_drops, solve_loads
from inkthread.core.wire.made import make_wires
from inkthread.core.wire.results import WireResult, WireTables
from inkthread.core.wire.set_out import SetOut, end_texts, set_out
from inkthread.core.wire.settled import settle_sizes

_SET_OUT = (
    "route", "ends", "wire", "circuits.circuits", "circuits.groups", "circuits.devices", "dress.covers",
)  # fmt: skip


_ENDS = "route.points", "ends.connectors", "circuits.devices"


def wire_room(
    context: Context, named: Document, circuits: CircuitsResult, route: RouteResult, book: FindingBook
) -> WireResult:
    """Size, colour and judge every section of the route. ``named`` says what its ends are called."""
    result, bounds = size_and_judge(context, named, circuits, route, book)
    find_in_wires(context, circuits, route, result, bounds, book)
    return result


def limit_ratios(context: Context, circuits: CircuitsResult, route: RouteResult, out: SetOut) -> FloatArray:
    """What is asked of every wire over what is allowed, (n, limits), made as the one candidate of each that
    is left in ``out``."""
    document, catalogue, brief = context.document, context.catalogue, context.brief
    limits = [loop_limit(document, catalogue, brief, loop) for loop in circuits.loops]
    path_ohm = path_ohms(document, brief, circuits, context.memo)
    settled = settle_sizes(context, circuits, route, out, path_ohm, limits, FindingBook(catalogue.checks))
    row_ohm = np.concatenate([settled.ohm[:, 0], settled.inner_ohm])
    nominal, _ = solve_loads(circuits, settled.flow, row_ohm)
    dropped, _ = drop_ratios(settled.flow, limits, nominal, settled.ohm, settled.chosen)
    return ratios_at(settled.judgement, dropped, settled.chosen)


def size_and_judge(
    context: Context, named: Document, circuits: CircuitsResult, route: RouteResult, book: FindingBook
) -> tuple[WireResult, Bounds]:
    """The same without looking for what is wrong; ``book`` is told of what cannot be made."""
    document, catalogue, brief = context.document, context.catalogue, context.brief
    sections = list(route.sections.values())
    keys = [s.key for s in sections]
    out = context.memo.get(set_out, only(document, *_SET_OUT), catalogue, brief, route.threaded, context.memo)
    path_ohm = path_ohms(document, brief, circuits, context.memo)
    limits = [loop_limit(document, catalogue, brief, loop) for loop in circuits.loops]
    settled = settle_sizes(context, circuits, route, out, path_ohm, limits, book)
    flow, chosen = settled.flow, settled.chosen
    rows = np.arange(len(keys))
    section_ohm = settled.ohm[rows, chosen] if keys else np.zeros(0)
    row_ohm = np.concatenate([section_ohm, settled.inner_ohm])
    nominal, least_supply = solve_loads(circuits, flow, row_ohm)
    drop_ratio, worst_loop = drop_ratios(flow, limits, nominal, settled.ohm, chosen)
    tables = WireTables(
        tuple(keys),
        {key: i for i, key in enumerate(keys)},
        out.families[brief.family],
        out.families,
        out.free,
        out.placement,
        settled.asked,
        settled.in_bundles,
        chosen,
        settled.judgement,
        drop_ratio,
        settled.resistance_ohm_per_m,
        out.termination_ohm,
        path_ohm,
        settled.asked.heating_a(chosen),
        settled.carried_a,
        out.twist[rows, chosen] if keys else np.ones(0),
        flow,
        row_ohm,
        out.cables,
    )
    loops = loop_drops(circuits, flow, limits, keys, row_ohm, nominal, least_supply)
    colours = choose_colours(context, circuits, route, tables)
    as_made = context.memo.get(
        make_wires,
        only(document, "wire", "circuits.groups"),
        route.threaded,
        out,
        chosen.astype(np.intp).tobytes(),
        colours,
        context.memo,
    )
    told = ratios_as_told(settled.judgement, drop_ratio, chosen)
    texts = context.memo.get(end_texts, only(named, *_ENDS), route.threaded)
    drawn_a = circuits.drawn_a
    inner_a = np.abs(flow.currents_a(drawn_a)[flow.sections :]).max(axis=1, initial=0.0)
    result = WireResult(
        wires_as_chosen(
            circuits,
            as_made,
            [s.ambient_c for s in sections],
            tables,
            told,
            loops,
            worst_loop,
            settled.bounds.fixed,
            texts,
            context.memo,
        ),
        told,
        as_made,
        loops,
        hottest_by_branch_c(tables),
        tables,
        settled.fewest,
        tuple(brown_outs(document, circuits, flow, row_ohm, least_supply)),
        tuple(np.nonzero(nominal.starved)[0].tolist()),
        settled.derating_by_connector,
        context.memo.get(_ends_of, route.threaded),
        dict(zip(flow.inner, inner_a.tolist(), strict=True)),
        fuse_heating_a(circuits, flow, drawn_a),
        texts,
        out,
    )
    return result, settled.bounds


def _ends_of(threaded: Threaded) -> dict[str, tuple[str, ...]]:
    """Wire to the device pins at its ends."""
    return {s.key: tuple(e.id for e in (s.a, s.b) if e.kind == "pin") for s in threaded.sections.values()}
