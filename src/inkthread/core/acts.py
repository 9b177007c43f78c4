"""Typed lines and one-step acts of the rooms, by name: each gives the operations it comes to."""

from __future__ import annotations

from typing import Any

from inkthread.core.catalogue import Catalogue
from inkthread.core.circuits.lines import feed_line, place_pin
from inkthread.core.document.draft import Draft, LineError, free_id, next_order
from inkthread.core.route.lines import route_line

ACTS = ("feed", "run", "pin", "place")


def act_operations(
    plain: dict[str, Any], catalogue: Catalogue, act: str, text: str, about: str = ""
) -> list[dict[str, Any]]:
    """Operations of an act. Raises LineError with what to type instead.

    ``feed``: a line of devices. ``run``: a line of points and lengths. ``pin``: a new pin on the
    device ``about``. ``place``: give every pin of the device ``about`` that has none a cavity.
    """
    if len(text) > 2000:
        raise LineError("This line is longer than 2000 letters. Type it in parts.")
    if act == "feed":
        return feed_line(plain, catalogue, text).operations
    if act == "run":
        return route_line(plain, text).operations
    if act == "pin":
        return _pin(plain, catalogue, about, text)
    if act == "place":
        return _place(plain, catalogue, about)
    raise LineError(f"There is no act {act!r}. Known: {', '.join(ACTS)}.")


def _device(draft: Draft, about: str) -> dict[str, Any]:
    device = draft.at("circuits", "devices").get(about)
    if device is None:
        raise LineError(f"There is no device {about!r}.")
    return dict(device)


def _pin(plain: dict[str, Any], catalogue: Catalogue, about: str, text: str) -> list[dict[str, Any]]:
    draft = Draft(plain)
    device = _device(draft, about)
    words = text.split()
    pin_id = words[0] if words else free_id("", device["pins"])
    if pin_id in device["pins"]:
        raise LineError(f"{about} has a pin {pin_id} already.")
    draft.put(
        {"order": next_order(device["pins"]), "role": "signal", "name": " ".join(words[1:])},
        "circuits",
        "devices",
        about,
        "pins",
        pin_id,
    )
    if about in draft.at("ends", "connectors"):
        place_pin(draft, catalogue, f"{about}.{pin_id}", about)
    return draft.operations


def _place(plain: dict[str, Any], catalogue: Catalogue, about: str) -> list[dict[str, Any]]:
    draft = Draft(plain)
    device = _device(draft, about)
    pinout = draft.at("ends", "pinout")
    used = [e["connector"] for r, e in pinout.items() if r.partition(".")[0] == about]
    connector = used[0] if used else about
    if connector not in draft.at("ends", "connectors"):
        raise LineError(f"No connector meets {about} yet. Put one in first.")
    for pin_id in sorted(device["pins"], key=lambda p: float(device["pins"][p]["order"])):
        if f"{about}.{pin_id}" not in draft.at("ends", "pinout"):
            place_pin(draft, catalogue, f"{about}.{pin_id}", connector)
    return draft.operations
