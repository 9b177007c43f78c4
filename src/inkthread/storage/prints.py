"""The queue of label jobs: what waits, what was printed, what went wrong and why."""

from __future__ import annotations

import threading
from collections.abc import Iterable
from typing import Any, Literal

from sqlalchemy import Engine, select
from sqlalchemy.orm import Session

from inkthread.storage.models import PrintJobRow, utc_now
from inkthread.storage.shop import NotInShop

PrintState = Literal["waiting", "printed", "refused", "not known"]


class Prints:
    """Label jobs of all harnesses, oldest first."""

    def __init__(self, engine: Engine) -> None:
        self._engine = engine
        self._lock = threading.Lock()

    def of(self, design_id: str) -> list[dict[str, Any]]:
        """Jobs of one harness."""
        with Session(self._engine) as session:
            wanted = select(PrintJobRow).where(PrintJobRow.design_id == design_id).order_by(PrintJobRow.id)
            return [_job(row) for row in session.scalars(wanted)]

    def waiting(self) -> list[dict[str, Any]]:
        """Jobs that wait for the printer."""
        with Session(self._engine) as session:
            wanted = select(PrintJobRow).where(PrintJobRow.state == "waiting").order_by(PrintJobRow.id)
            return [_job(row) for row in session.scalars(wanted)]

    def add(self, design_id: str, jobs: Iterable[tuple[str, list[dict[str, Any]]]]) -> None:
        """Queue jobs, each a sleeve and its labels: all of them, or none."""
        with self._lock, Session(self._engine) as session:
            session.add_all(
                PrintJobRow(
                    design_id=design_id, sleeve=sleeve, labels=labels, state="waiting", says="", at=utc_now()
                )
                for sleeve, labels in jobs
            )
            session.commit()

    def mark(self, job_id: int, state: PrintState, says: str = "") -> None:
        """What became of a job. Raises NotInShop."""
        with self._lock, Session(self._engine) as session:
            row = session.get(PrintJobRow, job_id)
            if row is None:
                raise NotInShop(str(job_id))
            row.state, row.says = state, says
            session.commit()

    def remove(self, job_id: int) -> None:
        """Take a job out of the queue. Raises NotInShop."""
        with self._lock, Session(self._engine) as session:
            row = session.get(PrintJobRow, job_id)
            if row is None:
                raise NotInShop(str(job_id))
            session.delete(row)
            session.commit()


def _job(row: PrintJobRow) -> dict[str, Any]:
    return {
        "id": row.id,
        "sleeve": row.sleeve,
        "labels": row.labels,
        "state": row.state,
        "says": row.says,
    }
