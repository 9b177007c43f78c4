"""Electrical answers of the bench: wire, drop, ampacity, fuse, data bus, short time, gauges."""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import cast

import numpy as np
from pydantic import TypeAdapter

from inkthread.core.bench.fields import (
    BenchAnswer,
    BenchError,
    BenchLine,
    Inputs,
)
from inkthread.core.bench.wire import BenchWire, ReturnPath, reckon_wire
from inkthread.core.catalogue import Catalogue, FuseRating, WireFamily, WireSize
from inkthread.core.circuits.curve import holds_at_least_s, opens_within_s
from inkthread.core.circuits.fuses import smallest_fuse
from inkthread.core.converter import convert
from inkthread.core.document.values import Practice, Service
from inkthread.core.physics.conductor import resistance_at_temperature
from inkthread.core.physics.heat import HeatCurves, conductor_temperature_c, heat_curves
from inkthread.core.physics.short_time import (
    ADIABATIC_LIMIT_S,
    Pulse,
    heat_capacity_j_per_m_k,
    peak_temperature_c,
    withstand_s,
)
from inkthread.core.tolerances import ROUNDING
from inkthread.core.wire.ampacity import (
    METHODS,
    Ampacity,
    Conditions,
    EngineSpace,
    Method,
    OutOfTable,
    ampacity,
)
from inkthread.core.wire.families import stands_air


def _round(value: float, digits: int = 4) -> float:
    return round(float(value), digits)


def _curves(size: WireSize, ambient_c: float) -> HeatCurves:
    one = np.ones(1)
    return heat_curves(
        one * size.conductor_diameter_mm,
        one * size.od_mm,
        one * size.resistance_ohm_per_km / 1000,
        one * ambient_c,
        top_c=900.0,
    )


def working_c(size: WireSize, ambient_c: float, current_a: float) -> float:
    """Temperature in deg C of one wire alone in still air at a current."""
    return float(conductor_temperature_c(_curves(size, ambient_c), 0, np.array([current_a]))[0])


def wire(i: Inputs) -> BenchAnswer:
    practice = cast(Practice, i.choice("practice"))
    family = i.choice("family") if i.has("family") else i.catalogue.preset_families[practice]
    ambient = i.optional("ambient")
    if ambient is None:
        ambient = i.catalogue.rules["default_ambient_c"].values[practice] or 40.0

    def reckoned(code: str) -> BenchWire:
        return reckon_wire(
            i.catalogue,
            practice,
            code,
            i.number("amps"),
            i.number("length"),
            i.number("volts"),
            ambient,
            cast(Service, i.choice("service")),
            cast(ReturnPath, i.choice("return")),
            i.text("drop_limit") or None,
        )

    answer = reckoned(family)
    beyond = None if answer.fits else _next_family(i.catalogue, practice, family, reckoned)
    own = family
    if beyond is not None and practice == "marine" and not i.has("family"):
        # Boats go on in battery cable where primary wire ends.
        family, answer = beyond
    fuse = f"{answer.fuse_a:g} A fuse" if answer.fuse_a else "no fuse is large enough"
    sentence = f"{answer.gauge} {family}: {answer.governs} decides."
    if not answer.fits:
        sentence = f"No size of {family} holds every limit; {answer.gauge} is the largest."
        if beyond is not None:
            sentence += f" {beyond[1].gauge} of {beyond[0]} does."
    elif family != own:
        sentence = f"{answer.gauge} {family}: {answer.governs} decides. {own} is not made so thick."
    wire_family = i.catalogue.wires[family]
    if ambient >= wire_family.temperature_c:
        sentence = _too_hot(wire_family, ambient, wire_family.temperature_c) + _good_for(i.catalogue, ambient)
    return BenchAnswer(
        sentence,
        answer.fits,
        (
            BenchLine(
                "drop",
                f"{answer.drop_v:.3f} V",
                f"{answer.drop_percent:.2f} % of the supply, {answer.drop_limit_v:.3f} V allowed",
            ),
            BenchLine("alone in still air", f"{answer.ampacity_a:.1f} A"),
            BenchLine("in a bundle", f"{answer.allowed_a:.1f} A", f"{answer.bundle_share:g} of free air"),
            BenchLine("fuse", fuse),
        ),
        TypeAdapter(BenchWire).dump_python(answer, mode="json"),
        (answer.drop_limit_source,),
    )


