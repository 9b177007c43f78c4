"""What a field of the design document may hold: ids, figures with their bounds, words of a list.

Names of numbers end in their unit.
"""

from __future__ import annotations

import re
from collections.abc import Mapping
from typing import Annotated, Any, Literal, TypeVar

from pydantic import AfterValidator, ConfigDict, Field, Strict, StringConstraints

STRICT = ConfigDict(
    extra="forbid",
    allow_inf_nan=False,
    use_attribute_docstrings=True,
    json_schema_serialization_defaults_required=True,
)
"""How every entry of the document is read: nothing unknown, no number that is none."""

Flag = Annotated[bool, Strict()]

HIDDEN = re.compile("[\x00-\x08\x0b\x0c\x0e-\x1f\x7f\x80-\x9f\u202a-\u202e\u2066-\u2069\ud800-\udfff]")
"""Characters that are not written: controls, and what turns the direction of text about."""


def _written(text: str) -> str:
    if HIDDEN.search(text):
        raise ValueError("A character in it cannot be written (a control character)")
    return text


Name = Annotated[str, StringConstraints(max_length=120), AfterValidator(_written)]
Note = Annotated[str, StringConstraints(max_length=1000), AfterValidator(_written)]
_ID = re.compile(r"[A-Za-z0-9][A-Za-z0-9_+\-]{0,39}")
_PIN_ID = re.compile(r"[A-Za-z0-9_+\-]{1,40}")


def _id(text: str) -> str:
    if not _ID.fullmatch(text):
        raise ValueError("An id is letters, digits, _, + or -, at most 40, and begins with a letter or digit")
    return text


def _pin_id(text: str) -> str:
    if not _PIN_ID.fullmatch(text):
        raise ValueError("A pin's id is letters, digits, _, + or -, at most 40")
    return text


def _pin_ref(text: str) -> str:
    device, dot, pin = text.partition(".")
    if not dot or not _ID.fullmatch(device) or not _PIN_ID.fullmatch(pin):
        raise ValueError("A device pin is written device.pin, like M1.+")
    return text


Id = Annotated[str, AfterValidator(_id)]
"""An id: letters, digits, ``_``, ``+`` or ``-``, at most 40 characters."""
PinId = Annotated[str, AfterValidator(_pin_id)]
"""A pin's id as marked on the device: ``+``, ``-``, ``30``, ``H``."""
PinRefText = Annotated[str, AfterValidator(_pin_ref)]
"""A device pin written ``device.pin``."""


def _end_key(text: str) -> str:
    return _pin_ref(text) if "." in text else _id(text)


EndKey = Annotated[str, AfterValidator(_end_key)]
"""A device pin, ``M1.+``, or a connector, for all that end in it."""
StepKey = Annotated[str, StringConstraints(min_length=1, max_length=300)]
"""A step of the work: what is done, and what it is done to."""
WireKey = Annotated[str, StringConstraints(min_length=1, max_length=130)]

PartKey = Annotated[str, StringConstraints(min_length=1, max_length=100)]
"""A part's code, and the colour of wire behind it."""

Order = Annotated[float, Strict(), Field(ge=-1e9, le=1e9)]

_K = TypeVar("_K", bound=str)
_V = TypeVar("_V")


def in_order(entries: Mapping[_K, Any]) -> dict[_K, Any]:
    """Entries by their ``order``, then by id: how they stand in a file decides nothing."""
    return dict(sorted(entries.items(), key=lambda kv: (kv[1].order, kv[0])))


