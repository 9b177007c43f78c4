"""Typed lines of the circuits room: a feed from source to load and back, or a single device.

``B1 battery > F1 fuse > M1 lift pump 7.5 A > B1`` puts in what is new, and joins each device to
the next: out of a source at its supply, through a fuse or switch along its path, through a load
from its feed to its return.
"""

from __future__ import annotations

from dataclasses import dataclass
from itertools import pairwise
from typing import Any

from inkthread.core.catalogue import Catalogue
from inkthread.core.circuits.joining import circuit_of, join_pins, leave_circuit, loads_of
from inkthread.core.circuits.meant import is_source, meant
from inkthread.core.circuits.new_device import HALVES, add_device, carrying_family, relay_joined
from inkthread.core.circuits.pins_of_device import (
    another_pin,
    free_terminal,
    free_way_out,
    free_way_through,
    kind_of,
    like_pin,
    put_new_pin,
)
from inkthread.core.circuits.typed_ratings import put_ratings
from inkthread.core.circuits.typed_step import TypedStep, read_step
from inkthread.core.document.draft import Draft, LineError, free_id
from inkthread.core.document.pin_ref import device_of, pin_of, read_ref
from inkthread.core.typed.grammar import TypedError, parse_line, steps_apart


@dataclass(slots=True)
class Visit:
    """A device of a typed line: what was said of it, and the pins it is entered and left by."""

    step: TypedStep
    device: str
    new: bool
    entered: str | None = None
    left: str | None = None
    feeds_a: float = 0.0
    """What the rest of the line draws, of the device that it begins at."""


def feed_line(plain: dict[str, Any], catalogue: Catalogue, text: str) -> Draft:
    """Operations that put a typed feed into a document. Raises LineError."""
    return read_feed(plain, catalogue, text)[0]


def read_feed(plain: dict[str, Any], catalogue: Catalogue, text: str) -> tuple[Draft, list[Visit]]:
    """Operations that put a typed feed into a document, and the devices it goes through. Raises LineError,
    a TypedError where it is known which letters are meant.
    """
    draft = Draft(plain)
    return draft, feed_into(draft, catalogue, text)


def feed_into(draft: Draft, catalogue: Catalogue, text: str) -> list[Visit]:
    """Put a typed feed into a draft; the devices it goes through. Raises LineError, after which the draft is
    not to be used.
    """
    if ">" in text:
        steps_apart(text, "B1 > F1 > M1 pump 5 A > B1")
    tree = parse_line("feed", text)
    volts = float(draft.at("brief", "supply_working_v") or 0) or 12.0
    steps = [read_step(catalogue, step, text, volts) for step in tree.find_data("step")]
    visits: list[Visit] = []
    together_a = sum(_draws_a(catalogue, step) for step in steps)
    for step in steps:
        try:
            visits.append(_visit(draft, catalogue, step, together_a, chained=len(steps) > 1, before=visits))
        except TypedError:
            raise
        except LineError as error:
            raise TypedError(str(error), step.start, step.end) from None
    visits[0].feeds_a = together_a
    _relay_by_its_coil(draft, visits)
    for n, (before, after) in enumerate(pairwise(visits)):
        try:
            _towards_what_it_feeds(draft, visits[n : n + 3])
            _join(draft, catalogue, before, after, first=n == 0, last=after is visits[-1])
        except TypedError:
            raise
        except LineError as error:
            raise TypedError(str(error), after.step.start, after.step.end) from None
    return visits


def _visit(
    draft: Draft,
    catalogue: Catalogue,
    step: TypedStep,
    together_a: float,
    *,
    chained: bool,
    before: list[Visit],
) -> Visit:
    """The device that a step names, put in if it is new; what it leads to draws ``together_a``."""
    devices = draft.at("circuits", "devices")
    known = (
        step.place
        if step.place in devices
        else meant(draft, catalogue, step, before[0].device if before else None)
        if chained
        else None
    )
    if known is not None:
        _says_nothing_new(draft, catalogue, known, step)
        visit = Visit(step, known, new=False, entered=step.entered, left=step.left)
    else:
        if step.entered is not None and not step.name:
            raise LineError(
                f"There is no device {step.place!r} yet. Put it in first: {step.place} lift pump 5 A."
            )
        if not step.place and not step.name:
            raise LineError("Say what it is, like M1 lift pump 5 A.")
        visit = Visit(
            step,
            _new_device(draft, catalogue, step, together_a),
            new=True,
            entered=step.entered,
            left=step.left,
        )
    if step.coil:
        load = next(iter(loads_of(draft, visit.device)), None)
        if load is None:
            raise LineError(f"{visit.device} has no coil.")
        visit.entered, visit.left = str(load["supply_pin"]), str(load["return_pin"])
    for pin in (visit.entered, visit.left):
        if pin is not None and pin not in draft.at("circuits", "devices", visit.device, "pins"):
            _missing_pin(draft, catalogue, visit, pin)
    return visit


