"""An end picked up on the machine: what its label says it is, and where everything in it goes."""

from __future__ import annotations

from collections.abc import Iterator

from inkthread.core.build import Rooms
from inkthread.core.circuits import CircuitsResult
from inkthread.core.record import record

_MOST = 12


@record
class WayGoes:
    """One wire at an end: what it is, and where it goes."""

    way: str
    wire: str
    colour: str
    circuit: str
    to: str
    fuse: str


@record
class PickedUp:
    """A connector or a wire that a label names."""

    kind: str
    id: str
    name: str
    at: str
    meets: str
    goes: tuple[WayGoes, ...]
    along: tuple[str, ...]
    """Points that a wire passes."""


def picked_up(rooms: Rooms, circuits: CircuitsResult, text: str) -> tuple[PickedUp, ...]:
    """Connectors and wires whose id, name or label ``text`` is; else those it names among other words, as the
    square code of a label does; else those that begin so.
    """
    said = " ".join(text.split()).casefold()
    if not said:
        return ()
    finder = _Finder(rooms, circuits)
    ranked = [
        (rank, n, kind, key)
        for n, (kind, key, names) in enumerate(finder.names())
        if (rank := _rank(said, names)) is not None
    ]
    best = min((rank for rank, *_ in ranked), default=0)
    chosen = [(kind, key) for rank, _, kind, key in sorted(ranked) if rank == best][:_MOST]
    return tuple(finder.card(kind, key) for kind, key in chosen)


def _rank(said: str, names: list[str]) -> int | None:
    """0 where a name is said whole, 1 where it is one of the words, 2 where it begins so; None where not."""
    folded = [name.casefold() for name in names if name]
    if said in folded:
        return 0
    if set(folded) & set(said.split()):
        return 1
    return 2 if any(name.startswith(said) for name in folded) else None


class _Finder:
    def __init__(self, rooms: Rooms, circuits: CircuitsResult) -> None:
        self.rooms, self.circuits = rooms, circuits
        self.document = rooms.context.document
        self.texts: dict[str, list[str]] = {}
        for label in rooms.dress.labels.labels:
            self.texts.setdefault(label.of, []).extend((label.text, *label.lines))

    def names(self) -> Iterator[tuple[str, str, list[str]]]:
        """Everything that can be picked up: its kind, its key, all that it is called."""
        for connector_id, end in self.rooms.ends.connectors.items():
            yield "connector", connector_id, [connector_id, end.name, *self.texts.get(connector_id, [])]
        for key, wire in self.rooms.wire.wires.items():
            yield "wire", key, [wire.label, key, *self.texts.get(key, [])]

    def card(self, kind: str, key: str) -> PickedUp:
        """What is told of a connector or a wire."""
        return self._connector(key) if kind == "connector" else self._wire(key)

    def _point(self, point_id: str | None) -> str:
        if point_id is None:
            return ""
        return self.document.route.points[point_id].name or point_id

    def _connector(self, connector_id: str) -> PickedUp:
        own, end = self.document.ends.connectors[connector_id], self.rooms.ends.connectors[connector_id]
        devices = dict.fromkeys(
            cavity.pin.partition(".")[0] for cavity in end.cavities if cavity.pin is not None
        )
        meets = ", ".join(f"{d} {self.document.circuits.devices[d].name}".strip() for d in devices)
        goes = tuple(
            self._goes(cavity.cavity, cavity.wire, cavity.pin)
            for cavity in end.cavities
            if cavity.wire is not None and cavity.pin is not None
        )
        return PickedUp("connector", connector_id, end.name, self._point(own.point), meets, goes, ())

    def _goes(self, way: str, key: str, pin: str) -> WayGoes:
        wire, section = self.rooms.wire.wires[key], self.rooms.route.sections[key]
        far = wire.to_text if section.a.kind == "pin" and section.a.id == pin else wire.from_text
        circuit = self.document.circuits.circuits[wire.circuit]
        fuse = self.circuits.circuits[wire.circuit].fuse or ""
        return WayGoes(way, wire.label, wire.colour, f"{wire.circuit} {circuit.name}".strip(), far, fuse)

    def _wire(self, key: str) -> PickedUp:
        wire, section = self.rooms.wire.wires[key], self.rooms.route.sections[key]
        points = [section.a.point]
        for branch_id in section.branches:
            branch = self.document.route.branches[branch_id]
            points.append(branch.to_point if points[-1] == branch.from_point else branch.from_point)
        circuit = self.document.circuits.circuits[wire.circuit]
        goes = WayGoes(
            "", wire.label, wire.colour, f"{wire.circuit} {circuit.name}".strip(), wire.to_text,
            self.circuits.circuits[wire.circuit].fuse or "",
        )  # fmt: skip
        named = tuple(self._point(p) for p in points)
        return PickedUp("wire", wire.label, f"{wire.family} {wire.gauge}", wire.from_text, "", (goes,), named)
