"""The demo harnesses come to the same figures, to the last digit, until they are meant to change."""

from __future__ import annotations

import pytest

from inkthread.demo import DEMOS
from tests.core.house.demo_figures import kept, lines_of


@pytest.mark.parametrize("name", DEMOS)
def test_no_digit_of_a_demo_has_changed(name):
    assert lines_of(name) == kept(name).read_text(encoding="utf-8").splitlines()
