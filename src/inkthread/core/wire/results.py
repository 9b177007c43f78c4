"""What the wire room works out: wires, drops, and the tables that reckonings are made from."""

from __future__ import annotations

from dataclasses import dataclass

from inkthread.core.physics.conductor import FloatArray
from inkthread.core.wire.drop import IntArray
from inkthread.core.wire.limits import Judgement, SizeTable


@dataclass(frozen=True, slots=True)
class Wire:
    """One wire as it will be made. ``limits`` are ratios in the order of ``LIMITS``."""

    key: str
    label: str
    circuit: str
    from_text: str
    to_text: str
    family: str
    gauge: str
    area_mm2: float
    od_mm: float
    conductor_mm: float
    """Diameter over the strands."""
    colour: str
    carries_a: float
    limits: tuple[float, float, float, float, float]
    governs: str
    fixed: bool
    loss_v: float
    """V lost in this wire and its joints alone."""
    drop_v: float
    """V lost around the worst loop that crosses this wire."""
    drop_percent: float
    temperature_c: float
    ambient_c: float


@dataclass(frozen=True, slots=True)
class LoopDrop:
    """Voltage drop of one load around its whole loop."""

    load: str
    drop_v: float
    drop_percent: float
    limit_v: float
    limit_source: str
    wires: tuple[str, ...]


@dataclass(slots=True)
class WireResult:
    """Wires by key, drop by load, and the tables that reckonings are made from."""

    wires: dict[str, Wire]
    loops: dict[str, LoopDrop]
    branch_hottest_c: dict[str, float]
    branch_bundle_mm: dict[str, float]
    table: SizeTable
    keys: list[str]
    chosen: IntArray
    judgement: Judgement
    drop_ratio: FloatArray
    """(n, s): worst loop over its limit, with this wire at each size and all others as chosen."""
    resistance: FloatArray
    """(n, s): ohm per metre at working temperature."""
    joints: FloatArray
    """(n,): ohm of contacts and splices at both ends."""
    fuse_single_a: FloatArray
    fuse_sum_a: FloatArray
