"""Versions of a design and the edits that made them: what an edit reads and writes, by statements made once.

They go around the mapped objects, which would take longer than the edit.
"""

from __future__ import annotations

from typing import Any, cast

from sqlalchemy import Connection, Table, bindparam, insert, select, text, update

from inkthread.core.record import record
from inkthread.storage.models import DesignRow, RevisionRow, utc_now
from inkthread.storage.patches import Operation, touched

EDITS_KEPT = 1000
"""How many edits back the history of a design goes."""
HISTORY_BYTES = 16_000_000
"""What the history of a design may take in the file; the newest edits keep their place first."""
EDITS_ALWAYS = 100
"""Edits that are kept whatever they take."""
_TRIMMED_EACH = 50
LABEL_AT_MOST = 160
"""Letters of what an edit is called."""


class Outrun(Exception):
    """The version that an edit was made on is not the newest any more."""


@record
class Version:
    """A design as it stands at a version."""

    design_id: str
    number: int
    document: dict[str, Any]


@record
class Edit:
    """An edit as the history has it."""

    version: int
    label: str
    operations: list[Operation]
    inverse: list[Operation]


@record
class Step:
    """What makes the next version: the document, what was done, and what takes it back."""

    document: dict[str, Any]
    operations: list[Operation]
    inverse: list[Operation]
    label: str


_DESIGNS, _REVISIONS = cast("Table", DesignRow.__table__), cast("Table", RevisionRow.__table__)
_design, _revision = _DESIGNS.c, _REVISIONS.c
_OF = _design.id == bindparam("design")
_THERE = _OF & _design.deleted_at.is_(None)
_NUMBER = select(_design.version).where(_THERE)
_WHOLE = select(_design.version, _design.document).where(_THERE)
_PUT_BACK = update(_DESIGNS).where(_OF).values(deleted_at=None)
_WRITE = (
    update(_DESIGNS)
    .where(_THERE, _design.version == bindparam("was"))
    .values(
        name=bindparam("called"),
        version=bindparam("number"),
        document=bindparam("whole"),
        changed_at=bindparam("now"),
    )
)
_NOTE = insert(_REVISIONS)
_ITS = _revision.design_id == bindparam("design")
_SAME = _ITS & (_revision.version == bindparam("nth"))
_IN_STATE = _ITS & (_revision.state == bindparam("wanted"))
_TURN = update(_REVISIONS).where(_SAME).values(state=bindparam("into"))
_CLOSE = update(_REVISIONS).where(_ITS, _revision.state == "undone").values(state="gone")
_NEWER = select(_revision.operations).where(_ITS, _revision.version > bindparam("nth"))
_EDITS = select(_revision.version, _revision.label, _revision.operations, _revision.inverse)
_LAST = _IN_STATE, _revision.version.desc()
_FIRST = _IN_STATE, _revision.version
_TO_UNDO = _EDITS.where(_LAST[0]).order_by(_LAST[1]).limit(1).offset(bindparam("after"))
_TO_REDO = _EDITS.where(_FIRST[0]).order_by(_FIRST[1]).limit(1)
_UNDO_LABEL = select(_revision.label).where(_LAST[0]).order_by(_LAST[1]).limit(1)
_REDO_LABEL = select(_revision.label).where(_FIRST[0]).order_by(_FIRST[1]).limit(1)
_TRIM = text(
    "DELETE FROM revisions WHERE id IN (SELECT id FROM (SELECT id, state,"
    " row_number() OVER newest AS nth,"
    " sum(length(operations) + length(inverse)) OVER newest AS bytes"
    " FROM revisions WHERE design_id = :design WINDOW newest AS (ORDER BY version DESC))"
    " WHERE state <> 'undone' AND (nth > :edits OR (bytes > :bytes AND nth > :always)))"
)


def name_of(document: dict[str, Any]) -> str:
    """The name by which a document stands on the shelf, whatever is wrong with it."""
    brief = document.get("brief")
    return str(brief.get("name", ""))[:120] if isinstance(brief, dict) else ""


def number_of(connection: Connection, design_id: str) -> int | None:
    """The newest version of a design on the shelf; None where it is not there."""
    number: int | None = connection.execute(_NUMBER, {"design": design_id}).scalar()
    return number


def read_version(connection: Connection, design_id: str) -> Version | None:
    """A design with its newest version, read in one look; None where it is not on the shelf."""
    row = connection.execute(_WHOLE, {"design": design_id}).first()
    return None if row is None else Version(design_id, row[0], row[1])


def put_back(connection: Connection, design_id: str) -> None:
    """Put a design back on the shelf, where it was taken off."""
    connection.execute(_PUT_BACK, {"design": design_id})


def touched_since(connection: Connection, before: Version, version: int) -> set[str] | None:
    """Paths that edits after a version touched; None where they are not all known any more."""
    newer = connection.execute(_NEWER, {"design": before.design_id, "nth": version}).scalars().all()
    if version > before.number or len(newer) != before.number - version:
        return None
    return set().union(*(touched(operations) for operations in newer))


def to_undo(connection: Connection, design_id: str, after: int = 0) -> Edit | None:
    """The newest edit that stands; ``after`` so many newer ones."""
    row = connection.execute(_TO_UNDO, {"design": design_id, "wanted": "live", "after": after}).first()
    return None if row is None else Edit(*row)


def to_redo(connection: Connection, design_id: str) -> Edit | None:
    """The edit that was taken back last and may be brought back."""
    row = connection.execute(_TO_REDO, {"design": design_id, "wanted": "undone"}).first()
    return None if row is None else Edit(*row)


def labels_of(connection: Connection, design_id: str) -> tuple[str | None, str | None]:
    """What undo would take back, and what redo would bring back, in words."""
    return (
        connection.execute(_UNDO_LABEL, {"design": design_id, "wanted": "live"}).scalar(),
        connection.execute(_REDO_LABEL, {"design": design_id, "wanted": "undone"}).scalar(),
    )


def write_edit(connection: Connection, before: Version, step: Step) -> Version:
    """The next version by an edit, which closes the way to redo. Raises Outrun."""
    connection.execute(_CLOSE, {"design": before.design_id})
    return _write(connection, before, step, "edit", "live")


def write_turn(connection: Connection, before: Version, step: Step, turned: Edit, act: str) -> Version:
    """The next version by ``undo`` or ``redo`` of an edit. Raises Outrun."""
    into = "undone" if act == "undo" else "live"
    connection.execute(_TURN, {"design": before.design_id, "nth": turned.version, "into": into})
    return _write(connection, before, step, act, "")


def _write(connection: Connection, before: Version, step: Step, act: str, state: str) -> Version:
    now = Version(before.design_id, before.number + 1, step.document)
    at = utc_now()
    written = connection.execute(
        _WRITE,
        {
            "design": now.design_id,
            "was": before.number,
            "called": name_of(step.document),
            "number": now.number,
            "whole": step.document,
            "now": at,
        },
    )
    if written.rowcount == 0:
        raise Outrun
    connection.execute(
        _NOTE,
        {
            "design_id": now.design_id,
            "version": now.number,
            "act": act,
            "label": step.label[:LABEL_AT_MOST],
            "operations": step.operations,
            "inverse": step.inverse,
            "state": state,
            "at": at,
        },
    )
    if now.number % _TRIMMED_EACH == 0:
        kept = {"edits": EDITS_KEPT, "bytes": HISTORY_BYTES, "always": EDITS_ALWAYS}
        connection.execute(_TRIM, {"design": now.design_id, **kept})
    return now
