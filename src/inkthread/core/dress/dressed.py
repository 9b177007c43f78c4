"""Everything that goes over bundles and holds them: worked out anew only where a bundle or a wish changed."""

from __future__ import annotations

from typing import NamedTuple

from inkthread.core.brief import BriefResult
from inkthread.core.brief.covers_wanted import wanted_cover
from inkthread.core.catalogue import Catalogue
from inkthread.core.context import Context
from inkthread.core.document.types import Document
from inkthread.core.dress.covers import BranchCover, Coverer, cover_masses, runs_of
from inkthread.core.dress.holds import Hold, Supports, holds_of, supports_of
from inkthread.core.dress.shrinks import ShrinkPiece, shrink_pieces
from inkthread.core.memo import Memo
from inkthread.core.record import record
from inkthread.core.route import RouteTree
from inkthread.core.shop import EMPTY_SHOP


class BareBundle(NamedTuple):
    """What has to be known of a branch to dress it. Lengths in mm."""

    branch: str
    things: int
    """Wires and cables in it, those of a twist one by one."""
    tight_mm: float
    loose_mm: float
    solid: bool
    """Whether a solid core lies in it."""
    wires_g: float


@record
class Dressed:
    """Covers, shrink tube and holds of a harness. Lengths in mm."""

    covers: tuple[BranchCover, ...]
    shrinks: tuple[ShrinkPiece, ...]
    supports: dict[str, Supports]
    """By branch."""
    holds: tuple[Hold, ...]
    outside_mm: dict[str, float]
    """Over each branch, cover and all."""
    outside_at_mm: dict[str, float]
    """By point with connectors: over the thickest cover that ends there."""
    bundle_at_mm: dict[str, float]
    """By point with connectors: the thickest loose bundle there."""


def dress_branches(
    document: Document,
    catalogue: Catalogue,
    brief: BriefResult,
    tree: RouteTree,
    bundles: tuple[BareBundle, ...],
) -> Dressed:
    """What goes over every branch, over the ends of that, and what holds it."""
    context = Context(document, catalogue, brief, EMPTY_SHOP, Memo())
    tight = {b.branch: b.tight_mm for b in bundles}
    loose = {b.branch: b.loose_mm for b in bundles}
    kinds = {b.branch: wanted_cover(document, catalogue, brief, b.branch, b.things) for b in bundles}
    coverer = Coverer(context, tree, tight, loose, {b.branch: b.solid for b in bundles})
    covers = tuple(coverer.cover(run, *kinds[run.branches[0]]) for run in runs_of(context, tree, kinds))
    windows = {point: coverer.has_window(point) for point in document.route.points}
    shrinks = shrink_pieces(context, tree, covers, tight, windows, coverer.passes_at)
    outside = {b: cover.outside_mm for cover in covers for b in cover.branches}
    at = {c.point for c in document.ends.connectors.values() if c.point is not None}
    covered: dict[str, float] = {}
    bundle_at: dict[str, float] = {}
    for cover in covers:
        for branch_id in cover.branches:
            branch = document.route.branches[branch_id]
            for point in {branch.from_point, branch.to_point} & at:
                bundle_at[point] = max(bundle_at.get(point, 0.0), loose[branch_id])
                if cover.kind != "none":
                    covered[point] = max(covered.get(point, 0.0), outside[branch_id])
    over_g = cover_masses(document, covers)
    supports = {
        b.branch: supports_of(document, brief, b.branch, b.wires_g + over_g[b.branch]) for b in bundles
    }
    holds = holds_of(context, supports, outside)
    return Dressed(covers, shrinks, supports, holds, outside, covered, bundle_at)
