"""Route: the path of every circuit through the measured tree, and where its splices go."""

from inkthread.core.route.buses import BusRun
from inkthread.core.route.flow import STUD, Flow
from inkthread.core.route.layout import LaidPoint, lay_out, shape_of
from inkthread.core.route.room import RouteResult, longest_run_mm, route_room
from inkthread.core.route.sections import Section, SectionEnd, Splice
from inkthread.core.route.threaded import Threaded
from inkthread.core.route.tree import RouteTree, build_tree

__all__ = [
    "STUD",
    "BusRun",
    "Flow",
    "LaidPoint",
    "RouteResult",
    "RouteTree",
    "Section",
    "SectionEnd",
    "Splice",
    "Threaded",
    "build_tree",
    "lay_out",
    "longest_run_mm",
    "route_room",
    "shape_of",
]
