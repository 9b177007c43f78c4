"""What is wrong with what goes over the wires: tube, covers, labels, holds."""

from __future__ import annotations

from collections.abc import Sequence

from inkthread.core.brief.covers_wanted import is_wet
from inkthread.core.context import Context
from inkthread.core.document.problems import pointer
from inkthread.core.dress.covers import BranchCover
from inkthread.core.dress.holds import Hold
from inkthread.core.dress.labels import Labels
from inkthread.core.dress.shrinks import ShrinkPiece
from inkthread.core.findings import FindingBook, Place, phrase
from inkthread.core.measures import format_length, format_temperature
from inkthread.core.tolerances import over
from inkthread.core.words import some_in_words

LABEL_LEAST_MM, LABEL_MOST_MM = 13.0, 19.0
"""A label behind a finished connector (1/2 to 3/4 in, common practice, no source)."""
_SHOWN = 6


def find_in_dress(
    context: Context,
    covers: Sequence[BranchCover],
    shrinks: Sequence[ShrinkPiece],
    labels: Labels,
    holds: Sequence[Hold],
    book: FindingBook,
) -> None:
    """Every check of the room."""
    _covers(context, covers, book)
    _tubes(context, shrinks, book)
    _labels(context, labels, book)
    _holds(context, holds, book)


def _covers(context: Context, covers: Sequence[BranchCover], book: FindingBook) -> None:
    document = context.document
    units = document.brief.measures
    stands = {s.code: s.temperature_c for s in context.catalogue.coverings.sleeves}
    stands |= {t.code: t.temperature_c for t in context.catalogue.coverings.tapes}
    stands |= {t.code: t.temperature_c for t in context.tubes()}
    for cover in covers:
        if cover.kind == "none":
            continue
        first = cover.branches[0]
        place = Place("dress", "branch", first)
        if not cover.fits:
            book.add(
                "cover-does-not-suit",
                place,
                branch=first,
                cover=cover.code,
                holds=format_length(cover.holds_mm, units),
                passes=format_length(cover.passes_mm, units),
            )
        wet = [b for b in cover.branches if is_wet(context.document, context.brief, b)]
        if cover.absorbent and wet:
            book.add(
                "cover-holds-water",
                place,
                mechanical=(phrase("braid"), _cover(context, first, "kind", "braid")),
                branch=first,
                cover=cover.code,
            )
        wish = document.dress.covers.get(first)
        if cover.split and wish is not None and not wish.ends_taped:
            book.add(
                "loom-not-anchored",
                place,
                mechanical=(phrase("tape"), _cover(context, first, "ends_taped", True)),
                branch=first,
                cover=cover.code,
            )
        hottest = max(context.brief.hottest(b).ambient_c for b in cover.branches)
        if cover.code in stands and over(hottest, stands[cover.code]):
            book.add(
                "cover-too-hot",
                place,
                branch=first,
                cover=cover.code,
                stands=format_temperature(stands[cover.code], units),
                air=format_temperature(hottest, units),
            )
        _window(context, cover, book)


def _window(context: Context, cover: BranchCover, book: FindingBook) -> None:
    """A cover that the builder carries nearer to a connector than its lock or the window allows."""
    document = context.document
    at = {c.point: k for k, c in document.ends.connectors.items() if c.point is not None}
    least = context.brief.value("window_mm") / 2
    for branch_id in {cover.branches[0], cover.branches[-1]}:
        wish, branch = document.dress.covers.get(branch_id), document.route.branches[branch_id]
        if wish is None:
            continue
        for point, name, bare in (
            (branch.from_point, "bare_from_mm", wish.bare_from_mm),
            (branch.to_point, "bare_to_mm", wish.bare_to_mm),
        ):
            if bare is not None and point in at and bare < least:
                book.add(
                    "cover-over-lock",
                    Place("dress", "branch", branch_id),
                    mechanical=(phrase("rule"), _cover(context, branch_id, name, None)),
                    branch=branch_id,
                    connector=at[point],
                    bare=format_length(bare, document.brief.measures, least),
                    least=format_length(least, document.brief.measures),
                )


def _cover(context: Context, branch_id: str, name: str, value: object) -> tuple[dict[str, object], ...]:
    path = ["dress", "covers", branch_id]
    if branch_id in context.document.dress.covers:
        return ({"op": "replace", "path": pointer([*path, name]), "value": value},)
    return ({"op": "add", "path": pointer(path), "value": {"order": 1, name: value}},)


