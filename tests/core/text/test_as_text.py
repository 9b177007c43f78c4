"""A harness as text: written as lines it comes back the same, and what is wrong is named by its line."""

from __future__ import annotations

import random
import re
from pathlib import Path
from typing import Any

import pytest
from pydantic import TypeAdapter

from inkthread.catalogue import shipped_catalogue
from inkthread.core.conventions import read_conventions
from inkthread.core.document import dump_document, parse_document
from inkthread.core.document.complete import lean
from inkthread.core.evaluate import evaluate
from inkthread.core.evaluation import Evaluation
from inkthread.core.parts import stock_lines
from inkthread.core.shop import EMPTY_SHOP
from inkthread.core.text import read_text, write_text
from inkthread.demo import DEMOS, demo_document
from tests.conftest import HarnessBuilder, harness

CATALOGUE = shipped_catalogue()
ADAPTER = TypeAdapter(Evaluation)
FORMATS = Path(__file__).parent.parent.parent.parent / "docs" / "formats.md"


def evaluated(plain: dict[str, Any]) -> bytes:
    return ADAPTER.dump_json(evaluate(parse_document(plain), CATALOGUE, EMPTY_SHOP))


def back(plain: dict[str, Any]) -> dict[str, Any]:
    text = write_text(plain, CATALOGUE)
    read = read_text(text, CATALOGUE)
    assert read.problems == ()
    assert read.document is not None
    return dump_document(parse_document(read.document))


@pytest.mark.parametrize("demo", DEMOS)
def test_a_demo_written_as_text_comes_to_the_same_evaluation(demo):
    plain = demo_document(demo)
    assert evaluated(back(plain)) == evaluated(plain)


def unordered(value: Any) -> Any:
    """A document without its numbers of order, each collection in the order they give."""
    if isinstance(value, dict):
        entries = value.items()
        if value and all(isinstance(v, dict) and "order" in v for v in value.values()):
            entries = sorted(entries, key=lambda kv: (kv[1]["order"], kv[0]))
        return [(k, unordered(v)) for k, v in entries if k != "order"]
    return value


def test_nothing_of_a_document_is_lost_in_text_however_odd_it_is():
    """Names with quotes, arrows and figures, ids of every kind, fields that no line says."""
    builder = harness("chassis")
    devices = builder.plain["circuits"]["devices"]
    odd = ['5 V "box"', "pump > fan", "lamp (left), 2 x 21 W", "#18 heater", "ground", " coil 2 A", "x" * 120]
    for device, name in zip(devices.values(), odd, strict=False):
        device["name"] = name
    for n, circuit in enumerate(builder.plain["circuits"]["circuits"].values()):
        circuit["name"] = odd[n % len(odd)]
        circuit["optional"] = n % 5 == 0
    for n, point in enumerate(builder.plain["route"]["points"].values()):
        point.update(name=odd[n % len(odd)], opening_mm=12.5 if n % 2 else None)
    builder.set("brief/name", "  a = b # no remark  ")
    builder.set("brief/zones/Z-1", {"order": 30, "name": "wet, 85 C", "ambient_c": -3.25, "dust": True})
    builder.set("circuits/modes", {"run": {"order": 1, "name": "run"}})
    for connector in builder.plain["ends"]["connectors"].values():
        connector["mark"] = 'two words, "quoted"'
    plain = dump_document(parse_document(builder.plain))
    assert unordered(lean(back(plain))) == unordered(lean(plain))


def test_random_values_come_back():
    rng = random.Random(14)
    builder = harness("chassis")
    for _ in range(60):
        load = rng.choice(list(builder.plain["circuits"]["loads"].values()))
        load[rng.choice(("current_a", "peak_a", "inrush_a"))] = round(
            rng.uniform(0.001, 300), rng.randint(0, 9)
        )
        branch = rng.choice(list(builder.plain["route"]["branches"].values()))
        branch[rng.choice(("length_mm", "slack_mm", "uncertainty_mm"))] = round(rng.uniform(0.5, 9000), 7)
    plain = dump_document(parse_document(builder.plain))
    assert unordered(lean(back(plain))) == unordered(lean(plain))


