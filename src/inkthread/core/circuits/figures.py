"""Figures that are typed of a device or a load: what it draws, carries, gives, and the leads it has."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import replace
from typing import TYPE_CHECKING, Any

from inkthread.core.quantity import (
    QuantityError,
    parse_capacity_ah,
    parse_current_a,
    parse_gauge,
    parse_length_mm,
    parse_percent,
    parse_power_w,
    parse_resistance_ohm,
    parse_time_s,
    parse_voltage_v,
)
from inkthread.core.record import record
from inkthread.core.typed.grammar import TypedError

if TYPE_CHECKING:
    from lark import Token, Tree


@record
class Ratings:
    """What was said of a device, in A, s, percent, Ah, V, ohm, mm; None where nothing was."""

    current_a: float | None = None
    peak_a: float | None = None
    peak_s: float | None = None
    inrush_a: float | None = None
    inrush_s: float | None = None
    duty_percent: float | None = None
    cycle_s: float | None = None
    capacity_ah: float | None = None
    service: str | None = None
    rated_v: float | None = None
    """What it is made for; of a converter, what it makes."""
    resistance_ohm: float | None = None
    coil_a: float | None = None
    contact_a: float | None = None
    fault_a: float | None = None
    limit_a: float | None = None
    fuse_a: float | None = None
    lead_gauge: str | None = None
    lead_mm: float | None = None
    load_kind: str | None = None
    least_v: float | None = None
    """Below this it does not work."""


OF_FIELDS = {"coil": "coil_a", "cont": "contact_a", "faul": "fault_a", "shor": "fault_a", "limi": "limit_a",
       "fuse": "fuse_a"}  # fmt: skip
"""What a figure is of, by the first letters of the word before it."""


def read_figures(tree: Tree[Token], text: str, volts: float) -> Ratings:
    """The figures among the parts of a parsed statement. Raises TypedError."""
    figures = [p for p in tree.children if getattr(p, "data", "") not in ("", "word", "bracket", "because")]
    return figure_ratings(figures, (0, len(text)), volts)


def figure_ratings(figures: Sequence[Any], at: tuple[int, int], volts: float) -> Ratings:
    """What parsed figures say together. Watts make amperes at the volts that are said with them, else at
    ``volts``. Raises TypedError for letters ``at`` where one is no quantity or something is said twice.
    """
    said = Ratings()
    texts: dict[str, str] = {}
    led = any(f.data == "leads" for f in figures)
    try:
        for figure in figures:
            if figure.data == "volts":
                said = replace(said, rated_v=parse_voltage_v(str(figure.children[0])))
        for figure in figures:
            if figure.data in ("volts", "leads"):
                continue
            values = {k: v for k, v in _values(figure, said.rated_v or volts, led).items() if v is not None}
            typed = " ".join(str(t) for t in figure.children)
            twice = next((k for k in values if getattr(said, k) is not None), None)
            if twice is not None:
                raise TypedError(
                    f"{texts[twice]!r} stands in the name, and {typed!r} is said as well. "
                    "Say once what it draws, like M1 water pump 7 A, peak 14 A for 2 s.",
                    *at,
                )
            texts.update(dict.fromkeys(values, typed))
            said = replace(said, **values)
    except QuantityError as error:
        raise TypedError(str(error), *at) from None
    return said


# One line for each rule of the grammar.
def _values(figure: Any, volts: float, led: bool) -> dict[str, Any]:  # noqa: C901
    tokens = {t.type: str(t) for t in figure.children if t.type != "SEP"}
    rule = figure.data
    seconds = (
        parse_time_s(re.sub(r"^(?:for|in)\s+", "", tokens["FOR"], flags=re.I)) if "FOR" in tokens else None
    )
    if rule == "settles":
        high, low = (str(t) for t in figure.children if t.type == "AMOUNT")
        return {"current_a": _amperes(low, volts), "peak_a": _amperes(high, volts), "peak_s": seconds}
    if rule in ("peak", "inrush"):
        return {f"{rule}_a": _amperes(tokens["AMOUNT"], volts), f"{rule}_s": seconds}
    if rule == "current":
        return {"current_a": _amperes(tokens["AMOUNT"], volts)}
    if rule == "amount_of":
        return {OF_FIELDS[tokens["OF"].lower()[:4]]: _amperes(tokens["AMOUNT"], volts)}
    if rule == "ohms_of":
        return {OF_FIELDS[tokens["OF"].lower()[:4]]: _through(tokens["OHMS"], volts)}
    if rule == "ohms":
        ohm = parse_resistance_ohm(tokens["OHMS"])
        return {"current_a": _through(tokens["OHMS"], volts), "resistance_ohm": ohm}
    if rule == "turns":
        return _turns(tokens["TURNS"])
    if rule == "duty":
        duty = parse_percent(re.sub(r"^at\s+", "", tokens["PERCENT"], flags=re.I))
        cycle = re.search(r"\d.*?[a-z]+", tokens.get("CYCLE", ""), re.I)
        return {"duty_percent": duty, "cycle_s": parse_time_s(cycle[0]) if cycle else None}
    if rule == "capacity":
        return {"capacity_ah": parse_capacity_ah(tokens["CAPACITY"])}
    if rule == "service":
        return {"service": tokens["SERVICE"].lower()}
    if rule == "load_kind":
        return {"load_kind": " ".join(tokens["LOAD_KIND"].lower().split())}
    if rule == "least":
        return {"least_v": parse_voltage_v(tokens["VOLTS"])}
    if rule == "gauge":
        return {"lead_gauge": parse_gauge(tokens["GAUGE"]).name}
    if rule == "length" and led:
        return {"lead_mm": parse_length_mm(tokens["LENGTH"])}
    raise QuantityError(f"{figure.children[0]} is not understood here.")


def _turns(text: str) -> dict[str, float]:
    times = re.findall(r"\d+(?:[.,]\d+)?\s*[a-z]+", text, re.IGNORECASE)
    on = parse_time_s(times[0])
    whole = parse_time_s(times[1]) if len(times) > 1 else 3600.0 if "hour" in text.lower() else 60.0
    if on > whole:
        raise QuantityError(f"{text.strip()!r} is on for longer than one turn takes.")
    return {"duty_percent": round(on / whole * 100, 6), "cycle_s": whole}


def _amperes(text: str, volts: float) -> float:
    """Amperes as typed, or of watts at a voltage; ``2 x 21 W`` is twice as much."""
    times, _, each = re.sub("[xX×]", "x", text).rpartition("x")
    if times:
        return int(times) * _amperes(each, volts)
    if not re.search(r"w(atts?)?$", text.strip(), re.IGNORECASE):
        return parse_current_a(text)
    return float(f"{parse_power_w(text) / volts:.3g}")


def _through(text: str, volts: float) -> float:
    """Amperes through a resistance at a voltage."""
    ohm = parse_resistance_ohm(text)
    if ohm <= 0:
        raise QuantityError(f"{text!r} would draw without end. Write what it has, like 10 ohm.")
    return float(f"{volts / ohm:.3g}")
