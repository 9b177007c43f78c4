"""What a typed line makes, in a builder's words: a document before and after, told apart."""

from __future__ import annotations

from collections.abc import Callable, Collection, Iterator
from typing import Any

from inkthread.core.catalogue import Catalogue
from inkthread.core.document.pin_ref import device_of
from inkthread.core.measures import Measures, format_current, format_length, format_temperature, measures_of
from inkthread.core.words import list_in_words

Plain = dict[str, Any]


def what_is_made(
    before: Plain, after: Plain, catalogue: Catalogue, touched: Collection[tuple[str, ...]] | None = None
) -> list[str]:
    """A sentence for everything that is in the second document and not in the first, or otherwise there.

    Where it is known which entries are ``touched`` (room, collection, id), ``before`` needs only those.
    """
    units = measures_of(after["brief"])
    now = after if touched is None else _touched(after, touched)
    return [
        *_zones(before, now, units),
        *_devices(before, now, after, catalogue, units),
        *_circuits(before, now, after),
        *_connectors(before, now, after),
        *_cables(before, now),
        *_route(before, now, after, units),
    ]


def _touched(after: Plain, touched: Collection[tuple[str, ...]]) -> Plain:
    parts: Plain = {"brief": {}}
    for path in sorted(touched, key=lambda p: (p[:2], _stands(after, p), p)):
        node = after
        for part in path[:-1]:
            node = node.get(part) or {}
        if len(path) == 3 and isinstance(node, dict) and path[-1] in node:
            parts.setdefault(path[0], {}).setdefault(path[1], {})[path[-1]] = node[path[-1]]
    return parts


def _stands(plain: Plain, path: tuple[str, ...]) -> float:
    """Where an entry stands among its likes."""
    node: Any = plain
    for part in path:
        node = node.get(part) if isinstance(node, dict) else None
    order = node.get("order") if isinstance(node, dict) else None
    return float(order) if isinstance(order, (int, float)) else 0.0


def _of(plain: Plain, *path: str) -> dict[str, Any]:
    node: Any = plain
    for part in path:
        node = node.get(part) or {}
    return dict(node)


def _new(before: Plain, after: Plain, *path: str) -> list[tuple[str, Any]]:
    known = _of(before, *path)
    return [(k, value) for k, value in _of(after, *path).items() if k not in known]


def _zones(before: Plain, after: Plain, units: Measures) -> list[str]:
    return [
        f"zone {zone['name']}: {zone_in_words(zone, units)}"
        for _, zone in _new(before, after, "brief", "zones")
    ]


_CONDITIONS = (
    ("wet", "wet"),
    ("jets", "jets"),
    ("immersed", "under water"),
    ("salt", "salt"),
    ("vibration", "vibration"),
    ("flex", "flexing"),
    ("dust", "dust"),
    ("abrasion", "rubbing"),
    ("engine_space", "engine space"),
    ("noisy", "noisy"),
    ("sensitive", "sensitive"),
    ("no_structure", "wood"),
)


def conditions_in_words(of: Callable[[str], Any]) -> list[str]:
    """What is so in a zone but for its fluids, in words a zone's line reads; ``of`` gives a field.

    >>> conditions_in_words({"immersed": True, "immersed_m": 2.0, "vibration": True}.get)
    ['under water 2 m', 'vibration']
    """
    words = []
    for field, word in _CONDITIONS:
        if not of(field):
            continue
        if field == "immersed":
            depth, minutes = of("immersed_m"), of("immersed_min")
            word += (f" {depth:.12g} m" if depth else "") + (f" {minutes:.12g} min" if minutes else "")
        words.append(word)
    return words


def zone_in_words(zone: Plain, units: Measures) -> str:
    """What is so in a zone: ``85 °C, wet, vibration, fuel``."""
    words = [format_temperature(float(zone["ambient_c"]), units)]
    if zone.get("least_c") is not None:
        words.append(f"down to {format_temperature(float(zone['least_c']), units)}")
    words += conditions_in_words(zone.get)
    if zone.get("radiant_w_per_m2"):
        words.append("sun")
    return ", ".join([*words, *([zone["fluids"]] if zone.get("fluids") else [])])


def _devices(before: Plain, now: Plain, after: Plain, catalogue: Catalogue, units: Measures) -> list[str]:
    said = []
    new = dict(_new(before, now, "circuits", "devices"))
    for device_id, device in new.items():
        kind = catalogue.kinds.get(device["kind"])
        label = kind.label if kind is not None and kind.label.lower() != device["name"].lower() else ""
        what = ", ".join(word for word in (label, *_figures(after, device_id, units)) if word)
        on = _meets(after, device_id)
        said.append(
            f"{device_id} {device['name']}{': ' + what if what else ''}{f', on {on}' if on else ''}".strip()
        )
    for device_id, device in _of(now, "circuits", "devices").items():
        known = _of(before, "circuits", "devices").get(device_id)
        if known is None:
            continue
        for pin in (p for p in device["pins"] if p not in known["pins"]):
            path = next((path for path in device.get("paths", {}).values() if path["to_pin"] == pin), None)
            what = f" {path['kind']}" if path is not None and path["kind"] != "link" else ""
            said.append(f"new {device_id}.{pin}{what}")
    return said


