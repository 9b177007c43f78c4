"""Keeping designs: SQLite through SQLAlchemy, with every edit's inverse."""

from inkthread.storage.buying import Buying, NotAtHand
from inkthread.storage.cuts import CutRefused, Cuts
from inkthread.storage.entries import Conflict, NothingToUndo, NotOnShelf, ShelfEntry, StoredDesign
from inkthread.storage.patches import PatchError
from inkthread.storage.pieces import Look, NoPiece, Piece, PieceRefused, Pieces, TakenReading
from inkthread.storage.shelf import Shelf
from inkthread.storage.shop import NotInShop, Shop
from inkthread.storage.worklog import CardTaken, Happening, StepDone, WorkLog, WorkRefused

__all__ = [
    "Buying",
    "CardTaken",
    "Conflict",
    "CutRefused",
    "Cuts",
    "Happening",
    "Look",
    "NoPiece",
    "NotAtHand",
    "NotInShop",
    "NotOnShelf",
    "NothingToUndo",
    "PatchError",
    "Piece",
    "PieceRefused",
    "Pieces",
    "Shelf",
    "ShelfEntry",
    "Shop",
    "StepDone",
    "StoredDesign",
    "TakenReading",
    "WorkLog",
    "WorkRefused",
]
