"""How near a limit a figure may come before it counts as past it. One place for all of them."""

from __future__ import annotations

ROUNDING = 1e-9
"""What sums and divisions of the machine's own numbers may be off by, where figures are of order one."""
HOLDS = 1 + ROUNDING
"""A figure over its limit by no more than this holds it."""
SAID_OVER = 1.0005
"""Over its limit by less, a figure reads like the limit in three digits, and is not said to be over it."""
SAID_OVER_IN_FOUR_PLACES = 1.00005
"""The same of ratios, which are kept to four places."""
SAID_LESS = 0.999
"""A figure less than this share of another is another figure, not the same one rounded."""


def over(figure: float, limit: float) -> bool:
    """Whether a figure is past its limit by more than the machine's rounding."""
    return figure > limit + ROUNDING
