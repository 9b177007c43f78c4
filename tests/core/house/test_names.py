"""What things are called: no figure hangs on it but by the words that decide something, and no finding,
end or label is without it."""

from __future__ import annotations

import os
import random
import subprocess
import sys
from copy import deepcopy
from dataclasses import replace
from pathlib import Path

import pytest
from pydantic import TypeAdapter

from inkthread.catalogue import shipped_catalogue
from inkthread.core.document import DocumentError, parse_document
from inkthread.core.document.incremental import read_again
from inkthread.core.evaluate import evaluate, work_out
from inkthread.core.evaluation import Evaluation
from inkthread.core.findings import Finding, Remedy, called, in_names
from inkthread.core.memo import Memo
from inkthread.core.unnamed import unnamed
from inkthread.demo import demo_document
from tests.core.house.test_every_check import (
    of_build,
    of_circuits,
    of_cut,
    of_dress,
    of_ends,
    of_parts,
    of_prove,
    of_route,
    of_wire,
)
from tests.core.scenarios import pump

_DUMPED = TypeAdapter(Evaluation)
_MARKS = "\ufdd0", "\ufdd1"
CALLED = {
    "device": "circuits/devices/M1/name",
    "circuit": "circuits/circuits/C2/name",
    "connector": "ends/connectors/M1/name",
    "pin": "circuits/devices/M1/pins/+/name",
}


def put(plain: dict, at: str, value: object) -> dict:
    """The document with another value there; the parts beside it are the same objects."""
    first, _, rest = at.partition("/")
    return {**plain, first: put(plain[first], rest, value) if rest else value}


@pytest.mark.parametrize("thing", CALLED)
def test_a_thing_called_otherwise_is_worked_out_from_what_is_kept(thing):
    """What flows, where wires lie, what they are, what is fitted and bought: the same objects."""
    catalogue, memo = shipped_catalogue(), Memo()
    plain = pump().plain
    before = work_out(parse_document(plain), catalogue, memo=memo)
    renamed = put(plain, CALLED[thing], "Otherwise")
    document = read_again(renamed, plain, before.stated)
    after = work_out(document, catalogue, memo=memo)
    assert after.unnamed.circuits.devices is before.unnamed.circuits.devices
    assert after.route.threaded is before.route.threaded
    assert after.route.flow is before.route.flow
    assert after.wire.set_out is before.wire.set_out
    assert after.wire.made is before.wire.made
    assert after.ends.fittings is before.ends.fittings
    assert after.ends.weakest.by_fuse == before.ends.weakest.by_fuse
    assert after.document == document
    text = _DUMPED.dump_json(after.evaluation).decode()
    assert text == _DUMPED.dump_json(evaluate(document, catalogue)).decode()
    assert ("Otherwise" in text) == (thing != "circuit"), "no finding is about a circuit"
    assert not any(mark in text for mark in _MARKS)


WORDS = {
    "device": [
        "navigation light",
        "bilge blower",
        "receiver pack",
        "radio",
        "LED lamp",
        "bilge",
        "blower",
        "",
    ],
    "circuit": ["brake light", "left turn", "horn feed", "ground", ""],
    "connector": ["left", "Left ", "right", ""],
    "pin": ["CAN H", "CAN L", "out", ""],
}


@pytest.mark.parametrize("practice", ["marine", "model", "motorsport"])
def test_whatever_things_are_called_what_is_kept_gives_what_reading_it_anew_gives(practice):
    """Words that decide something among them: what a drop is judged by, which pack needs no fuse, colours."""
    catalogue, memo, rng = shipped_catalogue(), Memo(), random.Random(practice)
    plain = demo_document("larkspur")
    plain["brief"]["practice"] = practice
    plain["wire"]["circuit_colours"] = {
        "brake light": {"order": 1, "colours": "RD"},
        "horn": {"order": 2, "colours": "BK"},
    }
    document = parse_document(plain)
    evaluate(document, catalogue, memo=memo)
    for _ in range(15):
        thing = rng.choice(list(WORDS))
        if thing == "pin":
            device = rng.choice(list(plain["circuits"]["devices"]))
            at = f"circuits/devices/{device}/pins/{rng.choice(list(plain['circuits']['devices'][device]['pins']))}"
        else:
            room = "ends" if thing == "connector" else "circuits"
            at = f"{room}/{thing}s/{rng.choice(list(plain[room][thing + 's']))}"
        before, plain = plain, put(plain, f"{at}/name", rng.choice(WORDS[thing]))
        document = read_again(plain, before, document)
        warm = _DUMPED.dump_json(evaluate(document, catalogue, memo=memo))
        assert warm == _DUMPED.dump_json(evaluate(parse_document(plain), catalogue)), at


