"""Typed lines of the circuits room: a feed from source to load and back, or a single device.

``B1 battery > F1 fuse > M1 lift pump 7.5 A > B1`` puts in what is new, and joins each device to
the next: out of a source at its supply, through a fuse or switch along its path, through a load
from its feed to its return.
"""

from __future__ import annotations

import re
from typing import Any

from inkthread.core.catalogue import Catalogue, DeviceKind
from inkthread.core.circuits.kind_of_name import guess_kind
from inkthread.core.circuits.said import put_said, read_said
from inkthread.core.document.draft import Draft, LineError, free_id, next_order

_ID = re.compile(r"^[A-Za-z]{1,3}\d{1,3}$")


def feed_line(plain: dict[str, Any], catalogue: Catalogue, text: str) -> Draft:
    """Operations that put a typed feed into a document. Raises LineError."""
    steps = [step.strip() for step in text.split(">")]
    if any(not step for step in steps):
        raise LineError("There is nothing between two >. Write B1 > F1 > M1 pump 5 A > B1.")
    draft = Draft(plain)
    named = [_device_of(draft, catalogue, step) for step in steps]
    if len(named) == 1:
        return draft
    leaving: str | None = None
    for position, (device, pin) in enumerate(named):
        first, last = position == 0, position == len(named) - 1
        if first:
            leaving = (
                f"{device}.{pin or _free_way_out(draft, catalogue, device) or _first_pin(draft, device)}"
            )
            continue
        if pin is None:
            pin = _last_pin(draft, device) if last else _entry_pin(draft, device)
        assert leaving is not None
        join_pins(draft, leaving, f"{device}.{pin}")
        if not last:
            row = _free_way_out(draft, catalogue, device) if pin == _entry_pin(draft, device) else None
            leaving = f"{device}.{row or _exit_pin(draft, device, pin)}"
    return draft


def _device_of(draft: Draft, catalogue: Catalogue, step: str) -> tuple[str, str | None]:
    """The device that a step names (put in if new), and the pin if it names one."""
    devices = draft.at("circuits", "devices")
    first = step.split()[0]
    head, dot, pin = first.partition(".")
    if head in devices:
        missing = dot and pin not in devices[head]["pins"]
        if missing and _has_row(catalogue, devices[head]) and re.fullmatch(r"out[1-9]\d?", pin):
            _another_way_out(draft, catalogue, head, pin)
        elif missing:
            known = ", ".join(devices[head]["pins"])
            raise LineError(f"{head} has no pin {pin!r}. It has {known}.")
        if len(step.split()) > 1:
            raise LineError(f"{head} is there already. Write {first} alone to join it.")
        return head, pin or None
    if dot:
        raise LineError(f"There is no device {head!r} yet. Put it in first: {head} lift pump 5 A.")
    words = step.split()
    given = words.pop(0) if _ID.match(first) else ""
    tail = " ".join(words)
    second = re.search(r"[,;]\s*([A-Z]{1,3}\d{1,3})\b", tail)
    if second is not None:
        raise LineError(
            f"{given or 'It'} and {second[1]} are two devices: one a line, or > between what is joined."
        )
    tail, said = read_said(tail, float(draft.at("brief", "supply_working_v") or 0) or 12.0)
    kind_id = guess_kind(catalogue, tail, given)
    kind = catalogue.kinds[kind_id]
    device_id = given or draft.free_id(kind.prefix, "circuits", "devices")
    add_device(draft, catalogue, device_id, tail or kind.label, kind_id)
    put_said(draft, device_id, kind, tail, said)
    return device_id, None


def _has_row(catalogue: Catalogue, device: dict[str, Any]) -> bool:
    kind = catalogue.kinds.get(device["kind"])
    return kind is not None and kind.row and bool(device.get("paths"))


