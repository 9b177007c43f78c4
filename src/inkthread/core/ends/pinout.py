"""Giving ways to pins: by the device's own numbering, by groups, power apart, by name; and moving them.

Each answers with JSON Patch operations on the document. What is locked stays where it is.
"""

from __future__ import annotations

import re
from typing import Any, Literal

from inkthread.core.catalogue import Catalogue
from inkthread.core.circuits import CircuitsResult
from inkthread.core.document.pin_ref import device_of, pin_of, read_ref
from inkthread.core.document.problems import pointer
from inkthread.core.document.types import Document
from inkthread.core.ends.pairs import neighbour_pairs
from inkthread.core.quantity import QuantityError

Rule = Literal["as the device", "pairs together", "power apart", "by name", "by port"]
RULES: dict[Rule, str] = {
    "as the device": "A pin goes to the way of its own number; the rest follow in the order of the device.",
    "pairs together": "Pairs, threes and their shields side by side, the rest as the device has them.",
    "power apart": "Supplies first, then returns, then a gap where there is room, then signals.",
    "by name": "In the order of the pins' names.",
    "by port": "In the order in which the pins were put in.",
}
_POWER = ("supply", "output", "ignition")
_BACK = ("ground", "drain")


class PinoutError(QuantityError):
    """What was asked of a pinout cannot be done; says why and what would do."""


def _natural(text: str) -> tuple[object, ...]:
    return tuple((0, int(p), "") if p.isdigit() else (1, 0, p) for p in re.findall(r"\d+|\D+", text))


def _face(document: Document, catalogue: Catalogue, connector_id: str) -> dict[str, tuple[float, float]]:
    connector = document.ends.connectors.get(connector_id)
    if connector is None:
        raise PinoutError(f"There is no connector {connector_id!r}.")
    housing = catalogue.connectors[connector.family].housing(connector.ways)
    if housing is None:
        raise PinoutError(f"{connector.family} is not held with {connector.ways} ways.")
    return housing.face.cavities


def give_out(
    document: Document,
    catalogue: Catalogue,
    circuits: CircuitsResult,
    connector_id: str,
    rule: Rule,
    device: str | None = None,
) -> list[dict[str, Any]]:
    """Give the ways of a connector to its pins anew, and to a device's pins that have none yet.

    Raises PinoutError where there are more pins than ways.
    """
    cavities = list(_face(document, catalogue, connector_id))
    connector = document.ends.connectors[connector_id]
    pinout = document.ends.pinout
    entries = {r: e for r, e in pinout.items() if e.connector == connector_id}
    fixed = {r: e.cavity for r, e in entries.items() if e.locked}
    kept = {c for c, s in connector.spares.items() if s.state == "reserved"}
    loose = [r for r in entries if r not in fixed]
    owner = device or next((device_of(r) for r in entries), connector_id)
    if owner in document.circuits.devices:
        pins = document.circuits.devices[owner].pins
        loose += [
            f"{owner}.{p}" for p in sorted(pins, key=lambda p: pins[p].order) if f"{owner}.{p}" not in pinout
        ]
    free = [c for c in cavities if c not in kept and c not in fixed.values()]
    if len(loose) > len(free):
        raise PinoutError(
            f"{connector_id} has {len(free)} ways to give and {len(loose)} pins want one. "
            "Give it more ways, unlock some, or free what is kept."
        )
    places = _places(document, catalogue, circuits, connector_id, rule, loose, free)
    operations: list[dict[str, Any]] = []
    order = max((e.order for e in pinout.values()), default=0.0)
    for ref in loose:
        entry = entries.get(ref)
        if entry is None:
            order += 1
            value = {"order": order, "connector": connector_id, "cavity": places[ref]}
            operations.append({"op": "add", "path": pointer(["ends", "pinout", ref]), "value": value})
        elif entry.cavity != places[ref]:
            path = pointer(["ends", "pinout", ref, "cavity"])
            operations.append({"op": "replace", "path": path, "value": places[ref]})
    return operations


