"""The groups of parts that a bill is ordered by."""

from __future__ import annotations

from typing import Literal

Group = Literal[
    "kit",
    "wire",
    "contact",
    "seal",
    "cavity plug",
    "lock",
    "housing",
    "terminal",
    "splice",
    "block",
    "fuse",
    "cover",
    "accessory",
    "sleeve",
    "shrink",
    "label",
    "hold",
    "consumable",
]

GROUPS: tuple[Group, ...] = (
    "kit",
    "wire",
    "housing",
    "lock",
    "contact",
    "terminal",
    "seal",
    "cavity plug",
    "accessory",
    "splice",
    "cover",
    "block",
    "fuse",
    "sleeve",
    "shrink",
    "label",
    "hold",
    "consumable",
)
"""In the order of a bill."""
