"""Typed lines and one-step acts of the rooms, by name: each gives the operations it comes to."""

from __future__ import annotations

import re
from collections.abc import Callable
from typing import Any, Literal, get_args

from inkthread.core.brief.ready_line import ready_made_into
from inkthread.core.brief.zone_line import SAID_OF_ZONES, read_conditions, zone_into
from inkthread.core.catalogue import Catalogue
from inkthread.core.circuits.joining import forget_circuit
from inkthread.core.circuits.new_device import place_pin
from inkthread.core.circuits.patterns import pattern_into
from inkthread.core.circuits.statements import circuits_line
from inkthread.core.conventions import colours_into
from inkthread.core.copying import copy_branch, copy_device
from inkthread.core.document.complete import complete, whole
from inkthread.core.document.draft import Draft, LineError, free_id, next_order
from inkthread.core.document.pin_ref import device_of, pin_of
from inkthread.core.document.values import HIDDEN, PROTECTIVE
from inkthread.core.ends.lines import (
    connector_line,
    copy_connector,
    forget_connector,
    move_pins,
    take_out_connector,
)
from inkthread.core.quantity import QuantityError
from inkthread.core.rename import rename
from inkthread.core.route.lines import insert_point, merge_point, put_stretch, rehang_branch, route_line
from inkthread.core.settle import settle
from inkthread.core.words import some_in_words

ActName = Literal[
    "feed",
    "run",
    "pin",
    "place",
    "zone",
    "zone_is",
    "pattern",
    "connector",
    "copy_connector",
    "copy_device",
    "copy_branch",
    "move_pins",
    "rename",
    "house_colours",
    "settle",
    "ready_made",
    "insert_point",
    "stretch",
    "merge_point",
    "rehang",
    "take_out_device",
    "take_out_connector",
    "take_out_branch",
    "take_out_zone",
]
ACTS: tuple[ActName, ...] = get_args(ActName)


def act_operations(
    plain: dict[str, Any], catalogue: Catalogue, act: str, text: str, about: str = ""
) -> list[dict[str, Any]]:
    """Operations of an act. Raises LineError with what to type instead.

    ``feed``: a line of devices. ``run``: a line of points and lengths. ``pin``: a new pin on the
    device ``about``. ``place``: give every pin of the device ``about`` that has none a cavity.
    ``zone``: a new zone, its name, perhaps how hot its air gets and what else is so there. ``zone_is``: all
    that is so in the zone ``about``. ``pattern``: lines with their devices numbered on. ``connector``: a
    connector put in or changed. ``copy_...``: one more like ``about``. ``move_pins``: pins to the
    connector ``about``. ``house_colours``: the colours of the shop's conventions.
    ``settle``: all that can be put right at the connector ``about``. ``ready_made``: a lead to be had made.
    ``rename``: the thing ``about``, as ``devices/M1``, gets another id everywhere.
    ``stretch``: a part of the branch ``about`` that lies in another zone: ``bay 0 120``.
    ``insert_point``: a point on the branch ``about``. ``merge_point``: the two branches at the point
    ``about`` become one. ``rehang``: the branch ``about`` on another point. ``take_out_...``: the thing
    ``about`` with all that names it.
    """
    if max((len(line) for line in text.splitlines()), default=0) > 2000:
        raise LineError("This line is longer than 2000 letters. Type it in parts.")
    if HIDDEN.search(text) or HIDDEN.search(about):
        raise LineError("There is a character in it that cannot be written. Type it without.")
    return complete(plain, _operations(whole(plain), catalogue, act, text, about))


def _operations(
    plain: dict[str, Any], catalogue: Catalogue, act: str, text: str, about: str
) -> list[dict[str, Any]]:
    if act in _LINES:
        return _lines(plain, catalogue, act, text)
    if act not in _ACTS:
        raise LineError(f"There is no act {act!r}. Known: {', '.join(ACTS)}.")
    return _ACTS[act](plain, catalogue, text, about)


def _rename(plain: dict[str, Any], about: str, text: str) -> list[dict[str, Any]]:
    what, _, old = about.partition("/")
    return rename(plain, what, old, text).operations


def _ready_made(plain: dict[str, Any], text: str) -> list[dict[str, Any]]:
    draft = Draft(plain)
    try:
        ready_made_into(draft, text)
    except QuantityError as error:
        raise LineError(str(error)) from None
    return draft.operations


_LINES: dict[str, Callable[[dict[str, Any], Catalogue, str], Draft]] = {
    "feed": circuits_line,
    "run": lambda plain, _, text: route_line(plain, text),
    "connector": connector_line,
}
"""Lines that may be typed or pasted several at once."""


