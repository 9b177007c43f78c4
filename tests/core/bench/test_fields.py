"""What a screen shows of a field can be typed back: the unit behind the figure is understood."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from inkthread.core.document import DocumentError
from inkthread.core.measures import Measures, format_length
from inkthread.core.quantity import QuantityError, parse_for_field
from inkthread.web.typed import read_typed

SHOWN = [
    ("length_mm", "340 mm", 340.0),
    ("length_mm", "5.0 mm", 5.0),
    ("length_mm", "1.2 km", 1_200_000.0),
    ("current_a", "7.5 A", 7.5),
    ("internal_mohm", "14 mΩ", 14.0),
    ("structure_mohm", "2", 2.0),
    ("capacity_ah", "8 Ah", 8.0),
    ("slope_mv", "40 mV", 40.0),
    ("duty_percent", "25 %", 25.0),
    ("peak_s", "0.4 s", 0.4),
    ("inrush_s", "30 ms", 0.03),
    ("ambient_c", "85 °C", 85.0),
    ("area_mm2", "0.96 mm²", 0.96),
    ("resistance_mohm_per_m", "20.9 mΩ/m", 20.9),
    ("resistance_mohm_per_m", "20.9", 20.9),
    ("mass_g_per_m", "11.5 g/m", 11.5),
    ("radiant_w_per_m2", "800 W/m²", 800.0),
    ("radiant_w_per_m2", "800 w/m2", 800.0),
    ("altitude_m", "1500 m", 1500.0),
    ("altitude_m", "5000 ft", 1524.0),
    ("peak_repeats", "3", 3.0),
]


@pytest.mark.parametrize(("field", "text", "value"), SHOWN)
def test_a_shown_figure_is_read_back(field, text, value):
    assert parse_for_field(field, text) == pytest.approx(value)


@pytest.mark.parametrize(
    ("field", "text"),
    [
        ("length_mm", "three feet"),
        ("current_a", "7.5 V"),
        ("internal_mohm", "14 A"),
        ("resistance_mohm_per_m", "20.9 kg/m"),
        ("radiant_w_per_m2", "sunny"),
        ("ambient_c", "85 A"),
        ("duty_percent", "often"),
    ],
)
def test_another_unit_is_refused(field, text):
    with pytest.raises(QuantityError):
        parse_for_field(field, text)


@given(st.floats(20.0, 50_000.0))
def test_lengths_as_shown_are_read_to_what_is_shown(mm):
    assert parse_for_field("length_mm", format_length(mm)) == pytest.approx(mm, abs=0.51)
    inches = parse_for_field("length_mm", format_length(mm, Measures("inch")), Measures("inch"))
    assert inches == pytest.approx(mm, abs=25.4 / 32 + 0.01), "to the nearest sixteenth"


def test_a_patch_is_read_field_by_field_and_names_the_one_that_is_wrong():
    good = {
        "op": "add",
        "path": "/wire/own_families/S/sizes/a",
        "value": {"area_mm2": "0.96", "gauge": "18 AWG"},
    }
    assert read_typed([good])[0]["value"] == {"area_mm2": 0.96, "gauge": "18 AWG"}
    bad = {"op": "replace", "path": "/circuits/loads/M1/current_a", "value": "plenty"}
    with pytest.raises(DocumentError) as caught:
        read_typed([good, bad])
    assert caught.value.problems[0].path == "/circuits/loads/M1/current_a"
    half = {"op": "replace", "path": "/circuits/loads/M1/peak_repeats", "value": "2.5"}
    with pytest.raises(DocumentError, match="whole number"):
        read_typed([half])
