"""Whatever is typed is refused in words, or makes a sound harness and can be taken back."""

from __future__ import annotations

import copy
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from inkthread.catalogue import shipped_catalogue
from inkthread.core.acts import act_operations
from inkthread.core.document import parse_document
from inkthread.core.document.against_catalogue import require_known_parts
from inkthread.core.document.draft import LineError
from inkthread.core.document.problems import DocumentError
from inkthread.core.document.starter import new_document
from inkthread.core.evaluate import evaluate
from inkthread.core.quantity import QuantityError
from inkthread.demo import demo_document
from inkthread.storage.patches import apply_with_inverse

CATALOGUE = shipped_catalogue()
DEVICES = (
    "B1 battery", "B1", "B1.-", "F1 fuse", "F1.out", "F1", "M1 pump 5 A", "M1 pump", "E1 lamp 21 W",
    "K1 relay", "A1 controller 0.2 A", "A1.I1", "T1 sensor", "T1.1", "S1 switch", "G1 ground stud", "N9 node",
    "X 5 A", "M2 winch 1.5 A", "T2 proximity 20 mA", "P1 plug", "L1 speaker", "Z1", "A1.O1",
    "F2 fuse block", "F2", "F2.out3", "F3 20 A fuse", "M3 pump 5 A, peak 9 A for 2 s", "E9 5 A lamp 2 A",
    "B3 battery 7 Ah", "E8 lamp 2x21 W inrush 30 A for 10 ms", "H1 heater 10 A for 90 s then 2 A",
    "V1 5 V regulator 1 A", "E7 lamp 0 W 120 %",
)  # fmt: skip
RUNS = (
    "B1",
    "F1",
    "M1",
    "mid",
    "tail",
    "180",
    "4 ft 2",
    "650",
    "12 in",
    "P13 rain lamp",
    "0",
    "1.2 m",
    "left",
)
ODD = (
    "",
    ">",
    "> >",
    "B1 >",
    "B1.",
    ".",
    "5 A",
    "B1 > B1",
    "::",
    "B1 battery 5 parsec",
    "<script>",
    "B1\tF1",
    "Ω",
    "B1 > F1 > ",
)


def applied(plain: dict[str, Any], act: str, text: str) -> tuple[dict[str, Any], list[dict[str, Any]]] | None:
    """The harness after the line, and what takes it back; None where the line is refused in words.

    A figure beyond what its field may hold is refused with the document, its bound named.
    """
    try:
        operations = act_operations(plain, CATALOGUE, act, text)
    except (LineError, QuantityError) as refused:
        if not str(refused):
            raise
        return None
    changed, inverse = apply_with_inverse(plain, operations)
    try:
        parse_document(changed)
    except DocumentError as refused:
        if not all("may be at most" in p.message and p.remedy for p in refused.problems):
            raise
        return None
    return changed, inverse


def sound(plain: dict[str, Any]) -> None:
    document = parse_document(plain)
    require_known_parts(document, CATALOGUE)


lines = st.lists(st.sampled_from(DEVICES), min_size=1, max_size=5).map(" > ".join)
runs = st.lists(st.sampled_from(RUNS), min_size=1, max_size=6).map(
    lambda x: " ".join(x).replace(" mid", " > mid")
)


@settings(max_examples=60, deadline=None)
@given(st.lists(st.tuples(st.just("feed"), lines) | st.tuples(st.just("run"), runs), min_size=1, max_size=6))
def test_lines_one_after_another_leave_a_sound_harness_that_goes_back_step_by_step(typed):
    plain = new_document("typed", "vehicle")
    states = [copy.deepcopy(plain)]
    backs = []
    for act, text in typed:
        done = applied(plain, act, text)
        if done is None:
            continue
        plain, inverse = done
        sound(plain)
        states.append(copy.deepcopy(plain))
        backs.append(inverse)
    evaluate(parse_document(plain), CATALOGUE)
    for inverse, before in zip(reversed(backs), reversed(states[:-1]), strict=True):
        plain, _ = apply_with_inverse(plain, inverse)
        assert plain == before


@pytest.mark.parametrize("text", ["E7 lamp 1 A 120 %", "M9 pump 3000 A", "M9 pump 5 A peak 9 A for 20 h"])
def test_a_figure_beyond_its_field_is_refused_and_its_bound_named(text):
    plain = new_document("beyond", "vehicle")
    assert applied(plain, "feed", text) is None
    with pytest.raises(DocumentError, match="may be at most"):
        parse_document(apply_with_inverse(plain, act_operations(plain, CATALOGUE, "feed", text))[0])


@pytest.mark.parametrize("act", ["feed", "run"])
@pytest.mark.parametrize("text", ODD)
def test_odd_lines_are_refused_in_words_or_do_no_harm(act, text):
    plain = new_document("odd", "vehicle")
    before = copy.deepcopy(plain)
    done = applied(plain, act, text)
    assert plain == before, "what is refused, or only worked out, changes nothing"
    if done is not None:
        sound(done[0])


@settings(max_examples=80, deadline=None)
@given(st.sampled_from(["feed", "run"]), st.text(max_size=40))
def test_any_text_at_all_is_refused_in_words_or_leaves_a_sound_harness(act, text):
    done = applied(new_document("any", "vehicle"), act, text)
    if done is not None:
        sound(done[0])


@pytest.mark.parametrize("name", ["larkspur", "dawdler", "glider", "mushroom"])
def test_a_line_typed_into_a_grown_harness_disturbs_nothing_that_was_there(name):
    plain = demo_document(name)
    done = applied(plain, "feed", "B1.+ > F99 fuse > E99 lamp 1 A > B1.-")
    assert done is not None
    changed, inverse = done
    sound(changed)
    for section in ("devices", "loads", "groups", "buses"):
        for key, was in plain["circuits"][section].items():
            assert changed["circuits"][section][key] == was
    for key, was in plain["ends"]["pinout"].items():
        assert changed["ends"]["pinout"][key] == was
    assert changed["route"] == plain["route"]
    assert {"F99", "E99"} <= changed["circuits"]["devices"].keys()
    back, _ = apply_with_inverse(changed, inverse)
    assert back == plain


@pytest.mark.parametrize("name", ["larkspur", "dawdler", "glider", "mushroom"])
def test_taking_a_device_out_leaves_nothing_of_it_behind(name):
    plain = demo_document(name)
    for device in list(plain["circuits"]["devices"])[:12]:
        try:
            operations = act_operations(plain, CATALOGUE, "take_out_device", "", device)
        except (LineError, QuantityError):
            continue  # another device hangs on it
        changed, inverse = apply_with_inverse(plain, operations)
        sound(changed)
        assert device not in changed["circuits"]["devices"]
        assert not [r for r in changed["ends"]["pinout"] if r.partition(".")[0] == device]
        for circuit in changed["circuits"]["circuits"].values():
            assert not [r for r in circuit["ends"] if r.partition(".")[0] == device]
        back, _ = apply_with_inverse(changed, inverse)
        assert back == plain
