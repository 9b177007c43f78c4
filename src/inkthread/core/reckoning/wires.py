"""Why a wire is what it is: gauge, ampacity, drop."""

from __future__ import annotations

from inkthread.core.measures import format_area, format_current, format_length, format_temperature, told_apart
from inkthread.core.physics.heat import EMISSIVITY, INSULATION_CONDUCTIVITY_W_PER_M_K
from inkthread.core.reckoning.form import (
    MethodFigures,
    Reckoning,
    Step,
    UnknownFigure,
    candidates_of,
    percent,
    row_of,
)
from inkthread.core.tolerances import HOLDS
from inkthread.core.wire import LIMITS
from inkthread.core.wire.ampacity import METHODS, Conditions, OutOfTable, ampacity
from inkthread.core.workings import Workings

_METHOD_WORDS = {"heat-balance": "heat balance", "aircraft": "aircraft bundle rule", "marine": "marine table"}

SHOWN_V = 0.0001
"""Volts are shown to this; less than half of it is shown as none."""


def gauge(w: Workings, key: str) -> Reckoning:
    """Why this family and gauge."""
    i = row_of(w, key)
    sized = w.wire.wires[key]
    section = w.route.sections[key]
    tables = w.wire.tables
    j, n = tables.judgement, int(tables.chosen[i])
    size, family = w.wire.size(key), w.wire.families[sized.family]
    rules = w.brief.rules
    units = w.document.brief.measures
    candidates = candidates_of(w, key)
    conclusion = w.catalogue.limit_words[sized.governs].decides
    if sized.fixed:
        conclusion = f"You fixed this gauge: {w.document.wire.fixed[key].reason or 'no reason given'}."
    elif w.wire.fewest is not None and n > 0:
        few = w.wire.fewest
        state = "proved the fewest" if few.proved else f"at least {few.bound} are needed"
        conclusion = f"One of {few.parts} wire parts for the whole harness: {state}."
    elif n > 0:
        below = candidates[n - 1]
        conclusion += f" {below.gauge} would stand at {percent(below.limits[LIMITS.index(sized.governs)])}."
    else:
        conclusion = (
            f"The smallest size {sized.family} is made in holds every limit; {sized.governs} is the fullest."
        )
    allowed = float(j.allowed_a[i, n])
    steps = [
        Step(
            "current",
            f"{_heating_words(w, i)} of {format_current(allowed)} allowed where it lies",
            percent(sized.limits[0]),
        ),
        Step("drop", f"worst loop loses {sized.drop_v:.3f} V", percent(sized.limits[1])),
        Step("fuse", _fuse_words(w, i), percent(sized.limits[2])),
        Step(
            "strength",
            f"{tables.asked.least_area_mm2[i]:.3g} mm² at least, this has {format_area(size.area_mm2)}",
            percent(sized.limits[3]),
        ),
        Step("ends", _ends_words(w, key), "fits" if sized.limits[4] <= 1 else "does not fit"),
    ]
    if family.resistance_min_ohm_per_m is not None and family.resistance_max_ohm_per_m is not None:
        low, high = next(cut.lead_ohm for cut in w.cut.cuts if cut.wire == key) or (0.0, 0.0)
        band = f"{family.resistance_min_ohm_per_m:g} to {family.resistance_max_ohm_per_m:g} Ω/m"
        steps.append(Step("resistance", f"{band}, measured from end to end", f"{low:.0f} to {high:.0f} Ω"))
    objective = w.document.wire.objective
    if objective != "least copper":
        steps.append(Step("chosen for", objective, f"{size.mass_g_per_m:.1f} g/m, {size.price_per_m:.2f} /m"))
    sources = (
        f"{sized.family}: {family.sources['area_mm2']}; {family.sources['od_mm']}",
        f"Strength: {rules['least_area_mm2'].source}",
        f"Current by {' and '.join(_METHOD_WORDS[m] for m in w.wire.tables.free.methods)}"
        + (": the lower decides" if len(w.wire.tables.free.methods) > 1 else ""),
        "Fuse held to 110 % where it lies and 135 % alone (ISO 8820-3, from memory)",
    )
    return Reckoning(
        "gauge",
        key,
        f"Why {sized.gauge}?",
        f"{sized.label}, {sized.from_text} to {sized.to_text}, "
        f"{format_length(section.length_mm, units)}, {format_current(sized.carries_a)}",
        conclusion,
        sized.governs,
        candidates,
        tuple(steps),
        sources,
        key,
    )


def _heating_words(w: Workings, i: int) -> str:
    """The current that heats a wire, told apart from what it carries where a duty sets them apart."""
    heats, sized = float(w.wire.tables.heating_a[i]), w.wire.wires[w.wire.tables.keys[i]]
    if heats >= 0.995 * sized.carries_a:
        return format_current(heats)
    return f"{format_current(sized.carries_a)} on and off, heating like {format_current(heats)} for good,"


