"""Keeping designs: SQLite through SQLAlchemy, with every edit's inverse."""

from inkthread.storage.buying import Buying, NotAtHand
from inkthread.storage.cuts import CutRefused, Cuts
from inkthread.storage.entries import Conflict, NothingToUndo, NotOnShelf, ShelfEntry, StoredDesign
from inkthread.storage.patches import PatchError
from inkthread.storage.shelf import Shelf
from inkthread.storage.shop import NotInShop, Shop

__all__ = [
    "Buying",
    "Conflict",
    "CutRefused",
    "Cuts",
    "NotAtHand",
    "NotInShop",
    "NotOnShelf",
    "NothingToUndo",
    "PatchError",
    "Shelf",
    "ShelfEntry",
    "Shop",
    "StoredDesign",
]
