"""Parts taken out, changed or damaged behind a harness: the shelf is always there, and says what is wrong."""

from __future__ import annotations

import copy
import dataclasses
import json
import random
import sqlite3

import pytest

from inkthread.catalogue import shipped_catalogue
from inkthread.core.catalogue.own import OwnParts, parts_to_plain
from inkthread.core.document import parse_document
from inkthread.core.evaluate import work_out
from inkthread.demo import DEMOS, demo_document
from tests.program import Program

SHIPPED = shipped_catalogue()
GONE = {"family-gone", "named-gone", "part-gone"}


def own_parts_file() -> dict:
    """A wire family and a connector family of the shop's own, as a file of parts."""
    wire = dataclasses.replace(SHIPPED.wires["J1128-TXL"], code="MY-WIRE", name="mine")
    family = dataclasses.replace(
        SHIPPED.connectors["SR16"], code="MY-SR", name="mine", sources={"owner": "own"}
    )
    return parts_to_plain(OwnParts(connectors={"MY-SR": family}, wires={"MY-WIRE": wire}))


def of_own_parts() -> dict:
    """A sketch in wire of the shop's own."""
    plain = copy.deepcopy(demo_document("dawdler-sketch"))
    plain["wire"]["family"] = "MY-WIRE"
    return plain


@pytest.fixture
def program(tmp_path):
    started = Program("serve", "--port", "0", "--data", str(tmp_path / "own.db"))
    yield started
    started.stop()


def codes(design: dict) -> set[str]:
    return {f["code"] for f in design["evaluation"]["findings"]}


def test_a_wire_family_that_was_taken_out_is_said_and_comes_back(program):
    program.ask("/api/shop/parts", "POST", {"text": json.dumps(own_parts_file())})
    made = program.ask("/api/designs", "POST", {"document": of_own_parts()})
    program.ask("/api/designs", "POST", {"name": "another", "practice": "vehicle"})
    url = f"/api/designs/{made['id']}"
    assert not codes(made) & GONE
    program.ask("/api/shop/parts?kind=wires&code=MY-WIRE", "DELETE")
    listed = program.shelf()
    assert len(listed) == 2
    assert all(d["trouble"] == "" and d["tally"] is not None for d in listed)
    without = program.ask(url)
    assert "family-gone" in codes(without)
    assert without["document"] == made["document"]
    # It can be edited meanwhile, and the family comes back.
    edit = [{"op": "replace", "path": "/brief/name", "value": "still mine"}]
    program.ask(url, "PATCH", edit, **{"If-Match": f'"{without["version"]}"'})
    program.ask("/api/shop/parts/restore?kind=wires&code=MY-WIRE", "POST")
    assert not codes(program.ask(url)) & GONE


def test_a_family_that_became_loose_takes_nothing_away(program):
    program.ask("/api/shop/parts", "POST", {"text": json.dumps(own_parts_file())})
    plain = of_own_parts()
    half = next(c for c in plain["ends"]["connectors"].values() if c["family"] == "SR16")
    half["family"] = "MY-SR"
    made = program.ask("/api/designs", "POST", {"document": plain})
    patch = [{"op": "replace", "path": "/loose", "value": True}]
    program.ask("/api/shop/families/MY-SR", "PATCH", patch)
    (listed,) = program.shelf()
    assert listed["trouble"] == ""
    assert program.ask(f"/api/designs/{made['id']}")["document"] == made["document"]


def less(held: dict, gone: set[str]) -> dict:
    return {k: v for k, v in held.items() if k not in gone}


