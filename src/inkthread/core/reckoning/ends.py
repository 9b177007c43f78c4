"""Why an end, a cut, a line of the bill, the mass are what they are."""

from __future__ import annotations

from collections.abc import Callable

from inkthread.core.catalogue import Contact, WireSize
from inkthread.core.cut import Cut, alone_mm, rounding_of
from inkthread.core.cut.ends import EndCut
from inkthread.core.measures import bought_m, format_current, format_length, format_mass
from inkthread.core.reckoning.form import Reckoning, Step, UnknownFigure, row_of
from inkthread.core.route import Section
from inkthread.core.workings import Workings

SHOWN_MM = 0.05
"""Lengths nearer than this are one."""


def _along(w: Workings, section: Section, piece: Cut, mm: Callable[[float], str]) -> list[Step]:
    """The finished length, term by term."""
    document = w.document
    steps = [
        Step(b, f"{document.route.branches[b].measured}", mm(document.route.branches[b].length_mm))
        for b in section.branches
    ]
    along = sum(document.route.branches[b].length_mm for b in section.branches)
    if abs(along - section.length_mm) > SHOWN_MM:
        steps.append(Step("splice", "set clear of the connector", mm(section.length_mm - along)))
    ends = [piece.a.service_mm, piece.b.service_mm]
    steps.append(
        Step(
            "slack",
            f"{max(len(section.branches), 1)} branches, and what is kept at points",
            mm(piece.slack_mm - sum(ends)),
        )
    )
    for text, service in zip((piece.from_text, piece.to_text), ends, strict=True):
        if service:
            again = f"{w.brief.rules['reterminations'].value:g} times"
            steps.append(Step("service", f"{text}: can be made again {again}", mm(service)))
    if piece.lay_mm > 0:
        rings = any(b in w.dress.lays for b in section.branches)
        steps.append(Step("lay", "helix of its ring" if rings else "outside of bends", mm(piece.lay_mm)))
    if piece.twist_mm > 0:
        factor = w.wire.tables.twist[w.wire.tables.at[piece.wire]]
        steps.append(Step("twist", f"× {factor:.4f}, a helix", mm(piece.twist_mm)))
    words = " + ".join(
        ["route", "slack", *(["lay"] if piece.lay_mm else []), *(["twist"] if piece.twist_mm else [])]
    )
    steps.append(Step("finished", words, mm(piece.finished_mm)))
    return steps


def _at_end(text: str, end: EndCut, mm: Callable[[float], str]) -> list[Step]:
    """What one end adds."""
    known = "" if end.allowance_mm is not None else ": nothing says how much"
    steps = [Step("allowance", f"{text}{known}", mm(end.allowance_mm or 0.0))]
    if end.surplus_mm:
        steps.append(Step("left long", f"{text}: {end.left_long}", mm(end.surplus_mm)))
    return steps


def _besides(piece: Cut, mm: Callable[[float], str]) -> str:
    """What is known of a length beside what it is made of."""
    said = f"Known to ± {mm(piece.unsure_mm)} by how its way was measured."
    for text, end in ((piece.from_text, piece.a), (piece.to_text, piece.b)):
        if end.remakes is not None:
            times = {0: "not once", 1: "once", 2: "twice"}.get(end.remakes, f"{end.remakes} times")
            said += f" {text} can be made again {times}."
        if end.trim_mm:
            said += f" {text} is trimmed by {mm(end.trim_mm)}, beside a core that is folded back."
    return said


