"""How the ways of a connector come to lie in other places: mirrored, turned, counted from the wrong end."""

from __future__ import annotations

import math
from collections.abc import Mapping
from typing import Literal

from inkthread.core.catalogue import Face

Misplaced = Literal["mirrored", "reversed", "turned by 180 degrees", "shifted by one", "out of order"]
OUT_OF_ORDER: Misplaced = "out of order"
Rearranged = Literal[
    "mirrored", "reversed", "turned by 180 degrees", "shifted by one", "rows exchanged", "rows turned"
]
_AS_WHOLE: tuple[Misplaced, ...] = ("mirrored", "turned by 180 degrees", "reversed", "shifted by one")
_IN_A_ROW: tuple[Misplaced, ...] = ("reversed", "shifted by one")
_SAME_MM = 0.3


def _ways(face: Face) -> list[tuple[Rearranged, dict[str, str]]]:
    """Where each way would lie, by how it is misplaced; empty where the face has no place for it."""
    names, place = list(face.cavities), face.cavities

    def at(x: float, y: float) -> str:
        nearest = min(names, key=lambda n: math.dist(place[n], (x, y)))
        return nearest if math.dist(place[nearest], (x, y)) < _SAME_MM else ""

    rows: dict[float, list[str]] = {}
    for name in names:
        rows.setdefault(round(place[name][1], 2), []).append(name)
    along = [sorted(row, key=lambda n: place[n][0]) for row in rows.values()]
    kinds: list[tuple[Rearranged, dict[str, str]]] = [
        ("mirrored", {n: at(-place[n][0], place[n][1]) for n in names}),
        ("turned by 180 degrees", {n: at(-place[n][0], -place[n][1]) for n in names}),
        ("reversed", {n: names[len(names) - 1 - i] for i, n in enumerate(names)}),
        ("shifted by one", {n: names[(i + 1) % len(names)] for i, n in enumerate(names)}),
        ("shifted by one", {n: names[i - 1] for i, n in enumerate(names)}),
        ("rows exchanged", {n: at(place[n][0], -place[n][1]) for n in names}),
        ("rows turned", {n: row[(i + 1) % len(row)] for row in along for i, n in enumerate(row)}),
        ("rows turned", {n: row[i - 1] for row in along for i, n in enumerate(row)}),
    ]
    return kinds


def rearranged(face: Face) -> list[tuple[Rearranged, dict[str, str]]]:
    """Where each way of a face would lie, were it filled from the wrong side, end or row.

    Mirrored is left for right, turned half a turn, reversed the last for the first. Those alike come once,
    by the first word; those that the face has no place for not at all.
    """
    one_each: list[tuple[Rearranged, dict[str, str]]] = []
    for word, where in _ways(face):
        whole = "" not in where.values() and any(a != b for a, b in where.items())
        if whole and all(where != other for _, other in one_each):
            one_each.append((word, where))
    return one_each


def how_misplaced(face: Face, landed: Mapping[str, str]) -> Misplaced | None:
    """What has become of the ways: ``landed`` says where each way of one half meets in the other.

    None where way n meets way n. Mirrored is left for right; reversed is the last for the first;
    turned is half a turn of the face.
    """
    if all(a == b for a, b in landed.items()):
        return None
    ways = _ways(face)
    # In a single row, half a turn, mirrored and reversed are one thing.
    one_row = len({round(y, 2) for _, y in face.cavities.values()}) == 1
    words = _IN_A_ROW if one_row else _AS_WHOLE
    return next(
        (word for word in words for name, where in ways
         if name == word and all(where[a] == b for a, b in landed.items())),
        OUT_OF_ORDER,
    )  # fmt: skip
