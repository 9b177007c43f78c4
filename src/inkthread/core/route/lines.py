"""The typed line of the route room: ``tail 310 > left 250 > M1``, fast enough for under a machine."""

from __future__ import annotations

import re
from typing import Any

from inkthread.core.document.draft import Draft, LineError, free_id, next_order
from inkthread.core.document.types import Units
from inkthread.core.quantity import QuantityError, parse_length_mm


def route_line(plain: dict[str, Any], text: str) -> Draft:
    """Operations that put a typed run into the route. Raises LineError.

    Each step is a point (new or known), perhaps words for its name, and the length to the next.
    A point named as a connector takes that connector. A length between two points that are already
    joined is measured anew.
    """
    steps = [step.strip() for step in text.split(">")]
    if len(steps) < 2:
        raise LineError("A run has at least two points. Write B1 300 > tail 250 > M1.")
    if any(not step for step in steps):
        raise LineError("There is nothing between two >. Write B1 300 > tail 250 > M1.")
    units: Units = plain["brief"].get("units", "metric")
    draft = Draft(plain)
    previous: str | None = None
    length = 0.0
    for position, step in enumerate(steps):
        point, name, typed = _split(step)
        if position < len(steps) - 1 and not typed:
            raise LineError(f"How far is it from {point} to {steps[position + 1]!r}? Write {point} 300.")
        if position == len(steps) - 1 and typed:
            raise LineError(f"{typed!r} leads nowhere: write > and the point it reaches.")
        point = _point(draft, point, name)
        if previous is not None:
            _branch(draft, previous, point, length)
        if typed:
            try:
                length = parse_length_mm(typed, units)
            except QuantityError as error:
                raise LineError(str(error)) from None
            if length <= 0:
                raise LineError(f"The length after {point} is zero. Measure it, or leave the point out.")
        previous = point
    return draft


def _split(step: str) -> tuple[str, str, str]:
    """Point, words of its name, and the typed length at the end."""
    words = step.split()
    point = words[0]
    if not re.fullmatch(r"[A-Za-z0-9][A-Za-z0-9_+\-]{0,39}", point):
        raise LineError(f"{point!r} cannot be a point's name. Use letters, digits, - or _.")
    rest = words[1:]
    start = next((n for n, w in enumerate(rest) if w[0].isdigit() or w[0] in ".½¼¾⅛⅜⅝⅞-"), len(rest))
    return point, " ".join(rest[:start]), " ".join(rest[start:])


def _point(draft: Draft, token: str, name: str) -> str:
    points = draft.at("route", "points")
    connectors = draft.at("ends", "connectors")
    connector = connectors.get(token)
    if token not in points and connector is not None and connector["point"] is not None:
        return str(connector["point"])
    if token not in points:
        device = draft.at("circuits", "devices").get(token)
        name = name or (device["name"] if device is not None else "")
        draft.put({"order": next_order(points), "name": name}, "route", "points", token)
    elif name and points[token]["name"] != name:
        draft.put(name, "route", "points", token, "name")
    if connector is not None and connector["point"] is None:
        draft.put(token, "ends", "connectors", token, "point")
    return token


def _branch(draft: Draft, a: str, b: str, length_mm: float) -> None:
    if a == b:
        raise LineError(f"A branch from {a} to itself has no length.")
    branches = draft.at("route", "branches")
    for branch_id, branch in branches.items():
        if {branch["from_point"], branch["to_point"]} == {a, b}:
            draft.put(length_mm, "route", "branches", branch_id, "length_mm")
            return
    if _joined(branches, a, b):
        raise LineError(f"{a} and {b} are joined already: a second way would close a loop.")
    draft.put(
        {
            "order": next_order(branches),
            "from_point": a,
            "to_point": b,
            "length_mm": length_mm,
            "measured": "tape",
            "zone": None,
            "slack_mm": None,
        },
        "route",
        "branches",
        free_id("R", branches),
    )


def _joined(branches: dict[str, Any], a: str, b: str) -> bool:
    near: dict[str, list[str]] = {}
    for branch in branches.values():
        near.setdefault(branch["from_point"], []).append(branch["to_point"])
        near.setdefault(branch["to_point"], []).append(branch["from_point"])
    seen, stack = {a}, [a]
    while stack:
        for other in near.get(stack.pop(), ()):
            if other not in seen:
                seen.add(other)
                stack.append(other)
    return b in seen
