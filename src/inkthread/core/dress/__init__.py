"""Dress: how thick every branch is, and how it is held."""

from inkthread.core.dress.room import BranchBundle, DressResult, dress_room

__all__ = ["BranchBundle", "DressResult", "dress_room"]
