"""A few of the kills and malformed files of ``make faults``, each time other ones."""

from __future__ import annotations

import random

from tools.faults import kill_over_and_over, malformed


def test_nothing_acknowledged_is_lost_by_a_kill():
    seed = random.SystemRandom().randrange(10**6)
    edits, amiss = kill_over_and_over(seed, 5)
    assert amiss == [], f"seed {seed}"
    assert edits > 0


def test_a_malformed_file_is_said_in_a_sentence():
    seed = random.SystemRandom().randrange(10**6)
    assert malformed(40, seed) == [], f"seed {seed}"
