"""What is wrong with the record of one piece before it is signed."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from inkthread.core.findings import FindingBook, Place
from inkthread.core.prove.judge import Judged
from inkthread.core.prove.plan import ProofPlan
from inkthread.core.prove.words import format_ohm
from inkthread.core.words import some_in_words

_SHOWN = 6
_NAMED = 2
AS_BUILT = ("trimmed", "as built")
"""Happenings that leave a piece otherwise than it was designed: what it is now has to stand in its record."""


@dataclass(frozen=True, slots=True)
class PieceRecord:
    """What is known of one piece beside its readings."""

    judged: Judged
    looked_at: tuple[str, ...]
    """Connectors that look right."""
    happened: tuple[tuple[str, str, str], ...]
    """Kind, step and note of all that happened as it was made."""


def find_in_record(plan: ProofPlan, record: PieceRecord, book: FindingBook) -> None:
    """Readings outside their bands, looks in place of tests, differences that nobody wrote down."""
    rows = {row.id: row for row in plan.rows}
    off = [r for r in record.judged.rows if r.verdict == "fails" and rows[r.row].high_ohm is not None]
    for judged in off:
        row = rows[judged.row]
        if judged.ohm is None or judged.ohm == float("inf"):
            continue
        book.add(
            "reading-out-of-band",
            Place("prove", "row", row.id),
            row=row.id,
            circuit=row.circuit,
            read=format_ohm(judged.ohm),
            low=format_ohm(row.low_ohm or 0.0),
            high=format_ohm(row.high_ohm or 0.0),
        )
    if record.looked_at and all(r.verdict == "not read" for r in record.judged.rows):
        book.add(
            "looks-alone", Place("prove", "piece", ""), places=some_in_words(list(record.looked_at), _SHOWN)
        )
    for kind, step, note in record.happened:
        if kind in AS_BUILT and not note.strip():
            book.add("as-built-not-told", Place("build", "step", step), step=step, kind=kind)


def find_in_signing(judged: Judged, failed: Sequence[str] = ()) -> str:
    """Why a piece cannot be signed as proved, or nothing where it can. ``failed`` are tests without ohms."""
    unread = [r.row for r in judged.rows if r.verdict == "not read"]
    if judged.verdict in ("fails", "unexplained"):
        failing = [r.row for r in judged.rows if r.verdict == "fails"]
        return f"{some_in_words(failing, _SHOWN)} fail." if failing else "Readings do not hold."
    if failed:
        return f"{some_in_words(list(failed), _NAMED)} did not hold."
    if unread:
        return f"{len(unread)} of {len(judged.rows)} rows are not read, {unread[0]} first."
    return ""


def rows_by_id(plan: ProofPlan) -> dict[str, tuple[tuple[str, ...], tuple[str, ...], bool]]:
    """What each row of a plan is read between, for tables that name rows."""
    return {row.id: (row.a, row.b, row.moved) for row in plan.rows if row.by_ohm}