def changed(catalogue, document, by: random.Random):
    """The catalogue with one part that the document may use taken out or changed."""
    used = sorted({c.family for c in document.ends.connectors.values()} & set(catalogue.connectors))
    kind = by.choice(
        ["wire", "size", "tool", "splice", "kind", "colour", "bus", "scheme", "rule", *["family"] * 9]
    )
    if kind == "wire":
        return dataclasses.replace(
            catalogue, wires=less(catalogue.wires, {by.choice(sorted(catalogue.wires))})
        )
    if kind == "size":
        code = by.choice(sorted(catalogue.wires))
        one = dataclasses.replace(catalogue.wires[code], sizes=catalogue.wires[code].sizes[:1])
        return dataclasses.replace(catalogue, wires={**catalogue.wires, code: one})
    if kind == "tool":
        return dataclasses.replace(
            catalogue, tools=less(catalogue.tools, set(by.sample(sorted(catalogue.tools), 4)))
        )
    if kind == "splice":
        return dataclasses.replace(
            catalogue, splices=tuple(by.sample(catalogue.splices, len(catalogue.splices) - 2))
        )
    if kind == "kind":
        return dataclasses.replace(catalogue, kinds={})
    if kind == "colour":
        return dataclasses.replace(catalogue, colours=dict(list(catalogue.colours.items())[:3]))
    if kind == "bus":
        return dataclasses.replace(catalogue, buses={})
    if kind == "scheme":
        return dataclasses.replace(catalogue, colour_schemes={})
    if kind == "rule" and document.brief.house_rules:
        return catalogue
    if not used:
        return catalogue
    code = by.choice(used)
    f = catalogue.connectors[code]
    if by.random() < 0.2:
        return dataclasses.replace(catalogue, connectors=less(catalogue.connectors, {code}))
    change = by.choice([
        {"loose": not f.loose}, {"housings": f.housings[:1]}, {"contacts": f.contacts[:1]}, {"studs": ()},
        {"keyings": ("Z",)}, {"seals": ()}, {"genders": {"plug": "pin", "receptacle": "pin"}},
        {"cavity_plug": None}, {"temperature_c": 10.0}, {"accessories": ()}, {"genderless": not f.genderless},
    ])  # fmt: skip
    return dataclasses.replace(
        catalogue, connectors={**catalogue.connectors, code: dataclasses.replace(f, **change)}
    )


@pytest.mark.parametrize("seed", range(6))
@pytest.mark.parametrize("name", DEMOS)
def test_whatever_is_taken_out_or_changed_every_harness_is_evaluated(name, seed):
    by = random.Random(f"{name} {seed}")
    document = parse_document(demo_document(name))
    whole = work_out(document, SHIPPED)
    for _ in range(3):
        catalogue = SHIPPED
        for _ in range(by.randint(1, 4)):
            catalogue = changed(catalogue, document, by)
        w = work_out(document, catalogue)
        assert {x.circuit for x in w.wire.wires.values()} == {x.circuit for x in whole.wire.wires.values()}
        missing = {c.family for c in document.ends.connectors.values()} - set(catalogue.connectors)
        assert not missing or "part-gone" in {f.code for f in w.evaluation.findings}


def test_a_damaged_harness_is_listed_with_the_others_and_can_be_taken_back(tmp_path):
    """Its newest document has lost its form, as by another program: the last edit is taken back."""
    data = tmp_path / "damaged.db"
    program = Program("serve", "--port", "0", "--data", str(data))
    try:
        made = program.ask("/api/designs", "POST", {"document": demo_document("dawdler-sketch")})
        other = program.ask("/api/designs", "POST", {"name": "other", "practice": "vehicle"})
        edit = [{"op": "replace", "path": "/brief/name", "value": "renamed"}]
        program.ask(f"/api/designs/{made['id']}", "PATCH", edit, **{"If-Match": '"1"'})
    finally:
        program.stop()
    with sqlite3.connect(data) as file:
        (text,) = file.execute("SELECT document FROM designs WHERE id = ?", (made["id"],)).fetchone()
        plain = json.loads(text)
        broken = {"a": {"order": 1}}
        file.execute(
            "UPDATE revisions SET inverse = ? WHERE design_id = ?",
            (
                json.dumps([
                    {"op": "replace", "path": "/brief/name", "value": made["document"]["brief"]["name"]},
                    {"op": "replace", "path": "/brief/zones", "value": plain["brief"]["zones"]},
                ]),
                made["id"],
            ),
        )  # fmt: skip
        plain["brief"]["zones"] = broken
        file.execute("UPDATE designs SET document = ? WHERE id = ?", (json.dumps(plain), made["id"]))
        file.execute("UPDATE designs SET document = ? WHERE id = ?", ("{no json", other["id"]))
        file.execute("DELETE FROM summaries")
    program = Program("serve", "--port", "0", "--data", str(data))
    try:
        listed = {d["id"]: d for d in program.shelf()}
        assert listed.keys() == {made["id"], other["id"]}
        assert "zones" in listed[made["id"]]["trouble"]
        assert "damaged" in listed[other["id"]]["trouble"]
        assert program.ask(f"/api/designs/{made['id']}/file")["brief"]["zones"] == broken
        mended = program.ask(f"/api/designs/{made['id']}/mend", "POST")
        assert mended["document"] == made["document"]
        assert {d["id"]: d["trouble"] for d in program.shelf()}[made["id"]] == ""
    finally:
        program.stop()
