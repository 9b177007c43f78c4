"""What is kept from one evaluation to the next never changes a figure: any edit, warm as cold."""

from __future__ import annotations

import copy
import gc
import weakref
from dataclasses import replace
from functools import partial
from typing import Any

import numpy as np
import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from tools.harnesses import synthetic

from inkthread.catalogue import shipped_catalogue
from inkthread.core.document import DocumentError, parse_document
from inkthread.core.document.incremental import read_again
from inkthread.core.document.only import only
from inkthread.core.evaluate import evaluate, work_out
from inkthread.core.findings import FindingBook, Place
from inkthread.core.headroom import headroom
from inkthread.core.memo import Memo
from inkthread.core.shop import OwnedTool, Shop
from inkthread.demo import demo_document
from inkthread.storage.patches import PatchError
from tests.core.edits import edited, entries, leaves, put, wrong_with

pytestmark = pytest.mark.slow

DEMOS = ("larkspur", "dawdler", "glider", "mushroom")


class Count:
    """Makes something new each time, and counts."""

    def __init__(self) -> None:
        self.made = 0

    def __call__(self, *_: object) -> int:
        self.made += 1
        return self.made


# Kept itself


def test_the_same_parts_are_worked_out_once():
    memo, make = Memo(), Count()
    part: dict[str, int] = {}
    assert [memo.get(make, part, 3, "a", None) for _ in range(3)] == [1, 1, 1]


def test_an_equal_part_that_is_another_object_is_another_part():
    memo, make = Memo(), Count()
    assert memo.get(make, {"a": 1}) == 1
    assert memo.get(make, {"a": 1}) == 2


@pytest.mark.parametrize(
    ("one", "other"), [(1.0, 2.0), ("a", "b"), ((1, "x"), (1, "y")), (None, 0), (("a",), ("a", "b"))]
)
def test_another_value_is_another_argument(one, other):
    memo, make = Memo(), Count()
    assert memo.get(make, one) == 1
    assert memo.get(make, other) == 2
    assert memo.get(make, one) == 1


def test_more_arguments_are_other_arguments():
    memo, make = Memo(), Count()
    assert memo.get(make, "a") == 1
    assert memo.get(make, "a", "b") == 2


def test_another_step_and_another_thing_it_is_taken_of_are_kept_apart():
    memo, make, other = Memo(most=1), Count(), Count()
    other.made = 10
    assert (memo.get(make, "a"), memo.get(other, "a"), memo.get(make, "a")) == (1, 11, 1)
    assert (memo.get(make, "a", of="J1"), memo.get(make, "b", of="J2"), memo.get(make, "a", of="J1")) == (
        2,
        3,
        2,
    )


def test_the_oldest_goes_first_and_what_is_asked_for_stays():
    memo, make = Memo(most=2), Count()
    memo.get(make, "a")
    memo.get(make, "b")
    memo.get(make, "a")
    memo.get(make, "c")
    assert make.made == 3
    assert memo.get(make, "a") == 1, "asked for lately"
    assert memo.get(make, "b") == 4, "gone, so made anew"


def test_a_memo_is_bounded_and_what_was_asked_for_longest_ago_goes():
    memo, make = Memo(slots=2), Count()
    for of in ("J1", "J2", "J1", "J3"):
        memo.get(make, "a", of=of)
    assert memo.get(make, "a", of="J1") == 1
    assert memo.get(make, "a", of="J2") == 4


def test_what_comes_out_the_same_is_the_same_object():
    memo = Memo()
    first = memo.alike("ends", {"a": (1, 2), "b": (3,)})
    assert memo.alike("ends", {"a": (1, 2), "b": (3,)}) is first
    assert memo.alike("others", {"a": (1, 2), "b": (3,)}) is not first
    turned = memo.alike("ends", {"b": (3,), "a": (1, 2)})
    assert turned is not first, "equal, and in another order"
    assert list(turned) == ["b", "a"]
    assert memo.alike("ends", {"a": (1, 2)}) == {"a": (1, 2)}


