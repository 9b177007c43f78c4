"""Every notation that a builder may type."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from inkthread.core.quantity import (
    QuantityError,
    convert,
    format_length,
    nearest_awg_not_losing_copper,
    parse_current_a,
    parse_for_field,
    parse_gauge,
    parse_length_mm,
    parse_mass_g,
    parse_temperature_c,
)


@pytest.mark.parametrize(
    ("text", "mm"),
    [
        ("9 1/4 in", 234.95),
        ("9-1/4 in", 234.95),
        ('3/16"', 4.7625),
        ("111 thou", 2.8194),
        ("4 ft 2", 1270.0),
        ("4 ft 2 in", 1270.0),
        ("4' 2 1/2\"", 1282.7),
        ("1.2 m", 1200.0),
        ("1,2 m", 1200.0),
        ("1 m 20 cm", 1200.0),
        ("340", 340.0),
        ("340mm", 340.0),
        (".5in", 12.7),
        ("1½ in", 38.1),
    ],
)
def test_lengths(text, mm):
    assert parse_length_mm(text) == pytest.approx(mm, abs=1e-9)


def test_a_bare_length_is_inches_where_the_document_is():
    assert parse_length_mm("9 1/4", "inch") == pytest.approx(234.95)


@pytest.mark.parametrize(
    ("text", "name", "area"),
    [
        ("18 AWG", "18 AWG", 0.823),
        ("18awg", "18 AWG", 0.823),
        ("#18", "18 AWG", 0.823),
        ("2/0", "2/0 AWG", 67.43),
        ("0000", "4/0 AWG", 107.22),
        ("0.75mm2", "0.75 mm²", 0.75),
        ("0,75 mm²", "0.75 mm²", 0.75),
    ],
)
def test_gauges(text, name, area):
    found = parse_gauge(text)
    assert found.name == name
    assert found.area_mm2 == pytest.approx(area, rel=1e-3)


@pytest.mark.parametrize(
    ("text", "celsius"), [("60C", 60), ("60", 60), ("-40 °C", -40), ("140 F", 60), ("333.15 K", 60)]
)
def test_temperatures(text, celsius):
    assert parse_temperature_c(text) == pytest.approx(celsius)


@pytest.mark.parametrize(("text", "amps"), [("11 A", 11), ("11", 11), ("350 mA", 0.35), ("7,5A", 7.5)])
def test_currents(text, amps):
    assert parse_current_a(text) == pytest.approx(amps)


@pytest.mark.parametrize("text", ["", "x", "-3", "3 elephants", "1/0 in", "4 4 4", "1,200 mm", "3 A", "in"])
def test_what_is_not_a_length_says_how_to_write_one(text):
    with pytest.raises(QuantityError) as caught:
        parse_length_mm(text)
    assert str(caught.value)


@given(st.floats(min_value=0.1, max_value=100_000))
def test_a_formatted_length_reads_back_within_its_own_step(mm):
    assert parse_length_mm(format_length(mm).replace(" ", "")) == pytest.approx(mm, abs=0.51)
    assert parse_length_mm(format_length(mm, "inch")) == pytest.approx(mm, abs=25.4 / 32 + 1e-9)


@pytest.mark.parametrize(("area", "awg"), [(0.75, 18), (1.0, 16), (1.5, 14), (2.5, 12)])
def test_metric_to_awg_never_loses_copper(area, awg):
    """Common practice, no source."""
    assert nearest_awg_not_losing_copper(area) == awg


def test_convert_gives_both_systems():
    assert convert("18 AWG") == {
        "kind": "gauge",
        "given": "18 AWG",
        "awg": 18,
        "area_mm2": 0.823,
        "diameter_mm": 1.0237,
    }
    assert convert("0.75 mm2")["awg"] == 18
    with pytest.raises(QuantityError):
        convert("seven")


@pytest.mark.parametrize(
    ("text", "grams"),
    [("260", 260.0), ("260 g", 260.0), ("0.26 kg", 260.0), ("1 oz", 28.349523125), ("1 lb", 453.59237)],
)
def test_masses_in_both_systems(text, grams):
    """The international avoirdupois pound is 0.45359237 kg by definition; an ounce is its sixteenth."""
    assert parse_mass_g(text) == pytest.approx(grams, rel=1e-12)
    assert parse_for_field("mass_budget_g", text, "metric") == pytest.approx(grams, rel=1e-12)


@pytest.mark.parametrize("text", ["", "heavy", "-3 g", "3 mm", "1 g 2 g"])
def test_what_is_no_mass_says_how_to_write_one(text):
    with pytest.raises(QuantityError):
        parse_mass_g(text)
