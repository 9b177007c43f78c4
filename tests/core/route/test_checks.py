"""Every check of the room has a harness that sets it off, and a wording that names its place."""

from __future__ import annotations

import pytest

from tests.core.checks import says_plainly
from tests.core.scenarios import (
    branch,
    by_compass,
    caught,
    crowd,
    many_ways,
    no_cover,
    opening,
    pump,
    stretch,
    two_lamps,
    without,
    zoned,
)

SCENARIOS = {
    "route-broken": lambda: without(pump(), "route/branches/R2"),
    "splice-none-fits": many_ways,
    "splice-crowded": lambda: two_lamps("vehicle", 60),
    "rerouted-since": lambda: branch(measured_on="2026-01-01", rerouted_on="2026-02-01"),
    "branch-no-length": lambda: branch(length_mm=0.0),
    "branch-no-slack": lambda: pump().set("route/branches/R1/slack_mm", 0.0),
    "measure-unsure": lambda: branch(measured="guess", length_mm=900.0),
    "stretch-off-branch": lambda: stretch(600.0, 5000.0),
    "connector-cannot-pass": lambda: opening(12.0, after_terminating=True),
    "loop-near-instrument": by_compass,
    "branch-too-hot": lambda: crowd("vehicle"),
    "branch-hot-by-balance": lambda: crowd("marine"),
    "bundle-cannot-pass": lambda: opening(1.0),
    "splice-not-covered": no_cover,
    "solder-shakes": lambda: zoned(
        two_lamps("vehicle", 900).set("brief/house_rules/splice_kind", {"order": 1, "value": 3.0}),
        vibration=True,
    ),
    "edge-not-said": lambda: opening(40.0),
    "edge-bare": lambda: caught("C21"),
    "span-unheld": lambda: caught("C21"),
    "clamp-at-edge": lambda: caught("C21"),
    "moves-without-slack": lambda: caught("C21"),
}


@pytest.mark.parametrize("code", SCENARIOS)
def test_check_is_set_off_and_speaks_plainly(code):
    says_plainly(SCENARIOS[code](), code)
