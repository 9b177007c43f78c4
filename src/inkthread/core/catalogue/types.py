"""Types of parts, rules and wordings. Every family carries ``sources``: figure name to source."""

from __future__ import annotations

import math
from dataclasses import dataclass, field
from typing import Literal

from inkthread.core.catalogue.coverings import Coverings
from inkthread.core.catalogue.ends import DATA as _DATA
from inkthread.core.catalogue.ends import ConnectorFamily
from inkthread.core.catalogue.fitting import Fitting
from inkthread.core.catalogue.joints import Cover, PullTable, SpliceSize, Studs, Tool
from inkthread.core.catalogue.kits import Kit
from inkthread.core.catalogue.operations import HandWorks
from inkthread.core.catalogue.proofs import Proofs
from inkthread.core.catalogue.rescue import Rescue
from inkthread.core.catalogue.wires import AircraftRule, MarineTable, WireFamily
from inkthread.core.physics.conductor import awg_area_mm2
from inkthread.core.record import record


@record
class ProtectionCurve:
    """Time against current of a kind of fuse or breaker, both edges of its band."""

    __pydantic_config__ = _DATA
    source: str
    points: tuple[tuple[float, float, float | None], ...]
    """(per cent of rating, least s, most s), rising; most is None where it may never open."""


@record
class FuseRating:
    """A fuse or breaker that is made."""

    __pydantic_config__ = _DATA
    rating_a: float
    code: str
    description: str
    mass_g: float
    price: float
    kind: Literal["fuse", "breaker"]
    curve: str
    voltage_v: float
    interrupt_a: float
    resistance_mohm: float


@record
class Twists:
    """How tightly two or three wires are twisted by hand: turns per foot by gauge."""

    __pydantic_config__ = _DATA
    source: str
    awg: tuple[int, ...]
    turns_per_foot: dict[str, tuple[float, ...]]

    def lay_mm(self, area_mm2: float, wires: int) -> float:
        """Length of one turn in mm, for the listed gauge nearest in copper."""
        off = [abs(math.log(awg_area_mm2(n) / area_mm2)) for n in self.awg]
        nearest = off.index(min(off))
        return 304.8 / self.turns_per_foot[str(wires)][nearest]


@record
class FaultLimit:
    """What insulation of these names stands for the seconds of a fault, in deg C."""

    __pydantic_config__ = _DATA
    named: tuple[str, ...]
    fault_c: float
    source: str


@record
class FaultLimits:
    """Limits by insulation, the first that is named; ``otherwise_k`` above its rating where none is."""

    __pydantic_config__ = _DATA
    fault_limits: tuple[FaultLimit, ...]
    otherwise_k: float
    otherwise_source: str

    def of(self, family: WireFamily) -> tuple[float, str]:
        """What a family's insulation stands for the seconds of a fault, in deg C, and the source."""
        text = family.insulation.lower()
        for limit in self.fault_limits:
            if any(name in text for name in limit.named):
                return limit.fault_c, limit.source
        return family.temperature_c + self.otherwise_k, self.otherwise_source


@record
class Densities:
    """What wire is made of weighs, where its mass is not stated."""

    __pydantic_config__ = _DATA
    copper_g_per_cm3: float
    insulation_g_per_cm3: float
    source: str


@record
class LimitWords:
    """A limit of a wire's gauge in words: by name, where it decides, where it does not hold."""

    __pydantic_config__ = _DATA
    name: str
    decides: str
    fails: str


@record
class FuseHolder:
    """What a fuse sits in that is not in a block, up to a rating."""

    __pydantic_config__ = _DATA
    code: str
    description: str
    up_to_a: float
    mass_g: float
    price: float


@record
class BusStandard:
    """What a data bus allows."""

    __pydantic_config__ = _DATA
    label: str
    rate_kbit_s: float
    length_m: float
    stub_m: float
    nodes: int
    spacing_m: float
    termination_ohm: float | None
    """At each physical end; None where the bus has none."""
    pair: bool
    shield_ends: int
    """Ends at which its shield is grounded; 0 where it needs no shield."""
    source: str
    can: bool = False
    """Whether its ways in connectors are those of CAN."""
    untwist_mm: float | None = None
    """How far its pair may lie open at an end; by the house rule when absent."""


@record
class RuleChoice:
    """One view of a rule on which builders differ: the value that means it, and who holds it, and why."""

    __pydantic_config__ = _DATA
    value: float
    label: str
    why: str


@record
class Rule:
    """A house rule: its value under each practice, why, and from where.

    A value of None means that the practice decides by a published table instead.
    """

    __pydantic_config__ = _DATA
    label: str
    unit: str
    values: dict[str, float | None]
    least: float
    most: float
    """Bounds of what a house rule may set; outside them the arithmetic means nothing."""
    why: str
    source: str
    trial: float | None = None
    """Its value for a trial lead, which is taken off again; the practice's where none is given."""
    choices: tuple[RuleChoice, ...] = ()
    """Where it is a choice: what may be chosen, nothing between; none where it is a figure."""
    words: tuple[str, ...] = ()
    """Words of the names of the things that it is about, where it is not about all."""

    def choice(self, value: float | None) -> RuleChoice | None:
        """The view that a value means, or None."""
        return next((c for c in self.choices if c.value == value), None)


@record
class CheckText:
    """Wording of a check: what, why and remedies, with places in braces."""

    __pydantic_config__ = _DATA
    severity: Literal["stop", "fix", "consider"]
    title: str
    what: str
    why: str
    remedies: tuple[str, ...]
    lasting: bool = False
    """Asked only of a harness that stays, not of a trial lead."""
    phrases: dict[str, str] = field(default_factory=dict)
    """Words by name that it says only now and then: a remedy done by one click, a reason of several."""


