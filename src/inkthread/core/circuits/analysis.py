"""Load analysis: what every source is asked for in every operating mode, and how long it lasts."""

from __future__ import annotations

from inkthread.core.circuits.facts import CircuitsResult, SourceFacts, load_current_a
from inkthread.core.document.types import Document
from inkthread.core.record import record
from inkthread.core.tolerances import ROUNDING


@record
class ModeDemand:
    """What a group of sources must give in one mode."""

    mode: str
    """Its id; empty for the one mode of a harness without modes."""
    continuous_a: float
    """Mean current: each load by its share and duty."""
    together_a: float
    """All that run in the mode at once."""
    peak_a: float
    """With the one largest peak on top."""
    charged_a: float
    """What alternators, chargers, panels and supplies of the group can give."""
    endurance_h: float | None
    """How long the batteries carry what is left; None where nothing is left or no capacity is known."""
    short_a: float
    """What is asked for beyond what can be given, where no battery helps."""


@record
class LoadShare:
    """One load's part of the demand, by mode, in A of mean current."""

    load: str
    device: str
    by_mode: tuple[float, ...]


@record
class SourceGroup:
    """Sources that feed together, and what hangs on them."""

    sources: tuple[str, ...]
    """Supply pins."""
    name: str
    volts: float
    capacity_ah: float | None
    demands: tuple[ModeDemand, ...]
    loads: tuple[LoadShare, ...]


def analyse_loads(document: Document, circuits: CircuitsResult) -> tuple[SourceGroup, ...]:
    """One group for each set of sources that drive the same circuits."""
    groups: list[list[SourceFacts]] = []
    for source in circuits.sources.values():
        own = circuits.circuit_of.get(source.pin)
        for group in groups:
            if any(own in s.spread or circuits.circuit_of.get(s.pin) in source.spread for s in group):
                group.append(source)
                break
        else:
            groups.append([source])
    return tuple(_group(document, circuits, g) for g in groups)


def _group(document: Document, circuits: CircuitsResult, group: list[SourceFacts]) -> SourceGroup:
    pins = {s.pin for s in group}
    loops = [
        loop for loop in circuits.loops
        if loop.source in pins and loop.alternative == 0 and not loop.charging
    ]  # fmt: skip
    volts = max(s.nominal_v for s in group)
    drawn = [load_current_a(loop, loop.supply_v) for loop in loops]
    batteries = [s for s in group if s.kind == "battery"]
    known = [s.capacity_ah for s in batteries if s.capacity_ah is not None]
    capacity = sum(known) if known else None
    demands = []
    for m, mode in enumerate(circuits.modes):
        mean = sum(a * loop.mode_fraction[m] * loop.duty for a, loop in zip(drawn, loops, strict=True))
        together = sum(a * loop.mode_fraction[m] for a, loop in zip(drawn, loops, strict=True))
        extra = max(
            (loop.peak_a - a for a, loop in zip(drawn, loops, strict=True) if loop.mode_fraction[m] > 0),
            default=0.0,
        )
        charged = sum((s.limit_a or 0.0) * s.mode_fraction[m] for s in group if s.kind != "battery")
        left = max(mean - charged, 0.0)
        capacity_ah = sum((s.capacity_ah or 0.0) * s.mode_fraction[m] for s in batteries)
        demands.append(
            ModeDemand(
                mode,
                round(mean, 4),
                round(together, 4),
                round(together + max(extra, 0.0), 4),
                round(charged, 4),
                round(capacity_ah / left, 3) if left > ROUNDING and capacity_ah > 0 else None,
                0.0 if batteries or any(s.limit_a is None for s in group) else round(left, 4),
            )
        )
    loads = tuple(
        LoadShare(
            loop.load,
            loop.device,
            tuple(round(a * s * loop.duty, 4) for s in loop.mode_fraction[: len(circuits.modes)]),
        )
        for a, loop in sorted(zip(drawn, loops, strict=True), key=lambda pair: -pair[0])
    )
    devices = document.circuits.devices
    name = ", ".join(f"{s.device} {devices[s.device].name}".strip() for s in group)
    return SourceGroup(tuple(s.pin for s in group), name, volts, capacity, tuple(demands), loads)
