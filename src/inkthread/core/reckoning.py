"""How a figure explains itself: rule, inputs with units, steps, source, and what governed.

Reckonings are rendered when asked for, from the rooms' own results; the evaluation keeps numbers.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from inkthread.core.catalogue import Contact, WireSize
from inkthread.core.evaluate import Workings
from inkthread.core.physics.heat import EMISSIVITY, INSULATION_CONDUCTIVITY_W_PER_M_K
from inkthread.core.quantity import format_area, format_current, format_length, format_temperature
from inkthread.core.wire import LIMITS


class UnknownFigure(LookupError):
    """There is no such figure to reckon. The message says what can be asked."""


@dataclass(frozen=True, slots=True)
class Step:
    """One line of a reckoning: what, the working, the result with its unit."""

    label: str
    working: str
    result: str


@dataclass(frozen=True, slots=True)
class Candidate:
    """One gauge that was judged: its ratios in the order of the five limits, and what fails."""

    gauge: str
    area_mm2: float
    limits: tuple[float, float, float, float, float]
    fails: tuple[str, ...]
    chosen: bool


@dataclass(frozen=True, slots=True)
class Reckoning:
    """Why a figure is what it is."""

    kind: str
    id: str
    title: str
    subject: str
    conclusion: str
    governs: str | None
    candidates: tuple[Candidate, ...]
    steps: tuple[Step, ...]
    sources: tuple[str, ...]
    wire: str | None = None
    """The wire it is about, if it is about one."""


def reckon(w: Workings, kind: str, figure: str) -> Reckoning:
    """Render one reckoning. Kinds: those of ``_MAKERS``. Raises UnknownFigure."""
    maker = _MAKERS.get(kind)
    if maker is None:
        raise UnknownFigure(f"There is no reckoning {kind!r}. Ask for one of {', '.join(_MAKERS)}.")
    return maker(w, figure)


_WORDS = {
    "current": "The current it carries decides.",
    "drop": "Voltage drop decides.",
    "fuse": "The fuse that must protect it decides.",
    "strength": "Strength decides.",
    "ends": "What the ends accept decides.",
}


def _row(w: Workings, key: str) -> int:
    if key not in w.wire.wires:
        raise UnknownFigure(f"There is no wire {key!r} in this version.")
    return w.wire.keys.index(key)


def candidates_of(w: Workings, key: str) -> tuple[Candidate, ...]:
    """Every gauge of the family judged for one wire, all other wires as chosen."""
    i = _row(w, key)
    j = w.wire.judgement
    matrix = np.stack([j.current[i], w.wire.drop_ratio[i], j.fuse[i], j.strength[i], j.ends[i]], axis=1)
    found = []
    for n, size in enumerate(w.wire.table.family.sizes):
        ratios = [float(r) if np.isfinite(r) else 99.0 for r in matrix[n]]
        fails = tuple(k for k, r in zip(LIMITS, ratios, strict=True) if r > 1 + 1e-9)
        a, b, c, d, e = (round(r, 4) for r in ratios)
        found.append(Candidate(size.gauge, size.area_mm2, (a, b, c, d, e), fails, n == int(w.wire.chosen[i])))
    return tuple(found)


def _gauge(w: Workings, key: str) -> Reckoning:
    i = _row(w, key)
    made = w.wire.wires[key]
    section = w.route.sections[key]
    j, n = w.wire.judgement, int(w.wire.chosen[i])
    size = w.wire.table.family.sizes[n]
    rules = w.brief.rules
    units = w.document.brief.units
    candidates = candidates_of(w, key)
    conclusion = _WORDS[made.governs]
    if made.fixed:
        conclusion = f"You fixed this gauge: {w.document.wire.fixed[key].reason or 'no reason given'}."
    elif n > 0:
        below = candidates[n - 1]
        conclusion += f" {below.gauge} would stand at {_percent(below.limits[LIMITS.index(made.governs)])}."
    else:
        conclusion = (
            f"The smallest size {made.family} is made in holds every limit; {made.governs} is the fullest."
        )
    allowed = float(j.allowed_a[i, n])
    steps = [
        Step(
            "current",
            f"{format_current(made.carries_a)} of {format_current(allowed)} allowed "
            f"at {format_temperature(made.ambient_c, units)}",
            _percent(made.limits[0]),
        ),
        Step("drop", f"worst loop loses {made.drop_v:.3f} V", _percent(made.limits[1])),
        Step("fuse", _fuse_words(w, i), _percent(made.limits[2])),
        Step(
            "strength",
            f"{rules['least_area_mm2'].value:g} mm² at least, this has {format_area(size.area_mm2)}",
            _percent(made.limits[3]),
        ),
        Step("ends", _ends_words(w, key), "fits" if made.limits[4] <= 1 else "does not fit"),
    ]
    sources = (
        f"{made.family}: {w.wire.table.family.sources['area_mm2']}; {w.wire.table.family.sources['od_mm']}",
        f"Strength: {rules['least_area_mm2'].source}",
        f"Bundle share {rules['bundle_share'].value:g}: {rules['bundle_share'].source}",
        "Fuse held to 110 % in company and 135 % alone (ISO 8820-3, from memory)",
    )
    return Reckoning(
        "gauge",
        key,
        f"Why {made.gauge}?",
        f"{made.label}, {made.from_text} to {made.to_text}, "
        f"{format_length(section.length_mm, units)}, {format_current(made.carries_a)}",
        conclusion,
        made.governs,
        candidates,
        tuple(steps),
        sources,
        key,
    )


def _percent(ratio: float) -> str:
    return f"{min(ratio, 99) * 100:.0f} %"


def _fuse_words(w: Workings, i: int) -> str:
    single, total = float(w.wire.fuse_single_a[i]), float(w.wire.fuse_sum_a[i])
    if single:
        return f"behind a {single:g} A fuse"
    if total:
        return f"shared return of fuses that come to {total:g} A"
    return "no fuse in its path" if w.wire.wires[w.wire.keys[i]].carries_a else "carries no load current"


def _ends_words(w: Workings, key: str) -> str:
    section = w.route.sections[key]
    words = []
    for end in (section.a, section.b):
        if end.kind == "splice":
            words.append(f"splice {w.ends.splice_sizes[end.id].code}")
            continue
        contact = w.ends.contacts.get(end.id)
        if contact is not None:
            words.append(
                f"{end.connector}-{end.cavity} takes "
                f"{contact.conductor_min_mm2:g} to {contact.conductor_max_mm2:g} mm²"
            )
    return "; ".join(words)


def _ampacity(w: Workings, key: str) -> Reckoning:
    i = _row(w, key)
    made = w.wire.wires[key]
    table, n = w.wire.table, int(w.wire.chosen[i])
    size = table.family.sizes[n]
    units = w.document.brief.units
    share = w.brief.value("bundle_share")
    allowed = float(w.wire.judgement.allowed_a[i, n])
    free = allowed / share
    steps = (
        Step(
            "conductor",
            f"{format_area(size.area_mm2)}, {size.strands} strands",
            f"{size.resistance_ohm_per_km:.3g} mΩ/m at 20 °C",
        ),
        Step(
            "insulation",
            f"{size.od_mm:.2f} mm over all, {table.family.insulation}",
            f"to {table.family.temperature_c:g} °C",
        ),
        Step(
            "air",
            f"hottest zone on its way, {w.route.sections[key].zone or 'no zone'}",
            format_temperature(made.ambient_c, units),
        ),
        Step(
            "alone in still air", "I²R = convection + radiation, through the insulation", format_current(free)
        ),
        Step("in company", f"{share:g} of {format_current(free)}", format_current(allowed)),
        Step(
            "at its own current",
            f"{format_current(made.carries_a)}, alone",
            format_temperature(made.temperature_c, units),
        ),
    )
    return Reckoning(
        "ampacity",
        key,
        f"Why {format_current(allowed)}?",
        f"{made.label}, {made.gauge} {made.family} at {format_temperature(made.ambient_c, units)}",
        f"It may carry {format_current(allowed)} in a bundle, and carries {format_current(made.carries_a)}.",
        "current",
        (),
        steps,
        (
            "Convection: Churchill and Chu 1975, horizontal cylinder, from memory",
            f"Emissivity {EMISSIVITY:g}, insulation {INSULATION_CONDUCTIVITY_W_PER_M_K:g} W/(m K): typical",
            f"Resistance: {table.family.sources['resistance_ohm_per_km']}",
            f"Share in a bundle: {w.brief.rules['bundle_share'].source}",
        ),
        key,
    )


def _drop(w: Workings, load: str) -> Reckoning:
    found = w.wire.loops.get(load)
    if found is None:
        raise UnknownFigure(f"Load {load!r} has no whole loop in this version.")
    index = {k: i for i, k in enumerate(w.wire.keys)}
    steps = []
    for key in found.wires:
        i, made = index[key], w.wire.wires[key]
        section = w.route.sections[key]
        metres = (section.length_mm + section.slack_mm) / 1000
        per_m = float(w.wire.resistance[i, w.wire.chosen[i]]) * 1000
        joints = float(w.wire.joints[i]) * 1000
        steps.append(
            Step(
                made.label,
                f"{format_current(made.carries_a)} × ({metres:.2f} m × {per_m:.2f} mΩ/m + {joints:.1f} mΩ)",
                f"{made.loss_v * 1000:.0f} mV",
            )
        )
    steps.append(Step("around the loop", f"of {found.limit_v:.3f} V allowed", f"{found.drop_v:.3f} V"))
    x = w.document.circuits.loads[load]
    name = w.document.circuits.devices[x.device].name
    holds = found.drop_v <= found.limit_v * (1 + 1e-9)
    return Reckoning(
        "drop",
        load,
        f"Why {found.drop_percent:.1f} %?",
        f"{x.device} {name}, {format_current(x.current_a)}, {x.service}",
        "The loop holds its limit." if holds else "The loop loses more than its limit.",
        "drop",
        (),
        tuple(steps),
        (
            f"Limit: {found.limit_source}",
            f"Resistance: {w.wire.table.family.sources['resistance_ohm_per_km']}, at working temperature",
            "Each wire at its own current. Joints are contacts and splices; fuses and switches are not "
            "counted: no data.",
        ),
    )


def _cut(w: Workings, key: str) -> Reckoning:
    _row(w, key)
    piece = next(c for c in w.cut.cuts if c.wire == key)
    section = w.route.sections[key]
    units = w.document.brief.units
    rules = w.brief.rules

    def mm(value: float) -> str:
        return format_length(value, units)

    steps = [
        Step(b, f"{w.document.route.branches[b].measured}", mm(w.document.route.branches[b].length_mm))
        for b in section.branches
    ]
    along = sum(w.document.route.branches[b].length_mm for b in section.branches)
    if abs(along - section.length_mm) > 0.05:
        steps.append(Step("splice", "set clear of the connector", mm(section.length_mm - along)))
    steps += [
        Step("slack", f"{max(len(section.branches), 1)} branches", mm(piece.slack_mm)),
        Step("finished", "route + slack", mm(piece.finished_mm)),
        Step("allowance", piece.from_text, mm(piece.allowance_a_mm)),
        Step("allowance", piece.to_text, mm(piece.allowance_b_mm)),
        Step("cut", f"rounded up to {mm(rules['cut_step_mm'].value or 0)}", mm(piece.cut_mm)),
    ]
    return Reckoning(
        "cut",
        key,
        f"Why {mm(piece.cut_mm)}?",
        f"{piece.label}, {piece.from_text} to {piece.to_text}",
        "The route, its slack, and what each end takes up, rounded up.",
        None,
        (),
        tuple(steps),
        (
            f"Slack: {rules['slack_per_branch_mm'].source}",
            f"Rounding: {rules['cut_step_mm'].source}",
            "Allowances: data of each contact and splice",
        ),
        key,
    )


def _fuse(w: Workings, key: str) -> Reckoning:
    fuse = w.circuits.fuses.get(key)
    if fuse is None:
        raise UnknownFigure(f"There is no fuse {key!r} in this version.")
    share = w.brief.value("fuse_load_share_percent")
    loads = [x for x in w.circuits.loops if key in x.fuses]
    steps = [
        Step(
            w.document.circuits.loads[x.load].device,
            w.document.circuits.devices[w.document.circuits.loads[x.load].device].name,
            format_current(x.current_a),
        )
        for x in loads
    ]
    steps += [
        Step("together", "all at once", format_current(fuse.load_a)),
        Step("at least", f"load / {share:g} %", format_current(fuse.load_a / share * 100)),
        Step("made", "next rating up" if not fuse.fixed else "fixed by you", f"{fuse.rating_a:g} A"),
    ]
    return Reckoning(
        "fuse",
        key,
        f"Why {fuse.rating_a:g} A?",
        f"{fuse.device} {fuse.name}",
        "You fixed this rating."
        if fuse.fixed
        else f"The smallest made that its load keeps below {share:g} %.",
        None,
        (),
        tuple(steps),
        (w.brief.rules["fuse_load_share_percent"].source, "Ratings: ISO 8820-3, from memory"),
    )


def _hold(contact: Contact, size: WireSize) -> str:
    """Whether a contact holds a wire, in a word or two."""
    if size.area_mm2 > contact.conductor_max_mm2:
        return "too small"
    if size.area_mm2 < contact.conductor_min_mm2:
        return "too large"
    if not contact.insulation_min_mm <= size.od_mm <= contact.insulation_max_mm:
        return "wings do not fit"
    return "would do"


def _contact(w: Workings, ref: str) -> Reckoning:
    contact = w.ends.contacts.get(ref)
    entry = w.document.ends.pinout.get(ref)
    if contact is None or entry is None:
        raise UnknownFigure(f"There is no contact for {ref!r} in this version.")
    connector = w.document.ends.connectors[entry.connector]
    family = w.catalogue.connectors[connector.family]
    cavity = next(c for c in w.evaluation.ends.connectors[entry.connector].cavities if c.pin == ref)
    made = w.wire.wires[cavity.wire or ""]
    size = w.wire.table.size_of[made.gauge]
    steps = []
    for c in family.contacts:
        if c.gender != contact.gender or c.stud != contact.stud:
            continue
        ranges = (
            f"{c.conductor_min_mm2:g} to {c.conductor_max_mm2:g} mm², "
            f"over insulation {c.insulation_min_mm:g} to {c.insulation_max_mm:g} mm"
        )
        held = _hold(c, size)
        taken = "taken" if held == "would do" else f"taken, {held}"
        steps.append(Step(c.code, ranges, taken if c.code == contact.code else held))
    steps.append(
        Step("the wire", f"{made.gauge} {made.family}", f"{size.area_mm2:.2f} mm², {size.od_mm:.2f} mm")
    )
    seal = w.ends.seals.get(ref)
    if seal is not None:
        steps.append(
            Step(
                seal.code,
                f"seals {seal.od_min_mm:g} to {seal.od_max_mm:g} mm",
                f"{size.od_min_mm:.2f} to {size.od_max_mm:.2f} mm",
            )
        )
    steps.append(
        Step("current", f"good for {format_current(cavity.contact_a)}", format_current(made.carries_a))
    )
    return Reckoning(
        "contact",
        ref,
        f"Why {contact.code}?",
        f"{entry.connector}-{entry.cavity}, {contact.description}",
        "The narrowest contact of its family that holds this wire."
        if cavity.fits
        else "Nothing in its family holds this wire; this one misses by least.",
        "ends",
        (),
        tuple(steps),
        (
            f"Conductor range: {family.sources['conductor_min_mm2']}",
            f"Insulation range: {family.sources['insulation_min_mm']}",
            f"Current: {family.sources['current_by_area']}",
            f"Strip: {family.sources['strip_mm']}",
        ),
        made.key,
    )


def _bill(w: Workings, figure: str) -> Reckoning:
    line = next((x for x in w.parts.lines if f"{x.group} {x.code} {x.colour}" == figure), None)
    if line is None:
        raise UnknownFigure(f"There is no bill line {figure!r} in this version.")
    each = w.document.brief.quantity
    units = w.document.brief.units
    steps: list[Step] = []
    if line.group == "wire":
        steps += [
            Step(c.label, f"{c.from_text} to {c.to_text}", format_length(c.cut_mm, units))
            for c in w.cut.cuts
            if c.part == line.code and c.colour == line.colour
        ]
        need = f"{line.quantity:.2f} m"
    else:
        steps.append(Step("used at", line.used_at, f"{line.quantity / each:g}"))
        need = f"{line.quantity:g}"
    steps.append(Step("harnesses", "as the brief says", str(each)))
    steps.append(Step("need", line.description, need))
    steps.append(Step("mass", "part data", f"{line.mass_g:.1f} g"))
    included = "It comes with the housing: nothing to buy." if line.included else "Bought apart."
    return Reckoning(
        "bill",
        figure,
        f"Why {need}?",
        f"{line.code} {line.colour}".strip(),
        included,
        None,
        (),
        tuple(steps),
        (
            "Counts: what the ends use, as worked out in Ends and Cut",
            "Masses and prices: part data, invented",
        ),
    )


def _mass(w: Workings, figure: str) -> Reckoning:
    if figure != "harness":
        raise UnknownFigure(f"There is no mass of {figure!r}. Ask for the mass of 'harness'.")
    each = w.document.brief.quantity
    groups: dict[str, float] = {}
    for line in w.parts.lines:
        groups[line.group] = groups.get(line.group, 0.0) + line.mass_g / each
    steps = [
        Step(name, f"{grams / w.parts.mass_each_g * 100:.0f} % of it", f"{grams:.1f} g")
        for name, grams in sorted(groups.items(), key=lambda kv: -kv[1])
        if grams > 0
    ]
    steps.append(Step("one harness", "without coverings and labels", f"{w.parts.mass_each_g:.0f} g"))
    return Reckoning(
        "mass",
        figure,
        f"Why {w.parts.mass_each_g:.0f} g?",
        f"one harness of {w.evaluation.tally.wires} wires",
        "Every part's mass, wires by their cut length.",
        None,
        (),
        tuple(steps),
        (
            f"Wire: {w.wire.table.family.sources['mass_g_per_m']}",
            "Other parts: part data, invented, typical of their kind",
        ),
    )


_MAKERS: dict[str, Callable[[Workings, str], Reckoning]] = {
    "gauge": _gauge,
    "drop": _drop,
    "ampacity": _ampacity,
    "cut": _cut,
    "fuse": _fuse,
    "contact": _contact,
    "bill": _bill,
    "mass": _mass,
}