def test_only_rows_of_which_a_column_says_another_thing_are_made():
    memo, asked = Memo(), []

    def made(names: str, amperes: list[float], limits: list[float], of: str = "wires"):
        def make(rows):
            asked.append(rows)
            return (Place("wire", names[i], str(amperes[i])) for i in rows)

        columns = (list(names), np.array(amperes), np.array([[0.0, limit] for limit in limits]))
        return memo.row_by_row(of, tuple(names), columns, make)

    first = made("abc", [1.0, 2.0, 3.0], [0, 0, 0])
    assert list(first) == ["a", "b", "c"]
    assert made("abc", [1.0, 2.0, 3.0], [0, 0, 0]) == first
    second = made("abc", [1.0, 2.5, 3.0], [0, 0, 1])
    assert asked == [[0, 1, 2], [1, 2]]
    assert second["a"] is first["a"]
    assert second["b"] == Place("wire", "b", "2.5")
    assert second["c"] is first["c"], "made again and equal to the last, it is the same object"
    assert first["b"] == Place("wire", "b", "2.0"), "what was given before stays as it was"
    third = made("ca", [3.0, 1.0], [1, 0])
    assert asked[-1] == [0, 1]
    assert list(third) == ["c", "a"]
    assert third["a"] is first["a"]
    made("ca", [3.0, 1.0], [1, 0], of="others")
    assert asked[-1] == [0, 1]


def test_all_rows_are_made_on_another_basis():
    memo, asked, one = Memo(), [], object()

    def make(rows):
        asked.append(rows)
        return (Place("wire", "a", "") for _ in rows)

    for basis in ((one,), (one,), (object(),), (one,)):
        memo.row_by_row("wires", ("a",), (np.array([1.0]),), make, basis)
    assert asked == [[0], [0], [0]]


def test_values_that_tell_all_are_put_in_without_being_compared():
    memo, compared = Memo(), []

    class Told:
        def __init__(self, ampere: float) -> None:
            self.ampere = ampere

        def __eq__(self, other: object) -> bool:
            compared.append(self.ampere)
            return isinstance(other, Told) and other.ampere == self.ampere

    def made(amperes: list[float]):
        make = partial(map, lambda i: Told(amperes[i]))
        return memo.row_by_row("wires", ("a", "b"), (np.array(amperes),), make, telling=True)

    first = made([1.0, 2.0])
    second = made([1.0, 3.0])
    assert second["a"] is first["a"]
    assert (second["b"].ampere, first["b"].ampere) == (3.0, 2.0)
    assert not compared


def test_a_row_that_is_no_number_is_made_every_time():
    memo, asked = Memo(), []

    def make(rows):
        asked.append(rows)
        return (Place("wire", "a", "") for _ in rows)

    for _ in range(2):
        memo.row_by_row("wires", ("a",), (np.array([np.nan]),), make)
    assert asked == [[0], [0]]


def test_what_was_put_down_last_is_there_to_begin_from():
    memo = Memo()
    assert memo.last("turns") is None
    memo.put_down("turns", (1, 2))
    memo.put_down("turns", (3,))
    assert memo.last("turns") == (3,)
    assert memo.last("others") is None


def test_a_context_is_the_same_where_each_of_its_parts_is(larkspur):
    memo, make, context = Memo(), Count(), larkspur.workings().context
    assert memo.get(make, context.only("route")) == 1
    assert memo.get(make, context.only("route")) == 1
    other = replace(context.document, circuits=replace(context.document.circuits, loads={}))
    assert memo.get(make, replace(context, document=other).only("route")) == 1
    assert memo.get(make, replace(context, brief=replace(context.brief)).only("route")) == 2


@pytest.mark.parametrize("name", DEMOS)
def test_what_nobody_wants_any_more_goes_at_once(name):
    """Nothing that is kept holds what keeps it: no collector is waited for."""
    plain = demo_document(name)
    before = parse_document(plain)
    gc.collect()
    gc.disable()
    try:
        memo = Memo()
        workings = work_out(before, shipped_catalogue(), Shop(), memo)
        edit = copy.deepcopy(plain)
        for load in edit["circuits"]["loads"].values():
            load["current_a"] *= 0.7
        after = work_out(read_again(edit, plain, before), shipped_catalogue(), Shop(), memo)
        assert headroom(after)
        assert after.evaluation != workings.evaluation
        kept = weakref.ref(memo)
        del memo, workings, after
        assert kept() is None
        assert gc.collect() == 0
    finally:
        gc.enable()


def test_what_fails_is_not_kept():
    memo, fails = Memo(), [True]

    def step(of: str) -> str:
        if fails:
            raise ValueError(f"{of} not made")
        return "made"

    with pytest.raises(ValueError, match="a not made"):
        memo.get(step, "a")
    fails.clear()
    assert memo.get(step, "a") == "made"


