"""Types of the design document.

Every collection is a mapping from id to entry, and every entry has an ``order``, so that a patch
never depends on a list position. Names of numbers end in their unit. Nothing here is derived.
"""

from __future__ import annotations

import re
from dataclasses import dataclass, field
from typing import Annotated, Literal

from pydantic import AfterValidator, ConfigDict, Field, Strict, StringConstraints

FORMAT = "inkthread-design"
FORMAT_NUMBER = 1

STRICT = ConfigDict(
    extra="forbid",
    allow_inf_nan=False,
    use_attribute_docstrings=True,
    json_schema_serialization_defaults_required=True,
)

Flag = Annotated[bool, Strict()]

Name = Annotated[str, StringConstraints(max_length=120)]
Note = Annotated[str, StringConstraints(max_length=1000)]
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
PinRef = Annotated[str, AfterValidator(_pin_ref)]
"""A device pin written ``device.pin``."""
WireKey = Annotated[str, StringConstraints(min_length=1, max_length=130)]

Order = Annotated[float, Strict(), Field(ge=-1e9, le=1e9)]
LengthMm = Annotated[float, Strict(), Field(ge=0, le=200_000)]
CurrentA = Annotated[float, Strict(), Field(ge=0, le=2_000)]
VoltageV = Annotated[float, Strict(), Field(gt=0, le=1_000)]
TemperatureC = Annotated[float, Strict(), Field(ge=-100, le=400)]
Percent = Annotated[float, Strict(), Field(gt=0, le=100)]

Practice = Literal["motorsport", "aviation", "marine", "model", "vehicle", "equipment"]
PinRole = Literal[
    "supply_out",
    "supply_in",
    "ground",
    "output_high",
    "output_low",
    "signal",
    "data",
    "dry_contact",
]
PathKind = Literal["fuse", "switch", "link"]
Gender = Literal["pin", "socket"]
Shell = Literal["plug", "receptacle", "none"]
Service = Literal["continuous", "intermittent"]
MeasuredHow = Literal["old part", "tape", "laid in place", "model", "guess"]
Units = Literal["metric", "inch"]


@dataclass(frozen=True, slots=True)
class Zone:
    """An environment that stretches of branch lie in."""

    __pydantic_config__ = STRICT
    order: Order
    name: Name
    ambient_c: TemperatureC
    wet: Flag = False
    vibration: Flag = False


@dataclass(frozen=True, slots=True)
class HouseRule:
    """A house rule set against the preset's value, with the builder's reason."""

    __pydantic_config__ = STRICT
    order: Order
    value: Annotated[float, Strict(), Field(ge=0, le=100_000)]
    reason: Note = ""


@dataclass(frozen=True, slots=True)
class Brief:
    """What is made, under which practice, from what supply, in what zones."""

    __pydantic_config__ = STRICT
    name: Name
    practice: Practice
    machine: Name = ""
    quantity: Annotated[int, Strict(), Field(ge=1, le=10_000)] = 1
    supply_nominal_v: VoltageV = 12.0
    supply_working_v: VoltageV = 13.2
    units: Units = "metric"
    zones: dict[Id, Zone] = field(default_factory=dict)
    house_rules: dict[Id, HouseRule] = field(default_factory=dict)


@dataclass(frozen=True, slots=True)
class DevicePin:
    """A terminal of a device."""

    __pydantic_config__ = STRICT
    order: Order
    role: PinRole
    name: Name = ""


@dataclass(frozen=True, slots=True)
class InternalPath:
    """Current may cross a device from one pin to another along this path.

    A fuse's rating is derived unless ``rating_a`` fixes it.
    """

    __pydantic_config__ = STRICT
    order: Order
    from_pin: PinId
    to_pin: PinId
    kind: PathKind = "link"
    rating_a: Annotated[float, Strict(), Field(gt=0, le=2_000)] | None = None
    reason: Note = ""


@dataclass(frozen=True, slots=True)
class Device:
    """Something the harness connects: its pins and the paths inside it."""

    __pydantic_config__ = STRICT
    order: Order
    name: Name
    kind: Name = "other"
    moving: Flag = False
    structure: Flag = False
    """True where the device is the machine's structure used as a return (a ground stud)."""
    pins: dict[PinId, DevicePin] = field(default_factory=dict)
    paths: dict[Id, InternalPath] = field(default_factory=dict)


