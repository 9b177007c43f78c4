"""Loads that are alike wired alike: rows that are to be of one size."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from inkthread.core.circuits import CircuitsResult
from inkthread.core.document.types import Document
from inkthread.core.physics.conductor import IntArray
from inkthread.core.route import RouteResult
from inkthread.core.wire.families import Chains

_ALIKE = 1.25
"""Loads of which one lies at most so many times as far as the other are wired alike (house rule)."""


def equal_loads(
    document: Document, circuits: CircuitsResult, route: RouteResult, chains: Chains
) -> list[IntArray]:
    """Rows of wires that lead to equal loads of one kind and to nothing else, feeds and returns apart."""
    order = list(route.sections)
    at = {key: i for i, key in enumerate(order)}
    fixed = {key for key, choice in document.wire.fixed.items() if choice.gauge is not None}
    leads_to: dict[str, list[str]] = {}
    for n, loop in enumerate(circuits.loops):
        rows, _ = route.flow.of_loop(n)
        for row in rows[rows < len(at)].tolist():
            leads_to.setdefault(order[row], []).append(loop.load)
    alike: dict[tuple[object, ...], list[tuple[float, list[int]]]] = {}
    for loop in circuits.loops:
        load = document.circuits.loads.get(loop.load)
        if load is None or load.current_a <= 0:
            continue
        device = document.circuits.devices[load.device]
        said = replace(load, order=0.0, device="")
        for half in (loop.feed, loop.back):
            own = {
                key
                for crossing in half
                for key in route.crossing_sections(crossing.circuit, crossing.from_pin, crossing.to_pin)
                if leads_to.get(key) == [loop.load] and key not in fixed
            }
            if own:
                length = sum(route.sections[k].length_mm for k in own)
                kind = (device.kind, repr(said), half is loop.feed, loop.source, len(own))
                alike.setdefault(kind, []).append((length, sorted(at[k] for k in own)))
    return [rows for members in alike.values() for rows in _of_about_one_length(members, chains)]


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
