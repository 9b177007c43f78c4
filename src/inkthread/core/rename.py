"""An id renamed wherever it is named: a device, a connector, a point, a circuit, a branch, a zone."""

from __future__ import annotations

import re
from typing import Any, Literal

from inkthread.core.document.draft import Draft, LineError
from inkthread.core.document.pin_ref import device_of, pin_of

Renamed = Literal["devices", "connectors", "points", "circuits", "branches", "zones"]

_WHERE: dict[Renamed, tuple[str, str]] = {
    "devices": ("circuits", "devices"),
    "connectors": ("ends", "connectors"),
    "points": ("route", "points"),
    "circuits": ("circuits", "circuits"),
    "branches": ("route", "branches"),
    "zones": ("brief", "zones"),
}
_ID = re.compile(r"[A-Za-z0-9][A-Za-z0-9_+\-]{0,39}")
_FIELDS: dict[Renamed, tuple[tuple[str, str, str], ...]] = {
    "devices": (("circuits", "loads", "device"), ("circuits", "sources", "device")),
    "connectors": (
        ("circuits", "groups", "shield_open"),
        ("ends", "connectors", "meets"),
        ("ends", "connectors", "same_as"),
        ("ends", "pinout", "connector"),
    ),
    "points": (
        ("ends", "connectors", "point"),
        ("route", "branches", "from_point"),
        ("route", "branches", "to_point"),
        ("circuits", "circuits", "hub"),
    ),
    "circuits": (("circuits", "groups", "shield"), ("ends", "connectors", "shield")),
    "branches": (),
    "zones": (("route", "branches", "zone"), ("route", "points", "zone")),
}
"""Collections whose entries name such an id in a field."""
_KEYS: dict[Renamed, tuple[tuple[str, str, str], ...]] = {
    "devices": (("circuits", "buses", "terminators"),),
    "circuits": (("circuits", "groups", "members"), ("circuits", "buses", "circuits")),
    "connectors": (),
    "points": (),
    "branches": (),
    "zones": (),
}
"""Collections whose entries have a collection keyed by such an id."""

_BY_ID: dict[Renamed, tuple[tuple[str, str], ...]] = {
    "devices": (),
    "circuits": (),
    "connectors": (("cut", "ends"), ("dress", "shrinks"), ("dress", "labels")),
    "points": (("dress", "shrinks"),),
    "branches": (("dress", "covers"),),
    "zones": (),
}
"""Collections whose entries are keyed by such an id."""


def rename(plain: dict[str, Any], what: str, old: str, new: str) -> Draft:
    """Operations that give a thing another id, everywhere. Raises LineError.

    A device takes the connector and the point of its name along, where they are its own.
    """
    draft = Draft(plain)
    rename_in(draft, what, old, new)
    return draft


def rename_in(draft: Draft, what: str, old: str, new: str) -> None:
    """Give a thing of a draft another id, everywhere. Raises LineError."""
    new = new.strip()
    if what not in _WHERE:
        raise LineError(f"A {what} cannot be renamed. What can is {', '.join(_WHERE)}.")
    _rename(draft, what, old, new)
    if what == "devices":
        connectors = draft.at("ends", "connectors")
        for mine in [c for c in connectors if re.fullmatch(rf"{re.escape(old)}[a-z]?", c)]:
            with_connector = {
                device_of(r) for r, e in draft.at("ends", "pinout").items() if e["connector"] == mine
            }
            if with_connector <= {new} and f"{new}{mine[len(old) :]}" not in connectors:
                _rename(draft, "connectors", mine, f"{new}{mine[len(old) :]}")
        points = draft.at("route", "points")
        if old in points and new not in points:
            _rename(draft, "points", old, new)


def _rename(draft: Draft, what: Renamed, old: str, new: str) -> None:
    where = _WHERE[what]
    things = draft.at(*where)
    if old not in things:
        raise LineError(f"There is no {old!r} to rename.")
    if not _ID.fullmatch(new):
        raise LineError(f"{new!r} cannot be an id: letters, digits, _ + or -, and a letter or digit first.")
    if new in things:
        raise LineError(f"There is {new} already. Take another id.")
    _move(draft, new, *where, old)
    _where_named(draft, what, old, new)
    if what == "devices":
        _pin_refs(draft, old, new)
    if what == "zones":
        _stretches(draft, old, new)
    for room, collection in _BY_ID[what]:
        if old in draft.at(room, collection):
            _move(draft, new, room, collection, old)
    _wire_keys(draft, what, old, new)
    _steps(draft, what, old, new)


