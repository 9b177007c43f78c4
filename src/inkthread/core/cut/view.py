"""What is shown of the cut list, and how it opens."""

from __future__ import annotations

from inkthread.core.cut.cables import Cable
from inkthread.core.cut.room import Cut, CutResult
from inkthread.core.document.types import Document
from inkthread.core.measures import Measures, format_length
from inkthread.core.opening import Opening, many
from inkthread.core.record import record


@record
class CutView:
    """The cut list, longest first."""

    cuts: tuple[Cut, ...]
    cables: tuple[Cable, ...]
    total_m: float
    made_again: dict[str, int]
    """By connector: how often the end with the least slack there can be made again."""


def cut_view(document: Document, result: CutResult) -> CutView:
    """The cut list as it is sent."""
    least: dict[str, int] = {}
    for cut in result.cuts:
        for end in (cut.a, cut.b):
            entry = document.ends.pinout.get(end.pin)
            if entry is not None and end.remakes is not None:
                least[entry.connector] = min(least.get(entry.connector, end.remakes), end.remakes)
    return CutView(result.cuts, result.cables, result.total_m, least)


def cut_opening(words: dict[str, str], result: CutResult, units: Measures) -> Opening:
    """How much is to cut."""
    if not result.cuts:
        return Opening("empty", 0, words["none"])
    cables = len(result.cables)
    pieces = sum(not c.cable for c in result.cuts) + cables
    sentence = words["cut"].format(
        pieces=many(pieces, "piece"),
        cables=words["cables"].format(cables=many(cables, "cable")) if cables else "",
        metres=f"{result.total_m:.1f}",
        longest=format_length(max(c.cut_mm for c in result.cuts), units),
    )
    return Opening("full", pieces, sentence)
