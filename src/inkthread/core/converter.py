"""The converter: what a written quantity is in both systems."""

from __future__ import annotations

import math
import re
from collections.abc import Callable

from inkthread.core.measures import MM_PER_INCH, Measures, format_length
from inkthread.core.physics.conductor import TRADE_AWG, awg_area_mm2, awg_diameter_mm, awg_name
from inkthread.core.quantity import (
    PER_LENGTH,
    QuantityError,
    parse_capacity_ah,
    parse_current_a,
    parse_for_field,
    parse_gauge,
    parse_length_mm,
    parse_mass_g,
    parse_percent,
    parse_power_w,
    parse_resistance_ohm,
    parse_temperature_c,
    parse_time_s,
    parse_voltage_v,
)
from inkthread.core.tolerances import ROUNDING


def nearest_awg_not_losing_copper(area_mm2: float) -> int:
    """The smallest trade AWG size with at least this area in mm2 (0.75 gives 18, 1.0 gives 16).

    Source: common practice (metric to AWG, never losing copper). Raises QuantityError above 4/0.
    """
    for number in TRADE_AWG:
        if awg_area_mm2(number) >= area_mm2 * (1 - ROUNDING):
            return number
    raise QuantityError(f"{area_mm2:g} mm2 is larger than 4/0 AWG.")


def convert(text: str) -> dict[str, object]:
    """What a written quantity is in both systems (the bench's converter)."""
    try:
        gauge = parse_gauge(text)
    except QuantityError:
        gauge = None
    body = text.strip().lower()
    if gauge is not None and not re.fullmatch(r"[\d.,]+", body):
        diameter = (
            awg_diameter_mm(gauge.awg) if gauge.awg is not None else math.sqrt(4 * gauge.area_mm2 / math.pi)
        )
        both: dict[str, object] = {"kind": "gauge", "given": gauge.name}
        number = gauge.awg
        if number is None and gauge.area_mm2 <= awg_area_mm2(TRADE_AWG[-1]):
            number = nearest_awg_not_losing_copper(gauge.area_mm2)
        if number is not None:
            both["awg"] = number if number > 0 else awg_name(number)
        both["area_mm2"] = round(gauge.area_mm2, 4)
        both["diameter_mm"] = round(float(diameter), 4)
        return both
    if PER_LENGTH.fullmatch(body) is not None:
        per = _per_length(text)
        if per is not None:
            return per
    readers: tuple[tuple[str, Callable[[str], float]], ...] = (
        ("length_mm", parse_length_mm),
        ("current_a", parse_current_a),
        ("voltage_v", parse_voltage_v),
        ("power_w", parse_power_w),
        ("resistance_ohm", parse_resistance_ohm),
        ("time_s", parse_time_s),
        ("mass_g", parse_mass_g),
        ("capacity_ah", parse_capacity_ah),
        ("percent", parse_percent),
        ("temperature_c", parse_temperature_c),
    )
    refused: QuantityError | None = None
    if not re.fullmatch(r"[\d.,]+", body):
        for name, reader in readers:
            try:
                value = reader(text)
            except QuantityError as error:
                refused = error if "two ways" in str(error) else refused
                continue
            if name == "length_mm":
                return {
                    "kind": "length",
                    "length_mm": round(value, 4),
                    "inch": format_length(value, Measures("inch")),
                }
            return {"kind": name.rpartition("_")[0] or name, name: round(value, 6)}
    if refused is not None:
        raise refused
    raise QuantityError(
        f"{text!r} is not understood. Write it with its unit, like 18 AWG, 0.75 mm2, 7 5/8 in or 60 C."
    )


def _per_length(text: str) -> dict[str, object] | None:
    """A resistance or a mass for a length, in both systems."""
    for kind, field, foot in (
        ("resistance per length", "resistance_mohm_per_m", "resistance_mohm_per_ft"),
        ("mass per length", "mass_g_per_m", "mass_g_per_ft"),
    ):
        try:
            value = parse_for_field(field, text)
        except QuantityError:
            continue
        return {"kind": kind, field: round(value, 6), foot: round(value * 12 * MM_PER_INCH / 1000, 6)}
    return None
