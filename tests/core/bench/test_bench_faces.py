"""The bench is one thing with two faces: the same answers on screen and on the command line."""

from __future__ import annotations

import json
import math

import pytest

from inkthread.cli import main
from inkthread.core.bench import CALCULATORS, BenchError, calculate
from inkthread.core.bench.calculators import Calculator
from inkthread.core.quantity import QuantityError

ASKED = [c for c in CALCULATORS.values() if c.name != "convert"]
NAMES = [c.name for c in ASKED]


def begun(calculator: Calculator) -> dict[str, str]:
    """What must be said, as the fields' own examples say it, and what stands there by default."""
    given = {f.name: f.example for f in calculator.fields if f.required}
    return {**{f.name: f.default for f in calculator.fields if f.default}, **given}


def on_the_line(calculator: Calculator, given: dict[str, str]) -> list[str]:
    arguments = ["reckon", calculator.name]
    for f in calculator.fields:
        text = given.get(f.name)
        if not text:
            continue
        option = "--" + f.name.replace("_", "-")
        if f.kind == "flag":
            arguments += [option] if text == "yes" else []
        else:
            arguments += [option, text]
    return arguments


@pytest.mark.parametrize("calculator", ASKED, ids=NAMES)
def test_what_stands_there_at_first_has_an_answer(catalogue, calculator):
    answer = calculate(catalogue, calculator.name, begun(calculator))
    assert answer.sentence
    assert answer.sentence.lstrip("*")[0].isupper() or answer.sentence.lstrip("*")[0].isdigit()
    assert answer.sentence.rstrip().endswith((".", "?"))
    assert answer.lines
    assert answer.figures
    assert all(line.label for line in answer.lines)
    assert answer.sources, "every answer says where it comes from"


@pytest.mark.parametrize("calculator", ASKED, ids=NAMES)
def test_the_command_line_says_the_same(capsys, catalogue, calculator):
    given = begun(calculator)
    answer = calculate(catalogue, calculator.name, given)
    status = main([*on_the_line(calculator, given), "--json"])
    printed = json.loads(capsys.readouterr().out)
    assert printed == json.loads(json.dumps(answer.figures))
    assert status == (0 if answer.holds else 1)
    main(on_the_line(calculator, given))
    text = capsys.readouterr().out
    assert text.startswith(answer.plain)
    assert "**" not in text
    assert all(line.label in text for line in answer.lines)


def numbers(value: object) -> list[float]:
    if isinstance(value, bool) or value is None or isinstance(value, str):
        return []
    if isinstance(value, (int, float)):
        return [float(value)]
    if isinstance(value, dict):
        return [n for v in value.values() for n in numbers(v)]
    assert isinstance(value, (list, tuple))
    return [n for v in value for n in numbers(v)]


@pytest.mark.parametrize("calculator", ASKED, ids=NAMES)
def test_every_figure_is_a_number_that_can_be_used(catalogue, calculator):
    found = numbers(calculate(catalogue, calculator.name, begun(calculator)).figures)
    assert all(math.isfinite(n) for n in found)
    assert all(n >= -273.15 for n in found)


@pytest.mark.parametrize("calculator", ASKED, ids=NAMES)
def test_a_field_it_does_not_know_is_refused_by_name(catalogue, calculator):
    with pytest.raises(BenchError) as refused:
        calculate(catalogue, calculator.name, {**begun(calculator), "wheels": "4"})
    assert "wheels" in str(refused.value)


MISSING = [(c, f) for c in ASKED for f in c.fields if f.required]


@pytest.mark.parametrize(("calculator", "field"), MISSING, ids=[f"{c.name}-{f.name}" for c, f in MISSING])
def test_what_must_be_said_is_asked_for_by_its_label(catalogue, calculator, field):
    given = {k: v for k, v in begun(calculator).items() if k != field.name}
    with pytest.raises(BenchError) as refused:
        calculate(catalogue, calculator.name, given)
    assert refused.value.field == field.name
    assert field.label in str(refused.value)


TYPED = [(c, f) for c in ASKED for f in c.fields if f.kind not in ("flag", "text", "choice")]


@pytest.mark.parametrize(("calculator", "field"), TYPED, ids=[f"{c.name}-{f.name}" for c, f in TYPED])
@pytest.mark.parametrize("typed", ["banana", "1e400", "-1 parsec", "NaN"])
def test_what_is_no_use_is_refused_and_the_field_named(catalogue, calculator, field, typed):
    with pytest.raises(QuantityError) as refused:
        calculate(catalogue, calculator.name, {**begun(calculator), field.name: typed})
    assert getattr(refused.value, "field", field.name) in ("", field.name)
    assert str(refused.value)


HOPELESS = [
    (
        "ampacity",
        {"family": "J1128-GXL", "gauge": "12 AWG", "ambient": "130 C"},
        ("at 130 °C", "125 °C", "AS22759/16 is good for 150 °C"),
    ),
    (
        "ampacity",
        {"family": "J1128-GXL", "gauge": "12 AWG", "ambient": "80 C", "conductor_temp": "70 C"},
        ("at 80 °C", "may be at 70 °C"),
    ),
    (
        "wire",
        {"practice": "vehicle", "amps": "8 A", "length": "5 m", "volts": "12 V", "ambient": "130 C"},
        ("at 130 °C", "no size of it helps"),
    ),
    (
        "drop",
        {"family": "J1128-GXL", "gauge": "16 AWG", "length": "10 km", "amps": "5 A", "volts": "12 V"},
        ("more than the 12 V there are", "a dead short draws 0.0404 A"),
    ),
    (
        "drop",
        {"family": "J1128-GXL", "gauge": "16 AWG", "length": "5 m", "amps": "10000 A", "volts": "12 V"},
        ("more than the 12 V", "a dead short draws"),
    ),
]


@pytest.mark.parametrize(("name", "given", "words"), HOPELESS)
def test_what_cannot_be_is_said_in_words_and_what_would_do(capsys, catalogue, name, given, words):
    answer = calculate(catalogue, name, given)
    assert not answer.holds
    for word in words:
        assert word in answer.sentence
    calculator = next(c for c in ASKED if c.name == name)
    assert main([*on_the_line(calculator, given), "--json"]) == 1
    out, err = capsys.readouterr()
    assert json.loads(out)
    assert answer.plain in err


def test_a_drop_is_told_at_any_conductor_that_is_asked_for(catalogue):
    asked = {"family": "J1128-GXL", "gauge": "12 AWG", "length": "1 m", "amps": "5 A", "volts": "12 V"}
    stated = calculate(catalogue, "drop", {**asked, "conductor_temp": "150 C"})
    assert stated.holds
    assert any("above the 125 °C" in line.note for line in stated.lines)
    # Where it is the current that makes it too hot, it does not hold.
    assert not calculate(catalogue, "drop", {**asked, "amps": "150 A"}).holds


@pytest.mark.parametrize("calculator", ASKED, ids=NAMES)
def test_bad_input_ends_the_command_with_status_2_and_a_remedy(capsys, calculator):
    required = [f for f in calculator.fields if f.required]
    if not required:
        pytest.skip("nothing must be said")
    arguments = on_the_line(calculator, {**begun(calculator), required[0].name: "banana"})
    assert main(arguments) == 2
    said = capsys.readouterr().err
    assert "banana" in said or required[0].name.replace("_", "-") in said
