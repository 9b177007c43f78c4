"""Crimps that one relies on, by hands that have shown enough and hands that have not."""

from __future__ import annotations

import pytest

from inkthread.core.build import find_unpractised, steps_of
from inkthread.core.findings import FindingBook
from tests.core.scenarios import pump, ruled

W = {asked: ruled(pump(), hands_percent=asked).workings() for asked in (0, 90)}
STEPS = steps_of(W[90].rooms)
CRIMP = next(own for own in STEPS.values() if own.work == "crimp")
KEY = CRIMP.wires[0]
SIZED = W[90].wire.wires[KEY]
SETUP = (
    W[90].ends.contacts[CRIMP.end, KEY].code,
    f"{SIZED.family} {SIZED.gauge}",
    CRIMP.tool,
)


def found(shown: dict[str, float], *, asked: int = 90, relied_on=(CRIMP.end,), who: str = "Ada") -> list[str]:
    w = W[asked]
    book = FindingBook(w.catalogue.checks)
    shares = {(name, *SETUP): share for name, share in shown.items()}
    find_unpractised(w.rooms, STEPS, [(CRIMP.id, who)], relied_on, shares, book)
    return [f"{f.code} {f.what}" for f in book.in_order()]


@pytest.mark.parametrize(("share", "counts"), [(0.8999, 1), (0.90, 0), (0.95, 0)])
def test_the_share_that_the_rule_asks_for_is_enough(share, counts):
    assert len(found({"Ada": share})) == counts


def test_who_has_shown_nothing_is_named_and_another_s_samples_do_not_count():
    (said,) = found({"Ben": 0.99})
    assert said.startswith("hand-not-shown Ada crimped")
    assert SETUP[0] in said
    assert "90%" in said
    (nameless,) = found({}, who="")
    assert "Somebody without a name" in nameless


def test_it_is_asked_only_by_the_rule_and_only_of_what_one_relies_on():
    assert found({}, asked=0) == []
    assert found({}, relied_on=("B1.-",) if CRIMP.end != "B1.-" else ("B1.+",)) == []


def test_other_steps_are_nobody_s_crimps():
    w = W[90]
    book = FindingBook(w.catalogue.checks)
    others = [(step, "Ada") for step, own in STEPS.items() if own.work != "crimp"]
    find_unpractised(w.rooms, STEPS, others, [own.end for own in STEPS.values()], {}, book)
    assert book.in_order() == ()
