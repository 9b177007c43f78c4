"""What the circuits room finds out, for the rooms after it."""

from __future__ import annotations

from typing import Literal

import numpy as np

from inkthread.core.catalogue import FuseRating
from inkthread.core.document.values import LoadKind, PathKind, SourceKind
from inkthread.core.physics.conductor import FloatArray
from inkthread.core.record import record
from inkthread.core.tolerances import FAR_BELOW, ROUNDING

Role = Literal["supply", "ground", "output", "data", "signal", "sensor_return", "drain", "ignition"]


@record
class Crossing:
    """Current crossing one circuit from one of its pins to another, in its own direction."""

    circuit: str
    from_pin: str
    to_pin: str


@record
class Loop:
    """Feed and return of one load, what its feed passes, and what it draws.

    A regulator's input is a load too, whose current comes from what hangs behind it; its ``load``
    is ``device~path``.
    """

    load: str
    device: str
    current_a: float
    """Drawn at the rated voltage."""
    feed: tuple[Crossing, ...]
    back: tuple[Crossing, ...]
    fuses: tuple[str, ...]
    paths: tuple[str, ...]
    """Every path inside a device that its current crosses: ``device.path``."""
    source: str
    """The pin that feeds it."""
    supply_v: float
    least_supply_v: float
    most_supply_v: float
    kind: LoadKind
    rated_v: float
    duty: float
    cycle_s: float | None
    """One turn of on and off; None where it is not stated."""
    mode_fraction: tuple[float, ...]
    """Part of it that runs, by mode; the modes come again for each battery that can take over."""
    peak_a: float
    drop_limit_v: float = 0.0
    """What its wires may lose at the working supply: a load of constant power is reckoned behind it."""
    studs: tuple[str, ...] = ()
    """The pins by which its return goes into the machine's structure and comes out of it."""
    charging: bool = False
    """True of what a limited source gives to a battery."""
    alternative: int = 0
    """Which of the batteries that can take over feeds it: 0 is the first."""


@record
class Mesh:
    """A way round: paths or studs that lie side by side, so that current divides between them.

    Going once round crosses these circuits, paths and studs in these directions.
    """

    crossings: tuple[tuple[Crossing, float], ...]
    paths: tuple[tuple[str, float], ...]
    studs: tuple[tuple[str, float], ...] = ()


def called_by(*words: str) -> str:
    """The words that there are, one after the other."""
    return " ".join(word for word in words if word)


@record
class FuseFacts:
    """A fuse or breaker: what it feeds, its rating and whether the builder fixed it."""

    key: str
    device: str
    path: str
    name: str
    load_a: float
    rating_a: float
    fixed: bool
    part: FuseRating | None
    kind: PathKind
    source: str | None
    left: float = 1.0
    """Part of its rating that its ambient leaves."""
    ambient_c: float | None = None
    sits_out: str = ""
    """What for a moment made its rating larger than its load asks; empty where nothing did."""
    way: str = ""
    """The pin that it feeds, in a block of several; empty where it stands alone."""

    @property
    def called(self) -> str:
        """By its device, and in a block by the way that it feeds: ``F1 fuse block out2``."""
        return called_by(self.device, self.name, self.way)


@record
class CircuitFacts:
    """What a circuit is: its role, the fuse that protects it, the current it carries."""

    role: Role
    fuse: str | None
    carries_a: float


@record
class SourceFacts:
    """A source: what it is, its voltages, what it can drive into a short."""

    pin: str
    device: str
    return_pin: str | None
    kind: SourceKind | Literal["regulator"]
    nominal_v: float
    least_v: float
    most_v: float
    internal_ohm: float | None
    fault_a: float | None
    limit_a: float | None
    capacity_ah: float | None
    mode_fraction: tuple[float, ...]
    spread: dict[str, str | None]
    """Circuits it can drive, each with the nearest protection on the way."""
    fuse_a: float | None = None
    """Rating of the fuse ahead of it, where it is a feed that comes protected."""


Ways = tuple[
    tuple[tuple[Crossing, ...], tuple[Crossing, ...], tuple[str, ...], tuple[str, ...]],
    ...,
]
"""Of every loop its feed, its return, the paths inside devices, the studs: all but what flows."""


@record
class CircuitsResult:
    """Facts by circuit, loops by load, fuses, sources, modes."""

    circuits: dict[str, CircuitFacts]
    loops: list[Loop]
    fuses: dict[str, FuseFacts]
    sources: dict[str, SourceFacts]
    modes: tuple[str, ...]
    """Ids of the operating modes; one nameless mode where the builder names none."""
    circuit_of: dict[str, str]
    meshes: tuple[Mesh, ...]
    live: frozenset[str]
    """Pins that are live on the harness with every switch closed, whatever hangs there."""
    volts: dict[str, float]
    """Circuit to the working voltage of the highest source that can reach it; none for the rest."""
    role_of: dict[str, Role]
    """Circuit to its role, whatever flows: the same object where nothing was drawn otherwise."""
    ways: Ways
    """Of every loop, all but what flows."""
    drawn_a: FloatArray
    """Most current in A of every loop in every mode over the supply's range, (loops, modes): what wires and
    fuses must carry. See ``most_current_a``."""

    @property
    def states(self) -> int:
        """Modes, times the batteries that can take over from each other."""
        return states_of(self.loops, self.modes)


def states_of(loops: list[Loop], modes: tuple[str, ...]) -> int:
    """Modes, times the batteries that can take over from each other."""
    return max((len(loop.mode_fraction) for loop in loops), default=len(modes))


def most_drawn_a(loops: list[Loop], modes: tuple[str, ...]) -> FloatArray:
    """Most current in A of every loop in every mode over the supply's range, shape (loops, modes)."""
    most = [most_current_a(loop) for loop in loops]
    by_state = [[a * s for s in loop.mode_fraction] for a, loop in zip(most, loops, strict=True)]
    return np.array(by_state, dtype=float).reshape(len(loops), states_of(loops, modes))


def most_current_a(loop: Loop) -> float:
    """The most current in A that a load asks for in any state of its supply.

    Resistive loads ask most at the most volts; constant power at the least, with its own wires losing
    what they may: their drop grows with the current, so both are settled together.
    """
    if loop.kind != "constant power":
        return load_current_a(loop, loop.most_supply_v)
    working = load_current_a(loop, max(loop.supply_v - loop.drop_limit_v, loop.supply_v / 2))
    current_a = load_current_a(loop, loop.least_supply_v)
    for _ in range(60):
        lost = loop.drop_limit_v * current_a / max(working, FAR_BELOW)
        again = load_current_a(loop, loop.least_supply_v - lost)
        if abs(again - current_a) < ROUNDING:
            break
        current_a = again
    return current_a


def load_current_a(loop: Loop, volts: float) -> float:
    """Current in A that a load draws at a voltage, by its kind.

    Constant power is not followed below half of the rated voltage: nothing works there.
    """
    if loop.kind == "resistive":
        return loop.current_a * max(volts, 0.0) / loop.rated_v
    if loop.kind == "constant power":
        return loop.current_a * loop.rated_v / max(volts, loop.rated_v / 2)
    return loop.current_a
