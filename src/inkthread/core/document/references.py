"""Whether what the entries of a document name is there, and whether its route is a tree."""

from __future__ import annotations

from collections.abc import Collection, Iterable
from dataclasses import replace
from operator import attrgetter

from inkthread.core.document.pin_ref import read_ref
from inkthread.core.document.problems import Problem, pointer, shown
from inkthread.core.document.types import Branch, Circuit, Device, Document

_KNOWN_SHOWN = 8


def check_references(document: Document, sound: Document | None = None) -> list[Problem]:
    """Every id that an entry names must exist; a pin belongs to one circuit; the route must be a tree.

    Of a document in which that is ``sound``, what is the same in both is not looked at again.
    """
    return _References(document).check(sound)


def _same(document: Document, sound: Document, part: str) -> bool:
    """Whether a part is the same, but for what its entries are called."""
    new, old = attrgetter(part)(document), attrgetter(part)(sound)
    if new is old or not isinstance(new, dict):
        return new is old
    if list(new) != list(old):
        return False
    return all(own is old[key] or _called_otherwise(own, old[key]) for key, own in new.items())


def _called_otherwise(new: object, old: object) -> bool:
    """Whether two devices, or two circuits, differ in names alone, their own and those of pins."""
    if isinstance(new, Device) and isinstance(old, Device):
        if new.pins.keys() != old.pins.keys():
            return False
        pins = {k: replace(pin, name=old.pins[k].name) for k, pin in new.pins.items()}
        return replace(new, name=old.name, pins=pins) == old
    return isinstance(new, Circuit) and isinstance(old, Circuit) and replace(new, name=old.name) == old


