"""Circuits: what feeds what, through which fuses, and how much current crosses where."""

from inkthread.core.circuits.analysis import LoadShare, ModeDemand, SourceGroup, analyse_loads
from inkthread.core.circuits.checks import never_clears
from inkthread.core.circuits.facts import (
    CircuitFacts,
    CircuitsResult,
    Crossing,
    FuseFacts,
    Loop,
    SourceFacts,
    load_current_a,
)
from inkthread.core.circuits.walk import circuits_room

__all__ = [
    "CircuitFacts",
    "CircuitsResult",
    "Crossing",
    "FuseFacts",
    "LoadShare",
    "Loop",
    "ModeDemand",
    "SourceFacts",
    "SourceGroup",
    "analyse_loads",
    "circuits_room",
    "load_current_a",
    "never_clears",
]
