"""Types of what the builder chose of wire and ends: the two rooms of the document that say so."""

from __future__ import annotations

from dataclasses import field
from typing import Annotated

from pydantic import Field, Strict, StringConstraints

from inkthread.core.document.values import (
    STRICT,
    BootWhen,
    CoverKind,
    CutOrder,
    Day,
    EndKey,
    EndState,
    Entries,
    Flag,
    Gender,
    Id,
    Joined,
    JointAs,
    LabelWhen,
    LengthMm,
    MateFrom,
    Name,
    Note,
    Objective,
    Order,
    PartKey,
    PinId,
    PinRefText,
    Shell,
    SpareState,
    StepKey,
    TemperatureC,
    VoltageV,
    WireKey,
)
from inkthread.core.record import record


@record
class FixedWire:
    """A value the builder set against the program's own choice for one wire."""

    __pydantic_config__ = STRICT
    order: Order
    reason: Note
    gauge: Name | None = None
    colour: Name | None = None
    family: Name | None = None


@record
class OwnSize:
    """One size of a family of the builder's own (the gauge is the entry's key's name)."""

    __pydantic_config__ = STRICT
    order: Order
    gauge: Name
    area_mm2: Annotated[float, Strict(), Field(gt=0, le=1000)]
    od_mm: Annotated[float, Strict(), Field(gt=0, le=100)]
    conductor_mm: Annotated[float, Strict(), Field(gt=0, le=100)]
    resistance_mohm_per_m: Annotated[float, Strict(), Field(gt=0, le=1e6)]
    strands: Annotated[int, Strict(), Field(ge=1, le=10_000)] = 1
    od_least_mm: Annotated[float, Strict(), Field(gt=0, le=100)] | None = None
    od_most_mm: Annotated[float, Strict(), Field(gt=0, le=100)] | None = None
    mass_g_per_m: Annotated[float, Strict(), Field(ge=0, le=100_000)] | None = None
    price_per_m: Annotated[float, Strict(), Field(ge=0, le=100_000)] = 0.0


@record
class OwnFamily:
    """A wire family of the builder's own (its code is the entry's key)."""

    __pydantic_config__ = STRICT
    order: Order
    name: Name
    insulation: Name
    temperature_c: TemperatureC
    source: Name
    """Where the figures come from."""
    voltage_v: VoltageV = 60.0
    burn_rated: Flag = False
    tracers: Flag = False
    sizes: Entries[Id, OwnSize] = field(default_factory=dict)


@record
class Sample:
    """A piece of wire measured with caliper and meter, against its label."""

    __pydantic_config__ = STRICT
    order: Order
    family: Name
    gauge: Name
    od_mm: Annotated[float, Strict(), Field(gt=0, le=100)] | None = None
    resistance_mohm_per_m: Annotated[float, Strict(), Field(gt=0, le=1e6)] | None = None
    temperature_c: TemperatureC = 20.0
    strands: Annotated[int, Strict(), Field(ge=1, le=10_000)] | None = None
    """Strands counted at its cut end."""
    strand_mm: Annotated[float, Strict(), Field(gt=0, le=20)] | None = None
    """Diameter of one strand, by caliper."""
    supplier: Name = ""
    lot: Name = ""
    note: Note = ""


@record
class Allowed:
    """Something allowed beside the first choice (its code is the entry's key)."""

    __pydantic_config__ = STRICT
    order: Order


@record
class RoleColours:
    """Colours of a role, or of circuits with some words in their name (the entry's key), in order of choice,
    set against the scheme's.
    """

    __pydantic_config__ = STRICT
    order: Order
    colours: Annotated[str, StringConstraints(max_length=200)]
    """Colour codes between spaces: ``RD RD/WH PK``."""


