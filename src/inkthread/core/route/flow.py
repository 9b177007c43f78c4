"""Which wires, paths and studs each load's current crosses, and how much of it: rows of a matrix.

In a tree a load's whole current crosses each element of its loop, one way or the other. Where ways lie
side by side it divides: superposition holds, so each load still has its own fixed share of every
element, found once round every mesh by Kirchhoff's voltage law.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

import numpy as np

from inkthread.core.circuits import Mesh, Ways
from inkthread.core.physics.conductor import FloatArray, IntArray
from inkthread.core.record import record
from inkthread.core.route.sections import CircuitTree
from inkthread.core.route.threaded import Threaded
from inkthread.core.tolerances import FAR_BELOW

STUD = "stud "
"""Before the pin by which current goes into the structure, in the name of an inner row."""
_JOINTS_AS_MM = 100.0
"""A wire's two ends count as so much more of it while its size is not known."""
_LEAST_OHM = 1e-7
"""Where nothing is known of what lies side by side, it counts as this much, so that it divides alike."""


@record
class Flow:
    """Entries of a sparse matrix: ``loop`` crosses ``row`` with ``share`` of its current.

    Rows are the sections, then the ``inner`` elements: paths inside devices by ``device.path``, and
    studs into the structure by ``stud pin``. ``whole`` (loops,) says whether every crossing of the loop
    has been threaded.
    """

    loop: IntArray
    row: IntArray
    share: FloatArray
    whole: tuple[bool, ...]
    loops: int
    sections: int
    inner: tuple[str, ...] = ()
    rounds: FloatArray | None = None
    """(rows, meshes): once round each mesh; None where there is none."""

    @property
    def rows(self) -> int:
        """Sections and inner elements."""
        return self.sections + len(self.inner)

    def currents_a(self, drawn_a: FloatArray) -> FloatArray:
        """Signed current of every row in every mode, shape (rows, modes).

        ``drawn_a`` is each loop's current by mode, shape (loops, modes).
        """
        return _summed(self.row, self.share[:, None] * drawn_a[self.loop], self.rows)

    def section_currents_a(self, drawn_a: FloatArray) -> FloatArray:
        """The same of the sections alone, shape (sections, modes)."""
        return self.currents_a(drawn_a)[: self.sections]

    def around_v(self, volts: FloatArray) -> FloatArray:
        """Signed V lost around each loop, from signed V over each row: (rows, m) to (loops, m).

        By reciprocity each row counts with the share of the loop's current that crosses it.
        """
        return _summed(self.loop, self.share[:, None] * volts[self.row], self.loops)

    def of_loop(self, loop: int) -> tuple[IntArray, FloatArray]:
        """Rows that one loop crosses, in order along it, and its share in each."""
        first, last = np.searchsorted(self.loop, (loop, loop + 1))
        return self.row[first:last], self.share[first:last]

    def through_wires(self) -> tuple[IntArray, IntArray, FloatArray]:
        """Of the loops that have been threaded whole the entries that lie in sections, in order: section,
        loop, share."""
        whole = np.array(self.whole, dtype=bool)
        entries = whole[self.loop] & (self.row < self.sections)
        return self.row[entries], self.loop[entries], self.share[entries]

    def divided(self, ohm: FloatArray) -> Flow:
        """The shares where ways lie side by side, by the resistance of every row in ohm. (rows,).

        Once round every mesh the volts come to nothing; the walk's own shares are where that starts.
        """
        if self.rounds is None:
            return self
        known = np.maximum(ohm, _LEAST_OHM)
        beside = np.nonzero(self.rounds)[0]
        touched = np.unique(self.loop[np.isin(self.row, beside)])
        place = np.zeros(self.loops, dtype=np.intp)
        place[touched] = np.arange(len(touched))
        entries = np.isin(self.loop, touched)
        dense = np.zeros((self.rows, len(touched)))
        np.add.at(dense, (self.row[entries], place[self.loop[entries]]), self.share[entries])
        weighted = self.rounds * known[:, None]
        normal = self.rounds.T @ weighted
        turns = np.linalg.lstsq(normal, -weighted.T @ dense, rcond=None)[0]
        dense += self.rounds @ turns
        changed = touched[np.abs(turns).max(axis=0, initial=0.0) > FAR_BELOW]
        if not len(changed):
            return self
        keep = ~np.isin(self.loop, changed)
        rows, loops, parts = [self.row[keep]], [self.loop[keep]], [self.share[keep]]
        for n in changed.tolist():
            # In the order along the loop, then what lies beside it.
            own = dict.fromkeys(self.of_loop(n)[0].tolist())
            column = dense[:, place[n]]
            other = np.nonzero(np.abs(column) > FAR_BELOW)[0]
            order = [*own, *(r for r in other.tolist() if r not in own)]
            rows.append(np.array(order, dtype=np.intp))
            loops.append(np.full(len(order), n, dtype=np.intp))
            parts.append(column[order])
        loop = np.concatenate(loops)
        order_of = np.argsort(loop, kind="stable")
        return replace(
            self,
            loop=loop[order_of],
            row=np.concatenate(rows)[order_of],
            share=np.concatenate(parts)[order_of],
        )


