"""Hands: the bound against published lots, against its own definition, and what belongs to one hand."""

from __future__ import annotations

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from inkthread.core.prove import Sample, hands_of, least_share


@pytest.mark.parametrize(
    ("tried", "share", "confidence"), [(22, 0.90, 0.90), (59, 0.95, 0.95), (29, 0.90, 0.95), (45, 0.95, 0.90)]
)
def test_lots_without_a_failure_that_are_usual(tried, share, confidence):
    """Success runs, from memory of MIL-HDBK-338B: 22 at 90/90, 29 at 95/90, 45 at 90/95, 59 at 95/95; one less
    is not enough.
    """
    assert least_share(tried, tried, confidence) >= share
    assert least_share(tried - 1, tried - 1, confidence) < share


@given(st.integers(1, 60), st.data())
def test_at_the_bound_so_many_good_ones_are_as_seldom_as_said(tried, data):
    """By the definition itself: the sum of the binomial's upper tail at the bound is 1 - confidence."""
    held = data.draw(st.integers(1, tried))
    share = least_share(held, tried, 0.9)
    tail = sum(math.comb(tried, k) * share**k * (1 - share) ** (tried - k) for k in range(held, tried + 1))
    assert tail == pytest.approx(0.1, abs=1e-9)


def test_nothing_that_held_shows_nothing_and_more_than_tried_is_refused():
    assert least_share(0, 5) == 0.0
    assert least_share(0, 0) == 0.0
    with pytest.raises(ValueError, match="6 of 5"):
        least_share(6, 5)


def test_each_contact_wire_and_tool_is_a_hand_of_its_own():
    samples = [Sample("Ada", "S15", "TXL 20", "T-OB", holds=True)] * 22
    samples += [Sample("Ada", "S15", "TXL 18", "T-OB", holds=True)] * 3
    samples += [Sample("Ben", "S15", "TXL 20", "T-OB", holds=n > 0) for n in range(22)]
    one, two, three = hands_of(samples)
    assert (one.who, one.tried, one.held) == ("Ada", 22, 22)
    assert one.share == pytest.approx(0.9006, abs=1e-4)
    assert (two.who, two.held, two.tried) == ("Ben", 21, 22)
    assert two.share < one.share
    assert (three.wire, three.tried) == ("TXL 18", 3)
