"""What a typed line says of a device put where it belongs: ``water pump 7 A, peak 14 A for 2 s``."""

from __future__ import annotations

from collections.abc import Collection, Iterable
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
    _Putting(draft, device_id, kind).put(said)


class _Putting:
    """A device that something is said of: its load, its source, its paths by what they do."""

    def __init__(self, draft: Draft, device_id: str, kind: DeviceKind) -> None:
        circuits = draft.at("circuits")
        self.draft = draft
        self.id = device_id
        self.label = f"{device_id} ({kind.label})"
        self.kind = kind
        loads, sources = circuits.get("loads", {}), circuits.get("sources", {})
        self.load: str | None = next((k for k, load in loads.items() if load["device"] == device_id), None)
        self.source: str | None = next(
            (k for k, source in sources.items() if source["device"] == device_id), None
        )
        self.source_kind = sources[self.source]["kind"] if self.source is not None else ""
        self.paths = circuits["devices"][device_id].get("paths", {})

    def _of(self, kinds: Collection[str]) -> list[str]:
        return [p for p, path in self.paths.items() if path["kind"] in kinds]

    def _put_on(self, paths: Iterable[str], **fields: float | str) -> None:
        for path in paths:
            for field, value in fields.items():
                self.draft.put(value, "circuits", "devices", self.id, "paths", path, field)

    def put(self, said: Ratings) -> None:
        """Everything that was said, one thing after the other."""
        said = self._coil_or_contacts(said)
        if said.contact_a is not None:
            self._put_on(self._of(_SWITCHED), contact_a=said.contact_a)
        if self.load is None and self.source is None and not self.paths and _draws(said):
            self.load = _load_of_its_own(self.draft, self.id)
        if self.load is not None:
            for field, value in load_fields(said).items():
                self.draft.put(value, "circuits", "loads", self.load, field)
        elif any((said.peak_a, said.inrush_a, said.duty_percent, said.service)):
            raise LineError(f"{self.label} has no load of its own to say that of.")
        elif said.current_a is not None:
            said = self._current_of_no_load(said, said.current_a)
        if said.limit_a is not None:
            self._put_on(self._of(CONVERTING), limit_a=said.limit_a)
        _put_source(self.draft, self.id, self.source, self.kind, said)
        if said.rated_v:
            # Of 24 V to 5 V, what it makes is said last.
            self._put_on(self._of(CONVERTING), out_v=said.rated_v)
        self._leads(said)

    def _coil_or_contacts(self, said: Ratings) -> Ratings:
        """Of a coil's device, amperes too many for a coil are what its contacts carry."""
        kinds = {path["kind"] for path in self.paths.values()}
        coil_a = next((most for kind, most in _COIL_MOST_A.items() if kind in kinds), None)
        if said.coil_a is not None:
            return replace(said, current_a=said.coil_a)
        if said.current_a is None or self.load is None or coil_a is None or said.current_a < coil_a:
            return said
        return replace(said, current_a=None, contact_a=said.contact_a or said.current_a)

    def _current_of_no_load(self, said: Ratings, current_a: float) -> Ratings:
        """A current said of what draws none: a rating, what contacts may carry, a limit."""
        if guards := self._of(PROTECTIVE):
            self._put_on(guards, rating_a=current_a, reason="as typed")
        elif switched := self._of(_SWITCHED):
            self._put_on(switched, contact_a=current_a)
        elif converting := self._of(CONVERTING):
            self._put_on(converting, limit_a=current_a)
        elif self.source_kind == "protected feed":
            return replace(said, fuse_a=said.fuse_a or current_a)
        elif self.source is not None and self.source_kind != "battery":
            self.draft.put(current_a, "circuits", "sources", self.source, "limit_a")
        else:
            raise LineError(f"{self.label} draws nothing. Leave out {current_a:g} A.")
        return said

    def _leads(self, said: Ratings) -> None:
        if self.source is not None or (said.lead_gauge is None and said.lead_mm is None):
            return
        at = ("circuits", "devices", self.id)
        self.draft.put("flying leads", *at, "fitted")
        for field in ("lead_gauge", "lead_mm"):
            if getattr(said, field) is not None:
                self.draft.put(getattr(said, field), *at, field)


_SWITCHED = ("switch", "relay", "contactor")


def _put_source(draft: Draft, device_id: str, source: str | None, kind: DeviceKind, said: Ratings) -> None:
    if said.capacity_ah is not None and source is None:
        raise LineError(f"{device_id} ({kind.label}) holds no {said.capacity_ah:g} Ah. Leave it out.")
    if source is None:
        return
    stated = source_fields(said)
    brief = draft.at("brief")
    supplies = [float(brief.get(f"supply_{which}_v") or 0) for which in ("nominal", "working")]
    if said.rated_v and all(abs(said.rated_v - v) > _SAME_VOLTS * v for v in supplies):
        stated["nominal_v"] = said.rated_v
    for field, value in stated.items():
        draft.put(value, "circuits", "sources", source, field)


def _draws(said: Ratings) -> bool:
    return any(current_a is not None for current_a in (said.current_a, said.peak_a, said.inrush_a))


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
