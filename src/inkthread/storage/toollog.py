"""The log of tools: when each was gauged and how it passed, what pulled samples held."""

from __future__ import annotations

import threading
from datetime import datetime

from sqlalchemy import Engine, delete, select
from sqlalchemy.orm import Session

from inkthread.core.record import record
from inkthread.storage.models import GaugeRow, PullRow, utc_now


@record
class Gauged:
    """A tool was gauged."""

    id: int
    tool: str
    day: str
    """As ``2026-11-29``."""
    result: str
    note: str
    who: str


@record
class Pulled:
    """A sample was pulled until it gave, or to its minimum."""

    id: int
    tool: str
    contact: str
    wire: str
    """Family and gauge: ``J1128-TXL 20 AWG``."""
    least_n: float
    force_n: float
    note: str
    who: str
    at: datetime

    @property
    def holds(self) -> bool:
        """Whether it held the published minimum."""
        return self.force_n >= self.least_n


class ToolLog:
    """Gauges of tools and pulls of samples, of all designs, in the data file."""

    def __init__(self, engine: Engine) -> None:
        self._engine = engine
        self._lock = threading.Lock()

    def gauges(self) -> list[Gauged]:
        """Every gauge of every tool, the first day first."""
        with Session(self._engine) as session:
            rows = session.scalars(select(GaugeRow).order_by(GaugeRow.day, GaugeRow.id))
            return [Gauged(row.id, row.tool, row.day, row.result, row.note, row.who) for row in rows]

    def gauge(self, tool: str, day: str, result: str, note: str, who: str) -> None:
        """Note that a tool was gauged."""
        with self._lock, Session(self._engine) as session:
            session.add(GaugeRow(tool=tool, day=day, result=result, note=note, who=who, at=utc_now()))
            session.commit()

    def strike_gauge(self, gauge: int) -> None:
        """Take a gauge out of the log again."""
        with self._lock, Session(self._engine) as session:
            session.execute(delete(GaugeRow).where(GaugeRow.id == gauge))
            session.commit()

    def pulls(self) -> list[Pulled]:
        """Every pulled sample, the first first."""
        with Session(self._engine) as session:
            rows = session.scalars(select(PullRow).order_by(PullRow.id))
            return [
                Pulled(
                    row.id, row.tool, row.contact, row.wire, row.least_n, row.force_n, row.note, row.who,
                    row.at,
                )
                for row in rows
            ]  # fmt: skip

    def pull(
        self, tool: str, contact: str, wire: str, least_n: float, forces_n: list[float], note: str, who: str
    ) -> None:
        """Note pulled samples of one contact on one wire."""
        with self._lock, Session(self._engine) as session:
            for force_n in forces_n:
                session.add(
                    PullRow(
                        tool=tool, contact=contact, wire=wire, least_n=least_n, force_n=force_n, note=note,
                        who=who, at=utc_now(),
                    )
                )  # fmt: skip
            session.commit()

    def strike_pull(self, pull: int) -> None:
        """Take a pulled sample out of the log again."""
        with self._lock, Session(self._engine) as session:
            session.execute(delete(PullRow).where(PullRow.id == pull))
            session.commit()
