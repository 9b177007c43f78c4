"""What belongs to a piece beside its readings: tests without ohms, batches, its life on the machine."""

from __future__ import annotations

import threading

from sqlalchemy import Engine, delete, select
from sqlalchemy.orm import Session

from inkthread.core.record import record
from inkthread.storage.models import BatchRow, CheckRow, MachineRow, utc_now
from inkthread.storage.pieces import Piece, PieceRefused


@record
class Checked:
    """A test that is no reading in ohm, and what came of it."""

    test: str
    value: float | None
    """In the test's own unit; None where it is only seen."""
    fine: bool
    who: str


@record
class Batch:
    """Which batch of a part went in."""

    part: str
    batch: str
    who: str


@record
class MachineEntry:
    """A line of the machine's book."""

    id: int
    kind: str
    place: str
    day: str
    """As ``2026-11-29``."""
    times: int
    note: str
    who: str


class Records:
    """Tests, batches and lives of every piece, in the data file."""

    def __init__(self, engine: Engine) -> None:
        self._engine = engine
        self._lock = threading.Lock()

    def checks(self, piece: Piece) -> list[Checked]:
        """Tests of a piece that are no readings in ohm."""
        with Session(self._engine) as session:
            rows = session.scalars(
                select(CheckRow).where(CheckRow.piece_id == piece.id).order_by(CheckRow.test)
            )
            return [Checked(row.test, row.value, row.fine, row.who) for row in rows]

    def check(self, piece: Piece, test: str, value: float | None, fine: bool | None, who: str) -> None:
        """Note what came of a test, or that it was not done after all. Raises PieceRefused once signed."""
        _open(piece)
        with self._lock, Session(self._engine) as session:
            if fine is None:
                session.execute(delete(CheckRow).where(CheckRow.piece_id == piece.id, CheckRow.test == test))
            else:
                session.merge(
                    CheckRow(piece_id=piece.id, test=test, value=value, fine=fine, who=who, at=utc_now())
                )
            session.commit()

    def batches(self, piece: Piece) -> list[Batch]:
        """The batches that went into a piece, by part."""
        with Session(self._engine) as session:
            rows = session.scalars(
                select(BatchRow).where(BatchRow.piece_id == piece.id).order_by(BatchRow.part)
            )
            return [Batch(row.part, row.batch, row.who) for row in rows]

    def batch(self, piece: Piece, part: str, batch: str, who: str) -> None:
        """Note the batch of a part; an empty one takes the note out. Raises PieceRefused once signed."""
        _open(piece)
        with self._lock, Session(self._engine) as session:
            if batch:
                session.merge(BatchRow(piece_id=piece.id, part=part, batch=batch, who=who, at=utc_now()))
            else:
                session.execute(delete(BatchRow).where(BatchRow.piece_id == piece.id, BatchRow.part == part))
            session.commit()

    def life(self, piece: Piece) -> list[MachineEntry]:
        """What became of a piece, the first day first."""
        with Session(self._engine) as session:
            rows = session.scalars(
                select(MachineRow)
                .where(MachineRow.piece_id == piece.id)
                .order_by(MachineRow.day, MachineRow.id)
            )
            return [
                MachineEntry(row.id, row.kind, row.place, row.day, row.times, row.note, row.who)
                for row in rows
            ]

    def enter(self, piece: Piece, kind: str, place: str, day: str, times: int, note: str, who: str) -> None:
        """Write a line into the machine's book."""
        with self._lock, Session(self._engine) as session:
            session.add(
                MachineRow(
                    piece_id=piece.id, kind=kind, place=place, day=day, times=times, note=note, who=who,
                    at=utc_now(),
                )
            )  # fmt: skip
            session.commit()

    def strike(self, piece: Piece, entry: int) -> None:
        """Take a line out of the machine's book again."""
        with self._lock, Session(self._engine) as session:
            session.execute(delete(MachineRow).where(MachineRow.piece_id == piece.id, MachineRow.id == entry))
            session.commit()


def _open(piece: Piece) -> None:
    if piece.signed_at is not None:
        raise PieceRefused(f"{piece.serial} is signed by {piece.signed_by}: its record is closed.")
