"""What the loads' currents cross: paths inside devices, and pins by which they go into circuits."""

from __future__ import annotations

import numpy as np

from inkthread.core.circuits.facts import Mesh, Ways
from inkthread.core.physics.conductor import FloatArray, IntArray
from inkthread.core.record import record


@record
class Crossed:
    """Where current crosses, of every loop: what flows there follows from what each load draws."""

    paths: tuple[str, ...]
    """``device.path``."""
    share: FloatArray
    """(paths, loops): how much of a loop's current crosses a path, and which way."""
    circuits: tuple[str, ...]
    circuit_of: IntArray
    """By pin."""
    pins: IntArray
    """Of every entry: the pin, the loop, and whether current goes in there or comes out."""
    loops: IntArray
    sign: FloatArray

    def through_paths_a(self, drawn_a: FloatArray) -> dict[str, float]:
        """The most in A that each path inside a device carries in any mode; ``drawn_a`` (loops, modes)."""
        most = np.abs(self.share @ drawn_a).max(axis=1, initial=0.0)
        return dict(zip(self.paths, most.tolist(), strict=True))

    def into_circuits_a(self, drawn_a: FloatArray) -> dict[str, float]:
        """What goes into each circuit by its pins in A, in the mode of most: modes that exclude each other
        are never added. ``drawn_a`` (loops, modes)."""
        put_in = np.zeros((len(self.circuit_of), drawn_a.shape[1]))
        np.add.at(put_in, self.pins, self.sign[:, None] * drawn_a[self.loops])
        carried_a = np.zeros((len(self.circuits), drawn_a.shape[1]))
        np.add.at(carried_a, self.circuit_of, np.maximum(put_in, 0.0))
        return dict(zip(self.circuits, carried_a.max(axis=1, initial=0.0).tolist(), strict=True))


def what_is_crossed(ways: Ways, meshes: tuple[Mesh, ...]) -> Crossed:
    """The paths and pins that every loop crosses.

    Where ways lie side by side they are taken as alike: their wires are not known yet. The wire room
    says how current divides between them.
    """
    index: dict[str, int] = {}
    pins: dict[tuple[str, str], int] = {}
    at: list[int] = []
    of_loop: list[int] = []
    sign: list[float] = []
    for n, (feed, back, paths, _) in enumerate(ways):
        for path in paths:
            index.setdefault(path, len(index))
        for crossing in (*feed, *back):
            for pin, direction in ((crossing.from_pin, 1.0), (crossing.to_pin, -1.0)):
                at.append(pins.setdefault((crossing.circuit, pin), len(pins)))
                of_loop.append(n)
                sign.append(direction)
    for mesh in meshes:
        for path, _ in mesh.paths:
            index.setdefault(path, len(index))
    crossed = np.zeros((len(index), len(ways)))
    for n, (_, _, paths, _) in enumerate(ways):
        for path in paths:
            crossed[index[path], n] += 1.0
    if meshes and index:
        round_ = np.zeros((len(index), len(meshes)))
        for k, mesh in enumerate(meshes):
            for path, weight in mesh.paths:
                round_[index[path], k] += weight
        crossed = crossed + round_ @ np.linalg.lstsq(round_, -crossed, rcond=None)[0]
    circuits = {c: k for k, c in enumerate(dict.fromkeys(c for c, _ in pins))}
    return Crossed(
        tuple(index),
        crossed,
        tuple(circuits),
        np.array([circuits[c] for c, _ in pins], dtype=np.intp),
        np.array(at, dtype=np.intp),
        np.array(of_loop, dtype=np.intp),
        np.array(sign, dtype=float),
    )
