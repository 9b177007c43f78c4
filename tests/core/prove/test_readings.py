"""Readings as they are typed or sent: what is meant, what cannot be, and nothing lost beside it."""

from __future__ import annotations

import math

import pytest

from inkthread.core.prove import read_ohm, read_table
from inkthread.core.quantity import QuantityError

ROWS = {"R1": (("A1-1",), ("J2-5",), False), "M1": (("A1-1",), ("J2-5",), True)}
PLACES = ("A1-1", "A1-2", "J2-5", "X1-+", "X1--")


@pytest.mark.parametrize(
    ("text", "ohm"),
    [
        ("0.031", 0.031), ("0,031 ohm", 0.031), ("31 mohm", 0.031), ("31mΩ", 0.031), ("1.2k", 1200.0),
        ("1,2 kΩ", 1200.0), ("2M", 2e6), ("2 MΩ", 2e6), ("31m", 0.031), ("4R", 4.0), (" 12 Ohm ", 12.0),
        ("OL", math.inf), ("0L", math.inf), ("O.L", math.inf), ("overload", math.inf), ("open", math.inf),
        ("100000G", 1e14), ("beep", 0.0), ("0", 0.0),
    ],
)  # fmt: skip
def test_a_reading_is_taken_as_a_meter_shows_it(text, ohm):
    assert read_ohm(text) == pytest.approx(ohm)


@pytest.mark.parametrize(
    "text", ["", "-3", "12 V", "about four", "1,234", "nan", "1.2.3", "3 furlongs", "100.1T", "200000G"]
)
def test_what_is_no_reading_is_refused_with_what_would_be(text):
    with pytest.raises(QuantityError):
        read_ohm(text)


def test_a_table_is_read_by_its_heading_and_the_rest_is_kept():
    text = (
        "\ufefffrom;to;reading\n"
        "A1-1;J2-5;0,031\n"
        "A1-1;J9-5;0.03\n"
        "A1-1;A1-1;0.03\n"
        "\n"
        "A1-2;J2-5;OL\n"
        "A1-2;J2-5;four\n"
        "X1-+;X1--;OL\n"
        "A1-1"
    )
    readings, bad = read_table(text, ROWS, PLACES)
    assert [(r.a, r.b, r.ohm) for r in readings] == [
        (("A1-1",), ("J2-5",), 0.031),
        (("A1-2",), ("J2-5",), math.inf),
        (("X1-+",), ("X1--",), math.inf),
    ]
    assert [b.line for b in bad] == [3, 4, 7, 9]
    assert "'J9-5' is no place here" in bad[0].why
    assert "breaks off" in bad[3].why


def test_a_table_by_rows_knows_which_are_read_in_motion():
    readings, bad = read_table("Row,Ohm,Unit\nR1,31,mohm\nM1,OL,\nR1,,\nR7,3,\n", ROWS, PLACES)
    assert [(r.row, r.ohm, r.moved) for r in readings] == [("R1", 0.031, False), ("M1", math.inf, True)]
    assert [b.line for b in bad] == [5]


def test_groups_are_strapped_with_an_and_sign():
    readings, _ = read_table("from,to,ohm\nA1-1&A1-2,J2-5,OL\n", ROWS, PLACES)
    assert readings[0].a == ("A1-1", "A1-2")


@pytest.mark.parametrize("text", ["", "A1-1,J2-5,0.03\n", "from,to\nA1-1,J2-5\n", "ohm\n3\n"])
def test_a_table_without_a_heading_is_refused(text):
    with pytest.raises(QuantityError, match="first line"):
        read_table(text, ROWS, PLACES)
