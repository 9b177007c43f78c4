"""The bench's calculators of what is cut and what goes over it: lead, bundle, lay, shrink, sleeve, tape,
label, and which piece comes off which spool.
"""

from __future__ import annotations

import math
from collections import Counter
from typing import cast

from inkthread.core.bench.fields import BenchAnswer, BenchError, BenchLine, Inputs
from inkthread.core.catalogue.coverings import SleeveKind, Tape
from inkthread.core.catalogue.tubes import choose_tube
from inkthread.core.cut.lengths import cut_length_mm
from inkthread.core.cut.plan import Length, Piece, plan_cuts
from inkthread.core.dress.choose import (
    choose_sleeve,
    closed_wall_mm,
    make_label,
    sleeve_cut_mm,
    tube_to_cut_mm,
)
from inkthread.core.measures import Measures, format_length
from inkthread.core.physics.coverings import wound_tape
from inkthread.core.physics.lay import lay_up
from inkthread.core.physics.packing import PACKED_AT_MOST, bound_by_area, least_around, pack_closely
from inkthread.core.tolerances import WHOLE

_MM_PER_INCH = 25.4
_SLEEVES: tuple[SleeveKind, ...] = ("braid", "fabric", "nylon", "conduit", "spiral")
SLEEVE_KINDS: tuple[str, ...] = _SLEEVES
_ROUND = "geometry"


def _mm(value: float) -> str:
    return f"{round(value, 2):g} mm"


def _length_like(text: str, value_mm: float) -> str:
    """A length in the system that another was typed in: inches as a fraction, exact in sixteenths."""
    if '"' not in text and "in" not in text.lower() and "ft" not in text.lower():
        return f"{round(value_mm, 2):g} mm"
    sixteenths = value_mm / _MM_PER_INCH * 16
    if abs(sixteenths - round(sixteenths)) < WHOLE * 16:
        return format_length(value_mm, Measures("inch"))
    return f"{round(value_mm / _MM_PER_INCH, 3):g} in"


def lead(i: Inputs) -> BenchAnswer:
    """The length to cut for a finished length."""
    finished, one = i.number("finished"), i.number("allowance")
    other = i.number("other_allowance") if i.has("other_allowance") else one
    surplus = i.number("surplus") if i.has("surplus") else 0.0
    step = i.number("step") if i.has("step") else 0.0
    if one + other > finished:
        raise BenchError(
            "allowance",
            f"Allowance: {i.text('allowance')} at both ends is more than the lead of {i.text('finished')} "
            "itself. Look at the units, or say the other end's own.",
        )
    cut = cut_length_mm(finished, one, other, surplus_mm=surplus, step_mm=step)
    text = _length_like(i.text("finished"), cut)
    lines = (
        BenchLine("finished", _length_like(i.text("finished"), finished)),
        BenchLine("one end", _mm(one)),
        BenchLine("other end", _mm(other)),
        BenchLine("left long", _mm(surplus)),
        BenchLine("rounded up to", _mm(step) if step else "not rounded"),
    )
    figures = {
        "cut_mm": round(cut, 3),
        "cut_text": text,
        "finished_mm": round(finished, 3),
        "allowance_mm": [round(one, 3), round(other, 3)],
        "surplus_mm": round(surplus, 3),
    }
    said = f"Cut **{text}**: finished, and what each end takes."
    return BenchAnswer(said, True, lines, figures, ("Cut = finished + allowances + surplus: arithmetic",))


def bundle(i: Inputs) -> BenchAnswer:
    """How thick a bundle of wires is."""
    diameters = tuple(d for d, count in i.counted("od") for _ in range(count))
    packed = len(diameters) <= PACKED_AT_MOST
    tight = pack_closely(diameters).diameter if packed else bound_by_area(diameters)
    loose = tight * i.number("loose_factor")
    least = least_around(diameters)
    method = "packed" if packed else "by area"
    lines = (
        BenchLine("wires", str(len(diameters))),
        BenchLine(
            "tight", _mm(tight), "laid one by one" if packed else "three quarters of the circle filled"
        ),
        BenchLine("as hands lay it", _mm(loose), f"tight x {i.number('loose_factor'):g}"),
        BenchLine("never below", _mm(least), "by area, by the two largest, and by how many go round"),
    )
    return BenchAnswer(
        f"{len(diameters)} wires make **{tight:.2f} mm** tight, **{loose:.2f} mm** as hands lay it.",
        True,
        lines,
        {
            "diameter_mm": round(tight, 4),
            "loose_mm": round(loose, 4),
            "method": method,
            "lower_bound_mm": round(least, 4),
            "wires": len(diameters),
        },
        ("Circles packed into a circle: feasible as laid", "Loose factor: house rule"),
    )


