"""The shelf: designs with versions, edits with undo and redo across restarts."""

from __future__ import annotations

import threading
import uuid
from collections import OrderedDict
from collections.abc import Callable
from contextlib import nullcontext, suppress
from datetime import datetime, timedelta
from typing import Any, Literal

from sqlalchemy import Engine, delete, select, text, update
from sqlalchemy.exc import DatabaseError
from sqlalchemy.orm import Session, defer
from sqlalchemy.orm.attributes import set_committed_value

from inkthread.storage.entries import (
    Conflict,
    NothingToUndo,
    NotOnShelf,
    RemovedEntry,
    ShelfEntry,
    StoredDesign,
)
from inkthread.storage.models import DesignRow, RevisionRow, SummaryRow, utc_now
from inkthread.storage.patches import Operation, apply_with_inverse, disjoint, touched

Validate = Callable[[Any, Any, tuple[str, int]], None]
"""Raises unless a document, the first argument, is valid.

The second is what stood before, the third the design and version that it stood in.
"""


_KEPT = 12
REMOVED_DAYS = 30
"""How long a removed design is kept in the drawer."""
EDITS_KEPT = 1000
"""How many edits back the history of a design goes."""
HISTORY_BYTES = 16_000_000
"""What the history of a design may take in the file; the newest edits keep their place first."""
EDITS_ALWAYS = 100
"""Edits that are kept whatever they take."""
_TRIMMED_EACH = 50
_TRIES = 3
"""How often an edit is made with nothing held, before it is made with the lock held."""


def _named(document: dict[str, Any]) -> str:
    """The name by which a document stands on the shelf, whatever is wrong with it."""
    brief = document.get("brief")
    return str(brief.get("name", ""))[:120] if isinstance(brief, dict) else ""


def _columns(row: DesignRow | RevisionRow) -> dict[str, Any]:
    """What a row holds, by column."""
    return {c.name: getattr(row, c.name) for c in row.__table__.columns}