TEXT = """
# a lamp on a pole
[brief]
name pole lamp
practice equipment
supply 24 V, working 24.5 V
rule least_area_mm2 0.5 because it is handled
[zones]
pole, -20 to 40 C, wet, in the sun
[circuits]
G1 power supply 5 A > F1 fuse 2 A > E1 lamp 20 W > G1   # by day as well
[route]
G1 200 > F1 3 m in pole > E1
[ends]
J9 SR16 2 way at F1 receptacle pins (spare)
[wire]
family J1128-GXL
fix C2 1 mm2, colour RD because it is at hand
[cables]
pair lead: C2, C3
[also]
circuits/devices/E1/moving = true
"""


def test_a_whole_harness_is_read_from_lines_and_each_says_what_it_made():
    read = read_text(TEXT, CATALOGUE)
    assert read.problems == ()
    document = parse_document(read.document)
    assert (document.brief.practice, document.brief.supply_working_v) == ("equipment", 24.5)
    assert document.brief.zones["pole"].least_c == -20
    assert document.circuits.loads["E1"].current_a == pytest.approx(20 / 24.5, abs=1e-3)
    assert document.wire.fixed["C2"].colour == "RD"
    assert document.circuits.groups["lead"].members.keys() == {"C2", "C3"}
    assert document.circuits.devices["E1"].moving
    assert "J9" in document.ends.connectors
    said = {line.number: "; ".join(line.says) for line in read.made}
    assert "E1 lamp" in said[11]
    assert "F1 to E1 3000 mm, in pole" in said[13]
    onto = read_text("[circuits]\nF1 > E2 lamp 1 A > G1", CATALOGUE, read.document)
    assert onto.problems == ()
    assert {"E1", "E2"} <= onto.document["circuits"]["devices"].keys()


@pytest.mark.parametrize(
    ("line", "number", "meant", "said"),
    [
        ("[circuits]\nM1 pump 5 A red", 2, "red", "'red' is not understood"),
        ("[route]\nR7 = a 300 mm wobbly > b", 2, "wobbly", "'wobbly' is not understood"),
        ("[zones]\nhot = bay 85 C sticky", 2, "sticky", "'sticky' is not understood"),
        ("[attic]\nx", 1, "[attic]", "is no heading"),
        ("M1 pump 5 A", 1, "M1 pump 5 A", "Put a heading before it"),
        ("[brief]\ncolour red", 2, "colour red", "'colour' is not understood"),
        ("[brief]\nrule nonsense 3", 2, "rule nonsense 3", "no house rule 'nonsense'"),
        ("[ends]\nJ3 SR16 shiny", 2, "shiny", "'shiny' is not understood"),
        ("[wire]\nfamily COPPER-PIPE", 2, "COPPER-PIPE", "no wire family"),
        ("[cables]\npair p: C8, C9", 2, "C8", "no circuit C8"),
        ("[circuits]\ncircuit C1: M1.+, B1.+", 2, "M1.+", "no device pin M1.+"),
        ("[circuits]\nload M1.+ 5 A", 2, "5", "cannot stand here"),
        ("[also]\ncircuits/devices = pump", 2, "circuits/devices = pump", "is no value"),
    ],
)
def test_a_line_that_is_refused_is_named_by_number_and_word(line, number, meant, said):
    read = read_text(line, CATALOGUE)
    assert read.document is None
    problem = read.problems[0]
    assert problem.number == number
    assert said in problem.says
    assert problem.text[problem.start : problem.end].strip().startswith(meant)


def test_what_may_be_typed_of_a_connector_may_stand_in_a_file():
    lines = (
        "[circuits]\nB1 battery > F1 fuse > A1 controller 1 A > B1\n[route]\nB1 100 > F1 300 > A1\n[ends]\n"
    )
    read = read_text(
        f"{lines}J9 like A1 marked red\nJ9 called rear\nJ8 like A1\ntake out J8\nrear takes A1.I1", CATALOGUE
    )
    assert read.problems == ()
    held = read.document["ends"]["connectors"]
    assert held["rear"]["mark"] == "red"
    assert not {"J8", "J9"} & set(held)
    assert read.document["ends"]["pinout"]["A1.I1"]["connector"] == "rear"
    refused = read_text(f"{lines}J9 like Q7", CATALOGUE).problems
    assert "no connector 'Q7'" in refused[0].says


