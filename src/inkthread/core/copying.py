"""One more of a thing that is there: a device with what it draws and its connector, a branch."""

from __future__ import annotations

import re
from typing import Any

from inkthread.core.document.draft import Draft, LineError
from inkthread.core.document.pin_ref import device_of, pin_of


def copy_device(plain: dict[str, Any], about: str) -> Draft:
    """Operations that put in a device like another: its pins, paths, loads, and a connector of its own like
    the other's. What it is joined to and where it sits is not copied. Raises LineError.
    """
    draft = Draft(plain)
    devices = draft.at("circuits", "devices")
    if about not in devices:
        raise LineError(f"There is no device {about!r}.")
    new = _next_id(about, devices)
    draft.put(
        {**devices[about], "order": draft.next_order("circuits", "devices")}, "circuits", "devices", new
    )
    for collection in ("loads", "sources"):
        for entry_id, entry in list(draft.at("circuits", collection).items()):
            if entry["device"] == about:
                entries = draft.at("circuits", collection)
                own = new if new not in entries and entry_id == about else _next_id(entry_id, entries)
                order = draft.next_order("circuits", collection)
                draft.put({**entry, "device": new, "order": order}, "circuits", collection, own)
    _copy_connectors(draft, about, new)
    return draft


def _copy_connectors(draft: Draft, about: str, new: str) -> None:
    pinout, connectors = draft.at("ends", "pinout"), draft.at("ends", "connectors")
    on: dict[str, set[str]] = {}
    for ref, entry in pinout.items():
        on.setdefault(entry["connector"], set()).add(device_of(ref))
    names: dict[str, str] = {}
    for connector_id in [c for c, devices in on.items() if devices == {about}]:
        rest = connector_id.removeprefix(about)
        name = f"{new}{rest}" if rest != connector_id else _next_id(connector_id, connectors)
        if name in connectors:
            name = _next_id(name, connectors)
        alone: dict[str, Any] = {"meets": None, "same_as": None, "point": None, "spares": {}}
        order = draft.next_order("ends", "connectors")
        draft.put({**connectors[connector_id], **alone, "order": order}, "ends", "connectors", name)
        names[connector_id] = name
    for ref, entry in list(pinout.items()):
        if device_of(ref) == about and entry["connector"] in names:
            copied = {**entry, "connector": names[entry["connector"]]}
            if "order" in entry:
                copied["order"] = draft.next_order("ends", "pinout")
            draft.put(copied, "ends", "pinout", f"{new}.{pin_of(ref)}")


def copy_branch(plain: dict[str, Any], about: str) -> Draft:
    """Operations that put in a branch like another, from the same point to a new one. Raises LineError."""
    draft = Draft(plain)
    branches = draft.at("route", "branches")
    if about not in branches:
        raise LineError(f"There is no branch {about!r}.")
    points = draft.at("route", "points")
    far = branches[about]["to_point"]
    point = _next_id(far, points)
    copied = {**points[far], "order": draft.next_order("route", "points"), "name": ""}
    draft.put(copied, "route", "points", point)
    order = draft.next_order("route", "branches")
    draft.put(
        {**branches[about], "to_point": point, "order": order}, "route", "branches", _next_id(about, branches)
    )
    return draft


def _next_id(like: str, taken: dict[str, Any]) -> str:
    """The letters of an id with the first free number after its own."""
    letters, digits = re.fullmatch(r"(.*?)(\d*)", like).groups()  # type: ignore[union-attr]
    stem = letters if digits else f"{letters}-"
    number = int(digits or 1) + 1
    while f"{stem}{number}" in taken:
        number += 1
    return f"{stem}{number}"