@pytest.mark.parametrize("thing", ["device", "pin"])
@pytest.mark.parametrize(
    ("at", "value", "said"),
    [
        ("circuits/devices/M1/pins", {"-": {"order": 2, "role": "ground"}}, "pin"),
        ("circuits/devices/M1/paths", {"p": {"order": 1, "from_pin": "+", "to_pin": "gone"}}, "gone"),
    ],
)
def test_a_new_name_hides_nothing_else_that_is_wrong_with_a_thing(thing, at, value, said):
    plain = pump().plain
    document = parse_document(plain)
    renamed = put(plain, CALLED[thing], "Otherwise")
    again = read_again(renamed, plain, document)
    assert again == parse_document(renamed)
    with pytest.raises(DocumentError, match=said):
        read_again(put(put(renamed, "circuits/devices/M1/name", "Another"), at, value), renamed, again)


def test_only_what_a_name_decides_is_left_of_it():
    builder = pump()
    for at, name in (
        ("circuits/devices/M1/name", "Old Bilge pump"),
        ("circuits/devices/B1/name", "pump"),
        ("circuits/circuits/C2/name", "left Horn feed"),
        ("ends/connectors/M1/name", "port"),
        ("circuits/devices/M1/pins/+/name", "feed"),
        ("circuits/devices/M1/pins/-/name", "CAN L"),
        ("circuits/devices/M1/pins/-/role", "data"),
    ):
        builder.set(at, name)
    builder.set("wire/circuit_colours", {"horn": {"order": 1, "colours": "BK"}})
    bare = unnamed(parse_document(builder.plain), ("bilge", "radio"), Memo())
    assert bare.circuits.devices["M1"].name == "bilge"
    assert bare.circuits.devices["B1"].name == ""
    assert bare.circuits.circuits["C2"].name == "horn"
    assert bare.ends.connectors["M1"].name == ""
    assert bare.circuits.devices["M1"].pins["+"].name == ""
    assert bare.circuits.devices["M1"].pins["-"].name == "CAN L"


def test_what_decides_is_read_anew_where_the_words_that_do_are_others():
    builder, memo = pump().set("circuits/circuits/C2/name", "horn feed"), Memo()
    document = parse_document(builder.plain)
    assert unnamed(document, (), memo).circuits.circuits["C2"].name == ""
    coloured = put(builder.plain, "wire/circuit_colours", {"horn": {"order": 1, "colours": "BK"}})
    again = read_again(coloured, builder.plain, document)
    assert again.circuits.circuits is document.circuits.circuits
    assert unnamed(again, (), memo).circuits.circuits["C2"].name == "horn"
    assert unnamed(again, ("pump",), memo).circuits.devices["M1"].name == "pump"


def test_things_in_another_order_are_another_harness():
    memo, document = Memo(), parse_document(pump().plain)
    bare = unnamed(document, (), memo)
    devices = dict(reversed(document.circuits.devices.items()))
    turned = unnamed(replace(document, circuits=replace(document.circuits, devices=devices)), (), memo)
    assert list(turned.circuits.devices) == list(devices)
    assert all(turned.circuits.devices[k] is own for k, own in bare.circuits.devices.items())
    assert list(unnamed(document, (), memo).circuits.devices) == list(bare.circuits.devices)


def finding(what: str) -> Finding:
    return Finding("c", "fix", "t", what, "why", (Remedy(f"do: {what}", ({"op": "test"},)),), ())


