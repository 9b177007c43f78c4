"""A from-to list out of a spreadsheet: columns matched, every line taken or refused with its reason."""

from __future__ import annotations

import random

import pytest

from inkthread.core.circuits.paste import read_list
from inkthread.core.document import parse_document
from inkthread.core.document.draft import LineError
from inkthread.storage.patches import apply_with_inverse
from tests.conftest import HarnessBuilder

LIST = """Signal\tFrom\tFrom pin\tTo\tTo pin\tAWG\tColour
fan feed\tF1\tout\tM1\t+\t16\tRD
fan return\tM1\t-\tB1\t-\t16\tBK
oil pressure\tA1\t7\tT1\tS\t22\tVT/WH
oil return\tA1\t8\tT1\tG\t22\tBK
"""


def put(builder: HarnessBuilder, text: str, **how):
    plan = read_list(builder.plain, builder.catalogue, text, **how)
    builder.plain, _ = apply_with_inverse(builder.plain, plan.operations)
    parse_document(builder.plain)
    return plan


def joined(builder: HarnessBuilder) -> set[frozenset[str]]:
    return {frozenset(c["ends"]) for c in builder.plain["circuits"]["circuits"].values()}


def fed() -> HarnessBuilder:
    return HarnessBuilder("vehicle").feed("B1 battery > F1 fuse")


def test_headings_are_matched_and_every_line_is_joined():
    builder = fed()
    plan = put(builder, LIST)
    assert plan.headed
    assert [c.meaning for c in plan.columns] == [
        "name", "from device", "from pin", "to device", "to pin", "gauge", "colour",
    ]  # fmt: skip
    assert plan.taken == 4
    assert joined(builder) >= {
        frozenset(x.split()) for x in ("F1.out M1.+", "M1.- B1.-", "A1.7 T1.S", "A1.8 T1.G")
    }
    names = {c["name"] for c in builder.plain["circuits"]["circuits"].values()}
    assert {"fan feed", "oil pressure"} <= names
    fixed = builder.plain["wire"]["fixed"].values()
    assert {(f["gauge"], f["colour"]) for f in fixed} >= {("16 AWG", "RD"), ("22 AWG", "VT/WH")}


@pytest.mark.parametrize("mark", ["\t", ";", ","])
@pytest.mark.parametrize("ref", ["{}.{}", "{}-{}", "{}:{}", "{} {}"])
def test_without_headings_columns_are_known_by_what_is_in_them(mark, ref):
    builder = fed()
    rows = [("F1", "out", "M1", "+", "18 AWG", "RD"), ("M1", "-", "B1", "-", "18 AWG", "BK")]
    text = "\n".join(mark.join((ref.format(a, p), ref.format(b, q), g, c)) for a, p, b, q, g, c in rows)
    plan = put(builder, text)
    assert not plan.headed
    assert [c.meaning for c in plan.columns] == ["from", "to", "gauge", "colour"]
    assert plan.taken == 2
    assert frozenset(("F1.out", "M1.+")) in joined(builder)


@pytest.mark.parametrize(
    ("line", "says"),
    [
        ("F1.out\t\t18 AWG\tRD", "does not say to where"),
        ("F1.out\tpump\t18 AWG\tRD", "names no device and pin"),
        ("F1.out\tM1.+\tthick\tRD", "is no gauge"),
        ("F1.out\tM1.+\t18 AWG\tmauve", "is no colour"),
        ("F1.out\tF1.out\t18 AWG\tRD", "joined to itself"),
    ],
)
def test_a_refused_line_says_why_is_kept_and_changes_nothing(line, says):
    builder = fed()
    before = joined(builder)
    good = "B1.-\tM1.-\t18 AWG\tBK"
    plan = put(builder, f"{line}\n{good}", meanings=["from", "to", "gauge", "colour"], headed=False)
    bad, fine = plan.lines
    assert says in bad.problem
    assert fine.problem is None
    assert plan.refused == line
    assert joined(builder) == before | {frozenset(("B1.-", "M1.-"))}


def test_a_third_end_makes_several_wires_so_gauge_and_colour_are_not_taken():
    builder = fed()
    plan = put(builder, "B1.-\tE1.-\t20 AWG\tBK\nB1.-\tE2.-\t20 AWG\tBK")
    assert plan.taken == 2
    assert any("several wires" in n for n in plan.lines[1].notes)
    assert not [f for f in builder.evaluate().findings if f.code == "fixed-orphan"]


def test_cavities_of_known_connectors_are_pins_of_their_devices(chassis):
    ref, entry = next(iter(chassis.plain["ends"]["pinout"].items()))
    plan = read_list(chassis.plain, chassis.catalogue, f"{entry['connector']}-{entry['cavity']}\tZ1.1")
    assert plan.lines[0].says.startswith(f"{ref} and Z1.1 joined")


def test_current_goes_to_the_load_it_feeds():
    builder = fed()
    plan = put(builder, "F1.out\tM1.+\t6.5 A\nF1.in\tB1.+\t9 A")
    assert builder.plain["circuits"]["loads"]["M1"]["current_a"] == 6.5
    assert "is no load" in plan.lines[1].notes[0]