def _fuse_words(w: Workings, i: int) -> str:
    single, total = float(w.wire.tables.asked.fuse_single_a[i]), float(w.wire.tables.asked.fuse_sum_a[i])
    if single:
        return f"behind {single:.3g} A of protection"
    if total:
        return f"shared return of fuses that come to {total:g} A"
    return (
        "no fuse in its path" if w.wire.wires[w.wire.tables.keys[i]].carries_a else "carries no load current"
    )


def _ends_words(w: Workings, key: str) -> str:
    section = w.route.sections[key]
    words = []
    for end in (section.a, section.b):
        if end.kind == "splice":
            words.append(f"splice {w.ends.splice_sizes[end.id].code}")
            continue
        contact = w.ends.contacts.get((end.id, key))
        if contact is not None:
            words.append(
                f"{end.connector}-{end.cavity} takes "
                f"{contact.conductor_min_mm2:g} to {contact.conductor_max_mm2:g} mm²"
            )
    return "; ".join(words)


def ampacity_of(w: Workings, key: str) -> Reckoning:
    """What a wire may carry where it lies, and what each method says of it."""
    i = row_of(w, key)
    sized = w.wire.wires[key]
    n = int(w.wire.tables.chosen[i])
    size, family = w.wire.size(key), w.wire.families[sized.family]
    units = w.document.brief.measures
    allowed = float(w.wire.tables.judgement.allowed_a[i, n])
    in_bundles, placement, free = w.wire.tables.in_bundles, w.wire.tables.placement, w.wire.tables.free
    worst = int(in_bundles.worst[i])
    b = int(placement.bundle[worst])
    count = int(in_bundles.counts[b])
    air_c, radiant = placement.airs[int(placement.hottest[i])]
    steps = [
        Step(
            "conductor",
            f"{format_area(size.area_mm2)}, {size.strands} strands",
            f"{size.resistance_ohm_per_km:.3g} mΩ/m at 20 °C",
        ),
        Step(
            "insulation",
            f"{size.od_mm:.2f} mm over all, {family.insulation}",
            f"to {format_temperature(family.temperature_c, units)}",
        ),
        Step(
            "air",
            f"hottest zone on its way, {w.route.sections[key].zone or 'no zone'}"
            + (f", {radiant:g} W/m² shining on it" if radiant else ""),
            format_temperature(air_c, units),
        ),
        Step(
            "alone in still air",
            "I²R = convection + radiation, through the insulation",
            format_current(float(free.by_method["heat-balance"][i, n])),
        ),
    ]
    if count > 1:
        steps.append(
            Step(
                "in its tightest bundle",
                f"{count} wires, {placement.name(w.document, b)}, core at "
                f"{format_temperature(float(in_bundles.heat.core_c[b]), units)}, the others as they are",
                format_current(float(in_bundles.by_method["heat-balance"][i, n])),
            )
        )
    steps += _through_cover(w, b)
    sources, methods = _methods(w, i, n, steps)
    steps.append(
        Step(
            "at its own current",
            f"{_heating_words(w, i)}, where it lies",
            format_temperature(sized.temperature_c, units),
        )
    )
    return Reckoning(
        "ampacity",
        key,
        f"Why {format_current(allowed)}?",
        f"{sized.label}, {sized.gauge} {sized.family} at {format_temperature(sized.ambient_c, units)}",
        f"It may carry {format_current(allowed)} where it lies; "
        f"it carries {format_current(sized.carries_a)}.",
        "current",
        (),
        tuple(steps),
        (
            *sources,
            f"Emissivity {EMISSIVITY:g}, insulation {INSULATION_CONDUCTIVITY_W_PER_M_K:g} W/(m K): typical",
            f"Resistance: {family.sources['resistance_ohm_per_km']}",
        ),
        key,
        methods=tuple(methods),
    )


def _through_cover(w: Workings, bundle: int) -> list[Step]:
    """What covers the bundle that a wire is judged in: none where nothing does."""
    rough = w.wire.tables.in_bundles.rough
    through = float(rough.bundles.sleeve_k_m_per_w[bundle])
    if through <= 0:
        return []
    over = w.wire.tables.placement.covers[bundle]
    kind = next(k for k, insulates in w.catalogue.coverings.insulates.items() if insulates == over)
    return [
        Step(
            "through its cover",
            f"{kind} over it: a gap of {over.gap_mm:g} mm and {over.wall_mm:g} mm of wall, "
            f"{w.catalogue.sources['insulates'].partition(':')[0]}",
            f"{through:.2f} K for each W/m",
        )
    ]