def lay(i: Inputs) -> BenchAnswer:
    """Wires laid up in rings around a core."""
    diameters = tuple(d for d, count in sorted(i.counted("od"), key=lambda dc: -dc[0]) for _ in range(count))
    laid = lay_up(diameters, i.number("lay_factor"))
    layers = [
        {
            "wires": len(ring.wires),
            "fillers": ring.fillers,
            "diameter_mm": round(ring.outside_mm, 3),
            "lay_mm": round(ring.lay_mm, 2),
            "turns": ring.turns,
            "longer_percent": round((max(ring.factors) - 1) * 100, 3),
        }
        for ring in laid.rings
    ]
    lines = tuple(
        BenchLine(
            "core" if n == 0 else f"ring {n}",
            f"{len(ring.wires)} wires" + (f" + {ring.fillers} fillers" if ring.fillers else ""),
            f"{ring.outside_mm:.2f} mm over all"
            + (f", a turn every {ring.lay_mm:.0f} mm to the {ring.turns}" if ring.turns else ", straight")
            + f", takes up {(max(ring.factors) - 1) * 100:.1f} %",
        )
        for n, ring in enumerate(laid.rings)
    )
    counts = ", ".join(str(len(ring.wires)) for ring in laid.rings)
    return BenchAnswer(
        f"**{counts}** from the core outward: **{laid.diameter_mm:.2f} mm**, {laid.fillers or 'no'} fillers.",
        True,
        lines,
        {"layers": layers, "diameter_mm": round(laid.diameter_mm, 4), "fillers": laid.fillers},
        (
            "Rings: geometry of helices laid on a core; six more each ring as in ASTM B8, from memory",
            "What a ring takes up: sqrt(1 + (pi d / lay)^2), geometry",
        ),
    )


def shrink(i: Inputs) -> BenchAnswer:
    """Which shrink tube passes one thing and closes on another."""
    over, onto = i.number("over"), i.number("onto")
    if onto > over:
        raise BenchError(
            "onto",
            f"Closes on {_mm(onto)}, which is thicker than what it passes ({_mm(over)}): change them over.",
        )
    ratio = None if i.choice("ratio") == "any" else i.choice("ratio")
    lining = i.choice("lining")
    coverings = i.catalogue.coverings
    choice = choose_tube(
        coverings.tubes(), over, onto, ratio=ratio, lined=None if lining == "any" else lining == "lined"
    )
    tube = choice.tube
    length = i.optional("length")
    figures: dict[str, object] = {
        "fits": choice.fits,
        "code": tube.code if tube else None,
        "ratio": tube.ratio if tube else None,
        "lined": tube.lined if tube else None,
        "supplied_mm": tube.supplied_mm if tube else None,
        "recovered_mm": tube.recovered_mm if tube else None,
        "passes": choice.passes,
        "closes": choice.closes,
        "instead": choice.instead or None,
    }
    if tube is None:
        return BenchAnswer(
            f"Nothing of that ratio and lining is held here: {choice.instead}.", False, (), figures, ()
        )
    wall = closed_wall_mm(tube, onto)
    figures |= {"wall_mm": round(wall, 3), "over_all_mm": round(max(onto, tube.recovered_mm) + 2 * wall, 3)}
    lines = [
        BenchLine("as supplied", _mm(tube.supplied_mm), f"must pass {_mm(over)}"),
        BenchLine("recovered", _mm(tube.recovered_mm), f"must close on {_mm(onto)}"),
        BenchLine("wall once closed", _mm(wall), f"{_mm(max(onto, tube.recovered_mm) + 2 * wall)} over all"),
    ]
    if length is not None:
        cut = tube_to_cut_mm(tube, length, onto)
        figures["cut_mm"] = round(cut, 2)
        lines.append(BenchLine("cut", _mm(cut), f"for {_mm(length)} once shrunk"))
    said = f"**{tube.code}**, {tube.ratio} {'lined' if tube.lined else 'plain'}, passes and closes."
    if not choice.fits:
        what = "does not close" if choice.passes else "does not pass"
        said = f"{tube.code} is the nearest and {what}: {choice.instead}."
    ladder = next(each for each in coverings.ladders if tube.code.startswith(f"{each.code}-"))
    return BenchAnswer(said, choice.fits, tuple(lines), figures, (f"Bores: {ladder.source}",))


