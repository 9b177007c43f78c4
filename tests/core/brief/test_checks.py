"""Every check of the room has a harness that sets it off, and a wording that names its place."""

from __future__ import annotations

import pytest

from tests.core.checks import says_plainly
from tests.core.scenarios import caught, hot, pump, zoned, zoned_by

SCENARIOS = {
    "zone-too-hot": lambda: hot(pump(), 140),
    "zone-too-cold": lambda: zoned_by("yard -60 to 20 C"),
    "rubs-on-thin-wall": lambda: zoned_by("sill rubbing"),
    "bare-copper-in-salt": lambda: zoned(pump(), salt=True),
    "bare-copper-in-wet": lambda: zoned(pump("marine").set("wire/family", "J1128-TXL"), wet=True),
    "rule-without-reason": lambda: pump().set(
        "brief/house_rules/least_area_mm2", {"order": 1, "value": 1.0, "reason": " "}
    ),
    "ready-made-misfits": lambda: caught("C01"),
    "ready-made-none-fits": lambda: pump().set("brief/ready_made/L1", {"order": 1, "length_mm": 100.0}),
}


@pytest.mark.parametrize("code", SCENARIOS)
def test_check_is_set_off_and_speaks_plainly(code):
    says_plainly(SCENARIOS[code](), code)
