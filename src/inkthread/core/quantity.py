"""Quantities as builders write them, parsed to SI; ``measures`` writes them.

Lengths, areas, gauges, currents, voltages, temperatures and percentages. Inside, lengths are mm,
areas mm2, currents A, voltages V, temperatures deg C. Conversion happens here, once.
"""

from __future__ import annotations

import math
import re
from collections.abc import Callable
from typing import Literal

from inkthread.core.measures import GRAMS_PER_OUNCE, METRIC, MM_PER_INCH, Measures
from inkthread.core.physics.conductor import (
    awg_area_mm2,
    awg_name,
)
from inkthread.core.record import record

Kind = Literal["length", "area", "current", "voltage", "temperature", "percent", "power", "number"]


class QuantityError(ValueError):
    """The text is not a quantity of the kind asked for. The message says what would be."""


_MM: dict[str, float] = {
    "": 1.0,
    "mm": 1.0,
    "cm": 10.0,
    "dm": 100.0,
    "m": 1000.0,
    "metre": 1000.0,
    "metres": 1000.0,
    "meter": 1000.0,
    "meters": 1000.0,
    "millimetre": 1.0,
    "millimetres": 1.0,
    "millimeters": 1.0,
    "centimetres": 10.0,
    "centimeters": 10.0,
    "km": 1_000_000.0,
    "um": 0.001,
    "µm": 0.001,
    "in": MM_PER_INCH,
    "inch": MM_PER_INCH,
    "inches": MM_PER_INCH,
    '"': MM_PER_INCH,
    "″": MM_PER_INCH,
    "''": MM_PER_INCH,
    "ft": 12 * MM_PER_INCH,
    "foot": 12 * MM_PER_INCH,
    "feet": 12 * MM_PER_INCH,
    "'": 12 * MM_PER_INCH,
    "′": 12 * MM_PER_INCH,
    "yd": 36 * MM_PER_INCH,
    "yard": 36 * MM_PER_INCH,
    "yards": 36 * MM_PER_INCH,
    "thou": MM_PER_INCH / 1000,
    "mil": MM_PER_INCH / 1000,
    "mils": MM_PER_INCH / 1000,
}
_AMPERES = {
    "": 1.0, "a": 1.0, "amp": 1.0, "amps": 1.0, "ampere": 1.0, "amperes": 1.0, "adc": 1.0, "aac": 1.0,
    "ma": 1e-3, "milliamps": 1e-3, "ua": 1e-6, "µa": 1e-6, "ka": 1e3,
}  # fmt: skip
_VOLTS = {
    "": 1.0, "v": 1.0, "volt": 1.0, "volts": 1.0, "vdc": 1.0, "vac": 1.0, "mv": 1e-3, "millivolts": 1e-3,
    "kv": 1e3,
}  # fmt: skip
_WATTS = {"": 1.0, "w": 1.0, "watt": 1.0, "watts": 1.0, "kw": 1e3, "mw": 1e-3}
_SECONDS = {
    "": 1.0, "s": 1.0, "sec": 1.0, "secs": 1.0, "second": 1.0, "seconds": 1.0, "ms": 1e-3,
    "milliseconds": 1e-3, "min": 60.0, "mins": 60.0, "minute": 60.0, "minutes": 60.0, "h": 3600.0,
    "hr": 3600.0, "hrs": 3600.0, "hour": 3600.0, "hours": 3600.0,
}  # fmt: skip
_OHMS = {
    "": 1.0, "ohm": 1.0, "ohms": 1.0, "ω": 1.0, "mohm": 1e-3, "mohms": 1e-3, "mω": 1e-3,
    "milliohm": 1e-3, "milliohms": 1e-3, "kohm": 1e3, "kohms": 1e3, "kω": 1e3, "megohm": 1e6, "megohms": 1e6,
    "uohm": 1e-6, "µω": 1e-6, "µohm": 1e-6,
}  # fmt: skip
_GRAMS = {
    "": 1.0, "g": 1.0, "gram": 1.0, "grams": 1.0, "kg": 1000.0, "kilo": 1000.0, "kilos": 1000.0,
    "kilogram": 1000.0, "kilograms": 1000.0, "oz": GRAMS_PER_OUNCE, "ounce": GRAMS_PER_OUNCE,
    "ounces": GRAMS_PER_OUNCE, "lb": 453.59237, "lbs": 453.59237, "pound": 453.59237, "pounds": 453.59237,
}  # fmt: skip
_KCMIL_MM2 = math.pi / 4 * MM_PER_INCH**2 / 1000
"""A thousand circular mils: the area of a circle a mil across, a thousand times."""
_AMPERE_HOURS = {"": 1.0, "ah": 1.0, "mah": 1e-3}
_AREA = {
    "": 1.0, "mm2": 1.0, "mm²": 1.0, "mm^2": 1.0, "sqmm": 1.0, "qmm": 1.0, "kcmil": _KCMIL_MM2,
    "mcm": _KCMIL_MM2, "cmil": _KCMIL_MM2 / 1000, "cmils": _KCMIL_MM2 / 1000,
}  # fmt: skip
_MEGA = re.compile(r"(?<![A-Za-zµ])M(A|V|W|Ah|s|g|S|G|AH|OHMS?|VDC)(?![A-Za-z])")
_MEGA_OHM = re.compile(r"(?<![A-Za-zµ])M(?=Ω|Ω|ohms?\b)")