Entries = Annotated[dict[_K, _V], AfterValidator(in_order)]
"""A collection of the document, read in the order that its entries state."""
LengthMm = Annotated[float, Strict(), Field(ge=0, le=200_000)]
CurrentA = Annotated[float, Strict(), Field(ge=0, le=2_000)]
VoltageV = Annotated[float, Strict(), Field(gt=0, le=1_000)]
TemperatureC = Annotated[float, Strict(), Field(ge=-100, le=400)]
Percent = Annotated[float, Strict(), Field(gt=0, le=100)]
ShareOfMode = Annotated[float, Strict(), Field(ge=0, le=100)]
ResistanceMohm = Annotated[float, Strict(), Field(ge=0, le=1e6)]
TimeS = Annotated[float, Strict(), Field(ge=0, le=36_000)]
FaultA = Annotated[float, Strict(), Field(ge=0, le=200_000)]
CapacityAh = Annotated[float, Strict(), Field(gt=0, le=100_000)]
AltitudeM = Annotated[float, Strict(), Field(ge=0, le=20_000)]
RadiantWPerM2 = Annotated[float, Strict(), Field(ge=0, le=5_000)]
Day = Annotated[str, StringConstraints(pattern=r"^(\d{4}-\d{2}-\d{2})?$")]
"""A day written 2026-03-31, or nothing."""

Practice = Literal["motorsport", "aviation", "marine", "model", "vehicle", "equipment"]
PinRole = Literal[
    "supply_out",
    "supply_in",
    "ground",
    "output_high",
    "output_low",
    "signal",
    "sensor_return",
    "trigger",
    "data",
    "dry_contact",
    "drain",
    "ignition",
]
PathKind = Literal["fuse", "breaker", "switch", "relay", "contactor", "link", "diode", "regulator", "supply"]
PROTECTIVE: tuple[PathKind, ...] = ("fuse", "breaker")
CONVERTING: tuple[PathKind, ...] = ("regulator", "supply")
LoadKind = Literal["constant current", "resistive", "constant power"]
SourceKind = Literal["battery", "alternator", "charger", "solar panel", "limited supply", "protected feed"]
Threading = Literal["cascade", "star", "daisy chain", "block", "home runs"]
GroupKind = Literal["pair", "three", "shielded single", "shielded pair", "shielded three", "cable"]
ShieldRule = Literal["one end", "both ends", "each section"]
PointKind = Literal["connector", "breakout", "splice place", "opening", "clamp", "free end"]
Objective = Literal["least copper", "lightest", "cheapest", "fewest parts"]
Fitted = Literal["connector", "flying leads"]
PinData = Literal["not known", "document", "measured", "photograph"]
PointEdge = Literal["not said", "bare metal", "grommet", "soft"]
"""What the harness passes at an opening: bare metal, metal with a grommet in it, or something soft."""
Sheath = Literal["none", "sheath", "enclosure"]
"""What covers a branch throughout: nothing that counts, a sheath or conduit, a box."""
JointAs = Literal["as its part", "crimped", "soldered", "solder sleeve", "clamped", "welded"]
"""How a wire is joined to its contact, where that is not left to the contact's own data."""
Gender = Literal["pin", "socket"]
Shell = Literal["plug", "receptacle", "none"]
SpareState = Literal["plugged", "reserved", "open"]
EndState = Literal["final", "trimmed at fitting"]
"""Whether a wire is cut to its end, or left longer until it is fitted."""
CutOrder = Literal["longest", "wire part", "connector", "furthest"]
"""What is cut first: the longest; all of one wire part; all of one connector; what ends farthest away."""
CoverKind = Literal["none", "braid", "fabric", "nylon", "conduit", "spiral", "tape", "shrink"]
"""What goes over a branch."""
LabelWhen = Literal["after final sizing", "before final sizing"]
"""When a label is shrunk on: once its wire is as long as it stays, or before."""
BootWhen = Literal["before", "after"]
EngineBond = Literal["not said", "strap", "bolted bare"]
"""How an engine is joined to the frame so that current comes home: by a strap, or metal on bare metal."""
Job = Literal["new", "replacement", "extension", "adapter", "trial lead"]
Switching = Literal["not said", "sourcing", "sinking", "either"]
MateFrom = Literal["not said", "marking", "document", "tried"]
Joined = Literal["once", "at service", "at every use"]
"""How often a connector is parted and joined again."""
Service = Literal["continuous", "intermittent"]
Served = Literal["continuous", "intermittent", "critical"]
"""What a limit of voltage drop goes by: a load's duty, or that one relies on it."""
MeasuredHow = Literal["old part", "tape", "laid in place", "model", "guess"]
Currency = Annotated[str, StringConstraints(max_length=8)]
Paper = Literal["A4", "Letter"]
