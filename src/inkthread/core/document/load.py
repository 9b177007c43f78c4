"""Reading a design document: shape first, then that its references hold."""

from __future__ import annotations

import json
import re
from collections.abc import Callable, Iterable
from dataclasses import dataclass
from functools import cache
from typing import Any, cast

from pydantic import TypeAdapter, ValidationError

from inkthread.core.document.newest import newest_form
from inkthread.core.document.types import FORMAT, FORMAT_NUMBER, Document

MAX_DOCUMENT_BYTES = 8_000_000
MOST_SHOWN = 1e300
"""Numbers beyond this are said to be this."""


@cache
def reader() -> TypeAdapter[Document]:
    """Reads and writes documents. Made when first needed: it takes a fifth of a second."""
    return TypeAdapter(Document)


@dataclass(frozen=True, slots=True)
class Problem:
    """One fault of the input: where (a JSON Pointer), what is wrong, and what to do."""

    path: str
    message: str
    remedy: str


class DocumentError(ValueError):
    """The input is not a valid design document; ``problems`` names every field at fault."""

    def __init__(self, problems: list[Problem]) -> None:
        self.problems = problems
        first = problems[0]
        super().__init__(f"{first.path or 'document'}: {first.message} {first.remedy}")


def pointer(parts: Iterable[object]) -> str:
    """JSON Pointer (RFC 6901) of the parts."""
    return "".join("/" + str(p).replace("~", "~0").replace("/", "~1") for p in parts)


_REMEDIES = {
    "string_unicode": "Take the half character out.",
    "extra_forbidden": "Remove it; the document has no such field here.",
    "missing": "Add it.",
    "string_too_long": "Shorten it.",
    "finite_number": "Give a real number; NaN and infinity are refused.",
    "literal_error": "Choose one of the values listed.",
    "greater_than": "Give a larger number.",
    "greater_than_equal": "Give a number that is not smaller than this.",
    "less_than_equal": "Give a smaller number; check the unit.",
}


def _shown(value: object) -> str:
    try:
        text = repr(value)
    except ValueError:
        text = "a number of thousands of digits"
    return text if len(text) <= 40 else text[:37] + "..."


_BOUNDS = {
    "less_than_equal": ("le", "at most"),
    "less_than": ("lt", "less than"),
    "greater_than_equal": ("ge", "at least"),
    "greater_than": ("gt", "more than"),
}
_UNITS = {
    "mm": "mm", "mm2": "mm²", "a": "A", "v": "V", "c": "°C", "s": "s", "m": "m", "percent": "%",
    "mohm": "mΩ", "ah": "Ah", "mv": "mV",
}  # fmt: skip


def _out_of_bounds(field: str, kind: str, value: float, bounds: dict[str, Any]) -> str:
    """``Length is 10000000 mm; it may be at most 200000 mm.``"""
    words, _, unit = field.rpartition("_")
    unit = _UNITS.get(unit if words else field, "")
    name = (words if unit and words else field).replace("_", " ")
    key, says = _BOUNDS[kind]
    limit = float(bounds[key])
    return (
        f"{name.capitalize()} is {value:.12g} {unit}".rstrip()
        + f"; it may be {says} {limit:.12g} {unit}".rstrip()
        + "."
    )


def _problem(error: Any) -> Problem:
    kind: str = error["type"]
    parts = [p for p in error["loc"] if p != "[key]"]
    message = str(error["msg"])
    if kind == "extra_forbidden":
        message = f"Unknown field {_shown(parts[-1])}."
    elif kind in _BOUNDS and parts and isinstance(error["input"], (int, float)):
        value = float(min(max(error["input"], -MOST_SHOWN), MOST_SHOWN))
        message = _out_of_bounds(str(parts[-1]), kind, value, error["ctx"])
    elif kind != "missing":
        message = f"{message.removeprefix('Value error, ')}, not {_shown(error['input'])}."
    else:
        message = "This field is missing."
    return Problem(pointer(parts), message, _REMEDIES.get(kind, "Correct the value."))


def parse_document(data: object) -> Document:
    """Validate plain data (as from JSON) as a design document.

    Raises ``DocumentError`` naming every field at fault.
    """
    if not isinstance(data, dict):
        raise DocumentError(
            [Problem("", "A design document is a JSON object.", "Open a file made by this program.")]
        )
    found = data.get("format")
    if found != FORMAT:
        raise DocumentError(
            [
                Problem(
                    "/format",
                    f"This is not a design document (format is {_shown(found)}).",
                    f"Choose a file whose format is {FORMAT!r}.",
                )
            ]
        )
    number = data.get("format_number")
    if number != FORMAT_NUMBER or isinstance(number, bool):
        raise DocumentError(
            [
                Problem(
                    "/format_number",
                    f"Format number {_shown(number)} is not known here.",
                    f"This program reads format number {FORMAT_NUMBER}.",
                )
            ]
        )
    try:
        document = reader().validate_python(data)
    except ValidationError as error:
        raise DocumentError([_problem(e) for e in error.errors()[:20]]) from None
    problems = check_references(document)
    if problems:
        raise DocumentError(problems[:20])
    return document