def cut(w: Workings, key: str) -> Reckoning:
    """Length of a piece to cut, branch by branch."""
    row_of(w, key)
    piece = next(c for c in w.cut.cuts if c.wire == key)
    section = w.route.sections[key]
    units = w.document.brief.measures
    rules = w.brief.rules

    def mm(value: float) -> str:
        return format_length(value, units)

    steps = [
        *_along(w, section, piece, mm),
        *_at_end(piece.from_text, piece.a, mm),
        *_at_end(piece.to_text, piece.b, mm),
    ]
    step, rounding = rounding_of(w.context)
    alone = alone_mm(w.context, piece)
    way = "up to" if rounding == "up" else "to the nearest"
    steps.append(Step("cut", f"rounded {way} {mm(step)}", mm(alone)))
    if piece.cable and abs(alone - piece.cut_mm) > SHOWN_MM:
        # Every core of a cable is as long as the one that needs most.
        longest = next(c for c in w.cut.cables if c.id == piece.cable)
        by_wire = {c.wire: c for c in w.cut.cuts}
        first = max(longest.wires, key=lambda k: alone_mm(w.context, by_wire[k]))
        steps.append(
            Step(
                "cable", f"{piece.cable} in one piece, as {w.wire.wires[first].label} needs", mm(piece.cut_mm)
            )
        )
    return Reckoning(
        "cut",
        key,
        f"Why {mm(piece.cut_mm)}?",
        f"{piece.label}, {piece.from_text} to {piece.to_text}",
        f"The route, its slack, and what each end takes up, rounded. {_besides(piece, mm)}",
        None,
        (),
        tuple(steps),
        (
            f"Slack: {rules['slack_per_branch_mm'].source}",
            *([f"Lay: {rules['lay_factor'].source}; helix: geometry"] if piece.lay_mm else []),
            f"Rounding: {rules['cut_step_mm'].source}",
            f"Made again: {rules['reterminations'].source}",
            "± root of the sum of squares of what each branch may be off by",
            "Allowances: data of each contact and splice",
        ),
        key,
    )


def _hold(contact: Contact, size: WireSize) -> str:
    """Whether a contact holds a wire, in a word or two."""
    copper = contact.conductor_miss(size.area_mm2)
    if copper.above > 1:
        return "too small"
    if copper.below > 1:
        return "too large"
    if contact.insulation_miss(size.od_mm).worst > 1:
        return "wings do not fit"
    return "would do"


def _chosen_by(w: Workings) -> str:
    """How the house chooses among contacts that hold a wire, in words."""
    view = w.catalogue.rules["contact_kind"].choice(w.brief.value("contact_kind"))
    return (
        f"Of the contacts that hold this wire, chosen {view.label if view else ''}; of equals the narrowest."
    )


def contact_of(w: Workings, figure: str) -> Reckoning:
    """The contact on one end of a wire: ``pin wire``, or ``pin`` for the first wire there."""
    ref, _, key = figure.partition(" ")
    key = key or next((k for pin, k in w.ends.contacts if pin == ref), "")
    contact = w.ends.contacts.get((ref, key))
    entry = w.document.ends.pinout.get(ref)
    if contact is None or entry is None:
        raise UnknownFigure(f"There is no contact for {figure!r} in this version.")
    connector = w.document.ends.connectors[entry.connector]
    family = w.catalogue.connectors[connector.family]
    cavity = next(
        c for c in w.evaluation.ends.connectors[entry.connector].cavities if (c.pin, c.wire) == (ref, key)
    )
    sized = w.wire.wires[key]
    size = w.wire.size(sized.key)
    steps = []
    for c in family.contacts:
        if c.gender != contact.gender or c.stud != contact.stud:
            continue
        ranges = (
            f"{c.conductor_min_mm2:g} to {c.conductor_max_mm2:g} mm², "
            f"over insulation {c.insulation_min_mm:g} to {c.insulation_max_mm:g} mm"
        )
        hold = _hold(c, size)
        taken = "taken" if hold == "would do" else f"taken, {hold}"
        steps.append(Step(c.code, ranges, taken if c.code == contact.code else hold))
    steps.append(
        Step("the wire", f"{sized.gauge} {sized.family}", f"{size.area_mm2:.2f} mm², {size.od_mm:.2f} mm")
    )
    seal = w.ends.seals.get((ref, key))
    if seal is not None:
        steps.append(
            Step(
                seal.code,
                f"seals {seal.od_min_mm:g} to {seal.od_max_mm:g} mm",
                f"{size.od_min_mm:.2f} to {size.od_max_mm:.2f} mm",
            )
        )
    steps.append(
        Step("current", f"good for {format_current(cavity.contact_a)}", format_current(sized.carries_a))
    )
    if contact.joint == "crimp" and not contact.factory:
        past = "insulation past the tabs" if contact.kind == "end" else "copper past the barrel"
        steps.append(
            Step(
                past, "at least and at most", f"{contact.copper_least_mm:g} to {contact.copper_most_mm:g} mm"
            )
        )
    return Reckoning(
        "contact",
        figure,
        f"Why {contact.code}?",
        f"{entry.connector}-{entry.cavity}, {contact.description}",
        _chosen_by(w) if cavity.fits else "Nothing in its family holds this wire; this one misses by least.",
        "ends",
        (),
        tuple(steps),
        (
            f"Conductor range: {family.sources['conductor_min_mm2']}",
            f"Insulation range: {family.sources['insulation_min_mm']}",
            f"Current: {family.sources['current_by_area']}",
            f"Strip: {family.sources['strip_mm']}",
            *([f"Past the barrel: {shown}"] if (shown := family.sources.get("copper_most_mm")) else []),
        ),
        sized.key,
    )


