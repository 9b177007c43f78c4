"""What a branch is to be covered with: by the builder's wish, the house rule, and the air it lies in."""

from __future__ import annotations

from inkthread.core.brief.rules import BriefResult
from inkthread.core.catalogue import Catalogue
from inkthread.core.document.types import Document
from inkthread.core.document.values import CoverKind
from inkthread.core.measures import format_temperature

NOTHING, BRAID, CONDUIT, TAPE, SPIRAL, FABRIC = 1, 2, 3, 4, 5, 6
"""What the house rule on covers means."""
_BY_RULE: dict[int, CoverKind] = {
    BRAID: "braid",
    CONDUIT: "conduit",
    TAPE: "tape",
    SPIRAL: "spiral",
    FABRIC: "fabric",
}
_REPAIRS = ("replacement", "extension", "adapter")


def wanted_cover(
    document: Document, catalogue: Catalogue, brief: BriefResult, branch_id: str, things: int
) -> tuple[CoverKind, str]:
    """What a branch is covered with, and why. ``things`` is how many wires and cables lie in it."""
    chosen = document.dress.covers.get(branch_id)
    if chosen is not None and chosen.kind is not None:
        return chosen.kind, chosen.reason or "you chose it"
    rule = int(brief.value("cover"))
    if things == 0:
        return "none", "nothing lies in it"
    if things == 1:
        return "none", "one wire, or a cable with its own jacket"
    if rule == NOTHING:
        return "none", "house rule"
    branch = document.route.branches[branch_id]
    if branch.separators:
        return "none", "ignition leads are kept apart"
    if branch.length_mm < brief.value("cover_from_mm"):
        return "shrink", "short branch"
    kind = _BY_RULE[rule]
    air_c = brief.hottest(branch_id).ambient_c
    if _stands_c(catalogue, kind) < air_c:
        air = format_temperature(air_c, document.brief.measures)
        if _stands_c(catalogue, "fabric") < air_c or is_wet(document, brief, branch_id):
            return "none", f"no cover held here stands {air}"
        return "fabric", f"no {kind} stands {air}"
    if rule == BRAID and document.brief.job in _REPAIRS:
        return "conduit", "an old harness is mended: it goes on after"
    if kind in ("tape", "fabric") and is_wet(document, brief, branch_id):
        return "braid", "wet: nothing that holds water"
    return kind, "house rule"


def _stands_c(catalogue: Catalogue, kind: CoverKind) -> float:
    """The hottest air that any cover of a kind stands, in deg C."""
    coverings = catalogue.coverings
    if kind == "tape":
        return max(t.temperature_c for t in coverings.tapes if t.absorbent)
    return max(s.temperature_c for s in coverings.sleeves if s.kind == kind)


def is_wet(document: Document, brief: BriefResult, branch_id: str) -> bool:
    """Whether any stretch of a branch lies where water gets at it."""
    zones = document.brief.zones
    return any(s.air.zone is not None and zones[s.air.zone].has_water for s in brief.airs[branch_id])
