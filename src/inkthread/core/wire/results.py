"""What the wire room works out: wires, drops, and the tables that reckonings are made from."""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np

from inkthread.core.catalogue import WireFamily, WireSize
from inkthread.core.physics.conductor import FloatArray, IntArray
from inkthread.core.route import Flow
from inkthread.core.wire.brown_out import BrownOut
from inkthread.core.wire.bundle_ampacity import BundleAmpacity, FreeAir
from inkthread.core.wire.cables import CablePiece
from inkthread.core.wire.choose import FewestParts
from inkthread.core.wire.limits import Asked, Judgement
from inkthread.core.wire.placement import WirePlacement

_NO_FLOW = Flow(np.zeros(0, dtype=np.intp), np.zeros(0, dtype=np.intp), np.zeros(0), (), 0, 0)


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
    """Hottest along its way, in its bundles."""
    ambient_c: float
    cable: str | None
    """The group it is a core of."""


@dataclass(frozen=True, slots=True)
class LoopDrop:
    """Voltage drop of one load around its whole loop, in the mode where it loses most."""

    load: str
    drop_v: float
    drop_percent: float
    limit_v: float
    limit_source: str
    wires: tuple[str, ...]
    drawn_a: float
    """What it draws at the volts it gets."""
    gets_v: float
    least_gets_v: float
    """What it gets at the least supply."""
    supply_v: float
    devices_v: float
    """Part of the drop inside fuses, switches and the structure."""


@dataclass(slots=True)
class WireResult:
    """Wires by key, drop by load, and the tables that reckonings are made from.

    Matrices are (n, k): wires in the order of ``keys`` by the candidates of their chains.
    """

    wires: dict[str, Wire]
    loops: dict[str, LoopDrop]
    branch_hottest_c: dict[str, float]
    family: WireFamily
    """The harness's own."""
    families: dict[str, WireFamily]
    """Every family known to the document."""
    free: FreeAir
    placement: WirePlacement
    asked: Asked
    in_bundles: BundleAmpacity
    keys: list[str]
    chosen: IntArray
    judgement: Judgement
    drop_ratio: FloatArray
    """Worst loop over its limit, with this wire at each candidate and all others as chosen."""
    resistance: FloatArray
    """ohm per metre at working temperature."""
    joints: FloatArray
    """(n,): ohm of contacts and splices at both ends."""
    path_ohm: dict[str, float]
    """Resistance inside devices by ``device.path``."""
    fewest: FewestParts | None
    """What was proved, where the fewest parts were asked for."""
    brown_outs: tuple[BrownOut, ...] = ()
    """Loads that get too little while others are at their peak."""
    starved: tuple[int, ...] = ()
    """Loops that the supply collapses under, by their place."""
    shares: dict[str, float] = field(default_factory=dict)
    """Connector to the part of its contacts' current left by its loaded ways and its ambient."""
    cables: tuple[CablePiece, ...] = ()
    """Wires that are cores of one piece of cable."""
    ends_of: dict[str, tuple[str, ...]] = field(default_factory=dict)
    """Wire to the device pins at its ends."""
    loop_shares: dict[str, list[float]] = field(default_factory=dict)
    """Load to the part of its current in each wire of its loop: 1 but where ways lie side by side."""
    heating_a: FloatArray = field(default_factory=lambda: np.zeros(0))
    """(n,): the current that heats each wire as much as what it carries."""
    carried_a: FloatArray = field(default_factory=lambda: np.zeros(0))
    """(n,): the most that each wire carries in any mode."""
    twist: FloatArray = field(default_factory=lambda: np.ones(0))
    """(n,): how much longer each wire is for being twisted by hand."""
    through_a: dict[str, float] = field(default_factory=dict)
    """The most that each path inside a device and each stud carries, by name."""
    fuse_heating_a: dict[str, float] = field(default_factory=dict)
    """The current that heats each fuse as much as what it carries on and off, by ``device.path``."""
    flow: Flow = field(default_factory=lambda: _NO_FLOW)
    """Which wires each loop crosses, with how much of its current, as the wires are."""
    row_ohm: FloatArray = field(default_factory=lambda: np.zeros(0))
    """Resistance of every row of the flow."""
    loop_currents_a: dict[str, list[float]] = field(default_factory=dict)
    """Load to the current in each wire of its loop, with the loop, in the mode where it loses most."""
    places: dict[str, int] = field(default_factory=dict)
    repeats_allowed: bool = False
    """Whether the colour scheme lets one colour come twice in a connector."""

    @property
    def at(self) -> dict[str, int]:
        """Place of each wire in the matrices."""
        if not self.places:
            self.places.update({k: i for i, k in enumerate(self.keys)})
        return self.places

    def size_at(self, i: int, k: int) -> WireSize:
        """A candidate of a wire's chain."""
        return self.free.table.sizes[int(self.free.chains.index[i, k])]

    def family_at(self, i: int, k: int) -> WireFamily:
        """The family of a candidate of a wire's chain."""
        table = self.free.table
        return table.families[int(table.family_of[self.free.chains.index[i, k]])]

    def size(self, key: str) -> WireSize:
        """The size chosen for a wire."""
        made = self.wires[key]
        found = self.families[made.family].size(made.gauge)
        assert found is not None
        return found
