"""What a calculator asks for, as text, and reading it. Errors name the field."""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping
from typing import Any, Literal

from inkthread.core.catalogue import Catalogue, WireFamily, WireSize
from inkthread.core.document.starter import practices
from inkthread.core.quantity import (
    QuantityError,
    parse_current_a,
    parse_gauge,
    parse_length_mm,
    parse_number,
    parse_percent,
    parse_resistance_ohm,
    parse_temperature_c,
    parse_time_s,
    parse_voltage_v,
)
from inkthread.core.record import record
from inkthread.core.tolerances import HAIR_MM
from inkthread.core.wire.ampacity import METHODS

FieldKind = Literal[
    "family",
    "gauge",
    "practice",
    "method",
    "bus",
    "choice",
    "current",
    "length",
    "lengths",
    "voltage",
    "temperature",
    "time",
    "resistance",
    "percent",
    "count",
    "share",
    "text",
    "wires",
    "counted lengths",
    "flag",
]

SEVERAL: tuple[FieldKind, ...] = ("wires", "counted lengths")
"""Fields that may be given more than once: what they say comes together."""


_READERS: dict[str, Callable[[str], float]] = {
    "current": parse_current_a,
    "length": parse_length_mm,
    "voltage": parse_voltage_v,
    "temperature": parse_temperature_c,
    "time": parse_time_s,
    "resistance": parse_resistance_ohm,
    "percent": parse_percent,
    "count": parse_number,
    "share": parse_number,
}


_COUNTED = re.compile(r"(?P<length>.*?)(?:\s*[x×*]\s*(?P<count>\d{1,6}))?", re.DOTALL)
_COUNTED_AT_MOST = 5000


class BenchError(QuantityError):
    """What was typed in one field of a calculator is no use. ``field`` names it."""

    def __init__(self, field: str, message: str) -> None:
        super().__init__(message)
        self.field = field


@record
class BenchField:
    """One thing a calculator asks for."""

    name: str
    label: str
    kind: FieldKind
    example: str = ""
    """What stands there at first on the screen."""
    required: bool = False
    choices: tuple[str, ...] = ()
    least: float = 0.0
    most: float = 1e9
    default: str = ""
    help: str = ""