class Shelf:
    """All designs of one database."""

    def __init__(self, engine: Engine) -> None:
        self.engine = engine
        self._lock = threading.Lock()
        self._keeping = threading.Lock()
        self._newest: OrderedDict[str, tuple[int, dict[str, Any]]] = OrderedDict()
        """Documents read or written last, by design, with their version."""

    def entries(self, stamp: str = "") -> list[ShelfEntry]:
        """Designs that are not deleted, newest change first, with what was kept of them under a stamp.

        No document is read: one that is damaged does not hide the others.
        """
        row, kept = DesignRow, SummaryRow
        wanted = (
            select(row.id, row.name, row.version, row.changed_at, kept.version, kept.stamp, kept.data)
            .outerjoin(kept, kept.design_id == row.id)
            .where(row.deleted_at.is_(None))
            .order_by(row.changed_at.desc())
        )
        with Session(self.engine) as session:
            return [
                ShelfEntry(
                    design_id,
                    name,
                    version,
                    changed_at,
                    dict(data) if data is not None and (at, by) == (version, stamp) else None,
                )
                for design_id, name, version, changed_at, at, by, data in session.execute(wanted)
            ]

    def keep_summary(self, design_id: str, version: int, stamp: str, data: dict[str, Any]) -> None:
        """Keep what the shelf shows of a design at a version, in place of what was kept before.

        Where the file cannot be written it is not kept, and is worked out anew next time.
        """
        with suppress(DatabaseError), self._lock, Session(self.engine) as session:
            if session.get(DesignRow, design_id, options=[defer(DesignRow.document)]) is None:
                return
            row = session.get(SummaryRow, design_id)
            if row is None:
                session.add(SummaryRow(design_id=design_id, version=version, stamp=stamp, data=data))
            else:
                row.version, row.stamp, row.data = version, stamp, data
            session.commit()

    def create(self, document: dict[str, Any], design_id: str | None = None) -> StoredDesign:
        """Put a new design on the shelf."""
        with self._lock, Session(self.engine, expire_on_commit=False) as session:
            row = DesignRow(
                id=design_id or uuid.uuid4().hex[:12],
                name=_named(document),
                version=1,
                document=document,
                created_at=utc_now(),
                changed_at=utc_now(),
                deleted_at=None,
            )
            session.add(row)
            session.commit()
            return self._stored(session, row)

    def get(self, design_id: str) -> StoredDesign:
        """A design at its newest version. Raises NotOnShelf."""
        with Session(self.engine) as session:
            return self._stored(session, self._row(session, design_id))

    def version(self, design_id: str) -> int:
        """The newest version of a design, and nothing else read. Raises NotOnShelf."""
        row = DesignRow
        with self.engine.connect() as connection:
            wanted = select(row.version).where(row.id == design_id, row.deleted_at.is_(None))
            version = connection.execute(wanted).scalar()
        if version is None:
            raise NotOnShelf(design_id)
        return int(version)

    def remove(self, design_id: str) -> None:
        """Take a design off the shelf; ``restore`` puts it back. Raises NotOnShelf."""
        with self._lock, Session(self.engine, expire_on_commit=False) as session:
            self._row(session, design_id).deleted_at = utc_now()
            session.commit()

    def restore(self, design_id: str) -> StoredDesign:
        """Put a removed design back. Raises NotOnShelf."""
        with self._lock, Session(self.engine, expire_on_commit=False) as session:
            row = session.get(DesignRow, design_id)
            if row is None:
                raise NotOnShelf(design_id)
            row.deleted_at = None
            session.commit()
            return self._stored(session, row)

    def removed(self) -> list[RemovedEntry]:
        """Designs that were taken off the shelf and are kept still, the last first."""
        row = DesignRow
        wanted = select(row.id, row.name, row.deleted_at).where(row.deleted_at.is_not(None))
        with Session(self.engine) as session:
            return [
                RemovedEntry(i, name, at)
                for i, name, at in session.execute(wanted.order_by(row.deleted_at.desc()))
                if at is not None
            ]

    def empty_drawer(self, now: datetime) -> int:
        """Let go of designs removed more than thirty days before ``now`` (UTC). Returns how many."""
        before = now - timedelta(days=REMOVED_DAYS)
        with self._lock, Session(self.engine) as session:
            old = list(session.scalars(select(DesignRow.id).where(DesignRow.deleted_at < before)))
            session.execute(delete(DesignRow).where(DesignRow.id.in_(old)))
            session.commit()
            return len(old)

    def take_in(self, source: Engine, design_id: str, *, anew: bool = False) -> StoredDesign:
        """Take a design in from another database, with its history; ``anew`` beside the one of its id.

        Raises NotOnShelf where there is none, or where one of its id is here already.
        """
        with self._lock, Session(source) as theirs, Session(self.engine, expire_on_commit=False) as session:
            there = theirs.get(DesignRow, design_id)
            own_id = uuid.uuid4().hex[:12] if anew else design_id
            if there is None or session.get(DesignRow, own_id) is not None:
                raise NotOnShelf(design_id)
            row = DesignRow(**{**_columns(there), "id": own_id, "deleted_at": None})
            session.add(row)
            wanted = select(RevisionRow).where(RevisionRow.design_id == design_id)
            for revision in theirs.scalars(wanted.order_by(RevisionRow.version)):
                plain = _columns(revision)
                del plain["id"]
                session.add(RevisionRow(**{**plain, "design_id": own_id}))
            session.commit()
            return self._stored(session, row)

    def knows(self, design_id: str) -> bool:
        """True where the design was ever on the shelf, even if removed since."""
        with Session(self.engine) as session:
            return session.get(DesignRow, design_id) is not None

    def overwrite(self, design_id: str, document: dict[str, Any], label: str) -> StoredDesign:
        """Make a design this document, back on the shelf if it was removed; an edit like any other.

        Versions go on counting, so that a version never names two documents. Raises NotOnShelf.
        """
        with self._lock, Session(self.engine, expire_on_commit=False) as session:
            row = session.get(DesignRow, design_id)
            if row is None:
                raise NotOnShelf(design_id)
            row.deleted_at = None
            operations: list[Operation] = [{"op": "replace", "path": "", "value": document}]
            changed, inverse = apply_with_inverse(row.document, operations)
            self._close_redo(session, design_id)
            self._advance(session, row, changed, operations, inverse, "edit", label, "live")
            session.commit()
            return self._stored(session, row)

    def patch(
        self,
        design_id: str,
        base_version: int,
        operations: list[Operation],
        label: str,
        validate: Validate,
        read: Callable[[dict[str, Any], list[Operation]], list[Operation]] | None = None,
    ) -> StoredDesign:
        """Apply a patch made against a version. ``read`` may make values of what was typed in it first.

        A stale patch is rebased where it touches nothing that newer versions touched, else
        ``Conflict``. Raises PatchError, NotOnShelf, and whatever ``validate`` raises; nothing stored
        changes then.
        """

        def made(session: Session, row: DesignRow) -> list[Operation]:
            meant = read(row.document, operations) if read is not None else operations
            if base_version != row.version:
                theirs = self._touched_since(session, row, base_version)
                if theirs is None or not disjoint(touched(meant), theirs):
                    raise Conflict(self._stored(session, row))
            return meant

        return self._edited(design_id, made, label, validate)

    def edit(
        self,
        design_id: str,
        make: Callable[[dict[str, Any]], list[Operation]],
        label: str | Callable[[list[Operation]], str],
        validate: Validate,
    ) -> StoredDesign:
        """Apply what ``make`` comes to on the newest document; made anew where somebody else was first.

        Raises PatchError, NotOnShelf, and whatever ``make`` and ``validate`` raise; nothing stored
        changes then.
        """
        return self._edited(design_id, lambda _session, row: make(row.document), label, validate)

    def _touched_since(self, session: Session, row: DesignRow, version: int) -> set[str] | None:
        """Paths that edits after a version touched; None where they are not all known any more."""
        newer = session.scalars(
            select(RevisionRow).where(RevisionRow.design_id == row.id, RevisionRow.version > version)
        ).all()
        if version > row.version or len(newer) != row.version - version:
            return None
        return set().union(*(touched(r.operations) for r in newer)) if newer else set()

    def _edited(
        self,
        design_id: str,
        make: Callable[[Session, DesignRow], list[Operation]],
        label: str | Callable[[list[Operation]], str],
        validate: Validate,
    ) -> StoredDesign:
        """Make, apply and validate an edit with nothing held, then put it in if its version is still the
        newest, else once more on the one that is. One that is outrun again and again has its turn at last.
        """
        for turn in range(_TRIES + 1):
            with self._lock if turn == _TRIES else nullcontext():
                with Session(self.engine, expire_on_commit=False) as session:
                    row = self._row(session, design_id)
                    document, version = row.document, row.version
                    operations = make(session, row)
                changed, inverse = apply_with_inverse(document, operations)
                validate(changed, document, (design_id, version))
                with self._lock if turn < _TRIES else nullcontext():
                    called = label if isinstance(label, str) else label(operations)
                    stored = self._put_in(design_id, version, changed, operations, inverse, called)
            if stored is not None:
                return stored
        raise AssertionError("nobody else edits while the lock is held")

    def _put_in(
        self,
        design_id: str,
        version: int,
        changed: dict[str, Any],
        operations: list[Operation],
        inverse: list[Operation],
        label: str,
    ) -> StoredDesign | None:
        """Store an edit of a version. None where that is not the newest any more; the lock is held."""
        with Session(self.engine, expire_on_commit=False) as session:
            row = self._row(session, design_id)
            if row.version != version:
                return None
            if inverse:
                self._close_redo(session, design_id)
                self._advance(session, row, changed, operations, inverse, "edit", label, "live")
                session.commit()
            return self._stored(session, row)

    def undo(self, design_id: str, meant_for: int) -> StoredDesign:
        """Take back the newest edit of the version it is meant for.

        Raises Conflict where the design has gone on since, NothingToUndo.
        """
        return self._turned(design_id, meant_for, "undo")

    def redo(self, design_id: str, meant_for: int) -> StoredDesign:
        """Bring back the edit that was undone last, at the version it is meant for.

        Raises Conflict where the design has gone on since, NothingToUndo.
        """
        return self._turned(design_id, meant_for, "redo")

    def _turned(self, design_id: str, meant_for: int, act: Literal["undo", "redo"]) -> StoredDesign:
        with Session(self.engine, expire_on_commit=False) as session:
            row = self._row(session, design_id)
            edit = self._undoable(session, design_id) if act == "undo" else self._redoable(session, design_id)
            if row.version != meant_for:
                raise Conflict(self._stored(session, row))
            if edit is None:
                raise NothingToUndo
            operations = edit.inverse if act == "undo" else edit.operations
            turned, document = edit.version, row.document
        changed, inverse = apply_with_inverse(document, operations)
        with self._lock, Session(self.engine, expire_on_commit=False) as session:
            row = self._row(session, design_id)
            if row.version != meant_for:
                raise Conflict(self._stored(session, row))
            edit = self._revision(session, design_id, turned)
            edit.state = "undone" if act == "undo" else "live"
            self._advance(session, row, changed, operations, inverse, act, edit.label, "")
            session.commit()
            return self._stored(session, row)

    def mend(self, design_id: str, reads: Callable[[dict[str, Any]], bool]) -> StoredDesign:
        """Take edits back until the document reads. Raises NothingToUndo where none does; nothing changes."""
        with Session(self.engine, expire_on_commit=False) as session:
            row = self._row(session, design_id)
            document, version = row.document, row.version
        taken = 0
        while not reads(document):
            with Session(self.engine, expire_on_commit=False) as session:
                edit = self._undoable(session, design_id, after=taken)
            if edit is None:
                raise NothingToUndo
            document, _ = apply_with_inverse(document, edit.inverse)
            taken += 1
        for _ in range(taken):
            version = self.undo(design_id, version).version
        return self.get(design_id)

    def _close_redo(self, session: Session, design_id: str) -> None:
        session.execute(
            update(RevisionRow)
            .where(RevisionRow.design_id == design_id, RevisionRow.state == "undone")
            .values(state="gone")
        )

    def _advance(
        self,
        session: Session,
        row: DesignRow,
        changed: dict[str, Any],
        operations: list[Operation],
        inverse: list[Operation],
        act: str,
        label: str,
        state: str,
    ) -> None:
        row.document = changed
        row.name = _named(changed)
        row.version += 1
        row.changed_at = utc_now()
        session.add(
            RevisionRow(
                design_id=row.id,
                version=row.version,
                act=act,
                label=label[:160],
                operations=operations,
                inverse=inverse,
                state=state,
                at=utc_now(),
            )
        )
        session.flush()
        if row.version % _TRIMMED_EACH == 0:
            self._trim(session, row.id)
        self._keep(row)

    def _trim(self, session: Session, design_id: str) -> None:
        """Let go of the oldest edits beyond what is kept, never of one that can be brought back yet."""
        session.execute(
            text(
                "DELETE FROM revisions WHERE id IN (SELECT id FROM (SELECT id, state,"
                " row_number() OVER newest AS nth,"
                " sum(length(operations) + length(inverse)) OVER newest AS bytes"
                " FROM revisions WHERE design_id = :design WINDOW newest AS (ORDER BY version DESC))"
                " WHERE state <> 'undone' AND (nth > :edits OR (bytes > :bytes AND nth > :always)))"
            ),
            {"design": design_id, "edits": EDITS_KEPT, "bytes": HISTORY_BYTES, "always": EDITS_ALWAYS},
        )

    def _row(self, session: Session, design_id: str) -> DesignRow:
        """A design's row. Its document is the one seen last, or read in one look with its version."""
        row = session.get(DesignRow, design_id, options=[defer(DesignRow.document)])
        if row is not None:
            seen = self._newest.get(row.id)
            if seen is not None and seen[0] == row.version:
                set_committed_value(row, "document", seen[1])
            else:
                session.refresh(row, ["version", "document", "name", "changed_at", "deleted_at"])
                self._keep(row)
        if row is None or row.deleted_at is not None:
            raise NotOnShelf(design_id)
        return row

    def _keep(self, row: DesignRow) -> None:
        with self._keeping:
            self._newest[row.id] = (row.version, row.document)
            self._newest.move_to_end(row.id)
            while len(self._newest) > _KEPT:
                self._newest.popitem(last=False)

    def _revision(self, session: Session, design_id: str, version: int) -> RevisionRow:
        wanted = RevisionRow.design_id == design_id, RevisionRow.version == version
        return session.scalars(select(RevisionRow).where(*wanted)).one()

    def _undoable(self, session: Session, design_id: str, after: int = 0) -> RevisionRow | None:
        """The newest edit that stands; ``after`` so many newer ones."""
        return session.scalars(
            select(RevisionRow)
            .where(RevisionRow.design_id == design_id, RevisionRow.state == "live")
            .order_by(RevisionRow.version.desc())
            .offset(after)
            .limit(1)
        ).first()

    def _redoable(self, session: Session, design_id: str) -> RevisionRow | None:
        return session.scalars(
            select(RevisionRow)
            .where(RevisionRow.design_id == design_id, RevisionRow.state == "undone")
            .order_by(RevisionRow.version)
            .limit(1)
        ).first()

    def _stored(self, session: Session, row: DesignRow) -> StoredDesign:
        label = select(RevisionRow.label).where(RevisionRow.design_id == row.id)
        undo = label.where(RevisionRow.state == "live").order_by(RevisionRow.version.desc()).limit(1)
        redo = label.where(RevisionRow.state == "undone").order_by(RevisionRow.version).limit(1)
        return StoredDesign(
            row.id,
            row.version,
            dict(row.document),
            session.scalar(undo),
            session.scalar(redo),
        )