def sleeve(i: Inputs) -> BenchAnswer:
    """Which sleeve holds a bundle, and how much of it is cut."""
    tight, length = i.number("bundle"), i.number("length")
    kind = cast(SleeveKind, i.choice("kind"))
    over = max(i.optional("over") or 0.0, tight)
    choice = choose_sleeve(i.catalogue.coverings.sleeves, kind, tight, over, larger=i.flag("solid"))
    chosen = choice.sleeve
    assert chosen is not None, "every kind has its sizes"
    gaps = (i.optional("gap") or 0.0) * 2
    if gaps >= length:
        raise BenchError("gap", f"Gap: {i.text('gap')} at both ends leaves nothing of {i.text('length')}.")
    span = length - gaps
    figures: dict[str, object] = {
        "fits": choice.fits,
        "code": chosen.code,
        "nominal_mm": chosen.nominal_mm,
        "least_mm": chosen.least_mm,
        "most_mm": chosen.most_mm,
        "covers_mm": round(span, 3),
        "split": chosen.split,
    }
    lines = [
        BenchLine("takes", f"{chosen.least_mm:g} to {chosen.most_mm:g} mm"),
        BenchLine("must hold", _mm(tight)),
        BenchLine("must pass", _mm(over), "goes on after" if chosen.split else "slips on before"),
    ]
    if not choice.fits:
        what = "does not hold the bundle" if choice.passes else "does not pass it"
        split = " Put it on before the connector, or use a split kind." if over > tight else ""
        return BenchAnswer(
            f"No {kind} does: {chosen.code} is the nearest and {what}.{split}",
            False,
            tuple(lines),
            figures,
            (),
        )
    cut = sleeve_cut_mm(chosen, tight, span)
    figures |= {"cut_mm": round(cut, 2), "mass_g": round(cut / 1000 * chosen.mass_g_per_m, 2)}
    figures["outside_mm"] = round(
        max(tight, chosen.nominal_mm if chosen.kind == "conduit" else tight) + 2 * chosen.wall_mm, 2
    )
    lines.append(BenchLine("cut", _mm(cut), f"covers {_mm(span)}"))
    return BenchAnswer(
        f"**{chosen.code}**, cut **{cut:.0f} mm** to cover {span:.0f} mm.",
        True,
        tuple(lines),
        figures,
        (f"Range: {chosen.source}", "A braid keeps the length of its yarns as it opens: geometry"),
    )


def tape(i: Inputs) -> BenchAnswer:
    """How much tape a bundle takes."""
    bundle_mm, length, width = i.number("bundle"), i.number("length"), i.number("width")
    overlap = -i.number("gap") / width if i.has("gap") else i.number("overlap") / 100
    try:
        wound = wound_tape(bundle_mm, length, width, overlap, i.number("end_turns"))
    except ValueError:
        widest = math.pi * bundle_mm / (1 - overlap)
        raise BenchError(
            "width",
            f"Width: {i.text('width')} is too wide for {i.text('bundle')} so; it would run "
            f"along the bundle. Below {widest:.0f} mm it can be wound.",
        ) from None
    roll = _roll(i.catalogue.coverings.tapes, width)
    rolls = math.ceil(wound.length_mm / 1000 / roll.roll_m - WHOLE) if roll else None
    lines = (
        BenchLine("tape", f"{wound.length_mm / 1000:.2f} m", "its end turns with it"),
        BenchLine("turns", f"{wound.turns:.0f}", f"{wound.advance_mm:.1f} mm further with each"),
        BenchLine("leans", f"{wound.angle_deg:.0f}°", "from square"),
    )
    return BenchAnswer(
        f"**{wound.length_mm / 1000:.2f} m** of tape, {wound.turns:.0f} turns.",
        True,
        lines,
        {
            "tape_mm": round(wound.length_mm, 1),
            "turns": round(wound.turns, 2),
            "advance_mm": round(wound.advance_mm, 3),
            "angle_deg": round(wound.angle_deg, 2),
            "rolls": rolls,
        },
        ("A helical strip covers (1 - overlap) times its width: geometry", "End turns: common practice"),
    )


def _roll(tapes: tuple[Tape, ...], width_mm: float) -> Tape | None:
    return next((t for t in tapes if abs(t.width_mm - width_mm) < 0.5), None)


