"""What is wrong with fuses and breakers: what they feed, their source, what they must sit out."""

from __future__ import annotations

import math

from inkthread.core.catalogue import Catalogue, FuseRating
from inkthread.core.circuits.curve import holds_at_least_s, opens_within_s
from inkthread.core.circuits.facts import CircuitsResult, FuseFacts, Loop, SourceFacts
from inkthread.core.circuits.fuses import loops_behind, made_as, moments, sits_out
from inkthread.core.document.problems import pointer
from inkthread.core.document.types import Document
from inkthread.core.findings import FindingBook, Place, PutRight, called, phrase
from inkthread.core.measures import format_current

CERTAIN_S = 600.0
"""A fuse that may carry a current longer than this does not protect by it."""


def find_in_fuses(
    document: Document, catalogue: Catalogue, result: CircuitsResult, book: FindingBook
) -> None:
    by_fuse = loops_behind(result.loops)
    for key, fuse in result.fuses.items():
        if fuse.part is None:
            continue
        source = result.sources.get(fuse.source or "")
        if source is not None:
            _against_source(document, catalogue, result, fuse, source, book)
        _inrush(document, catalogue, fuse, by_fuse.get(key, []), book)


def never_clears(catalogue: Catalogue, fuse: FuseFacts, source: SourceFacts) -> bool:
    """Whether all that the source can give leaves the fuse closed for more than ten minutes."""
    if fuse.part is None or source.limit_a is None or source.kind == "alternator":
        return False
    return opens_within_s(catalogue.curves[fuse.part.curve], source.limit_a, fuse.rating_a) > CERTAIN_S


def driven_otherwise(document: Document, circuits: CircuitsResult, fuse: FuseFacts) -> bool:
    """Whether a source without a limit can drive a fault through a fuse: from its other end, say."""
    inner = document.circuits.devices[fuse.device].paths[fuse.path]
    ends = {circuits.circuit_of.get(f"{fuse.device}.{pin}") for pin in (inner.from_pin, inner.to_pin)} - {
        None
    }
    return any(
        s.limit_a is None and s.pin != fuse.source and ends <= s.spread.keys()
        for s in circuits.sources.values()
    )


def _against_source(
    document: Document,
    catalogue: Catalogue,
    result: CircuitsResult,
    fuse: FuseFacts,
    source: SourceFacts,
    book: FindingBook,
) -> None:
    assert fuse.part is not None
    place = Place("circuits", "device", fuse.device)
    name = fuse.called
    if never_clears(catalogue, fuse, source) and not driven_otherwise(document, result, fuse):
        book.add(
            "fuse-never-clears",
            place,
            Place("circuits", "device", source.device),
            fuse=name,
            rating=format_current(fuse.rating_a),
            source=called("device", source.device),
            limit=format_current(source.limit_a or 0.0),
        )
    if source.nominal_v > fuse.part.voltage_v:
        book.add(
            "fuse-voltage",
            place,
            fuse=name,
            volts=f"{source.nominal_v:g} V",
            rated=f"{fuse.part.voltage_v:g} V",
        )


def _inrush(
    document: Document, catalogue: Catalogue, fuse: FuseFacts, behind: list[Loop], book: FindingBook
) -> None:
    """The one load that asks most for a moment, on top of what the others carry, where the rating is fixed
    or none made sits it out.
    """
    assert fuse.part is not None
    curve = catalogue.curves[fuse.part.curve]
    for moment in moments(document, behind):
        if moment.total_a <= fuse.rating_a:
            continue
        holds = holds_at_least_s(curve, moment.total_a, fuse.rating_a)
        if holds >= moment.seconds or not math.isfinite(holds):
            continue
        larger = next(
            (
                f
                for f in made_as(fuse.kind, catalogue)
                if f.rating_a > fuse.rating_a and sits_out(catalogue, f, moment)
            ),
            None,
        )
        book.add(
            "fuse-opens-at-inrush",
            Place("circuits", "device", fuse.device),
            Place("circuits", "load", moment.load),
            fuse=fuse.called,
            rating=format_current(fuse.rating_a),
            load=called("device", moment.device),
            mechanical=_fit(
                fuse, larger, f"holds {format_current(moment.total_a)} for {_seconds(moment.seconds)}"
            ),
            words=moment.words,
            amps=format_current(moment.total_a),
            seconds=_seconds(moment.seconds),
            holds=_seconds(holds),
        )


def _fit(fuse: FuseFacts, part: FuseRating | None, reason: str) -> PutRight | None:
    """The remedy that fits a rating, with the reason kept."""
    if part is None:
        return None
    at = ["circuits", "devices", fuse.device, "paths", fuse.path]
    return (
        phrase("fit", larger=f"{part.rating_a:g} A", reason=reason),
        (
            {"op": "add", "path": pointer([*at, "rating_a"]), "value": part.rating_a},
            {"op": "add", "path": pointer([*at, "reason"]), "value": reason},
        ),
    )


def _seconds(value: float) -> str:
    return f"{value * 1000:.0f} ms" if value < 1 else f"{value:.3g} s"
