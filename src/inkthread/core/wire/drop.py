"""Least copper that keeps every loop within its drop limit.

Sections are raised one size at a time, always where the limit is worst and where a gram of copper
buys most; then every raised section is tried one size thinner, and pairs are exchanged, as long as
copper is saved and every loop still holds.
"""

from __future__ import annotations

import heapq
from dataclasses import dataclass

import numpy as np

from inkthread.core.memo import Memo
from inkthread.core.physics.conductor import FloatArray, IntArray
from inkthread.core.record import record
from inkthread.core.tolerances import FAR_BELOW, ROUNDING

_EXCHANGE_AT_MOST = 12
"""Raised sections tied together, above which exchanging pairs takes longer than it is worth."""
_HOLDS_V = 1e-12
"""A loop over its limit by no more holds: rounding."""
BEYOND = 0.02
"""Of what a loop that cannot be met could still gain, this much is left."""


@dataclass(slots=True)
class DropProblem:
    """Volts lost by section and size, and which sections each load's loop crosses."""

    volts: FloatArray
    """(n, s): V lost in the section at each size."""
    copper: FloatArray
    """(n, s): what the section spends at each size: mm3 of copper, or grams, or money."""
    lowest: IntArray
    highest: IntArray
    loops: list[IntArray]
    limits_v: FloatArray
    parts: list[FloatArray] | None = None
    """Of the volts in each section of a loop, the part that counts in that loop; all of it when absent.

    What charges a battery and what it feeds share wires, each with its own current.
    """
    end_to_end: EndToEnd | None = None
    """The same loops and parts, where they are laid end to end already."""


@record
class EndToEnd:
    """The sections of all loops, one loop behind the other."""

    sections: IntArray
    first: IntArray
    """By loop: where its sections begin."""
    part: FloatArray | None
    """Of the volts in each, the part that counts; all of it when absent."""

    @classmethod
    def of(cls, loops: list[IntArray], parts: list[FloatArray] | None) -> EndToEnd:
        """None of the loops may be empty."""
        if not loops:
            return cls(np.zeros(0, dtype=np.intp), np.zeros(0, dtype=np.intp), None)
        lengths = np.array([len(loop) for loop in loops])
        return cls(
            np.concatenate(loops),
            np.cumsum(lengths) - lengths,
            None if parts is None else np.concatenate(parts),
        )

    def summed(self, volts: FloatArray) -> FloatArray:
        """V around each loop, of V in each section."""
        if not len(self.first):
            return np.zeros(0)
        lost = volts[self.sections]
        return np.asarray(np.add.reduceat(lost if self.part is None else lost * self.part, self.first))


def loop_volts(problem: DropProblem, chosen: IntArray) -> FloatArray:
    """V lost around each loop for the chosen size of every section."""
    loops = problem.end_to_end or EndToEnd.of(problem.loops, problem.parts)
    return loops.summed(problem.volts[np.arange(len(chosen)), chosen])


def least_copper(problem: DropProblem, memo: Memo | None = None) -> IntArray:
    """Chosen size index of every section; loops that cannot be met are brought near their best."""
    memo = memo or Memo()
    chosen = problem.lowest.copy()
    if not problem.loops:
        return chosen
    # A loop that no size holds is brought as near as copper brings it, but for the last few grams.
    at_least = loop_volts(problem, problem.lowest)
    at_best = loop_volts(problem, problem.highest)
    beyond = at_best > problem.limits_v
    limits = np.where(beyond, at_best + BEYOND * (at_least - at_best), problem.limits_v)
    # A loop that holds at the thinnest, whatever is made thicker, asks for nothing.
    asks = np.nonzero(loop_volts(problem, _most_volts(problem)) - limits > _HOLDS_V)[0]
    excess = at_least - limits
    if not (excess > _HOLDS_V).any():
        return chosen
    for tied in _tied(problem, asks.tolist()):
        if (excess[tied] > _HOLDS_V).any():
            sections, sizes = _least_of(problem, tied, excess[tied], memo)
            chosen[sections] = sizes
    return chosen


