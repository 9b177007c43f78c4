"""Pieces that were made: their serial numbers, what was read on them, who signed for them."""

from __future__ import annotations

import math
import threading
from collections.abc import Iterable
from datetime import datetime

from sqlalchemy import Engine, delete, select
from sqlalchemy.exc import IntegrityError
from sqlalchemy.orm import Session

from inkthread.core.prove import Reading
from inkthread.core.record import record
from inkthread.storage.models import LookRow, PieceRow, ReadingRow, utc_now

_AND = "&"


class PieceRefused(ValueError):
    """A serial number that there is already, or a piece that is signed. The message says which."""


class NoPiece(LookupError):
    """There is no such piece. The message says which."""


@record
class Piece:
    """One harness that was made."""

    id: int
    design_id: str
    serial: str
    number: int
    bench_c: float
    leads_ohm: float
    begun_at: datetime
    signed_by: str
    signed_at: datetime | None
    sha256: str
    record: str


@record
class TakenReading:
    """A reading as the meter showed it, how it came, and who took it."""

    reading: Reading
    how: str
    who: str
    at: datetime


@record
class Look:
    """Whether a connector looks right."""

    place: str
    fine: bool
    who: str


class Pieces:
    """Every piece of every design, in the data file."""

    def __init__(self, engine: Engine) -> None:
        self._engine = engine
        self._lock = threading.Lock()

    def of(self, design_id: str) -> list[Piece]:
        """The pieces of a design, the first first."""
        with Session(self._engine) as session:
            rows = session.scalars(
                select(PieceRow).where(PieceRow.design_id == design_id).order_by(PieceRow.id)
            )
            return [_piece(row) for row in rows]

    def every(self) -> list[Piece]:
        """The pieces of all designs."""
        with Session(self._engine) as session:
            return [_piece(row) for row in session.scalars(select(PieceRow).order_by(PieceRow.id))]

    def get(self, design_id: str, serial: str) -> Piece:
        """A piece of a design by its serial number. Raises NoPiece where there is none."""
        with Session(self._engine) as session:
            row = self._row(session, design_id, serial)
            if row is None:
                raise NoPiece(f"There is no piece {serial!r} of this harness. Look at the list of pieces.")
            return _piece(row)

    @staticmethod
    def _row(session: Session, design_id: str, serial: str) -> PieceRow | None:
        wanted = select(PieceRow).where(PieceRow.design_id == design_id, PieceRow.serial == serial)
        return session.scalar(wanted)

    def begin(self, design_id: str, serial: str, number: int) -> Piece:
        """Give a harness its serial number. Raises PieceRefused where another has it."""
        with self._lock, Session(self._engine) as session:
            row = PieceRow(
                design_id=design_id, serial=serial, number=number, bench_c=20.0, leads_ohm=0.0,
                begun_at=utc_now(), signed_by="", signed_at=None, sha256="", record="",
            )  # fmt: skip
            session.add(row)
            try:
                session.commit()
            except IntegrityError:
                raise PieceRefused(f"There is a piece {serial!r} already.") from None
            return _piece(row)

    def measure_at(self, design_id: str, serial: str, bench_c: float, leads_ohm: float) -> None:
        """How warm the conductors are, and what the leads read by themselves. Raises PieceRefused."""
        with self._lock, Session(self._engine) as session:
            row = self._open_row(session, design_id, serial)
            row.bench_c, row.leads_ohm = bench_c, leads_ohm
            session.commit()

    def _open_row(self, session: Session, design_id: str, serial: str) -> PieceRow:
        row = self._row(session, design_id, serial)
        if row is None:
            raise NoPiece(f"There is no piece {serial!r} of this harness. Look at the list of pieces.")
        if row.signed_at is not None:
            raise PieceRefused(f"{serial} is signed by {row.signed_by}: its record is closed.")
        return row

    def readings(self, piece: Piece) -> list[TakenReading]:
        """What was read on a piece, the first first."""
        with Session(self._engine) as session:
            wanted = select(ReadingRow).where(ReadingRow.piece_id == piece.id).order_by(ReadingRow.at)
            return [
                TakenReading(
                    Reading(
                        tuple(row.a.split(_AND)), tuple(row.b.split(_AND)),
                        math.inf if row.ohm is None else row.ohm, row.moved, row.row,
                    ),
                    row.how, row.who, row.at,
                )
                for row in session.scalars(wanted)
            ]  # fmt: skip

    def take(self, piece: Piece, readings: Iterable[Reading], how: str, who: str) -> int:
        """Keep readings, each in place of the one before; how many. Raises PieceRefused."""
        count = 0
        with self._lock, Session(self._engine) as session:
            self._open_row(session, piece.design_id, piece.serial)
            for reading in readings:
                ohm = None if math.isinf(reading.ohm) else reading.ohm
                row = ReadingRow(
                    piece_id=piece.id, a=_AND.join(reading.a), b=_AND.join(reading.b), moved=reading.moved,
                    row=reading.row, ohm=ohm, how=how, who=who, at=utc_now(),
                )  # fmt: skip
                session.merge(row)
                count += 1
            session.commit()
        return count

    def strike(self, piece: Piece, readings: Iterable[Reading]) -> None:
        """Readings are taken out again. Raises PieceRefused."""
        with self._lock, Session(self._engine) as session:
            self._open_row(session, piece.design_id, piece.serial)
            for reading in readings:
                session.execute(
                    delete(ReadingRow).where(
                        ReadingRow.piece_id == piece.id, ReadingRow.a == _AND.join(reading.a),
                        ReadingRow.b == _AND.join(reading.b), ReadingRow.moved == reading.moved,
                    )
                )  # fmt: skip
            session.commit()

    def looks(self, piece: Piece) -> list[Look]:
        """Connectors of a piece that were looked at."""
        with Session(self._engine) as session:
            rows = session.scalars(
                select(LookRow).where(LookRow.piece_id == piece.id).order_by(LookRow.place)
            )
            return [Look(row.place, row.fine, row.who) for row in rows]

    def look(self, piece: Piece, place: str, fine: bool | None, who: str) -> None:
        """Note how a connector looks, or that nobody looked after all. Raises PieceRefused."""
        with self._lock, Session(self._engine) as session:
            self._open_row(session, piece.design_id, piece.serial)
            if fine is None:
                session.execute(delete(LookRow).where(LookRow.piece_id == piece.id, LookRow.place == place))
            else:
                session.merge(LookRow(piece_id=piece.id, place=place, fine=fine, who=who, at=utc_now()))
            session.commit()

    def sign(self, piece: Piece, who: str, sha256: str, record: str) -> None:
        """Close a piece's record. Raises PieceRefused where it is closed."""
        with self._lock, Session(self._engine) as session:
            row = self._open_row(session, piece.design_id, piece.serial)
            row.signed_by, row.signed_at, row.sha256, row.record = who, utc_now(), sha256, record
            session.commit()

    def discard(self, piece: Piece) -> None:
        """A piece was never one. Raises PieceRefused where it is signed."""
        with self._lock, Session(self._engine) as session:
            session.delete(self._open_row(session, piece.design_id, piece.serial))
            session.commit()


def _piece(row: PieceRow) -> Piece:
    return Piece(
        row.id, row.design_id, row.serial, row.number, row.bench_c, row.leads_ohm, row.begun_at,
        row.signed_by, row.signed_at, row.sha256, row.record,
    )  # fmt: skip
