"""Circuits: what feeds what, through which fuses, and how much current crosses where."""

from inkthread.core.circuits.analysis import LoadShare, ModeDemand, SourceGroup, analyse_loads
from inkthread.core.circuits.facts import (
    CircuitFacts,
    CircuitsResult,
    Crossing,
    FuseFacts,
    Loop,
    Mesh,
    Role,
    SourceFacts,
    Ways,
    load_current_a,
    most_current_a,
)
from inkthread.core.circuits.fuse_checks import driven_otherwise, never_clears
from inkthread.core.circuits.room import circuits_room, currents_in
from inkthread.core.circuits.schematic import FeedLine, Schematic, SchematicStep, SignalLine, draw_schematic

__all__ = [
    "CircuitFacts",
    "CircuitsResult",
    "Crossing",
    "FeedLine",
    "FuseFacts",
    "LoadShare",
    "Loop",
    "Mesh",
    "ModeDemand",
    "Role",
    "Schematic",
    "SchematicStep",
    "SignalLine",
    "SourceFacts",
    "SourceGroup",
    "Ways",
    "analyse_loads",
    "circuits_room",
    "currents_in",
    "draw_schematic",
    "driven_otherwise",
    "load_current_a",
    "most_current_a",
    "never_clears",
]
