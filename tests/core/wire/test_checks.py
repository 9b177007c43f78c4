"""Every check of the room has a harness that sets it off, and a wording that names its place."""

from __future__ import annotations

import pytest

from tests.core.checks import says_plainly
from tests.core.scenarios import (
    distributor,
    fixed,
    hot,
    ignition,
    made_at,
    names,
    primary,
    pump,
    source,
    zoned,
)

SCENARIOS = {
    "nothing-fits": lambda: hot(pump(amps=18), 124.5),
    "fixed-unknown": lambda: fixed(pump(), "M1", gauge="9 AWG"),
    "fixed-fails": lambda: fixed(pump(), "M1", gauge="22 AWG"),
    "fixed-orphan": lambda: pump().set("wire/fixed/C99", {"order": 1, "reason": "", "gauge": "18 AWG"}),
    "both-ends-made": lambda: made_at(made_at(distributor(), "X1.2", "IG8-CM"), "X3.1", "IG8-M"),
    "ignition-in-primary": lambda: primary(ignition()),
    "no-burn-rating": lambda: pump("aviation").set("wire/family", "J1128-TXL"),
    "insulation-voltage": lambda: source(pump(), nominal_v=96.0),
    "solid-in-motion": lambda: zoned(pump("equipment").set("wire/family", "SOLID-HOOKUP"), vibration=True),
    "sample-thinner": lambda: pump().set(
        "wire/samples/s",
        {"order": 1, "family": "J1128-TXL", "gauge": "18 AWG", "resistance_mohm_per_m": 35.0},
    ),
    "colour-not-made": lambda: fixed(pump().set("wire/family", "J1127-SGX"), "M1", colour="GN"),
    "family-gone": lambda: names("wire/family", "OLD-1"),
    "named-gone": lambda: names("wire/scheme", "old-colours"),
    "colour-against-scheme": lambda: fixed(pump(), "B1", colour="RD"),
    "coarse-strands": lambda: zoned(pump(), flex=True),
    "supplier-unproven": lambda: pump().set(
        "wire/samples/s", {"order": 1, "family": "J1128-TXL", "gauge": "18 AWG", "supplier": "a market stall"}
    ),
    "stripper-not-known": ignition,
}


@pytest.mark.parametrize("code", SCENARIOS)
def test_check_is_set_off_and_speaks_plainly(code):
    says_plainly(SCENARIOS[code](), code)
