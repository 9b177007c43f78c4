"""Types of what joins wires without a connector, and of tools: splices, covers, studs, pull tables."""

from __future__ import annotations

from typing import Literal

from inkthread.core.catalogue.ends import DATA, Part
from inkthread.core.record import record

ToolKind = Literal[
    "crimper", "stripper", "cutter", "insertion", "extraction", "press", "die", "gauge", "driver"
]

SpliceKind = Literal["overlap", "butt", "sleeve"]

SpliceForm = Literal[
    "open barrel", "closed barrel", "insulated butt", "lined butt", "sub-miniature", "solder sleeve"
]


@record
class SpliceSize:
    """A splice barrel, by the copper it holds in mm2.

    An overlap is sized on all the copper under its wings; a butt on each side by itself; a sleeve
    on all the copper and on the diameter over all its wires.
    """

    __pydantic_config__ = DATA
    code: str
    description: str
    area_min_mm2: float
    area_max_mm2: float
    strip_mm: float
    allowance_mm: float
    resistance_mohm: float
    mass_g: float
    price: float
    kind: SpliceKind = "overlap"
    form: SpliceForm = "open barrel"
    od_min_mm: float = 0.0
    od_max_mm: float = 1e3
    """Window of the diameter over the insulated wires together, where that counts."""
    temperature_c: float = 150.0
    least_c: float | None = None
    """The coldest that it stands; not known when absent."""
    current_a: float = 1e3
    colour: str = ""
    covered: bool = False
    """Whether it needs no cover of its own."""
    sealing: bool = False
    """Whether its own sleeve keeps water out."""
    tool: str = ""
    nest: str = ""
    pull: str = ""


@record
class Cover:
    """Shrink tube over a splice or a terminal: supplied and recovered inside diameter."""

    __pydantic_config__ = DATA
    code: str
    description: str
    supplied_mm: float
    recovered_mm: float
    lined: bool
    """Lined with adhesive: closes against water."""
    length_mm: float
    temperature_c: float
    mass_g: float
    price: float
    source: str = ""
    least_c: float | None = None
    """The coldest that it stands; not known when absent."""


@record
class Studs:
    """What a stud and its hole measure."""

    __pydantic_config__ = DATA
    studs: dict[str, tuple[float, float]]
    """Stud to (its diameter, the hole over it) in mm."""
    most_lugs: int
    source: str
    block_g_per_stud: float
    block_price_per_stud: float
    """Of a ground or bus block, for each of its studs."""

    def block(self, studs: int) -> Part:
        """The block with so many studs."""
        return Part(
            f"GB-{studs}",
            f"Ground or bus block, {studs} studs",
            self.block_g_per_stud * studs,
            self.block_price_per_stud * studs,
        )


@record
class PullTable:
    """Least pull-out force by conductor, for samples: never for a contact that is to be used."""

    __pydantic_config__ = DATA
    source: str
    rows: tuple[tuple[float, float], ...]
    """(copper area in mm2, force in N), rising."""

    def force_n(self, area_mm2: float) -> float | None:
        """The force of the nearest size at or below this area; None below the first."""
        force_n = None
        for area, force in self.rows:
            if area_mm2 >= area * 0.93:
                force_n = force
        return force_n


@record
class Tool:
    """A tool: what it does, what it takes, what it costs."""

    __pydantic_config__ = DATA
    code: str
    description: str
    kind: ToolKind
    price: float
    nests: tuple[str, ...] = ()
    positioners: tuple[str, ...] = ()
    takes_mm2: tuple[float, float] | None = None
    takes_mm: tuple[float, float] | None = None
    """Diameters: of insulation for a stripper, of cable for a cutter."""
    insulation: tuple[str, ...] = ()
    """Insulations that a stripper's blades suit."""
    source: str = "invented, typical of its kind"
