"""Typed statements of the circuits room, one thing a line: what a chain of devices does not say.

``pin A1.O1 low-side output "heater"``, ``path F1: in to out1 fuse 10 A``, ``load M1.+ to M1.- 5 A``,
``source B1.+ to B1.- battery 50 Ah``, ``circuit C12 "pump feed": F1.out1, M1.+`` and
``shielded pair crank: C48, C50, shield C52``.
"""

from __future__ import annotations

import re
from collections.abc import Callable
from typing import Any

from inkthread.core.catalogue import Catalogue
from inkthread.core.circuits.figures import Ratings, read_figures
from inkthread.core.circuits.joining import circuit_of
from inkthread.core.circuits.lead import lead_statement
from inkthread.core.circuits.lines import feed_into
from inkthread.core.circuits.pins_of_device import put_new_pin
from inkthread.core.circuits.typed_ratings import load_fields, source_fields
from inkthread.core.document.draft import Draft, LineError, free_id, next_order
from inkthread.core.document.pin_ref import device_of, read_ref
from inkthread.core.quantity import (
    QuantityError,
    parse_current_a,
    parse_length_mm,
    parse_percent,
    parse_resistance_ohm,
    parse_voltage_v,
)
from inkthread.core.typed.grammar import ROLE_WORDS, misread, parse_line

_STATEMENT = re.compile(
    r"(?:(?P<circuit>circuit)\s+\S+.*:|(?P<pin>pin)\s+\S+\.\S+\s|(?P<path>path)\s+\S+\s*:"
    r"|(?P<load>load)\s+\S+\.\S+\s|(?P<source>source)\s+\S+\.\S+\s|(?P<lead>lead)\s+\S+.*:"
    r"|(?P<cable>(?:shielded\s+(?:single|pair|three)|pair|three|cable)\s+\S+.*:))",
    re.IGNORECASE,
)


def statement_of(text: str) -> str | None:
    """Which statement a typed line is; None where it is a feed."""
    match = _STATEMENT.match(text.strip())
    return match.lastgroup if match is not None else None


def circuits_into(draft: Draft, catalogue: Catalogue, text: str) -> None:
    """Put a typed line of the circuits room into a draft: a statement, or a feed. Raises LineError."""
    what = statement_of(text)
    if what is None:
        feed_into(draft, catalogue, text)
    elif what == "cable":
        cable_statement(draft, catalogue, text)
    elif what == "lead":
        lead_statement(draft, catalogue, text)
    else:
        _ONE_DRAFT[what](draft, text)


def circuits_line(plain: dict[str, Any], catalogue: Catalogue, text: str) -> Draft:
    """Operations that put a typed line of the circuits room into a document. Raises LineError."""
    draft = Draft(plain)
    circuits_into(draft, catalogue, text.strip())
    return draft


def circuit_statement(draft: Draft, text: str) -> None:
    """A circuit with its id, its name and the device pins it joins. Raises LineError."""
    tree = parse_line("circuit", text)
    tokens = [t for t in tree.children if hasattr(t, "type")]
    circuit_id = _one(tokens, "POINT")
    ends = [t for t in tokens if t.type == "PLACE"]
    if circuit_id in draft.at("circuits", "circuits"):
        raise LineError(f"There is a circuit {circuit_id} already.")
    for token in ends:
        _need_pin(draft, token)
        taken = circuit_of(draft, str(token))
        if taken is not None:
            raise misread(f"{token} is in circuit {taken} already.", token)
    said = {rule: value for part in tree.children for rule, value in _circuit_said(draft, part)}
    draft.put(
        {
            "order": draft.next_order("circuits", "circuits"),
            "name": _quoted(tokens),
            "ends": {str(t): {"order": n + 1.0} for n, t in enumerate(ends)},
            **said,
        },
        "circuits",
        "circuits",
        circuit_id,
    )


def _circuit_said(draft: Draft, part: Any) -> list[tuple[str, Any]]:
    """What a circuit says besides its pins: its wire family, how it is joined, whether it is for later."""
    rule = getattr(part, "data", "")
    if rule == "hub":
        point = str(part.children[-1])
        if point not in draft.at("route", "points") and draft.at("route", "points"):
            raise misread(f"There is no point {point}.", part.children[-1])
        return [("hub", point)]
    if rule == "optional":
        return [("optional", True)]
    if rule == "left_out":
        return [("laid", False)]
    if rule in ("family", "threading"):
        return [(rule, " ".join(str(part.children[-1]).split()))]
    return []


