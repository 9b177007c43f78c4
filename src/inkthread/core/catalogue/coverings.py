"""Types of what goes over wires: sleeves, tape, shrink tube, labels, ties and clamps. Lengths in mm."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import field, replace
from typing import Literal

from inkthread.core.catalogue.ends import DATA, Part
from inkthread.core.record import record

SleeveKind = Literal["braid", "fabric", "nylon", "conduit", "spiral"]


@record
class Sleeve:
    """A covering that is bought by the metre and goes on as a tube."""

    __pydantic_config__ = DATA
    code: str
    description: str
    kind: SleeveKind
    nominal_mm: float
    """Inside, as it lies."""
    least_mm: float
    """The thinnest bundle that it still lies close on."""
    most_mm: float
    """The thickest item that goes through it."""
    wall_mm: float
    mass_g_per_m: float
    price_per_m: float
    temperature_c: float
    least_c: float | None = None
    angle_deg: float = 0.0
    """Of a braid: its yarns to its axis, as it lies."""
    change_percent: float = 0.0
    """Of a fabric that shrinks: its change of length when it does."""
    absorbent: bool = False
    """It holds water."""
    split: bool = False
    """It is open along its length, or wound on: it goes on after the connectors."""
    source: str = "invented, typical of its kind"


@record
class Tape:
    """Harness tape by the roll."""

    __pydantic_config__ = DATA
    code: str
    description: str
    width_mm: float
    thick_mm: float
    roll_m: float
    mass_g_per_m: float
    price: float
    """Of a roll."""
    temperature_c: float
    least_c: float | None = None
    absorbent: bool = False
    source: str = "invented, typical of its kind"


@record
class Tube:
    """One size of shrink tube: inside diameters as supplied and when fully recovered."""

    code: str
    ratio: str
    lined: bool
    supplied_mm: float
    recovered_mm: float
    wall_mm: float
    """When fully recovered, its lining with it."""
    change_percent: float
    mass_g_per_m: float
    price_per_m: float
    temperature_c: float
    least_c: float | None

    @property
    def description(self) -> str:
        """In words."""
        kind = "lined" if self.lined else "plain"
        return f"Shrink tube {self.ratio} {kind}, {self.supplied_mm:g} to {self.recovered_mm:g} mm"


@record
class Ladder:
    """The sizes that one kind of shrink tube is made in."""

    __pydantic_config__ = DATA
    code: str
    ratio: str
    lined: bool
    change_percent: float
    """Change of length when fully recovered; below nought it grows shorter."""
    temperature_c: float
    density_g_per_cm3: float
    price_per_m_per_mm: float
    """For every mm that it is wide as supplied."""
    sizes: tuple[tuple[str, float, float, float], ...]
    """(name, supplied, recovered, wall when recovered), from the smallest up."""
    source: str
    least_c: float | None = None

    def __post_init__(self) -> None:
        """Sizes rise, and every one of them shrinks. Raises ValueError naming the one that does not."""
        before = 0.0
        for name, supplied, recovered, wall in self.sizes:
            if not 0 < recovered < supplied or wall <= 0:
                raise ValueError(
                    f"{self.code} {name}: {supplied:g} mm as supplied shrinks to {recovered:g} mm with a "
                    f"wall of {wall:g} mm; it has to grow narrower, and its wall is above nought"
                )
            if supplied <= before:
                raise ValueError(
                    f"{self.code} {name}: {supplied:g} mm comes after {before:g}; the smallest size is first"
                )
            before = supplied

    def tubes(self) -> tuple[Tube, ...]:
        """Every size of it."""
        return tuple(
            Tube(
                f"{self.code}-{name}",
                self.ratio,
                self.lined,
                supplied,
                recovered,
                wall,
                self.change_percent,
                round(math.pi * (recovered + wall) * wall * self.density_g_per_cm3, 3),
                round(self.price_per_m_per_mm * supplied, 2),
                self.temperature_c,
                self.least_c,
            )
            for name, supplied, recovered, wall in self.sizes
        )


@record
class LabelSleeve:
    """Printable shrink tube in a cassette."""

    __pydantic_config__ = DATA
    code: str
    description: str
    supplied_mm: float
    recovered_mm: float
    flat_mm: float
    """How wide it lies flat in the cassette."""
    print_mm: float
    """Height that can be printed on it."""
    wall_mm: float
    cassette_m: float
    price: float
    """Of a cassette."""
    mass_g_per_m: float
    temperature_c: float
    source: str = "invented, typical of its kind"


@record
class Lettering:
    """How letters of a label measure, and where a label sits."""

    __pydantic_config__ = DATA
    advance: float
    """Width of one letter with its gap, in heights of a letter."""
    line: float
    """From one line to the next, in heights of a letter."""
    least_mm: float
    """Height of letters that are read at arm's length."""
    margin_mm: float
    """Left free before and after the text."""
    feed_mm: float
    """Tape that each label costs beside its own length."""
    source: str