def _tied(problem: DropProblem, asks: list[int]) -> list[list[int]]:
    """Loops in groups that share no section: each is solved by itself."""
    first: dict[int, int] = {}
    up = {k: k for k in asks}

    def root(k: int) -> int:
        while up[k] != k:
            up[k] = up[up[k]]
            k = up[k]
        return k

    for k in asks:
        for i in problem.loops[k].tolist():
            up[root(k)] = root(first.setdefault(i, k))
    groups: dict[int, list[int]] = {}
    for k in asks:
        groups.setdefault(root(k), []).append(k)
    return list(groups.values())


def _least_of(
    problem: DropProblem, tied: list[int], excess: FloatArray, memo: Memo
) -> tuple[IntArray, IntArray]:
    """Sections of some loops, and their sizes. Kept by all that the problem says of them."""
    loops = [problem.loops[k] for k in tied]
    sections = np.unique(np.concatenate(loops))
    parts = [
        np.ones(len(c)) if problem.parts is None else problem.parts[k]
        for k, c in zip(tied, loops, strict=True)
    ]
    said = (
        problem.volts[sections], problem.copper[sections],
        problem.lowest[sections], problem.highest[sections],
    )  # fmt: skip
    sizes = memo.get(
        _searched,
        *(of.tobytes() for of in said),
        problem.limits_v[tied].tobytes(),
        excess.tobytes(),
        *(np.searchsorted(sections, loop).tobytes() for loop in loops),
        *(part.tobytes() for part in parts),
        of=int(sections[0]),
    )
    return sections, np.array(sizes, dtype=np.intp)


