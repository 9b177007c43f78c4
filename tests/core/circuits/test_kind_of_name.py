"""Names and the kinds that a person means by them (common practice, no source)."""

from __future__ import annotations

import re
from pathlib import Path

import pytest

from inkthread.core.circuits.kind_of_name import guess_kind

NAMES = Path(__file__).parent / "names"


def table(name: str) -> list[tuple[str, str, str]]:
    """Id, name and kind of each line of a table of names."""
    lines = (NAMES / f"{name}.txt").read_text(encoding="utf-8").splitlines()
    found = []
    for line in lines:
        if line.startswith("#"):
            continue
        said, kind = (x.strip() for x in line.split("|"))
        match = re.match(r"([A-Z]\d+) (.*)", said)
        found.append((match[1], match[2], kind) if match else ("", said, kind))
    return found


@pytest.mark.parametrize("which", ["before", "after"])
def test_names_mean_what_a_person_means_by_them(catalogue, which):
    wrong = {
        f"{device_id} {name}".strip(): guess_kind(catalogue, name, device_id)
        for device_id, name, kind in table(which)
        if guess_kind(catalogue, name, device_id) != kind
    }
    assert wrong == {}


def test_the_tables_are_long_enough_and_say_nothing_twice():
    before, after = table("before"), table("after")
    assert len(before) >= 150
    assert len(before) + len(after) >= 300
    names = [name for _, name, _ in before + after]
    assert len(set(names)) == len(names)


def test_every_kind_but_what_is_no_device_is_reached_by_a_name(catalogue):
    kinds = {kind for which in ("before", "after") for _, _, kind in table(which)}
    assert set(catalogue.kinds) - kinds <= {"proximity_sinking"}


@pytest.mark.parametrize("name", ["widget", "bracket", "thing 2"])
@pytest.mark.parametrize("device_id", ["X5", "M3", ""])
def test_an_unknown_word_is_another_device_whatever_its_letter(catalogue, name, device_id):
    assert guess_kind(catalogue, name, device_id) == "other"


def test_the_letter_decides_between_kinds_of_one_noun(catalogue):
    """An indicator is a lamp on a car and an instrument in a panel."""
    assert guess_kind(catalogue, "left indicator", "E2") == "led"
    assert guess_kind(catalogue, "climb rate indicator", "A4") == "instrument"
    assert guess_kind(catalogue, "indicator") == "led"


def test_one_and_several_large_and_small_are_the_same(catalogue):
    assert {guess_kind(catalogue, n) for n in ("pump", "Pumps", "LIFT PUMP", "lift-pump")} == {"motor"}