class Inputs:
    """What was typed for one calculator, read field by field."""

    def __init__(
        self, catalogue: Catalogue, fields: tuple[BenchField, ...], given: Mapping[str, str]
    ) -> None:
        self.catalogue = catalogue
        self._fields = {f.name: f for f in fields}
        unknown = sorted(set(given) - set(self._fields))
        if unknown:
            raise BenchError(
                unknown[0], f"There is no field {unknown[0]!r}. Known: {', '.join(self._fields)}."
            )
        self._given = {k: v.strip() for k, v in given.items() if v.strip()}
        for f in fields:
            if f.required and f.name not in self._given and not f.default:
                raise BenchError(f.name, f"{f.label} is missing. Write it like {f.example}.")
        # What was typed is read even where this question has no use for it: nothing is passed over.
        for name in self._given:
            self._readable(name)

    def _readable(self, name: str) -> None:
        f = self._fields[name]
        if f.kind in _READERS:
            self.number(name)
        elif f.kind == "lengths":
            self.numbers(name)
        elif f.kind == "counted lengths":
            self.counted(name)
        elif f.kind == "gauge":
            try:
                parse_gauge(self.text(name))
            except QuantityError as error:
                raise BenchError(name, f"{f.label}: {error}") from None
        elif choices_of(self.catalogue, f):
            self.choice(name)

    def text(self, name: str) -> str:
        return self._given.get(name, self._fields[name].default)

    def has(self, name: str) -> bool:
        return bool(self.text(name))

    def flag(self, name: str) -> bool:
        return self.text(name).lower() in ("1", "yes", "true", "on")

    def number(self, name: str) -> float:
        """The field's quantity in SI (lengths in mm). Raises QuantityError naming the field."""
        f = self._fields[name]
        try:
            value = _READERS[f.kind](self.text(name))
        except QuantityError as error:
            raise BenchError(name, f"{f.label}: {error}") from None
        if not f.least <= value <= f.most:
            raise BenchError(
                name, f"{f.label}: {self.text(name)!r} is out of range. Write it like {f.example}."
            )
        if f.kind == "count" and value != int(value):
            raise BenchError(name, f"{f.label}: {self.text(name)!r} is not a whole number.")
        return value

    def optional(self, name: str) -> float | None:
        return self.number(name) if self.has(name) else None

    def numbers(self, name: str) -> list[float]:
        """Several lengths in mm, between commas."""
        f = self._fields[name]
        try:
            return [parse_length_mm(part) for part in self.text(name).split(",") if part.strip()]
        except QuantityError as error:
            raise BenchError(name, f"{f.label}: {error}") from None

    def counted(self, name: str) -> list[tuple[float, int]]:
        """Lengths in mm with how often each comes, between commas: ``1.2 m x5, 800 mm``."""
        f = self._fields[name]
        counted: list[tuple[float, int]] = []
        for part in self.text(name).split(","):
            if not part.strip():
                continue
            match = _COUNTED.fullmatch(part.strip())
            assert match is not None
            try:
                length_mm, count = parse_length_mm(match["length"]), int(match["count"] or 1)
            except QuantityError as error:
                raise BenchError(name, f"{f.label}: {error}") from None
            if not max(f.least, HAIR_MM) <= length_mm <= f.most:
                raise BenchError(
                    name, f"{f.label}: {part.strip()!r} is out of range. Write it like {f.example}."
                )
            if not 1 <= count <= _COUNTED_AT_MOST:
                raise BenchError(name, f"{f.label}: {part.strip()!r} comes {count} times; say 1 to 5000.")
            counted.append((length_mm, count))
        if not counted or sum(count for _, count in counted) > _COUNTED_AT_MOST:
            raise BenchError(name, f"{f.label}: name 1 to 5000 of them, like {f.example}.")
        return counted

    def choice(self, name: str) -> str:
        f = self._fields[name]
        known = choices_of(self.catalogue, f)
        value = self.text(name)
        if value not in known:
            raise BenchError(name, f"{f.label} {value!r}: choose one of {', '.join(known)}.")
        return value

    def family(self, name: str = "family") -> WireFamily:
        return self.catalogue.wires[self.choice(name)]

    def size(self, family: WireFamily, name: str = "gauge") -> WireSize:
        """The size of a family that is typed, in either system. Raises QuantityError."""
        text = self.text(name)
        exact = family.size(text)
        if exact is not None:
            return exact
        try:
            wanted = parse_gauge(text).name
        except QuantityError as error:
            raise BenchError(name, f"{self._fields[name].label}: {error}") from None
        size = family.size(wanted)
        if size is None:
            gauges = ", ".join(s.gauge for s in family.sizes)
            raise BenchError(
                name,
                f"{self._fields[name].label}: {family.code} is not made in {wanted}. It is made in {gauges}.",
            )
        return size


def choices_of(catalogue: Catalogue, field: BenchField) -> tuple[str, ...]:
    """What may stand in a field that is chosen, not typed; nothing for the others."""
    known: dict[str, tuple[str, ...]] = {
        "practice": practices(),
        "method": METHODS,
        "family": tuple(catalogue.wires),
        "bus": tuple(catalogue.buses),
    }
    return known.get(field.kind, field.choices)


@record
class BenchLine:
    """One line of a calculator's answer as the screen shows it."""

    label: str
    value: str
    note: str = ""


@record
class BenchAnswer:
    """An answer: in a sentence, in lines, its figures by name, where it comes from."""

    sentence: str
    holds: bool
    lines: tuple[BenchLine, ...]
    figures: dict[str, Any]
    sources: tuple[str, ...]

    @property
    def plain(self) -> str:
        """The sentence without the marks of what is set bold."""
        return self.sentence.replace("**", "")


@record
class Calculator:
    """A quick calculator: what it asks for and what it answers."""

    name: str
    label: str
    asks: str
    fields: tuple[BenchField, ...]
    run: Callable[[Inputs], BenchAnswer]
    puts: bool = True
    """Whether what was asked can be put into a harness."""