def _relay_by_its_coil(draft: Draft, visits: list[Visit]) -> None:
    """A relay that a line leads to ground, and nothing before it draws current, is meant by its coil."""
    if len(visits) < 3 or not is_source(draft, visits[-1].device):
        return
    relay = visits[-2]
    kinds = {p["kind"] for p in draft.at("circuits", "devices", relay.device, "paths").values()}
    between = visits[1:-2]
    if not kinds & {"relay", "contactor"} or relay.entered is not None or relay.left is not None:
        return
    load = next(iter(loads_of(draft, relay.device)), None)
    if load is not None and all(_conducts(draft, v.device) for v in between):
        relay.entered, relay.left = str(load["supply_pin"]), str(load["return_pin"])


def _says_nothing_new(draft: Draft, catalogue: Catalogue, known: str, step: TypedStep) -> None:
    """Of a device that is there a line repeats at most its name or what it is."""
    device = draft.at("circuits", "devices", known)
    kind = catalogue.kinds.get(device["kind"])
    names = {str(device["name"]).lower(), *(kind.words if kind is not None else ())}
    if step.place and step.name and step.name.lower() not in names:
        raise LineError(f"{known} is there already. Write {known} alone to join it.")
    if step.place and step.bare is False and not (step.new_pin or step.between):
        raise LineError(f"{known} is there already. Write {known} alone to join it.")


def _draws_a(catalogue: Catalogue, step: TypedStep) -> float:
    """What a step's own load draws."""
    kind = catalogue.kinds.get(step.kind)
    loaded = kind is not None and kind.load is not None and all(p.kind == "link" for p in kind.paths)
    return (step.ratings.current_a or 0.0) if loaded else 0.0


def _new_device(draft: Draft, catalogue: Catalogue, step: TypedStep, together_a: float) -> str:
    kind = catalogue.kinds[step.kind]
    own_a = _draws_a(catalogue, step)
    switched = step.ratings.contact_a or 0.0
    through_a = own_a or ((together_a or switched) if kind.paths and not kind.halves else 0.0)
    device_id = step.place or draft.free_id(kind.prefix, "circuits", "devices")
    joined = relay_joined(draft, catalogue, kind, through_a)
    family = step.family or joined or carrying_family(catalogue, kind, through_a)
    add_device(
        draft, catalogue, device_id, step.name or kind.label, step.kind,
        pins=not step.no_pins, family=family, end=not step.no_end,
    )  # fmt: skip
    if step.measured:
        draft.put("measured", "circuits", "devices", device_id, "pin_data")
    put_ratings(draft, device_id, kind, step.ratings)
    return device_id


def _missing_pin(draft: Draft, catalogue: Catalogue, visit: Visit, pin: str) -> None:
    """Make the pin that a line names: like the others of its row, or as its brackets say. Raises LineError
    that offers it.
    """
    kind = kind_of(draft, catalogue, visit.device)
    if visit.step.new_pin is not None:
        put_new_pin(draft, catalogue, visit.device, pin, visit.step.new_pin)
    elif like_pin(draft, visit.device, pin) is not None or (kind is not None and kind.halves):
        another_pin(draft, catalogue, visit.device, pin)
    else:
        known = ", ".join(draft.at("circuits", "devices", visit.device, "pins"))
        offer = f"{visit.device}.{pin} (new pin)"
        raise TypedError(
            f"{visit.device} has no pin {pin!r}. It has {known}.",
            visit.step.start, visit.step.end, offer=offer, offers=f"put pin {pin} on {visit.device}",
        )  # fmt: skip