@record
class WireChoices:
    """Wire families, how to choose, own families, samples, colours, and fixed wires by wire key."""

    __pydantic_config__ = STRICT
    family: Name | None = None
    """A wire family code; the preset's when absent."""
    also: Entries[Name, Allowed] = field(default_factory=dict)
    """Families that may be used beside it."""
    objective: Objective = "least copper"
    burn_reason: Note = ""
    """Why wire without a burn rating may be used under aviation practice."""
    own_families: Entries[Id, OwnFamily] = field(default_factory=dict)
    samples: Entries[Id, Sample] = field(default_factory=dict)
    scheme: Name | None = None
    """Colour scheme; the practice's when absent."""
    role_colours: Entries[Id, RoleColours] = field(default_factory=dict)
    circuit_colours: Entries[Name, RoleColours] = field(default_factory=dict)
    """By words of a circuit's name. Returns and shields only where the words say so: ``horn return``."""
    fixed: Entries[WireKey, FixedWire] = field(default_factory=dict)


@record
class SpareWay:
    """An unused way: plugged, kept for something, or left open where it is dry."""

    __pydantic_config__ = STRICT
    order: Order
    state: SpareState
    reason: Note = ""


@record
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
    key: Name = ""
    """Its keying, one of the family's; not known, or the only one, when empty."""
    turned_over: Flag = False
    """Of a genderless half: whether its contacts lie the other way up than its family says."""
    mark: Name = ""
    """Colour or label by which it is told from others of its kind."""
    panel: Flag = False
    """True where it is fixed to a panel and does not swing on its wires."""
    meets: Id | None = None
    """The connector of this harness that it is mated with, where it meets one."""
    same_as: Id | None = None
    """The other end of an extension: way n here is way n there."""
    cable_mm: LengthMm | None = None
    """Diameter of the cable at its rear, as measured; reckoned when absent."""
    fan_out_mm: LengthMm | None = None
    """How far the jacket is taken off the cores of its cable, as prepared; not judged when absent."""
    accessories: Entries[Name, Allowed] = field(default_factory=dict)
    """Accessories wanted beside those that are required (part codes, the entry's key)."""
    shield: Id | None = None
    """The circuit whose shield its backshell lands."""
    mate_from: MateFrom = "not said"
    """How it is known what this connector meets."""
    joined: Joined = "at service"
    """How often it is parted and joined again: what its contacts are good for is counted by it."""
    spares: Entries[PinId, SpareWay] = field(default_factory=dict)
    """What is meant with an unused way (the cavity is the entry's key)."""


@record
class PinoutEntry:
    """Where a device pin (the entry's key) lands on the harness."""

    __pydantic_config__ = STRICT
    order: Order
    connector: Id
    cavity: PinId
    locked: Flag = False
    """Left where it is when ways are given out anew."""
    contact: Name | None = None
    """A contact fixed for this way; the program's choice when absent."""
    clock_deg: Annotated[float, Strict(), Field(ge=0, lt=360)] | None = None
    """Turn of an angled end against the one at the other end of its wire; of a contact on a core of a
    cable, against the contacts on its other cores."""
    joint: JointAs = "as its part"
    boot: BootWhen = "before"
    """Whether a boot goes on before the end is crimped, or over it after."""


@record
class Ends:
    """Connectors on the harness and the pinout."""

    __pydantic_config__ = STRICT
    connectors: Entries[Id, Connector] = field(default_factory=dict)
    pinout: Entries[PinRefText, PinoutEntry] = field(default_factory=dict)


@record
class CutEnd:
    """How the wires are cut that end at a device pin, or in a connector (the entry's key)."""

    __pydantic_config__ = STRICT
    order: Order
    state: EndState = "final"
    surplus_mm: LengthMm | None = None
    """Left longer by this; by the house rule when absent and it is trimmed at fitting."""
    reason: Note = ""
    strip_mm: LengthMm | None = None
    """Strip as planned; the contact's own when absent."""
    allowance_mm: LengthMm | None = None
    """What the end takes, as known here; the contact's own when absent."""
    fold: Flag = False
    """The strands are folded back to fill the barrel."""
    trim_mm: LengthMm | None = None
    """How much shorter the fold makes this core, as measured; or how much is trimmed off this one for its
    neighbour's fold. Half the strip when absent."""
    untwist_mm: LengthMm | None = None
    """How far a pair is untwisted here, as planned; not judged when absent."""


