"""Wire families in play: shipped ones and the builder's own, and which each wire may be made in."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, replace

import numpy as np

from inkthread.core.catalogue import Catalogue, Densities, WireFamily, WireSize
from inkthread.core.document.choices import OwnFamily, OwnSize, Sample
from inkthread.core.document.pin_ref import read_ref
from inkthread.core.document.types import Document
from inkthread.core.document.values import Objective
from inkthread.core.physics.air import pressure_at_altitude_pa
from inkthread.core.physics.conductor import (
    COPPER_ALPHA_20C_PER_K,
    TRADE_AWG,
    BoolArray,
    FloatArray,
    IntArray,
    awg_area_mm2,
)
from inkthread.core.physics.heat import HeatCurves, free_air_ampacity_a, heat_curves
from inkthread.core.quantity import QuantityError, parse_gauge
from inkthread.core.tolerances import ROUNDING


def stands_air(families: Iterable[WireFamily], ambient_c: float) -> WireFamily | None:
    """The least heat-proof family of single wire for any use whose insulation stands the air, or None."""
    good = [f for f in families if f.general and f.construction == "single" and f.temperature_c > ambient_c]
    return min(good, key=lambda f: (f.temperature_c, f.code), default=None)


def own_family(code: str, own: OwnFamily, densities: Densities) -> WireFamily:
    """A family of the builder's own as one of the catalogue's."""
    source = own.source or "the builder's own figure"
    sizes = sorted(own.sizes.values(), key=lambda s: (s.area_mm2, s.order))
    fields = (
        "temperature_c", "voltage_v", "burn_rated", "area_mm2", "strands", "strand_diameter_mm",
        "conductor_diameter_mm", "od_min_mm", "od_mm", "od_max_mm", "resistance_ohm_per_km",
        "mass_g_per_m", "price_per_m", "bend_radius_mm",
    )  # fmt: skip
    return WireFamily(
        code,
        own.name,
        own.insulation,
        "bare",
        own.temperature_c,
        own.voltage_v,
        own.burn_rated,
        own.tracers,
        "single",
        tuple(_own_size(s, densities) for s in sizes),
        dict.fromkeys(fields, source),
    )


def _own_size(s: OwnSize, densities: Densities) -> WireSize:
    insulation_mm2 = 0.785 * (s.od_mm**2 - s.conductor_mm**2)
    mass_g_per_m = s.area_mm2 * densities.copper_g_per_cm3 + insulation_mm2 * densities.insulation_g_per_cm3
    return WireSize(
        s.gauge,
        None,
        s.area_mm2,
        s.strands,
        float(np.sqrt(s.area_mm2 / s.strands / 0.7854)),
        s.conductor_mm,
        s.od_least_mm or s.od_mm * 0.97,
        s.od_mm,
        s.od_most_mm or s.od_mm * 1.03,
        s.resistance_mohm_per_m,
        s.mass_g_per_m if s.mass_g_per_m is not None else mass_g_per_m,
        s.price_per_m,
        10 * s.od_mm,
    )


def known_families(document: Document, catalogue: Catalogue) -> dict[str, WireFamily]:
    """Every family that the document may name; its own come first where a code is the same."""
    known = labelled_families(document, catalogue)
    samples: dict[str, list[Sample]] = {}
    for sample in document.wire.samples.values():
        samples.setdefault(sample.family, []).append(sample)
    sampled = {code: as_sampled(known[code], tuple(of)) for code, of in samples.items() if code in known}
    return {**known, **sampled}


def labelled_families(document: Document, catalogue: Catalogue) -> dict[str, WireFamily]:
    """The same as their labels and data say, whatever was measured."""
    own = {
        code: own_family(code, family, catalogue.densities)
        for code, family in document.wire.own_families.items()
        if family.sizes
    }
    return {**catalogue.wires, **own}


def as_sampled(family: WireFamily, samples: tuple[Sample, ...]) -> WireFamily:
    """A family with the sizes that the builder measured as they were measured.

    A size measured twice counts as the worse sample. Copper is reckoned from the resistance, as much as
    conducts like it; where only the diameter was measured, copper stays the label's. What is measured
    has no tolerance. The same family where no sample changes it.
    """
    sizes = tuple(_as_measured(size, [s for s in samples if s.gauge == size.gauge]) for size in family.sizes)
    return family if sizes == family.sizes else replace(family, sizes=sizes)


def _as_measured(size: WireSize, samples: list[Sample]) -> WireSize:
    ohms = [
        s.resistance_mohm_per_m / (1 + COPPER_ALPHA_20C_PER_K * (s.temperature_c - 20))
        for s in samples
        if s.resistance_mohm_per_m is not None
    ]
    over = [s.od_mm for s in samples if s.od_mm is not None]
    if ohms:
        share = size.resistance_ohm_per_km / max(ohms)
        size = replace(size, resistance_ohm_per_km=max(ohms), area_mm2=size.area_mm2 * share)
    if over:
        od = sum(over) / len(over)
        thinner = min(size.conductor_diameter_mm, od * 0.95)
        size = replace(
            size, od_mm=od, od_min_mm=min(over), od_max_mm=max(over), conductor_diameter_mm=thinner
        )
    return size


NAME_SLACK = 0.1
"""A name counts while the copper is no more than this share short of it: measured thinner, copper counts."""
ACROSS_SYSTEMS = 0.05
"""Across systems sizes compare by copper, this much short of it allowed."""
_TRADE_MM2 = (
    0.05, 0.08, 0.13, 0.14, 0.22, 0.25, 0.35, 0.5, 0.75, 1, 1.25, 1.5, 2, 2.5, 3, 4, 5, 6, 8, 10, 12, 16, 20,
    25, 30, 35, 40, 50, 60, 70, 95, 120,
)  # fmt: skip
"""Sizes sold by their copper (IEC 60228, table 1, and ISO 6722-1, table 3, from memory)."""
_IS_AWG = 0.02
"""A rule in mm2 this near the area of an AWG number means that number: 0.32 is 22 AWG."""


def named_area_mm2(size: WireSize) -> float:
    """What a size is called, in mm2: nominal is nominal, whatever copper its standard lets it hold."""
    named = awg_area_mm2(size.awg) if size.awg is not None else _metric_name_mm2(size)
    return named if size.area_mm2 >= named * (1 - NAME_SLACK) else size.area_mm2


def _metric_name_mm2(size: WireSize) -> float:
    try:
        return parse_gauge(size.gauge).area_mm2
    except QuantityError:
        return size.area_mm2


def rule_is_metric(least_mm2: float) -> bool | None:
    """Whether a least size is a metric one, or an AWG one, or (None) neither."""
    if any(abs(least_mm2 - trade_mm2) <= 1e-3 * trade_mm2 for trade_mm2 in _TRADE_MM2):
        return True
    if any(abs(least_mm2 - awg_area_mm2(n)) <= _IS_AWG * awg_area_mm2(n) for n in TRADE_AWG):
        return False
    return None


def strength_areas_mm2(table: CandidateTable, least_mm2: float) -> FloatArray:
    """What each size counts as against a least size, in mm2. (s,).

    Sizes of the rule's own system by their names, those of the other by their copper within 5 %; where
    the rule is of neither, the better of the two.
    """
    metric = rule_is_metric(least_mm2)
    if metric is None:
        return np.maximum(table.named_mm2, table.area_mm2)
    return np.where(table.metric == metric, table.named_mm2, table.area_mm2 / (1 - ACROSS_SYSTEMS))


@dataclass(slots=True)
class CandidateTable:
    """Every size of the families in play, family after family, in the airs that occur.

    Shapes: sizes (s,); ``free_air_a`` (airs, s). ``curves`` has a row for each (air, size).
    """

    families: tuple[WireFamily, ...]
    sizes: tuple[WireSize, ...]
    family_of: IntArray
    airs: tuple[tuple[float, float], ...]
    """Ambient in deg C, and heat that falls on the wires in W/m2."""
    area_mm2: FloatArray
    named_mm2: FloatArray
    """What the size is called: the metric name, or the area of its AWG number; copper where it is far off."""
    metric: BoolArray
    """Whether its name is metric."""
    outside_mm: FloatArray
    conductor_mm: FloatArray
    resistance_20c_ohm_per_m: FloatArray
    """ohm per metre."""
    mass_g_per_m: FloatArray
    price_per_m: FloatArray
    rating_c: FloatArray
    curves: HeatCurves
    free_air_a: FloatArray
    """By heat balance, of one wire alone, at its family's temperature and the harness's altitude."""

    def row(self, air: int, size: int) -> int:
        """Row of the curves for an air and a size."""
        return air * len(self.sizes) + size

    def of_family(self, code: str) -> IntArray:
        """Indices of one family's sizes, thinnest first."""
        at = next(n for n, f in enumerate(self.families) if f.code == code)
        return np.nonzero(self.family_of == at)[0]


