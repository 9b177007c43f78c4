"""Figures as they are written: in the units that are asked for, with the digits that tell them from a limit."""

from __future__ import annotations

from itertools import product

import pytest
from hypothesis import given
from hypothesis import strategies as st

from inkthread.catalogue import shipped_catalogue
from inkthread.core.brief import brief_room
from inkthread.core.conventions import read_conventions
from inkthread.core.document import parse_document
from inkthread.core.document.draft import Draft, LineError
from inkthread.core.measures import (
    LENGTHS,
    MASSES,
    TEMPERATURES,
    bare_length,
    format_current,
    format_length,
    format_mass,
    format_temperature,
    measured_in,
    told_apart,
)
from inkthread.core.quantity import parse_for_field
from inkthread.core.text import read_text, write_text
from inkthread.core.text.brief_lines import brief_into
from tests.conftest import HarnessBuilder, harness

CATALOGUE = shipped_catalogue()
ALL = [measured_in(*asked) for asked in product(LENGTHS, MASSES, TEMPERATURES)]


@given(st.sampled_from(ALL), st.floats(0.5, 20_000))
def test_a_length_as_it_is_shown_is_read_back_to_its_last_figure(units, mm):
    step = 0.51 if units.length != "inch" else 25.4 / 32 + 0.01
    assert parse_for_field("length_mm", format_length(mm, units), units) == pytest.approx(mm, abs=step)
    if units.length != "both":
        bare = bare_length(mm, units)
        assert parse_for_field("length_mm", bare, units) == pytest.approx(mm, abs=step), "under its heading"


@given(st.sampled_from(ALL), st.floats(-60, 400), st.floats(1, 9_000))
def test_temperature_and_mass_as_shown_are_read_back_with_their_unit_and_without(units, celsius, grams):
    shown = format_temperature(celsius, units)
    for text in (shown, shown.partition(" ")[0]):
        assert parse_for_field("ambient_c", text, units) == pytest.approx(celsius, abs=0.51)
    shown = format_mass(grams, units, 1)
    for text in (shown, shown.partition(" ")[0]):
        assert parse_for_field("mass_budget_g", text, units) == pytest.approx(grams, abs=0.15)


def test_the_scales_are_those_of_the_handbooks():
    """212 deg F is 100 deg C; a pound of 453.59237 g has 16 ounces (NIST Handbook 44, appendix C)."""
    units = measured_in("inch", "oz", "F")
    assert format_temperature(100, units) == "212 °F"
    assert format_mass(453.59237, units) == "16.0 oz"
    assert format_length(304.8, units) == "12 in"


@given(st.floats(0.01, 500), st.floats(-1e-3, 1e-3), st.integers(0, 2))
def test_a_figure_beside_its_limit_is_on_its_side_of_it_as_far_as_three_more_digits_tell(limit, off, digits):
    limit = round(limit, digits)
    value = limit * (1 + off)
    said = told_apart(value, limit, digits)
    if float(said) != limit:
        assert (float(said) > limit) == (value > limit)
    else:
        assert abs(value - limit) <= 10 ** -(digits + 3)
    assert abs(float(said) - value) <= 0.5 * 10**-digits + 1e-9


@pytest.mark.parametrize(
    ("value", "limit", "said"),
    [
        (3.03, 3.0, "3.03"),
        (3.0, 3.0, "3.0"),
        (2.96, 3.0, "2.96"),
        (2.94, 3.0, "2.9"),
        (3.0004, 3.0, "3.0004"),
    ],
)
def test_no_more_digits_are_shown_than_tell(value, limit, said):
    assert told_apart(value, limit) == said


def test_a_current_over_what_is_held_never_reads_as_what_is_held():
    assert format_current(13.02, 13) == "13.02 A"
    assert format_current(13.02) == "13 A"
    assert format_current(14.0, 13) == "14 A"


def test_a_finding_speaks_in_the_harnesss_units():
    """A connector that is wider than its opening, once in each."""
    said = []
    for length in LENGTHS:
        builder = harness("chassis").set("brief/units", length)
        builder.set("route/points/box/opening_mm", 12.0).set("route/points/box/after_terminating", True)
        said += [f.what for f in builder.evaluate().findings if f.code == "connector-cannot-pass"][:1]
    metric, inch, both = said
    assert "12 mm" in metric
    assert "0.47 in" in inch
    assert "mm" not in inch
    assert "12 mm (0.47 in)" in both


@pytest.mark.parametrize(
    ("line", "fields"),
    [
        (
            "units inch, oz, °F, Letter",
            {"units": "inch", "mass_unit": "oz", "temperature_unit": "F", "paper": "Letter"},
        ),
        ("units both", {"units": "both", "mass_unit": "g"}),
        ("money £ before", {"currency": "£", "currency_first": True}),
        ("money EUR", {"currency": "EUR", "currency_first": False}),
        ("money none", {"currency": ""}),
    ],
)
def test_lines_say_units_and_money_and_are_written_again(line, fields):
    builder = HarnessBuilder("marine")
    draft = Draft(builder.plain)
    brief_into(draft, CATALOGUE, line)
    brief = parse_document(draft.plain).brief
    assert {name: getattr(brief, name) for name in fields} == fields
    read = read_text(write_text(draft.plain, CATALOGUE), CATALOGUE)
    assert read.document is not None
    assert parse_document(read.document).brief == brief


@pytest.mark.parametrize(
    ("line", "named"),
    [("units cubits", "cubits"), ("units inch stone", "stone"), ("money doubloons", "doubloons")],
)
def test_a_unit_that_is_none_is_named(line, named):
    draft = Draft(HarnessBuilder("marine").plain)
    with pytest.raises(LineError, match=named):
        brief_into(draft, CATALOGUE, line)
    with pytest.raises(LineError, match=named):
        read_conventions(CATALOGUE, f"colours supply: RD\n{line}")


def test_an_inch_harness_is_cut_in_whole_eighths_or_as_its_rule_says():
    steps = {
        length: brief_room(
            parse_document(HarnessBuilder("vehicle").set("brief/units", length).plain), CATALOGUE
        ).value("cut_step_mm")
        for length in LENGTHS
    }
    assert steps["both"] == steps["metric"] != steps["inch"]