def _figures(after: Plain, device_id: str, units: Measures) -> list[str]:
    """What a device draws, carries, gives and has, as it now stands in the document."""
    device = after["circuits"]["devices"][device_id]
    said: list[str] = []
    for load in _of(after, "circuits", "loads").values():
        if load["device"] == device_id:
            said += _draws(load)
    for path in device.get("paths", {}).values():
        for field, word in (("rating_a", ""), ("contact_a", "contacts "), ("limit_a", "up to ")):
            if path.get(field):
                said.append(f"{word}{format_current(path[field])}")
        if path.get("out_v"):
            said.append(f"makes {path['out_v']:g} V")
    for source in _of(after, "circuits", "sources").values():
        if source["device"] == device_id:
            said += _gives(source)
    if device.get("lead_gauge") or device.get("lead_mm"):
        long = format_length(device["lead_mm"], units) if device.get("lead_mm") else ""
        said.append(" ".join(word for word in ("leads", device.get("lead_gauge") or "", long) if word))
    return list(dict.fromkeys(said))


def _draws(load: Plain) -> Iterator[str]:
    if load["current_a"]:
        volts = f" at {load['rated_v']:g} V" if load.get("rated_v") else ""
        yield f"{format_current(load['current_a'])}{volts}"
    for what in ("peak", "inrush"):
        if load.get(f"{what}_a"):
            lasts = f" for {load[f'{what}_s']:g} s" if load.get(f"{what}_s") else ""
            yield f"{what} {format_current(load[f'{what}_a'])}{lasts}"
    if load.get("duty_percent", 100) != 100:
        cycle = f" of {load['cycle_s']:g} s" if load.get("cycle_s") else ""
        yield f"{load['duty_percent']:g} % duty{cycle}"
    if load.get("service") == "intermittent":
        yield "intermittent"


_GIVEN: dict[str, Callable[[Any], str]] = {
    "nominal_v": lambda v: f"{v:g} V",
    "capacity_ah": lambda ah: f"{ah:g} Ah",
    "limit_a": lambda a: f"up to {format_current(a)}",
    "fuse_a": lambda a: f"behind a fuse of {format_current(a)}",
    "fault_a": lambda a: f"{format_current(a)} into a short",
    "feed_gauge": lambda gauge: f"by {gauge}",
}
"""What is stated of a source, in words."""


def _gives(source: Plain) -> list[str]:
    return [say(source[field]) for field, say in _GIVEN.items() if source.get(field)]


def _meets(after: Plain, device_id: str) -> str:
    pinout = _of(after, "ends", "pinout")
    ids = dict.fromkeys(e["connector"] for r, e in pinout.items() if device_of(r) == device_id)
    connectors = _of(after, "ends", "connectors")
    halves = []
    for connector_id in ids:
        connector = connectors[connector_id]
        ways = "" if connector["shell"] == "none" else f" {connector['ways']} way"
        halves.append(f"{connector['family']}{ways}")
    if len(ids) == 2 and len(set(halves)) == 1:
        return f"{halves[0]}, both halves"
    return " and ".join(dict.fromkeys(halves))


def _circuits(before: Plain, now: Plain, after: Plain) -> list[str]:
    known = _of(before, "circuits", "circuits")
    said = []
    for circuit_id, circuit in _of(now, "circuits", "circuits").items():
        ends = list(circuit["ends"])
        was = list(known[circuit_id]["ends"]) if circuit_id in known else []
        if not was and len(ends) > 1:
            said.append(f"{ends[0]} to {list_in_words(ends[1:])}")
            continue
        came = [e for e in ends if e not in was]
        left = [e for e in was if e not in ends]
        if came and was:
            said.append(f"{list_in_words(came)} to {_best_known(after, was)}")
        if left:
            said.append(f"{list_in_words(left)} no longer straight to {ends[0] if ends else 'anything'}")
    gone = [
        circuit
        for circuit in _new(now, before, "circuits", "circuits")
        if circuit[0] not in _of(after, "circuits", "circuits")
    ]
    return said + [f"{circuit_id} joined to another circuit" for circuit_id, _ in gone]


def _best_known(after: Plain, ends: list[str]) -> str:
    """The end of a circuit that a builder knows it by: at a source or the structure, else the first."""
    feeds = {s["device"] for s in _of(after, "circuits", "sources").values()}
    devices = _of(after, "circuits", "devices")
    return next(
        (e for e in ends if (d := device_of(e)) in feeds or devices.get(d, {}).get("structure")),
        ends[0],
    )


