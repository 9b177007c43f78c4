"""A fuse that blows: where what it protects may touch something, and how to halve the search."""

from __future__ import annotations

from inkthread.core.build import Rooms
from inkthread.core.circuits import CircuitsResult
from inkthread.core.prove.complaint import BadComplaint
from inkthread.core.prove.later import Cause, FailedLater
from inkthread.core.record import record
from inkthread.core.words import some_in_words

_SHOWN, _NAMED = 8, 3
_LEAST_SHARE = 0.01


@record
class _Place:
    """Something behind the fuse that may be shorted: its weight beside the others."""

    id: str
    """A wire, or a device."""
    sort: str
    weight: float
    words: str
    open: str
    connector: str
    wire: str


def shorted_behind(rooms: Rooms, circuits: CircuitsResult, fuse: str) -> FailedLater:
    """Wires and devices that a fuse protects, the likeliest to be shorted first: long ones, and those that
    rub, bend, shake, lie hot or pass a bare edge. Common practice, no source. Raises BadComplaint where it
    feeds nothing.
    """
    finder = _Finder(rooms, circuits, fuse)
    places = [*finder.wires(), *finder.devices()]
    if not places:
        raise BadComplaint(f"Nothing is known to hang behind {fuse}.")
    total = sum(place.weight for place in places)
    ranked = sorted(places, key=lambda place: -place.weight)
    causes = tuple(
        Cause(p.sort, round(p.weight / total, 3), None, p.words, p.open, p.connector, p.wire)
        for p in ranked
        if p.weight / total >= _LEAST_SHARE
    )[:_SHOWN]
    return FailedLater(finder.load, causes, finder.halve(places, total), explained=True)


class _Finder:
    def __init__(self, rooms: Rooms, circuits: CircuitsResult, fuse: str) -> None:
        self.rooms, self.circuits, self.fuse = rooms, circuits, fuse
        self.document = rooms.context.document
        self.data = rooms.context.catalogue.proofs.later.shorts
        self.words = rooms.context.catalogue.proofs.later.short_words
        self.behind = [k for k, facts in circuits.circuits.items() if facts.fuse == fuse]
        self.loops = [loop for loop in circuits.loops if fuse in loop.fuses and not loop.charging]
        self.loads = list(dict.fromkeys(loop.device for loop in self.loops))
        self.load = self.loops[0].load if self.loops else ""

    def wires(self) -> list[_Place]:
        """Every wire of the circuits behind it."""
        places = []
        branches, points = self.document.route.branches, self.document.route.points
        for key, section in self.rooms.route.sections.items():
            if section.circuit not in self.behind:
                continue
            wire = self.rooms.wire.wires[key]
            named = [p for b in section.branches for p in (branches[b].from_point, branches[b].to_point)]
            where = some_in_words(
                list(dict.fromkeys(points[p].name or p for p in named or [section.a.point])), _NAMED
            )
            weight = self._weight(section.branches, section.length_mm)
            places.append(
                _Place(
                    key,
                    "wire",
                    weight,
                    self.words["wire"].format(wire=wire.label, where=where),
                    self.words["wire open"].format(wire=wire.label, where=where),
                    "",
                    key,
                )
            )
        return places

    def _weight(self, branches: tuple[str, ...], length_mm: float) -> float:
        """Metres, each times what its zones do to it; and what bare edges add."""
        route, weight = self.document.route, self.data["metre"] * length_mm / 1000
        zones = {z for b in branches for z in self.rooms.route.zones.get(b, ())}
        for zone_id in zones:
            zone = self.document.brief.zones[zone_id]
            for name, so in (
                ("abrasion", zone.abrasion), ("flex", zone.flex), ("vibration", zone.vibration),
                ("engine_space", zone.engine_space),
            ):  # fmt: skip
                weight *= self.data[name] if so else 1.0
        ends = {p for b in branches for p in (route.branches[b].from_point, route.branches[b].to_point)}
        bare = sum(route.points[p].edge == "bare metal" for p in ends)
        return weight + self.data["connector"] + bare * self.data["bare edge"]

    def devices(self) -> list[_Place]:
        """Every device that it feeds."""
        named = {d: f"{d} {self.document.circuits.devices[d].name}".strip() for d in self.loads}
        return [
            _Place(
                device, "load", self.data["device"], self.words["device"].format(device=name),
                self.words["device open"].format(device=name), "", "",
            )
            for device, name in named.items()
        ]  # fmt: skip

    def halve(self, places: list[_Place], total: float) -> str:
        """The connector whose parting leaves nearest half of the weight beyond it."""
        weights = {place.id: place.weight for place in places}
        best: tuple[float, str] | None = None
        for connector_id, beyond in self._beyond().items():
            share = sum(weights.get(name, 0.0) for name in beyond) / total
            if 0 < share < 1:
                best = min(best or (1.0, ""), (abs(share - 0.5), connector_id))
        if best is None:
            return self.words["next alone"].format(fuse=self.fuse)
        return self.words["next"].format(fuse=self.fuse, connector=best[1])

    def _beyond(self) -> dict[str, set[str]]:
        """Connector to the wires and devices that its parting takes off the fuse."""
        beyond: dict[str, set[str]] = {}
        for loop in self.loops:
            passed: list[str] = []
            for crossing in loop.feed:
                if self.circuits.circuits[crossing.circuit].fuse != self.fuse:
                    continue
                wires = self.rooms.route.trees[crossing.circuit].along(crossing.from_pin, crossing.to_pin)
                for pin, after in ((crossing.from_pin, wires), (crossing.to_pin, [])):
                    entry = self.document.ends.pinout.get(pin)
                    if entry is not None:
                        passed.append(entry.connector)
                    for connector_id in passed:
                        beyond.setdefault(connector_id, set()).update(after)
            for connector_id in passed:
                beyond.setdefault(connector_id, set()).add(loop.device)
        return beyond
