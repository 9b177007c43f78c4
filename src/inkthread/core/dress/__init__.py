"""Dress: how thick every branch is, and how it is held."""

from inkthread.core.dress.room import BranchBundle, Circle, DressResult, cross_section, dress_room

__all__ = ["BranchBundle", "Circle", "DressResult", "cross_section", "dress_room"]
