"""Currents by walking from sources along the paths that devices declare."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import replace

import numpy as np

from inkthread.core.brief import drop_limit_v, served_as
from inkthread.core.circuits.charging import charging_loops
from inkthread.core.circuits.checks import find_in_circuits
from inkthread.core.circuits.crossed import what_is_crossed
from inkthread.core.circuits.facts import (
    CircuitFacts,
    CircuitsResult,
    Loop,
    Ways,
    most_drawn_a,
)
from inkthread.core.circuits.feeds import find_in_feeds
from inkthread.core.circuits.fuses import fuse_paths, raise_for_inrush, rate_fuses
from inkthread.core.circuits.network import Hop, Network
from inkthread.core.circuits.walker import Walker
from inkthread.core.circuits.walks import Walks, walk_all
from inkthread.core.context import Context
from inkthread.core.document.only import only
from inkthread.core.document.types import Document, Load
from inkthread.core.document.values import PROTECTIVE
from inkthread.core.findings import FindingBook, Place, called

_WIRED = ("circuits.devices", "circuits.circuits", "circuits.sources", "circuits.modes", "circuits.future_in")


def circuits_room(context: Context, named: Document, book: FindingBook) -> CircuitsResult:
    """Walk from every source along declared paths to every load, and back.

    ``named`` says what fuses are called.
    """
    document, catalogue, brief = context.document, context.catalogue, context.brief
    result, net = _worked_out(context, named, book)
    _one_ended(document, net, book)
    find_in_circuits(document, catalogue, net, result, context.memo, book)
    find_in_feeds(document, catalogue, brief, net, result, context.memo, book)
    return result


def currents_in(context: Context, book: FindingBook) -> CircuitsResult:
    """The same without looking for what is wrong; ``book`` is told of what cannot be."""
    return _worked_out(context, context.document, book)[0]


def _worked_out(context: Context, named: Document, book: FindingBook) -> tuple[CircuitsResult, Network]:
    document, catalogue, brief = context.document, context.catalogue, context.brief
    wired = only(document, *_WIRED)
    walks = context.memo.get(walk_all, wired, book.checks)
    book.entries += walks.findings

    def limit_v(load: Load | None, supply_v: float) -> float:
        served = served_as(document, catalogue, load)
        return drop_limit_v(brief, document, catalogue, served, supply_v)[0]

    limited_by = brief, catalogue, document.brief, document.circuits.devices
    walker = Walker(document, walks, limit_v, limited_by, context.memo, book)
    for load_id, load in document.circuits.loads.items():
        if load.current_a == 0:
            book.add(
                "load-not-stated", Place("circuits", "load", load_id), load=called("device", load.device)
            )
    loops = walker.all_loops()
    loops += context.memo.get(charging_loops, wired, walks.net, walks.sources)
    loops = _with_alternatives(loops, walker, walks, book)
    drawn_a = most_drawn_a(loops, walks.modes)
    ways = tuple((loop.feed, loop.back, loop.paths, loop.studs) for loop in loops)
    crossed = context.memo.get(what_is_crossed, ways, walks.meshes)
    through = crossed.through_paths_a(drawn_a)
    placed = only(named, "circuits.devices", "ends")
    paths = context.memo.get(fuse_paths, placed, brief)
    fuses = rate_fuses(paths, catalogue, brief, through, feed_sources(loops), book)
    fuses = raise_for_inrush(document, catalogue, fuses, loops)
    carried_a = crossed.into_circuits_a(drawn_a)
    fuse_of = context.memo.get(_protecting_fuses, walks)
    roles, behind = list(walks.role_of.values()), [fuse_of[c] for c in walks.role_of]
    carries_a = [carried_a.get(c, 0.0) for c in walks.role_of]
    result = CircuitsResult(
        context.memo.row_by_row(
            CircuitFacts,
            tuple(walks.role_of),
            (roles, behind, np.array(carries_a, dtype=float)),
            lambda rows: (CircuitFacts(roles[i], behind[i], carries_a[i]) for i in rows),
            telling=True,
        ),
        loops,
        fuses,
        walks.sources,
        walks.modes,
        walks.net.circuit_of,
        walks.meshes,
        walks.live,
        context.memo.get(_volts, walks, ways, tuple(loop.supply_v for loop in loops)),
        walks.role_of,
        ways,
        drawn_a,
    )
    return result, walks.net


def _one_ended(document: Document, net: Network, book: FindingBook) -> None:
    shields = {g.shield for g in document.circuits.groups.values()}
    for circuit_id, circuit in net.circuits.items():
        if len(circuit.ends) == 1 and circuit_id not in shields:
            book.add(
                "circuit-one-end",
                Place("circuits", "circuit", circuit_id),
                circuit=called("name_of_circuit", circuit_id),
                pin=next(iter(circuit.ends)),
            )


def _volts(walks: Walks, ways: Ways, supply_v: tuple[float, ...]) -> dict[str, float]:
    """Circuit to the working voltage of the highest source that can reach it; ``supply_v`` by loop."""
    volts: dict[str, float] = {}
    for source in walks.sources.values():
        for circuit_id in source.spread:
            volts[circuit_id] = max(volts.get(circuit_id, 0.0), source.nominal_v)
    for (feed, back, *_), of_loop_v in zip(ways, supply_v, strict=True):
        for crossing in (*feed, *back):
            if walks.role_of[crossing.circuit] != "ground":
                volts[crossing.circuit] = max(volts.get(crossing.circuit, 0.0), of_loop_v)
    return volts


def _with_alternatives(loops: list[Loop], walker: Walker, walks: Walks, book: FindingBook) -> list[Loop]:
    """Where another battery can take over, or another switched way, its loops too: instead of the first."""
    quiet = FindingBook(book.checks)
    sets = [loops]
    known = {_paths_told(loops)}
    charging = _paths_told([loop for loop in loops if loop.charging])
    for other in range(1, len(walks.others) + 1):
        loops_then = walker.instead(other, quiet).all_loops()
        told = _paths_told(loops_then)
        if loops_then and told | charging not in known and told not in known:
            known.add(told)
            sets.append(loops_then)
    if len(sets) == 1:
        return loops
    count, width = len(sets), len(walks.modes)
    return [
        replace(
            loop,
            alternative=a,
            mode_fraction=(0.0,) * (a * width) + loop.mode_fraction + (0.0,) * ((count - 1 - a) * width),
        )
        for a, of_one in enumerate(sets)
        for loop in of_one
    ]


def _paths_told(loops: Iterable[Loop]) -> frozenset[tuple[str, str, tuple[str, ...]]]:
    return frozenset((loop.load, loop.source, loop.paths) for loop in loops)


def feed_sources(loops: Iterable[Loop]) -> dict[str, str]:
    """Fuse to the source pin its loads are fed from."""
    source_of: dict[str, str] = {}
    for loop in loops:
        for fuse in loop.fuses:
            source_of.setdefault(fuse, loop.source)
    return source_of


def _protecting_fuses(walks: Walks) -> dict[str, str | None]:
    """Circuit to the nearest protection on its way from the source."""
    return {circuit_id: _protecting_fuse(circuit_id, walks.feed) for circuit_id in walks.role_of}


def _protecting_fuse(circuit_id: str, feed: dict[str, Hop]) -> str | None:
    hop = feed.get(circuit_id)
    while hop is not None and hop.across is not None:
        device_id, path_id, inner = hop.across
        if inner.kind in PROTECTIVE:
            return f"{device_id}.{path_id}"
        hop = feed.get(hop.circuit) if hop.circuit else None
    return None
