"""Device pins made one circuit, and a circuit taken out."""

from __future__ import annotations

from typing import Any

from inkthread.core.document.draft import Draft, LineError, next_order
from inkthread.core.document.pin_ref import read_ref


def circuit_of(draft: Draft, ref: str) -> str | None:
    """The circuit that a device pin is in."""
    circuit_id = draft.having("ends", lambda circuit: circuit["ends"], ref, "circuits", "circuits")
    return circuit_id[0] if circuit_id else None


def forget_circuit(draft: Draft, circuit_id: str) -> None:
    """Take out a circuit and all that names it."""
    for collection, members in (("groups", "members"), ("buses", "circuits")):
        for held_id, entry in list(draft.at("circuits", collection).items()):
            if circuit_id in entry.get(members, {}):
                draft.drop("circuits", collection, held_id, members, circuit_id)
            if entry.get("shield") == circuit_id:
                draft.put(None, "circuits", collection, held_id, "shield")
                draft.put(None, "circuits", collection, held_id, "shield_open")
    draft.drop("circuits", "circuits", circuit_id)


def leave_circuit(draft: Draft, circuit_id: str, ref: str) -> None:
    """Take a device pin out of its circuit."""
    draft.drop("circuits", "circuits", circuit_id, "ends", ref)


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
    from_device, from_pin = read_ref(a)
    to_device, to_pin = read_ref(b)
    devices = draft.at("circuits", "devices")
    pin = devices[from_device]["pins"][from_pin]
    if pin["role"] == "ground":
        return f"{devices[from_device]['name']} return"
    loads = loads_of(draft, to_device)
    enters = devices[to_device]["pins"][to_pin]["role"] == "supply_in"
    if enters or any(load["supply_pin"] == to_pin for load in loads):
        return f"{devices[to_device]['name']} feed"
    if loads:
        return f"{devices[from_device]['name']} {pin['name']}".strip()
    return str(devices[to_device]["name"])


def loads_at(draft: Draft, device_id: str) -> list[str]:
    """Ids of the loads of a device."""
    return draft.having("device", lambda load: (load["device"],), device_id, "circuits", "loads")


def loads_of(draft: Draft, device_id: str) -> list[dict[str, Any]]:
    loads = draft.at("circuits", "loads")
    return [loads[i] for i in loads_at(draft, device_id)]
