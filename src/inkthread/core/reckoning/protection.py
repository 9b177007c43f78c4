"""Why a fuse or breaker is what it is, and whether it protects."""

from __future__ import annotations

import math

from inkthread.core.circuits.curve import opens_within_s
from inkthread.core.measures import format_current, format_temperature
from inkthread.core.reckoning.form import Reckoning, Step, UnknownFigure
from inkthread.core.wire.protection import faults, overload_c
from inkthread.core.workings import Workings


def fuse_of(w: Workings, key: str) -> Reckoning:
    """Rating by its load, wires at 110 % and 135 %, clearing, weakest link."""
    fuse = w.circuits.fuses.get(key)
    if fuse is None:
        raise UnknownFigure(f"There is no fuse {key!r} in this version.")
    units = w.document.brief.measures
    share, rated = w.brief.value("fuse_load_share_percent"), format_temperature(40, units)
    devices = w.document.circuits.devices
    loads = [loop for loop in w.circuits.loops if key in loop.fuses]
    steps = [Step(load.device, devices[load.device].name, format_current(load.current_a)) for load in loads]
    together = "all at once" if len(w.circuits.modes) == 1 else "in the mode that asks most"
    steps += [
        Step("together", together, format_current(fuse.load_a)),
        *(
            [
                Step(
                    "its place",
                    f"{format_temperature(fuse.ambient_c, units)}, {share:g} % is for up to {rated}",
                    f"{fuse.left * 100:.1f} % left",
                )
            ]
            if fuse.ambient_c is not None and fuse.left < 1
            else []
        ),
        Step(
            "at least",
            f"load / {share:g} %" + (f" / {fuse.left * 100:.1f} %" if fuse.left < 1 else ""),
            format_current(fuse.load_a / share * 100 / fuse.left),
        ),
        *([Step("sits out", fuse.sits_out, "a larger one")] if fuse.sits_out else []),
        Step("made", "next rating up" if not fuse.fixed else "fixed by you", f"{fuse.rating_a:g} A"),
    ]
    behind = [k for k in w.wire.tables.keys if w.circuits.circuits[w.route.sections[k].circuit].fuse == key]
    for percent, words in ((110, "for good"), (135, "for 600 s")):
        hot = [(overload_c(w.wire, k, fuse.rating_a, percent / 100), k) for k in behind]
        if hot:
            worst, k = max(hot)
            sized = w.wire.wires[k]
            rating = w.wire.families[sized.family].temperature_c
            steps.append(
                Step(
                    f"wire at {percent} % {words}",
                    f"{sized.label} {sized.gauge}, insulation to {format_temperature(rating, units)}",
                    format_temperature(worst, units),
                )
            )
    sources = [w.brief.rules["fuse_load_share_percent"].source]
    if fuse.part is not None:
        curve = w.catalogue.curves[fuse.part.curve]
        for fault in faults(w.document, w.catalogue, w.circuits, w.wire).values():
            if fault.fuse != key:
                continue
            opens = "may never open" if math.isinf(fault.opens_s) else f"open within {fault.opens_s:.2g} s"
            steps.append(Step(f"short at {fault.load}", format_current(fault.current_a), opens))
        source = w.circuits.sources.get(fuse.source or "")
        if source is not None and source.fault_a is not None:
            at_once = opens_within_s(curve, source.fault_a, fuse.rating_a)
            steps.append(
                Step(
                    "short at the fuse",
                    f"{format_current(source.fault_a)}, it can break {format_current(fuse.part.interrupt_a)}",
                    "may never open" if math.isinf(at_once) else f"open within {at_once:.2g} s",
                )
            )
        sources += [f"Times, slow edge: {curve.source}", "Ratings: ISO 8820-3, from memory"]
    weakest = w.ends.weakest.by_fuse.get(key)
    if weakest is not None:
        steps.append(Step("weakest link", weakest.name, format_current(weakest.holds_a)))
    return Reckoning(
        "fuse",
        key,
        f"Why {fuse.rating_a:g} A?",
        fuse.called,
        "You fixed this rating."
        if fuse.fixed
        else f"The smallest made that its load keeps below {share:g} %"
        + (", and that stays closed as a load starts." if fuse.sits_out else "."),
        None,
        (),
        tuple(steps),
        tuple(sources),
    )