def test_a_document_is_the_same_where_each_of_its_parts_is():
    memo, make = Memo(), Count()
    document = parse_document(demo_document("dawdler-sketch"))
    drawn = ("circuits.devices", "circuits.circuits")
    assert memo.get(make, only(document, *drawn)) == 1
    other = replace(document, circuits=replace(document.circuits, loads={}))
    assert memo.get(make, only(other, *drawn)) == 1, "loads are not among what the step reads"
    assert memo.get(make, other) == 2
    moved = replace(document, circuits=replace(document.circuits, devices=dict(document.circuits.devices)))
    assert memo.get(make, only(moved, *drawn)) == 3


def test_a_document_with_some_of_its_parts_has_nothing_of_the_others():
    document = parse_document(demo_document("dawdler-sketch"))
    drawn = only(document, "circuits.devices", "route")
    assert drawn.circuits.devices is document.circuits.devices
    assert drawn.route is document.route
    assert drawn.brief is document.brief
    others = (drawn.circuits.loads, drawn.circuits.circuits, drawn.ends.pinout, drawn.wire.fixed)
    assert not any(others)
    with pytest.raises(AttributeError):
        only(document, "circuits.wires")


def test_findings_are_kept_with_their_words(catalogue):
    memo, asked = Memo(), Count()

    def find(branch: str, book: FindingBook) -> None:
        asked()
        book.add("branch-no-length", Place("route", "branch", "R1"), branch=branch)

    books = [FindingBook(catalogue.checks) for _ in range(2)]
    for book in books:
        book.once(memo, find, "a to b")
    assert asked.made == 1
    assert books[0].entries == books[1].entries
    assert "a to b" in books[1].entries[0].what
    books[1].once(memo, find, "b to c")
    assert asked.made == 2
    assert len(books[1].entries) == 2
    assert len(books[0].entries) == 1, "a book's findings are its own"


# Warm as cold


@st.composite
def edits(draw: st.DrawFn, plain: dict[str, Any]) -> list[dict[str, Any]]:
    """An edit anywhere: a figure more or less, a flag turned, two cavities swapped, an entry taken out."""
    what = draw(st.sampled_from(["figure", "figure", "flag", "swap", "take out", "name"]))
    if what == "take out":
        return [{"op": "remove", "path": draw(st.sampled_from(entries(plain)))}]
    if what == "swap":
        pinout = plain["ends"]["pinout"]
        a, b = draw(st.lists(st.sampled_from(sorted(pinout)), min_size=2, max_size=2, unique=True))
        return [put(f"/ends/pinout/{a}/{field}", pinout[b][field]) for field in ("connector", "cavity")] + [
            put(f"/ends/pinout/{b}/{field}", pinout[a][field]) for field in ("connector", "cavity")
        ]
    kinds = {"figure": float, "flag": bool, "name": str}
    found = [(p, v) for p, v in leaves(plain) if type(v) is kinds[what]]
    path, value = draw(st.sampled_from(found))
    if what == "figure":
        return [put(path, round(value * draw(st.sampled_from([0.5, 0.9, 1.1, 2.0])), 4))]
    return [put(path, not value if what == "flag" else f"{value}x")]


def hot_harness() -> dict[str, Any]:
    """Wires of large currents through few branches, from two sources."""
    plain = synthetic(90, seed=4, points=14, sources=2)
    for load in plain["circuits"]["loads"].values():
        load["current_a"] = round(load["current_a"] * 9, 2)
    return plain


STARTS = {**{name: partial(demo_document, name) for name in DEMOS}, "hot": hot_harness}


@pytest.mark.parametrize("name", STARTS)
def test_an_edited_harness_comes_out_as_if_nothing_had_been_kept(name):
    catalogue = shipped_catalogue()
    start = STARTS[name]()

    @settings(
        max_examples=6,
        deadline=None,
        suppress_health_check=list(HealthCheck),
        derandomize=True,
        database=None,
    )
    @given(st.data())
    def change_and_compare(data: st.DataObject) -> None:
        plain, read, memo = copy.deepcopy(start), parse_document(start), Memo()
        evaluate(read, catalogue, memo=memo)
        for _ in range(4):
            operations = data.draw(edits(plain))
            try:
                changed = edited(plain, *operations)
            except PatchError:
                continue
            problems = wrong_with(changed)
            if problems:
                with pytest.raises(DocumentError) as again:
                    read_again(changed, plain, read)
                assert again.value.problems == problems
                continue
            cold = parse_document(changed)
            warm = read_again(changed, plain, read)
            assert warm == cold
            assert evaluate(warm, catalogue, memo=memo) == evaluate(cold, catalogue), operations
            plain, read = changed, warm

    change_and_compare()