MOST_NESTED = 64
"""How deep a value may be nested; a document is nested eight deep."""
_ESCAPED_SURROGATE = re.compile(rb"\\u[dD][89a-fA-F]")


def _not_readable(
    message: str, remedy: str = "Open a file made by this program.", path: str = ""
) -> DocumentError:
    return DocumentError([Problem(path, message, remedy)])


def _refuse_constant(text: str) -> float:
    raise _not_readable(f"{text} is not a number.", "Give a real number; NaN and infinity are refused.")


def _once(pairs: list[tuple[str, Any]]) -> dict[str, Any]:
    found = dict(pairs)
    if len(found) < len(pairs):
        names = [k for k, _ in pairs]
        twice = next(k for k in names if names.count(k) > 1)
        raise _not_readable(
            f"{twice[:60]!r} is there twice.", "Give every field once.", pointer([twice[:60]])
        )
    return found


def read_json(text: str | bytes) -> Any:
    """What JSON text says, read strictly: the one reader of files and of what is sent.

    Raises DocumentError for what is no JSON, a field that is there twice, a number that is none, a
    character that is none, and for nesting beyond ``MOST_NESTED``.
    """
    try:
        data = text.encode("utf-8") if isinstance(text, str) else text
        found = json.loads(
            data.removeprefix(b"\xef\xbb\xbf"), parse_constant=_refuse_constant, object_pairs_hook=_once
        )
        if _ESCAPED_SURROGATE.search(data):
            json.dumps(found, ensure_ascii=False).encode("utf-8")
    except RecursionError:
        raise _not_readable("The JSON is nested too deeply.") from None
    except json.JSONDecodeError as error:
        raise _not_readable(f"This is not JSON at line {error.lineno}.") from None
    except UnicodeEncodeError:
        raise _not_readable("There is half a character in it (a lone surrogate).", "Take it out.") from None
    except UnicodeDecodeError:
        raise _not_readable("This is not JSON: it is not UTF-8 text.") from None
    except DocumentError:
        raise
    except ValueError:
        raise _not_readable("A number in it has thousands of digits.", "Give a real number.") from None
    _shallow(found)
    return found


def _shallow(found: Any) -> None:
    level = [found]
    for _ in range(MOST_NESTED):
        level = (
            [
                v
                for node in level
                for v in (node.values() if isinstance(node, dict) else node)
                if isinstance(v, (dict, list))
            ]
            if level and isinstance(level[0], (dict, list))
            else []
        )
        if not level:
            return
    raise _not_readable("The JSON is nested too deeply.")


def parse_document_text(text: str | bytes) -> Document:
    """Read a design document from JSON text, of any format number so far. Raises ``DocumentError``."""
    if len(text) > MAX_DOCUMENT_BYTES:
        raise _not_readable("The file is larger than 8 MB.", "Split the harness, or check the file.")
    return parse_document(newest_form(read_json(text)))


def dump_document(document: Document) -> dict[str, Any]:
    """The document as plain data, ready for JSON."""
    return cast(dict[str, Any], reader().dump_python(document, mode="json"))


def document_json_schema() -> dict[str, Any]:
    """JSON Schema (2020-12) of the design document."""
    schema = reader().json_schema()
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "title": "Ink Thread design document",
        **schema,
    }