@record
class Tie:
    """A cable tie."""

    __pydantic_config__ = DATA
    code: str
    description: str
    most_mm: float
    """The thickest bundle that it goes round."""
    mass_g: float
    price: float
    temperature_c: float
    source: str = "invented, typical of its kind"


@record
class Lacing:
    """Cord that is knotted round a bundle."""

    __pydantic_config__ = DATA
    code: str
    description: str
    knot_mm: float
    """Of cord that each knot takes beside twice the way round."""
    mass_g_per_m: float
    price_per_m: float
    temperature_c: float
    source: str = "invented, typical of its kind"

    def knotted_mm(self, over_mm: float) -> float:
        """Cord for one knot round a bundle of this diameter, in mm (common practice, no source)."""
        return self.knot_mm + 2 * math.pi * over_mm


@record
class Clamp:
    """A cushioned clamp."""

    __pydantic_config__ = DATA
    code: str
    description: str
    least_mm: float
    most_mm: float
    mass_g: float
    price: float
    temperature_c: float
    source: str = "invented, typical of its kind"


@record
class Grommet:
    """A rubber ring for a hole."""

    __pydantic_config__ = DATA
    code: str
    description: str
    hole_mm: float
    inside_mm: float
    mass_g: float
    price: float
    temperature_c: float
    source: str = "invented, typical of its kind"


@record
class Filler:
    """Cord that fills a ring of a bundle where wires are too few."""

    __pydantic_config__ = DATA
    code: str
    description: str
    diameter_mm: float
    mass_g_per_m: float
    price_per_m: float
    temperature_c: float
    source: str = "invented, typical of its kind"


@record
class Shape:
    """A moulded piece that shrinks over a connector or a breakout, by the bores of its legs."""

    __pydantic_config__ = DATA
    code: str
    description: str
    legs: int
    """Beside the body: one for a boot, two or more for a transition."""
    body_supplied_mm: float
    body_recovered_mm: float
    leg_supplied_mm: float
    leg_recovered_mm: float
    length_mm: float
    mass_g: float
    price: float
    temperature_c: float
    source: str = "invented, typical of its kind"


@record
class Insulates:
    """How a kind of cover keeps heat in: its air gap and its wall, and how they conduct."""

    __pydantic_config__ = DATA
    gap_mm: float
    gap_w_per_m_k: float
    """What radiates across it counted in."""
    wall_mm: float
    wall_w_per_m_k: float


@record
class Coverings:
    """All that goes over wires."""

    __pydantic_config__ = DATA
    sleeves: tuple[Sleeve, ...]
    tapes: tuple[Tape, ...]
    ladders: tuple[Ladder, ...]
    labels: tuple[LabelSleeve, ...]
    lettering: Lettering
    ties: tuple[Tie, ...]
    clamps: tuple[Clamp, ...]
    grommets: tuple[Grommet, ...]
    shapes: tuple[Shape, ...]
    fillers: tuple[Filler, ...]
    lacing: tuple[Lacing, ...]
    lubricants: tuple[Part, ...]
    insulates: dict[str, Insulates]
    """By kind of cover."""
    tube_prices: Mapping[str, float] = field(default_factory=dict)
    """The shop's own, a metre, by code."""

    def tubes(self) -> tuple[Tube, ...]:
        """Every shrink tube, the narrowest first, the lower ratio first where they are as wide."""
        every = [tube for ladder in self.ladders for tube in ladder.tubes()]
        if self.tube_prices:
            every = [replace(t, price_per_m=self.tube_prices.get(t.code, t.price_per_m)) for t in every]
        return tuple(sorted(every, key=lambda t: (t.supplied_mm, -t.recovered_mm)))
