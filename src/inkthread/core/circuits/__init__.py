"""Circuits: what feeds what, through which fuses, and how much current crosses where."""

from inkthread.core.circuits.walk import (
    CircuitFacts,
    CircuitsResult,
    Crossing,
    FuseFacts,
    Loop,
    circuits_room,
)

__all__ = ["CircuitFacts", "CircuitsResult", "Crossing", "FuseFacts", "Loop", "circuits_room"]
