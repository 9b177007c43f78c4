"""Hands: what pulled samples say of how surely somebody's crimps hold."""

from __future__ import annotations

from collections.abc import Iterable

from inkthread.core.record import record

CONFIDENCE = 0.9
"""How sure the share is that is said of a hand: nine times of ten it is at least as good."""


@record
class Sample:
    """A crimp that was pulled: by whom and with what it was made, and whether it held its minimum."""

    who: str
    contact: str
    wire: str
    """Family and gauge."""
    tool: str
    holds: bool


@record
class Hand:
    """What somebody has shown with a contact, a wire and a tool."""

    who: str
    contact: str
    wire: str
    tool: str
    tried: int
    held: int
    share: float
    """The least share of good crimps that fits these samples, at ``CONFIDENCE``."""


def least_share(good: int, tried: int, confidence: float = CONFIDENCE) -> float:
    """The least share of good crimps that would still show ``good`` sound ones of ``tried`` as often as
    ``1 - confidence``: the lower bound of Clopper and Pearson (Biometrika 26, 1934; NIST/SEMATECH e-Handbook
    7.2.4.1), one-sided. Raises ValueError where more held than were tried.

    >>> round(least_share(22, 22), 3)
    0.901
    """
    if not 0 <= good <= tried:
        raise ValueError(f"{good} of {tried} cannot have held.")
    if good == 0:
        return 0.0
    from scipy.stats import beta  # heavy: only where hands are judged

    return float(beta.ppf(1 - confidence, good, tried - good + 1))


def hands_of(samples: Iterable[Sample]) -> tuple[Hand, ...]:
    """Every hand that made a sample, with each contact, wire and tool apart; the best shown first."""
    counts: dict[tuple[str, str, str, str], list[int]] = {}
    for sample in samples:
        count = counts.setdefault((sample.who, sample.contact, sample.wire, sample.tool), [0, 0])
        count[0] += 1
        count[1] += sample.holds
    hands = [
        Hand(*key, tried, good, round(least_share(good, tried), 4)) for key, (tried, good) in counts.items()
    ]
    return tuple(sorted(hands, key=lambda hand: (-hand.share, hand.who, hand.contact, hand.wire)))