def _where_named(draft: Draft, what: Renamed, old: str, new: str) -> None:
    for room, collection, name in _FIELDS[what]:
        for entry_id, entry in draft.at(room, collection).items():
            if entry.get(name) == old:
                draft.put(new, room, collection, entry_id, name)
    for room, collection, keyed in _KEYS[what]:
        for entry_id, entry in draft.at(room, collection).items():
            if old in entry.get(keyed, {}):
                _move(draft, new, room, collection, entry_id, keyed, old)


def _stretches(draft: Draft, old: str, new: str) -> None:
    for branch_id, branch in draft.at("route", "branches").items():
        for key, stretch in branch.get("stretches", {}).items():
            if stretch["zone"] == old:
                draft.put(new, "route", "branches", branch_id, "stretches", key, "zone")


def _move(draft: Draft, new: str, *path: str) -> None:
    value = draft.at(*path)
    draft.put(value, *path[:-1], new)
    draft.drop(*path)


def _pin_refs(draft: Draft, old: str, new: str) -> None:
    for path in [
        ("ends", "pinout"),
        ("cut", "ends"),
        *(("circuits", "circuits", c, "ends") for c in draft.at("circuits", "circuits")),
    ]:
        for ref in [r for r in draft.at(*path) if device_of(r) == old]:
            _move(draft, f"{new}.{pin_of(ref)}", *path, ref)
    loads = draft.at("circuits", "loads")
    if old in loads and new not in loads:
        _move(draft, new, "circuits", "loads", old)
    sources = draft.at("circuits", "sources")
    if old in sources and new not in sources:
        _move(draft, new, "circuits", "sources", old)


def _wire_keys(draft: Draft, what: Renamed, old: str, new: str) -> None:
    """Fixed wires are named by their circuit, pins and points: ``C1:M1.+``, ``C1:a~b``, ``C1@mid``."""
    for key in list(draft.at("wire", "fixed")):
        renamed = _wire_key(key, what, old, new)
        if renamed != key:
            _move(draft, renamed, "wire", "fixed", key)


def _wire_key(key: str, what: Renamed, old: str, new: str) -> str:
    circuit, colon, rest = key.partition(":")
    if what == "circuits":
        circuit = new if circuit == old else circuit
    ends = [
        f"{new}.{pin_of(e)}" if what == "devices" and device_of(e) == old and "." in e
        else new if what == "points" and e == old
        else e
        for e in rest.split("~")
    ]  # fmt: skip
    return f"{circuit}{colon}{'~'.join(ends)}"


def _steps(draft: Draft, what: Renamed, old: str, new: str) -> None:
    """Steps are named by what is done, and by wires, pins, branches, points, connectors, spaces between."""

    def renamed(step: str) -> str:
        work, *words = step.split(" ")
        return " ".join([work, *(_word(word, what, old, new) for word in words)])

    for step, choice in list(draft.at("build", "steps").items()):
        after = choice.get("after")
        if after is not None and renamed(after) != after:
            draft.put(renamed(after), "build", "steps", step, "after")
        if renamed(step) != step:
            _move(draft, renamed(step), "build", "steps", step)


def _word(word: str, what: Renamed, old: str, new: str) -> str:
    """One word of a step's name."""
    if what == "devices" and device_of(word) == old and "." in word and ":" not in word:
        return f"{new}.{pin_of(word)}"
    if what in ("connectors", "points", "branches"):
        word = "+".join(new if part == old else part for part in word.split("+"))
    if "@" in word and ":" not in word:  # a splice: its circuit, and the point or the pin it is at
        circuit, _, where = word.partition("@")
        return f"{_wire_key(circuit, what, old, new)}@{_wire_key(f':{where}', what, old, new)[1:]}"
    return _wire_key(word, what, old, new) if what in ("circuits", "devices", "points") else word
