"""Spools and remnants, and what was cut off them: a length goes off with a tick, and comes back."""

from __future__ import annotations

import threading
from collections.abc import Iterable
from typing import Any

from sqlalchemy import Engine, select
from sqlalchemy.orm import Session

from inkthread.storage.models import CutRow, SpoolRow, utc_now
from inkthread.storage.shop import NotInShop


class CutRefused(ValueError):
    """A piece cannot be cut so. The message says why."""


class Cuts:
    """Wire at hand by length, and the pieces that were cut."""

    def __init__(self, engine: Engine) -> None:
        self._engine = engine
        self._lock = threading.Lock()

    def spools(self) -> list[dict[str, Any]]:
        """What is at hand, oldest first."""
        with Session(self._engine) as session:
            wanted = select(SpoolRow).where(SpoolRow.removed_at.is_(None)).order_by(SpoolRow.id)
            return [_spool(row) for row in session.scalars(wanted)]

    def keep_spools(self, spools: Iterable[dict[str, Any]]) -> list[int]:
        """Note more spools: all of them, or none. Their ids."""
        with self._lock, Session(self._engine) as session:
            rows = [SpoolRow(**data, added_at=utc_now(), removed_at=None) for data in spools]
            session.add_all(rows)
            session.commit()
            return [row.id for row in rows]

    def change_spool(self, spool_id: int, **values: Any) -> None:
        """Correct how much is left on a spool, or where it lies. Raises NotInShop."""
        with self._lock, Session(self._engine) as session:
            row = session.get(SpoolRow, spool_id)
            if row is None or row.removed_at is not None:
                raise NotInShop(str(spool_id))
            for name, value in values.items():
                setattr(row, name, value)
            session.commit()

    def remove_spool(self, spool_id: int) -> None:
        """Take a spool out. It can be put back. Raises NotInShop."""
        self._mark(spool_id, gone=True)

    def restore_spool(self, spool_id: int) -> None:
        """Put a spool back that was taken out. Raises NotInShop."""
        self._mark(spool_id, gone=False)

    def _mark(self, spool_id: int, *, gone: bool) -> None:
        with self._lock, Session(self._engine) as session:
            row = session.get(SpoolRow, spool_id)
            if row is None or (row.removed_at is not None) == gone:
                raise NotInShop(str(spool_id))
            row.removed_at = utc_now() if gone else None
            session.commit()

    def cut_of(self, design_id: str) -> list[dict[str, Any]]:
        """Pieces of a harness that were cut, in the order they were."""
        with Session(self._engine) as session:
            wanted = select(CutRow).where(CutRow.design_id == design_id).order_by(CutRow.id)
            return [
                {
                    "piece": row.piece,
                    "number": row.number,
                    "spool": None if row.spool_id is None else str(row.spool_id),
                    "length_mm": row.length_mm,
                    "spoiled": row.spoiled,
                }
                for row in session.scalars(wanted)
            ]

    def cut(self, design_id: str, piece: str, number: int, length_mm: float, spool_id: int | None) -> None:
        """Note a piece as cut, its length off its spool. Raises CutRefused where it is cut already or the
        spool has no such length left, NotInShop where there is no such spool.
        """
        with self._lock, Session(self._engine) as session:
            if self._good(session, design_id, piece, number) is not None:
                raise CutRefused("It is cut already. Take that back first.")
            if spool_id is not None:
                spool = session.get(SpoolRow, spool_id)
                if spool is None or spool.removed_at is not None:
                    raise NotInShop(str(spool_id))
                if spool.length_mm + _ROUNDING_MM < length_mm:
                    raise CutRefused(
                        f"There are {spool.length_mm:.0f} mm left on it, and {length_mm:.0f} mm are cut. "
                        "Correct what is left, or cut it off another."
                    )
                spool.length_mm = max(spool.length_mm - length_mm, 0.0)
            session.add(
                CutRow(
                    design_id=design_id,
                    piece=piece,
                    number=number,
                    spool_id=spool_id,
                    length_mm=length_mm,
                    spoiled=False,
                    at=utc_now(),
                )
            )
            session.commit()

    def take_back(self, design_id: str, piece: str, number: int) -> None:
        """Un-tick a piece: its length goes back on its spool. Raises CutRefused where it is not cut."""
        with self._lock, Session(self._engine) as session:
            row = self._good(session, design_id, piece, number)
            if row is None:
                raise CutRefused("It is not cut.")
            if row.spool_id is not None:
                spool = session.get(SpoolRow, row.spool_id)
                if spool is not None:
                    spool.length_mm += row.length_mm
            session.delete(row)
            session.commit()

    def spoil(self, design_id: str, piece: str, number: int) -> None:
        """A piece that was cut is spoiled: its wire is gone, and it is cut again. Raises CutRefused."""
        with self._lock, Session(self._engine) as session:
            row = self._good(session, design_id, piece, number)
            if row is None:
                raise CutRefused("It is not cut.")
            row.spoiled = True
            session.commit()

    def unspoil(self, design_id: str, piece: str, number: int) -> None:
        """What was noted as spoiled last is good after all. Raises CutRefused where it was cut again."""
        with self._lock, Session(self._engine) as session:
            if self._good(session, design_id, piece, number) is not None:
                raise CutRefused("It was cut again since. Take that back first.")
            wanted = self._of(design_id, piece, number).where(CutRow.spoiled).order_by(CutRow.id.desc())
            row = session.scalars(wanted.limit(1)).first()
            if row is None:
                raise CutRefused("It is not spoiled.")
            row.spoiled = False
            session.commit()

    @staticmethod
    def _of(design_id: str, piece: str, number: int) -> Any:
        return select(CutRow).where(
            CutRow.design_id == design_id, CutRow.piece == piece, CutRow.number == number
        )

    def _good(self, session: Session, design_id: str, piece: str, number: int) -> CutRow | None:
        wanted = self._of(design_id, piece, number).where(CutRow.spoiled.is_(False))
        row: CutRow | None = session.scalars(wanted.limit(1)).first()
        return row


_ROUNDING_MM = 0.05


def _spool(row: SpoolRow) -> dict[str, Any]:
    return {
        "id": str(row.id),
        "code": row.code,
        "colour": row.colour,
        "length_mm": row.length_mm,
        "remnant": row.remnant,
        "place": row.place,
    }