def test_what_a_line_makes_is_said_in_the_order_of_the_line():
    read = read_text("[circuits]\nZ9 battery > F1 fuse > A1 pump 1 A > Z9", CATALOGUE)
    (made,) = read.made
    said = "; ".join(made.says)
    assert said.index("Z9 battery") < said.index("F1 fuse") < said.index("A1 pump")


def test_remarks_are_left_out_and_a_gauge_is_none():
    read = read_text('[circuits]\nE1 lamp 2 A, leads #18 300 mm # red ones\nE2 "lamp # 2" 1 A', CATALOGUE)
    devices = read.document["circuits"]["devices"]
    assert (devices["E1"]["lead_gauge"], devices["E2"]["name"]) == ("18 AWG", "lamp # 2")


def test_the_lines_that_the_documents_show_are_understood():
    blocks = re.findall(r"```text\n(.*?)```", FORMATS.read_text(encoding="utf-8"), flags=re.DOTALL)
    assert blocks
    for block in blocks:
        read = read_text(block, CATALOGUE)
        assert read.problems == (), read.problems
        parse_document(read.document)


def test_the_lines_of_the_drawers_that_the_documents_show_are_understood():
    text = FORMATS.read_text(encoding="utf-8")
    (stock,) = re.findall(r"```stock\n(.*?)```", text, flags=re.DOTALL)
    assert len(stock_lines(CATALOGUE, stock)) == 2
    (agreed,) = re.findall(r"```conventions\n(.*?)```", text, flags=re.DOTALL)
    found = read_conventions(CATALOGUE, agreed)
    assert (len(found.colours), list(found.ends)) == (2, ["sensor_three_wire"])


def test_the_lines_that_the_readme_shows_are_understood():
    readme = (FORMATS.parent.parent / "README.md").read_text(encoding="utf-8")
    shown = re.search(r"A harness from nothing.*?\n\n(.*?)\n\n", readme, flags=re.DOTALL)[1]
    acts = {"Brief": "zone", "Circuits": "feed", "Route": "run"}
    builder = HarnessBuilder("vehicle")
    act = ""
    for line in shown.splitlines():
        heading, rest = re.match(r"    (\w*)\s+(.*)", line).groups()
        act = acts.get(heading, act)
        builder._act(act, rest if heading in ("", *acts) else line.strip())
    said = re.search(r"While you type.*?\n\n", readme, flags=re.DOTALL)[0]
    for line in re.findall(r"`([^`]+)`", said):
        builder.feed(line)
    assert builder.evaluate().wire.wires


def test_lines_are_read_in_a_time_that_grows_with_their_number():
    """Twice the lines take about twice the work: operations are counted, not seconds."""
    import cProfile
    import pstats

    def calls(many: int) -> int:
        lines = ["[circuits]", "B1 battery"]
        lines += [f"B1 > F{n} fuse > E{n} lamp 1 A > B1" for n in range(1, many + 1)]
        profile = cProfile.Profile()
        profile.enable()
        assert read_text("\n".join(lines), CATALOGUE, says=False).problems == ()
        profile.disable()
        return pstats.Stats(profile).total_calls  # type: ignore[attr-defined]

    calls(5)
    assert calls(160) < 2.6 * calls(80)


def test_bench_lines_and_file_lines_are_the_same_code():
    builder = (
        HarnessBuilder("vehicle").feed("B1 battery > F1 fuse > M1 pump 5 A > B1").run("B1 300 > F1 200 > M1")
    )
    read = read_text(
        "[circuits]\nB1 battery > F1 fuse > M1 pump 5 A > B1\n[route]\nB1 300 > F1 200 > M1", CATALOGUE,
    )  # fmt: skip
    for room in ("circuits", "route", "ends"):
        assert lean(read.document)[room] == lean(builder.plain)[room]


def test_a_place_of_a_branch_that_its_line_did_not_make_is_told_and_nothing_breaks(catalogue):
    lines = (
        "[brief]\npractice vehicle\n[route]\nB1 100 > M1 held 3\n[also]\nroute/branches/R4/slack_mm = 0.0\n"
    )
    read = read_text(lines, catalogue)
    assert read.problems
