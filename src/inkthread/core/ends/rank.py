"""Which family for a connector: every one tried on all its wires, ranked by fit, place, tools and cost."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass
from typing import Literal

from inkthread.core.catalogue import CLASSES, Catalogue, ConnectorFamily, Housing, WireSize
from inkthread.core.catalogue.ends import Protection
from inkthread.core.document.types import Document
from inkthread.core.document.values import Gender, Shell
from inkthread.core.ends.checks import class_wanted, zones_at
from inkthread.core.ends.fit import choose_contact, choose_seal, ranges_in_words
from inkthread.core.ends.fitted import heats_with
from inkthread.core.quantity import format_temperature
from inkthread.core.route import RouteResult
from inkthread.core.shop import Shop
from inkthread.core.wire import WireResult

Grade = Literal["good", "better", "best"]
_ALWAYS_LOOSE = ("terminal", "ignition", "flying lead", "coax", "fuse and relay")
_MARGIN_K = 25.0
_SHARE = 0.7
_FEW_WAYS = 4
"""A device of so few ways seldom gets another wire later."""


@dataclass(frozen=True, slots=True)
class FamilyChoice:
    """A family that takes every wire: its housing, its cost, how good it is and why."""

    family: str
    name: str
    ways: int
    spare: int
    shell: Shell
    contact_gender: Gender
    parts_cost: float
    """For one connector."""
    tooling_cost: float
    """Tools that are not owned, once."""
    total_each: float
    """Parts, and tooling shared out over the harnesses made."""
    grade: Grade
    why: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class Ranking:
    """Families that would do, best first, and those that would not, each with its reason."""

    wires: int
    choices: tuple[FamilyChoice, ...]
    rejected: tuple[tuple[str, str], ...]


@dataclass(frozen=True, slots=True)
class _Asked:
    """What a connector must hold: its wires with their currents, its place, the harnesses made."""

    wires: list[tuple[str, WireSize, float]]
    ways: int
    shell: Shell
    gender: Gender
    ambient_c: float
    needs_class: Protection
    shaking: bool
    volts: float
    quantity: int


def rank_families(
    document: Document,
    catalogue: Catalogue,
    route: RouteResult,
    wire: WireResult,
    connector_id: str,
    shop: Shop,
) -> Ranking:
    """Rank the families for a connector of a harness. Raises KeyError for no such connector."""
    connector = document.ends.connectors[connector_id]
    refs = [r for r, e in document.ends.pinout.items() if e.connector == connector_id]
    held = set(refs)
    wires = [
        (key, wire.size(key), heats_with(wire, key))
        for key, ends in wire.ends_of.items()
        for ref in ends
        if ref in held
    ]
    zones = zones_at(document, route, connector.point)
    needs: Protection = "open"
    for z in zones:
        wanted = class_wanted(z)
        if wanted is not None:
            needs = max(needs, wanted[0], key=CLASSES.index)
    asked = _Asked(
        wires,
        max(len(held), 1),
        connector.shell if connector.shell != "none" else "plug",
        connector.contact_gender,
        route.point_airs[connector.point].ambient_c if connector.point in route.point_airs else -273.0,
        needs,
        any(z.vibration for z in zones),
        max(document.brief.supply_nominal_v, document.brief.supply_working_v),
        document.brief.quantity,
    )
    return rank(catalogue, asked, shop, document.brief.units == "inch")


def rank(catalogue: Catalogue, asked: _Asked, shop: Shop, inch: bool = False) -> Ranking:
    """Try every family that has a housing; loose terminals are not in question here."""
    choices: list[FamilyChoice] = []
    rejected: list[tuple[str, str]] = []
    for family in catalogue.connectors.values():
        if family.loose or family.group in _ALWAYS_LOOSE:
            continue
        tried = _try(catalogue, family, asked, shop, inch)
        if isinstance(tried, str):
            rejected.append((family.code, tried))
        else:
            choices.append(tried)
    order = {"best": 0, "better": 1, "good": 2}
    choices.sort(key=lambda c: (order[c.grade], c.total_each, c.family))
    return Ranking(len(asked.wires), tuple(choices), tuple(rejected))


def _try(
    catalogue: Catalogue, family: ConnectorFamily, asked: _Asked, shop: Shop, inch: bool
) -> FamilyChoice | str:
    housing = min((h for h in family.housings if h.ways >= asked.ways), key=lambda h: h.ways, default=None)
    if housing is None:
        return f"is made with {max((h.ways for h in family.housings), default=0)} ways at most"
    units: Literal["metric", "inch"] = "inch" if inch else "metric"
    if asked.ambient_c >= family.temperature_c:
        return f"stands {format_temperature(family.temperature_c, units)}"
    if family.voltage_v < asked.volts:
        return f"is rated for {family.voltage_v:g} V"
    if CLASSES.index(family.protection) < CLASSES.index(asked.needs_class):
        has = family.protection if family.protection != "open" else "open"
        return f"is {has}, the place wants {asked.needs_class}"
    if asked.shaking and set(family.locks) <= {"friction"} and not family.genderless:
        return "holds by friction only, and it shakes here"
    shell = asked.shell if asked.shell in housing.shells or not housing.shells else next(iter(housing.shells))
    rule = family.gender_for(shell)
    gender: Gender = "pin" if rule == "pin" else "socket" if rule == "socket" else asked.gender
    return _fitted(
        catalogue, family, housing, "receptacle" if shell == "receptacle" else "plug", gender, asked, shop
    )


def _fitted(
    catalogue: Catalogue,
    family: ConnectorFamily,
    housing: Housing,
    shell: Shell,
    gender: Gender,
    asked: _Asked,
    shop: Shop,
) -> FamilyChoice | str:
    share = family.current_share(family.loaded_ways(a for _, _, a in asked.wires), asked.ambient_c)
    found: dict[WireSize, tuple[float, float, str | None] | str] = {}
    cost, tools, worst = 0.0, set[str](), 0.0
    for _, size, amps in asked.wires:
        if size not in found:
            found[size] = _end(family, gender, size, shop.tools)
        end = found[size]
        if isinstance(end, str):
            return end
        price, carries, tool = end
        if amps > carries * share * 1.0005:
            return f"its contacts carry {carries * share:.3g} A on {size.gauge}, {amps:.3g} A is wanted"
        worst = max(worst, amps / max(carries * share, 1e-9))
        cost += price
        if tool is not None:
            tools.add(tool)
    spare = housing.ways - asked.ways
    for part in (housing.shells.get(shell), housing.locks.get(shell)):
        cost += part.price if part is not None and not part.included else 0.0
    cost += spare * (family.plug.price if family.plug else 0.0)
    cost += sum(
        a.price for a in family.accessories if a.required and not a.included and a.fits(housing.ways, shell)
    )
    tooling = sum(catalogue.tools[t].price for t in tools if t in catalogue.tools and t not in shop.tools)
    why, margins = _margins(family, asked, spare, worst)
    grade: Grade = "best" if margins == 4 else "better" if margins >= 2 else "good"
    if tooling:
        missing = sorted(t for t in tools if t not in shop.tools)
        why.append(f"needs {', '.join(missing)}, {tooling:g} to buy")
    elif tools:
        why.append("its tools are owned")
    return FamilyChoice(
        family.code, family.name, housing.ways, spare, shell, gender,
        round(cost, 2), round(tooling, 2), round(cost + tooling / asked.quantity, 2), grade, tuple(why),
    )  # fmt: skip


def _end(
    family: ConnectorFamily, gender: Gender, size: WireSize, owned: Collection[str]
) -> tuple[float, float, str | None] | str:
    """Price, amperes and tool of one end, or why it does not fit."""
    contact, fits = choose_contact(family, gender, None, size, None, owned)
    if contact is None:
        return f"has no {gender} contacts"
    if not fits:
        if contact.conductor_miss(size.area_mm2).worst > 1:
            takes = ranges_in_words(family.contacts_for(gender, family.usual_stud), size)
            return f"takes {takes}, {size.gauge} has {size.area_mm2:.2f} mm²"
        window = f"{contact.insulation_min_mm:g} to {contact.insulation_max_mm:g} mm"
        return f"grips {window} over insulation, {size.gauge} has {size.od_mm:.2f}"
    seal, sealed = choose_seal(family, size)
    if not sealed:
        low, high = min(s.od_min_mm for s in family.seals), max(s.od_max_mm for s in family.seals)
        return f"seals {low:g} to {high:g} mm, {size.gauge} has {size.od_min_mm:.2f} to {size.od_max_mm:.2f}"
    row = contact.tool_row(size.area_mm2)
    price = contact.price + (seal.price if seal is not None and not seal.included else 0.0)
    return price, contact.current_a(size.area_mm2), row.tool if row is not None else None


def _margins(family: ConnectorFamily, asked: _Asked, spare: int, worst: float) -> tuple[list[str], int]:
    """What a family has to spare: heat, current, a way, a second lock. Each counts one."""
    why: list[str] = []
    count = 0
    if family.temperature_c - asked.ambient_c >= _MARGIN_K:
        count += 1
        why.append(f"{family.temperature_c - asked.ambient_c:.0f} K to spare")
    if worst <= _SHARE:
        count += 1
        if worst > 0:
            why.append(f"its contacts at {worst * 100:.0f} % at most")
    if spare == 0 and asked.ways <= _FEW_WAYS:
        count += 1
        why.append("just the ways that are wanted")
    elif spare > 0:
        count += 1
        why.append(f"{spare} way{'s' if spare > 1 else ''} left")
    else:
        why.append("no way left")
    if {"coupling ring", "lever", "screws"} & set(family.locks) or len(set(family.locks) - {"friction"}) > 1:
        count += 1
        why.append("locked twice over" if len(family.locks) > 1 else f"locked by its {family.locks[0]}")
    return why, count
