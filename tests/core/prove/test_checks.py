"""What a plan or a record leaves unproved: each check set off, and its twin that is sound."""

from __future__ import annotations

from collections.abc import Callable

import pytest
from tools.spoiled import readings_of

from inkthread.core.findings import FindingBook
from inkthread.core.prove import PieceRecord, find_in_record, find_in_signing, judge, plan_tests
from inkthread.core.prove.readings import Reading
from tests.conftest import HarnessBuilder
from tests.core.scenarios import bus, ignition, pump, ruled, shared_return, zoned


def shaken(**rules: float) -> HarnessBuilder:
    return ruled(zoned(pump(), vibration=True), **rules)


SET_OFF: dict[str, list[Callable[[], HarnessBuilder]]] = {
    "lead-only-buzzed": [lambda: ruled(ignition(), test_leads=2)],
    "tested-still": [
        lambda: shaken(test_motion=3),
        lambda: ruled(zoned(pump(), flex=True), test_motion=3),
    ],
    "lamp-test-only": [lambda: ruled(shared_return(), test_isolation=2)],
    "pair-untested": [lambda: ruled(paired(), test_isolation=2)],
    "crimps-only-looked-at": [lambda: ruled(pump(), crimp_evidence=3, test_pulls=0)],
}
QUIET: dict[str, list[Callable[[], HarnessBuilder]]] = {
    "lead-only-buzzed": [ignition, lambda: ruled(pump(), test_leads=2)],
    "tested-still": [shaken, lambda: ruled(pump(), test_motion=3), lambda: shaken(test_motion=2)],
    "lamp-test-only": [shared_return, HarnessBuilder],
    "pair-untested": [lambda: paired(), lambda: ruled(pump(), test_isolation=2)],
    "crimps-only-looked-at": [
        pump,
        lambda: ruled(pump(), crimp_evidence=3, test_pulls=1),
        lambda: ruled(pump(), crimp_evidence=2, test_pulls=0),
        HarnessBuilder,
    ],
}


def paired() -> HarnessBuilder:
    """A bus in a twisted pair."""
    builder = bus("ISO11898-500K", 1000)
    circuits = list(builder.plain["circuits"]["circuits"])[:2]
    group = {
        "order": 1,
        "kind": "pair",
        "name": "",
        "members": {c: {"order": n} for n, c in enumerate(circuits)},
    }
    return builder.set("circuits/groups/P", group)


@pytest.mark.parametrize(("code", "builder"), [(c, b) for c, many in SET_OFF.items() for b in many])
def test_what_is_left_unproved_is_found(code, builder):
    assert code in builder().codes()


@pytest.mark.parametrize(("code", "builder"), [(c, b) for c, many in QUIET.items() for b in many])
def test_what_is_proved_is_let_be(code, builder):
    assert code not in builder().codes()


WORKED = pump().workings()
PLAN = plan_tests(WORKED.rooms)
SOUND = readings_of(PLAN, [])


def codes(readings: list[Reading], looked_at: tuple[str, ...] = (), happened=()) -> list[str]:
    book = FindingBook(WORKED.catalogue.checks)
    judged = judge(PLAN, readings, WORKED.catalogue.proofs)
    find_in_record(PLAN, PieceRecord(judged, looked_at, tuple(happened)), book)
    return [f.code for f in book.entries]


def test_a_reading_outside_its_band_stands_in_the_record():
    row = next(r for r in PLAN.rows if r.high_ohm is not None)
    for ohm, code in ((row.high_ohm * 1.01, ["reading-out-of-band"]), (row.high_ohm * 0.999, [])):
        assert codes([Reading(row.a, row.b, ohm)]) == code


def test_looks_never_stand_for_a_test():
    assert codes([], ("M1",)) == ["looks-alone"]
    assert codes(SOUND, ("M1",)) == []
    assert codes([]) == []


def test_what_is_otherwise_than_designed_is_written_down():
    assert codes(SOUND, happened=[("trimmed", "cut-wire C1", "")]) == ["as-built-not-told"]
    assert codes(SOUND, happened=[("as built", "insert C1 at M1.+", " ")]) == ["as-built-not-told"]
    assert codes(SOUND, happened=[("trimmed", "cut-wire C1", "now 870 mm"), ("note", "x", "")]) == []


def test_a_piece_is_signed_when_every_row_holds():
    def why(readings):
        return find_in_signing(judge(PLAN, readings, WORKED.catalogue.proofs))

    assert why(SOUND) == ""
    assert why(SOUND[1:]).startswith("1 of ")
    spoiled = readings_of(PLAN, [f"open:{next(iter(PLAN.harness.wires))}"])
    assert why(spoiled).endswith("fail.") or why(spoiled).endswith("fails.")
