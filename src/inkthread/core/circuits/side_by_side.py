"""Ways that lie side by side: returns and feeds in rings, the structure beside a wire, fuses in parallel."""

from __future__ import annotations

from collections.abc import Iterator

from inkthread.core.circuits.facts import Crossing, Mesh
from inkthread.core.circuits.meshes import Chord, chords, crossed_to
from inkthread.core.circuits.network import Hop, Network
from inkthread.core.document.pin_ref import device_of
from inkthread.core.document.types import Document
from inkthread.core.document.values import PROTECTIVE
from inkthread.core.findings import FindingBook, Place, called


def all_chords(
    document: Document, net: Network, feed: dict[str, Hop], strap: Crossing | None
) -> Iterator[Chord]:
    """Ways that lie side by side in any feed, and in the returns to each source."""
    yield from chords(net, feed, forward=True)
    seen: set[str] = set()
    for source in net.sources:
        own = own_grounds(net, source)
        tree = net.walk(own, forward=False)
        for chord in chords(net, tree, forward=False):
            key = chord.mesh.paths[0][0]
            if key not in seen:
                seen.add(key)
                yield chord


def own_grounds(net: Network, source: str) -> list[str]:
    device = device_of(source)
    return [g for g in net.grounds if device_of(g) == device]


def through_structure(document: Document, net: Network, strap: Crossing) -> list[Mesh]:
    """Studs in circuits that also come back by wire: the structure lies beside that wire."""
    source_ground = strap.to_pin
    tree = net.walk([source_ground], forward=False)
    meshes = []
    for stud in net.studs:
        circuit = net.circuit_of.get(stud)
        if circuit is None or circuit not in tree or stud == strap.from_pin:
            continue
        crossings, paths = crossed_to(tree, stud, circuit, forward=False)
        meshes.append(
            Mesh(
                ((strap, 1.0), *((c, -1.0) for c in crossings if c.from_pin != c.to_pin)),
                tuple((key, -1.0) for key, _ in paths),
                ((stud, 1.0), (strap.from_pin, -1.0)),
            )
        )
    return meshes


def find_parallel_fuses(document: Document, chord: Chord, book: FindingBook) -> None:
    """Fuses side by side share a load as their wires happen to be: the one that opens leaves the other
    with all of it."""
    sides = {
        sign: [(key, at) for key, at, w in chord.inner if w * sign > 0 and at[2].kind in PROTECTIVE]
        for sign in (1, -1)
    }
    if not sides[1] or not sides[-1]:
        return
    meant = {at[2].parallel for side in sides.values() for _, at in side}
    if len(meant) == 1 and "" not in meant:
        return
    one, other = sides[1][0], sides[-1][0]
    book.add(
        "fuses-in-parallel",
        *(Place("circuits", "device", d) for d in dict.fromkeys((one[1][0], other[1][0]))),
        one=f"{called('device', one[1][0])} ({one[1][1]})",
        other=f"{called('device', other[1][0])} ({other[1][1]})",
    )
