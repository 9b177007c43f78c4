"""How near a limit a figure may come before it counts as past it. One place for all of them."""

from __future__ import annotations

ROUNDING = 1e-9
"""What sums and divisions of the machine's own numbers may be off by, where figures are of order one."""


def over(figure: float, limit: float) -> bool:
    """Whether a figure is past its limit by more than the machine's rounding."""
    return figure > limit + ROUNDING
