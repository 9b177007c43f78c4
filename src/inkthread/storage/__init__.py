"""Keeping designs: SQLite through SQLAlchemy, with every edit's inverse."""

from inkthread.storage.patches import PatchError
from inkthread.storage.shelf import Conflict, NothingToUndo, NotOnShelf, Shelf, ShelfEntry, StoredDesign

__all__ = [
    "Conflict",
    "NotOnShelf",
    "NothingToUndo",
    "PatchError",
    "Shelf",
    "ShelfEntry",
    "StoredDesign",
]
