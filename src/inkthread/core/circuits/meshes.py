"""Ways that lie side by side: where current divides, and where it may go the one way or the other.

The walks give each load one way from its source and one back. Every further path between two circuits
of the same source closes a way round. Where nothing in it can open but a fuse, current divides by
resistance (a mesh); where a switch, relay or contactor is in it, either way may have to carry all.
"""

from __future__ import annotations

from collections.abc import Iterator

from inkthread.core.circuits.facts import Crossing, Mesh
from inkthread.core.circuits.network import Hop, Network, PathAt
from inkthread.core.document.values import CONVERTING, PathKind
from inkthread.core.record import record

OPENING: tuple[PathKind, ...] = ("switch", "relay", "contactor", "diode")
"""Paths that may be open while the rest is live."""


@record
class Chord:
    """A path that no walk took, between two circuits of one source: once round it and back."""

    mesh: Mesh
    inner: tuple[tuple[str, PathAt, float], ...]
    """Paths crossed once round: key, path, and which way."""
    beside: str | None
    """The path that the walk took instead."""

    @property
    def may_open(self) -> bool:
        """Whether something in it can be open while the rest is live."""
        return any(at[2].kind in OPENING for _, at, _ in self.inner)

    @property
    def closable(self) -> bool:
        """Whether all of it can be closed at once: never two throws of one changeover."""
        throws: dict[tuple[str, str], str] = {}
        for key, (device, _, inner), _ in self.inner:
            if inner.throw and throws.setdefault((device, inner.throw), key) != key:
                return False
        return True


def chords(net: Network, tree: dict[str, Hop], *, forward: bool) -> Iterator[Chord]:
    """Every path that closes a way round in the tree of one walk."""
    taken = {hop.across[:2] for hop in tree.values() if hop.across is not None}
    seen: set[tuple[str, str]] = set()
    for circuit in tree:
        for ref in net.circuits[circuit].ends:
            for at in (net.paths_from if forward else net.paths_to).get(ref, ()):
                device, path, inner = at
                other = f"{device}.{inner.to_pin if forward else inner.from_pin}"
                far = net.circuit_of.get(other)
                if (
                    inner.kind in CONVERTING
                    or (device, path) in taken
                    or (device, path) in seen
                    or far is None
                    or far == circuit
                    or far not in tree
                    or root_of(tree, far) != root_of(tree, circuit)
                ):
                    continue
                seen.add((device, path))
                yield _round(tree, ref, circuit, at, other, far, forward=forward)


def root_of(tree: dict[str, Hop], circuit: str) -> str:
    hop = tree[circuit]
    while hop.circuit is not None:
        hop = tree[hop.circuit]
    return hop.pin


def crossed_to(
    tree: dict[str, Hop], pin: str, circuit: str, *, forward: bool
) -> tuple[list[Crossing], list[tuple[str, PathAt]]]:
    """Crossings and paths between the walk's start and a pin, in the current's own direction."""
    crossings: list[Crossing] = []
    paths: list[tuple[str, PathAt]] = []
    while True:
        hop = tree[circuit]
        crossings.append(Crossing(circuit, hop.pin, pin) if forward else Crossing(circuit, pin, hop.pin))
        if hop.across is None or hop.circuit is None:
            return crossings, paths
        device, path, inner = hop.across
        paths.append((f"{device}.{path}", hop.across))
        pin, circuit = f"{device}.{inner.from_pin if forward else inner.to_pin}", hop.circuit


def _round(
    tree: dict[str, Hop], near: str, circuit: str, at: PathAt, far: str, other: str, *, forward: bool
) -> Chord:
    """Once round: along the chord, and back the way that the walk took to its far end."""
    to_near, before = crossed_to(tree, near, circuit, forward=forward)
    to_far, after = crossed_to(tree, far, other, forward=forward)
    weights: dict[Crossing, float] = {}
    through: dict[str, tuple[PathAt, float]] = {f"{at[0]}.{at[1]}": (at, 1.0)}
    for crossings, paths, sign in ((to_near, before, 1.0), (to_far, after, -1.0)):
        for crossing in crossings:
            weights[crossing] = weights.get(crossing, 0.0) + sign
        for key, path in paths:
            through[key] = (path, through.get(key, (path, 0.0))[1] + sign)
    inner = tuple((k, p, w) for k, (p, w) in through.items() if w)
    hop = tree[other]
    beside = f"{hop.across[0]}.{hop.across[1]}" if hop.across is not None else None
    crossed = tuple((c, w) for c, w in weights.items() if w and c.from_pin != c.to_pin)
    return Chord(Mesh(crossed, tuple((k, w) for k, _, w in inner)), inner, beside)
