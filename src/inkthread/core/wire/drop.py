"""Least copper that keeps every loop within its drop limit.

Sections are raised one size at a time, always where the limit is worst and where a gram of copper
buys most; then every raised section is tried one size thinner, and pairs are exchanged, as long as
copper is saved and every loop still holds.
"""

from __future__ import annotations

import heapq
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from inkthread.core.physics.conductor import FloatArray

IntArray = npt.NDArray[np.intp]

_EXCHANGE_AT_MOST = 12
"""Raised sections tied together, above which exchanging pairs takes longer than it is worth."""


@dataclass(slots=True)
class DropProblem:
    """Volts lost by section and size, and which sections each load's loop crosses."""

    volts: FloatArray
    """(n, s): V lost in the section at each size."""
    copper: FloatArray
    """(n, s): mm3 of copper of the section at each size."""
    lowest: IntArray
    highest: IntArray
    loops: list[IntArray]
    limits_v: FloatArray


def loop_volts(problem: DropProblem, chosen: IntArray) -> FloatArray:
    """V lost around each loop for the chosen size of every section."""
    at = problem.volts[np.arange(len(chosen)), chosen]
    return np.array([at[loop].sum() for loop in problem.loops])


def least_copper(problem: DropProblem) -> IntArray:
    """Chosen size index of every section; loops that cannot be met are left at their best."""
    chosen = problem.lowest.copy()
    if not problem.loops:
        return chosen
    lost = loop_volts(problem, chosen)
    excess = lost - problem.limits_v
    worst = [(-(excess[k] / problem.limits_v[k]), k) for k in range(len(excess)) if excess[k] > 1e-12]
    if not worst:
        return chosen
    members: dict[int, list[int]] = {}
    for k, loop in enumerate(problem.loops):
        for i in loop.tolist():
            members.setdefault(i, []).append(k)
    loops_of = {i: np.array(ks) for i, ks in members.items()}
    heapq.heapify(worst)
    touched: set[int] = set()
    while worst:
        _, k = heapq.heappop(worst)
        if excess[k] <= 1e-12:
            continue
        best, best_worth = -1, 0.0
        for i in problem.loops[k].tolist():
            now = chosen[i]
            if now >= problem.highest[i]:
                continue
            saved = problem.volts[i, now] - problem.volts[i, now + 1]
            over = excess[loops_of[i]]
            gain = np.minimum(np.maximum(over, 0.0), saved).sum()
            worth = gain / max(problem.copper[i, now + 1] - problem.copper[i, now], 1e-12)
            if worth > best_worth:
                best, best_worth = i, worth
        if best < 0:
            continue
        now = chosen[best]
        saved = problem.volts[best, now] - problem.volts[best, now + 1]
        chosen[best] = now + 1
        touched.add(best)
        excess[loops_of[best]] -= saved
        if excess[k] > 1e-12:
            heapq.heappush(worst, (-(excess[k] / problem.limits_v[k]), k))
    _trim(problem, chosen, excess, loops_of, touched)
    return chosen


def _trim(
    problem: DropProblem,
    chosen: IntArray,
    excess: FloatArray,
    loops_of: dict[int, IntArray],
    touched: set[int],
) -> None:
    """Lower what can be lowered; exchange pairs (one up, another down further) that save copper."""

    def slack_of(i: int) -> float:
        return float(np.min(-excess[loops_of[i]]))

    def step(i: int, to: int) -> float:
        return float(problem.volts[i, to] - problem.volts[i, chosen[i]])

    def move(i: int, to: int) -> None:
        excess[loops_of[i]] += step(i, to)
        chosen[i] = to

    def lower_all() -> None:
        moved = True
        while moved:
            moved = False
            order = sorted(
                touched,
                key=lambda i: (
                    problem.copper[i, chosen[i] - 1] - problem.copper[i, chosen[i]]
                    if chosen[i] > problem.lowest[i]
                    else 0.0
                ),
            )
            for i in order:
                if chosen[i] > problem.lowest[i] and step(i, chosen[i] - 1) <= slack_of(i) + 1e-12:
                    move(i, int(chosen[i]) - 1)
                    moved = True

    def exchange(group: set[int]) -> None:
        """One up and others down, as long as copper is saved."""
        improved = True
        while improved:
            improved = False
            beside = {j for i in group for k in loops_of[i] for j in problem.loops[k].tolist()}
            for up in sorted(beside):
                if chosen[up] >= problem.highest[up]:
                    continue
                undo: list[tuple[int, int]] = [(up, int(chosen[up]))]
                gain = float(problem.copper[up, chosen[up]] - problem.copper[up, chosen[up] + 1])
                move(up, int(chosen[up]) + 1)
                for i in sorted(group - {up}):
                    while (
                        chosen[i] > problem.lowest[i] and step(i, int(chosen[i]) - 1) <= slack_of(i) + 1e-12
                    ):
                        gain += float(problem.copper[i, chosen[i]] - problem.copper[i, chosen[i] - 1])
                        undo.append((i, int(chosen[i])))
                        move(i, int(chosen[i]) - 1)
                if gain > 1e-9:
                    group.add(up)
                    improved = True
                else:
                    for i, before in reversed(undo):
                        move(i, before)

    lower_all()
    for group in _groups(problem, touched, loops_of):
        if len(group) <= _EXCHANGE_AT_MOST:
            exchange(group)


def _groups(problem: DropProblem, touched: set[int], loops_of: dict[int, IntArray]) -> list[set[int]]:
    """Raised sections, grouped by the loops that tie them to each other."""
    left = set(touched)
    groups: list[set[int]] = []
    while left:
        group: set[int] = set()
        stack = [min(left)]
        seen_loops: set[int] = set()
        while stack:
            i = stack.pop()
            if i in left:
                left.discard(i)
                group.add(i)
            for k in loops_of[i].tolist():
                if k not in seen_loops:
                    seen_loops.add(k)
                    stack += problem.loops[k].tolist()
        groups.append(group)
    return groups