def _searched(
    volts: bytes, copper: bytes, lowest: bytes, highest: bytes, limits_v: bytes, excess: bytes, *rest: bytes
) -> tuple[int, ...]:
    """The sizes of a group of loops, of a problem as the bytes of its arrays."""
    low, high = (np.frombuffer(of, dtype=np.intp) for of in (lowest, highest))
    loops = [np.frombuffer(of, dtype=np.intp) for of in rest[: len(rest) // 2]]
    parts = [np.frombuffer(of) for of in rest[len(rest) // 2 :]]
    shape = len(low), -1
    problem = DropProblem(
        np.frombuffer(volts).reshape(shape),
        np.frombuffer(copper).reshape(shape),
        low,
        high,
        loops,
        np.frombuffer(limits_v),
        parts,
    )
    search = _Search(problem, low, list(range(len(loops))), np.frombuffer(excess).tolist())
    search.raise_until_loops_hold()
    search.lower(search.raised)
    for group in search.groups():
        if len(group) <= _EXCHANGE_AT_MOST:
            search.exchange(group)
    return tuple(search.size[i] for i in range(len(low)))


def _most_volts(problem: DropProblem) -> IntArray:
    """Of each section the size, of those allowed, at which it loses most: almost always the thinnest."""
    sizes = np.arange(problem.volts.shape[1])[None, :]
    allowed = (sizes >= problem.lowest[:, None]) & (sizes <= problem.highest[:, None])
    return np.asarray(np.where(allowed, problem.volts, -np.inf).argmax(axis=1))


class _Search:
    """Sizes being tried. Loops are short and most sections lie in few: plain lists are quickest."""

    def __init__(self, problem: DropProblem, chosen: IntArray, asks: list[int], excess: list[float]) -> None:
        """``asks`` names the loops that may ask for copper; ``excess`` is theirs."""
        self.excess = excess
        """V over its limit, by loop; negative where it holds."""
        self.limits = problem.limits_v[asks].tolist()
        self.loops = [problem.loops[k].tolist() for k in asks]
        parts = [
            np.ones(len(columns)) if problem.parts is None else problem.parts[k]
            for k, columns in zip(asks, self.loops, strict=True)
        ]
        self.loops_of: dict[int, list[tuple[int, float]]] = {}
        """Of a section, the loops it is in and the part of its volts that counts there."""
        for k, (loop, part) in enumerate(zip(self.loops, parts, strict=True)):
            for i, share in zip(loop, part.tolist(), strict=True):
                self.loops_of.setdefault(i, []).append((k, share))
        sections = list(self.loops_of)
        self.size = dict(zip(sections, chosen[sections].tolist(), strict=True))
        self.volts = dict(zip(sections, problem.volts[sections].tolist(), strict=True))
        self.copper = dict(zip(sections, problem.copper[sections].tolist(), strict=True))
        self.lowest = dict(zip(sections, problem.lowest[sections].tolist(), strict=True))
        self.highest = dict(zip(sections, problem.highest[sections].tolist(), strict=True))
        self.raised: set[int] = set()
        self.sharers: dict[int, set[int]] = {}

    def move(self, i: int, to: int) -> None:
        change = self.volts[i][to] - self.volts[i][self.size[i]]
        for k, part in self.loops_of[i]:
            self.excess[k] += change * part
        self.size[i] = to

    def may_lower(self, i: int) -> bool:
        now = self.size[i]
        if now <= self.lowest[i]:
            return False
        more = self.volts[i][now - 1] - self.volts[i][now]
        return all(more * part <= _HOLDS_V - self.excess[k] for k, part in self.loops_of[i])

    def saving(self, i: int) -> float:
        """Copper that one size thinner would save."""
        now = self.size[i]
        return float(self.copper[i][now] - self.copper[i][now - 1]) if now > self.lowest[i] else 0.0

    def raise_until_loops_hold(self) -> None:
        """Worst loop first; in it the section whose next size buys most per copper."""
        over = [k for k, e in enumerate(self.excess) if e > _HOLDS_V]
        worst = [(-self.excess[k] / self.limits[k], k) for k in over]
        heapq.heapify(worst)
        # By short names: this is where most of the time goes.
        loops, loops_of, excess = self.loops, self.loops_of, self.excess
        size, highest, volts, copper = self.size, self.highest, self.volts, self.copper
        while worst:
            _, k = heapq.heappop(worst)
            if excess[k] <= _HOLDS_V:
                continue
            best, best_worth = -1, 0.0
            for i in loops[k]:
                now = size[i]
                if now >= highest[i]:
                    continue
                lost, spent = volts[i], copper[i]
                saved = lost[now] - lost[now + 1]
                gain = 0.0
                for m, part in loops_of[i]:
                    e = excess[m]
                    if e > 0:
                        by = saved * part
                        gain += by if by < e else e
                more = spent[now + 1] - spent[now]
                worth = gain / (more if more > FAR_BELOW else FAR_BELOW)
                if worth > best_worth:
                    best, best_worth = i, worth
            if best < 0:
                continue
            self.move(best, self.size[best] + 1)
            self.raised.add(best)
            if self.excess[k] > _HOLDS_V:
                heapq.heappush(worst, (-self.excess[k] / self.limits[k], k))

    def lower(self, among: set[int]) -> float:
        """Lower what can be lowered, the most copper first; the copper saved."""
        saved = 0.0
        moved = True
        while moved:
            moved = False
            for i in sorted(among, key=lambda i: (-self.saving(i), i)):
                if self.may_lower(i):
                    saved += self.saving(i)
                    self.move(i, self.size[i] - 1)
                    moved = True
        return saved

    def exchange(self, group: set[int]) -> None:
        """One up and others down, as long as copper is saved."""
        improved = True
        while improved:
            improved = False
            beside = {j for i in group for k, _ in self.loops_of[i] for j in self.loops[k]}
            for up, steps in ((up, steps) for up in sorted(beside) for steps in (1, 2, 3)):
                if self.size[up] + steps > self.highest[up]:
                    continue
                before = {i: self.size[i] for i in (*group, up)}
                cost = self.copper[up][self.size[up] + steps] - self.copper[up][self.size[up]]
                self.move(up, self.size[up] + steps)
                # Only what shares a loop with it can give way for it.
                if self.lower(self.sharing(up) & group) > cost + ROUNDING:
                    group.add(up)
                    improved = True
                else:
                    for i, size in before.items():
                        if self.size[i] != size:
                            self.move(i, size)

    def sharing(self, i: int) -> set[int]:
        """Other sections that share a loop with this one."""
        sharers = self.sharers.get(i)
        if sharers is None:
            sharers = self.sharers[i] = {j for k, _ in self.loops_of[i] for j in self.loops[k]} - {i}
        return sharers

    def groups(self) -> list[set[int]]:
        """Raised sections, grouped by the loops that tie them to each other."""
        left = set(self.raised)
        groups: list[set[int]] = []
        while left:
            group: set[int] = set()
            seen_loops: set[int] = set()
            stack = [min(left)]
            while stack:
                i = stack.pop()
                if i in left:
                    left.discard(i)
                    group.add(i)
                for k, _ in self.loops_of[i]:
                    if k not in seen_loops:
                        seen_loops.add(k)
                        stack += self.loops[k]
            groups.append(group)
        return groups
