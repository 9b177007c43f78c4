"""Earlier versions of a design, read back through the inverses of its edits."""

from __future__ import annotations

from typing import Any

from sqlalchemy import Engine, select
from sqlalchemy.orm import Session

from inkthread.core.record import record
from inkthread.storage.entries import NotOnShelf
from inkthread.storage.models import DesignRow, RevisionRow
from inkthread.storage.patches import apply_with_inverse


class NotKept(LookupError):
    """That version is not kept any more, or never was."""


@record
class Version:
    """An edit that a design has been through."""

    version: int
    act: str
    label: str
    at: str


def versions(engine: Engine, design_id: str, most: int = 200) -> list[Version]:
    """Its newest versions, the newest first, each with the edit that made it."""
    with Session(engine) as session:
        wanted = (
            select(RevisionRow.version, RevisionRow.act, RevisionRow.label, RevisionRow.at)
            .where(RevisionRow.design_id == design_id)
            .order_by(RevisionRow.version.desc())
            .limit(most)
        )
        return [
            Version(version, act, label, at.isoformat(timespec="minutes"))
            for version, act, label, at in session.execute(wanted)
        ]


def document_at(engine: Engine, design_id: str, version: int) -> dict[str, Any]:
    """The document as it was at a version. Raises NotOnShelf, NotKept."""
    with Session(engine) as session:
        row = session.get(DesignRow, design_id)
        if row is None or row.deleted_at is not None:
            raise NotOnShelf(design_id)
        document, newest = dict(row.document), row.version
        wanted = (
            select(RevisionRow)
            .where(RevisionRow.design_id == design_id, RevisionRow.version > version)
            .order_by(RevisionRow.version.desc())
        )
        newer = session.scalars(wanted).all()
        if not 1 <= version <= newest or len(newer) != newest - version:
            raise NotKept(f"{design_id} {version}")
        for revision in newer:
            document, _ = apply_with_inverse(document, revision.inverse)
    return document
