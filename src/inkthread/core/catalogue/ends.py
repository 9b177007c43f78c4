"""Types of what wires end in: contacts, seals, housings, their faces, splices, and the tools for them.

Areas are of copper in mm2, diameters and lengths in mm, currents in A, forces in N.
"""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import dataclass, field
from typing import TYPE_CHECKING, Literal, NamedTuple

from pydantic import ConfigDict

from inkthread.core.record import record

if TYPE_CHECKING:
    from inkthread.core.catalogue.wires import WireSize

LOADED_SHARE = 0.2
"""Of the best contact's current: below it a way heats its neighbours a 25th as much (common practice)."""

DATA = ConfigDict(extra="forbid", allow_inf_nan=False)

ContactKind = Literal[
    "machined",
    "stamped",
    "solder cup",
    "screw",
    "spring",
    "cage",
    "ring",
    "push-on",
    "lug",
    "ferrule",
    "closed barrel",
    "end",
]
FamilyGroup = Literal[
    "sealed rectangular",
    "sealed tower",
    "sensor and coil",
    "controller",
    "D-sub",
    "circular",
    "M12",
    "board and servo",
    "light nylon",
    "power",
    "terminal block",
    "fuse and relay",
    "terminal",
    "ignition",
    "coax",
    "flying lead",
]
LockKind = Literal[
    "latch", "wedge", "position assurance", "lever", "screws", "coupling ring", "friction", "nut"
]
Protection = Literal["open", "IP20", "IP54", "IP65", "IP67", "IP68", "IP69K"]
CLASSES: tuple[Protection, ...] = ("open", "IP20", "IP54", "IP65", "IP67", "IP68", "IP69K")
"""Protection classes, each tighter than the one before."""
AccessoryKind = Literal[
    "wedge",
    "clip",
    "backshell",
    "boot",
    "gland",
    "jack screws",
    "strain relief",
    "header strip",
    "handle",
    "cap",
    "frame",
    "separator",
]


@record
class Part:
    """Something that is bought: code, words for it, mass in g, price."""

    __pydantic_config__ = DATA
    code: str
    description: str
    mass_g: float
    price: float
    included: bool = False
    """True where it comes with the housing and is not bought apart."""


@record
class ToolRow:
    """How a tool is set for a contact on wires of an area range."""

    __pydantic_config__ = DATA
    tool: str
    area_min_mm2: float
    area_max_mm2: float
    nest: str
    """As it is marked on the tool; ``-`` where there is but one."""
    depth: str = ""
    """Positioner, locator or depth setting."""
    source: str = "invented, typical of its kind"


class Miss(NamedTuple):
    """How a wire stands to a range: too thin where ``below`` is over 1, too thick where ``above`` is."""

    below: float
    above: float

    @property
    def worst(self) -> float:
        """1 or less where the wire is inside."""
        return max(self.below, self.above)

    @classmethod
    def of(cls, least: float, most: float, low: float, high: float) -> Miss:
        """Of something from ``least`` to ``most`` against a range from ``low`` to ``high``."""
        return cls(low / least, most / high)

    def also(self, other: Miss) -> Miss:
        """Against both ranges at once."""
        return Miss(max(self.below, other.below), max(self.above, other.above))


@record
class Contact:
    """A contact or terminal of a connector family."""

    __pydantic_config__ = DATA
    code: str
    description: str
    gender: Literal["pin", "socket", "none"]
    conductor_min_mm2: float
    conductor_max_mm2: float
    insulation_min_mm: float
    insulation_max_mm: float
    strip_mm: float
    strip_tolerance_mm: float
    allowance_mm: float
    """Wire taken up inside the connector and kept for one more try."""
    current_by_area: tuple[tuple[float, float], ...]
    """(least conductor area in mm2, continuous current in A), rising."""
    mass_g: float
    price: float
    stud: str | None = None
    most_wires: int = 1
    """Wires it may hold together, their copper summed within its range."""
    kind: ContactKind = "stamped"
    size: str = ""
    """Name of its size: 20, 16, 22D, 6.3 mm."""
    plating: str = "tin"
    cycles: int = 50
    reusable: bool = False
    solid: bool = False
    """Whether solid conductors may be used in it."""
    copper_least_mm: float = 0.0
    copper_most_mm: float = 1.0
    """Copper that shows beyond the barrel, at least and at most."""
    pull: str = ""
    """The table of pull-out forces it is held to."""
    tools: tuple[ToolRow, ...] = ()
    extraction: str = ""
    doubled: tuple[tuple[float, ...], ...] = ()
    """Copper areas in mm2 that it may hold together; none where it holds one wire only."""
    colour: str = ""
    """Of its insulation, by range."""
    angle_deg: float = 0.0
    """Between wire and mating direction; 90 is an elbow."""
    joint: Literal["crimp", "solder", "clamp"] = "crimp"
    factory: bool = False
    """Whether it comes on the lead as it is bought: nothing is stripped, crimped or cut there."""
    torque_nm: float | None = None
    """What its screw is tightened to; None where it has none."""

    def conductor_miss(self, area_mm2: float) -> Miss:
        """A conductor against the range of the contact's barrel."""
        return Miss.of(area_mm2, area_mm2, self.conductor_min_mm2, self.conductor_max_mm2)

    def takes(self, area_mm2: float) -> bool:
        """Whether a conductor is within the range of the contact's barrel."""
        return self.conductor_min_mm2 <= area_mm2 <= self.conductor_max_mm2

    def insulation_miss(self, od_mm: float) -> Miss:
        """A nominal outside diameter against the range of its insulation wings."""
        return Miss.of(od_mm, od_mm, self.insulation_min_mm, self.insulation_max_mm)

    def miss(self, size: WireSize) -> Miss:
        """A wire against both: it is held where the worst is 1 or less."""
        return self.conductor_miss(size.area_mm2).also(self.insulation_miss(size.od_mm))

    def worst_miss(self, size: WireSize) -> float:
        """The worst of ``miss``: 1 or less where a wire is held."""
        area_mm2, od_mm = size.area_mm2, size.od_mm
        return max(
            self.conductor_min_mm2 / area_mm2,
            area_mm2 / self.conductor_max_mm2,
            self.insulation_min_mm / od_mm,
            od_mm / self.insulation_max_mm,
        )

    def current_a(self, area_mm2: float) -> float:
        """Continuous current in A on a conductor of this area (the lower neighbour's figure)."""
        allowed = self.current_by_area[0][1]
        for least, current in self.current_by_area:
            if area_mm2 >= least:
                allowed = current
        return allowed

    def tool_row(self, area_mm2: float) -> ToolRow | None:
        """The first tool setting for a conductor of this area, or None."""
        return next((t for t in self.tools if t.area_min_mm2 <= area_mm2 <= t.area_max_mm2), None)


