"""What else a relay or a fuse may be made as: the whole harness worked out with each, side by side."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from typing import Any

from inkthread.core.catalogue import Catalogue
from inkthread.core.document import dump_document, parse_document
from inkthread.core.document.draft import LineError
from inkthread.core.document.pin_ref import device_of
from inkthread.core.document.problems import pointer
from inkthread.core.document.values import PROTECTIVE, PathKind
from inkthread.core.ends.lines import connector_line
from inkthread.core.evaluate import otherwise
from inkthread.core.record import record
from inkthread.core.workings import Workings

Tell = Callable[[float], None]

_PROTECTS: tuple[PathKind, ...] = ("fuse", "breaker")
_RELAY_ENDS: tuple[tuple[str, str], ...] = (
    ("RBLK", "a base that its terminals click into"),
    ("RBLKW", "a base bought with leads, each spliced to its wire"),
    ("TAB63", "single push-on terminals on its tabs"),
)
"""Families a relay may end in, and what each is."""


@record
class Alternative:
    """One way of making a device. Money and mass are of one harness, less those of how it is made now."""

    name: str
    chosen: bool
    cost: float
    grams: float
    tooling: float
    """For tools that are not owned, less those asked for now."""
    joints: int
    """Crimps, clamps and splices to make, more or fewer than now."""
    stops: int
    words: tuple[str, ...]
    operations: tuple[dict[str, Any], ...]
    """What makes it so; none of how it is now."""


def alternatives(now: Workings, device_id: str, tell: Tell = lambda _share: None) -> tuple[Alternative, ...]:
    """How a relay or what protects a feed may be made; none for other devices. Raises KeyError for no such
    device.
    """
    device = now.stated.circuits.devices[device_id]
    kinds = {p.kind for p in device.paths.values()}
    if kinds & {"relay", "contactor"}:
        return _relay(now, device_id, tell)
    if kinds & set(PROTECTIVE):
        return _protection(now, device_id, tell)
    return ()


def _relay(now: Workings, device_id: str, tell: Tell) -> tuple[Alternative, ...]:
    switched = list(
        dict.fromkeys(e.connector for r, e in now.stated.ends.pinout.items() if device_of(r) == device_id)
    )
    if len(switched) != 1:
        return ()
    plain = dump_document(now.stated)
    family = now.stated.ends.connectors[switched[0]].family
    alternatives = []
    for n, (code, what) in enumerate(_RELAY_ENDS):
        tell(n / len(_RELAY_ENDS))
        if code == family:
            alternatives.append(_held_against(now, now, f"{code}, {what}", (), ()))
            continue
        try:
            draft = connector_line(plain, now.catalogue, f"{switched[0]} {code}")
        except LineError:
            continue
        if any(
            operation["op"] == "remove" and "/pinout/" in str(operation["path"])
            for operation in draft.operations
        ):
            continue
        other = otherwise(now, parse_document(draft.plain))
        alternatives.append(_held_against(now, other, f"{code}, {what}", (), tuple(draft.operations)))
    return tuple(alternatives)


def _protection(now: Workings, device_id: str, tell: Tell) -> tuple[Alternative, ...]:
    device = now.stated.circuits.devices[device_id]
    mine = {p: path for p, path in device.paths.items() if path.kind in PROTECTIVE}
    kinds = {path.kind for path in mine.values()}
    if len(kinds) != 1:
        return ()
    is_now = next(iter(kinds))
    alternatives = []
    for n, kind in enumerate(_PROTECTS):
        tell(n / 2)
        other = now
        operations: tuple[dict[str, Any], ...] = ()
        if kind != is_now:
            paths = {p: replace(path, kind=kind) if p in mine else path for p, path in device.paths.items()}
            devices = {**now.stated.circuits.devices, device_id: replace(device, paths=paths)}
            other = otherwise(
                now, replace(now.stated, circuits=replace(now.stated.circuits, devices=devices))
            )
            base = ["circuits", "devices", device_id, "paths"]
            operations = tuple(
                {"op": "replace", "path": pointer([*base, p, "kind"]), "value": kind} for p in mine
            )
        facts = [other.circuits.fuses[f"{device_id}.{p}"] for p in mine]
        words = tuple(dict.fromkeys(w for f in facts for w in _trips(now.catalogue, f.part, kind)))
        name = f"{kind}{'s' if len(mine) > 1 else ''}"
        alternatives.append(_held_against(now, other, name, words, operations))
    return tuple(alternatives)


def _trips(catalogue: Catalogue, part: Any, kind: str) -> tuple[str, ...]:
    """When it opens and how it is shut again, in words."""
    reset = (
        "reset by hand once the cause is found" if kind == "breaker" else "a new fuse once the cause is found"
    )
    if part is None:
        return (reset,)
    twice = next((p for p in catalogue.curves[part.curve].points if p[0] == 200), None)
    holds = catalogue.curves[part.curve].points[0][0]
    opens = ""
    if twice is not None:
        most = f"to {twice[2]:g} s" if twice[2] is not None else "s or never"
        opens = f"opens in {twice[1]:g} {most} at twice its rating"
    return tuple(
        trait
        for trait in (f"holds {holds:g} % of its rating", opens, f"breaks {part.interrupt_a:g} A", reset)
        if trait
    )


def _held_against(
    now: Workings,
    other: Workings,
    name: str,
    words: tuple[str, ...],
    operations: tuple[dict[str, Any], ...],
) -> Alternative:
    many = max(now.stated.brief.quantity, 1)

    def joints(w: Workings) -> int:
        return sum(not c.factory for c in w.ends.contacts.values()) + len(w.ends.splices)

    parts, others = other.evaluation.parts, now.evaluation.parts
    return Alternative(
        name,
        other is now,
        round((parts.cost_total - others.cost_total) / many, 2),
        round(parts.mass_each_g - others.mass_each_g, 1),
        round(parts.tooling_total - others.tooling_total, 2),
        joints(other) - joints(now),
        other.evaluation.tally.stops - now.evaluation.tally.stops,
        words,
        operations,
    )
