"""The trainer: hidden faults that can be found, the fewest probes against trying every set; and the drill."""

from __future__ import annotations

import math
import random
from itertools import combinations

import pytest
from tools.spoiled import Plugged

from inkthread.core.prove import drill_of, exercise_of, plan_tests, probe
from inkthread.core.prove.faults import Built
from inkthread.core.prove.trainer import _hide
from inkthread.core.prove.words import differ
from inkthread.demo import DEMOS, demo_document
from tests.conftest import HarnessBuilder
from tests.core.prove.test_diagnose import motors

W = motors().workings()


def chance(seed: int):
    return random.Random(seed).randrange


PLAN = plan_tests(W.rooms)
LARKSPUR = HarnessBuilder(plain=demo_document("larkspur")).workings()


@pytest.mark.parametrize("seed", range(12))
def test_the_fewest_probes_are_what_trying_every_set_finds(seed):
    exercise = exercise_of(PLAN.network, W.catalogue.proofs, PLAN.meter, chance(seed))
    hidden = _hide(PLAN.network, PLAN.meter, chance(seed))
    built = [Built(PLAN.network, [fault]) for fault in hidden.suspects]
    true = built[exercise.hidden]
    others = [b for n, b in enumerate(built) if n != exercise.hidden]
    pairs = list(combinations(exercise.places, 2))

    def suffices(some) -> bool:
        return all(any(differ(true.way(*p), b.way(*p), PLAN.meter) for p in some) for b in others)

    assert any(suffices(some) for some in combinations(pairs, exercise.least))
    assert not any(suffices(some) for k in range(1, exercise.least) for some in combinations(pairs, k))


@pytest.mark.parametrize("seed", range(6))
def test_the_meter_shows_what_the_stand_in_reads(seed):
    """The stand-in's nodal analysis of the same fault, where it is one that the stand-in can be given."""
    hidden = _hide(PLAN.network, PLAN.meter, chance(seed))
    fault = hidden.suspects[hidden.hidden]
    told = {
        "open": f"open:{fault.wire}",
        "high joint": f"high:{fault.wire}/{fault.ohm:g}",
        "short": f"short:{fault.a}/{fault.b}",
        "swapped": f"swap:{fault.moves[0][0]}/{fault.moves[0][1]}" if fault.moves else "",
    }[fault.kind]
    tester = Plugged(PLAN.harness, [told])
    for a, b in combinations(hidden.places, 2):
        shown, read = probe(PLAN.network, PLAN.meter, chance(seed), a, b), tester.read((a,), (b,))
        if math.isinf(shown):
            assert PLAN.meter.is_open(read)
        else:
            assert read == pytest.approx(shown, rel=0.2, abs=0.02)


def test_what_is_no_place_of_it_shows_nothing_and_a_place_with_itself_nought():
    places = exercise_of(PLAN.network, W.catalogue.proofs, PLAN.meter, chance(3)).places
    assert probe(PLAN.network, PLAN.meter, chance(3), places[0], "X9-1") is None
    assert probe(PLAN.network, PLAN.meter, chance(3), places[0], places[0]) == 0.0


def test_the_same_seed_hides_the_same_and_seeds_hide_different_ones():
    exercises = [
        exercise_of(PLAN.network, W.catalogue.proofs, PLAN.meter, chance(seed)) for seed in range(20)
    ]
    assert exercises[4] == exercise_of(PLAN.network, W.catalogue.proofs, PLAN.meter, chance(4))
    assert len({e.suspects[e.hidden] for e in exercises}) > 4
    assert all(len(set(e.suspects)) == len(e.suspects) for e in exercises)


def test_an_empty_harness_has_no_exercise_and_no_drill():
    w = HarnessBuilder("vehicle").workings()
    plan = plan_tests(w.rooms)
    assert exercise_of(plan.network, w.catalogue.proofs, plan.meter, chance(1)) is None
    assert drill_of(w.rooms, chance(1)) == ()


@pytest.mark.parametrize("name", DEMOS)
def test_ten_questions_of_four_choices_with_the_right_one_among_them(name):
    w = HarnessBuilder(plain=demo_document(name)).workings()
    questions = drill_of(w.rooms, chance(7))
    assert len(questions) in (0, 10)
    for q in questions:
        assert q.cavity in q.choices
        assert len(set(q.choices)) == len(q.choices) <= 4
        assert set(q.choices) <= set(w.ends.faces[q.face].wire_side.cavities)


def test_a_drill_asks_from_both_sides_and_differs_by_its_seed():
    one, other = drill_of(LARKSPUR.rooms, chance(1)), drill_of(LARKSPUR.rooms, chance(2))
    assert one != other
    assert {q.side for q in one} == {"wire", "mating"}
