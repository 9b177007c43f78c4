"""Which family for a connector: every one tried on all its wires, each in the gauge it would get with it."""

from __future__ import annotations

from collections.abc import Collection
from typing import Literal

import numpy as np

from inkthread.core.catalogue import CLASSES, Catalogue, ConnectorFamily, Housing, WireSize
from inkthread.core.catalogue.ends import Protection
from inkthread.core.context import Context
from inkthread.core.document.types import Document
from inkthread.core.document.values import Gender, Shell
from inkthread.core.ends.fit import BY_TOOL, ContactRule, choose_contact, choose_seal, ranges_in_words
from inkthread.core.ends.fitted import heats_with
from inkthread.core.ends.surroundings import class_wanted, zones_at
from inkthread.core.measures import METRIC, Measures, format_temperature
from inkthread.core.record import record
from inkthread.core.route import RouteResult
from inkthread.core.shop import Shop
from inkthread.core.tolerances import NOUGHT, SAID_OVER
from inkthread.core.wire import WireResult
from inkthread.core.wire.limits import end_fit

Grade = Literal["good", "better", "best"]
_NEVER = ("ignition", "flying lead", "coax", "fuse and relay")
"""Ends that are what their device or lead has, and no choice."""
_MARGIN_K = 25.0
"""Kelvin between a family's rating and its place that count as ample (common practice, no source)."""
_SHARE = 0.7
"""Of a contact's current, what is good to stay under (common practice, no source)."""
_FEW_WAYS = 4
"""A device of so few ways seldom gets another wire later."""


@record
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
    gauges: tuple[str, ...]
    """Gauges that its wires would have with it, thinnest first."""


@record
class Ranking:
    """Families that would do, best first, and those that would not, each with its reason."""

    wires: int
    choices: tuple[FamilyChoice, ...]
    rejected: tuple[tuple[str, str], ...]


@record
class _Asked:
    """What a connector must hold: its wires with their currents, its place, the harnesses made."""

    wires: list[_WireSizes]
    ways: int
    shell: Shell
    gender: Gender
    ambient_c: float
    needs_class: Protection
    shaking: bool
    volts: float
    quantity: int


@record
class _WireSizes:
    """A wire of the connector and the sizes it may have, thinnest first."""

    key: str
    current_a: float
    now: WireSize
    sizes: tuple[WireSize, ...]
    ratios: tuple[float, ...]
    """The fullest of current, fuse, strength and drop at each size, and of its other end; it holds to 1."""
    drop_ratios: tuple[float, ...]
    full_per_ohm: float
    """What a further ohm at this end adds to the drop over its limit."""
    contact_ohm: float
    """Of the family that is there now."""


def _sizes_of(
    document: Document,
    catalogue: Catalogue,
    route: RouteResult,
    wire: WireResult,
    key: str,
    connector_id: str,
) -> _WireSizes:
    i = wire.tables.at[key]
    judgement, chain = wire.tables.judgement, wire.tables.free.chains
    count = int(chain.length[i])
    table = wire.tables.free.table
    sizes = tuple(table.sizes[int(c)] for c in chain.index[i, :count])
    full = np.maximum(np.maximum(judgement.current[i], judgement.fuse[i]), judgement.strength[i])[:count]
    section = route.sections[key]
    for end in (section.a, section.b):
        other = document.ends.connectors.get(end.connector or "")
        if other is None or end.connector == connector_id:
            continue
        fixed = document.ends.pinout[end.id].contact
        fit = end_fit(sizes, catalogue.connectors[other.family], other.contact_gender, other.stud, fixed)
        full = np.maximum(full, np.where(fit.ratio > 1, 99.0, 0.0))
    # Wires of one loop that end here change together: each saves as much as the others.
    mine = [loop for loop in wire.loops.values() if key in loop.wires and loop.limit_v > 0]
    ends_here = {r for r, e in document.ends.pinout.items() if e.connector == connector_id}
    many = max((sum(bool(ends_here & set(wire.ends_of[k])) for k in loop.wires) for loop in mine), default=1)
    now = float(wire.tables.drop_ratio[i, int(wire.tables.chosen[i])])
    drop = now - max(many, 1) * (now - wire.tables.drop_ratio[i, :count])
    per_ohm = max((many * loop.drawn_a / loop.limit_v for loop in mine), default=0.0)
    connector = document.ends.connectors[connector_id]
    if key in document.wire.fixed and document.wire.fixed[key].gauge is not None:
        sizes, full, drop = (wire.size(key),), full[:1] * 0.0, drop[:1] * 0.0
    return _WireSizes(
        key,
        heats_with(wire, key),
        wire.size(key),
        sizes,
        tuple(full.tolist()),
        tuple(drop.tolist()),
        per_ohm,
        catalogue.connectors[connector.family].contact_resistance_mohm / 1000,
    )


