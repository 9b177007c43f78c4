"""Circuits to begin from: understood, sound as they stand, and numbered on from what is there."""

from __future__ import annotations

import pytest

from inkthread.catalogue import shipped_catalogue
from inkthread.core.circuits.patterns import numbered_on
from inkthread.core.document.draft import LineError
from tests.conftest import Bench

PATTERNS = shipped_catalogue().patterns


@pytest.mark.parametrize("name", PATTERNS)
def test_a_pattern_is_sound_alone_and_twice(name):
    bench = Bench("vehicle")
    for times in (1, 2):
        bench._act("pattern", "\n".join(PATTERNS[name].lines))
        wrong = {
            "fuse-opens-at-inrush",
            "no-feed",
            "no-return",
            "feed-unprotected",
            "path-bypassed",
            "low-side-as-supply",
        }
        assert not wrong & set(bench.codes()), times
        batteries = [d for d in bench.plain["circuits"]["devices"].values() if d["kind"] == "battery"]
        assert len(batteries) <= 1
    assert PATTERNS[name].why


def test_devices_are_numbered_on_the_same_all_through():
    lines = ["battery > F1 fuse > K1 relay > E1 lamp 4 A > ground", "F1 > S1 switch > K1 coil > ground"]
    assert numbered_on({"F1", "K1", "K2"}, lines) == [
        "battery > F2 fuse > K3 relay > E1 lamp 4 A > ground",
        "F2 > S1 switch > K3 coil > ground",
    ]
    # Figures and gauges are no devices.
    assert numbered_on({"A1"}, ["A1 display 0.2 A, leads AWG 20", "A1.H > A1.L"]) == [
        "A2 display 0.2 A, leads AWG 20",
        "A2.H > A2.L",
    ]


def test_a_pattern_that_is_not_understood_puts_nothing_in():
    bench = Bench("vehicle")
    before = str(bench.plain)
    with pytest.raises(LineError, match="Line 2"):
        bench._act("pattern", "battery > F1 fuse > E1 lamp 1 A > ground\nF1 > M1 pump 2 A wobbly > ground")
    assert str(bench.plain) == before