def pin_statement(draft: Draft, text: str) -> None:
    """A pin of a device, with its role and name. Raises LineError."""
    tokens = _tokens("pin", text)
    place = next(t for t in tokens if t.type == "PLACE")
    device, pin = read_ref(str(place))
    if device not in draft.at("circuits", "devices") or not pin:
        raise misread(f"There is no device {device} to have the pin {place}.", place)
    at = ("circuits", "devices", device, "pins")
    pins = draft.at(*at)
    role = ROLE_WORDS[" ".join(_one(tokens, "ROLE").lower().split())]
    known = pins.get(pin, {"order": next_order(pins)})
    draft.put({**known, "role": role, "name": _quoted(tokens)}, *at, pin)


def path_statement(draft: Draft, text: str) -> None:
    """A path inside a device from one of its pins to another. Raises LineError."""
    tree = parse_line("path", text)
    device, from_pin, to_pin = [t for t in tree.children if getattr(t, "type", "") == "POINT"]
    pins = draft.at("circuits", "devices").get(str(device), {}).get("pins", {})
    for pin in (from_pin, to_pin):
        if str(pin) not in pins:
            raise misread(f"{device} has no pin {pin}.", pin)
    path: dict[str, Any] = {
        "from_pin": str(from_pin),
        "to_pin": str(to_pin),
        "kind": " ".join(
            str(next(t for t in tree.children if getattr(t, "type", "") == "PATH_KIND")).split()
        ),
        "reason": _because(tree),
    }
    for part in tree.children:
        rule = getattr(part, "data", "")
        if rule in _PATH:
            field, parse = _PATH[rule]
            path[field] = _read(parse, part.children[-1])  # type: ignore[union-attr]
    at = ("circuits", "devices", str(device), "paths")
    paths = draft.at(*at)
    draft.put({"order": next_order(paths), **path}, *at, free_id("", paths))


_PATH: dict[str, tuple[str, Any]] = {
    "rating": ("rating_a", parse_current_a),
    "contact": ("contact_a", parse_current_a),
    "makes": ("out_v", parse_voltage_v),
    "limit": ("limit_a", parse_current_a),
    "efficiency": ("efficiency_percent", parse_percent),
    "inside": ("resistance_mohm", lambda text: round(parse_resistance_ohm(text) * 1000, 9)),
    "throw": ("throw", str),
}


def load_statement(draft: Draft, text: str) -> None:
    """A load between two pins of a device. Raises LineError."""
    device, supply, back, said, _ = _between(draft, "load", text)
    loads = draft.at("circuits", "loads")
    load_id = device if device not in loads else draft.free_id("L", "circuits", "loads")
    load = {
        "device": device,
        "supply_pin": supply,
        "return_pin": back,
        "current_a": 0.0,
        "service": "continuous",
    }
    order = draft.next_order("circuits", "loads")
    draft.put({"order": order, **load, **load_fields(said)}, "circuits", "loads", load_id)


def source_statement(draft: Draft, text: str) -> None:
    """A source at two pins of a device. Raises LineError."""
    device, supply, back, said, kind = _between(draft, "source", text)
    sources = draft.at("circuits", "sources")
    source_id = device if device not in sources else draft.free_id("S", "circuits", "sources")
    source = {"device": device, "supply_pin": supply, "return_pin": back, "kind": kind or "battery"}
    fields = source_fields(said) | ({"nominal_v": said.rated_v} if said.rated_v else {})
    order = draft.next_order("circuits", "sources")
    draft.put({"order": order, **source, **fields}, "circuits", "sources", source_id)


def _between(draft: Draft, start: Any, text: str) -> tuple[str, str, str, Ratings, str]:
    tree = parse_line(start, text)
    places = [t for t in tree.children if getattr(t, "type", "") == "PLACE"]
    for token in places:
        _need_pin(draft, token)
    (device, supply), (other, back) = (read_ref(str(t)) for t in places)
    if device != other:
        raise misread(f"Both pins are of one device: {device}.{supply} to {device}.{back}.", places[1])
    volts = float(draft.at("brief", "supply_working_v") or 0) or 12.0
    kind = next(
        (" ".join(str(t).lower().split()) for t in tree.children if getattr(t, "type", "") == "SOURCE_KIND"),
        "",
    )
    return device, supply, back, read_figures(tree, text, volts), kind