def check_references(document: Document) -> list[Problem]:
    """Every id that an entry names must exist; the route must be a tree."""
    problems: list[Problem] = []
    devices = document.circuits.devices

    def missing(path: list[object], what: str, value: str, known: Iterable[str]) -> None:
        names = ", ".join(sorted(known)[:8]) or "none yet"
        problems.append(
            Problem(pointer(path), f"There is no {what} {_shown(value)}.", f"Known here: {names}.")
        )

    def check_pin(path: list[object], ref: str) -> None:
        device_id, _, pin = ref.partition(".")
        device = devices.get(device_id)
        if device is None:
            missing(path, "device", device_id, devices)
        elif pin not in device.pins:
            missing(path, f"pin on {device_id} named", pin, device.pins)

    for device_id, device in devices.items():
        base: list[object] = ["circuits", "devices", device_id]
        for path_id, inner in device.paths.items():
            for name, pin in (("from_pin", inner.from_pin), ("to_pin", inner.to_pin)):
                if pin not in device.pins:
                    missing([*base, "paths", path_id, name], "pin", pin, device.pins)
    for load_id, load in document.circuits.loads.items():
        base = ["circuits", "loads", load_id]
        if load.device not in devices:
            missing([*base, "device"], "device", load.device, devices)
            continue
        for name, pin in (("supply_pin", load.supply_pin), ("return_pin", load.return_pin)):
            if pin not in devices[load.device].pins:
                missing([*base, name], "pin", pin, devices[load.device].pins)
    for source_id, source in document.circuits.sources.items():
        base = ["circuits", "sources", source_id]
        if source.device not in devices:
            missing([*base, "device"], "device", source.device, devices)
            continue
        for name, pin in (("supply_pin", source.supply_pin), ("return_pin", source.return_pin)):
            if pin not in devices[source.device].pins:
                missing([*base, name], "pin", pin, devices[source.device].pins)
    _check_circuits(document, missing)
    owner: dict[str, str] = {}
    for circuit_id, circuit in document.circuits.circuits.items():
        for ref in circuit.ends:
            place: list[object] = ["circuits", "circuits", circuit_id, "ends", ref]
            check_pin(place, ref)
            if ref in owner:
                problems.append(
                    Problem(
                        pointer(place),
                        f"{ref} is already in circuit {owner[ref]}.",
                        "A pin belongs to one circuit: join the two circuits, or take it out of one.",
                    )
                )
            owner[ref] = circuit_id
    points = document.route.points
    parent = {p: p for p in points}

    def root(p: str) -> str:
        while parent[p] != p:
            parent[p] = parent[parent[p]]
            p = parent[p]
        return p

    zones = document.brief.zones
    for point_id, at in points.items():
        if at.zone is not None and at.zone not in zones:
            missing(["route", "points", point_id, "zone"], "zone", at.zone, zones)
    for branch_id, branch in document.route.branches.items():
        base = ["route", "branches", branch_id]
        ends_known = True
        for name, point in (("from_point", branch.from_point), ("to_point", branch.to_point)):
            if point not in points:
                missing([*base, name], "point", point, points)
                ends_known = False
        if branch.zone is not None and branch.zone not in zones:
            missing([*base, "zone"], "zone", branch.zone, zones)
        for stretch_id, stretch in branch.stretches.items():
            if stretch.zone not in zones:
                missing([*base, "stretches", stretch_id, "zone"], "zone", stretch.zone, zones)
        if not ends_known:
            continue
        a, b = root(branch.from_point), root(branch.to_point)
        if a == b:
            problems.append(
                Problem(
                    pointer(base),
                    f"Branch {branch_id} closes a loop in the route.",
                    "A route is a tree: take out this branch, or hang it from another point.",
                )
            )
        parent[a] = b
    connectors = document.ends.connectors
    for connector_id, connector in connectors.items():
        if connector.point is not None and connector.point not in points:
            missing(["ends", "connectors", connector_id, "point"], "point", connector.point, points)
        for name, other in (("meets", connector.meets), ("same_as", connector.same_as)):
            if other is not None and (other not in connectors or other == connector_id):
                others = [k for k in connectors if k != connector_id]
                missing(["ends", "connectors", connector_id, name], "other connector", other, others)
        if connector.shield is not None and connector.shield not in document.circuits.circuits:
            known_circuits = document.circuits.circuits
            missing(
                ["ends", "connectors", connector_id, "shield"], "circuit", connector.shield, known_circuits
            )
    for ref, entry in document.ends.pinout.items():
        place = ["ends", "pinout", ref]
        check_pin(place, ref)
        if entry.connector not in connectors:
            missing([*place, "connector"], "connector", entry.connector, connectors)
    return problems


def _check_circuits(
    document: Document, missing: Callable[[list[object], str, str, Iterable[str]], None]
) -> None:
    """Modes, groups, buses and hubs name what is there."""
    c = document.circuits
    for collection, entries in (("loads", c.loads), ("sources", c.sources)):
        for entry_id, entry in entries.items():
            for mode in entry.modes:
                if mode not in c.modes:
                    missing(["circuits", collection, entry_id, "modes", mode], "mode", mode, c.modes)
    for circuit_id, circuit in c.circuits.items():
        if circuit.hub is not None and circuit.hub not in document.route.points:
            missing(["circuits", "circuits", circuit_id, "hub"], "point", circuit.hub, document.route.points)
    for group_id, group in c.groups.items():
        for member in (*group.members, *([group.shield] if group.shield is not None else [])):
            if member not in c.circuits:
                missing(["circuits", "groups", group_id, "members", member], "circuit", member, c.circuits)
        if group.shield_open is not None and group.shield_open not in document.ends.connectors:
            path: list[object] = ["circuits", "groups", group_id, "shield_open"]
            missing(path, "connector", group.shield_open, document.ends.connectors)
    for bus_id, bus in c.buses.items():
        for member in bus.circuits:
            if member not in c.circuits:
                missing(["circuits", "buses", bus_id, "circuits", member], "circuit", member, c.circuits)
        for device in bus.terminators:
            if device not in c.devices:
                missing(["circuits", "buses", bus_id, "terminators", device], "device", device, c.devices)
