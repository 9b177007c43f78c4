"""Types of parts and look-up. The shipped parts are data files, read by a loader outside the core."""

from inkthread.core.catalogue.types import (
    Catalogue,
    CheckText,
    ConnectorFamily,
    Contact,
    DeviceKind,
    Face,
    FuseRating,
    Housing,
    Part,
    Rule,
    Seal,
    SpliceSize,
    WireFamily,
    WireSize,
)

__all__ = [
    "Catalogue",
    "CheckText",
    "ConnectorFamily",
    "Contact",
    "DeviceKind",
    "Face",
    "FuseRating",
    "Housing",
    "Part",
    "Rule",
    "Seal",
    "SpliceSize",
    "WireFamily",
    "WireSize",
]