_NUMBER = r"(?:\d+[.,]\d+|[.,]\d+|\d+)"
_TERM = re.compile(
    rf"\s*(?P<whole>{_NUMBER})?(?:\s*(?P<num>\d+)\s*/\s*(?P<den>\d+)|\s*(?P<vulgar>[½¼¾⅛⅜⅝⅞]))?"
    r"\s*(?P<unit>''|[a-zµωΩ°^²\"'″′%]*2?(?=$|[\s\d.,]))",
    re.IGNORECASE,
)
_VULGAR = {"½": 0.5, "¼": 0.25, "¾": 0.75, "⅛": 0.125, "⅜": 0.375, "⅝": 0.625, "⅞": 0.875}


def _number(text: str) -> float:
    if re.fullmatch(r"\d+,\d{3}", text):
        raise QuantityError(f"{text!r} could be read two ways. Write it without the comma.")
    return float(text.replace(",", "."))


def _terms(text: str) -> list[tuple[float, str]]:
    """The numbers of the text, each with its unit: ``5 ft 3`` is [(5, "ft"), (3, "")]."""
    terms: list[tuple[float, str]] = []
    at = 0
    text = text.strip()
    # "7 5/8 in": the whole number and the fraction are one term; "12 1/2" likewise.
    while at < len(text):
        match = _TERM.match(text, at)
        if match is None or match.end() == at:
            raise QuantityError(f"{text!r} is not understood.")
        whole, num, den, vulgar = (match[g] for g in ("whole", "num", "den", "vulgar"))
        if whole is None and num is None and vulgar is None:
            raise QuantityError(f"{text!r} has no number where one is expected.")
        value = _number(whole) if whole else 0.0
        if num is not None and den is not None:
            if int(den) == 0:
                raise QuantityError(f"{text!r} divides by zero.")
            value += int(num) / int(den)
        if vulgar:
            value += _VULGAR[vulgar]
        terms.append((value, match["unit"].lower()))
        at = match.end()
        while at < len(text) and text[at].isspace():
            at += 1
    if not terms:
        raise QuantityError("Nothing was typed.")
    return terms


def _fraction_first(text: str) -> str:
    """``5/16"`` has no whole number: give it one, so that 5 is not read as whole."""
    return re.sub(r"(?<![\d/.,])(\d+)\s*/\s*(\d+)", r"0 \1/\2", text)


def _split_whole(text: str) -> str:
    """``7 5/8`` must not become ``7 0 5/8``."""
    return re.sub(r"(\d+)[\s-]+0 (\d+)/(\d+)", r"\1 \2/\3", _fraction_first(text))


def _check(value: float, text: str) -> float:
    if not math.isfinite(value):
        raise QuantityError(f"{text!r} is not a usable number.")
    return value


_APART = re.compile(r"([va]) +(?=[ad]c\b)")
"""Between a unit and the kind of current: ``12 V DC``."""


def _scaled(text: str, units: dict[str, float], what: str, example: str) -> float:
    terms = _terms(_APART.sub(r"\1", text))
    if len(terms) != 1:
        raise QuantityError(f"{text!r} is not one {what}. Write it like {example}.")
    value, unit = terms[0]
    if unit not in units:
        raise QuantityError(f"{text!r} is not a {what}: unit {unit!r} is not known. Write it like {example}.")
    return _check(value * units[unit], text)