def candidate_table(
    families: tuple[WireFamily, ...], airs: tuple[tuple[float, float], ...], altitude_m: float = 0.0
) -> CandidateTable:
    """Heat curves and free-air ampacity of every size of the families in each air."""
    sizes = tuple(s for f in families for s in f.sizes)
    family_of = np.repeat(np.arange(len(families)), [len(f.sizes) for f in families]).astype(np.intp)
    n, repeats = len(sizes), len(airs)
    conductor = np.array([s.conductor_diameter_mm for s in sizes])
    outside = np.array([s.od_mm for s in sizes])
    resistance_ohm_per_m = np.array([s.resistance_ohm_per_km / 1000 for s in sizes])
    rating = np.array([f.temperature_c for f in families])[family_of]
    ambient, radiant = (np.repeat(np.array(of, dtype=float), n) for of in zip(*airs, strict=True))
    curves = heat_curves(
        np.tile(conductor, repeats),
        np.tile(outside, repeats),
        np.tile(resistance_ohm_per_m, repeats),
        ambient,
        top_c=max(400.0, float(rating.max(initial=0.0)) + 20.0),
        pressure_pa=pressure_at_altitude_pa(altitude_m),
        radiant_w_per_m2=radiant,
    )
    free = free_air_ampacity_a(
        np.tile(conductor, repeats),
        np.tile(outside, repeats),
        np.tile(resistance_ohm_per_m, repeats),
        ambient,
        np.tile(rating, repeats),
        pressure_at_altitude_pa(altitude_m),
        radiant,
    )
    return CandidateTable(
        families,
        sizes,
        family_of,
        airs,
        np.array([s.area_mm2 for s in sizes]),
        np.array([named_area_mm2(s) for s in sizes]),
        np.array([s.awg is None for s in sizes], dtype=bool),
        outside,
        conductor,
        resistance_ohm_per_m,
        np.array([s.mass_g_per_m for s in sizes]),
        np.array([s.price_per_m for s in sizes]),
        rating,
        curves,
        free.reshape(repeats, n),
    )