def _another_way_out(draft: Draft, catalogue: Catalogue, device_id: str, pin: str | None = None) -> str:
    """A further output of a device that has a row of them, behind a path of its own; the pin it is at."""
    device = draft.at("circuits", "devices", device_id)
    like = min(device["paths"].values(), key=lambda p: float(p["order"]))
    number = 1
    while pin is None and f"out{number}" in device["pins"]:
        number += 1
    made = pin or f"out{number}"
    at = ("circuits", "devices", device_id)
    draft.put(
        {"order": next_order(device["pins"]), "role": "supply_out", "name": f"to load {made[3:]}"},
        *at, "pins", made,
    )  # fmt: skip
    path = {**like, "order": next_order(device["paths"]), "to_pin": made, "rating_a": None, "reason": ""}
    draft.put(path, *at, "paths", free_id("", device["paths"]))
    pinout = draft.at("ends", "pinout")
    held = [e["connector"] for ref, e in pinout.items() if ref.partition(".")[0] == device_id]
    for connector_id in dict.fromkeys(held):
        try:
            place_pin(draft, catalogue, f"{device_id}.{made}", connector_id)
        except LineError:
            continue
        return made
    if held:
        # One more of the same beside it, at the same place.
        connectors = draft.at("ends", "connectors")
        names = (f"{device_id}{letter}" for letter in "bcdefghijklmnopqrstuvwxyz")
        one = next((x for x in names if x not in connectors), None)
        if one is None:
            raise LineError(f"{device_id} has no room for {made}. Put in a second device like it.")
        draft.put(
            {**connectors[held[-1]], "order": draft.next_order("ends", "connectors"), "ways": 1},
            "ends",
            "connectors",
            one,
        )
        place_pin(draft, catalogue, f"{device_id}.{made}", one)
    return made


def _free_way_out(draft: Draft, catalogue: Catalogue, device_id: str) -> str | None:
    """The next output of a row that nothing has yet; None where the device has no row of them."""
    device = draft.at("circuits", "devices", device_id)
    if not _has_row(catalogue, device):
        return None
    for path in sorted(device["paths"].values(), key=lambda p: float(p["order"])):
        if circuit_of(draft, f"{device_id}.{path['to_pin']}") is None:
            return str(path["to_pin"])
    return _another_way_out(draft, catalogue, device_id)


def add_device(
    draft: Draft,
    catalogue: Catalogue,
    device_id: str,
    name: str,
    kind_id: str,
    *,
    pins: bool = True,
) -> None:
    """A new device with its kind's pins, paths and load, and a connector that meets it; or without pins."""
    kind = catalogue.kinds[kind_id]
    draft.put(
        {
            "order": draft.next_order("circuits", "devices"),
            "name": name,
            "kind": kind_id,
            "moving": False,
            "structure": kind.structure,
            "pins": {
                p.id: {
                    "order": n + 1.0,
                    "role": p.role,
                    "name": p.name,
                    **({} if p.switching == "not said" else {"switching": p.switching}),
                }
                for n, p in enumerate(kind.pins if pins else ())
            },
            "paths": {
                f"{n + 1}": {
                    "order": n + 1.0,
                    "from_pin": p.from_pin,
                    "to_pin": p.to_pin,
                    "kind": p.kind,
                    "rating_a": None,
                    "reason": "",
                    "contact_a": p.contact_a,
                    "out_v": p.out_v,
                    "efficiency_percent": p.efficiency_percent,
                    "throw": p.throw,
                }
                for n, p in enumerate(kind.paths)
            },
        },
        "circuits",
        "devices",
        device_id,
    )
    if kind.load is not None:
        loads = draft.at("circuits", "loads")
        load_id = device_id if device_id not in loads else draft.free_id("L", "circuits", "loads")
        draft.put(
            {
                "order": draft.next_order("circuits", "loads"),
                "device": device_id,
                "supply_pin": kind.load[0],
                "return_pin": kind.load[1],
                "current_a": 0.0,
                "service": "continuous",
                "kind": kind.load_kind,
            },
            "circuits",
            "loads",
            load_id,
        )
    if kind.source is not None:
        supply = next(p.id for p in kind.pins if p.role == "supply_out")
        back = next(p.id for p in kind.pins if p.role == "ground")
        sources = draft.at("circuits", "sources")
        draft.put(
            {
                "order": draft.next_order("circuits", "sources"),
                "device": device_id,
                "supply_pin": supply,
                "return_pin": back,
                "kind": kind.source.kind,
                "internal_mohm": kind.source.internal_mohm,
            },
            "circuits",
            "sources",
            device_id if device_id not in sources else draft.free_id("S", "circuits", "sources"),
        )
    _add_connector(draft, catalogue, device_id, kind, pins=pins)