def _join(
    draft: Draft, catalogue: Catalogue, before: Visit, after: Visit, *, first: bool, last: bool
) -> None:
    """Join a device of a line to the next one."""
    if first:
        before.left = before.left or before.entered
        before.entered = None if before.left else before.entered
    _named_way_out(draft, after, last=last)
    leaving = _leaving(draft, catalogue, before, after.device, first=first)
    entering = _entering(draft, catalogue, after, before.device, leaving, last=last)
    _no_second_way(draft, before, after, leaving, entering)
    before.left, after.entered = leaving, entering
    if before.entered is not None:
        _closes_a_feed(draft, before)
    join_pins(draft, f"{before.device}.{leaving}", f"{after.device}.{entering}")


def _towards_what_it_feeds(draft: Draft, ahead: list[Visit]) -> None:
    """What is to go between a row of ways out and what one of them feeds begins at that one."""
    if len(ahead) < 3 or ahead[0].left is not None or not ahead[1].new or ahead[2].new:
        return
    row, between, fed = ahead
    if row.new or not _conducts(draft, between.device):
        return
    pin = fed.entered or _entry_pin_if_any(draft, fed.device)
    circuit = circuit_of(draft, f"{fed.device}.{pin}") if pin is not None else None
    if circuit is None:
        return
    outs = [p["to_pin"] for p in draft.at("circuits", "devices", row.device, "paths").values()]
    row.left = next((str(p) for p in outs if circuit_of(draft, f"{row.device}.{p}") == circuit), None)


def _entry_pin_if_any(draft: Draft, device: str) -> str | None:
    try:
        return _entry_pin(draft, device)
    except LineError:
        return None


def _closes_a_feed(draft: Draft, visit: Visit) -> None:
    """A dry contact that a feed is led through is a switch in it: current crosses it."""
    device = draft.at("circuits", "devices", visit.device)
    ends = (visit.entered, visit.left)
    if any(p is None or device["pins"][p]["role"] != "dry_contact" for p in ends) or device.get("paths"):
        return
    circuit = circuit_of(draft, f"{visit.device}.{visit.entered}")
    feeding = draft.at("circuits", "circuits", circuit or "", "ends")
    devices = draft.at("circuits", "devices")
    roles = {devices[(r := read_ref(ref)).device]["pins"][r.pin]["role"] for ref in feeding}
    if roles & {"supply_out", "output_high"}:
        path = {"order": 1.0, "from_pin": visit.entered, "to_pin": visit.left, "kind": "switch"}
        draft.put(path, "circuits", "devices", visit.device, "paths", "1")


def _named_way_out(draft: Draft, visit: Visit, *, last: bool) -> None:
    """``> F1.out2 >`` names the way out of a fuse block: it is entered where the path to it begins."""
    if last or visit.entered is None or visit.left is not None:
        return
    paths = draft.at("circuits", "devices", visit.device, "paths").values()
    ways_in = [p["from_pin"] for p in paths if p["to_pin"] == visit.entered]
    leads_on = any(p["from_pin"] == visit.entered for p in paths)
    if ways_in and not leads_on:
        visit.entered, visit.left = str(ways_in[0]), visit.entered


def _leaving(draft: Draft, catalogue: Catalogue, visit: Visit, to_device: str, *, first: bool) -> str:
    device = visit.device
    if visit.left is not None:
        return visit.left
    lead = _free_tower(draft, device, to_device, visit.entered)
    if lead is not None:
        return lead
    kind = kind_of(draft, catalogue, device)
    if kind is not None and kind.meets_all:
        return _terminal_towards(draft, catalogue, device, to_device)
    if kind is not None and kind.halves:
        if visit.entered is None:
            number = free_way_through(draft, catalogue, device)
            return f"{_side_towards(draft, device, to_device) or HALVES[0]}{number}"
        side = HALVES[1 - HALVES.index(visit.entered[:1])]
        return f"{side}{visit.entered[1:]}"
    if visit.entered is None:
        assert first
        return free_way_out(draft, catalogue, device, visit.feeds_a) or _first_pin(draft, device)
    row = free_way_out(draft, catalogue, device) if visit.entered == _entry_pin(draft, device) else None
    return row or _exit_pin(draft, device, visit.entered)