def _tubes(context: Context, shrinks: Sequence[ShrinkPiece], book: FindingBook) -> None:
    document = context.document
    units = document.brief.measures
    clear = context.brief.value("face_clear_mm")
    stands = {t.code: t.temperature_c for t in context.tubes()}
    for piece in shrinks:
        place = Place("dress", "shrink", piece.place)
        if not piece.fits:
            book.add(
                "shrink-cannot",
                place,
                place=piece.place,
                what=piece.what,
                tube=piece.code,
                over=format_length(piece.over_mm, units),
                onto=format_length(piece.onto_mm, units),
                instead=piece.instead,
            )
        point = (
            document.ends.connectors[piece.place].point
            if piece.place in document.ends.connectors
            else piece.place
        )
        air = context.brief.point_airs.get(point or "")
        if air is not None and piece.code in stands and over(air.ambient_c, stands[piece.code]):
            book.add(
                "tube-too-hot",
                place,
                tube=piece.code,
                place=piece.place,
                what=piece.what,
                stands=format_temperature(stands[piece.code], units),
                air=format_temperature(air.ambient_c, units),
            )
        if piece.lined and piece.clear_mm is not None and piece.clear_mm < clear:
            path = ["dress", "shrinks", piece.place]
            put = {"op": "replace", "path": pointer([*path, "lined"]), "value": False}
            book.add(
                "adhesive-near-face",
                place,
                mechanical=(phrase("plain"), (put,)) if piece.place in document.dress.shrinks else None,
                place=piece.place,
                tube=piece.code,
                clear=format_length(piece.clear_mm, units, clear),
                least=format_length(clear, units),
            )


def _labels(context: Context, labels: Labels, book: FindingBook) -> None:
    document = context.document
    units = document.brief.measures
    for connector_id, own in document.dress.labels.items():
        connector = document.ends.connectors.get(connector_id)
        if connector is None or own.left_out:
            continue
        said = document.cut.ends.get(connector_id)
        open_end = said is not None and said.state == "trimmed at fitting"
        path = pointer(["dress", "labels", connector_id, "behind_mm"])
        behind = own.behind_mm
        least = context.brief.value("label_unfinished_mm") if open_end else LABEL_LEAST_MM
        if behind is not None and (behind < least or (not open_end and behind > LABEL_MOST_MM)):
            book.add(
                "label-misplaced",
                Place("dress", "label", connector_id),
                mechanical=(phrase("rule"), ({"op": "replace", "path": path, "value": None},)),
                connector=connector_id,
                behind=format_length(behind, units),
                window=phrase(
                    "open" if open_end else "finished",
                    least=format_length(least, units),
                    most=format_length(LABEL_MOST_MM, units),
                ),
            )
        if own.when == "before final sizing" and open_end:
            when = pointer(["dress", "labels", connector_id, "when"])
            put = {"op": "replace", "path": when, "value": "after final sizing"}
            book.add(
                "label-shrunk-early",
                Place("dress", "label", connector_id),
                mechanical=(phrase("later"), (put,)),
                connector=connector_id,
            )
    small = list(dict.fromkeys(own.at for own in labels.labels if not own.readable))
    if small:
        book.add(
            "label-too-small",
            Place("dress", "label", small[0]),
            connectors=some_in_words(small, _SHOWN),
            least=format_length(context.catalogue.coverings.lettering.least_mm, units),
        )
    for key, long_mm, takes_mm in labels.crowded[:_SHOWN]:
        own_label = next(own for own in labels.labels if own.of == key)
        book.add(
            "label-too-long",
            Place("wire", "wire", key),
            text=own_label.text,
            connector=own_label.at,
            takes=format_length(takes_mm, units),
            wire=format_length(long_mm, units),
        )
    loose = list(dict.fromkeys(own.at for own in labels.labels if not own.fits))
    if loose:
        book.add(
            "label-does-not-close",
            Place("dress", "label", loose[0]),
            connectors=some_in_words(loose, _SHOWN),
        )


def _holds(context: Context, holds: Sequence[Hold], book: FindingBook) -> None:
    units = context.document.brief.measures
    for hold in holds:
        if not hold.fits:
            book.add(
                "hold-does-not-fit",
                Place("dress", "hold", hold.place),
                place=hold.place,
                kind=hold.kind,
                part=hold.code,
                over=format_length(hold.over_mm, units),
            )
