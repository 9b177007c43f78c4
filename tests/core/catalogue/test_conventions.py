"""What a shop always does: colours by role and by circuit, and the ends its devices begin with."""

from __future__ import annotations

import pytest

from inkthread.catalogue import shipped_catalogue
from inkthread.core.conventions import colours_into, read_conventions, with_conventions
from inkthread.core.document.draft import Draft, LineError
from tests.conftest import HarnessBuilder

CATALOGUE = shipped_catalogue()


def shop(*lines: str) -> HarnessBuilder:
    builder = HarnessBuilder("vehicle")
    builder.catalogue = with_conventions(CATALOGUE, read_conventions(CATALOGUE, "\n".join(lines)))
    draft = Draft(builder.plain)
    colours_into(draft, builder.catalogue)
    builder.plain = draft.plain
    return builder


def colours(builder: HarnessBuilder) -> dict[str, set[str]]:
    found: dict[str, set[str]] = {}
    circuits = builder.plain["circuits"]["circuits"]
    for w in builder.evaluate().wire.wires.values():
        found.setdefault(circuits[w.circuit]["name"], set()).add(w.colour)
    return found


def pumps(builder: HarnessBuilder) -> HarnessBuilder:
    builder.feed("B1 battery > F1 fuse block > M1 fuel pump 4 A > B1", "F1 > M2 water pump 3 A > B1")
    return builder.run("B1 100 > F1 400 > M1", "F1 300 > M2")


def test_a_circuit_has_the_colour_of_its_name_and_its_return_does_not():
    named = colours(pumps(shop('colours "fuel pump": OG', 'colours "water pump return": GN')))
    assert named["fuel pump feed"] == {"OG"}
    assert named["fuel pump return"] <= {"BK"}
    assert "OG" not in named["water pump feed"]
    plain = colours(pumps(HarnessBuilder("vehicle")))
    assert plain["fuel pump feed"] != {"OG"}


def test_a_role_has_the_shops_colours():
    named = colours(pumps(shop("colours supply: VT", "# the rest as the scheme has it")))
    assert {c for name, held in named.items() if "feed" in name for c in held} == {"VT"}


def test_a_later_line_of_the_same_circuits_takes_the_place_of_the_first():
    builder = shop('colours "fuel pump": OG', 'colours "fuel pump": GN WH')
    assert {k: x["colours"] for k, x in builder.plain["wire"]["circuit_colours"].items()} == {
        "fuel pump": "GN WH"
    }


def test_a_device_begins_with_the_end_and_the_ways_that_were_agreed():
    builder = shop("ends three-wire sensor: SS15 supply=1 signal=3 3=2")
    builder.feed("B1 battery > A1 controller 1 A > B1", "A1.I1 > T1.2 throttle sensor (three-wire sensor)")
    assert builder.plain["ends"]["connectors"]["T1"]["family"] == "SS15"
    way = {r: e["cavity"] for r, e in builder.plain["ends"]["pinout"].items() if r.startswith("T1.")}
    assert way == {"T1.1": "1", "T1.2": "3", "T1.3": "2"}
    # Another family named in the line keeps its own order.
    other = shop("ends three-wire sensor: SS15 supply=1 signal=3 3=2")
    other.feed("A1 controller 1 A", "A1.I1 > T1.2 throttle sensor (three-wire sensor) (SR16)")
    assert other.plain["ends"]["connectors"]["T1"]["family"] == "SR16"
    assert {r: e["cavity"] for r, e in other.plain["ends"]["pinout"].items() if r.startswith("T1.")}[
        "T1.2"
    ] == "2"


@pytest.mark.parametrize(
    ("line", "word"),
    [
        ("paint it red", "'paint'"),
        ("colours supply: QQ", "'QQ'"),
        ("colours feeds: RD", "quotes"),
        ('colours "": RD', "words"),
        ("ends flux capacitor: SS15", "flux capacitor"),
        ("ends three-wire sensor: SS99", "SS99"),
        ("ends three-wire sensor: SS15 9=1", "'9'"),
        ("ends three-wire sensor: SS15 1=1 2=1", "Two pins"),
        ("ends three-wire sensor: SS15 1=77", "no housing"),
        ("ends three-wire sensor", "Write ends"),
    ],
)
def test_a_convention_that_is_not_understood_is_refused_with_its_line(line, word):
    with pytest.raises(LineError, match="Line 2") as refused:
        read_conventions(CATALOGUE, f"colours supply: RD\n{line}")
    assert word in str(refused.value)


def test_a_shop_without_colours_says_where_they_are_said():
    with pytest.raises(LineError, match="drawers"):
        HarnessBuilder("vehicle")._act("house_colours", "")
    builder = shop("colours supply: VT")
    builder.plain["wire"]["role_colours"] = {}
    builder._act("house_colours", "")
    assert builder.plain["wire"]["role_colours"]["supply"]["colours"] == "VT"