def parse_length_mm(text: str, units: Measures = METRIC) -> float:
    """Length in mm. A bare number is mm, or inches where the document is in inches.

    Understands ``7 5/8 in``, ``5/16"``, ``5 ft 3``, ``5' 3 1/2"``, ``47 thou``, ``1.2 m``.

    >>> [round(parse_length_mm(text), 3) for text in ("7 5/8 in", "5 ft 3", "1.2 m")]
    [193.675, 1600.2, 1200.0]
    """
    example = "340 mm, 1.2 m, 7 5/8 in or 5 ft 3"
    # As it is shown in both systems, the other behind it: 340 mm (13 3/8 in).
    body = re.sub(r"(?<=[a-z\"'])\s*\([^()]*\)$", "", text.strip().lower())
    if body.startswith("-"):
        raise QuantityError(f"{text!r} is negative. A length cannot be: write it like {example}.")
    terms = _terms(_split_whole(body))
    bare = MM_PER_INCH if units.length == "inch" else 1.0
    total = 0.0
    previous: str | None = None
    feet = {"ft", "foot", "feet", "'", "′"}
    for value, unit in terms:
        if unit == "" and previous in feet:
            scale = MM_PER_INCH
        elif unit == "":
            scale = bare
        elif unit in _MM:
            scale = _MM[unit]
        else:
            raise QuantityError(f"{text!r}: unit {unit!r} is not a length. Write it like {example}.")
        if previous is not None and previous not in feet and not (previous == "m" and unit in ("cm", "mm")):
            raise QuantityError(f"{text!r} is not one length. Write it like {example}.")
        total += value * scale
        previous = unit
    return _check(total, text)


def parse_current_a(text: str) -> float:
    """Current in A: ``11``, ``11 A``, ``350 mA``.

    >>> round(parse_current_a("350 mA"), 6)
    0.35
    """
    return _scaled(_refuse_sign(text, "current"), _AMPERES, "current", "11 A or 350 mA")


def parse_voltage_v(text: str) -> float:
    """Voltage in V: ``13.2``, ``13.2 V``, ``500 mV``.

    >>> parse_voltage_v("13.2 V")
    13.2
    """
    return _scaled(_refuse_sign(text, "voltage"), _VOLTS, "voltage", "13.2 V")


def parse_power_w(text: str) -> float:
    """Power in W: ``55``, ``55 W``, ``1.2 kW``."""
    return _scaled(_refuse_sign(text, "power"), _WATTS, "power", "55 W")


def parse_time_s(text: str) -> float:
    """Time in s: ``10``, ``10 s``, ``32 ms``, ``5 min``, ``2 h``.

    >>> parse_time_s("5 min")
    300.0
    """
    return _scaled(_refuse_sign(text, "time"), _SECONDS, "time", "10 s or 5 min")


def parse_resistance_ohm(text: str) -> float:
    """Resistance in ohm: ``120``, ``8 mohm``, ``0.02 Ω``.

    >>> parse_resistance_ohm("8 mohm")
    0.008
    """
    return _scaled(_refuse_sign(text, "resistance"), _OHMS, "resistance", "8 mohm or 0.02 ohm")


def parse_mass_g(text: str, units: Measures = METRIC) -> float:
    """Read a mass: ``260 g``, ``0.26 kg``, ``9 oz``, ``1.5 lb``. A bare number is in g, or oz where asked."""
    body = _refuse_sign(text, "mass")
    return _scaled(_unless_said(body, units.mass), _GRAMS, "mass", "260 g or 9 oz")


def parse_capacity_ah(text: str) -> float:
    """Capacity in Ah: ``10``, ``10 Ah``, ``2200 mAh``."""
    return _scaled(_refuse_sign(text, "capacity"), _AMPERE_HOURS, "capacity", "10 Ah")


