"""What is cut of each wire."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from inkthread.core.cut import round_up_mm


def test_cut_length_is_route_slack_and_allowances_rounded_up(pump):
    e = pump.evaluate()
    cut = next(c for c in e.cut.cuts if c.to_text.startswith("M1"))
    assert cut.route_mm == 1300
    assert cut.slack_mm == 40, "two branches of 20 mm"
    assert cut.finished_mm == 1340
    assert cut.cut_mm == 1380, "1340 and 20 at each end, on the 5 mm step"
    assert [c.cut_mm for c in e.cut.cuts] == sorted((c.cut_mm for c in e.cut.cuts), reverse=True)
    pump.set("brief/units", "inch")
    cut = next(c for c in pump.evaluate().cut.cuts if c.to_text.startswith("M1"))
    assert cut.cut_mm == pytest.approx(1384.3), "the next quarter inch above 1380"


@given(st.floats(0, 50_000), st.sampled_from([5.0, 6.35, 1.0, 10.0]))
def test_rounding_is_up_by_less_than_a_step(length, step):
    rounded = round_up_mm(length, step)
    assert length - 1e-4 * step <= rounded < length + step + 1e-3
    assert round_up_mm(rounded, step) == pytest.approx(rounded)
