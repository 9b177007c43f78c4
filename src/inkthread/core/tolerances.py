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


NOUGHT = 1e-9
"""Divided by instead of nought: what comes out is past every limit."""
FAR_BELOW = 1e-12
"""The same, and what counts as none, where figures are far below one."""
WHOLE = 1e-6
"""A quotient this near a whole number is that number, before it is rounded up or down."""
HAIR_MM = 1e-6
"""A length too small to matter, that still counts for something beside others."""
NO_OHM = 1e-6
"""Taken for the resistance of a fault's way where nothing in it has any."""
NO_MM2 = 1e-6
"""Taken for a window's least copper where it has none."""


def over(figure: float, limit: float) -> bool:
    """Whether a figure is past its limit by more than the machine's rounding."""
    return figure > limit + ROUNDING
