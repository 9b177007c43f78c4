"""Keeping designs: SQLite through SQLAlchemy, with every edit's inverse."""

from inkthread.storage.buying import Buying, NotAtHand
from inkthread.storage.cuts import CutRefused, Cuts
from inkthread.storage.entries import Conflict, NothingToUndo, NotOnShelf, ShelfEntry, StoredDesign
from inkthread.storage.patches import PatchError
from inkthread.storage.pieces import Look, NoPiece, Piece, PieceRefused, Pieces, TakenReading
from inkthread.storage.records import Batch, Checked, MachineEntry, Records
from inkthread.storage.shelf import Shelf
from inkthread.storage.shop import NotInShop, Shop
from inkthread.storage.toollog import Gauged, Pulled, ToolLog
from inkthread.storage.worklog import CardTaken, Happening, StepDone, WorkLog, WorkRefused

__all__ = [
    "Batch",
    "Buying",
    "CardTaken",
    "Checked",
    "Conflict",
    "CutRefused",
    "Cuts",
    "Gauged",
    "Happening",
    "Look",
    "MachineEntry",
    "NoPiece",
    "NotAtHand",
    "NotInShop",
    "NotOnShelf",
    "NothingToUndo",
    "PatchError",
    "Piece",
    "PieceRefused",
    "Pieces",
    "Pulled",
    "Records",
    "Shelf",
    "ShelfEntry",
    "Shop",
    "StepDone",
    "StoredDesign",
    "TakenReading",
    "ToolLog",
    "WorkLog",
    "WorkRefused",
]