def _connectors(before: Plain, now: Plain, after: Plain) -> list[str]:
    """Connectors that are larger now, and those that belong to no device that is new."""
    known = _of(before, "ends", "connectors")
    devices = dict(_new(before, now, "circuits", "devices"))
    pinout = _of(now, "ends", "pinout")
    of_new = {e["connector"] for r, e in pinout.items() if device_of(r) in devices}
    said = []
    still = _of(after, "ends", "connectors")
    gone = {k: connector for k, connector in _new(now, before, "ends", "connectors") if k not in still}
    renamed: dict[str, str] = {}
    for connector_id, connector in _new(before, now, "ends", "connectors"):
        old = next((k for k, was in gone.items() if was == connector and k not in renamed.values()), None)
        if old is not None:
            renamed[connector_id] = old
    for connector_id, connector in _of(now, "ends", "connectors").items():
        was = known.get(connector_id)
        if connector_id in renamed:
            said.append(f"{renamed[connector_id]} is called {connector_id} now")
        elif was is None and connector_id not in of_new:
            shell = "" if connector["shell"] == "none" else f" {connector['shell']}"
            said.append(f"{connector_id}: {connector['family']} {connector['ways']} way{shell}")
        elif was is not None:
            changed = [
                f"{word} {was.get(field) or 'none'}, now {connector.get(field) or 'none'}"
                for field, word in (
                    ("family", ""), ("shell", ""), ("point", "at"), ("key", "key"),
                )
                if was.get(field) != connector.get(field)
                and not (field == "point" and was.get("point") is None)
            ]  # fmt: skip
            if was["ways"] != connector["ways"] and connector["shell"] != "none":
                changed.append(f"from {was['ways']} to {connector['ways']} ways")
            if bool(was.get("turned_over")) != bool(connector.get("turned_over")):
                changed.append(
                    "contacts turned over" if connector.get("turned_over") else "contacts as usual"
                )
            if changed:
                said.append(f"{connector_id}: {', '.join(change.strip() for change in changed)}")
    known_pins = _of(before, "ends", "pinout")
    for ref, entry in pinout.items():
        was = known_pins.get(ref)
        at = renamed.get(entry["connector"], entry["connector"])
        if was is not None and (was["connector"], was["cavity"]) not in (
            (at, entry["cavity"]), (entry["connector"], entry["cavity"]),
        ):  # fmt: skip
            said.append(f"{ref} to {entry['connector']}-{entry['cavity']}")
    said += [f"{c} taken out" for c in gone if c not in renamed.values()]
    return said


def _cables(before: Plain, now: Plain) -> list[str]:
    """Circuits that run together from now on, of what, and where their shield is landed."""
    said = []
    for group_id, group in _new(before, now, "circuits", "groups"):
        members = list(group.get("members", {}))
        words = [f"{group_id}: {group['kind']} of {', '.join(members)}"]
        words += [f"in {group['family']}"] if group.get("family") else []
        if group.get("shield"):
            ends = _of(now, "circuits", "circuits").get(group["shield"], {}).get("ends", {})
            words.append(f"shield landed at {', '.join(ends)}")
        words += [f"cut back at {group['shield_open']}"] if group.get("shield_open") else []
        said.append(", ".join(words))
    return said


def _route(before: Plain, now: Plain, after: Plain, units: Measures) -> list[str]:
    said = []
    for point_id, point in _new(before, now, "route", "points"):
        if point.get("kind", "breakout") == "opening":
            bore = f" of {format_length(point['opening_mm'], units)}" if point.get("opening_mm") else ""
            said.append(f"{point_id} is an opening{bore}")
        elif point.get("kind") == "clamp":
            said.append(f"{point_id} is a clamp")
    known = _of(before, "route", "branches")
    zones = _of(after, "brief", "zones")
    for branch_id, branch in _of(now, "route", "branches").items():
        was = known.get(branch_id)
        if was == branch or "length_mm" not in branch:
            continue
        words = _branch_words(branch, zones, units)
        again = "" if was is None else f", was {format_length(was['length_mm'], units)}"
        said.append(f"{branch['from_point']} to {branch['to_point']} {', '.join(words)}{again}")
    return said


def _branch_words(branch: Plain, zones: Plain, units: Measures) -> list[str]:
    """A branch's length and all that is said of it."""
    words = [format_length(branch["length_mm"], units)]
    if branch.get("uncertainty_mm") is not None:
        words[0] += f" ± {format_length(branch['uncertainty_mm'], units)}"
    if branch.get("slack_mm") is not None:
        words.append(f"slack {format_length(branch['slack_mm'], units)}")
    if branch.get("measured", "tape") != "tape":
        words.append(branch["measured"])
    if branch.get("separators"):
        words.append("with separators")
    if branch.get("support_mm") is not None:
        words.append(f"held every {format_length(branch['support_mm'], units)}")
    if branch.get("apart_mm") is not None:
        words.append(f"kept apart {format_length(branch['apart_mm'], units)}")
    if branch.get("sheath", "none") != "none":
        words.append("sheathed" if branch["sheath"] == "sheath" else "enclosed")
    if branch.get("zone"):
        words.append(f"in {zones[branch['zone']]['name']}")
    return words