def _methods(w: Workings, i: int, n: int, steps: list[Step]) -> tuple[list[str], list[MethodFigures]]:
    """What each method says of a wire where it lies, as the evaluation has it; its steps are added.

    A method that does not bind under this practice is reckoned for wires all alike, and marked so.
    """
    free, in_bundles, placement = w.wire.tables.free, w.wire.tables.in_bundles, w.wire.tables.placement
    b = int(placement.bundle[int(in_bundles.worst[i])])
    size, family = w.wire.tables.size_at(i, n), w.wire.tables.family_at(i, n)
    allowed = float(w.wire.tables.judgement.allowed_a[i, n])
    conditions = Conditions(
        placement.airs[int(placement.hottest[i])][0],
        family.temperature_c,
        int(in_bundles.counts[b]),
        1.0,
        w.document.brief.altitude_m,
        engine_space="inside" if placement.engine_space[i] else "outside",
        marine_bundling=w.brief.value("marine_bundling") > 0,
    )
    sources: list[str] = []
    methods: list[MethodFigures] = []
    for method in METHODS:
        binds = method in free.methods
        words = _METHOD_WORDS[method]
        try:
            apart = ampacity(method, w.catalogue, family, size, conditions)
        except OutOfTable as error:
            steps.append(Step(words, str(error), "not known"))
            methods.append(
                MethodFigures(method, words, False, None, None, None, None, str(error), "not in its table")
            )
            continue
        allowed_a = in_bundles.by_method.get(method)
        carries = float(allowed_a[i, n]) if allowed_a is not None else apart.ampacity_a
        alone = apart.free_air_a * apart.altitude_factor
        decides = binds and carries <= allowed * HOLDS
        says = "between published points" if apart.interpolated else ""
        if allowed_a is None:
            says = "shown only; all its neighbours as loaded" if conditions.wires > 1 else "shown only"
        working = (
            f"{apart.free_air_a:.3g} A × {carries / alone if alone else 0:.2f} where it lies "
            f"× {apart.altitude_factor:.2f} for altitude"
        )
        steps.append(
            Step(
                words + (" (decides)" if decides else ""),
                working + (f", {says}" if says else ""),
                format_current(carries),
            )
        )
        sources.append(apart.source)
        methods.append(
            MethodFigures(
                method,
                words,
                decides,
                round(apart.free_air_a, 3),
                round(carries / alone, 4) if alone else None,
                round(apart.altitude_factor, 4),
                round(carries, 3),
                says,
                apart.source,
            )
        )
    return sources, methods


def drop(w: Workings, load: str) -> Reckoning:
    """The volts a load loses around its loop, section by section."""
    worst = w.wire.loops.get(load)
    if worst is None:
        raise UnknownFigure(f"Load {load!r} has no whole loop in this version.")
    index = {k: i for i, k in enumerate(w.wire.tables.keys)}
    steps = []
    for key, current_a in zip(worst.wires, w.wire.loop_drops.currents_a[load], strict=True):
        i, sized = index[key], w.wire.wires[key]
        section = w.route.sections[key]
        metres = (section.length_mm + section.slack_mm) / 1000 * float(w.wire.tables.twist[i])
        per_m = float(w.wire.tables.resistance_ohm_per_m[i, w.wire.tables.chosen[i]]) * 1000
        ends_mohm = float(w.wire.tables.termination_ohm[i]) * 1000
        steps.append(
            Step(
                sized.label,
                f"{format_current(abs(current_a))} × ({metres:.2f} m × {per_m:.2f} mΩ/m + {ends_mohm:.1f} mΩ)"
                + (", the other way" if current_a < 0 else ""),
                f"{current_a * (metres * per_m + ends_mohm):.1f} mV",
            )
        )
    loop = next(loop for loop in w.circuits.loops if loop.load == load)
    inside = [p for p in loop.paths if w.wire.tables.path_ohm.get(p)]
    if worst.devices_v > SHOWN_V / 2:
        steps.append(
            Step("fuses, switches, structure", ", ".join(inside), f"{worst.devices_v * 1000:.1f} mV")
        )
    steps.append(Step("around the loop", f"of {worst.limit_v:.3f} V allowed", f"{worst.drop_v:.3f} V"))
    steps.append(
        Step(
            "it gets",
            f"{loop.kind} of {format_current(loop.current_a)} at {loop.rated_v:g} V, "
            f"draws {format_current(worst.drawn_a)}",
            f"{worst.gets_v:.2f} V",
        )
    )
    steps.append(
        Step(
            "at the least supply", f"{loop.least_supply_v:.2f} V at the source", f"{worst.least_gets_v:.2f} V"
        )
    )
    name = w.document.circuits.devices[loop.device].name
    holds = worst.drop_v <= worst.limit_v * HOLDS
    return Reckoning(
        "drop",
        load,
        f"Why {told_apart(worst.drop_percent, worst.limit_percent)} %?",
        f"{loop.device} {name}, {format_current(loop.current_a)}",
        "The loop holds its limit." if holds else "The loop loses more than its limit.",
        "drop",
        (),
        tuple(steps),
        (
            f"Limit: {worst.limit_source}",
            f"Resistance: {w.wire.tables.family.sources['resistance_ohm_per_km']}, at working temperature",
            "Each wire at what it carries in the mode where this load loses most. Joints are contacts and "
            "splices; fuses by their part data, "
            "switches and relays where you state their resistance.",
        ),
    )
