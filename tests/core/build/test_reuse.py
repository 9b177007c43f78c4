"""Contacts that were taken out and put in again: each way it can go, and the house rule both ways."""

from __future__ import annotations

import pytest

from inkthread.catalogue import shipped_catalogue
from inkthread.core.build import find_reused, steps_of, taken_out
from inkthread.core.findings import FindingBook
from tests.core.dress.test_dress import rule as rule_of
from tests.core.scenarios import pump

BRIEFS = {value: rule_of(pump(), "reused_contacts", value).workings().brief for value in (1, 2)}
STEPS = steps_of(pump().workings().rooms)
IN = next(s for s, o in STEPS.items() if o.work == "insert" and o.end == "M1.+")
CRIMP = next(s for s, o in STEPS.items() if o.work == "crimp" and o.end == "M1.+")
OTHER = next(s for s, o in STEPS.items() if o.work == "insert" and o.end == "M1.-")


def told(*happened: tuple[str, str], done: tuple[str, ...] = (IN,), rule: int = 1) -> list[str]:
    book = FindingBook(shipped_catalogue().checks)
    find_reused(STEPS, happened, done, BRIEFS[rule], book)
    return [f.what for f in book.in_order()]


OUT, SEEN = ("taken out", IN), ("looked at", IN)


@pytest.mark.parametrize(
    ("happened", "rule", "why"),
    [
        ((), 1, None),
        ((OUT,), 1, "nobody noted that it was looked at"),
        ((OUT, SEEN), 1, None),
        ((SEEN, OUT), 1, "nobody noted"),
        ((OUT, SEEN, OUT, SEEN), 1, "once at most"),
        ((OUT, SEEN), 2, "none goes in twice"),
        ((OUT, ("spoiled", CRIMP)), 1, None),
        ((OUT, ("spoiled", CRIMP)), 2, None),
        ((OUT, ("spoiled", CRIMP), OUT), 1, "nobody noted"),
        ((OUT, ("looked at", OTHER)), 1, "nobody noted"),
        ((("note", IN),), 2, None),
    ],
)
def test_a_contact_goes_in_again_once_and_looked_at(happened, rule, why):
    findings = told(*happened, rule=rule)
    assert bool(findings) == (why is not None)
    if why is not None:
        assert why in findings[0]
        assert "M1-1" in findings[0]


def test_while_it_is_out_nothing_is_wrong():
    assert told(OUT, done=()) == []
    assert told(OUT, done=(OTHER,)) == []


def test_what_is_done_again_is_in_and_tugged():
    assert {STEPS[s].work for s in taken_out(STEPS, CRIMP)} == {"insert", "home"}
    assert {STEPS[s].end for s in taken_out(STEPS, CRIMP)} == {"M1.+"}


def test_a_step_that_is_no_more_is_passed_over():
    assert told(("taken out", "insert C99 at M9.+")) == []