def bill(w: Workings, figure: str) -> Reckoning:
    """One line of the bill of materials."""
    line = next((line for line in w.parts.lines if f"{line.group} {line.code} {line.colour}" == figure), None)
    if line is None:
        raise UnknownFigure(f"There is no bill line {figure!r} in this version.")
    each = w.document.brief.quantity
    units = w.document.brief.measures
    steps: list[Step] = []
    if line.group == "wire":
        steps += [
            Step(c.label, f"{c.from_text} to {c.to_text}", format_length(c.cut_mm, units))
            for c in w.cut.cuts
            if c.part == line.code and c.colour == line.colour
        ]
    else:
        steps.append(Step("used at", line.used_at, f"{line.quantity / each:g}"))
    need = f"{bought_m(line.quantity):.2f} m" if line.unit == "m" else f"{line.quantity:g}"
    steps.append(Step("harnesses", "as the brief says", str(each)))
    steps.append(Step("need", line.description, need))
    if line.spares:
        steps.append(Step("spares", "spare, and to practise on, by the house rules", f"{line.spares:g}"))
    if line.bought is not None:
        choice = w.document.parts.lines[line.key]
        steps.append(Step("bought", choice.reason or "you fixed it", f"{line.bought:g}"))
    steps.append(Step("mass", "part data", format_mass(line.mass_g, units, 1)))
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
            "Counts: what the ends use, as worked out in Ends, Cut and Dress",
            *([f"Spares: {w.brief.rules['spare_one_in'].source}"] if line.spares else []),
            "Masses and prices: part data, invented",
        ),
    )


def mass(w: Workings, figure: str) -> Reckoning:
    """Mass of one harness by group."""
    if figure != "harness":
        raise UnknownFigure(f"There is no mass of {figure!r}. Ask for the mass of 'harness'.")
    each, units = w.document.brief.quantity, w.document.brief.measures
    groups: dict[str, float] = {}
    for line in w.parts.lines:
        groups[line.group] = groups.get(line.group, 0.0) + line.mass_g / each
    steps = [
        Step(name, f"{grams / w.parts.mass_each_g * 100:.0f} % of it", format_mass(grams, units, 1))
        for name, grams in sorted(groups.items(), key=lambda kv: -kv[1])
        if grams > 0
    ]
    steps.append(Step("one harness", "without coverings and labels", format_mass(w.parts.mass_each_g, units)))
    return Reckoning(
        "mass",
        figure,
        f"Why {format_mass(w.parts.mass_each_g, units)}?",
        f"one harness of {w.evaluation.tally.wires} wires",
        "Every part's mass, wires by their cut length.",
        None,
        (),
        tuple(steps),
        (
            f"Wire: {w.wire.tables.family.sources['mass_g_per_m']}",
            "Other parts: part data, invented, typical of their kind",
        ),
    )
