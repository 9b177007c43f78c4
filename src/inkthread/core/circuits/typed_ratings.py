"""What a typed line says of a device put where it belongs: ``water pump 7 A, peak 14 A for 2 s``."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from inkthread.core.catalogue import DeviceKind
from inkthread.core.circuits.figures import Ratings
from inkthread.core.document.draft import Draft, LineError
from inkthread.core.document.values import CONVERTING, PROTECTIVE

_COIL_MOST_A = {"relay": 2.0, "contactor": 20.0}
"""No coil of such a device draws as much: above it, what is typed is what its contacts may carry (common
practice, no source)."""
_SAME_VOLTS = 0.05
"""Of the brief's supply: volts said of a source within this are the brief's."""


def put_ratings(draft: Draft, device_id: str, kind: DeviceKind, said: Ratings) -> None:
    """Put what was said where it belongs: a load's currents, a fuse's rating, what contacts may carry,
    what a source gives. Raises LineError where the device has no place for it.
    """
    circuits = draft.at("circuits")
    load = next((k for k, x in circuits.get("loads", {}).items() if x["device"] == device_id), None)
    source = next((k for k, x in circuits.get("sources", {}).items() if x["device"] == device_id), None)
    paths = circuits["devices"][device_id].get("paths", {})
    switched = [p for p, x in paths.items() if x["kind"] in ("switch", "relay", "contactor")]
    converting = [p for p, x in paths.items() if x["kind"] in CONVERTING]
    coil = next((m for p, m in _COIL_MOST_A.items() if any(x["kind"] == p for x in paths.values())), None)
    at = ("circuits", "devices", device_id)
    if said.coil_a is not None:
        said = replace(said, current_a=said.coil_a)
    elif said.current_a is not None and load is not None and coil is not None and said.current_a >= coil:
        said = replace(said, current_a=None, contact_a=said.contact_a or said.current_a)
    for path in switched if said.contact_a is not None else ():
        draft.put(said.contact_a, *at, "paths", path, "contact_a")
    if load is None and source is None and not paths and _draws(said):
        load = _load_of_its_own(draft, device_id)
    if load is not None:
        for field, value in load_fields(said).items():
            draft.put(value, "circuits", "loads", load, field)
    elif any((said.peak_a, said.inrush_a, said.duty_percent, said.service)):
        raise LineError(f"{device_id} ({kind.label}) has no load of its own to say that of.")
    elif said.current_a is not None:
        guards = [p for p, x in paths.items() if x["kind"] in PROTECTIVE]
        if guards:
            for path in guards:
                draft.put(said.current_a, *at, "paths", path, "rating_a")
                draft.put("as typed", *at, "paths", path, "reason")
        elif switched:
            for path in switched:
                draft.put(said.current_a, *at, "paths", path, "contact_a")
        elif converting:
            for path in converting:
                draft.put(said.current_a, *at, "paths", path, "limit_a")
        elif source is not None and circuits["sources"][source]["kind"] == "protected feed":
            said = replace(said, fuse_a=said.fuse_a or said.current_a)
        elif source is not None and circuits["sources"][source]["kind"] != "battery":
            draft.put(said.current_a, "circuits", "sources", source, "limit_a")
        else:
            raise LineError(f"{device_id} ({kind.label}) draws nothing. Leave out {said.current_a:g} A.")
    for path in converting if said.limit_a is not None else ():
        draft.put(said.limit_a, *at, "paths", path, "limit_a")
    _put_source(draft, device_id, source, kind, said)
    for path in converting if said.rated_v else ():
        # Of 24 V to 5 V, what it makes is said last.
        draft.put(said.rated_v, *at, "paths", path, "out_v")
    if source is None and (said.lead_gauge is not None or said.lead_mm is not None):
        draft.put("flying leads", *at, "fitted")
        for field in ("lead_gauge", "lead_mm"):
            if getattr(said, field) is not None:
                draft.put(getattr(said, field), *at, field)


def _put_source(draft: Draft, device_id: str, source: str | None, kind: DeviceKind, said: Ratings) -> None:
    if said.capacity_ah is not None and source is None:
        raise LineError(f"{device_id} ({kind.label}) holds no {said.capacity_ah:g} Ah. Leave it out.")
    if source is None:
        return
    stated = source_fields(said)
    brief = draft.at("brief")
    supplies = [float(brief.get(f"supply_{x}_v") or 0) for x in ("nominal", "working")]
    if said.rated_v and all(abs(said.rated_v - v) > _SAME_VOLTS * v for v in supplies):
        stated["nominal_v"] = said.rated_v
    for field, value in stated.items():
        draft.put(value, "circuits", "sources", source, field)


def _draws(said: Ratings) -> bool:
    return any(x is not None for x in (said.current_a, said.peak_a, said.inrush_a))


_INTO = ("supply_in",)
_OUT_OF = ("ground", "sensor_return")


def _load_of_its_own(draft: Draft, device_id: str) -> str | None:
    """The load of a device that has none of its kind: in at its supply pin and back at its return; of one
    of which only this is known, that it draws current, in at its first pin and back at its last. None where
    it has no such pins.
    """
    pins = draft.at("circuits", "devices", device_id, "pins")
    ids = sorted(pins, key=lambda p: float(pins[p]["order"]))
    supply = next((p for p in ids if pins[p]["role"] in _INTO), None)
    back = next((p for p in ids if pins[p]["role"] in _OUT_OF), None)
    if supply is None or back is None:
        if len(ids) != 2 or any(pins[p]["role"] != "signal" for p in ids):
            return None
        supply, back = ids
        at = ("circuits", "devices", device_id, "pins")
        draft.put("supply_in", *at, supply, "role")
        draft.put("ground", *at, back, "role")
    loads = draft.at("circuits", "loads")
    load_id = device_id if device_id not in loads else draft.free_id("L", "circuits", "loads")
    draft.put(
        {
            "order": draft.next_order("circuits", "loads"),
            "device": device_id,
            "supply_pin": supply,
            "return_pin": back,
            "current_a": 0.0,
            "service": "continuous",
        },
        "circuits",
        "loads",
        load_id,
    )
    return load_id


def load_fields(said: Ratings) -> dict[str, Any]:
    """Fields of a load that figures say."""
    fields = {f: getattr(said, f) for f in _LOAD_FIELDS if getattr(said, f) is not None}
    kind = said.load_kind or ("resistive" if said.resistance_ohm is not None else None)
    return fields | ({"kind": kind} if kind is not None else {})


def source_fields(said: Ratings) -> dict[str, Any]:
    """Fields of a source that figures say, but for its volts."""
    stated = {
        "capacity_ah": said.capacity_ah,
        "fault_a": said.fault_a,
        "limit_a": said.limit_a,
        "fuse_a": said.fuse_a,
        "feed_gauge": said.lead_gauge,
    }
    return {field: value for field, value in stated.items() if value is not None}


_LOAD_FIELDS = (
    "current_a",
    "peak_a",
    "peak_s",
    "inrush_a",
    "inrush_s",
    "duty_percent",
    "cycle_s",
    "service",
    "rated_v",
    "least_v",
)