@record
class Seal:
    """What seals one wire: its window of insulation diameter, both bounds inside."""

    __pydantic_config__ = DATA
    code: str
    description: str
    od_min_mm: float
    od_max_mm: float
    mass_g: float
    price: float
    included: bool = False

    def miss(self, size: WireSize) -> Miss:
        """Its least and its largest diameter against the window: both must be inside."""
        return Miss.of(size.od_min_mm, size.od_max_mm, self.od_min_mm, self.od_max_mm)


@record
class Accessory:
    """Something that belongs to a housing and may have to be bought apart."""

    __pydantic_config__ = DATA
    code: str
    description: str
    kind: AccessoryKind
    mass_g: float
    price: float
    required: bool = False
    included: bool = False
    ways: tuple[int, ...] = ()
    """Housings it fits; all of the family where none is named."""
    shell: str = ""
    """The shell it belongs to; both where it is empty."""
    cable_min_mm: float | None = None
    cable_max_mm: float | None = None
    """Window of its cable entry."""
    lands_shield: bool = False
    fan_out_mm: tuple[float, float] | None = None
    """Of a gland: how long the cores stand free of the jacket, at least and at most."""

    def fits(self, ways: int, shell: str) -> bool:
        """Whether it belongs on this housing."""
        return (not self.ways or ways in self.ways) and self.shell in ("", shell)


@record
class Mark:
    """A feature that tells which way round a face is: as its wires enter it, in mm from the centre."""

    __pydantic_config__ = DATA
    kind: Literal["latch", "key", "triangle", "lever", "clip", "wedge", "screw", "stud", "rib"]
    x_mm: float
    y_mm: float
    width_mm: float
    height_mm: float


@dataclass(frozen=True, slots=True, eq=False)
class Face:
    """Geometry of a housing as its wires enter it: plug half, wire side, latch up. In mm."""

    __pydantic_config__ = DATA
    width_mm: float
    height_mm: float
    cavity_diameter_mm: float
    latch: str
    """Words for the feature drawn at the top: latch, wedge, stud."""
    cavities: dict[str, tuple[float, float]]
    """Cavity name to (x, y) from the centre, x right, y up."""
    outline: Literal["box", "round", "D"] = "box"
    marks: tuple[Mark, ...] = ()


@record
class Housing:
    """What is bought for a number of ways, and its face."""

    __pydantic_config__ = DATA
    ways: int
    face: Face
    shells: dict[str, Part]
    """``plug`` and ``receptacle`` to the housing part; empty for loose terminals."""
    locks: dict[str, Part]
    """Secondary lock by shell."""
    arrangement: str = ""
    """Name of its arrangement, where ways alone do not name it."""
    roles: dict[str, str] = field(default_factory=dict)
    """Cavity to the role a standard or custom gives it."""
    bus_roles: dict[str, str] = field(default_factory=dict)
    """Cavity to what it is on a CAN bus: ``supply``, ``ground``, ``high``, ``low`` or ``drain``."""
    colours: dict[str, str] = field(default_factory=dict)
    """Cavity to the colour of the core that a standard gives it."""
    envelope_mm: float | None = None
    """Largest diameter behind the face, where a ring or nut is larger than it."""

    @property
    def passes_mm(self) -> float:
        """Diameter of the hole that the housing just passes."""
        if self.envelope_mm is not None:
            return self.envelope_mm
        f = self.face
        return max(f.width_mm, f.height_mm) if f.outline == "round" else math.hypot(f.width_mm, f.height_mm)


