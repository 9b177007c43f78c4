"""The typed line of the route room: ``tail 310 > left 250 > M1``, fast enough for under a machine."""

from __future__ import annotations

import re
from typing import Any

from inkthread.core.document.draft import Draft, LineError, free_id, next_order
from inkthread.core.document.pin_ref import device_of
from inkthread.core.measures import measures_of
from inkthread.core.quantity import QuantityError, parse_length_mm
from inkthread.core.route.typed_run import Stop, read_point, read_run
from inkthread.core.typed.grammar import TypedError


def route_line(plain: dict[str, Any], text: str) -> Draft:
    """Operations that put a typed run into the route. Raises LineError, a TypedError where it is known which
    letters are meant.

    Each stop is a point (new or known), perhaps words for its name, and the length to the next with its
    slack, how it was measured and its zone. A point named as a connector or a device takes its connectors.
    A length between two points that are already joined is measured anew.
    """
    draft = Draft(plain)
    run_into(draft, text)
    return draft


def run_into(draft: Draft, text: str) -> None:
    """Put a typed run into a draft. Raises LineError, after which the draft is not to be used."""
    units = measures_of(draft.at("brief"))
    stops = read_run(text, draft.at("brief", "zones"), units)
    before: Stop | None = None
    from_point = ""
    for stop in stops:
        try:
            point = _point(draft, stop)
            if before is not None:
                _branch(draft, from_point, point, before)
        except TypedError:
            raise
        except LineError as error:
            raise TypedError(str(error), stop.start, stop.end) from None
        before, from_point = stop, point


# One line for each thing said of a point.
def _point(draft: Draft, stop: Stop) -> str:  # noqa: C901
    points = draft.at("route", "points")
    connectors = draft.at("ends", "connectors")
    token, name = stop.point, stop.name
    connector = connectors.get(token)
    if token not in points and connector is not None and connector["point"] is not None:
        return str(connector["point"])
    device = draft.at("circuits", "devices").get(token)
    if token not in points and connector is None and device is not None:
        placed = [connectors[c]["point"] for c in connectors_of(draft, token) if connectors[c]["point"]]
        if placed:
            return str(placed[0])
    if token not in points:
        name = name if stop.named or device is None else device["name"]
        draft.put({"order": next_order(points), "name": name}, "route", "points", token)
    elif name and points[token]["name"] != name:
        draft.put(name, "route", "points", token, "name")
    if stop.kind is not None:
        draft.put(stop.kind, "route", "points", token, "kind")
    if stop.edge is not None:
        draft.put(stop.edge, "route", "points", token, "edge")
    if stop.opening_mm is not None:
        draft.put(stop.opening_mm, "route", "points", token, "opening_mm")
    if connector is not None and connector["point"] is None:
        draft.put(token, "ends", "connectors", token, "point")
    if device is not None:
        for other in connectors_of(draft, token):
            if connectors[other]["point"] is None:
                draft.put(token, "ends", "connectors", other, "point")
    return token


def connectors_of(draft: Draft, device: str) -> list[str]:
    """Connectors that hold pins of a device and of no other."""
    devices: dict[str, set[str]] = {}
    for ref, entry in draft.at("ends", "pinout").items():
        devices.setdefault(entry["connector"], set()).add(device_of(ref))
    return [c for c, owners in devices.items() if owners == {device}]


def _branch(draft: Draft, a: str, b: str, stop: Stop) -> None:
    if a == b:
        raise LineError(f"A branch from {a} to itself has no length.")
    branches = draft.at("route", "branches")
    stated: dict[str, Any] = {
        "length_mm": stop.length_mm,
        "measured": stop.measured,
        "measured_on": stop.measured_on or None,
        "slack_mm": stop.slack_mm,
        "uncertainty_mm": stop.uncertainty_mm,
        "zone": stop.zone,
        "separators": stop.separators,
        "support_mm": stop.support_mm,
        "apart_mm": stop.apart_mm,
        "sheath": stop.sheath,
    }
    stated = {field: value for field, value in stated.items() if value is not None}
    for branch_id, branch in branches.items():
        if {branch["from_point"], branch["to_point"]} == {a, b}:
            for field, value in stated.items():
                draft.put(value, "route", "branches", branch_id, field)
            return
    if _joined(branches, a, b):
        raise LineError(f"{a} and {b} are joined already: a second way would close a loop.")
    draft.put(
        {
            "order": next_order(branches),
            "from_point": a,
            "to_point": b,
            "measured": "tape",
            "zone": None,
            "slack_mm": None,
            **stated,
        },
        "route",
        "branches",
        free_id("R", branches),
    )