def _lines(plain: dict[str, Any], catalogue: Catalogue, act: str, text: str) -> list[dict[str, Any]]:
    """One typed line, or several that were pasted at once: all of them, or none."""
    lines = [line for line in text.splitlines() if line.strip()] or [""]
    operations: list[dict[str, Any]] = []
    for number, line in enumerate(lines, 1):
        try:
            draft = _LINES[act](plain, catalogue, line)
        except LineError as error:
            if len(lines) == 1:
                raise
            raise LineError(f"Line {number}: {error}") from None
        plain = draft.plain
        operations += draft.operations
    return operations


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


def _zone(plain: dict[str, Any], catalogue: Catalogue, text: str) -> list[dict[str, Any]]:
    draft = Draft(plain)
    zone_into(draft, text, catalogue.fluids)
    return draft.operations


def _zone_is(plain: dict[str, Any], catalogue: Catalogue, about: str, text: str) -> list[dict[str, Any]]:
    draft = Draft(plain)
    zone = draft.at("brief", "zones").get(about)
    if zone is None:
        raise LineError(f"There is no zone {about!r}.")
    for field, value in read_conditions(text, catalogue.fluids).items():
        if zone.get(field, SAID_OF_ZONES.get(field)) != value:
            draft.put(value, "brief", "zones", about, field)
    return draft.operations


def _house_colours(plain: dict[str, Any], catalogue: Catalogue) -> list[dict[str, Any]]:
    if not catalogue.conventions:
        raise LineError("The shop has no colours of its own yet. Say them in the drawers, under Conventions.")
    draft = Draft(plain)
    colours_into(draft, catalogue)
    return draft.operations


def _take_out_device(plain: dict[str, Any], about: str) -> list[dict[str, Any]]:
    draft = Draft(plain)
    _device(draft, about)
    _leave_circuits(draft, about)
    for collection in ("loads", "sources"):
        for entry_id, entry in list(draft.at("circuits", collection).items()):
            if entry["device"] == about:
                draft.drop("circuits", collection, entry_id)
    for bus_id, bus in list(draft.at("circuits", "buses").items()):
        if about in bus.get("terminators", {}):
            draft.drop("circuits", "buses", bus_id, "terminators", about)
    met = set()
    for ref, entry in list(draft.at("ends", "pinout").items()):
        if device_of(ref) == about:
            met.add(entry["connector"])
            draft.drop("ends", "pinout", ref)
    for connector in sorted(met - {e["connector"] for e in draft.at("ends", "pinout").values()}):
        forget_connector(draft, connector)
    draft.drop("circuits", "devices", about)
    return draft.operations


def _leave_circuits(draft: Draft, device_id: str) -> None:
    """Take a device's pins out of their circuits; a circuit of one end joins nothing, and goes too."""
    for circuit_id, circuit in list(draft.at("circuits", "circuits").items()):
        mine = [ref for ref in circuit["ends"] if device_of(ref) == device_id]
        others = [ref for ref in circuit["ends"] if ref not in mine]
        if not mine:
            continue
        if len(others) > 1:
            for ref in mine:
                draft.drop("circuits", "circuits", circuit_id, "ends", ref)
            continue
        forget_circuit(draft, circuit_id)
        for ref in others:
            _take_out_way(draft, ref)


def _take_out_way(draft: Draft, ref: str) -> None:
    """Take an unused way out of a block of several fuses or breakers: its pin, its path, its cavity."""
    device = draft.at("circuits", "devices")[device_of(ref)]
    ways = {p: path for p, path in device["paths"].items() if path["kind"] in PROTECTIVE}
    mine = [p for p, path in ways.items() if path["to_pin"] == pin_of(ref)]
    if len(mine) != 1 or len(ways) < 2 or ways[mine[0]].get("rating_a") is not None:
        return
    draft.drop("circuits", "devices", device_of(ref), "paths", mine[0])
    if ref in draft.at("ends", "pinout"):
        draft.drop("ends", "pinout", ref)
    draft.drop("circuits", "devices", device_of(ref), "pins", pin_of(ref))


_TAKEN = (
    re.compile(
        r"/(?:circuits/(?:devices|circuits)|ends/connectors|route/(?:branches|points)|brief/zones)/([^/]+)"
    ),
    re.compile(r"/circuits/devices/([^/]+)/pins/([^/]+)"),
)
_NAMED = 4


def act_label(act: str, text: str, about: str, operations: list[dict[str, Any]]) -> str:
    """What an edit is called: its line, or what was taken out and what went with it."""
    if not text and act.startswith("copy_"):
        return f"one more like {about}"
    if text or not act.startswith("take_out_"):
        return text or f"{act.replace('_', ' ')} {about}".strip()
    removed = [str(o["path"]) for o in operations if o["op"] == "remove"]
    matches = (pattern.fullmatch(path) for path in removed for pattern in _TAKEN)
    names = dict.fromkeys(".".join(m.groups()) for m in matches if m)
    others = [name for name in names if name != about]
    return f"take out {about}" + (f", with {some_in_words(others, _NAMED)}" if others else "")