def rank_families(context: Context, route: RouteResult, wire: WireResult, connector_id: str) -> Ranking:
    """Rank the families for a connector of a harness. Raises KeyError for no such connector."""
    document, catalogue = context.document, context.catalogue
    connector = document.ends.connectors[connector_id]
    refs = [r for r, e in document.ends.pinout.items() if e.connector == connector_id]
    pins = set(refs)
    wires = [
        _sizes_of(document, catalogue, route, wire, key, connector_id)
        for key, ends in wire.ends_of.items()
        for ref in ends
        if ref in pins
    ]
    zones = zones_at(document, connector.point)
    needs: Protection = "open"
    for z in zones:
        wanted = class_wanted(z)
        if wanted is not None:
            needs = max(needs, wanted[0], key=CLASSES.index)
    airs = context.brief.point_airs
    asked = _Asked(
        wires,
        max(len(pins), 1),
        connector.shell if connector.shell != "none" else "plug",
        connector.contact_gender,
        airs[connector.point].ambient_c if connector.point in airs else -273.0,
        needs,
        any(z.vibration for z in zones),
        max(document.brief.supply_nominal_v, document.brief.supply_working_v),
        document.brief.quantity,
    )
    return rank(catalogue, asked, context.shop, document.brief.measures)


def rank(catalogue: Catalogue, asked: _Asked, shop: Shop, units: Measures = METRIC) -> Ranking:
    """Try every family, terminals too. Of one grade the ones without many ways too many come first."""
    choices: list[FamilyChoice] = []
    rejected: list[tuple[str, str]] = []
    for family in catalogue.connectors.values():
        if family.group in _NEVER:
            continue
        tried = _try(catalogue, family, asked, shop, units)
        if isinstance(tried, str):
            rejected.append((family.code, tried))
        else:
            choices.append(tried)
    order = {"best": 0, "better": 1, "good": 2}
    roomy = max(_FEW_WAYS, asked.ways)
    choices.sort(key=lambda c: (c.spare > roomy, order[c.grade], c.total_each, c.family))
    return Ranking(len(asked.wires), tuple(choices), tuple(rejected))


def _try(
    catalogue: Catalogue, family: ConnectorFamily, asked: _Asked, shop: Shop, units: Measures
) -> FamilyChoice | str:
    housing = min((h for h in family.housings if h.ways >= asked.ways), key=lambda h: h.ways, default=None)
    if housing is None:
        return f"is made with {max((h.ways for h in family.housings), default=0)} ways at most"
    if asked.ambient_c >= family.temperature_c:
        return f"stands {format_temperature(family.temperature_c, units)}"
    if family.voltage_v < asked.volts:
        return f"is rated for {family.voltage_v:g} V"
    # A ring under its nut, greased or painted, is the custom in the wet; nothing else open is.
    customary = bool(family.studs) and asked.needs_class == "IP54"
    if CLASSES.index(family.protection) < CLASSES.index(asked.needs_class) and not customary:
        has = family.protection if family.protection != "open" else "open"
        return f"is {has}, the place wants {asked.needs_class}"
    on_studs = family.loose and family.studs
    if asked.shaking and set(family.locks) <= {"friction"} and not family.genderless and not on_studs:
        return "holds by friction only, and it shakes here"
    shell = asked.shell if asked.shell in housing.shells or not housing.shells else next(iter(housing.shells))
    rule = family.gender_for(shell)
    gender: Gender = "pin" if rule == "pin" else "socket" if rule == "socket" else asked.gender
    half: Shell = "none" if family.loose else "receptacle" if shell == "receptacle" else "plug"
    return _fitted(catalogue, family, housing, half, gender, asked, shop)


