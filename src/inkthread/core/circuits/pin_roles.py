"""Pins against what they are joined to: each has a role, and what meets in a circuit must go together.

Circuits that a connector only leads through are one net here, whatever flows in them.
"""

from __future__ import annotations

import re
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from itertools import permutations
from typing import Any, Literal

from inkthread.core.catalogue import Catalogue
from inkthread.core.circuits.network import Network, conducts_either_way
from inkthread.core.document.pin_ref import device_of, read_ref
from inkthread.core.document.problems import pointer
from inkthread.core.document.types import Circuit, Device, Document
from inkthread.core.findings import FindingBook, Phrase, Place, PutRight, called, phrase
from inkthread.core.words import list_in_words

Side = Literal["supply", "signal", "return"]

_OFFERS: dict[str, tuple[Side, ...]] = {
    "supply_out": ("supply",),
    "output_high": ("supply",),
    "signal": ("signal",),
    "trigger": ("signal",),
    "output_low": ("return", "signal"),
    "ground": ("return",),
    "sensor_return": ("return",),
}
"""What a pin is to a sensor that meets it: an output that sinks takes its signal, or its return."""
_WANTS: dict[str, Side] = {
    "supply_in": "supply",
    "signal": "signal",
    "sensor_return": "return",
    "ground": "return",
}
"""What a pin of a sensor must meet."""
_LEVEL = {"supply": 2, "signal": 1, "return": 0}
_ON_POWER = {"ground", "supply_out", "supply_in", "output_high", "output_low"}


@dataclass(slots=True)
class _Net:
    """Circuits led through connectors into each other, and what their pins offer, by device."""

    circuits: set[str] = field(default_factory=set)
    offers: dict[str, dict[Side, str]] = field(default_factory=dict)
    """Device to what it offers, each by the first pin that does."""

    def offered_to(self, device_id: str) -> dict[Side, str]:
        """What devices besides this one offer."""
        offered: dict[Side, str] = {}
        for other, sides in self.offers.items():
            if other != device_id:
                for side, ref in sides.items():
                    offered.setdefault(side, ref)
        return offered


def _nets(document: Document, net: Network) -> dict[str, _Net]:
    """Circuit to its net."""
    nets = {c: _Net({c}) for c in net.circuits}
    leading: set[str] = set()
    for device_id, device in document.circuits.devices.items():
        for path in device.paths.values():
            if not conducts_either_way(device, path):
                continue
            leading.add(device_id)
            a, b = (net.circuit_of.get(f"{device_id}.{p}") for p in (path.from_pin, path.to_pin))
            if a is not None and b is not None and nets[a] is not nets[b]:
                nets[a].circuits |= nets[b].circuits
                for circuit_id in nets[b].circuits:
                    nets[circuit_id] = nets[a]
    for circuit_id, circuit in net.circuits.items():
        for ref in circuit.ends:
            device_id, pin_id = read_ref(ref)
            if device_id in leading:
                continue
            for side in _OFFERS.get(document.circuits.devices[device_id].pins[pin_id].role, ()):
                nets[circuit_id].offers.setdefault(device_id, {}).setdefault(side, ref)
    return nets


def find_in_pin_roles(document: Document, catalogue: Catalogue, net: Network, book: FindingBook) -> None:
    """Sensors wired in another order, polarity that is not known, data on power, outputs joined."""
    nets = _nets(document, net)
    for device_id, device in document.circuits.devices.items():
        kind = catalogue.kinds.get(device.kind)
        if device.polarised or (kind is not None and kind.group == "sensors"):
            _sensor(net, nets, device_id, device, book)
        _polarity(device_id, device, book)
    _data(document, net, book)
    _outputs(document, net, nets, book)
    stated = {
        f"{device_id}.{pin_id}"
        for device_id, device in document.circuits.devices.items()
        for pin_id, pin in device.pins.items()
        if pin.switching != "not said"
    }
    for circuit_id, circuit in net.circuits.items() if stated else ():
        if not stated.isdisjoint(circuit.ends):
            _switching(document, circuit_id, circuit, book)


def _wrong(side: Side, offered: Mapping[Side, str]) -> str | None:
    """The pin that one that wants this side must not meet, or None where it is well.

    A supply and a return in one net are a short, and told as such.
    """
    if side in offered:
        return offered.get("supply") if side == "signal" else None
    return next(iter(offered.values()), None)


def _sensor(
    net: Network, nets: Mapping[str, _Net], device_id: str, device: Device, book: FindingBook
) -> None:
    """A sensor that works one way round only: every pin meets what it wants, or none is right."""
    wants = {p: side for p, pin in device.pins.items() if (side := _WANTS.get(pin.role)) is not None}
    if device.polarised:
        if _turned(net, nets, device_id, wants):
            _say_miswired(net, nets, device_id, device, list(wants), wants, book)
        return
    if not {"supply", "signal", "return"} <= set(wants.values()):
        return
    wrong = [p for p, side in wants.items() if _meets(net, nets, device_id, p, side) is not None]
    if wrong:
        _say_miswired(net, nets, device_id, device, wrong, wants, book)