def _next_family(
    catalogue: Catalogue, practice: Practice, family: str, reckoned: Callable[[str], BenchWire]
) -> tuple[str, BenchWire] | None:
    """The family that holds every limit with least copper where the first has no size, or None."""
    tried = [
        (code, reckoned(code))
        for code, other in catalogue.wires.items()
        if code != family
        and other.general
        and other.construction == "single"
        and (practice != "aviation" or other.burn_rated)
    ]
    fitting = [(code, bench_wire) for code, bench_wire in tried if bench_wire.fits]
    return min(fitting, key=lambda pair: (pair[1].area_mm2, pair[0]), default=None)


def _too_hot(family: WireFamily, ambient_c: float, limit_c: float) -> str:
    return f"The air is at {ambient_c:g} °C and {family.code} may be at {limit_c:g} °C: no size of it helps."


def _good_for(catalogue: Catalogue, ambient_c: float) -> str:
    """A family that stands the air, in words; empty where none does."""
    good = stands_air(catalogue.wires.values(), ambient_c)
    return f" {good.code} is good for {good.temperature_c:g} °C." if good else ""


def _conditions(i: Inputs, family: WireFamily) -> Conditions:
    given = i.optional("conductor_temp")
    rating = i.optional("insulation_rating")
    return Conditions(
        i.number("ambient"),
        family.temperature_c if given is None else given,
        int(i.number("bundle")),
        i.number("loaded"),
        i.number("altitude") / 1000,
        rating,
        cast(EngineSpace, i.choice("engine_space")),
        i.flag("marine_bundling"),
    )


def _one_method(i: Inputs, method: Method, family: WireFamily, size: WireSize) -> Ampacity:
    try:
        return ampacity(method, i.catalogue, family, size, _conditions(i, family))
    except OutOfTable as error:
        raise BenchError("method", str(error)) from None


def ampacity_by_methods(i: Inputs) -> BenchAnswer:
    family = i.family()
    size = i.size(family)
    method = cast(Method, i.choice("method"))
    answer = _one_method(i, method, family, size)
    lines = []
    for other in METHODS:
        try:
            one = ampacity(other, i.catalogue, family, size, _conditions(i, family))
        except OutOfTable as error:
            lines.append(BenchLine(other.replace("-", " "), "not known", str(error)))
            continue
        lines.append(
            BenchLine(
                other.replace("-", " "),
                f"{one.ampacity_a:.1f} A",
                f"{one.free_air_a:.1f} A free air × {one.bundle_factor:.2f} bundle "
                f"× {one.altitude_factor:.2f} altitude",
            )
        )
    by = method.replace("-", " ")
    sentence = f"{size.gauge} {family.code} may carry {answer.ampacity_a:.1f} A by the {by}."
    asked = _conditions(i, family)
    if answer.ampacity_a == 0 and asked.ambient_c >= asked.conductor_c:
        sentence = _too_hot(family, asked.ambient_c, asked.conductor_c)
        if asked.conductor_c >= family.temperature_c:
            sentence += _good_for(i.catalogue, asked.ambient_c)
    return BenchAnswer(
        sentence,
        answer.ampacity_a > 0,
        tuple(lines),
        {
            "ampacity_a": _round(answer.ampacity_a),
            "free_air_a": _round(answer.free_air_a),
            "bundle_factor": _round(answer.bundle_factor),
            "altitude_factor": _round(answer.altitude_factor),
            "interpolated": answer.interpolated,
            "method": method,
            "source": answer.source,
        },
        (answer.source,),
    )


def drop(i: Inputs) -> BenchAnswer:
    family = i.family()
    size = i.size(family)
    current_a, volts = i.number("amps"), i.number("volts")
    hot = i.optional("conductor_temp")
    worked = hot is None
    if hot is None:
        hot = working_c(size, i.number("ambient"), current_a)
    metres = i.number("length") / 1000 * (2 if i.choice("return") == "wired" else 1)
    per_m = float(resistance_at_temperature(size.resistance_ohm_per_km / 1000, hot))
    ohm = per_m * metres
    if i.choice("return") == "structure":
        ohm += i.number("structure_resistance")
    drop = ohm * current_a
    sentence = f"{drop:.3f} V of {volts:g} V lost, {drop / volts * 100:.2f} %."
    if drop >= volts:
        cool = float(resistance_at_temperature(size.resistance_ohm_per_km / 1000, min(hot, 20.0)))
        cold = ohm - (per_m - cool) * metres
        short = f"a dead short draws {volts / cold:.3g} A"
        sentence = f"{current_a:g} A loses more than the {volts:g} V there are: {short}."
    melts = hot > family.temperature_c
    note = f"above the {family.temperature_c:g} °C its insulation is good for" if melts else ""
    return BenchAnswer(
        sentence,
        drop < volts and not (worked and melts),
        (
            BenchLine("around the loop", f"{metres:.2f} m", i.choice("return")),
            BenchLine(
                "resistance",
                f"{ohm * 1000:.1f} mΩ",
                f"{per_m * 1000:.2f} mΩ/m at {hot:.0f} °C" + (", its working temperature" if worked else ""),
            ),
            BenchLine("the wire gets to" if worked else "the wire is at", f"{hot:.0f} °C", note),
            BenchLine("left for the load", f"{max(volts - drop, 0.0):.2f} V"),
        ),
        {
            "drop_v": _round(drop, 6),
            "drop_percent": _round(drop / volts * 100, 5),
            "resistance_ohm": _round(ohm, 8),
            "conductor_c": _round(hot, 2),
        },
        (f"{family.code}: {family.sources['resistance_ohm_per_km']}",),
    )