def _refuse_sign(text: str, what: str) -> str:
    """The text in small letters, a megohm told from a milliohm first. Raises QuantityError."""
    if text.strip().startswith("-"):
        raise QuantityError(f"{text!r} is negative. Write the {what} without a sign.")
    large = _MEGA.search(text)
    if large is not None:
        unit = large[1] if large[1] in ("A", "V", "W", "Ah") else large[1].lower()
        raise QuantityError(
            f"{text!r} could be read two ways: M{unit} is a million, m{unit} a thousandth. "
            f"Write {'megohm or mohm' if unit.startswith('ohm') else f'm{unit}'}, or the number in full."
        )
    return _MEGA_OHM.sub("meg", text).replace("megΩ", "megohm").replace("megΩ", "megohm").strip().lower()


def parse_area_mm2(text: str) -> float:
    """Area in mm2: ``0.75``, ``0.75 mm2``, or the area of a gauge such as ``22 AWG``.

    >>> round(parse_area_mm2("22 AWG"), 3)
    0.326
    """
    if re.search(r"awg|#|/0", text.lower()):
        return parse_gauge(text).area_mm2
    return _scaled(_refuse_sign(text, "area"), _AREA, "area", "0.75 mm2")


def parse_percent(text: str) -> float:
    """Percentage: ``3``, ``3 %``."""
    return _scaled(_refuse_sign(text, "percentage"), {"": 1.0, "%": 1.0, "percent": 1.0}, "percentage", "3 %")


def parse_number(text: str) -> float:
    """A plain number."""
    return _scaled(text.strip().lower(), {"": 1.0}, "number", "12")


def parse_temperature_c(text: str, units: Measures = METRIC) -> float:
    """Temperature in deg C: ``60``, ``60C``, ``-40 °C``, ``140 F``, ``333 K``. A bare number is in deg C, or
    in deg F where asked.

    >>> parse_temperature_c("140 F"), parse_temperature_c("-40 °C")
    (60.0, -40.0)
    """
    body = text.strip().lower().replace("−", "-").replace("deg", "").replace("°", "")
    match = re.fullmatch(rf"(-)?\s*({_NUMBER})\s*([cfk]?)", body)
    if match is None:
        raise QuantityError(f"{text!r} is not a temperature. Write it like 60 C or 140 F.")
    value = _number(match[2]) * (-1 if match[1] else 1)
    unit = match[3] or units.temperature.lower()
    if unit == "f":
        value = (value - 32) / 1.8
    elif unit == "k":
        value -= 273.15
    if value < -273.15:
        raise QuantityError(f"{text!r} is below absolute zero.")
    return _check(value, text)


@record
class Gauge:
    """A wire gauge as written: ``name`` as shown, ``awg`` number or None, area in mm2."""

    name: str
    awg: int | None
    area_mm2: float


def parse_gauge(text: str) -> Gauge:
    """A gauge in either system: ``18 AWG``, ``#18``, ``2/0``, ``0000``, ``0.75 mm2``.

    A bare whole number is read as AWG; a bare decimal as mm2.

    >>> parse_gauge("2/0").name, round(parse_gauge("#18").area_mm2, 3)
    ('2/0 AWG', 0.823)
    """
    body = text.strip().lower().replace("awg", " awg ").replace("  ", " ").strip()
    match = re.fullmatch(r"(?:(?:awg|#|ga)\s*)?(\d+/0|0{1,4}|\d{1,2})\s*(?:awg|ga|gauge)?", body)
    if match is not None:
        token = match[1]
        if token.endswith("/0"):
            number = 1 - int(token[:-2])
        elif set(token) == {"0"}:
            number = 1 - len(token)
        else:
            number = int(token)
        if -3 <= number <= 40:
            return Gauge(f"{awg_name(number)} AWG", number, awg_area_mm2(number))
        raise QuantityError(f"{text!r} is outside 4/0 to 40 AWG. For an area write it like 2.5 mm2.")
    area = _scaled(_refuse_sign(text, "area"), _AREA, "gauge", "18 AWG or 0.75 mm2")
    if not 0.005 <= area <= 1000:
        raise QuantityError(f"{text!r} is not a usable conductor area. Write it like 18 AWG or 0.75 mm2.")
    return Gauge(f"{area:g} mm²", None, area)


PER_LENGTH = re.compile(
    r"(?P<of>.*?)\s*(?:/|\bper\b)\s*(?P<many>1000|k)?\s*"
    r"(?P<unit>m|metre|meter|km|ft|foot|feet|in|yd|m2|m²)$",
    re.IGNORECASE,
)
"""A figure for a length: ``24.7 mohm/m``, ``16.2 ohm/1000 ft``, ``5 g/m``."""