def _meets(net: Network, nets: Mapping[str, _Net], device_id: str, pin: str, side: Side) -> str | None:
    circuit = net.circuit_of.get(f"{device_id}.{pin}")
    return None if circuit is None else _wrong(side, nets[circuit].offered_to(device_id))


def _turned(net: Network, nets: Mapping[str, _Net], device_id: str, wants: Mapping[str, Side]) -> bool:
    """Whether the pin of a polarised switch that wants the higher level has the lower one."""
    levels: list[tuple[int, int]] = []
    for pin, side in wants.items():
        circuit = net.circuit_of.get(f"{device_id}.{pin}")
        offered = nets[circuit].offered_to(device_id) if circuit is not None else {}
        if offered:
            levels.append((_LEVEL[side], max(_LEVEL[s] for s in offered)))
    if len(levels) != 2 or levels[0][0] == levels[1][0]:
        return False
    (want_a, has_a), (want_b, has_b) = levels
    return (want_a - want_b) * (has_a - has_b) < 0


def _say_miswired(
    net: Network,
    nets: Mapping[str, _Net],
    device_id: str,
    device: Device,
    wrong: list[str],
    wants: Mapping[str, Side],
    book: FindingBook,
) -> None:
    says: list[Phrase] = []
    for pin in wrong:
        circuit = net.circuit_of.get(f"{device_id}.{pin}")
        offered = nets[circuit].offered_to(device_id) if circuit is not None else {}
        if offered:
            side, ref = next(iter(offered.items()))
            says.append(phrase("meets", wants=wants[pin], pin=pin, ref=ref, side=side))
    book.add(
        "sensor-miswired",
        Place("circuits", "device", device_id),
        *(Place("ends", "pin", f"{device_id}.{p}") for p in wrong),
        mechanical=_put_right(net, nets, device_id, device, wants),
        device=called("device", device_id),
        what=says,
    )


def _put_right(
    net: Network, nets: Mapping[str, _Net], device_id: str, device: Device, wants: Mapping[str, Side]
) -> PutRight | None:
    """The order of the sensor's own pins in which every one meets what it wants, where there is one."""
    pins = [p for p in wants if net.circuit_of.get(f"{device_id}.{p}") is not None]
    circuits = [net.circuit_of[f"{device_id}.{p}"] for p in pins]
    if len(pins) > 4 or len(set(circuits)) < len(circuits):
        return None
    able = []
    for order in permutations(circuits):
        offered = [nets[c].offered_to(device_id) for c in order]
        if all(wants[p] in o and _wrong(wants[p], o) is None for p, o in zip(pins, offered, strict=True)):
            able.append(order)
    if not able and device.polarised and len(pins) == 2:
        able = [(circuits[1], circuits[0])]
    if len(able) != 1:
        return None
    operations: list[dict[str, Any]] = []
    moved = [(p, a, b) for p, a, b in zip(pins, circuits, able[0], strict=True) if a != b]
    for pin, before, _ in moved:
        path = pointer(["circuits", "circuits", before, "ends", f"{device_id}.{pin}"])
        operations.append({"op": "remove", "path": path})
    for n, (pin, _, after) in enumerate(moved):
        path = pointer(["circuits", "circuits", after, "ends", f"{device_id}.{pin}"])
        operations.append({"op": "add", "path": path, "value": {"order": 900 + n}})
    return phrase("order"), tuple(operations)


def _polarity(device_id: str, device: Device, book: FindingBook) -> None:
    """A dry contact works either way round, a polarised switch one way: what is said must agree."""
    if not device.polarised and device.kind != "dry_switch":
        return
    place = Place("circuits", "device", device_id)
    roles = {p: pin.role for p, pin in device.pins.items()}
    name = called("device", device_id)

    at = ["circuits", "devices", device_id, "pins"]

    def put(*wanted: str) -> tuple[dict[str, Any], ...]:
        return tuple(
            {"op": "replace", "path": pointer([*at, p, "role"]), "value": r}
            for p, r in zip(roles, wanted, strict=False)
        )

    if device.polarised and set(roles.values()) == {"dry_contact"} and len(roles) == 2:
        first, second = roles
        book.add(
            "polarity-not-known",
            place,
            mechanical=(phrase("positive", first=first), put("signal", "sensor_return")),
            device=name,
            pins=[first, second],
        )
    demanded = device.kind == "dry_switch" and not device.polarised and len(roles) == 2
    if demanded and set(roles.values()) != {"dry_contact"}:
        book.add(
            "polarity-demanded",
            place,
            mechanical=(phrase("dry"), put("dry_contact", "dry_contact")),
            device=name,
        )


_HIGH = re.compile(r"(^|[\s_])(h|high|hi|a|d\+|plus|canh)$", re.IGNORECASE)
_LOW = re.compile(r"(^|[\s_])(l|low|lo|b|d-|minus|canl)$", re.IGNORECASE)


