"""A document that an edit made of one read before is the same as if it were read anew."""

from __future__ import annotations

import pytest

from inkthread.core.document import DocumentError, parse_document
from inkthread.core.document.incremental import read_again
from inkthread.demo import demo_document
from tests.core.edits import edited, entries, put, wrong_with


def test_only_what_an_edit_touched_is_another_object():
    plain = demo_document("larkspur")
    read = parse_document(plain)
    load = next(iter(plain["circuits"]["loads"]))
    again = read_again(edited(plain, put(f"/circuits/loads/{load}/current_a", 3.25)), plain, read)
    assert again.circuits.loads[load].current_a == 3.25
    for section in ("brief", "route", "wire", "ends"):
        assert getattr(again, section) is getattr(read, section)
    for collection in ("devices", "circuits", "sources", "groups", "buses"):
        assert getattr(again.circuits, collection) is getattr(read.circuits, collection)
    for key, was in read.circuits.loads.items():
        assert (again.circuits.loads[key] is was) == (key != load)


def test_order_in_a_collection_is_the_one_that_its_entries_state():
    plain = demo_document("larkspur")
    read = parse_document(plain)
    loads = plain["circuits"]["loads"]
    written = {**plain, "circuits": {**plain["circuits"], "loads": dict(reversed(loads.items()))}}
    assert list(read_again(written, plain, read).circuits.loads) == list(read.circuits.loads)
    first, *rest = loads
    last = max(load["order"] for load in loads.values()) + 1
    moved = {**written["circuits"]["loads"], first: {**loads[first], "order": last}}
    turned = {**plain, "circuits": {**plain["circuits"], "loads": moved}}
    again = read_again(turned, plain, read)
    assert list(again.circuits.loads) == [*rest, first]
    assert list(again.circuits.loads) == list(parse_document(turned).circuits.loads)


@pytest.mark.parametrize("value", [True, "4", None, float("nan"), -1.0, [], {}])
def test_what_is_no_figure_is_refused_in_the_same_words(value):
    plain = demo_document("larkspur")
    read = parse_document(plain)
    load = next(iter(plain["circuits"]["loads"]))
    wrong = edited(plain, put(f"/circuits/loads/{load}/current_a", value))
    with pytest.raises(DocumentError) as whole:
        parse_document(wrong)
    with pytest.raises(DocumentError) as again:
        read_again(wrong, plain, read)
    assert again.value.problems == whole.value.problems
    assert again.value.problems[0].path == f"/circuits/loads/{load}/current_a"


def test_one_is_not_true():
    """In Python True equals 1; a document that says true is refused all the same."""
    plain = demo_document("larkspur")
    read = parse_document(plain)
    one = edited(plain, put("/brief/quantity", 1))
    again = read_again(one, plain, read)
    true = {**one, "brief": {**one["brief"], "quantity": True}}
    with pytest.raises(DocumentError):
        read_again(true, one, again)


@pytest.mark.parametrize(
    ("change", "path"),
    [
        ({"format": "something-else"}, "/format"),
        ({"format_number": 3}, "/format_number"),
        ({"route": None}, "/route"),
        ({"ends": [1]}, "/ends"),
        ({"notes": "x"}, "/notes"),
    ],
)
def test_a_broken_section_is_named(change, path):
    plain = demo_document("larkspur")
    with pytest.raises(DocumentError) as found:
        read_again({**plain, **change}, plain, parse_document(plain))
    assert any(p.path == path for p in found.value.problems)


def test_references_are_looked_at_across_old_and_new():
    plain = demo_document("larkspur")
    read = parse_document(plain)
    point = next(c["point"] for c in plain["ends"]["connectors"].values() if c.get("point"))
    without = edited(plain, {"op": "remove", "path": f"/route/points/{point}"})
    with pytest.raises(DocumentError) as found:
        read_again(without, plain, read)
    assert any("/ends/connectors/" in p.path for p in found.value.problems), "its connector stays behind"


def test_an_entry_that_is_taken_out_of_any_collection_is_missed_alike():
    missed = 0
    for name in ("larkspur", "dawdler", "glider", "mushroom"):
        plain = demo_document(name)
        read = parse_document(plain)
        ends: dict[str, list[str]] = {}
        for path in entries(plain):
            ends.setdefault(path.rpartition("/")[0], []).append(path)
        for of_one in ends.values():
            for path in {of_one[0], of_one[-1]}:
                without = edited(plain, {"op": "remove", "path": path})
                problems = wrong_with(without)
                if problems:
                    missed += 1
                    with pytest.raises(DocumentError) as again:
                        read_again(without, plain, read)
                    assert again.value.problems == problems, (name, path)
                else:
                    assert read_again(without, plain, read) == parse_document(without), (name, path)
    assert missed > 20
