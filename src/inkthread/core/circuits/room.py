"""Currents by walking from sources along the paths that devices declare."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import replace

import numpy as np

from inkthread.core.brief import drop_limit_v, served_as
from inkthread.core.circuits.charging import charging_loops
from inkthread.core.circuits.checks import find_in_circuits
from inkthread.core.circuits.facts import (
    CircuitFacts,
    CircuitsResult,
    Loop,
    Mesh,
    most_drawn_a,
)
from inkthread.core.circuits.feeds import find_in_feeds
from inkthread.core.circuits.fuses import raise_for_inrush, rate_fuses
from inkthread.core.circuits.naming import named
from inkthread.core.circuits.network import Hop, Network
from inkthread.core.circuits.walker import Walker
from inkthread.core.circuits.walks import Walks, walk_all
from inkthread.core.context import Context
from inkthread.core.document.only import only
from inkthread.core.document.types import Document, Load
from inkthread.core.document.values import PROTECTIVE
from inkthread.core.findings import FindingBook, Place
from inkthread.core.physics.conductor import FloatArray

_WIRED = ("circuits.devices", "circuits.circuits", "circuits.sources", "circuits.modes", "circuits.future_in")


def circuits_room(context: Context, book: FindingBook) -> CircuitsResult:
    """Walk from every source along declared paths to every load, and back."""
    document, catalogue, brief = context.document, context.catalogue, context.brief
    result, net = _worked_out(context, book)
    _one_ended(document, net, book)
    find_in_circuits(document, catalogue, net, result, context.memo, book)
    find_in_feeds(document, catalogue, brief, net, result, context.memo, book)
    return result


def currents_in(context: Context, book: FindingBook) -> CircuitsResult:
    """The same without looking for what is wrong; ``book`` is told of what cannot be."""
    return _worked_out(context, book)[0]


def _worked_out(context: Context, book: FindingBook) -> tuple[CircuitsResult, Network]:
    document, catalogue, brief = context.document, context.catalogue, context.brief
    wired = only(document, *_WIRED)
    walks = context.memo.get(walk_all, wired, book.checks)
    book.entries += walks.findings

    def limit_v(load: Load | None, supply_v: float) -> float:
        served = served_as(document, catalogue, load)
        return drop_limit_v(brief, document, catalogue, served, supply_v)[0]

    walker = Walker(document, walks, walks.feed, walks.back, limit_v, context.memo, book)
    for load_id, load in document.circuits.loads.items():
        if load.current_a == 0:
            book.add("load-not-stated", Place("circuits", "load", load_id), load=named(document, load.device))
    loops = walker.all_loops()
    loops += charging_loops(document, walks.net, walks.sources)
    loops = _with_alternatives(loops, walker, walks, book)
    drawn_a = most_drawn_a(loops, walks.modes)
    through = path_currents_a(loops, walks.meshes, drawn_a)
    fuses = rate_fuses(document, catalogue, brief, through, feed_sources(loops), book)
    fuses = raise_for_inrush(document, catalogue, fuses, loops)
    carried_a = _carried_a(loops, drawn_a)
    fuse_of = context.memo.get(_protecting_fuses, walks)
    roles, behind = list(walks.role_of.values()), [fuse_of[c] for c in walks.role_of]
    carries_a = [carried_a.get(c, 0.0) for c in walks.role_of]
    result = CircuitsResult(
        context.memo.row_by_row(
            CircuitFacts,
            tuple(walks.role_of),
            (roles, behind, np.array(carries_a, dtype=float)),
            lambda rows: (CircuitFacts(roles[i], behind[i], carries_a[i]) for i in rows),
        ),
        loops,
        fuses,
        walks.sources,
        walks.modes,
        walks.net.circuit_of,
        walks.meshes,
        walks.live,
        _volts(walks, loops),
        walks.role_of,
    )
    return result, walks.net


def _one_ended(document: Document, net: Network, book: FindingBook) -> None:
    shields = {g.shield for g in document.circuits.groups.values()}
    for circuit_id, circuit in net.circuits.items():
        if len(circuit.ends) == 1 and circuit_id not in shields:
            book.add(
                "circuit-one-end",
                Place("circuits", "circuit", circuit_id),
                circuit=circuit.name or circuit_id,
                pin=next(iter(circuit.ends)),
            )


def _volts(walks: Walks, loops: list[Loop]) -> dict[str, float]:
    """Circuit to the working voltage of the highest source that can reach it."""
    volts: dict[str, float] = {}
    for source in walks.sources.values():
        for circuit_id in source.spread:
            volts[circuit_id] = max(volts.get(circuit_id, 0.0), source.nominal_v)
    for loop in loops:
        for crossing in (*loop.feed, *loop.back):
            if walks.role_of[crossing.circuit] != "ground":
                volts[crossing.circuit] = max(volts.get(crossing.circuit, 0.0), loop.supply_v)
    return volts


def _carried_a(loops: list[Loop], drawn_a: FloatArray) -> dict[str, float]:
    """What goes into each circuit by its pins, in the mode of most: modes that exclude each other are
    never added."""
    pins: dict[tuple[str, str], int] = {}
    at: list[int] = []
    of_loop: list[int] = []
    sign: list[float] = []
    for n, loop in enumerate(loops):
        for crossing in (*loop.feed, *loop.back):
            for pin, direction in ((crossing.from_pin, 1.0), (crossing.to_pin, -1.0)):
                at.append(pins.setdefault((crossing.circuit, pin), len(pins)))
                of_loop.append(n)
                sign.append(direction)
    put_in = np.zeros((len(pins), drawn_a.shape[1]))
    np.add.at(put_in, at, np.array(sign)[:, None] * drawn_a[of_loop])
    circuits = {c: k for k, c in enumerate(dict.fromkeys(c for c, _ in pins))}
    carried_a = np.zeros((len(circuits), drawn_a.shape[1]))
    np.add.at(carried_a, [circuits[c] for c, _ in pins], np.maximum(put_in, 0.0))
    return dict(zip(circuits, carried_a.max(axis=1, initial=0.0).tolist(), strict=True))


def _with_alternatives(loops: list[Loop], walker: Walker, walks: Walks, book: FindingBook) -> list[Loop]:
    """Where another battery can take over, or another switched way, its loops too: instead of the first."""
    quiet = FindingBook(book.checks)
    sets = [loops]
    known = {_paths_told(loops)}
    charging = _paths_told([loop for loop in loops if loop.charging])
    for other in walks.others:
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


def path_currents_a(loops: list[Loop], meshes: tuple[Mesh, ...], drawn_a: FloatArray) -> dict[str, float]:
    """The most that each path inside a device carries in any mode, by ``device.path``.

    Where ways lie side by side they are taken as alike: their wires are not known yet. The wire room
    says how current divides between them.
    """
    index: dict[str, int] = {}
    for loop in loops:
        for path in loop.paths:
            index.setdefault(path, len(index))
    for mesh in meshes:
        for path, _ in mesh.paths:
            index.setdefault(path, len(index))
    crossed = np.zeros((len(index), len(loops)))
    for n, loop in enumerate(loops):
        for path in loop.paths:
            crossed[index[path], n] += 1.0
    if meshes and index:
        round_ = np.zeros((len(index), len(meshes)))
        for k, mesh in enumerate(meshes):
            for path, weight in mesh.paths:
                round_[index[path], k] += weight
        crossed = crossed + round_ @ np.linalg.lstsq(round_, -crossed, rcond=None)[0]
    currents = np.abs(crossed @ drawn_a).max(axis=1, initial=0.0)
    return {path: float(currents[i]) for path, i in index.items()}


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