def _joined(branches: dict[str, Any], a: str, b: str) -> bool:
    near: dict[str, list[str]] = {}
    for branch in branches.values():
        near.setdefault(branch["from_point"], []).append(branch["to_point"])
        near.setdefault(branch["to_point"], []).append(branch["from_point"])
    seen, stack = {a}, [a]
    while stack:
        for other in near.get(stack.pop(), ()):
            if other not in seen:
                seen.add(other)
                stack.append(other)
    return b in seen


def insert_point(plain: dict[str, Any], branch_id: str, text: str) -> Draft:
    """Operations that put a point on a branch: ``mid 120`` is 120 mm from where the branch begins.

    Lengths cut stay as they are: the slack stays on the first part. Raises LineError.
    """
    draft = Draft(plain)
    branch = draft.at("route", "branches").get(branch_id)
    if branch is None:
        raise LineError(f"There is no branch {branch_id!r}.")
    if not text.strip():
        raise LineError("Name the point and how far along it lies: mid 120.")
    stop = read_point(text, measures_of(plain["brief"]))
    point, at_mm = stop.point, stop.length_mm
    points = draft.at("route", "points")
    if point in points:
        raise LineError(f"There is a point {point} already. Give the new one another name.")
    if at_mm is None:
        raise LineError(f"How far is {point} from {branch['from_point']}? Write {point} 120.")
    whole = float(branch["length_mm"])
    if not 0 < at_mm < whole:
        raise LineError(f"{branch_id} is {whole:g} mm long: the point lies between its ends.")
    _point(draft, stop)
    rest = {
        **branch,
        "order": float(branch["order"]) + 0.001,
        "from_point": point,
        "length_mm": round(whole - at_mm, 6),
        "slack_mm": 0.0,
        "stretches": _cut_stretches(branch, at_mm, whole),
    }
    draft.put(point, "route", "branches", branch_id, "to_point")
    draft.put(at_mm, "route", "branches", branch_id, "length_mm")
    if branch.get("stretches"):
        draft.put(_cut_stretches(branch, 0.0, at_mm), "route", "branches", branch_id, "stretches")
    draft.put(rest, "route", "branches", free_id("R", draft.at("route", "branches")))
    return draft


def _cut_stretches(branch: dict[str, Any], start_mm: float, end_mm: float) -> dict[str, Any]:
    """Stretches between two places, counted from the first."""
    kept = {}
    for key, stretch in branch.get("stretches", {}).items():
        a, b = max(float(stretch["from_mm"]), start_mm), min(float(stretch["to_mm"]), end_mm)
        if b > a:
            kept[key] = {**stretch, "from_mm": round(a - start_mm, 6), "to_mm": round(b - start_mm, 6)}
    return kept


_HOW_SURE = ("laid in place", "old part", "tape", "model", "guess")


def merge_point(plain: dict[str, Any], point: str) -> Draft:
    """Operations that take out a point between two branches and make one of them. Raises LineError."""
    draft = Draft(plain)
    points, branches = draft.at("route", "points"), draft.at("route", "branches")
    if point not in points:
        raise LineError(f"There is no point {point!r}.")
    meeting = [b for b, branch in branches.items() if point in (branch["from_point"], branch["to_point"])]
    if len(meeting) != 2:
        raise LineError(f"{point} joins {len(meeting)} branches. Only a point between two can be taken out.")
    connectors = [
        c for c, connector in draft.at("ends", "connectors").items() if connector.get("point") == point
    ]
    if connectors:
        raise LineError(f"{', '.join(connectors)} lies at {point}. Move it to another point first.")
    meeting.sort(key=lambda b: float(branches[b]["order"]))
    first, second = (dict(branches[b]) for b in meeting)
    begin = first["from_point"] if first["to_point"] == point else first["to_point"]
    end = second["to_point"] if second["from_point"] == point else second["from_point"]
    stretches = _along(first, forward=first["to_point"] == point, shift_mm=0.0)
    more = _along(second, forward=second["from_point"] == point, shift_mm=float(first["length_mm"]))
    for key, stretch in more.items():
        stretches[key if key not in stretches else free_id(f"{key}-", stretches)] = stretch
    if first.get("zone") != second.get("zone") and second.get("zone") is not None:
        whole = float(first["length_mm"]) + float(second["length_mm"])
        stretches[free_id("zone", stretches)] = {
            "order": 99.0,
            "zone": second["zone"],
            "from_mm": float(first["length_mm"]),
            "to_mm": whole,
        }
    slacks = [half.get("slack_mm") for half in (first, second)]
    merged = {
        **first,
        "from_point": begin,
        "to_point": end,
        "length_mm": round(float(first["length_mm"]) + float(second["length_mm"]), 6),
        "measured": max(first["measured"], second["measured"], key=_HOW_SURE.index),
        "slack_mm": None if None in slacks else sum(float(slack or 0.0) for slack in slacks),
        "stretches": stretches,
    }
    draft.drop("route", "branches", meeting[1])
    draft.put(merged, "route", "branches", meeting[0])
    for circuit_id, circuit in draft.at("circuits", "circuits").items():
        if circuit.get("hub") == point:
            draft.put(None, "circuits", "circuits", circuit_id, "hub")
    draft.drop("route", "points", point)
    return draft


