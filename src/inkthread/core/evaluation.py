"""All that is derived from a document, as it is sent: one field a room, the findings, the tally."""

from __future__ import annotations

from inkthread.core.brief.view import BriefView
from inkthread.core.circuits.view import CircuitsView
from inkthread.core.cut import CutResult
from inkthread.core.cut.view import CutView
from inkthread.core.dress.view import DressView
from inkthread.core.ends.view import EndsView
from inkthread.core.findings import Finding, stands_alone
from inkthread.core.opening import RoomState
from inkthread.core.parts import PartsResult
from inkthread.core.parts.view import PartsView
from inkthread.core.record import record
from inkthread.core.route.view import RouteView
from inkthread.core.wire import WireResult
from inkthread.core.wire.view import WireView


@record
class Tally:
    """The swing tag: what one harness comes to."""

    wires: int
    metres: float
    grams: float
    cost: float
    worst_drop_percent: float | None
    worst_drop_load: str | None
    hottest_c: float | None
    hottest_branch: str | None
    stops: int
    fixes: int
    considers: int


@record
class Evaluation:
    """Everything derived from a document, one field a room, and the findings."""

    catalogue_version: str
    brief: BriefView
    circuits: CircuitsView
    route: RouteView
    wire: WireView
    ends: EndsView
    cut: CutView
    dress: DressView
    parts: PartsView
    findings: tuple[Finding, ...]
    rooms: dict[str, RoomState]
    tally: Tally


def tally_of(
    wire: WireResult, cut: CutResult, parts: PartsResult, findings: tuple[Finding, ...], quantity: int
) -> Tally:
    """One harness of ``quantity``: a finding that follows from another is not counted."""
    worst = max(wire.loops.values(), key=lambda loop: loop.drop_v / loop.limit_v, default=None)
    hottest = max(wire.branch_hottest_c.items(), key=lambda kv: kv[1], default=None)
    severities = [f.severity for f in stands_alone(findings)]
    return Tally(
        len(wire.wires),
        round(cut.total_m, 3),
        parts.mass_each_g,
        round(parts.cost_total / quantity, 2),
        worst.drop_percent if worst else None,
        worst.load if worst else None,
        round(hottest[1], 1) if hottest else None,
        hottest[0] if hottest else None,
        severities.count("stop"),
        severities.count("fix"),
        severities.count("consider"),
    )