def _places(
    document: Document,
    catalogue: Catalogue,
    circuits: CircuitsResult,
    connector_id: str,
    rule: Rule,
    refs: list[str],
    free: list[str],
) -> dict[str, str]:
    devices = document.circuits.devices

    def pin(ref: str) -> str:
        return pin_of(ref)

    def name(ref: str) -> str:
        device_id, p = read_ref(ref)
        return devices[device_id].pins[p].name or p

    def device_order(ref: str) -> tuple[object, ...]:
        device_id, p = read_ref(ref)
        return (devices[device_id].order, devices[device_id].pins[p].order, ref)

    def role(ref: str) -> str:
        circuit = circuits.circuit_of.get(ref)
        facts = circuits.circuits.get(circuit or "")
        if facts is not None:
            return facts.role
        device_id, p = read_ref(ref)
        own = devices[device_id].pins[p].role
        return "supply" if own.startswith(("supply", "output")) else own

    if rule == "by name":
        return dict(zip(sorted(refs, key=lambda r: (_natural(name(r)), r)), free, strict=False))
    if rule == "by port":
        return dict(zip(sorted(refs, key=device_order), free, strict=False))
    if rule == "power apart":
        power = [r for r in sorted(refs, key=device_order) if role(r) in _POWER]
        back = [r for r in sorted(refs, key=device_order) if role(r) in _BACK]
        rest = [r for r in sorted(refs, key=device_order) if r not in power and r not in back]
        first = power + back
        gap = len(free) - len(refs)
        start = len(first) + min(gap, 1) if first and rest else len(first)
        return {**dict(zip(first, free, strict=False)), **dict(zip(rest, free[start:], strict=False))}
    places = {r: pin(r) for r in refs if pin(r) in free}
    left = [c for c in free if c not in places.values()]
    waiting = sorted((r for r in refs if r not in places), key=device_order)
    places |= dict(zip(waiting, left, strict=False))
    if rule == "pairs together":
        return _pairs_first(document, catalogue, circuits, connector_id, refs, free, places)
    return places


def _pairs_first(
    document: Document,
    catalogue: Catalogue,
    circuits: CircuitsResult,
    connector_id: str,
    refs: list[str],
    free: list[str],
    usual: dict[str, str],
) -> dict[str, str]:
    """Groups on ways that lie together, the others on what is left in their usual order."""
    connector = document.ends.connectors[connector_id]
    housing = catalogue.connectors[connector.family].housing(connector.ways)
    assert housing is not None, "its cavities were asked for before"
    near: dict[str, set[str]] = {c: set() for c in housing.face.cavities}
    for a, b in neighbour_pairs(housing.face):
        near[a].add(b)
    left = list(free)
    places: dict[str, str] = {}
    for group in document.circuits.groups.values():
        if group.kind == "cable":
            continue
        members = [*group.members, *([group.shield] if group.shield else [])]
        together = [r for m in members for r in refs if circuits.circuit_of.get(r) == m and r not in places]
        if len(together) < 2:
            continue
        block = _block(near, left, len(together))
        if block is None:
            continue
        for ref, cavity in zip(together, block, strict=True):
            places[ref] = cavity
            left.remove(cavity)
    waiting = [r for r in sorted(refs, key=lambda r: free.index(usual[r])) if r not in places]
    places |= dict(zip(waiting, left, strict=False))
    return places


def _block(near: dict[str, set[str]], free: list[str], count: int) -> list[str] | None:
    """The first free ways that hang together."""
    for start in free:
        block = [start]
        while len(block) < count:
            step = next((c for c in free if c not in block and near[c] & set(block)), None)
            if step is None:
                break
            block.append(step)
        if len(block) == count:
            return block
    return None


def swap(document: Document, catalogue: Catalogue, connector_id: str, a: str, b: str) -> list[dict[str, Any]]:
    """Exchange what is on two ways; one of them may be free. Raises PinoutError."""
    face = _face(document, catalogue, connector_id)
    for cavity in (a, b):
        if cavity not in face:
            raise PinoutError(f"{connector_id} has no way {cavity!r}. It has {', '.join(list(face)[:12])}.")
    refs = [
        (r, e) for r, e in document.ends.pinout.items() if e.connector == connector_id and e.cavity in (a, b)
    ]
    locked = [r for r, e in refs if e.locked]
    if locked:
        raise PinoutError(
            f"{locked[0]} is locked on way {document.ends.pinout[locked[0]].cavity}. Unlock it first."
        )
    if a == b or not refs:
        return []
    return [
        {
            "op": "replace",
            "path": pointer(["ends", "pinout", r, "cavity"]),
            "value": b if e.cavity == a else a,
        }
        for r, e in refs
    ]


def clear(document: Document, connector_id: str) -> list[dict[str, Any]]:
    """Free every way of a connector that is not locked."""
    return [
        {"op": "remove", "path": pointer(["ends", "pinout", r])}
        for r, e in document.ends.pinout.items()
        if e.connector == connector_id and not e.locked
    ]