@pytest.mark.parametrize("text", ["", "  \n\t\t\n", "a\tb\n" * 2001, "\t".join("x" * 41)])
def test_what_cannot_be_a_list_is_refused_whole(text):
    with pytest.raises(LineError):
        read_list(fed().plain, fed().catalogue, text)


def test_a_hundred_lines_with_bad_ones_among_them():
    rng = random.Random(7)
    lines, good = [], 0
    for n in range(100):
        if rng.random() < 0.1:
            lines.append(f"A1.{n}\t???\t18 AWG")
        else:
            lines.append(f"A1.{n}\tT{n}.S\t22 AWG")
            good += 1
    builder = fed()
    plan = put(builder, "\n".join(lines))
    assert len(plan.lines) == 100
    assert plan.taken == good
    assert [x.number for x in plan.lines] == list(range(1, 101))
    assert all(x.problem or x.says for x in plan.lines)
    again = put(builder, "\n".join(lines))
    assert sum("joined already" in x.says for x in again.lines) == good
    assert not [op for op in again.operations if "/circuits/circuits" in op["path"]]


def test_several_typed_lines_are_one_edit_or_none():
    builder = HarnessBuilder("vehicle").feed(
        "B1 battery > F1 fuse > E1 lamp 1 A > B1\nF1.out > E2 lamp 2 A > B1"
    )
    assert set(builder.plain["circuits"]["loads"]) == {"E1", "E2"}
    with pytest.raises(LineError, match="Line 2"):
        builder.feed("F1.out > E3 lamp 1 A > B1\nF1.nothing > E4")
    assert "E3" not in builder.plain["circuits"]["devices"]


def test_an_end_may_be_said_in_the_words_of_the_add_line():
    """What is typed on a line and what is pasted mean the same."""
    rows = [
        ("Name", "From", "To", "AWG"),
        ("main feed", "B1 battery", "F1 fuse", "10"),
        ("pump feed", "F1", "M1 fuel pump 5 A", "16"),
        ("pump return", "M1", "B1", "16"),
    ]
    text = "\n".join("\t".join(row) for row in rows)
    builder = HarnessBuilder("vehicle")
    plan = read_list(builder.plain, builder.catalogue, text)
    assert [line.problem for line in plan.lines] == [None] * 3
    pasted, _ = apply_with_inverse(builder.plain, plan.operations)
    typed = HarnessBuilder("vehicle").feed("B1 battery > F1 fuse", "F1 > M1 fuel pump 5 A", "M1 > B1").plain
    ends = [set(c["ends"]) for c in pasted["circuits"]["circuits"].values()]
    assert ends == [set(c["ends"]) for c in typed["circuits"]["circuits"].values()]
    assert pasted["circuits"]["loads"]["M1"]["current_a"] == 5
    assert [c["name"] for c in pasted["circuits"]["circuits"].values()] == [
        "main feed",
        "pump feed",
        "pump return",
    ]
    assert {f["gauge"] for f in pasted["wire"]["fixed"].values()} == {"10 AWG", "16 AWG"}
    assert any("new: M1, motor or pump" in note for note in plan.lines[1].notes)


def test_ground_and_battery_in_a_list_are_those_there_are():
    builder = HarnessBuilder("vehicle").feed("B1 battery > F1 fuse > M1 pump 5 A > B1")
    plan = read_list(
        builder.plain, builder.catalogue, "From,To\nF1.out,M2 lamp 2 A\nM2.-,ground\nbattery,F2 fuse"
    )
    assert [line.problem for line in plan.lines] == [None] * 3
    pasted, _ = apply_with_inverse(builder.plain, plan.operations)
    circuits = [set(c["ends"]) for c in pasted["circuits"]["circuits"].values()]
    assert any({"M2.-", "B1.-"} <= ends for ends in circuits)
    assert any({"B1.+", "F2.in"} <= ends for ends in circuits)


@pytest.mark.parametrize(
    ("cell", "word"), [("M2 lamp 5 A wobbly", "wobbly"), ("M9", "M9"), ("M1.q", ""), ("a > b", "")]
)
def test_words_that_are_not_understood_are_refused_and_change_nothing(cell, word):
    builder = HarnessBuilder("vehicle").feed("B1 battery > F1 fuse > M1 pump 5 A > B1")
    plan = read_list(builder.plain, builder.catalogue, f"From\tTo\nF1.out\t{cell}")
    if cell == "M1.q":
        assert plan.lines[0].problem is None
        return
    assert plan.lines[0].problem is not None
    assert word in plan.lines[0].problem
    assert plan.operations == []


def test_words_at_one_end_and_a_pin_of_the_list_at_the_other():
    builder = HarnessBuilder("vehicle").feed("B1 battery > F1 fuse > A1 controller 1 A > B1")
    plan = read_list(builder.plain, builder.catalogue, "From\tTo\nA1.X7\tE1 lamp 0.2 A")
    assert plan.lines[0].problem is None
    pasted, _ = apply_with_inverse(builder.plain, plan.operations)
    assert {"A1.X7", "E1.+"} in [set(c["ends"]) for c in pasted["circuits"]["circuits"].values()]
    # A column for its pin and nothing in it: that is a gap in the list.
    gap = read_list(builder.plain, builder.catalogue, "From\tFrom pin\tTo\tTo pin\nA1\t\tF1\tout")
    assert "does not say from where" in gap.lines[0].problem
