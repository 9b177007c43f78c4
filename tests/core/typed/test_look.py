"""A line looked at before it goes in: a kind that is misspelt is asked about, with the line that mends it."""

from __future__ import annotations

import pytest

from inkthread.catalogue import shipped_catalogue
from inkthread.core.look import look_at
from tests.conftest import HarnessBuilder

CATALOGUE = shipped_catalogue()


@pytest.mark.parametrize(
    ("typed", "asked", "meant"),
    [
        ("battry > F1 fuse", "X1: “battry” is nearly “battery”", "battery > F1 fuse"),
        ("K7 fan realy 30 A", "K7: “realy” is nearly “relay”", "K7 fan relay 30 A"),
        ("S1 big swich", "S1: “swich” is nearly “switch”", "S1 big switch"),
    ],
)
def test_a_misspelt_kind_is_asked_about_and_mended_by_a_choice(typed, asked, meant):
    look = look_at(HarnessBuilder().plain, CATALOGUE, "feed", typed)
    assert asked in look.says
    lines = [choice.line for guess in look.guesses for choice in guess.choices]
    assert meant in lines
    again = look_at(HarnessBuilder().plain, CATALOGUE, "feed", meant)
    assert not any("is nearly" in said for said in again.says)


@pytest.mark.parametrize("typed", ["X9 froth box", "M1 pumps", "X2 flux cap", "X3 battry (lamp)", "X4 zz"])
def test_a_name_that_is_none_is_not_asked_about(typed):
    assert not any(
        "is nearly" in said for said in look_at(HarnessBuilder().plain, CATALOGUE, "feed", typed).says
    )


def test_after_at_a_connector_is_offered_places_and_no_families():
    builder = HarnessBuilder().feed("B1 battery > F1 fuse > M1 pump 5 A > B1")
    follow = look_at(builder.plain, CATALOGUE, "connector", "J9 SR16 2 way at M").following
    assert [c.label for c in follow] == ["M1"]
    assert "SR16" in [c.label for c in look_at(builder.plain, CATALOGUE, "connector", "J9 SR").following]


def follow(builder: HarnessBuilder, act: str, line: str) -> list[str]:
    return [c.label for c in look_at(builder.plain, CATALOGUE, act, line).following]


def test_after_a_way_and_equals_the_pins_that_have_no_way_are_offered():
    builder = HarnessBuilder().feed(
        "B1 battery > F1 fuse > A1 controller 1 A > B1", "pin A1.X1 data", "pin A1.X2 data"
    )
    assert follow(builder, "connector", "J9 SR16 2 way 1=") == ["A1."]
    assert follow(builder, "connector", "J9 SR16 2 way 1=A1.X") == ["A1.X1", "A1.X2"]
    (first, _) = look_at(builder.plain, CATALOGUE, "connector", "J9 SR16 2 way 1=A1.X").following
    assert first.line == "J9 SR16 2 way 1=A1.X1"
    builder._act("connector", first.line)
    assert follow(builder, "connector", "J9 2=A1.X") == ["A1.X2"]


def test_a_statement_is_finished_with_what_it_may_name():
    builder = HarnessBuilder().feed(
        "B1 battery > F1 fuse > A1 controller 1 A > B1", "A1.I1 > S1 switch > A1.N1"
    )
    assert follow(builder, "feed", "pair lead: C4, C") == ["C1", "C2", "C3", "C4", "C5"]
    assert "SHIELDED-PAIR" in follow(builder, "feed", "shielded pair lead: C4, C5, family SH")
    assert follow(builder, "feed", "shielded pair lead: C4, C5, dr") == ["drain to"]
    assert follow(builder, "feed", "shielded pair lead: C4, C5, drain to A") == ["A1"]
    pins = [f"S1.{p}" for p in builder.plain["circuits"]["devices"]["S1"]["pins"]]
    assert follow(builder, "feed", "circuit C9: S1.") == pins


@pytest.mark.parametrize(
    ("act", "line", "says"),
    [
        ("connector", "F1 called P7", "F1 is called P7 now"),
        ("connector", "take out F1", "F1 taken out"),
        ("connector", "A1 turned over", "A1: contacts turned over"),
        ("connector", "J4 like A1", "J4: SR16 6 way plug"),
        (
            "feed",
            "shielded pair lead: A1.I1, A1.N1, family SHIELDED-PAIR, drain to A1.SH, open at S1",
            "lead: shielded pair of C4, C5, in SHIELDED-PAIR, shield landed at A1.SH, cut back at S1",
        ),
    ],
)
def test_the_echo_says_what_becomes_of_connectors_and_cables(act, line, says):
    builder = HarnessBuilder().feed(
        "B1 battery > F1 fuse > A1 controller 1 A > B1", "A1.I1 > S1 switch > A1.N1"
    )
    said = look_at(builder.plain, CATALOGUE, act, line).says
    assert says in said
    if "called" in line:
        assert said == (says,)
