"""Minutes learned at the bench: the median of one tick to the next, breaks and lots left out."""

from __future__ import annotations

import statistics

import pytest
from hypothesis import given
from hypothesis import strategies as st

from inkthread.core.build import (
    Learned,
    Ticked,
    Timed,
    labour_cost,
    learned_minutes,
    minutes_left,
    plan_build,
    sessions_of,
    standard_times,
    steps_of,
)
from inkthread.core.build.times import LEAST_S, MOST_S
from tests.core.scenarios import pump, ruled


def ticked(
    *apart_s: float, bench: str = "a", operation: str = "strip an end", times: float = 1.0
) -> list[Timed]:
    at_s, ticks = 1000.0, [Timed(bench, 1000.0, operation, times)]
    for apart in apart_s:
        at_s += apart
        ticks.append(Timed(bench, at_s, operation, times))
    return ticks


@pytest.mark.parametrize(
    ("apart_s", "counted"),
    [(LEAST_S - 0.01, 0), (LEAST_S, 1), (MOST_S, 1), (MOST_S + 0.01, 0)],
)
def test_what_was_ticked_together_or_after_a_break_tells_nothing(apart_s, counted):
    learned = learned_minutes(ticked(apart_s))
    assert sum(own.timed for own in learned.values()) == counted


def test_benches_are_timed_each_by_itself():
    """Two benches that tick by turns, 30 s each: neither takes 15 s."""
    ticks = ticked(30, 30, 30, bench="a")
    ticks += [Timed("b", t.at_s + 15, t.operation, 1.0) for t in ticks]
    assert learned_minutes(ticks) == {"strip an end": Learned(0.5, 6)}


def test_a_lot_counts_as_many_times_as_it_has_things():
    assert learned_minutes(ticked(60, 60, 60, times=3.0)) == {"strip an end": Learned(round(1 / 3, 3), 3)}


@given(st.lists(st.integers(int(LEAST_S), int(MOST_S)), min_size=1, max_size=30))
def test_it_is_the_median_whatever_order_they_are_read_in(apart_s):
    """Against the statistics module on the plain list."""
    ticks = ticked(*apart_s)
    learned = learned_minutes(reversed(ticks))["strip an end"]
    assert learned.minutes == pytest.approx(statistics.median(apart_s) / 60, abs=0.002)
    assert learned.timed == len(apart_s)


def test_time_left_is_told_by_the_shop_from_five_on():
    rooms = pump().workings().rooms
    plan = plan_build(rooms, steps_of(rooms))
    strips = next(
        line for line in standard_times(plan.operations.values()) if line.operation == "strip an end"
    )
    standard = minutes_left(plan, ())
    assert standard == pytest.approx(plan.minutes, abs=0.1)
    slow = strips.each + 10
    assert minutes_left(plan, (), {"strip an end": Learned(slow, 4)}) == standard
    later = minutes_left(plan, (), {"strip an end": Learned(slow, 5)})
    assert later - standard == pytest.approx(10 * strips.count, abs=0.11)


@pytest.mark.parametrize(("apart_s", "count"), [(1200.0, 1), (1200.1, 2)])
def test_a_break_of_more_than_twenty_minutes_begins_a_new_session(apart_s, count):
    sessions = sessions_of([Ticked("Ann", "a", 100.0), Ticked("Ann", "a", 100.0 + apart_s)])
    assert len(sessions) == count
    assert sum(s.steps for s in sessions) == 2
    assert sum(s.ended_s - s.began_s for s in sessions) == pytest.approx(apart_s if count == 1 else 0.0)


def test_two_people_and_two_benches_have_sessions_of_their_own():
    ticks = [
        Ticked("Ann", "a", 0.0),
        Ticked("Ben", "b", 10.0),
        Ticked("Ann", "b", 20.0),
        Ticked("Ann", "a", 30.0),
    ]
    assert [(s.who, s.began_s, s.steps) for s in sessions_of(ticks)] == [
        ("Ann", 0.0, 2), ("Ben", 10.0, 1), ("Ann", 20.0, 1)
    ]  # fmt: skip


def test_labour_is_priced_by_the_hour_or_not_at_all():
    priced = ruled(pump(), labour_per_h=40).workings().brief
    assert labour_cost(90.0, priced) == 60.0
    assert labour_cost(90.0, pump().workings().brief) is None
