"""The pins and ways of a device that lines go on from: the next free one, or one more."""

from __future__ import annotations

import re
from typing import Any

from inkthread.core.catalogue import Catalogue, ConnectorFamily, DeviceKind
from inkthread.core.circuits.joining import circuit_of
from inkthread.core.circuits.new_device import (
    HALVES,
    LARGER_TERMINALS,
    carrying_family,
    family_carries,
    place_pin,
    place_through,
    put_connector,
)
from inkthread.core.document.draft import Draft, LineError, free_id, next_order
from inkthread.core.document.pin_ref import device_of

_NUMBERED = re.compile(r"(.*?)(\d{1,3})")


def kind_of(draft: Draft, catalogue: Catalogue, device_id: str) -> DeviceKind | None:
    """The kind of a device, if it is one that is known."""
    return catalogue.kinds.get(draft.at("circuits", "devices", device_id, "kind"))


def has_row(draft: Draft, catalogue: Catalogue, device_id: str) -> bool:
    """Whether a device has a row of ways out, each behind a path of its own."""
    kind = kind_of(draft, catalogue, device_id)
    return kind is not None and kind.row and bool(draft.at("circuits", "devices", device_id, "paths"))


def like_pin(draft: Draft, device_id: str, wanted: str) -> str | None:
    """The pin that a further one of a row would be made like: ``out1`` for ``out4``, ``O1`` for ``O2``."""
    match = _NUMBERED.fullmatch(wanted)
    if match is None:
        return None
    pins = draft.at("circuits", "devices", device_id, "pins")
    return next(
        (p for p in pins if (other := _NUMBERED.fullmatch(p)) is not None and other[1] == match[1]), None
    )


def another_pin(
    draft: Draft, catalogue: Catalogue, device_id: str, wanted: str, carries_a: float = 0.0
) -> str:
    """A further pin of a row of a device: its role, its path and its connector are those of the one before.

    A loose terminal that does not suit what it carries is one of its own. Raises LineError where the device
    has no such row.
    """
    kind = kind_of(draft, catalogue, device_id)
    if kind is not None and kind.halves:
        return another_way_through(draft, catalogue, device_id, wanted)
    like = like_pin(draft, device_id, wanted)
    if like is None:
        known = ", ".join(draft.at("circuits", "devices", device_id, "pins"))
        raise LineError(f"{device_id} has no pin {wanted!r}. It has {known}.")
    at = ("circuits", "devices", device_id)
    pins, paths = draft.at(*at, "pins"), draft.at(*at, "paths")
    number = (_NUMBERED.fullmatch(wanted) or ["", "", ""])[2]
    name = re.sub(r"\d+$", number, pins[like].get("name", ""))
    draft.put({**pins[like], "order": next_order(pins), "name": name}, *at, "pins", wanted)
    for path in [p for p in paths.values() if like in (p["from_pin"], p["to_pin"])][:1]:
        ends = {e: wanted if path[e] == like else path[e] for e in ("from_pin", "to_pin")}
        new_path = {**path, **ends, "order": next_order(paths), "rating_a": None, "reason": ""}
        draft.put(new_path, *at, "paths", free_id("", paths))
    _place_beside(draft, catalogue, f"{device_id}.{wanted}", f"{device_id}.{like}", carries_a)
    return wanted


def put_new_pin(
    draft: Draft, catalogue: Catalogue, device_id: str, pin: str, role: str, name: str = ""
) -> None:
    """A pin of a device that its kind does not have, and a way for it. Raises LineError."""
    pins = draft.at("circuits", "devices", device_id, "pins")
    if pin in pins:
        raise LineError(f"{device_id} has a pin {pin} already.")
    at = ("circuits", "devices", device_id, "pins")
    draft.put({"order": next_order(pins), "role": role, "name": name}, *at, pin)
    _place_beside(draft, catalogue, f"{device_id}.{pin}")


def free_way_out(draft: Draft, catalogue: Catalogue, device_id: str, carries_a: float = 0.0) -> str | None:
    """The next output of a row that nothing has yet; None where the device has no row of them."""
    kind = kind_of(draft, catalogue, device_id)
    if not has_row(draft, catalogue, device_id) or kind is None or kind.halves or kind.meets_all:
        return None
    paths = sorted(
        draft.at("circuits", "devices", device_id, "paths").values(), key=lambda p: float(p["order"])
    )
    for path in paths:
        if circuit_of(draft, f"{device_id}.{path['to_pin']}") is None:
            return str(path["to_pin"])
    further = _next_of(draft, device_id, paths[0]["to_pin"])
    return another_pin(draft, catalogue, device_id, further, carries_a)


def free_terminal(draft: Draft, catalogue: Catalogue, device_id: str) -> str:
    """A terminal that has no wire yet of a device at which wires meet: one of its own for every wire."""
    pins = draft.at("circuits", "devices", device_id, "pins")
    for pin in sorted(pins, key=lambda p: float(pins[p]["order"])):
        if circuit_of(draft, f"{device_id}.{pin}") is None:
            return str(pin)
    last = max(pins, key=lambda p: float(pins[p]["order"]))
    return another_pin(draft, catalogue, device_id, _next_of(draft, device_id, last))


