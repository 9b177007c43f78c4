"""Words of fitting a harness into its machine, and of giving it power for the first time."""

from __future__ import annotations

from dataclasses import field

from inkthread.core.catalogue.ends import DATA
from inkthread.core.record import record


@record
class Fitting:
    """Phrases with places in braces, and when a first power is stopped (common practice, no source)."""

    __pydantic_config__ = DATA
    fitting: dict[str, str] = field(default_factory=dict)
    powering: dict[str, str] = field(default_factory=dict)
    stop_share: float = 1.25
    """A fuse is taken out again above this many times what it should carry."""
    stop_above_a: float = 0.2
    """And never below this much above it, in A."""
    rest_a: float = 0.05
    """What may flow with everything off, in A."""
