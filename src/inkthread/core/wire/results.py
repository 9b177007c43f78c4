"""What the wire room works out: wires, drops, and the tables that reckonings are made from."""

from __future__ import annotations

from inkthread.core.catalogue import WireFamily, WireSize
from inkthread.core.physics.conductor import FloatArray, IntArray
from inkthread.core.record import record
from inkthread.core.route import Flow
from inkthread.core.wire.brown_out import BrownOut
from inkthread.core.wire.bundle_ampacity import BundleAmpacity
from inkthread.core.wire.cables import CablePiece
from inkthread.core.wire.choose import FewestParts
from inkthread.core.wire.free_air import FreeAir
from inkthread.core.wire.limits import Asked, Judgement
from inkthread.core.wire.made import MadeWires
from inkthread.core.wire.placement import WirePlacement
from inkthread.core.wire.set_out import SetOut


@record
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


@record
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
    limit_percent: float
    """What it may lose, in per cent of its supply."""


@record
class WireTables:
    """What wires are judged by. Matrices are (n, k): wires in the order of ``keys`` by the candidates of
    their chains.
    """

    keys: tuple[str, ...]
    at: dict[str, int]
    """Place of each wire in the matrices."""
    family: WireFamily
    """The harness's own."""
    families: dict[str, WireFamily]
    """Every family known to the document."""
    free: FreeAir
    placement: WirePlacement
    asked: Asked
    in_bundles: BundleAmpacity
    chosen: IntArray
    judgement: Judgement
    drop_ratio: FloatArray
    """Worst loop over its limit, with this wire at each candidate and all others as chosen."""
    resistance_ohm_per_m: FloatArray
    """At working temperature."""
    termination_ohm: FloatArray
    """(n,): contacts and splices at both ends."""
    path_ohm: dict[str, float]
    """Resistance inside devices by ``device.path``."""
    heating_a: FloatArray
    """(n,): the current that heats each wire as much as what it carries."""
    carried_a: FloatArray
    """(n,): the most that each wire carries in any mode."""
    twist: FloatArray
    """(n,): how much longer each wire is for being twisted by hand."""
    flow: Flow
    """Which wires each loop crosses, with how much of its current, as the wires are."""
    row_ohm: FloatArray
    """Resistance of every row of the flow."""
    cables: tuple[CablePiece, ...]
    """Wires that are cores of one piece of cable."""

    def size_at(self, i: int, k: int) -> WireSize:
        """A candidate of a wire's chain."""
        return self.free.table.sizes[int(self.free.chains.index[i, k])]

    def family_at(self, i: int, k: int) -> WireFamily:
        """The family of a candidate of a wire's chain."""
        table = self.free.table
        return table.families[int(table.family_of[self.free.chains.index[i, k]])]


@record
class LoopDrops:
    """The drops of all loads, and what of them crosses each wire."""

    drops: dict[str, LoopDrop]
    """By load."""
    currents_a: dict[str, list[float]]
    """Load to the current in each wire of its loop, with the loop, in the mode where it loses most."""
    parts: dict[str, list[float]]
    """Load to the part of its current in each wire of its loop: 1 but where ways lie side by side."""


@record
class WireResult:
    """Wires by key, the drops of their loads, and the tables that both are judged by."""

    wires: dict[str, Wire]
    told: FloatArray
    """(n, limits): the ratios of the wires as they are told."""
    made: MadeWires
    """The same wires without what they carry: the same object where an edit changed none of that."""
    loop_drops: LoopDrops
    branch_hottest_c: dict[str, float]
    """The hottest conductor of every branch that holds a wire."""
    tables: WireTables
    fewest: FewestParts | None
    """What was proved, where the fewest parts were asked for."""
    brown_outs: tuple[BrownOut, ...]
    """Loads that get too little while others are at their peak."""
    starved: tuple[int, ...]
    """Loads that the supply collapses under, by their place."""
    derating_by_connector: dict[str, float]
    """The part of its contacts' current that its loaded ways and its ambient leave each."""
    ends_of: dict[str, tuple[str, ...]]
    """Wire to the device pins at its ends."""
    through_a: dict[str, float]
    """The most that each path inside a device and each stud carries, by name."""
    fuse_heating_a: dict[str, float]
    """The current that heats each fuse as much as what it carries on and off, by ``device.path``."""
    texts: dict[str, tuple[str, str]]
    """What the ends of each wire are called."""
    set_out: SetOut
    """Where they lie and what each could be made as."""

    @property
    def loops(self) -> dict[str, LoopDrop]:
        """The drop of each load."""
        return self.loop_drops.drops

    @property
    def families(self) -> dict[str, WireFamily]:
        """Every family known to the document."""
        return self.tables.families

    def size(self, key: str) -> WireSize:
        """The size chosen for a wire."""
        return self.made.size(key)

    def joints_ohm(self, key: str) -> float:
        """Resistance in ohm of the contacts and splices at both ends of a wire."""
        return float(self.tables.termination_ohm[self.tables.at[key]])