class _References:
    """The ids of one document, and what names others."""

    def __init__(self, document: Document) -> None:
        self.document = document
        self.problems: list[Problem] = []

    def check(self, sound: Document | None) -> list[Problem]:
        """Everything that is wrong, in the order of the rooms."""
        devices, circuits, connectors = "circuits.devices", "circuits.circuits", "ends.connectors"
        loads = ("circuits.loads", "circuits.sources", "circuits.modes")
        for look, *parts in (
            (self._devices, devices),
            (self._loads_and_sources, devices, *loads),
            (self._circuits, circuits, "route"),
            (self._groups_and_buses, circuits, devices, connectors, "circuits.groups", "circuits.buses"),
            (self._circuit_ends, circuits, devices),
            (self._route, "brief", "route"),
            (self._connectors, "ends", "route", circuits, devices),
        ):
            # Each names the parts that it reads.
            if sound is None or not all(_same(self.document, sound, p) for p in parts):
                look()
        return self.problems

    def _named(self, path: Iterable[object], what: str, value: str | None, known: Collection[str]) -> bool:
        """Whether a name is known; one that is not is a problem. Nothing named is known."""
        if value is None or value in known:
            return True
        names = ", ".join(sorted(known)[:_KNOWN_SHOWN]) or "none yet"
        self.problems.append(
            Problem(pointer(path), f"There is no {what} {shown(value)}.", f"Known here: {names}.")
        )
        return False

    def _pin(self, path: Iterable[object], ref: str) -> None:
        device_id, pin = read_ref(ref)
        devices = self.document.circuits.devices
        device = devices.get(device_id)
        if device is not None and pin in device.pins:
            return
        if self._named(path, "device", device_id, devices):
            self._named(path, f"pin on {device_id} named", pin, devices[device_id].pins)

    def _devices(self) -> None:
        for device_id, device in self.document.circuits.devices.items():
            for path_id, inner in device.paths.items():
                base = ("circuits", "devices", device_id, "paths", path_id)
                self._named((*base, "from_pin"), "pin", inner.from_pin, device.pins)
                self._named((*base, "to_pin"), "pin", inner.to_pin, device.pins)

    def _loads_and_sources(self) -> None:
        c = self.document.circuits
        for collection, entries in (("loads", c.loads), ("sources", c.sources)):
            for entry_id, entry in entries.items():
                base = ("circuits", collection, entry_id)
                if not self._named((*base, "device"), "device", entry.device, c.devices):
                    continue
                pins = c.devices[entry.device].pins
                self._named((*base, "supply_pin"), "pin", entry.supply_pin, pins)
                self._named((*base, "return_pin"), "pin", entry.return_pin, pins)
        for collection, entries in (("loads", c.loads), ("sources", c.sources)):
            for entry_id, entry in entries.items():
                for mode in entry.modes:
                    self._named(("circuits", collection, entry_id, "modes", mode), "mode", mode, c.modes)

    def _circuits(self) -> None:
        for circuit_id, circuit in self.document.circuits.circuits.items():
            points = self.document.route.points
            self._named(("circuits", "circuits", circuit_id, "hub"), "point", circuit.hub, points)

    def _groups_and_buses(self) -> None:
        c, connectors = self.document.circuits, self.document.ends.connectors
        for group_id, group in c.groups.items():
            base = ("circuits", "groups", group_id)
            for member in (*group.members, *([group.shield] if group.shield is not None else [])):
                self._named((*base, "members", member), "circuit", member, c.circuits)
            self._named((*base, "shield_open"), "connector", group.shield_open, connectors)
        for bus_id, bus in c.buses.items():
            base = ("circuits", "buses", bus_id)
            for member in bus.circuits:
                self._named((*base, "circuits", member), "circuit", member, c.circuits)
            for device in bus.terminators:
                self._named((*base, "terminators", device), "device", device, c.devices)

    def _circuit_ends(self) -> None:
        owner: dict[str, str] = {}
        for circuit_id, circuit in self.document.circuits.circuits.items():
            for ref in circuit.ends:
                path = ("circuits", "circuits", circuit_id, "ends", ref)
                self._pin(path, ref)
                if ref in owner:
                    self.problems.append(
                        Problem(
                            pointer(path),
                            f"{ref} is already in circuit {owner[ref]}.",
                            "A pin belongs to one circuit: join the two circuits, or take it out of one.",
                        )
                    )
                owner[ref] = circuit_id

    def _route(self) -> None:
        points, zones = self.document.route.points, self.document.brief.zones
        for point_id, point in points.items():
            self._named(("route", "points", point_id, "zone"), "zone", point.zone, zones)
        tree = _Tree(points)
        for branch_id, branch in self.document.route.branches.items():
            base = ("route", "branches", branch_id)
            ends_known = self._named((*base, "from_point"), "point", branch.from_point, points)
            ends_known &= self._named((*base, "to_point"), "point", branch.to_point, points)
            self._named((*base, "zone"), "zone", branch.zone, zones)
            for stretch_id, stretch in branch.stretches.items():
                self._named((*base, "stretches", stretch_id, "zone"), "zone", stretch.zone, zones)
            if ends_known and not tree.joins(branch):
                self.problems.append(
                    Problem(
                        pointer(base),
                        f"Branch {branch_id} closes a loop in the route.",
                        "A route is a tree: take out this branch, or hang it from another point.",
                    )
                )

    def _connectors(self) -> None:
        document = self.document
        connectors = document.ends.connectors
        for connector_id, connector in connectors.items():
            base = ("ends", "connectors", connector_id)
            self._named((*base, "point"), "point", connector.point, document.route.points)
            for name, other in (("meets", connector.meets), ("same_as", connector.same_as)):
                if other is not None:
                    others = connectors.keys() - {connector_id}
                    self._named((*base, name), "other connector", other, others)
            self._named((*base, "shield"), "circuit", connector.shield, document.circuits.circuits)
        for ref, entry in document.ends.pinout.items():
            self._pin(("ends", "pinout", ref), ref)
            self._named(("ends", "pinout", ref, "connector"), "connector", entry.connector, connectors)


class _Tree:
    """Points that branches have joined so far (union by halving of paths)."""

    def __init__(self, points: Iterable[str]) -> None:
        self._parent = {p: p for p in points}

    def _root(self, point: str) -> str:
        parent = self._parent
        while parent[point] != point:
            parent[point] = parent[parent[point]]
            point = parent[point]
        return point

    def joins(self, branch: Branch) -> bool:
        """Whether a branch joins what was apart; it does so from now on."""
        a, b = self._root(branch.from_point), self._root(branch.to_point)
        self._parent[a] = b
        return a != b
