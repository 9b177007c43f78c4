"""Route: the path of every circuit through the measured tree, and where its splices go."""

from inkthread.core.route.layout import LaidPoint, lay_out
from inkthread.core.route.sections import (
    RouteResult,
    Section,
    SectionEnd,
    Splice,
    route_room,
)
from inkthread.core.route.tree import RouteTree, build_tree

__all__ = [
    "LaidPoint",
    "RouteResult",
    "RouteTree",
    "Section",
    "SectionEnd",
    "Splice",
    "build_tree",
    "lay_out",
    "route_room",
]
