"""What the shelf tells of its designs, and what it refuses."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from inkthread.core.record import record


class NotOnShelf(LookupError):
    """There is no such design."""


class NothingToUndo(LookupError):
    """No edit is left to undo, or to redo."""


@record
class StoredDesign:
    """A design at its newest version."""

    id: str
    version: int
    document: dict[str, Any]
    undo_label: str | None
    redo_label: str | None


class Conflict(Exception):
    """A stale patch touches what newer versions touched. Nothing was changed."""

    def __init__(self, current: StoredDesign) -> None:
        super().__init__("The harness was changed meanwhile in the same place.")
        self.current = current


@record
class RemovedEntry:
    """A design in the drawer of removed ones."""

    id: str
    name: str
    removed_at: datetime


@record
class ShelfEntry:
    """A design on the shelf."""

    id: str
    name: str
    version: int
    changed_at: datetime
    summary: dict[str, Any] | None
    """What was kept of it at this version and stamp, if anything."""
