"""What outlives one design: the builder's own kinds of device."""

from __future__ import annotations

import threading
from datetime import UTC, datetime
from typing import Any

from sqlalchemy import Engine, select
from sqlalchemy.orm import Session

from inkthread.storage.models import KindRow


class NotInShop(LookupError):
    """There is nothing of that name to take out."""


class Shop:
    """The shop's own kinds of device, by id, each as plain data of the catalogue's form."""

    def __init__(self, engine: Engine) -> None:
        self._engine = engine
        self._lock = threading.Lock()

    def kinds(self) -> dict[str, dict[str, Any]]:
        """Own kinds, oldest first."""
        with Session(self._engine) as session:
            wanted = select(KindRow).where(KindRow.removed_at.is_(None))
            rows = session.scalars(wanted.order_by(KindRow.added_at, KindRow.id)).all()
            return {row.id: dict(row.data) for row in rows}

    def keep_kind(self, kind_id: str, data: dict[str, Any]) -> None:
        """Keep a kind, in place of one of the same id."""
        with self._lock, Session(self._engine) as session:
            row = session.get(KindRow, kind_id)
            if row is None:
                session.add(KindRow(id=kind_id, data=data, added_at=_now(), removed_at=None))
            else:
                row.data, row.removed_at = data, None
            session.commit()

    def remove_kind(self, kind_id: str) -> None:
        """Take a kind out. Devices made of it stay as they are. Raises NotInShop."""
        self._mark(kind_id, _now())

    def restore_kind(self, kind_id: str) -> None:
        """Put a kind back that was taken out. Raises NotInShop."""
        self._mark(kind_id, None)

    def _mark(self, kind_id: str, removed_at: datetime | None) -> None:
        with self._lock, Session(self._engine) as session:
            row = session.get(KindRow, kind_id)
            if row is None or (row.removed_at is None) == (removed_at is None):
                raise NotInShop(kind_id)
            row.removed_at = removed_at
            session.commit()


def _now() -> datetime:
    return datetime.now(UTC).replace(tzinfo=None)