@record
class CutChoices:
    """States of ends, the day of cutting, the order of the list."""

    __pydantic_config__ = STRICT
    ends: Entries[EndKey, CutEnd] = field(default_factory=dict)
    """What is said of a pin goes before what is said of its connector."""
    cut_on: Day = ""
    """The day that the harness is cut; not settled when absent."""
    first: CutOrder = "longest"


@record
class CoverChoice:
    """What goes over a branch (the entry's key), as the builder wants it."""

    __pydantic_config__ = STRICT
    order: Order
    kind: CoverKind | None = None
    """By the house rule when absent."""
    part: Name | None = None
    """A part fixed for it; the program's choice when absent."""
    bare_from_mm: LengthMm | None = None
    """Left bare at the branch's first point; by rule when absent."""
    bare_to_mm: LengthMm | None = None
    """Left bare at its second point."""
    ends_taped: Flag = True
    """Of a split cover: both its ends are held by tape."""
    reason: Note = ""


@record
class ShrinkChoice:
    """Shrink tube at a place (the entry's key: a connector's or a point's id), as the builder wants it."""

    __pydantic_config__ = STRICT
    order: Order
    part: Name | None = None
    """A size fixed for it; the program's choice when absent."""
    lined: Flag | None = None
    """With adhesive or without; by rule when absent."""
    length_mm: LengthMm | None = None
    left_out: Flag = False
    reason: Note = ""


@record
class LabelChoice:
    """Labels at a connector (the entry's key), as the builder wants them."""

    __pydantic_config__ = STRICT
    order: Order
    text: Name | None = None
    """Of the connector's own label; by the template when absent."""
    behind_mm: LengthMm | None = None
    """From the connector's rear to its label; by rule when absent."""
    when: LabelWhen = "after final sizing"
    left_out: Flag = False


@record
class DressChoices:
    """Coverings, shrink tube and labels that are wanted otherwise than the house rules have them."""

    __pydantic_config__ = STRICT
    covers: Entries[Id, CoverChoice] = field(default_factory=dict)
    shrinks: Entries[Id, ShrinkChoice] = field(default_factory=dict)
    labels: Entries[Id, LabelChoice] = field(default_factory=dict)
    template: Annotated[str, StringConstraints(max_length=60)] = "{id} {from}-{to}"
    """Of a wire's label: ``{id}``, ``{from}``, ``{to}``, ``{function}``, ``{harness}``, ``{serial}``."""
    serial: Name = ""
    """Of the first harness that is made."""
    height_mm: LengthMm | None = None
    """Of letters on labels; as high as need be read when absent."""
    square: Flag = False
    """A square code beside the text of a connector's label, with the harness and the connector in it."""


@record
class StepChoice:
    """A step of the work (the entry's key: the step's id) as the builder wants it."""

    __pydantic_config__ = STRICT
    order: Order
    after: StepKey | None = None
    """Done next after this step, or at the ``start``; where the program has it when absent."""
    left_out: Flag = False
    reason: Note = ""


@record
class BuildChoices:
    """Steps that are moved or left out, the first moved first."""

    __pydantic_config__ = STRICT
    steps: Entries[StepKey, StepChoice] = field(default_factory=dict)


@record
class PartChoice:
    """What is bought of a line of the bill (the entry's key: part code, and colour of wire)."""

    __pydantic_config__ = STRICT
    order: Order
    quantity: Annotated[float, Strict(), Field(ge=0, le=1e6)] | None = None
    """Bought so many, in pieces or m; as many as are needed, with spares, when absent."""
    left_out: Flag = False
    reason: Note = ""


@record
class KitChoice:
    """Kits of one code (the entry's key) that parts are taken out of, for the whole quantity."""

    __pydantic_config__ = STRICT
    order: Order
    count: Annotated[int, Strict(), Field(ge=1, le=1000)] = 1


@record
class PartsChoices:
    """Lines of the bill that are bought otherwise than they are reckoned, and kits they come out of."""

    __pydantic_config__ = STRICT
    lines: Entries[PartKey, PartChoice] = field(default_factory=dict)
    kits: Entries[PartKey, KitChoice] = field(default_factory=dict)