def _per_metre(field: str, text: str) -> float:
    """A figure for one metre (or square metre), in the unit its field's name begins with."""
    body = text.strip()
    match = PER_LENGTH.fullmatch(body)
    of = match["of"] if match is not None else body
    metres = 1.0
    if match is not None and not match["unit"].lower().startswith(("m2", "m²")):
        metres = _MM[match["unit"].lower()] / 1000 * (1000 if match["many"] else 1)
    if "_mohm_" in field or "_ohm_" in field:
        whole = parse_resistance_ohm(of if re.search(r"[a-zA-ZΩΩω]", of) else f"{of} {_ohm_of(field)}")
        return whole * (1000 if "_mohm_" in field else 1) / metres
    if "_g_" in field:
        return parse_mass_g(of) / metres
    if "_w_" in field:
        return parse_power_w(of)
    return parse_number(of) / metres


_TURNS = re.compile(
    r"(?P<many>.+?)\s*(?:turns?|twists?)?\s*(?:/|\bper\b|\ba\b)\s*(?P<unit>m|metre|meter|ft|foot|in|inch|cm)",
    re.IGNORECASE,
)
"""A twist by its turns for a length: ``10 turns/ft``, ``33 per metre``."""


def _ohm_of(field: str) -> str:
    return "mohm" if "_mohm_" in field else "ohm"


def _lay_mm(text: str, units: Measures) -> float:
    turns = _TURNS.fullmatch(text.strip())
    if turns is None:
        return parse_length_mm(text, units)
    many = parse_number(turns["many"])
    if many <= 0:
        raise QuantityError(f"{text!r} is not a twist. Write it like 10 turns/ft or 30 mm.")
    return _MM[turns["unit"].lower()] / many


def _unless_said(text: str, unit: str, said: str = r"[a-z]", flags: int = 0) -> str:
    """The text with its field's own unit where no unit was typed."""
    return text if re.search(said, text, flags) else f"{text} {unit}"


UNIT_SYMBOLS = {
    "mm": "mm", "mm2": "mm²", "a": "A", "v": "V", "c": "°C", "s": "s", "m": "m", "percent": "%",
    "mohm": "mΩ", "ah": "Ah", "mv": "mV",
}  # fmt: skip
"""The unit that a field's name ends in, as it is written."""
_BY_UNIT: dict[str, Callable[[str, Measures], float]] = {
    "mm": parse_length_mm,
    "m": lambda text, _: parse_length_mm(_unless_said(text, "m", r"[a-z'\"]")) / 1000,
    "mm2": lambda text, _: parse_area_mm2(text),
    "g": parse_mass_g,
    "a": lambda text, _: parse_current_a(text),
    "v": lambda text, _: parse_voltage_v(text),
    "mv": lambda text, _: parse_voltage_v(_unless_said(text, "mV")) * 1000,
    "c": parse_temperature_c,
    "percent": lambda text, _: parse_percent(text),
    "s": lambda text, _: parse_time_s(text),
    "min": lambda text, _: parse_time_s(_unless_said(text, "min", flags=re.IGNORECASE)) / 60,
    "mohm": lambda text, _: parse_resistance_ohm(_unless_said(text, "mohm", r"[a-zΩω]")) * 1000,
    "ah": lambda text, _: parse_capacity_ah(text),
    "deg": lambda text, _: parse_number(re.sub(r"\s*(?:°|deg|degrees?)\s*$", "", text, flags=re.IGNORECASE)),
}
"""How a field is read, by the unit that its name ends in."""


def parse_for_field(field: str, text: str, units: Measures = METRIC) -> float:
    """Read typed text for a document field, by the unit its name ends in (``length_mm``).

    >>> parse_for_field("length_mm", "340"), parse_for_field("resistance_mohm", "8")
    (340.0, 8.0)
    """
    if "_per_m" in field:
        return _per_metre(field, text)
    if field == "lay_mm":
        return _lay_mm(text, units)
    name, _, unit = field.rpartition("_")
    if name and unit in _BY_UNIT:
        return _BY_UNIT[unit](text, units)
    return parse_number(text)