@dataclass(frozen=True, slots=True, eq=False)
class ConnectorFamily:
    """A family of connectors, or of loose terminals."""

    __pydantic_config__ = DATA
    code: str
    name: str
    sealed: bool
    loose: bool
    """True for terminals without a housing (ring, push-on)."""
    temperature_c: float
    voltage_v: float
    contact_resistance_mohm: float
    mating: str
    housings: tuple[Housing, ...]
    contacts: tuple[Contact, ...]
    seals: tuple[Seal, ...]
    cavity_plug: Part | None
    """What fills an unused sealed way."""
    sources: dict[str, str]
    studs: tuple[str, ...] = ()
    group: FamilyGroup = "terminal"
    genderless: bool = False
    genders: dict[str, str] = field(default_factory=dict)
    """Shell to the contact gender it carries; a shell that is not named may carry either."""
    mates: tuple[str, ...] = ()
    """Families it meets; only its own where none is named."""
    keyings: tuple[str, ...] = ()
    locks: tuple[LockKind, ...] = ()
    protection: Protection = "open"
    """As mated, with seals and plugs in."""
    fluids: tuple[str, ...] = ()
    """Fluids that it stands."""
    least_c: float | None = None
    """The coldest that it stands; not known when absent."""
    mounting: Literal["in line", "panel", "either"] = "in line"
    numbering: str = ""
    """Words for where way 1 is and how the numbers run, wires towards you."""
    accessories: tuple[Accessory, ...] = ()
    lubricant: str = ""
    """What its seals or boots are greased with as they go on; empty where they are fitted dry."""
    derating: tuple[tuple[int, float], ...] = ()
    """(up to this many loaded ways, factor on the current), rising ways."""
    full_to_c: float = 70.0
    """Ambient up to which the currents hold; from there they fall to nothing at its temperature."""
    least_mating: int = 50
    pre_insulated: bool = False
    """Terminals whose barrel comes under a sleeve of its own, unlined: the crimp is not seen."""
    made_for: tuple[str, ...] = ()
    """Kinds of device that it alone fits, of all families of its group; any where none is named."""
    turn: str = ""
    """How a crimped contact must lie on its wire to go in; ``any way round`` where it may lie anyhow."""

    def housing(self, ways: int) -> Housing | None:
        """The housing with this number of ways, or None."""
        return next((h for h in self.housings if h.ways == ways), None)

    @property
    def meets_its_like(self) -> bool:
        """Whether two alike mate with each other, one turned over: contacts must lie the same way in both."""
        return self.genderless and self.group != "terminal block"

    @property
    def usual_stud(self) -> str | None:
        """The stud that is meant where none is named."""
        return "M6" if "M6" in self.studs else self.studs[0] if self.studs else None

    def contacts_for(
        self, gender: str, stud: str | None, fixed: str | None = None, *, with_leads_made: bool = False
    ) -> tuple[Contact, ...]:
        """Contacts that may go into a half with this contact gender, or the one that is fixed and held.

        Ends made on a lead as it is bought are no choice of the program: among them ``with_leads_made`` only.
        """
        there = [c for c in self.contacts if c.stud is None or stud is None or c.stud == stud]
        named = tuple(c for c in there if c.code == fixed)
        if named:
            return named
        mine = [c for c in there if c.gender in (gender, "none") and (with_leads_made or not c.factory)]
        return tuple(mine or (there if self.loose else ()))

    def gender_for(self, shell: str) -> str | None:
        """The contact gender that a shell must carry, or None where it may carry either."""
        return None if self.loose or self.genderless else self.genders.get(shell)

    @property
    def loaded_from_a(self) -> float:
        """Current in A from which a way counts as loaded: a fifth of the best contact's."""
        return LOADED_SHARE * max((c.current_by_area[-1][1] for c in self.contacts), default=1.0)

    def loaded_ways(self, currents_a: Iterable[float]) -> int:
        """How many ways with these currents in A count as loaded."""
        from_a = self.loaded_from_a
        return sum(a >= from_a for a in currents_a)

    def current_share(self, loaded_ways: int, ambient_c: float) -> float:
        """Part of a contact's current that is left with so many loaded ways in this ambient.

        By ways as the family's data says; by temperature as a contact that heats with the square of
        its current (the derating curve of IEC 60512-5-2, from memory).
        """
        by_ways = next((f for most, f in self.derating if loaded_ways <= most), None)
        if by_ways is None:
            by_ways = self.derating[-1][1] if self.derating else 1.0
        if ambient_c <= self.full_to_c or ambient_c >= self.temperature_c:
            return by_ways  # too hot for it altogether is another matter, and said as such
        left = (self.temperature_c - ambient_c) / (self.temperature_c - self.full_to_c)
        return by_ways * math.sqrt(max(left, 0.0))