def _along(branch: dict[str, Any], *, forward: bool, shift_mm: float) -> dict[str, Any]:
    """Stretches of a branch, counted along the merged one."""
    whole = float(branch["length_mm"])
    fields = {}
    for key, stretch in branch.get("stretches", {}).items():
        a, b = float(stretch["from_mm"]), float(stretch["to_mm"])
        if not forward:
            a, b = whole - b, whole - a
        fields[key] = {**stretch, "from_mm": round(a + shift_mm, 6), "to_mm": round(b + shift_mm, 6)}
    return fields


def rehang_branch(plain: dict[str, Any], branch_id: str, text: str) -> Draft:
    """Operations that hang a branch, with all beyond it, on another point. Raises LineError."""
    draft = Draft(plain)
    branches = draft.at("route", "branches")
    branch = branches.get(branch_id)
    if branch is None:
        raise LineError(f"There is no branch {branch_id!r}.")
    point = text.strip()
    if point not in draft.at("route", "points"):
        raise LineError(f"There is no point {point!r}. Put it in first, or insert it on a branch.")
    others = {b: branch for b, branch in branches.items() if b != branch_id}
    begins, ends = branch["from_point"], branch["to_point"]
    if point in (begins, ends):
        raise LineError(f"{branch_id} hangs on {point} already.")
    draft.put(
        point,
        "route",
        "branches",
        branch_id,
        "to_point" if _joined(others, ends, point) and not _joined(others, begins, point) else "from_point",
    )
    return draft


_STRETCH = re.compile(
    r"(?P<zone>.+?)\s+(?P<first>\d\S*(?:\s*(?:mm|cm|m|in|ft)\b)?)\s*(?:to\s+)?(?P<last>\d.*)", re.IGNORECASE
)


def put_stretch(plain: dict[str, Any], branch_id: str, text: str) -> Draft:
    """A part of a branch that lies in another zone: ``bay 0 120``, or ``bay`` for all of it.

    Raises LineError for a branch or zone that there is not, or lengths that are none of it.
    """
    draft = Draft(plain)
    branch = draft.at("route", "branches").get(branch_id)
    if branch is None:
        raise LineError(f"There is no branch {branch_id!r}.")
    if not text.strip():
        raise LineError("Name the zone and where along the branch it is: bay 0 120.")
    said = _STRETCH.fullmatch(text.strip())
    units = measures_of(plain["brief"])
    whole = float(branch["length_mm"])
    try:
        zone = _zone_named(draft, said["zone"] if said else text)
        from_mm = parse_length_mm(said["first"], units) if said else 0.0
        to_mm = parse_length_mm(said["last"], units) if said else whole
    except QuantityError as error:
        raise LineError(str(error)) from None
    if not 0 <= from_mm < to_mm <= whole:
        raise LineError(
            f"{branch_id} is {whole:g} mm long: a stretch lies between 0 and that. Write bay 0 120."
        )
    stretches = branch.get("stretches", {})
    stretch = {"order": next_order(stretches), "zone": zone, "from_mm": from_mm, "to_mm": to_mm}
    draft.put(stretch, "route", "branches", branch_id, "stretches", free_id(zone, stretches))
    return draft


def _zone_named(draft: Draft, words: str) -> str:
    """The zone that words name, by its id, its name, or how that begins. Raises LineError."""
    zones, wanted = draft.at("brief", "zones"), words.strip().lower()
    named = {k: str(z["name"]).lower() for k, z in zones.items()}
    exact = [k for k, name in named.items() if wanted in (k.lower(), name)]
    begun = [k for k, name in named.items() if name.startswith(wanted)]
    if exact or begun:
        return str((exact or begun)[0])
    known = ", ".join(z["name"] for z in zones.values()) or "none yet: put one into the brief"
    raise LineError(f"There is no zone {words.strip()!r}. Zones are {known}.")
