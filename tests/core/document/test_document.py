"""The design document: what is refused, with the field and the remedy."""

from __future__ import annotations

import copy
import inspect
import json
import random
import re
from pathlib import Path
from typing import Any

import pytest

from inkthread.catalogue import shipped_catalogue
from inkthread.core.document import (
    DocumentError,
    against_catalogue,
    dump_document,
    parse_document,
    parse_document_text,
)
from inkthread.core.document.against_catalogue import require_known_parts
from inkthread.core.evaluate import evaluate
from inkthread.demo import DEMOS, demo_document

ROOT = Path(__file__).parent.parent.parent.parent


def put(document: dict[str, Any], path: str, value: object) -> dict[str, Any]:
    changed = copy.deepcopy(document)
    node = changed
    parts = path.strip("/").split("/")
    for part in parts[:-1]:
        node = node[part]
    node[parts[-1]] = value
    return changed


LOOP = {"order": 99, "from_point": "T1", "to_point": "M1", "length_mm": 100}

REFUSED: list[tuple[str, object, str]] = [
    ("/format_number", 3, "/format_number"),
    ("/format", "something-else", "/format"),
    ("/brief/colour", "red", "/brief/colour"),
    ("/circuits/devices/M1/pins/+/colour", "red", "/circuits/devices/M1/pins/+/colour"),
    ("/route/branches/R1/length_mm", -4, "/route/branches/R1/length_mm"),
    ("/route/branches/R1/length_mm", 1e12, "/route/branches/R1/length_mm"),
    ("/route/branches/R1/length_mm", float("nan"), "/route/branches/R1/length_mm"),
    ("/route/branches/R1/length_mm", "180", "/route/branches/R1/length_mm"),
    ("/brief/name", "x" * 2_000_000, "/brief/name"),
    ("/route/branches/R99", LOOP, "/route/branches/R99"),
    ("/route/branches/R1/zone", "moon", "/route/branches/R1/zone"),
    (
        "/circuits/circuits/C1/ends",
        {"B1.+": {"order": 1}, "X9.1": {"order": 2}},
        "/circuits/circuits/C1/ends/X9.1",
    ),
    ("/circuits/circuits/C1/ends", {"B1.q": {"order": 1}}, "/circuits/circuits/C1/ends/B1.q"),
    ("/circuits/circuits/C1/ends", {"B1 +": {"order": 1}}, "/circuits/circuits/C1/ends/B1 +"),
    ("/circuits/circuits/C1/ends", {"M1.+": {"order": 1}}, "/circuits/circuits/C11/ends/M1.+"),
    ("/ends/connectors/M1/family", "NOPE", "/ends/connectors/M1/family"),
    ("/ends/connectors/M1/ways", 7, "/ends/connectors/M1/ways"),
    ("/ends/connectors/B1/stud", "M7", "/ends/connectors/B1/stud"),
    ("/ends/pinout/M1.+/cavity", "3", "/ends/pinout/M1.+/cavity"),
    ("/wire/family", "NOPE", "/wire/family"),
    ("/wire/fixed", {"C1": {"order": 1, "reason": "", "colour": "XX"}}, "/wire/fixed/C1/colour"),
    (
        "/brief/house_rules",
        {"bundle_share": {"order": 1, "value": 0}},
        "/brief/house_rules/bundle_share/value",
    ),
    ("/ends/connectors/M1/shell", "none", "/ends/connectors/M1/shell"),
    ("/ends/connectors/B1/shell", "plug", "/ends/connectors/B1/shell"),
    ("/brief/house_rules", {"nope": {"order": 1, "value": 3}}, "/brief/house_rules/nope"),
]


@pytest.mark.parametrize(
    ("path", "value", "named"), REFUSED, ids=[f"{p} {str(v)[:24]}" for p, v, _ in REFUSED]
)
def test_bad_document_is_refused_by_field_and_remedy(path, value, named, catalogue):
    document = put(demo_document("larkspur"), path, value)
    with pytest.raises(DocumentError) as caught:
        require_known_parts(parse_document(document), catalogue)
    problem = caught.value.problems[0]
    assert problem.path == named
    assert problem.message
    assert problem.remedy
    assert len(problem.message) < 400, "a long value is not repeated back"


@pytest.mark.parametrize(
    "text", ["{", "[]", "3", '{"format": "inkthread-design", "x": NaN}', "[" * 100_000, b"\xff\xfe{}"]
)
def test_what_is_not_a_design_file_is_refused(text):
    with pytest.raises(DocumentError):
        parse_document_text(text)


@pytest.mark.parametrize("name", DEMOS)
def test_demo_round_trips(name):
    plain = demo_document(name)
    assert dump_document(parse_document(plain)) == plain


def shuffled(node: Any, by: random.Random) -> Any:
    """The same document with the entries of every collection written in another order."""
    if isinstance(node, dict):
        keys = list(node)
        by.shuffle(keys)
        return {k: shuffled(node[k], by) for k in keys}
    return node


@pytest.mark.parametrize("name", DEMOS)
def test_how_the_entries_stand_in_the_file_changes_nothing(name, catalogue):
    """An entry taken out and put back stands last in the file; every figure and word is as before."""
    plain = demo_document(name)
    first = evaluate(parse_document(plain), catalogue)
    for seed in range(3):
        again = evaluate(parse_document(shuffled(plain, random.Random(seed))), catalogue)
        assert again == first
        for view in ("circuits", "fuses"):
            assert list(getattr(again.circuits, view)) == list(getattr(first.circuits, view))
        assert list(again.wire.loops) == list(first.wire.loops)
        assert list(again.route.branches) == list(first.route.branches)


def test_a_file_of_the_first_format_number_is_read_and_written_anew():
    plain = demo_document("dawdler-sketch")
    plain["wire"]["objective"] = "lightest"
    earlier = copy.deepcopy(plain)
    earlier["format_number"] = 1
    earlier["wire"] = {"choice" if k == "objective" else k: v for k, v in earlier["wire"].items()}
    document = parse_document_text(json.dumps(earlier))
    assert dump_document(document) == plain
    with pytest.raises(DocumentError):
        parse_document(earlier)
    with pytest.raises(DocumentError) as mixed:
        parse_document_text(json.dumps({**plain, "wire": earlier["wire"]}))
    assert mixed.value.problems[0].path == "/wire/choice"


@pytest.mark.parametrize(
    ("gauge", "fine"), [("12 AWG", True), ("12", True), ("0.75 mm2", True), ("banana", False)]
)
def test_what_is_no_gauge_is_refused_where_it_is_fixed(chassis, gauge, fine):
    key = next(iter(chassis.evaluate().wire.wires))
    entry = {"order": 1, "reason": "", "gauge": gauge, "colour": None, "family": None}
    chassis.plain["wire"].setdefault("fixed", {})[key] = entry
    document = parse_document(chassis.plain)
    if fine:
        require_known_parts(document, shipped_catalogue())
        return
    with pytest.raises(DocumentError) as refused:
        require_known_parts(document, shipped_catalogue())
    assert refused.value.problems[0].path.endswith("/gauge")
    assert "18 AWG" in refused.value.problems[0].remedy


def test_all_that_names_parts_is_compared_with_the_document_before():
    """What an edit left alone is not looked at: of all that is read there, nothing may be left out."""
    source = inspect.getsource(against_catalogue)
    read = set(re.findall(r"\bdocument\.(\w+)\.(\w+)", source))
    assert len(read) > 10
    for room, part in read - {("brief", "house_rules")}:
        assert room in against_catalogue._NAMING or f"{room}.{part}" in against_catalogue._NAMING, part
