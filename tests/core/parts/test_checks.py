"""Every check of the room has a harness that sets it off, and a wording that names its place."""

from __future__ import annotations

import pytest

from tests.core.checks import says_plainly
from tests.core.scenarios import pump

SCENARIOS = {
    "over-mass-budget": lambda: pump().set("brief/mass_budget_g", 1.0),
}


@pytest.mark.parametrize("code", SCENARIOS)
def test_check_is_set_off_and_speaks_plainly(code):
    says_plainly(SCENARIOS[code](), code)