def _summed(place: IntArray, entries: FloatArray, count: int) -> FloatArray:
    """The sum of the entries (e, m) at each of so many places, in their order. (count, m)."""
    columns = entries.shape[1]
    at = (place + count * np.arange(columns)[:, None]).ravel()
    sums = np.bincount(at, entries.T.ravel(), minlength=count * columns)
    return np.asarray(sums.reshape(columns, count).T, dtype=float)


def _between(tree: CircuitTree, a: str, b: str) -> list[tuple[str, float]]:
    """Sections from one pin to another. A pin without a place is stood in for by one that has one:
    the current asked of it is not forgotten."""
    first, last = tree.order[0], tree.order[-1]
    if b not in tree.depth:
        b = last if a != last else first
    if a not in tree.depth:
        a = last if b != last else first
    return tree.between(a, b)


def build_flow(ways: Ways, threaded: Threaded, meshes: tuple[Mesh, ...] = ()) -> Flow:
    """The crossings of every loop, feed and return, as far as they have been threaded. Wires are not chosen
    yet: where ways lie side by side, current divides by length as if all wires were alike."""
    trees = threaded.trees
    index = {key: n for n, key in enumerate(threaded.sections)}
    inner: dict[str, int] = {}

    def at(name: str) -> int:
        return len(index) + inner.setdefault(name, len(inner))

    of_loop: list[int] = []
    rows: list[int] = []
    parts: list[float] = []
    whole: list[bool] = []
    for n, (feed, back, paths, studs) in enumerate(ways):
        complete = True
        start = len(rows)
        for crossing in (*feed, *back):
            tree = trees.get(crossing.circuit)
            between = _between(tree, crossing.from_pin, crossing.to_pin) if tree is not None else []
            complete = complete and bool(between) and crossing.to_pin in (tree.depth if tree else {})
            complete = complete and crossing.from_pin in (tree.depth if tree else {})
            rows += [index[key] for key, _ in between]
            parts += [sign for _, sign in between]
        for path in paths:
            rows.append(at(path))
            parts.append(1.0)
        for stud, sign in zip(studs, (1.0, -1.0), strict=False):
            rows.append(at(STUD + stud))
            parts.append(sign)
        of_loop += [n] * (len(rows) - start)
        whole.append(complete)
    rounds = [r for mesh in meshes if (r := _once_round(mesh, trees, index, at)) is not None]
    matrix = None
    if rounds:
        matrix = np.zeros((len(index) + len(inner), len(rounds)))
        for k, once in enumerate(rounds):
            for row, weight in once.items():
                matrix[row, k] = weight
    flow = Flow(
        np.array(of_loop, dtype=np.intp),
        np.array(rows, dtype=np.intp),
        np.array(parts, dtype=float),
        tuple(whole),
        len(ways),
        len(index),
        tuple(inner),
        matrix,
    )
    if matrix is None:
        return flow
    long = [s.length_mm + s.slack_mm + _JOINTS_AS_MM for s in threaded.sections.values()]
    return flow.divided(np.array([*long, *[0.0] * len(flow.inner)]))


def _once_round(
    mesh: Mesh, trees: dict[str, CircuitTree], index: dict[str, int], at: Callable[[str], int]
) -> dict[int, float] | None:
    """What going once round crosses, by row; None where not all of it is threaded."""
    once: dict[int, float] = {}
    for crossing, weight in mesh.crossings:
        tree = trees.get(crossing.circuit)
        ends = (crossing.from_pin, crossing.to_pin)
        if tree is None or not all(pin in tree.depth for pin in ends):
            return None
        for key, sign in tree.between(*ends):
            once[index[key]] = once.get(index[key], 0.0) + weight * sign
    for path, weight in mesh.paths:
        once[at(path)] = once.get(at(path), 0.0) + weight
    for stud, weight in mesh.studs:
        once[at(STUD + stud)] = weight
    return {row: w for row, w in once.items() if w}