def test_going_back_gives_what_was_before(larkspur):
    catalogue = shipped_catalogue()
    plain = larkspur.plain
    read, memo = parse_document(plain), Memo()
    before = evaluate(read, catalogue, memo=memo)
    load = max(plain["circuits"]["loads"], key=lambda k: plain["circuits"]["loads"][k]["current_a"])
    more = edited(plain, put(f"/circuits/loads/{load}/current_a", 200.0))
    warm = read_again(more, plain, read)
    assert evaluate(warm, catalogue, memo=memo) != before
    assert evaluate(read, catalogue, memo=memo) == before
    assert evaluate(read_again(plain, more, warm), catalogue, memo=memo) == before


def test_another_catalogue_or_shop_is_seen_at_once(larkspur):
    catalogue = shipped_catalogue()
    document, memo = parse_document(larkspur.plain), Memo()
    before = evaluate(document, catalogue, memo=memo)
    splice = replace(catalogue.splices[0], price=catalogue.splices[0].price + 10.0)
    dearer = replace(catalogue, splices=(splice, *catalogue.splices[1:]), version="other")
    used = any(line.code == splice.code for line in before.parts.lines)
    assert (evaluate(document, dearer, memo=memo).tally.cost > before.tally.cost) == used
    tool = before.parts.tools[0].code
    owned = evaluate(document, catalogue, Shop({tool: OwnedTool(tool, result="failed")}, {}), memo)
    assert next(t for t in owned.parts.tools if t.code == tool).owned
    assert "tool-worn" in {f.code for f in owned.findings}
    assert evaluate(document, catalogue, memo=memo) == before


def test_a_pin_that_becomes_a_return_is_threaded_by_the_rule_for_returns():
    """The role of a circuit hangs on the devices, and the way it is threaded on its role."""
    catalogue = shipped_catalogue()
    plain = copy.deepcopy(demo_document("larkspur"))
    plain["brief"]["house_rules"]["returns"] = {"order": 99, "value": 3.0, "reason": "each back by itself"}
    grounds = [
        (d, p, pin) for d, x in plain["circuits"]["devices"].items() for p, pin in x["pins"].items()
        if pin.get("role") == "ground"
    ]  # fmt: skip
    assert grounds
    memo, read = Memo(), parse_document(plain)
    evaluate(read, catalogue, memo=memo)
    for device, pin, _ in grounds[:6]:
        changed = edited(plain, put(f"/circuits/devices/{device}/pins/{pin}/role", "signal"))
        warm = read_again(changed, plain, read)
        assert evaluate(warm, catalogue, memo=memo) == evaluate(parse_document(changed), catalogue)
        plain, read = changed, warm


def test_what_one_evaluation_gives_away_is_not_what_the_next_is_made_from(larkspur):
    """Two harnesses that share their parts carry each its own currents."""
    catalogue = shipped_catalogue()
    plain = larkspur.plain
    read = parse_document(plain)
    load = max(plain["circuits"]["loads"], key=lambda k: plain["circuits"]["loads"][k]["current_a"])
    memo = Memo()
    first = evaluate(read, catalogue, memo=memo)
    carried = {k: w.carries_a for k, w in first.wire.wires.items()}
    less = edited(plain, put(f"/circuits/loads/{load}/current_a", 1.0))
    evaluate(read_again(less, plain, read), catalogue, memo=memo)
    assert {k: w.carries_a for k, w in first.wire.wires.items()} == carried


@pytest.mark.parametrize(("template", "square"), [("{id}", False), ("{harness} {id}", False), ("{id}", True)])
def test_a_harness_called_otherwise_is_the_same_but_for_labels_that_say_it(template, square):
    """Nothing is worked out that hangs on no name; where labels say it they are as if read anew."""
    catalogue, memo = shipped_catalogue(), Memo()
    plain = demo_document("larkspur")
    plain["dress"] |= {"template": template, "square": square}
    plain["brief"]["house_rules"] = {"labels": {"order": 1, "value": 2}}
    before = work_out(parse_document(plain), catalogue, memo=memo)
    renamed = {**plain, "brief": {**plain["brief"], "name": "Otherwise", "machine": "Another"}}
    document = read_again(renamed, plain, before.stated)
    after = work_out(document, catalogue, memo=memo)
    assert after.route.threaded is before.route.threaded
    assert after.wire.made is before.wire.made
    says = square or "{harness}" in template
    assert (after.dress is before.dress) != says
    assert (after.cut is before.cut) or says
    assert any("Otherwise" in label.text for label in after.dress.labels.labels) == ("{harness}" in template)
    assert after.document == document
    assert after.evaluation == evaluate(document, catalogue)
    assert after.dress == work_out(document, catalogue).dress