def fuse(i: Inputs) -> BenchAnswer:
    c = i.catalogue
    practice = cast(Practice, i.choice("practice"))
    current_a = i.number("amps")
    breaker = i.choice("kind") == "breaker"
    share = i.optional("share")
    share = (share if share is not None else c.rules["fuse_load_share_percent"].values[practice] or 80) / 100
    if not 0 < share <= 1:
        raise BenchError("share", "Share of its rating: give 10 to 100 %.")
    part: FuseRating | None
    ratings = c.breakers if breaker else c.fuses
    if breaker:
        part = next((b for b in ratings if b.rating_a * share >= current_a - ROUNDING), None)
    else:
        part = smallest_fuse(current_a, share, c)
    rating = i.optional("rating")
    if rating is not None:
        part = next((f for f in ratings if f.rating_a == rating), None)
        if part is None:
            raise BenchError(
                "rating",
                f"Rating: no {i.choice('kind')} of {rating:g} A is made. "
                f"There are {', '.join(f'{f.rating_a:g}' for f in ratings)} A.",
            )
    if part is None:
        raise BenchError(
            "amps", f"Current: no {i.choice('kind')} made carries {current_a:g} A. Split the load."
        )
    curve = c.curves[part.curve]
    lines = [
        BenchLine(
            "rating",
            f"{part.rating_a:g} A",
            f"carries {current_a:g} A at {current_a / part.rating_a:.0%} of it",
        )
    ]
    figures: dict[str, object] = {
        "rating_a": part.rating_a,
        "code": part.code,
        "load_share": _round(current_a / part.rating_a),
        "voltage_v": part.voltage_v,
        "interrupt_a": part.interrupt_a,
    }
    holds = current_a <= part.rating_a * share + ROUNDING
    if i.has("family") and i.has("gauge"):
        family = i.family()
        size = i.size(family)
        ambient = i.number("ambient")
        rows = _curves(size, ambient)
        long_c = working_c(size, ambient, part.rating_a * 1.10)
        short_c = peak_temperature_c(
            rows,
            0,
            size.resistance_ohm_per_km / 1000,
            heat_capacity_j_per_m_k(size.area_mm2, size.conductor_diameter_mm, size.od_mm),
            working_c(size, ambient, current_a),
            Pulse(part.rating_a * 1.35, 600),
        )
        for name, at, words in (("110", long_c, "for good"), ("135", short_c, "for 600 s")):
            ok = at <= family.temperature_c
            holds = holds and ok
            figures[f"conductor_{name}_c"] = _round(at, 1)
            note = f"{'within' if ok else 'above'} {family.temperature_c:g} °C"
            lines.append(BenchLine(f"wire at {name} % {words}", f"{at:.0f} °C", note))
    fault = i.optional("fault")
    if fault is not None:
        opens = opens_within_s(curve, fault, part.rating_a)
        figures["opens_within_s"] = None if math.isinf(opens) else _round(opens, 5)
        figures["interrupts"] = fault <= part.interrupt_a
        holds = holds and fault <= part.interrupt_a and math.isfinite(opens)
        words = "may never open" if math.isinf(opens) else f"open within {opens:.3g} s"
        lines.append(BenchLine(f"at {fault:g} A", words, f"can break {part.interrupt_a:g} A"))
    inrush, inrush_time = i.optional("inrush"), i.optional("inrush_time")
    if inrush is not None and inrush_time is not None:
        stands = holds_at_least_s(curve, inrush, part.rating_a)
        figures["inrush_held_s"] = None if math.isinf(stands) else _round(stands, 5)
        ok = stands >= inrush_time
        holds = holds and ok
        words = "for good" if math.isinf(stands) else f"for {stands:.3g} s at least"
        lines.append(BenchLine(f"inrush {inrush:g} A", words, "holds" if ok else "may open on a good day"))
    figures["holds"] = holds
    return BenchAnswer(
        f"{part.description}" + ("." if holds else ", and something does not hold."),
        holds,
        tuple(lines),
        figures,
        (curve.source, c.rules["fuse_load_share_percent"].source),
    )