@record
class KindPin:
    """A pin that a kind of device begins with."""

    __pydantic_config__ = _DATA
    id: str
    role: str
    name: str
    switching: str = "not said"
    """How an electronic output switches, or which kind an input takes."""


@record
class KindPath:
    """A path inside a kind of device."""

    __pydantic_config__ = _DATA
    from_pin: str
    to_pin: str
    kind: str
    contact_a: float | None = None
    out_v: float | None = None
    efficiency_percent: float | None = None
    throw: str = ""


@record
class KindSource:
    """What a kind of source begins with; typical, to be set from its data."""

    __pydantic_config__ = _DATA
    kind: str
    internal_mohm: float | None = None


@record
class DeviceKind:
    """What a new device of this kind begins with; the builder changes it as the device is."""

    __pydantic_config__ = _DATA
    label: str
    group: str
    prefix: str
    words: tuple[str, ...]
    """Words in a typed name that suggest this kind."""
    pins: tuple[KindPin, ...]
    paths: tuple[KindPath, ...]
    load: tuple[str, str] | None
    """(supply pin, return pin) of its load, if it has one."""
    connector: str
    ways: tuple[tuple[str, str], ...] = ()
    """(pin, way) by the shop's convention; as the housing has them where none is said."""
    structure: bool = False
    stud: str | None = None
    load_kind: str = "constant current"
    peak_times: float | None = None
    """Typical peak or stall, in times its current."""
    peak_s: float | None = None
    inrush_times: float | None = None
    inrush_s: float | None = None
    source: KindSource | None = None
    row: bool = False
    """It has a row of outputs: further ones are made like the first as they are joined or named."""
    meets_all: bool = False
    """What is joined at it meets there: every wire has a terminal of its own."""
    powered_as: str = ""
    """The kind that is meant where it is said to draw a current."""
    disturbed: bool = False
    """It is put out by noise and by iron near it."""
    halves: bool = False
    """It is a plug and a receptacle that meet, way by way: pins ``a1``... on one, ``b1``... on the other."""


@record
class Pattern:
    """Circuits to begin from: typed lines, and what they are for."""

    __pydantic_config__ = _DATA
    label: str
    why: str
    lines: tuple[str, ...]


@record
class ColourScheme:
    """Colours by role, in order of choice."""

    __pydantic_config__ = _DATA
    label: str
    why: str
    repeats: bool
    """Whether one colour may come twice in a connector: its wires are told apart by their labels."""
    roles: dict[str, tuple[str, ...]]


@record
class Critical:
    """Which loads one relies on, by kind and by words of their names, and the practices that go by it."""

    __pydantic_config__ = _DATA
    practices: tuple[str, ...]
    kinds: tuple[str, ...]
    words: tuple[str, ...]
    source: str


_NOTHING_CRITICAL = Critical((), (), (), "")


@dataclass(frozen=True, slots=True, eq=False)
class Catalogue:
    """Everything shipped that the core looks up. ``version`` names this state of the data."""

    version: str
    wires: dict[str, WireFamily]
    connectors: dict[str, ConnectorFamily]
    fuses: tuple[FuseRating, ...]
    breakers: tuple[FuseRating, ...]
    fault_limits: FaultLimits
    densities: Densities
    twists: Twists
    holders: tuple[FuseHolder, ...]
    """Rising by rating."""
    curves: dict[str, ProtectionCurve]
    buses: dict[str, BusStandard]
    splices: tuple[SpliceSize, ...]
    rules: dict[str, Rule]
    preset_families: dict[str, str]
    drop_table_v: tuple[tuple[float, float, float, float], ...]
    """(up to nominal V, row V, continuous V, intermittent V)."""
    colours: dict[str, str]
    colour_names: dict[str, str]
    colour_schemes: dict[str, ColourScheme]
    preset_schemes: dict[str, str]
    checks: dict[str, CheckText]
    limit_words: dict[str, LimitWords]
    """By limit of a wire's gauge."""
    openings: dict[str, dict[str, str]]
    """By room: the sentences it opens with, in parts."""
    kinds: dict[str, DeviceKind]
    cautions: dict[str, tuple[str, ...]]
    """``all``, and by practice."""
    aircraft: AircraftRule
    marine: MarineTable
    switch_derating: dict[str, tuple[float, float]]
    """Kind of device to its switch derating factor at 12 V and at 28 V."""
    studs: Studs
    coverings: Coverings
    critical: Critical = _NOTHING_CRITICAL
    tools: dict[str, Tool] = field(default_factory=dict)
    covers: tuple[Cover, ...] = ()
    pull: dict[str, PullTable] = field(default_factory=dict)
    sources: dict[str, str] = field(default_factory=dict)
    patterns: dict[str, Pattern] = field(default_factory=dict)
    kits: dict[str, Kit] = field(default_factory=dict)
    minutes: dict[str, float] = field(default_factory=dict)
    """Standard time of hand work, by operation."""
    hand_works: HandWorks = field(default_factory=HandWorks)
    proofs: Proofs = field(default_factory=Proofs)
    fitting: Fitting = field(default_factory=Fitting)
    rescue: Rescue = field(default_factory=Rescue)
    conventions: tuple[str, ...] = ()
    """The shop's colours, as typed lines."""
    shown_in: tuple[str, ...] = ()
    """The shop's units, paper and money, as typed lines of a brief."""

    @property
    def fluids(self) -> frozenset[str]:
        """Fluids that its parts are judged by."""
        return frozenset(f for family in self.connectors.values() for f in family.fluids)
