"""Circuits to begin from: understood, sound as they stand, and numbered on from what is there."""

from __future__ import annotations

import pytest

from inkthread.catalogue import shipped_catalogue
from inkthread.core.circuits.patterns import numbered_on
from inkthread.core.document.draft import LineError
from tests.conftest import HarnessBuilder

PATTERNS = shipped_catalogue().patterns


@pytest.mark.parametrize("name", PATTERNS)
def test_a_pattern_is_sound_alone_and_twice(name):
    builder = HarnessBuilder("vehicle")
    for times in (1, 2):
        builder._act("pattern", "\n".join(PATTERNS[name].lines))
        wrong = {
            "fuse-opens-at-inrush",
            "no-feed",
            "no-return",
            "feed-unprotected",
            "path-bypassed",
            "low-side-as-supply",
        }
        assert not wrong & set(builder.codes()), times
        batteries = [d for d in builder.plain["circuits"]["devices"].values() if d["kind"] == "battery"]
        assert len(batteries) <= 1
    assert PATTERNS[name].why


def test_devices_are_numbered_on_the_same_all_through():
    lines = ["battery > F1 fuse > K1 relay > E1 lamp 4 A > ground", "F1 > S1 switch > K1 coil > ground"]
    assert numbered_on({"F1", "K1", "K2"}, lines) == [
        "battery > F2 fuse > K3 relay > E1 lamp 4 A > ground",
        "F2 > S1 switch > K3 coil > ground",
    ]
    # What is named and not put in is there: it keeps its id.
    assert numbered_on({"F1", "K1", "H1"}, ["F1 > H1 horn 5 A > G1", "F1 > S1 switch > K1 coil > G1"]) == [
        "F1 > H2 horn 5 A > G1",
        "F1 > S1 switch > K1 coil > G1",
    ]
    # Figures and gauges are no devices.
    assert numbered_on({"A1"}, ["A1 display 0.2 A, leads AWG 20", "A1.H > A1.L"]) == [
        "A2 display 0.2 A, leads AWG 20",
        "A2.H > A2.L",
    ]


def test_a_pattern_that_is_not_understood_puts_nothing_in():
    builder = HarnessBuilder("vehicle")
    before = str(builder.plain)
    with pytest.raises(LineError, match="Line 2"):
        builder._act("pattern", "battery > F1 fuse > E1 lamp 1 A > ground\nF1 > M1 pump 2 A wobbly > ground")
    assert str(builder.plain) == before


def test_a_pattern_brings_no_second_battery_and_none_where_something_else_feeds():
    builder = HarnessBuilder("vehicle").feed("B1 lithium battery > F1 fuse > M1 pump 5 A > B1")
    builder._act("pattern", "\n".join(PATTERNS["horn"].lines))
    assert [d for d, x in builder.plain["circuits"]["devices"].items() if "battery" in x["kind"]] == ["B1"]
    mains = HarnessBuilder("equipment").feed("G1 power supply 2 A > E1 lamp 1 A > G1")
    before = str(mains.plain)
    with pytest.raises(LineError, match=r"There is no battery here\. Write G1 in its place, or B1 battery"):
        mains._act("pattern", "\n".join(PATTERNS["horn"].lines))
    assert str(mains.plain) == before
    mains._act("pattern", "\n".join(PATTERNS["horn"].lines).replace("battery", "G1"))
    assert "H1" in mains.plain["circuits"]["devices"]