def label(i: Inputs) -> BenchAnswer:
    """Which label sleeve, how high its letters and how long it is."""
    coverings = i.catalogue.coverings
    text, onto = i.text("text"), i.number("od")
    printed = make_label(
        coverings.labels, coverings.lettering, text, onto,
        over_mm=i.optional("over"), height_mm=i.optional("height"),
    )  # fmt: skip
    chosen = printed.sleeve
    assert chosen is not None
    length = i.optional("length")
    if length is not None and printed.length_mm > length:
        raise BenchError(
            "text",
            f"Text: {text!r} makes a label of {printed.length_mm:g} mm on a wire of {i.text('length')}. "
            "Shorten it, or set it on a flag.",
        )
    per = chosen.cassette_m * 1000 / (printed.length_mm + coverings.lettering.feed_mm)
    lines = (
        BenchLine("sleeve", chosen.code, f"{chosen.supplied_mm:g} to {chosen.recovered_mm:g} mm"),
        BenchLine(
            "letters",
            _mm(printed.height_mm),
            "read at arm's length" if printed.readable else "too small to read",
        ),
        BenchLine(
            "long",
            _mm(printed.length_mm),
            f"{len(printed.lines)} line{'s' if len(printed.lines) > 1 else ''}",
        ),
        BenchLine("a cassette makes", f"{int(per)}", f"{chosen.cassette_m:g} m, with what each one wastes"),
    )
    said = f"**{chosen.code}**, **{printed.length_mm:g} mm** long, letters {printed.height_mm:g} mm."
    if not printed.fits:
        said = f"No label sleeve passes and closes on {i.text('od')}: {chosen.code} is the nearest."
    return BenchAnswer(
        said,
        printed.fits and printed.readable,
        lines,
        {
            "fits": printed.fits,
            "code": chosen.code,
            "sleeve_mm": chosen.supplied_mm,
            "length_mm": printed.length_mm,
            "height_mm": printed.height_mm,
            "lines": list(printed.lines),
            "readable": printed.readable,
            "labels_per_cassette": int(per),
        },
        (f"Lettering: {coverings.lettering.source}", f"Sleeves: {chosen.source}"),
    )


def _grouped(lengths_mm: list[float]) -> str:
    """``5 x 1.2 m, 2 x 0.8 m``."""
    return ", ".join(
        f"{count} x {mm / 1000:g} m" if count > 1 else f"{mm / 1000:g} m"
        for mm, count in Counter(lengths_mm).items()
    )


def cut(i: Inputs) -> BenchAnswer:
    """Which piece comes off which spool."""
    spools = [mm for mm, count in i.counted("spool") for _ in range(count)]
    pieces = [mm for mm, count in i.counted("piece") for _ in range(count)]
    keep = i.number("keep")
    longest = max(pieces)
    if longest > max(spools):
        raise BenchError(
            "spool",
            f"Spool: the longest piece is {longest:.0f} mm, the longest spool {max(spools):.0f} mm. Name a "
            "spool that it comes off.",
        )
    plan = plan_cuts(
        [Length(f"spool {n}", mm) for n, mm in enumerate(spools, 1)],
        [Piece(f"piece {n}", mm) for n, mm in enumerate(pieces, 1)],
        keep,
    )
    figures = {
        "pieces": [
            {"spool": c.id, "spool_m": c.length_mm / 1000, "cuts_m": [p.length_mm / 1000 for p in c.pieces],
             "left_m": round(c.left_mm / 1000, 6), "kept": c.kept}
            for c in plan.lengths
        ],
        "short_m": [p.length_mm / 1000 for p in plan.short],
        "waste_m": round(plan.waste_mm / 1000, 6),
        "lower_bound_m": round(plan.lower_bound_mm / 1000, 6),
        "kept_m": round(plan.kept_mm / 1000, 6),
        "proved_optimal": plan.proved and not plan.short,
    }  # fmt: skip
    lines = tuple(
        BenchLine(
            f"{c.id}, {c.length_mm / 1000:g} m",
            _grouped([p.length_mm for p in c.pieces]),
            f"{c.left_mm / 1000:g} m {'kept' if c.kept else 'waste'}" if c.left_mm else "nothing left",
        )
        for c in plan.lengths
    )
    proof = "less is not possible" if plan.proved else f"at least {plan.lower_bound_mm / 1000:g} m is wasted"
    said = f"**{plan.waste_mm / 1000:g} m** waste; {proof}."
    if plan.short:
        said = (
            f"**{plan.short_mm / 1000:g} m** short: {len(plan.short)} of {len(pieces)} pieces find no spool."
        )
    return BenchAnswer(
        said, not plan.short, lines, figures,
        (f"A remnant of {keep / 1000:g} m or more is kept: house rule",),
    )  # fmt: skip