def _fitted(
    catalogue: Catalogue,
    family: ConnectorFamily,
    housing: Housing,
    shell: Shell,
    gender: Gender,
    asked: _Asked,
    shop: Shop,
) -> FamilyChoice | str:
    share = family.current_share(family.loaded_ways(w.current_a for w in asked.wires), asked.ambient_c)
    cost, tools, worst = 0.0, set[str](), 0.0
    gauges: dict[str, float] = {}
    known: dict[WireSize, tuple[float, float, str | None] | str] = {}
    for wire in asked.wires:
        gauge = _gauge_with(family, gender, wire, share, shop.tools, known)
        if isinstance(gauge, str):
            return gauge
        size, price, carries, tool = gauge
        worst = max(worst, wire.current_a / max(carries * share, NOUGHT))
        cost += price
        gauges[size.gauge] = size.area_mm2
        if tool is not None:
            tools.add(tool)
    spare = housing.ways - asked.ways
    for part in (housing.shells.get(shell), housing.locks.get(shell)):
        cost += part.price if part is not None and not part.included else 0.0
    cost += spare * (family.cavity_plug.price if family.cavity_plug else 0.0)
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
        tuple(sorted(gauges, key=lambda g: gauges[g])),
    )  # fmt: skip


def _gauge_with(
    family: ConnectorFamily,
    gender: Gender,
    wire: _WireSizes,
    share: float,
    owned: Collection[str],
    known: dict[WireSize, tuple[float, float, str | None] | str],
) -> tuple[WireSize, float, float, str | None] | str:
    """The size that a wire would have with a family, and its end's price, amperes and tool; or why none will
    do. With its own contact resistance, and only sizes that hold every limit.
    """
    added = (family.contact_resistance_mohm / 1000 - wire.contact_ohm) * wire.full_per_ohm
    refused = ""
    able = False
    for size, full, drop in zip(wire.sizes, wire.ratios, wire.drop_ratios, strict=True):
        if full > SAID_OVER or drop + added > SAID_OVER:
            continue
        able = True
        if size not in known:
            known[size] = _end(family, gender, size, owned)
        end = known[size]
        if isinstance(end, str):
            refused = refused or end
            continue
        price, carries, tool = end
        if wire.current_a > carries * share * SAID_OVER:
            wanted = f"{wire.current_a:.3g} A is wanted"
            refused = refused or f"its contacts carry {carries * share:.3g} A on {size.gauge}, {wanted}"
            continue
        return size, price, carries, tool
    if able:
        return refused
    # Nothing holds whatever the end: judge it on the wire as it is.
    end = _end(family, gender, wire.now, owned)
    if isinstance(end, str):
        return end
    price, carries, tool = end
    if wire.current_a > carries * share * SAID_OVER:
        wanted = f"{wire.current_a:.3g} A is wanted"
        return f"its contacts carry {carries * share:.3g} A on {wire.now.gauge}, {wanted}"
    return wire.now, price, carries, tool


def _end(
    family: ConnectorFamily, gender: Gender, size: WireSize, owned: Collection[str]
) -> tuple[float, float, str | None] | str:
    """Price, amperes and tool of one end, or why it does not fit."""
    contact, fits = choose_contact(family, gender, None, size, None, ContactRule(BY_TOOL, frozenset(owned)))
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
