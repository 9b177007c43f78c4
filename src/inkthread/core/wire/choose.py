"""The fewest different wire parts that make every wire, proved with a mixed-integer solver."""

from __future__ import annotations

import numpy as np

from inkthread.core.physics.conductor import BoolArray, FloatArray, IntArray
from inkthread.core.record import record
from inkthread.core.wire.families import Chains

_WHOLE = 1e-6
"""A bound that is a whole number may come out of the solver this much above it."""
TIME_LIMIT_S = 2.0
"""What the search for the fewest parts may take; then the best so far is taken."""


@record
class FewestParts:
    """Chosen place in each chain, how many parts that takes, and what is proved of it."""

    chosen: IntArray
    parts: int
    bound: int
    """No choice can do with fewer."""

    @property
    def proved(self) -> bool:
        """Whether no choice has fewer parts."""
        return self.parts <= self.bound


def cover(feasible: BoolArray, time_limit_s: float = TIME_LIMIT_S) -> tuple[BoolArray, int]:
    """The fewest columns such that every row has a feasible one, and a lower bound of their count.

    ``feasible`` (rows, columns); every row has at least one. HiGHS, through SciPy.
    """
    from scipy.optimize import Bounds, LinearConstraint, milp

    rows = np.unique(feasible, axis=0)
    # A row that another row's set lies within asks for nothing more.
    counts = rows.sum(axis=1)
    order = np.argsort(counts, kind="stable")
    kept: list[int] = []
    for i in order.tolist():
        if not any((rows[i] >= rows[j]).all() for j in kept):
            kept.append(i)
    need = rows[kept]
    columns = feasible.shape[1]
    solution = milp(
        np.ones(columns),
        constraints=LinearConstraint(need.astype(float), lb=1.0),
        integrality=np.ones(columns),
        bounds=Bounds(0, 1),
        options={"time_limit": time_limit_s},
    )
    if solution.x is None:
        return _greedy(need), 1
    bound = solution.mip_dual_bound if solution.mip_dual_bound is not None else 1
    return np.asarray(solution.x > 0.5), int(np.ceil(bound - _WHOLE))


def _greedy(need: BoolArray) -> BoolArray:
    taken = np.zeros(need.shape[1], dtype=bool)
    left = need.copy()
    while len(left):
        best = int(left.sum(axis=0).argmax())
        taken[best] = True
        left = left[~left[:, best]]
    return taken


def fewest_parts(
    chains: Chains, chosen: IntArray, passes: BoolArray, fixed: set[int], spent: FloatArray
) -> FewestParts:
    """Move wires to thicker or equal parts so that the harness uses the fewest.

    A wire may be any candidate of its chain that passes by itself and has no more resistance than
    the one chosen for its drops; so every loop still holds. Of the parts taken, each wire gets the
    one that spends least. Parts are candidates of the table, that is family and gauge.
    """
    n, width = chains.index.shape
    place = np.arange(width)[None, :]
    may = passes & (place >= chosen[:, None]) & (place < chains.length[:, None])
    may[np.arange(n), chosen] = True
    for i in fixed:
        may[i] = False
        may[i, chosen[i]] = True
    parts = int(chains.index.max()) + 1
    feasible = np.zeros((n, parts), dtype=bool)
    rows = np.repeat(np.arange(n), width)
    # Padding repeats a chain's last candidate: what any place allows is allowed.
    np.logical_or.at(feasible, (rows, chains.index.ravel()), may.ravel())
    taken, bound = cover(feasible)
    allowed = may & taken[chains.index]
    cost = np.where(allowed, spent, np.inf)
    picked = cost.argmin(axis=1)
    used = len(np.unique(chains.index[np.arange(n), picked]))
    return FewestParts(picked.astype(np.intp), used, min(bound, used))
