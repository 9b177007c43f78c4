"""Types of hand work: what an operation is called, when it is done, how it is worded."""

from __future__ import annotations

from dataclasses import field
from typing import Literal

from inkthread.core.catalogue.ends import DATA
from inkthread.core.record import record

OperationKind = Literal[
    "cut",
    "mark",
    "lay up",
    "strip",
    "thread",
    "crimp",
    "splice",
    "shrink",
    "insert",
    "lock",
    "sleeve",
    "tie",
    "label",
    "torque",
    "inspect",
]
CardKind = Literal["batch", "end", "splice", "connector", "branch"]


@record
class HandWork:
    """One sort of operation. Its wording has places in braces."""

    __pydantic_config__ = DATA
    kind: OperationKind
    stage: int
    """Of two operations that nothing binds, the one of the lower stage is done first."""
    card: CardKind
    timed: str
    """Which standard minutes it takes; empty where it brings its own."""
    words: str
    look: str
    caution: str


@record
class HandWorks:
    """Every sort of operation by name, and what a house rule's choice adds to its look."""

    __pydantic_config__ = DATA
    operations: dict[str, HandWork] = field(default_factory=dict)
    by_rule: dict[str, dict[str, dict[str, str]]] = field(default_factory=dict)
    """By rule, sort of operation, and the value of the rule."""
