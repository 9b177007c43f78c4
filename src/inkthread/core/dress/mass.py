"""What every branch weighs, and where the harness balances along its datum."""

from __future__ import annotations

from collections.abc import Mapping

from inkthread.core.context import Context
from inkthread.core.dress.covers import cover_masses
from inkthread.core.dress.room import DressResult
from inkthread.core.record import record


@record
class BranchMass:
    """One branch. Masses in g; ``station_mm`` is its middle from the datum, None where there is none."""

    wires_g: float
    cover_g: float
    """Cover, shrink tube and labels over it."""
    holds_g: float
    station_mm: float | None

    @property
    def total_g(self) -> float:
        """All of it."""
        return self.wires_g + self.cover_g + self.holds_g


@record
class Masses:
    """By branch; where they balance, in mm from the datum along the harness."""

    branches: dict[str, BranchMass]
    total_g: float
    """Of the branches: connectors and what is at points are in the bill."""
    balance_mm: float | None
    by_cover_g: dict[str, float]
    """What covers weigh, by kind."""


def mass_of(context: Context, dress: DressResult, station_mm: Mapping[str, float | None]) -> Masses:
    """Weigh every branch by what lies in it and over it. ``station_mm`` is of every point."""
    branches = context.document.route.branches
    wires, over = dress.wires_g, cover_masses(context.document, dress.covers)
    by_kind: dict[str, float] = {}
    for cover in dress.covers:
        by_kind[cover.kind] = by_kind.get(cover.kind, 0.0) + cover.mass_g
    holding: dict[str, float] = dict.fromkeys(branches, 0.0)
    for hold in dress.holds:
        if hold.place in holding:
            holding[hold.place] += hold.mass_g * hold.count
    masses: dict[str, BranchMass] = {}
    for b, branch in branches.items():
        ends = station_mm.get(branch.from_point), station_mm.get(branch.to_point)
        middle = None if ends[0] is None or ends[1] is None else (ends[0] + ends[1]) / 2
        masses[b] = BranchMass(round(wires[b], 2), round(over[b], 2), round(holding[b], 2), middle)
    total = sum(m.total_g for m in masses.values())
    known = [m for m in masses.values() if m.station_mm is not None]
    weight = sum(m.total_g for m in known)
    balance = sum(m.total_g * (m.station_mm or 0.0) for m in known) / weight if weight else None
    by_kind = {k: round(g, 2) for k, g in by_kind.items() if g}
    return Masses(masses, round(total, 2), None if balance is None else round(balance, 1), by_kind)