def bus_line(devices: Mapping[str, Device], ref: str) -> str | None:
    """Which line of a pair a data pin is, ``high`` or ``low``, by its name or its mark; None if unsaid.

    A and B count as in most makers' use, A with the one called high (RS-485 makers differ: common
    practice, no source); one name is enough where the other says nothing.
    """
    device_id, pin_id = read_ref(ref)
    pin = devices[device_id].pins[pin_id]
    if pin.role != "data":
        return None
    for text in (pin.name, pin_id):
        if _HIGH.search(text.strip()):
            return "high"
        if _LOW.search(text.strip()):
            return "low"
    return None


def _data(document: Document, net: Network, book: FindingBook) -> None:
    """Data on a pin of power, and the high line of a pair on the low one."""
    devices = document.circuits.devices
    on_a_bus = {c for bus in document.circuits.buses.values() for c in bus.circuits}
    for circuit_id, circuit in net.circuits.items():
        roles = net.roles[circuit_id]
        if "data" not in roles and circuit_id not in on_a_bus:
            continue
        place = Place("circuits", "circuit", circuit_id)
        name = called("circuit", circuit_id)
        if roles & _ON_POWER:
            on = [r for r in circuit.ends if _role(devices, r) in _ON_POWER]
            book.add("data-on-power", place, circuit=name, pins=list_in_words(on[:4]))
        lines = {ref: line for ref in circuit.ends if (line := bus_line(devices, ref)) is not None}
        if len(set(lines.values())) > 1:
            book.add(
                "data-crossed",
                place,
                *(Place("circuits", "device", device_of(ref)) for ref in list(lines)[:6]),
                circuit=name,
                high=list_in_words([r for r, line in lines.items() if line == "high"][:4]),
                low=list_in_words([r for r, line in lines.items() if line == "low"][:4]),
            )


def _role(devices: Mapping[str, Device], ref: str) -> str:
    device_id, pin_id = read_ref(ref)
    return devices[device_id].pins[pin_id].role


def _outputs(document: Document, net: Network, nets: Mapping[str, _Net], book: FindingBook) -> None:
    """Outputs that drive each other: two of them, or one on a feed of something else.

    Batteries and what charges them may be joined: that is told apart.
    """
    devices = document.circuits.devices
    sources = set(net.sources) - set(net.converters)
    fed: set[str] | None = None
    told: set[int] = set()
    for circuit_id, own in nets.items():
        if id(own) in told:
            continue
        told.add(id(own))
        if all(_MAKES.isdisjoint(net.roles[c]) for c in own.circuits):
            continue
        pins = [r for c in own.circuits for r in net.circuits[c].ends]
        outputs = [r for r in pins if _makes(net, devices, r) and r not in sources]
        owners = {device_of(r) for r in outputs}
        supplies = [r for r in outputs if _role(devices, r) == "supply_out"]
        if supplies and fed is None:
            fed = {c for pin in sources for c in net.spread(pin)}
        against = _feeding(net, own.circuits, owners) if fed and own.circuits & fed and supplies else []
        if len(owners) > 1 or against:
            book.add(
                "outputs-joined",
                Place("circuits", "circuit", circuit_id),
                circuit=called("circuit", circuit_id),
                pins=list_in_words([*outputs, *against][:6]),
            )


_MAKES = frozenset({"output_high", "supply_out"})


def _makes(net: Network, devices: Mapping[str, Device], ref: str) -> bool:
    """Whether a pin puts out current of its own, not what comes along a path."""
    return _role(devices, ref) in _MAKES and (ref not in net.paths_to or ref in net.converters)


def _feeding(net: Network, circuits: Iterable[str], owners: set[str]) -> list[str]:
    """Pins by which something else feeds these circuits: a source's own, or where a path ends."""
    sources = set(net.sources)
    return [
        r
        for c in circuits
        for r in net.circuits[c].ends
        if device_of(r) not in owners
        and (r in sources or any(at[2].kind != "link" for at in net.paths_to.get(r, ())))
    ]


_SWITCHES = {"output_high": "sourcing", "output_low": "sinking"}
_KINDS = ("sourcing", "sinking")


def _switching(document: Document, circuit_id: str, circuit: Circuit, book: FindingBook) -> None:
    """An electronic output that sources, at an input that takes one that sinks, or the other way about.

    A dry contact is neither: it goes with both.
    """
    says: dict[str, list[str]] = {}
    for ref in circuit.ends:
        device_id, pin_id = read_ref(ref)
        pin = document.circuits.devices[device_id].pins[pin_id]
        kind = _SWITCHES.get(pin.role, "") if pin.switching == "not said" else pin.switching
        if kind in _KINDS:
            says.setdefault(kind, []).append(ref)
    devices = {device_of(ref) for refs in says.values() for ref in refs}
    if len(says) == 2 and len(devices) > 1:
        book.add(
            "switching-differs",
            Place("circuits", "circuit", circuit_id),
            *(Place("circuits", "device", d) for d in sorted(devices)[:4]),
            circuit=called("circuit", circuit_id),
            pins=[phrase(kind, refs=list_in_words(refs)) for kind, refs in says.items()],
        )