def _entering(
    draft: Draft, catalogue: Catalogue, visit: Visit, from_device: str, leaving: str, *, last: bool
) -> str:
    device = visit.device
    if visit.entered is not None:
        return visit.entered
    if draft.at("circuits", "devices", from_device, "pins", leaving)["role"] == "ignition":
        tower = _free(draft, device, "ignition")
        if tower is not None:
            return tower
    kind = kind_of(draft, catalogue, device)
    if kind is not None and kind.meets_all:
        return _terminal_towards(draft, catalogue, device, from_device, leaving)
    if kind is not None and kind.halves:
        number = visit.left[1:] if visit.left else free_way_through(draft, catalogue, device)
        side = HALVES[1 - HALVES.index(visit.left[:1])] if visit.left else None
        return f"{side or _side_towards(draft, device, from_device) or HALVES[0]}{number}"
    back = _takes_back(draft, device, from_device, leaving) if last else None
    return back or (_last_pin(draft, device) if last else _entry_pin(draft, device))


def _free_tower(draft: Draft, device: str, other: str, entered: str | None) -> str | None:
    """Where a lead leaves for a spark plug or a distributor that comes next: a tower that has none yet."""
    roles = [p["role"] for p in draft.at("circuits", "devices", other, "pins").values()]
    if not roles or any(role != "ignition" for role in roles):
        return None
    towers = [p for p, facts in _pins(draft, device).items() if facts["role"] == "ignition" and p != entered]
    free = [p for p in towers if circuit_of(draft, f"{device}.{p}") is None]
    if towers and not free:
        number = free_id("", dict.fromkeys(towers))
        raise LineError(
            f"Every tower of {device} has its lead. Put one on it: {device}.{number} (new ignition pin)."
        )
    return free[0] if free else None


def _takes_back(draft: Draft, device: str, other: str, leaving: str) -> str | None:
    """The pin at which a controller takes what comes back from a load: of a sensor its signal return, of
    anything else the output that pulls it low.
    """
    if is_source(draft, device):
        return None
    role = draft.at("circuits", "devices", other, "pins", leaving)["role"]
    returns = [load["return_pin"] for load in loads_of(draft, other)]
    if role not in ("ground", "sensor_return") and leaving not in returns:
        return None
    return _free(draft, device, "sensor_return" if role == "sensor_return" else "output_low")


def _terminal_towards(
    draft: Draft, catalogue: Catalogue, device: str, other: str, pin: str | None = None
) -> str:
    """The terminal of a junction that has the wire to a pin, or to a source; else a free one."""
    for terminal in draft.at("circuits", "devices", device, "pins"):
        circuit = circuit_of(draft, f"{device}.{terminal}")
        if circuit is None:
            continue
        ends = draft.at("circuits", "circuits", circuit, "ends")
        if pin is not None and f"{other}.{pin}" in ends:
            return str(terminal)
        if pin is None and is_source(draft, other) and any(device_of(e) == other for e in ends):
            return str(terminal)
    return free_terminal(draft, catalogue, device)


def _side_towards(draft: Draft, device: str, other: str) -> str | None:
    """The side of two halves on which a device has wires already; across from where it has none."""
    for circuit in draft.at("circuits", "circuits").values():
        devices = {device_of(e) for e in circuit["ends"]}
        if {device, other} <= devices:
            mine = next(e for e in circuit["ends"] if device_of(e) == device)
            return str(pin_of(mine)[:1])
    return None


def _no_second_way(draft: Draft, before: Visit, after: Visit, leaving: str, entering: str) -> None:
    """What is put between two that are joined goes into their circuit: never a second way beside it."""
    visit = before if before.new else None
    if visit is None or (visit.left is None and visit.entered is None):
        return
    if visit.entered is None or not _conducts(draft, visit.device):
        return
    target = f"{after.device}.{entering}"
    joined = circuit_of(draft, target)
    came = circuit_of(draft, f"{visit.device}.{visit.entered}")
    if joined is None or came is None:
        return
    if visit.step.between:
        if joined != came:
            raise LineError(
                f"{after.device} is not fed straight from there: leave out (between), or name what feeds it."
            )
        leave_circuit(draft, joined, target)
        return
    if joined == came or (_reaches(draft, came, joined) and after.step.entered is None):
        words = f"{visit.step.place or ''} {visit.step.name}".strip()
        raise TypedError(
            f"{after.device} is fed from there already: {visit.device} beside that would be a second way. "
            f"If that is meant, name its pin: {after.device}.{entering}.",
            visit.step.start, visit.step.end,
            offer=f"{words} (between)" if joined == came else None,
            offers=f"put {visit.device} into that feed",
        )  # fmt: skip


