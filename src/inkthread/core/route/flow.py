"""Which sections each load's current crosses, and which way: the loops as rows of a matrix."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from inkthread.core.circuits import Loop
from inkthread.core.physics.conductor import FloatArray, IntArray
from inkthread.core.route.sections import CircuitTree


@dataclass(frozen=True, slots=True)
class Flow:
    """Entries of a sparse matrix: ``loop`` crosses section ``row`` in direction ``sign``.

    ``whole`` (loops,) says whether every crossing of the loop has been threaded.
    """

    loop: IntArray
    row: IntArray
    sign: FloatArray
    whole: tuple[bool, ...]
    loops: int
    rows: int

    def section_currents_a(self, drawn_a: FloatArray) -> FloatArray:
        """Signed current of every section in every mode, shape (sections, modes).

        ``drawn_a`` is each loop's current by mode, shape (loops, modes).
        """
        found = np.zeros((self.rows, drawn_a.shape[1]))
        for m in range(drawn_a.shape[1]):
            found[:, m] = np.bincount(self.row, self.sign * drawn_a[self.loop, m], minlength=self.rows)
        return found

    def around_v(self, volts: FloatArray) -> FloatArray:
        """Signed V lost around each loop, from signed V over each section: (sections, m) to (loops, m)."""
        found = np.zeros((self.loops, volts.shape[1]))
        for m in range(volts.shape[1]):
            found[:, m] = np.bincount(self.loop, self.sign * volts[self.row, m], minlength=self.loops)
        return found


def _between(tree: CircuitTree, a: str, b: str) -> list[tuple[str, float]]:
    """Sections from one pin to another. A pin without a place is stood in for by one that has one:
    the current asked of it is not forgotten."""
    first, last = tree.order[0], tree.order[-1]
    if b not in tree.depth:
        b = last if a != last else first
    if a not in tree.depth:
        a = last if b != last else first
    return tree.between(a, b)


def build_flow(loops: list[Loop], trees: dict[str, CircuitTree], index: dict[str, int]) -> Flow:
    """The crossings of every loop, feed and return, as far as they have been threaded."""
    at: list[int] = []
    rows: list[int] = []
    signs: list[float] = []
    whole: list[bool] = []
    for n, loop in enumerate(loops):
        complete = True
        for crossing in (*loop.feed, *loop.back):
            tree = trees.get(crossing.circuit)
            between = _between(tree, crossing.from_pin, crossing.to_pin) if tree is not None else []
            complete = complete and bool(between) and crossing.to_pin in (tree.depth if tree else {})
            complete = complete and crossing.from_pin in (tree.depth if tree else {})
            for key, sign in between:
                at.append(n)
                rows.append(index[key])
                signs.append(sign)
        whole.append(complete)
    return Flow(
        np.array(at, dtype=np.intp),
        np.array(rows, dtype=np.intp),
        np.array(signs, dtype=float),
        tuple(whole),
        len(loops),
        len(index),
    )
