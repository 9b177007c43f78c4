"""The bench: quick calculators without a harness."""

from __future__ import annotations

from typing import Literal

import numpy as np

from inkthread.core.brief.rules import table_drop_v
from inkthread.core.catalogue import Catalogue
from inkthread.core.circuits.fuses import smallest_fuse
from inkthread.core.document.values import Practice, Service
from inkthread.core.physics.conductor import resistance_at_temperature
from inkthread.core.physics.heat import conductor_temperature_c
from inkthread.core.quantity import QuantityError, parse_percent, parse_voltage_v
from inkthread.core.record import record
from inkthread.core.tolerances import HOLDS, NOUGHT
from inkthread.core.wire.families import candidate_table, strength_areas_mm2
from inkthread.core.wire.limits import LIMITS, Asked, WorstEnds, judge

ReturnPath = Literal["wired", "structure"]


@record
class BenchCandidate:
    """One gauge judged for a single wire."""

    gauge: str
    area_mm2: float
    drop_v: float
    drop_percent: float
    ampacity_a: float
    allowed_a: float
    temperature_c: float
    limits: dict[str, float]
    fails: tuple[str, ...]


@record
class BenchWire:
    """The gauge of a single wire and the limit that governs it.

    ``ampacity_a`` is of one wire alone in still air; ``allowed_a`` is its share in a bundle.
    ``fits`` is False where even the largest size fails a limit; it is then the one given.
    """

    gauge: str
    area_mm2: float
    governs: str
    fits: bool
    drop_v: float
    drop_percent: float
    drop_limit_v: float
    drop_limit_source: str
    ampacity_a: float
    allowed_a: float
    bundle_share: float
    fuse_a: float | None
    candidates: tuple[BenchCandidate, ...]


def parse_drop_limit_v(text: str, volts: float) -> float:
    """A drop limit in V from ``3 %`` of the working voltage, or ``0.5 V``. Raises QuantityError."""
    if "%" in text or "percent" in text.lower():
        limit = parse_percent(text) / 100 * volts
    else:
        limit = parse_voltage_v(text)
    if limit <= 0:
        raise QuantityError(f"{text!r} allows no drop at all. Write it like 3 % or 0.5 V.")
    return limit


def reckon_wire(
    catalogue: Catalogue,
    practice: Practice,
    family_code: str,
    current_a: float,
    length_mm: float,
    volts: float,
    ambient_c: float,
    service: Service = "continuous",
    return_path: ReturnPath = "wired",
    drop_limit: str | None = None,
) -> BenchWire:
    """The least gauge of a family that holds current, drop, fuse and strength. No ends are judged.

    ``length_mm`` is one way; a wired return doubles the loop. A structure return adds nothing.
    """
    family = catalogue.wires[family_code]

    def rule(name: str) -> float | None:
        return catalogue.rules[name].values[practice]

    share = rule("bundle_share") or 1.0
    fuse = smallest_fuse(current_a, (rule("fuse_load_share_percent") or 100) / 100, catalogue)
    if drop_limit is not None:
        limit_v, limit_source = parse_drop_limit_v(drop_limit, volts), f"{drop_limit}, as asked"
    else:
        percent = rule(f"drop_limit_{service}_percent")
        if percent is None:
            limit_v, limit_source = table_drop_v(volts, service, catalogue)
        else:
            limit_v, limit_source = volts * percent / 100, f"{percent:g} %, {practice} practice"

    table = candidate_table((family,), ((ambient_c, 0.0),))
    count = len(family.sizes)
    one = np.array([current_a])
    never = np.zeros((1, count), dtype=bool)
    judged = judge(
        Asked(
            np.full((1, count), current_a),
            np.array([fuse.rating_a if fuse else 0.0]),
            np.zeros(1),
            np.array([rule("least_area_mm2") or 0.0]),
            np.zeros(1, dtype=bool),
        ),
        table.free_air_a * share,
        table.free_air_a,
        strength_areas_mm2(table, rule("least_area_mm2") or NOUGHT)[None, :],
        WorstEnds(np.zeros((1, count)), never, never, np.full((1, count), np.inf)),
    )
    hot = np.array([float(conductor_temperature_c(table.curves, n, one)[0]) for n in range(count)])
    loop_m = length_mm / 1000 * (2 if return_path == "wired" else 1)
    drop = current_a * loop_m * np.asarray(resistance_at_temperature(table.resistance_20c_ohm_per_m, hot))
    matrix = np.stack(
        [
            judged.current[0],
            drop / limit_v,
            judged.fuse[0],
            judged.strength[0],
            np.zeros(count),
        ],
        axis=1,
    )
    passes = (matrix <= HOLDS).all(axis=1)
    chosen = int(passes.argmax()) if passes.any() else count - 1
    candidates = tuple(
        BenchCandidate(
            size.gauge,
            size.area_mm2,
            round(float(drop[n]), 5),
            round(float(drop[n]) / volts * 100, 4),
            round(float(table.free_air_a[0, n]), 3),
            round(float(judged.allowed_a[0, n]), 3),
            round(float(hot[n]), 2),
            {k: round(min(float(matrix[n, m]), 99.0), 4) for m, k in enumerate(LIMITS)},
            tuple(k for m, k in enumerate(LIMITS) if matrix[n, m] > HOLDS),
        )
        for n, size in enumerate(family.sizes)
    )
    best = candidates[chosen]
    governs = LIMITS[int(matrix[max(chosen - 1, 0)].argmax())]
    return BenchWire(
        best.gauge,
        best.area_mm2,
        governs,
        bool(passes.any()),
        best.drop_v,
        best.drop_percent,
        round(limit_v, 5),
        limit_source,
        best.ampacity_a,
        best.allowed_a,
        share,
        fuse.rating_a if fuse else None,
        candidates,
    )
