"""Loads that are alike wired alike: rows that are to be of one size."""

from __future__ import annotations

import numpy as np

from inkthread.core.circuits import CircuitsResult, Ways
from inkthread.core.document.only import only
from inkthread.core.document.types import Document, Load
from inkthread.core.memo import Memo
from inkthread.core.physics.conductor import IntArray
from inkthread.core.record import altered
from inkthread.core.route import Flow, RouteResult, Threaded
from inkthread.core.wire.families import Chains

_ALIKE = 1.25
"""Loads of which one lies at most so many times as far as the other are wired alike (house rule)."""


def equal_loads(
    document: Document, circuits: CircuitsResult, route: RouteResult, chains: Chains, memo: Memo
) -> list[IntArray]:
    """Rows of wires that lead to equal loads of one kind and to nothing else, feeds and returns apart."""
    loads, devices = document.circuits.loads, document.circuits.devices
    own = memo.get(_own_wires, only(document, "wire"), route.threaded, circuits.ways, route.flow)
    stated = [*loads.values()]
    said = memo.row_by_row(
        equal_loads,
        tuple(loads),
        (stated,),
        lambda rows: (_said(stated[i]) for i in rows),
    )
    alike: dict[tuple[object, ...], list[tuple[float, list[int]]]] = {}
    for loop, halves in zip(circuits.loops, own, strict=True):
        load = loads.get(loop.load)
        if load is None or load.current_a <= 0:
            continue
        for half, (length_mm, rows) in enumerate(halves):
            if rows:
                kind = (devices[load.device].kind, said[loop.load], half, loop.source, len(rows))
                alike.setdefault(kind, []).append((length_mm, rows))
    return [rows for members in alike.values() for rows in _of_about_one_length(members, chains)]


def _said(load: Load) -> str:
    """All that is said of a load but whose it is, its modes in no order."""
    return repr(altered(load, order=0.0, device="", modes=dict(sorted(load.modes.items()))))


def _own_wires(
    document: Document, threaded: Threaded, ways: Ways, flow: Flow
) -> list[list[tuple[float, list[int]]]]:
    """Of every loop's feed and return, how long in mm the wires are that lead to its load and nowhere else,
    and their rows."""
    sections = list(threaded.sections.values())
    at = {key: i for i, key in enumerate(threaded.sections)}
    loops_at: dict[int, list[int]] = {}
    for n, i in zip(flow.loop.tolist(), flow.row.tolist(), strict=True):
        loops_at.setdefault(i, []).append(n)
    fixed = {key for key, choice in document.wire.fixed.items() if choice.gauge is not None}
    own: list[list[tuple[float, list[int]]]] = []
    for n, (feed, back, _, _) in enumerate(ways):
        of_loop = []
        for half in (feed, back):
            keys = {
                key
                for crossing in half
                for key in threaded.crossing_sections(crossing)
                if loops_at.get(at[key]) == [n] and key not in fixed
            }
            rows = sorted(at[k] for k in keys)
            of_loop.append((sum(sections[i].length_mm for i in rows), rows))
        own.append(of_loop)
    return own


def _of_about_one_length(members: list[tuple[float, list[int]]], chains: Chains) -> list[IntArray]:
    alike: list[IntArray] = []
    members = sorted(members)
    while members:
        near = [m for m in members if m[0] <= members[0][0] * _ALIKE]
        members = members[len(near) :]
        for rows in zip(*(m[1] for m in near), strict=True):
            same = [r for r in rows if (chains.index[r] == chains.index[rows[0]]).all()]
            if len(same) > 1:
                alike.append(np.array(same, dtype=np.intp))
    return alike