def cable_statement(draft: Draft, catalogue: Catalogue, text: str) -> None:
    """Circuits that run together: a pair, a shielded three, a cable. Raises LineError."""
    tree = parse_line("cable", text)
    kind = next(t for t in tree.children if getattr(t, "type", "") == "CABLE_KIND")
    group, *named = [t for t in tree.children if getattr(t, "type", "") in ("POINT", "PLACE")]
    circuits = draft.at("circuits", "circuits")
    if str(group) in draft.at("circuits", "groups"):
        raise misread(f"There is {group} already.", group)
    said: dict[str, Any] = {}
    for part in tree.children:
        rule = getattr(part, "data", "")
        if rule == "drain":
            said["shield"] = _drained(draft, catalogue, str(group), part.children[-1])  # type: ignore[union-attr]
        if rule == "shield_open":
            said["shield_open"] = _lies_open(draft, part.children[-1])  # type: ignore[union-attr]
        if rule in ("shield", "shield_rule", "family", "lay"):
            token = part.children[-1]  # type: ignore[union-attr]
            if rule == "shield" and str(token) not in circuits:
                raise misread(f"There is no circuit {token}.", token)
            if rule == "family" and str(token) not in catalogue.wires:
                raise misread(f"There is no wire family {token}.", token)
            field = "lay_mm" if rule == "lay" else rule
            said[field] = _read(parse_length_mm, token) if rule == "lay" else " ".join(str(token).split())
    members = list(dict.fromkeys(_member(draft, token) for token in named))
    if said.get("shield_open") and not said.get("shield"):
        raise LineError(
            f"Say where the shield is landed too, as in: drain to A1.SH, open at {said['shield_open']}."
        )
    draft.put(
        {
            "order": draft.next_order("circuits", "groups"),
            "kind": " ".join(str(kind).lower().split()),
            "name": next((str(t)[1:-1] for t in tree.children if getattr(t, "type", "") == "QUOTED"), ""),
            "members": {c: {"order": n + 1.0} for n, c in enumerate(members)},
            **said,
        },
        "circuits",
        "groups",
        str(group),
    )


def _member(draft: Draft, token: Any) -> str:
    """The circuit that a cable's line names, by its id or by a device pin that it joins."""
    said = str(token)
    if "." not in said:
        if said not in draft.at("circuits", "circuits"):
            raise misread(f"There is no circuit {said}. A device pin does as well, like A1.I1.", token)
        return said
    _need_pin(draft, token)
    circuit = circuit_of(draft, said)
    if circuit is None:
        raise misread(f"{said} is in no circuit yet.", token)
    return str(circuit)


def _drained(draft: Draft, catalogue: Catalogue, group: str, token: Any) -> str:
    """The circuit that lands a shield at a device pin; pin and circuit are made where they are not there."""
    ref = str(token)
    device, pin = read_ref(ref)
    pins = draft.at("circuits", "devices").get(device, {}).get("pins")
    if pins is None or not pin:
        raise misread(
            f"There is no device {device} to land the shield at."
            if pins is None
            else f"Say which pin of {device} it goes to, like {device}.SH.",
            token,
        )
    if pin not in pins:
        put_new_pin(draft, catalogue, device, pin, "drain", "shield")
    circuit = circuit_of(draft, ref)
    if circuit is None:
        circuit = draft.free_id("C", "circuits", "circuits")
        order = draft.next_order("circuits", "circuits")
        drain = {"order": order, "name": f"{group} shield", "ends": {ref: {"order": 1.0}}}
        draft.put(drain, "circuits", "circuits", circuit)
    return str(circuit)


def _lies_open(draft: Draft, token: Any) -> str:
    """The connector at which a shield is cut back: itself, or the one of the device named."""
    connectors = draft.at("ends", "connectors")
    if str(token) in connectors:
        return str(token)
    pinout = draft.at("ends", "pinout")
    connector_ids = dict.fromkeys(e["connector"] for r, e in pinout.items() if device_of(r) == str(token))
    if len(connector_ids) != 1:
        raise misread(
            f"There is no connector {token}."
            if not connector_ids
            else f"{token} has {', '.join(connector_ids)}: say at which of them.",
            token,
        )
    return str(next(iter(connector_ids)))


def _tokens(start: Any, text: str) -> list[Any]:
    return list(parse_line(start, text).scan_values(lambda _: True))


def _one(tokens: list[Any], kind: str) -> str:
    return str(next(t for t in tokens if t.type == kind))


def _quoted(tokens: list[Any]) -> str:
    return next((str(t)[1:-1] for t in tokens if t.type == "QUOTED"), "")


def _because(tree: Any) -> str:
    return next((str(t) for part in tree.find_data("because") for t in part.children), "")


def _read(parse: Any, token: Any) -> Any:
    try:
        return parse(str(token))
    except QuantityError as error:
        raise misread(str(error), token) from None


def _need_pin(draft: Draft, token: Any) -> None:
    device, pin = read_ref(str(token))
    if pin not in draft.at("circuits", "devices").get(device, {}).get("pins", {}):
        raise misread(f"There is no device pin {token}.", token)


_ONE_DRAFT: dict[str, Callable[[Draft, str], None]] = {
    "circuit": circuit_statement,
    "pin": pin_statement,
    "path": path_statement,
    "load": load_statement,
    "source": source_statement,
}
