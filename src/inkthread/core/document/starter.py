"""A new, empty harness."""

from __future__ import annotations

from typing import Any, get_args

from inkthread.core.document.load import dump_document
from inkthread.core.document.types import FORMAT, FORMAT_NUMBER, Brief, Document, Zone
from inkthread.core.document.values import Practice

_SUPPLY = {
    "motorsport": (12.0, 13.2),
    "aviation": (14.0, 13.8),
    "marine": (12.0, 12.8),
    "model": (7.4, 7.4),
    "vehicle": (12.0, 13.2),
    "equipment": (24.0, 24.0),
}


_SAME_V = 0.005
"""Volts as they are written: two digits behind the point."""
_ZONES: dict[Practice, tuple[Zone, ...]] = {
    "motorsport": (
        Zone(1, "engine bay", 100, vibration=True, engine_space=True, fluids="fuel, oil, coolant"),
        Zone(2, "tub", 50, vibration=True),
        Zone(3, "in the road wet", 40, wet=True, vibration=True),
    ),
    "aviation": (
        Zone(1, "engine side of the firewall", 90, vibration=True, engine_space=True, fluids="fuel, oil"),
        Zone(2, "cabin", 55, vibration=True),
        Zone(3, "fuselage and wings", 55, least_c=-40, vibration=True),
    ),
    "marine": (
        Zone(1, "cabin, damp", 40, wet=True),
        Zone(2, "bilge", 35, wet=True, salt=True, immersed=True),
        Zone(3, "engine space", 50, vibration=True, engine_space=True, wet=True, fluids="fuel, oil"),
        Zone(4, "deck", 45, wet=True, salt=True, radiant_w_per_m2=1000),
    ),
    "model": (),
    "vehicle": (
        Zone(1, "engine bay", 105, vibration=True, engine_space=True, fluids="fuel, oil, coolant"),
        Zone(2, "cabin", 85),
        Zone(3, "in the road wet", 50, wet=True, vibration=True),
    ),
    "equipment": (),
}
"""Zones that a new harness of each practice has to choose from: common practice, no source."""
_ZONE_IDS = {
    "engine bay": "bay", "engine side of the firewall": "engine", "in the road wet": "road",
    "cabin, damp": "cabin", "engine space": "engine", "fuselage and wings": "fuselage",
}  # fmt: skip


def usual_zones(practice: Practice) -> dict[str, Zone]:
    """Zones to begin with, by id; none of them lies anywhere yet."""
    return {_ZONE_IDS.get(z.name, z.name): z for z in _ZONES[practice]}


def usual_working_v(practice: Practice, nominal_v: float) -> float:
    """What a supply of a nominal voltage works at under a practice, in V: 13.8 on 14 and 27.5 on 28 with a
    generator, 13.2 on 12 in a vehicle (common practice, no source); others in proportion.
    """
    if practice == "aviation" and nominal_v == 28:
        return 27.5
    nominal, working = _SUPPLY[practice]
    return round(nominal_v * working / nominal, 2)


def working_follows(plain: dict[str, Any], operations: list[dict[str, Any]]) -> list[dict[str, Any]]:
    """Operations that change the nominal supply, with the working one along, unless that was set apart."""
    brief = plain["brief"]
    usual = Brief("", "vehicle")
    practice, nominal = brief["practice"], brief.get("supply_nominal_v", usual.supply_nominal_v)
    working = brief.get("supply_working_v", usual.supply_working_v)
    paths = {o["path"]: o.get("value") for o in operations}
    new = paths.get("/brief/supply_nominal_v")
    if not isinstance(new, int | float) or "/brief/supply_working_v" in paths:
        return operations
    if abs(working - usual_working_v(practice, nominal)) > _SAME_V:
        return operations
    op = "replace" if "supply_working_v" in brief else "add"
    follows = {"op": op, "path": "/brief/supply_working_v", "value": usual_working_v(practice, float(new))}
    return [*operations, follows]


def practices() -> tuple[str, ...]:
    """The six practice presets."""
    return get_args(Practice)


def usual_supplies_v() -> dict[str, float]:
    """Nominal supply in V that each practice has, until another is said."""
    return {practice: nominal for practice, (nominal, _) in _SUPPLY.items()}


def new_document(name: str, practice: Practice) -> dict[str, Any]:
    """A document with only a brief, as plain data."""
    nominal, working = _SUPPLY[practice]
    brief = Brief(name, practice, supply_nominal_v=nominal, supply_working_v=working)
    return dump_document(Document(FORMAT, FORMAT_NUMBER, brief))


def begun_document(name: str, practice: Practice, nominal_v: float | None = None) -> dict[str, Any]:
    """A new document with the zones that a machine of this practice has, to choose from, on a supply of so
    many V; on the practice's usual one where none is given.
    """
    begun = new_document(name, practice)
    if nominal_v is not None:
        begun["brief"]["supply_nominal_v"] = nominal_v
        begun["brief"]["supply_working_v"] = usual_working_v(practice, nominal_v)
    zones = Brief(name, practice, zones=usual_zones(practice))
    begun["brief"]["zones"] = dump_document(Document(FORMAT, FORMAT_NUMBER, zones))["brief"]["zones"]
    return begun