@dataclass(frozen=True, slots=True)
class Load:
    """Current drawn by a device between a supply pin and a return pin."""

    __pydantic_config__ = STRICT
    order: Order
    device: Id
    supply_pin: PinId
    return_pin: PinId
    current_a: CurrentA
    service: Service = "continuous"


@dataclass(frozen=True, slots=True)
class CircuitEnd:
    """One device pin of a circuit (the pin is the entry's key)."""

    __pydantic_config__ = STRICT
    order: Order


@dataclass(frozen=True, slots=True)
class Circuit:
    """A set of device pins that are electrically one."""

    __pydantic_config__ = STRICT
    order: Order
    name: Name = ""
    ends: dict[PinRef, CircuitEnd] = field(default_factory=dict)


@dataclass(frozen=True, slots=True)
class Circuits:
    """Devices, loads and circuits."""

    __pydantic_config__ = STRICT
    devices: dict[Id, Device] = field(default_factory=dict)
    loads: dict[Id, Load] = field(default_factory=dict)
    circuits: dict[Id, Circuit] = field(default_factory=dict)


@dataclass(frozen=True, slots=True)
class Point:
    """A place on the route."""

    __pydantic_config__ = STRICT
    order: Order
    name: Name = ""


@dataclass(frozen=True, slots=True)
class Branch:
    """A stretch of harness between two points."""

    __pydantic_config__ = STRICT
    order: Order
    from_point: Id
    to_point: Id
    length_mm: LengthMm
    measured: MeasuredHow = "tape"
    zone: Id | None = None
    slack_mm: LengthMm | None = None
    """Slack of this branch; the house rule's when absent."""


@dataclass(frozen=True, slots=True)
class Route:
    """Points and measured branches: a tree."""

    __pydantic_config__ = STRICT
    points: dict[Id, Point] = field(default_factory=dict)
    branches: dict[Id, Branch] = field(default_factory=dict)


@dataclass(frozen=True, slots=True)
class FixedWire:
    """A value the builder set against the program's own choice for one wire."""

    __pydantic_config__ = STRICT
    order: Order
    reason: Note
    gauge: Name | None = None
    colour: Name | None = None


@dataclass(frozen=True, slots=True)
class WireChoices:
    """The wire family of the harness and fixed wires by wire key."""

    __pydantic_config__ = STRICT
    family: Name | None = None
    """A wire family code; the preset's when absent."""
    fixed: dict[WireKey, FixedWire] = field(default_factory=dict)


@dataclass(frozen=True, slots=True)
class Connector:
    """A connector (or set of terminals) on the harness, at a point of the route."""

    __pydantic_config__ = STRICT
    order: Order
    family: Name
    ways: Annotated[int, Strict(), Field(ge=1, le=200)]
    name: Name = ""
    point: Id | None = None
    shell: Shell = "plug"
    contact_gender: Gender = "socket"
    stud: Name | None = None
    """Stud size of ring terminals, such as ``M6``."""


@dataclass(frozen=True, slots=True)
class PinoutEntry:
    """Where a device pin (the entry's key) lands on the harness."""

    __pydantic_config__ = STRICT
    order: Order
    connector: Id
    cavity: Id


@dataclass(frozen=True, slots=True)
class Ends:
    """Connectors on the harness and the pinout."""

    __pydantic_config__ = STRICT
    connectors: dict[Id, Connector] = field(default_factory=dict)
    pinout: dict[PinRef, PinoutEntry] = field(default_factory=dict)


@dataclass(frozen=True, slots=True)
class Document:
    """A design document: one harness as its builder states it."""

    __pydantic_config__ = STRICT
    format: Literal["inkthread-design"]
    format_number: Literal[1]
    brief: Brief
    circuits: Circuits = field(default_factory=Circuits)
    route: Route = field(default_factory=Route)
    wire: WireChoices = field(default_factory=WireChoices)
    ends: Ends = field(default_factory=Ends)