def _add_connector(
    draft: Draft, catalogue: Catalogue, device_id: str, kind: DeviceKind, *, pins: bool
) -> None:
    connectors = draft.at("ends", "connectors")
    connector_id = device_id if device_id not in connectors else draft.free_id("P", "ends", "connectors")
    family = catalogue.connectors[kind.connector]
    ids = {p.id for p in kind.pins}
    # Pins that are named as the ways of a housing go to the ways of their name.
    same = next((h for h in family.housings if ids and ids <= h.face.cavities.keys()), None)
    ways = next((h.ways for h in family.housings if h.ways >= len(kind.pins)), family.housings[-1].ways)
    ways = same.ways if same is not None else ways
    # Sockets on leads: the shell that carries them, the plug where either may.
    halves = [s for s in ("plug", "receptacle") if family.gender_for(s) in (None, "socket")]
    shell = "none" if family.loose else halves[0] if halves else "plug"
    draft.put(
        {
            "order": draft.next_order("ends", "connectors"),
            "family": family.code,
            "ways": ways,
            "name": "",
            "point": connector_id if connector_id in draft.at("route", "points") else None,
            "shell": shell,
            "contact_gender": family.gender_for(shell) or "socket",
            "stud": kind.stud,
        },
        "ends",
        "connectors",
        connector_id,
    )
    for pin in kind.pins if pins else ():
        wanted = pin.id if same is not None else None
        place_pin(draft, catalogue, f"{device_id}.{pin.id}", connector_id, wanted)


def place_pin(
    draft: Draft, catalogue: Catalogue, ref: str, connector_id: str, wanted: str | None = None
) -> None:
    """Give a device pin the cavity that is wanted, else the next free one; the connector grows if it has
    none. Raises LineError.
    """
    connector = draft.at("ends", "connectors", connector_id)
    family = catalogue.connectors[connector["family"]]
    pinout = draft.at("ends", "pinout")
    having = draft.having("connector", lambda e: (e["connector"],), connector_id, "ends", "pinout")
    taken = {pinout[r]["cavity"] for r in having if r != ref}
    bigger = [h for h in family.housings if h.ways >= connector["ways"]]
    for housing in bigger:
        free = next((c for c in housing.face.cavities if c not in taken and wanted in (None, c)), None)
        if free is None:
            continue
        if housing.ways != connector["ways"]:
            draft.put(housing.ways, "ends", "connectors", connector_id, "ways")
        draft.put(
            {"order": draft.next_order("ends", "pinout"), "connector": connector_id, "cavity": free},
            "ends",
            "pinout",
            ref,
        )
        return
    raise LineError(
        f"{connector_id} has no way free, and {family.code} is not made larger. "
        "Add a second connector, or choose a larger family."
    )


def _pins(draft: Draft, device_id: str) -> dict[str, Any]:
    pins = draft.at("circuits", "devices", device_id, "pins")
    return dict(sorted(pins.items(), key=lambda kv: kv[1]["order"]))


def _free(draft: Draft, device_id: str, *roles: str) -> str | None:
    """The first pin with one of the roles, in the order given, that no circuit has; else the first."""
    pins = _pins(draft, device_id)
    for role in roles:
        having = [p for p, pin in pins.items() if pin["role"] == role]
        if having:
            loose = [p for p in having if circuit_of(draft, f"{device_id}.{p}") is None]
            return (loose or having)[0]
    return None


def _is_source(draft: Draft, device_id: str) -> bool:
    device = draft.at("circuits", "devices", device_id)
    roles = {pin["role"] for pin in device["pins"].values()}
    return bool(device.get("structure")) or ("supply_out" in roles and "supply_in" not in roles)


def _first_pin(draft: Draft, device_id: str) -> str:
    """Where current leaves a device that begins a line: source, fuse, switch, or a load's return."""
    if not _is_source(draft, device_id):
        for inner in draft.at("circuits", "devices", device_id, "paths").values():
            if draft.at("circuits", "devices", device_id, "pins", inner["from_pin"])["role"] == "supply_in":
                return str(inner["to_pin"])
        for load in _loads_of(draft, device_id):
            return str(load["return_pin"])
    pin = _free(draft, device_id, "supply_out", "output_high", "signal", "data", "dry_contact")
    if pin is None:
        raise LineError(f"{device_id} has no pin that current leaves by. Name one, like {device_id}.1.")
    return pin


def _last_pin(draft: Draft, device_id: str) -> str:
    """Where a line ends: the return of a source or of the structure, else where it enters a device."""
    if not _is_source(draft, device_id):
        return _entry_pin(draft, device_id)
    pin = _free(draft, device_id, "ground")
    if pin is None:
        raise LineError(f"{device_id} has no pin to come back to. Name one, like {device_id}.1.")
    return pin


