"""Dress: how thick every branch is and how it lies, what goes over it, its labels, and how it is held."""

from inkthread.core.dress.covers import BranchCover
from inkthread.core.dress.holds import Hold
from inkthread.core.dress.labels import Labelled, Labels, writes_harness
from inkthread.core.dress.lay import LaidRing, Lay
from inkthread.core.dress.room import BranchBundle, Circle, DressResult, cross_section, dress_room
from inkthread.core.dress.shrinks import ShrinkPiece

__all__ = [
    "BranchBundle",
    "BranchCover",
    "Circle",
    "DressResult",
    "Hold",
    "Labelled",
    "Labels",
    "LaidRing",
    "Lay",
    "ShrinkPiece",
    "cross_section",
    "dress_room",
    "writes_harness",
]
