"""Figures as they are written: in the units that a harness asks for, with the digits that tell."""

from __future__ import annotations

import math
from collections.abc import Mapping
from itertools import product
from typing import Any, Literal

from inkthread.core.record import record
from inkthread.core.tolerances import WHOLE

MM_PER_INCH = 25.4
FINE_MM = 20.0
"""Below it a length has a digit more."""
GRAMS_PER_OUNCE = 28.349523125
"""Avoirdupois: the pound is 453.59237 g (NIST Handbook 44, appendix C)."""

LengthUnits = Literal["metric", "inch", "both"]
MassUnits = Literal["g", "oz"]
TemperatureUnits = Literal["C", "F"]


@record
class Measures:
    """The units in which figures are shown, and in which a bare number is meant."""

    length: LengthUnits = "metric"
    mass: MassUnits = "g"
    temperature: TemperatureUnits = "C"


LENGTHS: tuple[LengthUnits, ...] = ("metric", "inch", "both")
MASSES: tuple[MassUnits, ...] = ("g", "oz")
TEMPERATURES: tuple[TemperatureUnits, ...] = ("C", "F")
_ALL = {asked: Measures(*asked) for asked in product(LENGTHS, MASSES, TEMPERATURES)}
METRIC = _ALL["metric", "g", "C"]


def measured_in(length: LengthUnits, mass: MassUnits, temperature: TemperatureUnits) -> Measures:
    """The one object that stands for these units."""
    return _ALL[length, mass, temperature]


UNITS_OF_BRIEF = ("units", "mass_unit", "temperature_unit")


def measures_of(brief: Mapping[str, Any]) -> Measures:
    """The units that the brief of a plain document asks for."""
    return _ALL[brief.get("units", "metric"), brief.get("mass_unit", "g"), brief.get("temperature_unit", "C")]


def format_length(value_mm: float, units: Measures = METRIC, beside_mm: float | None = None) -> str:
    """A length as a builder reads it: ``340 mm``, ``12 3/8 in`` (to 1/16 in; 0.01 in when
    short), or both.

    Beside a limit it has the digits that tell it from that.

    >>> format_length(314.3, Measures("inch")), format_length(340.2), format_length(340.2, Measures("both"))
    ('12 3/8 in', '340 mm', '340 mm (13 3/8 in)')
    >>> format_length(50.2, beside_mm=50)
    '50.2 mm'
    """
    if units.length == "inch":
        return f"{_inches(value_mm)} in"
    if beside_mm is not None:
        metric = f"{told_apart(value_mm, beside_mm, 0 if value_mm >= FINE_MM else 1)} mm"
    else:
        metric = f"{value_mm:.0f} mm" if value_mm >= FINE_MM else f"{round(value_mm, 1):g} mm"
    return f"{metric} ({_inches(value_mm)} in)" if units.length == "both" else metric


def _inches(value_mm: float) -> str:
    """Sixteenths, which are too coarse for a strip or a seal: below 20 mm hundredths."""
    if value_mm < FINE_MM:
        return f"{value_mm / MM_PER_INCH:.2f}"
    whole, part = divmod(round(value_mm / MM_PER_INCH * 16), 16)
    if part == 0:
        return f"{whole}"
    divisor = math.gcd(part, 16)
    fraction = f"{part // divisor}/{16 // divisor}"
    return f"{whole} {fraction}" if whole else fraction


def bare_length(value_mm: float, units: Measures = METRIC) -> str:
    """A length under a heading that has its unit (``length_symbol``).

    >>> bare_length(340.2), bare_length(340.2, Measures("inch")), bare_length(340.2, Measures("both"))
    ('340', '13 3/8', '340 (13 3/8)')
    """
    return format_length(value_mm, units).replace(" mm", "").replace(" in", "")


def length_symbol(units: Measures) -> str:
    """The unit that lengths are in, for a heading: ``mm``, ``in`` or ``mm (in)``."""
    return {"metric": "mm", "inch": "in", "both": "mm (in)"}[units.length]


def format_mass(
    value_g: float, units: Measures = METRIC, digits: int = 0, beside_g: float | None = None
) -> str:
    """A mass: ``260 g``, or ``9.2 oz`` with a digit more; beside a limit with the digits that tell.

    >>> format_mass(260), format_mass(260, Measures(mass="oz"))
    ('260 g', '9.2 oz')
    """
    each = GRAMS_PER_OUNCE if units.mass == "oz" else 1.0
    digits += units.mass == "oz"
    said = f"{value_g / each:.{digits}f}"
    if beside_g is not None:
        said = told_apart(value_g / each, beside_g / each, digits)
    return f"{said} {units.mass}"


def told_apart(value: float, limit: float, digits: int = 1) -> str:
    """A figure with as many digits, and no fewer than ``digits``, as tell it from its limit.

    At most three digits are added; what is still alike then is as good as at its limit.

    >>> told_apart(3.03, 3.0), told_apart(2.5, 3.0), told_apart(2.998, 3.0), told_apart(99.6, 100, 0)
    ('3.03', '2.5', '2.998', '99.6')
    """
    for places in range(digits, digits + 4):
        said = f"{value:.{places}f}"
        if (float(said) < limit) == (value < limit) and (float(said) > limit) == (value > limit):
            return said
    return f"{value:.{digits}f}"


def format_area(area_mm2: float) -> str:
    """An area in mm2 with three significant figures."""
    return f"{area_mm2:.3g} mm²"


def format_money(value: float, currency: str, *, first: bool = False) -> str:
    """A price with its currency behind or before it, as it is written; without one where none is said.

    >>> format_money(4.5, ""), format_money(4.5, "EUR"), format_money(4.5, "£", first=True)
    ('4.50', '4.50 EUR', '£4.50')
    """
    if not currency:
        return f"{value:.2f}"
    if not first:
        return f"{value:.2f} {currency}"
    return f"{currency}{'' if len(currency) == 1 else ' '}{value:.2f}"


def bought_m(need_m: float) -> float:
    """Metres as a bill has them, which never says less than is needed: up to a whole centimetre.

    >>> bought_m(1.2341), bought_m(1.23)
    (1.24, 1.23)
    """
    return math.ceil(need_m * 100 - WHOLE) / 100


def format_current(current_a: float, beside_a: float | None = None) -> str:
    """A current: ``7.5 A``, ``40 mA``; beside a limit with the digits that tell it from that.

    >>> format_current(0.04), format_current(7.5), format_current(13.004, 13)
    ('40 mA', '7.5 A', '13.004 A')
    """
    if 0 < current_a < 0.1:
        return f"{current_a * 1000:.3g} mA"
    said = f"{current_a:.0f}" if current_a >= 999.5 else f"{current_a:.3g}"
    if beside_a is not None and float(said) == float(f"{beside_a:.3g}"):
        said = told_apart(current_a, beside_a, len(said.partition(".")[2]))
    return f"{said} A"


def format_temperature(value_c: float, units: Measures = METRIC, beside_c: float | None = None) -> str:
    """A temperature in deg C or deg F; beside a limit with the digits that tell it from that.

    >>> format_temperature(105), format_temperature(105, Measures(temperature="F"))
    ('105 °C', '221 °F')
    >>> format_temperature(150.4, beside_c=150)
    '150.4 °C'
    """
    shown, limit = value_c, beside_c
    if units.temperature == "F":
        shown = value_c * 1.8 + 32
        limit = None if limit is None else limit * 1.8 + 32
    said = f"{shown:.0f}" if limit is None else told_apart(shown, limit, 0)
    return f"{said} °{units.temperature}"