def _take_out_branch(plain: dict[str, Any], about: str) -> list[dict[str, Any]]:
    draft = Draft(plain)
    branch = draft.at("route", "branches").get(about)
    if branch is None:
        raise LineError(f"There is no branch {about!r}.")
    draft.drop("route", "branches", about)
    joined = {b[end] for b in draft.at("route", "branches").values() for end in ("from_point", "to_point")}
    # A point that then hangs on nothing goes too, and what stood there is not placed any more.
    for point in dict.fromkeys((branch["from_point"], branch["to_point"])):
        if point in joined:
            continue
        for connector_id, connector in draft.at("ends", "connectors").items():
            if connector.get("point") == point:
                draft.put(None, "ends", "connectors", connector_id, "point")
        draft.drop("route", "points", point)
    return draft.operations


def _take_out_zone(plain: dict[str, Any], about: str) -> list[dict[str, Any]]:
    draft = Draft(plain)
    if about not in draft.at("brief", "zones"):
        raise LineError(f"There is no zone {about!r}.")
    for branch_id, branch in draft.at("route", "branches").items():
        if branch.get("zone") == about:
            draft.put(None, "route", "branches", branch_id, "zone")
        for stretch_id, stretch in list(branch.get("stretches", {}).items()):
            if stretch["zone"] == about:
                draft.drop("route", "branches", branch_id, "stretches", stretch_id)
    for point_id, point in draft.at("route", "points").items():
        if point.get("zone") == about:
            draft.put(None, "route", "points", point_id, "zone")
    draft.drop("brief", "zones", about)
    return draft.operations


def _place(plain: dict[str, Any], catalogue: Catalogue, about: str) -> list[dict[str, Any]]:
    draft = Draft(plain)
    device = _device(draft, about)
    pinout = draft.at("ends", "pinout")
    used = [e["connector"] for r, e in pinout.items() if device_of(r) == about]
    connector = used[0] if used else about
    if connector not in draft.at("ends", "connectors"):
        raise LineError(f"No connector meets {about} yet. Put one in first.")
    for pin_id in sorted(device["pins"], key=lambda p: float(device["pins"][p]["order"])):
        if f"{about}.{pin_id}" not in draft.at("ends", "pinout"):
            place_pin(draft, catalogue, f"{about}.{pin_id}", connector)
    return draft.operations


_ACTS: dict[str, Callable[[dict[str, Any], Catalogue, str, str], list[dict[str, Any]]]] = {
    "pin": lambda plain, catalogue, text, about: _pin(plain, catalogue, about, text),
    "place": lambda plain, catalogue, _, about: _place(plain, catalogue, about),
    "zone": lambda plain, catalogue, text, _: _zone(plain, catalogue, text),
    "zone_is": lambda plain, catalogue, text, about: _zone_is(plain, catalogue, about, text),
    "pattern": lambda plain, catalogue, text, _: pattern_into(plain, catalogue, text).operations,
    "copy_connector": lambda plain, _, text, about: copy_connector(plain, about, text).operations,
    "copy_device": lambda plain, _, __, about: copy_device(plain, about).operations,
    "copy_branch": lambda plain, _, __, about: copy_branch(plain, about).operations,
    "move_pins": lambda plain, catalogue, text, about: move_pins(plain, catalogue, about, text).operations,
    "take_out_connector": lambda plain, _, __, about: take_out_connector(plain, about).operations,
    "house_colours": lambda plain, catalogue, _, __: _house_colours(plain, catalogue),
    "ready_made": lambda plain, _, text, __: _ready_made(plain, text),
    "settle": lambda plain, catalogue, _, about: settle(plain, catalogue, about),
    "rename": lambda plain, _, text, about: _rename(plain, about, text),
    "stretch": lambda plain, _, text, about: put_stretch(plain, about, text).operations,
    "insert_point": lambda plain, _, text, about: insert_point(plain, about, text).operations,
    "merge_point": lambda plain, _, __, about: merge_point(plain, about).operations,
    "rehang": lambda plain, _, text, about: rehang_branch(plain, about, text).operations,
    "take_out_device": lambda plain, _, __, about: _take_out_device(plain, about),
    "take_out_branch": lambda plain, _, __, about: _take_out_branch(plain, about),
    "take_out_zone": lambda plain, _, __, about: _take_out_zone(plain, about),
}
"""Acts that are no lines: document, catalogue, what is typed and what it is about, to operations."""