@dataclass(slots=True)
class Chains:
    """For each wire, the candidates it may be made as, cheapest by the objective first.

    ``index`` (n, k) names candidates of the table; ``length`` (n,) says how many of a row count,
    the rest repeat the last. Along a row what is spent rises and resistance falls.
    """

    index: IntArray
    length: IntArray
    first: IntArray
    """How many of a row are of the wire's first family, where that family goes before the others."""


class FamiliesAsked:
    """Which families each wire may be made in: fixed, its group's, its circuit's, else the harness's.

    An ignition lead is made in ``ignition_family`` where nobody says otherwise.
    """

    def __init__(self, document: Document, harness_family: str, ignition_family: str | None) -> None:
        circuits = document.circuits
        self._fixed = {k: (f.family,) for k, f in document.wire.fixed.items() if f.family is not None}
        self._of_group: dict[str, str] = {}
        for group in circuits.groups.values():
            if group.family is not None:
                for member in group.members:
                    self._of_group.setdefault(member, group.family)
        also = sorted(document.wire.also.items(), key=lambda kv: kv[1].order)
        usual = (harness_family, *(code for code, _ in also if code != harness_family))
        self._of_circuit: dict[str, tuple[str, ...]] = {}
        for circuit_id, circuit in circuits.circuits.items():
            asked = usual
            if circuit.family is not None:
                asked = (circuit.family,)
            elif ignition_family is not None and _is_ignition(document, circuit_id):
                asked = (ignition_family,)
            self._of_circuit[circuit_id] = asked

    def of(self, circuit: str, key: str, *, alone: bool = False) -> tuple[str, ...]:
        """The codes for one wire, the first choice first. What runs ``alone`` is no core of its group's
        cable."""
        if key in self._fixed:
            return self._fixed[key]
        if circuit in self._of_group and not alone:
            return (self._of_group[circuit],)
        return self._of_circuit[circuit]


def _is_ignition(document: Document, circuit: str) -> bool:
    devices = document.circuits.devices
    for ref in document.circuits.circuits[circuit].ends:
        device, pin = read_ref(ref)
        if devices[device].pins[pin].role == "ignition":
            return True
    return False


def build_chains(table: CandidateTable, codes: list[tuple[str, ...]], objective: Objective) -> Chains:
    """A chain for each wire from the families it may be made in."""
    chains: dict[tuple[str, ...], IntArray] = {}
    for of_wire in codes:
        if of_wire not in chains:
            chains[of_wire] = _chain(table, of_wire, objective)
    first = {
        k: len(table.of_family(k[0])) if objective == "least copper" else len(c) for k, c in chains.items()
    }
    longest = max((len(c) for c in chains.values()), default=1)
    padded = {k: np.concatenate([c, np.repeat(c[-1:], longest - len(c))]) for k, c in chains.items()}
    if not codes:
        none = np.zeros(0, dtype=np.intp)
        return Chains(np.zeros((0, longest), dtype=np.intp), none, none)
    return Chains(
        np.stack([padded[c] for c in codes]).astype(np.intp),
        np.array([len(chains[c]) for c in codes], dtype=np.intp),
        np.array([first[c] for c in codes], dtype=np.intp),
    )


def _chain(table: CandidateTable, codes: tuple[str, ...], objective: Objective) -> IntArray:
    """Candidates of the families in order of what they spend, each with less resistance than before.

    By copper the first family comes first, and others only where they go beyond it. For the fewest
    parts every candidate counts.
    """
    every = [table.of_family(code) for code in codes]
    if objective == "fewest parts":
        both = np.concatenate(every)
        return np.asarray(both[np.argsort(-table.resistance_20c_ohm_per_m[both], kind="stable")])
    if objective == "least copper":
        taken = list(every[0])
        for other in every[1:]:
            taken += [i for i in other if table.area_mm2[i] > table.area_mm2[taken[-1]] * 1.05]
        return np.array(taken, dtype=np.intp)
    spent = table.mass_g_per_m if objective == "lightest" else table.price_per_m
    best: list[int] = []
    for i in sorted(
        np.concatenate(every).tolist(), key=lambda i: (spent[i], table.resistance_20c_ohm_per_m[i])
    ):
        if not best or table.resistance_20c_ohm_per_m[i] < table.resistance_20c_ohm_per_m[best[-1]] * (
            1 - ROUNDING
        ):
            best.append(i)
    return np.array(best, dtype=np.intp)
