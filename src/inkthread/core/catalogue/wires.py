"""Wire as it is sold, and the published tables of what it may carry."""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import lru_cache
from typing import Literal

from inkthread.core.catalogue.ends import DATA as _DATA
from inkthread.core.record import record


@record
class WireSize:
    """One size of a wire family. Diameters are of the insulated wire unless named otherwise."""

    __pydantic_config__ = _DATA
    gauge: str
    awg: int | None
    area_mm2: float
    """Copper area: the sum of the strands."""
    strands: int
    strand_diameter_mm: float
    conductor_diameter_mm: float
    od_min_mm: float
    od_mm: float
    od_max_mm: float
    resistance_ohm_per_km: float
    """Maximum at 20 deg C."""
    mass_g_per_m: float
    price_per_m: float
    bend_radius_mm: float
    cable_od_mm: float | None = None
    """Over all, where several cores make one cable."""

    @property
    def solid(self) -> bool:
        """Whether it is one strand, whatever its family is called; a winding about a core is not."""
        return self.strands == 1 and self.strand_diameter_mm > self.conductor_diameter_mm / 2


Construction = Literal["single", "solid", "ribbon", "jacketed", "twisted", "shielded", "ignition", "coax"]


@dataclass(frozen=True, slots=True, eq=False)
class WireFamily:
    """A kind of wire: insulation, rating, sizes thinnest first.

    In a family of several ``cores`` a size is one core, with its share of mass and price.
    """

    __pydantic_config__ = _DATA
    code: str
    name: str
    insulation: str
    plating: Literal["bare", "tin", "silver", "nickel"]
    temperature_c: float
    voltage_v: float
    burn_rated: bool
    tracers: bool
    """Whether two-colour wire is made."""
    construction: Construction
    sizes: tuple[WireSize, ...]
    sources: dict[str, str]
    colours: tuple[str, ...] = ()
    """Colours it is made in; all of the scheme where none is named."""
    general: bool = True
    """Whether a whole harness may be made in it."""
    cores: int = 1
    core_gauges: tuple[str, ...] = ()
    """The size of each core, in the order of ``colours``, of a cable sold with unequal ones; else empty."""
    shielded: bool = False
    least_c: float | None = None
    """The coldest that its insulation stands as it lies still; not known when absent."""
    fluids: tuple[str, ...] = ()
    """Fluids that its insulation stands."""
    resistance_min_ohm_per_m: float | None = None
    resistance_max_ohm_per_m: float | None = None
    """Band of a resistive lead."""

    def size(self, gauge: str) -> WireSize | None:
        """The size with this gauge name, or None."""
        return _by_gauge(self).get(gauge)

    @property
    def as_one(self) -> bool:
        """Whether wires of it lie, are cut and are bought in one piece: a cable, or a strip of a ribbon."""
        return self.cores > 1 or self.construction == "ribbon"

    def piece(self, gauge: str, cores: int) -> tuple[str, ...]:
        """The sizes of so many cores of a piece, all of one gauge unless it is sold with unequal ones."""
        return self.core_gauges * math.ceil(cores / self.cores) if self.core_gauges else (gauge,) * cores

    def lead_ohm(self, length_m: float) -> tuple[float, float]:
        """Least and most resistance of a resistive lead of this length, end to end; both 0 of copper."""
        least, most = self.resistance_min_ohm_per_m or 0.0, self.resistance_max_ohm_per_m or 0.0
        return least * length_m, most * length_m

    def sold_as(self, gauge: str) -> str:
        """What a piece of it is bought as, such as ``JACKETED-4 22 AWG``; of unequal cores its code only."""
        return self.code if self.core_gauges else f"{self.code} {gauge}"


@lru_cache(maxsize=256)
def _by_gauge(family: WireFamily) -> dict[str, WireSize]:
    return {s.gauge: s for s in reversed(family.sizes)}


@record
class AircraftSize:
    """Free-air current of one AWG size at the table's rise; 0 is 1/0 and -3 is 4/0."""

    __pydantic_config__ = _DATA
    awg: int
    free_air_a: float
    fitted: bool
    """True where the figure is not a published one."""
    source: str


@record
class BundlePoint:
    """A published point of the bundle chart."""

    __pydantic_config__ = _DATA
    wires: int
    loaded: float
    factor: float


@record
class AircraftRule:
    """The aircraft bundle rule: free air by gauge, bundle factor, altitude factor."""

    __pydantic_config__ = _DATA
    rise_k: float
    exponent: float
    exponent_source: str
    sizes: tuple[AircraftSize, ...]
    bundle: tuple[BundlePoint, BundlePoint]
    """Partly loaded, and fully loaded."""
    bundle_source: str
    altitude: tuple[tuple[float, float], ...]
    """(feet, factor), rising."""
    altitude_source: str


@record
class MarineTable:
    """Allowable current by insulation rating (keys in deg C) and AWG size."""

    __pydantic_config__ = _DATA
    source: str
    sizes: tuple[int, ...]
    outside: dict[int, tuple[float, ...]]
    inside_factor: dict[int, float]
    bundling: tuple[tuple[int, float], ...]
    """(up to this many current-carrying conductors, factor)."""
    bundling_source: str
    outside_ambient_c: float
    inside_ambient_c: float