def test_a_finding_says_names_as_they_are_when_it_is_told():
    builder, memo = pump(), Memo()
    builder.set("circuits/devices/M1/name", "lift pump").set("circuits/devices/M1/pins/+/name", "feed")
    builder.set("circuits/circuits/C2/name", "").set("circuits/circuits/C1/name", "main")
    document = parse_document(builder.plain)
    asked = [
        finding(called("device", "M1")),
        finding(f"{called('circuit', 'C1')} and {called('circuit', 'C2')}"),
        finding(f"{called('name_of_circuit', 'C1')} and {called('name_of_circuit', 'C2')}"),
        finding(called("pin", "M1.+")),
        finding("nothing"),
    ]
    told = in_names(asked, document, memo)
    assert [f.what for f in told] == [
        "M1 lift pump",
        "C1 main and C2",
        "main and C2",
        "lift pump feed",
        "nothing",
    ]
    assert [f.remedies[0].text for f in told] == [f"do: {f.what}" for f in told]
    assert told[0].remedies[0].operations == ({"op": "test"},)
    again = in_names(asked, document, memo)
    assert all(a is b for a, b in zip(told, again, strict=True)), "what is called the same is the same object"
    builder.set("circuits/devices/M1/name", "drain pump")
    other = in_names(asked, parse_document(builder.plain), memo)
    assert other[0].what == "M1 drain pump"
    assert all(a is b for a, b in zip(told[1:3], other[1:3], strict=True))
    assert other[3].what == "drain pump feed"


@pytest.mark.parametrize("thing", ["device", "circuit", "name_of_circuit", "pin"])
@pytest.mark.parametrize("of", ["", "gone", "gone.+", "M1.gone", "M1", "."])
def test_what_is_not_there_is_told_as_it_was_asked_for(thing, of):
    """Whoever types the marks into a name gets a finding all the same."""
    document = parse_document(pump().plain)
    (told,) = in_names([finding(called(thing, of))], document, Memo())
    assert not any(mark in told.what for mark in _MARKS)


EVERY = {
    **{
        f"{m.__name__} {code}": make
        for m in (of_circuits, of_ends, of_route, of_wire)
        for code, make in m.SCENARIOS.items()
    },
    **{
        f"{m.__name__} {code} {n}": make
        for m in (of_build, of_cut, of_dress, of_parts, of_prove)
        for code, many in m.SET_OFF.items()
        for n, make in enumerate(many)
    },
}


def _dumped(plain: dict, word: str) -> str:
    """What comes of it with everything called by this word and its id."""
    plain = deepcopy(plain)
    for device_id, device in plain["circuits"]["devices"].items():
        device["name"] = f"{word} {device_id}"
    for circuit_id, circuit in plain["circuits"]["circuits"].items():
        circuit["name"] = f"{word} {circuit_id}"
    return _DUMPED.dump_json(evaluate(parse_document(plain), shipped_catalogue())).decode()


@pytest.mark.parametrize("code", EVERY)
def test_what_is_found_hangs_on_no_name_and_says_every_one(code):
    plain = EVERY[code]().plain
    text = _dumped(plain, "qwerty")
    assert not any(mark in text for mark in _MARKS)
    assert text.replace("qwerty", "azerty") == _dumped(plain, "azerty")


_OUTSIDE = """
import hashlib
from tests.core.house.test_names import EVERY, _dumped
for code, make in EVERY.items():
    print(code, hashlib.sha256(_dumped(make().plain, "qwerty").encode()).hexdigest())
"""


def test_every_process_finds_the_same_in_the_same_order():
    """Whatever order a set has in it: text is hashed otherwise in every process."""
    root = Path(__file__).parents[3]
    running = [
        subprocess.Popen(
            [sys.executable, "-c", _OUTSIDE],
            cwd=root,
            env={**os.environ, "PYTHONHASHSEED": seed},
            stdout=subprocess.PIPE,
            text=True,
        )
        for seed in ("1", "2")
    ]
    one, other = (process.communicate()[0].splitlines() for process in running)
    assert len(one) == len(EVERY)
    assert one == other


@pytest.mark.parametrize("code", list(EVERY)[::3])
def test_rooms_that_see_names_find_the_same(code):
    """Without a memo nothing is kept, and names are left where they are."""
    document, catalogue = parse_document(EVERY[code]().plain), shipped_catalogue()
    seen, unseen = work_out(document, catalogue), work_out(document, catalogue, memo=Memo())
    assert seen.unnamed.circuits == document.circuits
    assert not any(c.name for c in unseen.unnamed.circuits.circuits.values())
    assert _DUMPED.dump_json(seen.evaluation) == _DUMPED.dump_json(unseen.evaluation)
    assert seen.dress == unseen.dress