def _conducts(draft: Draft, device: str) -> bool:
    return bool(draft.at("circuits", "devices", device, "paths"))


def _reaches(draft: Draft, start: str, end: str) -> bool:
    """Whether one circuit leads to another along the paths inside devices, the way they conduct."""
    circuits, devices = draft.at("circuits", "circuits"), draft.at("circuits", "devices")
    seen, queue = {start}, [start]
    while queue:
        for ref in circuits[queue.pop()]["ends"]:
            device, pin = read_ref(ref)
            for path in devices.get(device, {}).get("paths", {}).values():
                onward = circuit_of(draft, f"{device}.{path['to_pin']}") if path["from_pin"] == pin else None
                if onward == end:
                    return True
                if onward is not None and onward not in seen:
                    seen.add(onward)
                    queue.append(onward)
    return False


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


def _only(draft: Draft, device_id: str) -> str | None:
    """The pin of a device that has but one."""
    pins = _pins(draft, device_id)
    return next(iter(pins)) if len(pins) == 1 else None


def _first_pin(draft: Draft, device_id: str) -> str:
    """Where current leaves a device that begins a line: source, fuse, switch, or a load's return."""
    if not is_source(draft, device_id):
        for inner in draft.at("circuits", "devices", device_id, "paths").values():
            if draft.at("circuits", "devices", device_id, "pins", inner["from_pin"])["role"] == "supply_in":
                return str(inner["to_pin"])
        for load in loads_of(draft, device_id):
            return str(load["return_pin"])
    pin = _only(draft, device_id) or _free(
        draft, device_id, "supply_out", "output_high", "signal", "data", "dry_contact"
    )
    if pin is None:
        raise LineError(f"{device_id} has no pin that current leaves by. Name one, like {device_id}.1.")
    return pin


def _last_pin(draft: Draft, device_id: str) -> str:
    """Where a line ends: the return of a source or of the structure, else where it enters a device."""
    if not is_source(draft, device_id):
        return _entry_pin(draft, device_id)
    pin = _only(draft, device_id) or _free(draft, device_id, "ground")
    if pin is None:
        raise LineError(f"{device_id} has no pin to come back to. Name one, like {device_id}.1.")
    return pin


def _entry_pin(draft: Draft, device_id: str) -> str:
    pins = _pins(draft, device_id)
    for inner in draft.at("circuits", "devices", device_id, "paths").values():
        if pins[inner["from_pin"]]["role"] == "supply_in":
            return str(inner["from_pin"])
    for load in loads_of(draft, device_id):
        return str(load["supply_pin"])
    pin = _only(draft, device_id) or _free(draft, device_id, "supply_in", "dry_contact", "signal", "data")
    if pin is None:
        raise LineError(f"Say which pin of {device_id} to enter by, like {device_id}.1.")
    return pin


def _exit_pin(draft: Draft, device_id: str, entered: str) -> str:
    for inner in draft.at("circuits", "devices", device_id, "paths").values():
        if inner["from_pin"] == entered:
            return str(inner["to_pin"])
    for load in loads_of(draft, device_id):
        if load["supply_pin"] == entered:
            return str(load["return_pin"])
    pins = _pins(draft, device_id)
    others = [p for p in pins if p != entered]
    if len(others) == 1:
        return others[0]
    if pins[entered]["role"] in ("supply_in", "signal"):
        back = _free(draft, device_id, "ground", "sensor_return")
        if back is not None:
            return back
    raise LineError(
        f"Nothing leads on from {device_id}.{entered}. End the line there, "
        f"or say which pin it leaves by: {device_id}.{entered}/{others[0] if others else '2'}."
    )