def loads_at(draft: Draft, device_id: str) -> list[str]:
    """Ids of the loads of a device."""
    return draft.having("device", lambda load: (load["device"],), device_id, "circuits", "loads")


def _loads_of(draft: Draft, device_id: str) -> list[dict[str, Any]]:
    loads = draft.at("circuits", "loads")
    return [loads[i] for i in loads_at(draft, device_id)]


def _entry_pin(draft: Draft, device_id: str) -> str:
    pins = _pins(draft, device_id)
    for inner in draft.at("circuits", "devices", device_id, "paths").values():
        if pins[inner["from_pin"]]["role"] == "supply_in":
            return str(inner["from_pin"])
    for load in _loads_of(draft, device_id):
        return str(load["supply_pin"])
    pin = _free(draft, device_id, "supply_in", "dry_contact", "signal", "data")
    if pin is None:
        raise LineError(f"Say which pin of {device_id} to enter by, like {device_id}.1.")
    return pin


def _exit_pin(draft: Draft, device_id: str, entered: str) -> str:
    for inner in draft.at("circuits", "devices", device_id, "paths").values():
        if inner["from_pin"] == entered:
            return str(inner["to_pin"])
    for load in _loads_of(draft, device_id):
        if load["supply_pin"] == entered:
            return str(load["return_pin"])
    others = [p for p in _pins(draft, device_id) if p != entered]
    if len(others) == 1:
        return others[0]
    raise LineError(
        f"Nothing leads on from {device_id}.{entered}. End the line there, "
        f"or say which pin it leaves by in a line of its own."
    )


def circuit_of(draft: Draft, ref: str) -> str | None:
    """The circuit that a device pin is in."""
    found = draft.having("ends", lambda circuit: circuit["ends"], ref, "circuits", "circuits")
    return found[0] if found else None


def forget_circuit(draft: Draft, circuit_id: str) -> None:
    """Take out a circuit and all that names it."""
    for collection, members in (("groups", "members"), ("buses", "circuits")):
        for held_id, held in list(draft.at("circuits", collection).items()):
            if circuit_id in held.get(members, {}):
                draft.drop("circuits", collection, held_id, members, circuit_id)
            if held.get("shield") == circuit_id:
                draft.put(None, "circuits", collection, held_id, "shield")
    draft.drop("circuits", "circuits", circuit_id)


def join_pins(draft: Draft, a: str, b: str) -> None:
    """Make two device pins one circuit: a new one, the one of either, or both joined."""
    if a == b:
        raise LineError(f"{a} cannot be joined to itself.")
    has_a, has_b = circuit_of(draft, a), circuit_of(draft, b)
    if has_a is not None and has_a == has_b:
        return
    if has_a is None and has_b is None:
        circuit_id = draft.free_id("C", "circuits", "circuits")
        draft.put(
            {
                "order": draft.next_order("circuits", "circuits"),
                "name": _circuit_name(draft, a, b),
                "ends": {a: {"order": 1.0}, b: {"order": 2.0}},
            },
            "circuits",
            "circuits",
            circuit_id,
        )
        return
    keep, other = (has_a, has_b) if has_a is not None else (has_b, None)
    assert keep is not None
    joining = [b if keep == has_a else a]
    if other is not None:
        ends = draft.at("circuits", "circuits", other, "ends")
        joining = sorted(ends, key=lambda r: float(ends[r]["order"]))
        forget_circuit(draft, other)
    for ref in joining:
        ends = draft.at("circuits", "circuits", keep, "ends")
        draft.put({"order": next_order(ends)}, "circuits", "circuits", keep, "ends", ref)


def _circuit_name(draft: Draft, a: str, b: str) -> str:
    from_device, _, from_pin = a.partition(".")
    to_device, _, to_pin = b.partition(".")
    devices = draft.at("circuits", "devices")
    pin = devices[from_device]["pins"][from_pin]
    if pin["role"] == "ground":
        return f"{devices[from_device]['name']} return"
    loads = _loads_of(draft, to_device)
    enters = devices[to_device]["pins"][to_pin]["role"] == "supply_in"
    if enters or any(load["supply_pin"] == to_pin for load in loads):
        return f"{devices[to_device]['name']} feed"
    if loads:
        return f"{devices[from_device]['name']} {pin['name']}".strip()
    return str(devices[to_device]["name"])
