"""Every notation that a builder may type."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from inkthread.core.converter import convert, nearest_awg_not_losing_copper
from inkthread.core.measures import Measures, format_length
from inkthread.core.quantity import (
    QuantityError,
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
    assert parse_length_mm("9 1/4", Measures("inch")) == pytest.approx(234.95)


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
    assert parse_length_mm(format_length(mm, Measures("inch"))) == pytest.approx(mm, abs=25.4 / 32 + 1e-9)


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
    assert parse_for_field("mass_budget_g", text) == pytest.approx(grams, rel=1e-12)


@pytest.mark.parametrize("text", ["", "heavy", "-3 g", "3 mm", "1 g 2 g"])
def test_what_is_no_mass_says_how_to_write_one(text):
    with pytest.raises(QuantityError):
        parse_mass_g(text)


@pytest.mark.parametrize(
    ("field", "text", "value"),
    [
        ("resistance_mohm", "2 MΩ", 2e9),
        ("resistance_mohm", "2 Mohm", 2e9),
        ("resistance_mohm", "2 megohm", 2e9),
        ("resistance_mohm", "2 mΩ", 2.0),
        ("resistance_mohm", "0.5 ohms", 500.0),
        ("internal_mohm", "14", 14.0),
        ("area_mm2", "250 kcmil", 126.68),
        ("area_mm2", "250 MCM", 126.68),
        ("area_mm2", "1620 cmil", 0.8209),
        ("least_v", "12 VDC", 12.0),
        ("least_v", "10.5 Vdc", 10.5),
        ("current_a", "7.5 amperes", 7.5),
        ("resistance_mohm_per_m", "6.23 mΩ/ft", 20.44),
        ("resistance_mohm_per_m", "6.23 ohm/1000 ft", 20.44),
        ("resistance_mohm_per_m", "18.5 ohm/km", 18.5),
        ("resistance_mohm_per_m", "18.5 mohm per metre", 18.5),
        ("resistance_mohm_per_m", "18.5", 18.5),
        ("mass_g_per_m", "9.7 kg/km", 9.7),
        ("mass_g_per_m", "6.5 lb/1000 ft", 9.673),
        ("price_per_m", "0.61/ft", 2.0013),
        ("length_mm", "2.5 metres", 2500.0),
        ("length_mm", '2 ½"', 63.5),
        ("length_mm", "2½ in", 63.5),
        ("length_mm", "3 yards", 2743.2),
        ("peak_s", "20 seconds", 20.0),
        ("peak_s", "2 hours", 7200.0),
        ("mass_budget_g", "0.26 kilograms", 260.0),
        ("mass_budget_g", "2 lbs", 907.18),
    ],
)
def test_units_as_they_are_written_in_catalogues_and_notebooks(field, text, value):
    """1 kcmil is 0.50671 mm2 and 1 ft 0.3048 m exactly; the rest is arithmetic."""
    assert parse_for_field(field, text) == pytest.approx(value, rel=1e-3)


@pytest.mark.parametrize(
    ("field", "text"),
    [("current_a", "11 MA"), ("least_v", "500 MV"), ("resistance_mohm", "2 MOHM"), ("peak_s", "20 MS")],
)
def test_a_prefix_that_could_be_misread_is_refused_with_both_readings(field, text):
    with pytest.raises(QuantityError, match="two ways") as caught:
        parse_for_field(field, text)
    assert "a million" in str(caught.value)
    assert "a thousandth" in str(caught.value)


@pytest.mark.parametrize(
    ("text", "kind", "figure", "value"),
    [
        ("0.02 ohm", "resistance", "resistance_ohm", 0.02),
        ("20 seconds", "time", "time_s", 20.0),
        ("1.5 kg", "mass", "mass_g", 1500.0),
        ("2200 mAh", "capacity", "capacity_ah", 2.2),
        ("12 VDC", "voltage", "voltage_v", 12.0),
        ("12 V DC", "voltage", "voltage_v", 12.0),
        ("7.5 A dc", "current", "current_a", 7.5),
        ("350 kcmil", "gauge", "area_mm2", 177.3476),
        ("6.23 mΩ/ft", "resistance per length", "resistance_mohm_per_m", 20.4396),
        ("18.5 ohm/km", "resistance per length", "resistance_mohm_per_m", 18.5),
        ("6.5 lb/1000 ft", "mass per length", "mass_g_per_m", 9.6731),
    ],
)
def test_the_converter_knows_every_kind(text, kind, figure, value):
    found = convert(text)
    assert found["kind"] == kind
    assert found[figure] == pytest.approx(value, rel=1e-5)


def test_beyond_the_largest_gauge_there_is_no_gauge_to_name():
    assert "awg" not in convert("350 kcmil")
    assert convert("4/0")["awg"] == "4/0"
    assert convert("107.2 mm2")["awg"] == "4/0"


def test_the_converter_tells_both_readings_too():
    with pytest.raises(QuantityError, match="two ways"):
        convert("2 MA")


@pytest.mark.parametrize("text", ["30", "30°", "30 deg", "30 degrees", " 30 ° "])
def test_an_angle_is_typed_with_or_without_its_sign(text):
    assert parse_for_field("clock_deg", text) == 30


def test_an_angle_in_words_is_refused():
    with pytest.raises(QuantityError):
        parse_for_field("clock_deg", "a quarter")
