"""Why an end, a cut, a line of the bill, the mass are what they are."""

from __future__ import annotations

from inkthread.core.catalogue import Contact, WireSize
from inkthread.core.cut import round_up_mm
from inkthread.core.quantity import format_current, format_length
from inkthread.core.reckoning.form import Reckoning, Step, UnknownFigure, row_of
from inkthread.core.workings import Workings


def _alone_mm(w: Workings, key: str, step_mm: float) -> float:
    """What a core would be cut to by itself."""
    piece = next(c for c in w.cut.cuts if c.wire == key)
    return round_up_mm(piece.finished_mm + piece.allowance_a_mm + piece.allowance_b_mm, step_mm)


def cut(w: Workings, key: str) -> Reckoning:
    """Length of a piece to cut, branch by branch."""
    row_of(w, key)
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
        *(
            [
                Step(
                    "twist",
                    f"× {w.wire.tables.twist[w.wire.tables.at[key]]:.4f}, a helix",
                    mm(piece.twist_mm),
                )
            ]
            if piece.twist_mm > 0
            else []
        ),
        Step("finished", "route + slack" + (" + twist" if piece.twist_mm else ""), mm(piece.finished_mm)),
        Step("allowance", piece.from_text, mm(piece.allowance_a_mm)),
        Step("allowance", piece.to_text, mm(piece.allowance_b_mm)),
    ]
    step = rules["cut_step_mm"].value or 0
    alone = round_up_mm(piece.finished_mm + piece.allowance_a_mm + piece.allowance_b_mm, step)
    steps.append(Step("cut", f"rounded up to {mm(step)}", mm(alone)))
    if piece.cable and abs(alone - piece.cut_mm) > 0.05:
        # Every core of a cable is as long as the one that needs most.
        longest = next(c for c in w.cut.cables if c.id == piece.cable)
        first = max(longest.wires, key=lambda k: _alone_mm(w, k, step))
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


def mass(w: Workings, figure: str) -> Reckoning:
    """Mass of one harness by group."""
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
            f"Wire: {w.wire.tables.family.sources['mass_g_per_m']}",
            "Other parts: part data, invented, typical of their kind",
        ),
    )