def free_way_through(draft: Draft, catalogue: Catalogue, device_id: str) -> str:
    """The number of the next way through two halves that nothing has yet."""
    pins = draft.at("circuits", "devices", device_id, "pins")
    numbers = [str(p)[1:] for p in pins if p[:1] == "a" and f"b{p[1:]}" in pins]
    for number in numbers:
        if all(circuit_of(draft, f"{device_id}.{side}{number}") is None for side in HALVES):
            return number
    count = 1
    while f"a{count}" in pins:
        count += 1
    another_way_through(draft, catalogue, device_id, f"a{count}")
    return str(count)


def another_way_through(draft: Draft, catalogue: Catalogue, device_id: str, pin: str) -> str:
    """A further way through two halves that meet: the same cavity of both. The pin that was wanted."""
    number = pin[1:]
    pins = draft.at("circuits", "devices", device_id, "pins")
    if pin[:1] not in HALVES or not number or f"a{number}" in pins:
        raise LineError(f"{device_id} has no pin {pin!r}. Its ways are {', '.join(pins)}.")
    at = ("circuits", "devices", device_id)
    like = next(iter(draft.at(*at, "paths").values()), None)
    for side in HALVES:
        draft.put({"order": next_order(pins), "role": "signal", "name": ""}, *at, "pins", f"{side}{number}")
    paths = draft.at(*at, "paths")
    path = {**(like or {}), "order": next_order(paths), "from_pin": f"a{number}", "to_pin": f"b{number}"}
    draft.put({"kind": "link", "rating_a": None, "reason": "", **path}, *at, "paths", free_id("", paths))
    halves = [_half_of(draft, device_id, side) for side in HALVES]
    if halves[0] is not None and halves[1] is not None:
        place_through(draft, catalogue, device_id, number, (halves[0], halves[1]))
    return pin


def _half_of(draft: Draft, device_id: str, side: str) -> str | None:
    """The connector that has the pins of one side."""
    pinout = draft.at("ends", "pinout")
    pins = draft.at("circuits", "devices", device_id, "pins")
    refs = (f"{device_id}.{p}" for p in pins if p[:1] == side)
    return next((str(pinout[r]["connector"]) for r in refs if r in pinout), None)


def _next_of(draft: Draft, device_id: str, pin: str) -> str:
    """The first name that is free in the row of a pin."""
    match = _NUMBERED.fullmatch(pin)
    prefix, number = (match[1], int(match[2])) if match is not None else (pin, 1)
    while f"{prefix}{number}" in draft.at("circuits", "devices", device_id, "pins"):
        number += 1
    return f"{prefix}{number}"


def _place_beside(
    draft: Draft, catalogue: Catalogue, ref: str, like: str = "", carries_a: float = 0.0
) -> None:
    """Give a further pin a way at its device's connectors, first at that of the pin it is like; one more of
    them if all are full, or if none suits what it carries.
    """
    device_id = device_of(ref)
    pinout = draft.at("ends", "pinout")
    meeting = [e["connector"] for r, e in pinout.items() if device_of(r) == device_id]
    if like in pinout:
        meeting.insert(0, pinout[like]["connector"])
    other = _of_its_own(draft, catalogue, device_id, meeting[:1], carries_a)
    if other is not None:
        all_connectors = draft.at("ends", "connectors")
        meeting = [c for c in meeting if all_connectors[c]["family"] == other.code]
        if not meeting:
            one = _next_connector(draft, device_id, ref)
            put_connector(draft, one, other, 1, "none")
            place_pin(draft, catalogue, ref, one)
            return
    for connector_id in dict.fromkeys(meeting):
        try:
            place_pin(draft, catalogue, ref, connector_id)
        except LineError:
            continue
        return
    if not meeting:
        return
    connectors = draft.at("ends", "connectors")
    one = _next_connector(draft, device_id, ref)
    again: dict[str, Any] = {
        **connectors[meeting[-1]],
        "order": draft.next_order("ends", "connectors"),
        "ways": 1,
    }
    draft.put(again, "ends", "connectors", one)
    place_pin(draft, catalogue, ref, one)


def _next_connector(draft: Draft, device_id: str, ref: str) -> str:
    connectors = draft.at("ends", "connectors")
    names = (f"{device_id}{letter}" for letter in "bcdefghijklmnopqrstuvwxyz")
    one = next((name for name in names if name not in connectors), None)
    if one is None:
        raise LineError(f"{device_id} has no room for {ref}. Put in a second device like it.")
    return one


def _of_its_own(
    draft: Draft, catalogue: Catalogue, device_id: str, at: list[str], carries_a: float
) -> ConnectorFamily | None:
    """The loose terminals of a pin, where those of the pin before it do not suit what it carries."""
    kind = kind_of(draft, catalogue, device_id)
    if not at or not carries_a or kind is None:
        return None
    before = catalogue.connectors[draft.at("ends", "connectors", at[0], "family")]
    if (
        not before.loose
        or before.code not in (kind.connector, *LARGER_TERMINALS[True])
        or family_carries(before, carries_a)
    ):
        return None
    other = catalogue.connectors[carrying_family(catalogue, kind, carries_a)]
    return other if other.loose and other.code != before.code else None
