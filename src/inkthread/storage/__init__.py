"""Keeping designs: SQLite through SQLAlchemy, with every edit's inverse."""

from inkthread.storage.patches import PatchError
from inkthread.storage.shelf import Conflict, NothingToUndo, NotOnShelf, Shelf, ShelfEntry, StoredDesign
from inkthread.storage.shop import NotInShop, Shop

__all__ = [
    "Conflict",
    "NotInShop",
    "NotOnShelf",
    "NothingToUndo",
    "PatchError",
    "Shelf",
    "ShelfEntry",
    "Shop",
    "StoredDesign",
]
