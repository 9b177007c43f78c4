"""What is shown of the branches as bundles, of what goes over them, and how the room opens."""

from __future__ import annotations

from inkthread.core.dress.covers import BranchCover
from inkthread.core.dress.holds import Hold
from inkthread.core.dress.labels import Labelled
from inkthread.core.dress.lay import Lay
from inkthread.core.dress.mass import Masses
from inkthread.core.dress.room import BranchBundle, DressResult
from inkthread.core.dress.shrinks import ShrinkPiece
from inkthread.core.opening import Opening, many
from inkthread.core.record import record
from inkthread.core.words import list_in_words


@record
class DressView:
    """Every branch as a bundle: sent with every edit."""

    bundles: dict[str, BranchBundle]


@record
class DressSheet:
    """All that goes over the wires: asked for when it is looked at."""

    covers: tuple[BranchCover, ...]
    shrinks: tuple[ShrinkPiece, ...]
    labels: tuple[Labelled, ...]
    marks: dict[str, int]
    """Marks along wires, by wire."""
    label_mm: dict[str, float]
    """Label sleeve by code, with what each label wastes."""
    cassettes: dict[str, int]
    """How many cassettes that opens, for one harness."""
    holds: tuple[Hold, ...]
    lays: dict[str, Lay]
    masses: Masses


def dress_opening(words: dict[str, str], result: DressResult) -> Opening:
    """How many branches are covered with what, what goes on first, how many labels there are."""
    lying = [c for c in result.covers if any(result.contents[b] for b in c.branches)]
    if not lying:
        return Opening("empty", 0, words["none"])
    counts: dict[str, int] = {}
    for cover in lying:
        counts[cover.kind] = counts.get(cover.kind, 0) + len(cover.branches)
    which = {"none": "bare", "shrink": "shrink"}
    said = [
        words[which.get(kind, "on")].format(kind=kind, count=count)
        for kind, count in sorted(counts.items(), key=lambda kv: (kv[0] == "none", -kv[1]))
    ]
    before = sum(c.goes_on.startswith("before") for c in lying)
    label_m = sum(result.labels.tape_mm.values()) / 1000
    sentence = words["branches"].format(
        branches=many(sum(counts.values()), "branch", "branches"),
        kinds=list_in_words(said),
        before=words["before"].format(pieces=many(before, "piece")) if before else "",
        labels=words["labels"].format(labels=many(len(result.labels.labels), "label")),
        tape=words["tape"].format(metres=f"{label_m:.1f}") if label_m else "",
    )
    return Opening("full", sum(counts.values()), sentence)
