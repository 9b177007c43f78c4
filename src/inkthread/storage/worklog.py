"""What was done at the bench, step by step: by whom, at which bench, and what happened."""

from __future__ import annotations

import threading
from collections.abc import Iterable, Mapping
from datetime import datetime, timedelta

from sqlalchemy import Engine, delete, select
from sqlalchemy.orm import Session

from inkthread.core.record import record
from inkthread.storage.models import HappeningRow, PhotoRow, StepRow, TakenRow, utc_now

LEFT_AFTER = timedelta(seconds=90)
"""A card of a bench that has not been heard of for so long lies there for anybody."""


_PHOTOS_SHOWN = 6


class WorkRefused(ValueError):
    """A step or a card is somebody else's. The message says whose."""


@record
class StepDone:
    """A step that is done."""

    step: str
    who: str
    bench: str
    at: datetime


@record
class CardTaken:
    """A card that lies on a bench."""

    card: str
    who: str
    bench: str


@record
class Happening:
    """What happened at a step."""

    id: int
    step: str
    kind: str
    part: str
    note: str
    who: str
    at: datetime
    photo: bool = False
    """Whether there is a photograph of it."""


class WorkLog:
    """What is done of every harness of a design, by its number."""

    def __init__(self, engine: Engine) -> None:
        self._engine = engine
        self._lock = threading.Lock()
        self.changed = 0
        """Rises with every tick, and with every one that is taken back."""

    def done(self, design_id: str, number: int) -> list[StepDone]:
        """Steps that are done, the first first."""
        with Session(self._engine) as session:
            wanted = select(StepRow).where(StepRow.design_id == design_id, StepRow.number == number)
            rows = session.scalars(wanted.order_by(StepRow.at, StepRow.step))
            return [StepDone(row.step, row.who, row.bench, row.at) for row in rows]

    def taken(self, design_id: str, number: int) -> list[CardTaken]:
        """Cards that lie on benches that were heard of lately."""
        with Session(self._engine) as session:
            return [
                CardTaken(row.card, row.who, row.bench) for row in self._taken(session, design_id, number)
            ]

    @staticmethod
    def _taken(session: Session, design_id: str, number: int) -> list[TakenRow]:
        wanted = select(TakenRow).where(
            TakenRow.design_id == design_id, TakenRow.number == number, TakenRow.at >= utc_now() - LEFT_AFTER
        )
        return list(session.scalars(wanted.order_by(TakenRow.bench)))

    def tick(
        self, design_id: str, number: int, steps: Mapping[str, tuple[str, float]], who: str, bench: str
    ) -> None:
        """Note steps as done, each with which standard minutes it takes, and how many times these. One that
        this bench noted before is left as it is.

        Raises WorkRefused where another bench has done one of them: nothing is noted then.
        """
        with self._lock, Session(self._engine) as session:
            for step, (timed, times) in steps.items():
                row = session.get(StepRow, (design_id, number, step))
                if row is not None and row.bench != bench:
                    raise WorkRefused(f"{row.who or 'The other bench'} has done it already.")
                if row is None:
                    session.add(
                        StepRow(
                            design_id=design_id,
                            number=number,
                            step=step,
                            timed=timed,
                            times=times,
                            who=who,
                            bench=bench,
                            at=utc_now(),
                        )
                    )
            session.commit()
            self.changed += 1

    def ticks(self) -> list[tuple[str, datetime, str, float]]:
        """Every tick there is: bench, when, which standard minutes, how many times these."""
        with Session(self._engine) as session:
            wanted = select(StepRow.bench, StepRow.at, StepRow.timed, StepRow.times)
            return [(bench, at, timed, times) for bench, at, timed, times in session.execute(wanted)]

    def begun(self) -> list[tuple[str, int]]:
        """Harnesses that any step of is done: design and number."""
        with Session(self._engine) as session:
            wanted = select(StepRow.design_id, StepRow.number).distinct()
            return sorted((design, number) for design, number in session.execute(wanted))

    def take_back(self, design_id: str, number: int, steps: Iterable[str]) -> None:
        """Steps are not done after all."""
        with self._lock, Session(self._engine) as session:
            session.execute(
                delete(StepRow).where(
                    StepRow.design_id == design_id, StepRow.number == number, StepRow.step.in_(list(steps))
                )
            )
            session.commit()
            self.changed += 1

    def take_card(self, design_id: str, number: int, card: str, who: str, bench: str) -> None:
        """Lay a card on a bench, in place of the one before; an empty name lays it back.

        Raises WorkRefused where it lies on another.
        """
        with self._lock, Session(self._engine) as session:
            for row in self._taken(session, design_id, number):
                if card and row.card == card and row.bench != bench:
                    raise WorkRefused(f"It lies on {row.who or 'the other'}'s bench.")
            own = session.get(TakenRow, (design_id, number, bench))
            if own is None:
                own = TakenRow(design_id=design_id, number=number, bench=bench, card="", who="", at=utc_now())
                session.add(own)
            own.card, own.who, own.at = card, who, utc_now()
            session.commit()

    def heard_of(self, design_id: str, number: int, bench: str) -> None:
        """A bench is still at work: what lies on it stays its own."""
        with self._lock, Session(self._engine) as session:
            row = session.get(TakenRow, (design_id, number, bench))
            if row is not None and utc_now() - row.at > LEFT_AFTER / 6:
                row.at = utc_now()
                session.commit()

    def happened(self, design_id: str, number: int) -> list[Happening]:
        """What happened, the newest first."""
        with Session(self._engine) as session:
            wanted = select(HappeningRow).where(
                HappeningRow.design_id == design_id, HappeningRow.number == number
            )
            photos = set(session.scalars(select(PhotoRow.id)))
            rows = session.scalars(wanted.order_by(HappeningRow.id.desc()))
            return [
                Happening(r.id, r.step, r.kind, r.part, r.note, r.who, r.at, r.id in photos) for r in rows
            ]

    def note(
        self,
        design_id: str,
        number: int,
        *,
        step: str,
        kind: str,
        part: str = "",
        note: str = "",
        who: str = "",
        photo: bytes | None = None,
    ) -> None:
        """Note what happened at a step, with a photograph where there is one."""
        with self._lock, Session(self._engine) as session:
            row = HappeningRow(
                design_id=design_id, number=number, step=step, kind=kind, part=part, note=note, who=who,
                at=utc_now(),
            )  # fmt: skip
            session.add(row)
            session.flush()
            if photo is not None:
                session.add(PhotoRow(id=row.id, jpeg=photo))
            session.commit()

    def photo(self, design_id: str, happening: int) -> bytes | None:
        """The photograph of a happening of a design, None where there is none."""
        with Session(self._engine) as session:
            row = session.get(HappeningRow, happening)
            kept = session.get(PhotoRow, happening)
            return kept.jpeg if kept is not None and row is not None and row.design_id == design_id else None

    def photos_of(self, part: str) -> list[tuple[str, int, str]]:
        """Photographs of a part from every bench, the newest first: design, happening and note."""
        with Session(self._engine) as session:
            wanted = (
                select(HappeningRow)
                .join(PhotoRow, PhotoRow.id == HappeningRow.id)
                .where(HappeningRow.part == part)
                .order_by(HappeningRow.id.desc())
                .limit(_PHOTOS_SHOWN)
            )
            return [(row.design_id, row.id, row.note) for row in session.scalars(wanted)]

    def strike(self, design_id: str, number: int, happening: int) -> Happening | None:
        """Take a note out again; what it was, None where there is none."""
        with self._lock, Session(self._engine) as session:
            row = session.get(HappeningRow, happening)
            if row is None or (row.design_id, row.number) != (design_id, number):
                return None
            struck = Happening(row.id, row.step, row.kind, row.part, row.note, row.who, row.at)
            session.delete(row)
            session.commit()
            return struck