def bus(i: Inputs) -> BenchAnswer:
    standard = i.catalogue.buses[i.choice("standard")]
    length = i.number("length") / 1000
    stubs = [stub_mm / 1000 for stub_mm in i.numbers("stubs")] if i.has("stubs") else []
    nodes = i.optional("nodes")
    reasons = []
    if length > standard.length_m:
        reasons.append(f"{length:g} m is longer than the {standard.length_m:g} m it allows")
    longest = max(stubs, default=0.0)
    if longest > standard.stub_m:
        reasons.append(f"a stub of {longest:g} m is longer than {standard.stub_m:g} m")
    if nodes is not None and nodes > standard.nodes:
        reasons.append(f"{nodes:g} nodes are more than {standard.nodes}")
    if nodes is not None and nodes > 1 and standard.spacing_m * (nodes - 1) > length:
        reasons.append(f"nodes stand closer than {standard.spacing_m:g} m")
    ends = standard.termination_ohm
    return BenchAnswer(
        f"{standard.label}: " + ("; ".join(reasons) + "." if reasons else "within what it allows."),
        not reasons,
        (
            BenchLine("length", f"{length:g} m", f"{standard.length_m - length:g} m left"),
            BenchLine("longest stub", f"{longest:g} m", f"{standard.stub_m:g} m allowed"),
            BenchLine("terminators", f"{ends:g} Ω at both ends" if ends else "none"),
            BenchLine("nodes", f"{nodes:g}" if nodes else "not said", f"{standard.nodes} allowed"),
        ),
        {
            "fits": not reasons,
            "length_m": _round(length),
            "length_limit_m": standard.length_m,
            "left_m": _round(standard.length_m - length),
            "longest_stub_m": _round(longest),
            "stub_limit_m": standard.stub_m,
            "node_limit": standard.nodes,
            "termination_ohm": ends,
            "reasons": reasons,
        },
        (standard.source,),
    )


def short_time(i: Inputs) -> BenchAnswer:
    family = i.family()
    size = i.size(family)
    ambient, current_a = i.number("ambient"), i.number("amps")
    rest = i.number("rest")
    start = i.optional("start")
    if start is None:
        start = working_c(size, ambient, rest)
    seconds, repeats, pause = i.number("seconds"), int(i.number("repeats")), i.number("pause")
    capacity = heat_capacity_j_per_m_k(size.area_mm2, size.conductor_diameter_mm, size.od_mm)
    ohm = size.resistance_ohm_per_km / 1000
    pulse = Pulse(current_a, seconds, repeats, pause)
    peak = peak_temperature_c(_curves(size, ambient), 0, ohm, capacity, start, pulse, rest)
    holds = peak <= family.temperature_c
    lines = [
        BenchLine("from", f"{start:.0f} °C"),
        BenchLine("reaches", f"{peak:.0f} °C", f"insulation good for {family.temperature_c:g} °C"),
    ]
    figures: dict[str, object] = {
        "start_c": _round(start, 2),
        "peak_c": _round(peak, 2),
        "rating_c": family.temperature_c,
        "holds": holds,
    }
    if seconds <= ADIABATIC_LIMIT_S and start < family.temperature_c and current_a > 0:
        stands = withstand_s(current_a, size.area_mm2, start, family.temperature_c)
        lines.append(BenchLine("no heat leaving", f"{stands:.2f} s", "to its rating, I²t = k²S²"))
        figures["adiabatic_s"] = _round(stands, 4)
    return BenchAnswer(
        f"{size.gauge} {family.code} gets to {peak:.0f} °C" + ("." if holds else ": too hot."),
        holds,
        tuple(lines),
        figures,
        ("Heat balance with the wire's own heat capacity", "k: IEC 60949, from memory"),
    )


def convert_gauge(i: Inputs) -> BenchAnswer:
    both = convert(i.text("text"))
    return BenchAnswer(
        f"{i.text('text')}: "
        + ", ".join(f"{v:g}" if isinstance(v, float) else str(v) for k, v in both.items() if k != "kind"),
        True,
        tuple(BenchLine(k.replace("_", " "), str(v)) for k, v in both.items() if k != "kind"),
        both,
        ("AWG: ASTM B258",),
    )
