"""Faces against the pitches and rows that their standards give; all from memory of the standards named."""

from __future__ import annotations

import itertools
import math
from collections import Counter

import pytest

from inkthread.catalogue import shipped_catalogue

CATALOGUE = shipped_catalogue()


def places(code: str, ways: int) -> dict[str, tuple[float, float]]:
    housing = CATALOGUE.connectors[code].housing(ways)
    assert housing is not None
    return dict(housing.face.cavities)


def rows(code: str, ways: int) -> list[int]:
    """How many ways stand in each row, from the top."""
    count = Counter(round(y, 2) for _, y in places(code, ways).values())
    return [n for _, n in sorted(count.items(), reverse=True)]


def pitch_mm(code: str, ways: int) -> float:
    """Distance between the two nearest ways of one row."""
    held = list(places(code, ways).values())
    beside = [abs(a[0] - b[0]) for n, a in enumerate(held) for b in held[:n] if abs(a[1] - b[1]) < 0.01]
    return min(beside)


@pytest.mark.parametrize(
    ("ways", "in_rows"),
    [(9, [5, 4]), (15, [8, 7]), (25, [13, 12]), (37, [19, 18]), (50, [17, 16, 17])],
)
def test_standard_d_shells_have_their_rows_and_pitch(ways, in_rows):
    """IEC 60807-3: 2.77 mm in a row, rows 2.84 mm apart, the second set off by half a pitch."""
    assert rows("DSTD", ways) == in_rows
    assert pitch_mm("DSTD", ways) == pytest.approx(2.77, abs=0.02)
    heights = sorted({round(y, 2) for _, y in places("DSTD", ways).values()})
    assert all(b - a == pytest.approx(2.84, abs=0.02) for a, b in itertools.pairwise(heights))
    top = sorted(x for x, y in places("DSTD", ways).values() if round(y, 2) == heights[-1])
    below = sorted(x for x, y in places("DSTD", ways).values() if round(y, 2) == heights[-2])
    assert (below[0] - top[0]) == pytest.approx(2.77 / 2, abs=0.02)


@pytest.mark.parametrize(
    ("ways", "in_rows"), [(15, [5, 5, 5]), (26, [9, 9, 8]), (44, [15, 15, 14]), (62, [21, 21, 20])]
)
def test_high_density_d_shells_have_three_rows(ways, in_rows):
    """2.29 mm in a row, rows 1.98 mm apart."""
    assert rows("DHIGH", ways) == in_rows
    assert pitch_mm("DHIGH", ways) == pytest.approx(2.29, abs=0.02)


@pytest.mark.parametrize(
    ("code", "mm"),
    [("HD1", 2.54), ("HD2", 2.54), ("SV3", 2.54), ("PW42", 4.2), ("LT25", 2.5)],
)
def test_pitches_that_give_families_their_names(code, mm):
    """A tenth of an inch; 4.2 mm; 2.5 mm: common practice, no source."""
    for housing in CATALOGUE.connectors[code].housings:
        if housing.ways > 1:
            held = list(housing.face.cavities.values())
            nearest = min(math.dist(a, b) for n, a in enumerate(held) for b in held[:n])
            assert nearest == pytest.approx(mm, abs=0.01), housing.ways


@pytest.mark.parametrize("code", ["M12S", "M12C"])
def test_m12_pins_stand_on_a_circle_as_their_standard_has_them(code):
    """IEC 61076-2-101, A-coded: four at right angles; a fifth in the middle; of eight, seven around one."""
    four = places(code, 4)
    radius = math.hypot(*four["1"])
    assert all(math.hypot(*p) == pytest.approx(radius, rel=0.01) for p in four.values())
    angles = sorted(math.degrees(math.atan2(y, x)) % 360 for x, y in four.values())
    assert [b - a for a, b in itertools.pairwise(angles)] == pytest.approx([90, 90, 90], abs=0.5)
    assert places(code, 5)["5"] == pytest.approx((0, 0), abs=0.01)
    eight = places(code, 8)
    assert eight["8"] == pytest.approx((0, 0), abs=0.01)
    around = sorted(math.degrees(math.atan2(y, x)) % 360 for n, (x, y) in eight.items() if n != "8")
    steps = [b - a for a, b in itertools.pairwise(around)]
    assert steps == pytest.approx([360 / 7] * 6, abs=1)


@pytest.mark.parametrize(
    "family", [f for f in CATALOGUE.connectors.values() if not f.loose], ids=lambda f: f.code
)
def test_the_marks_that_turn_a_face_the_right_way_up_are_on_it(family):
    """Key, latch, lever, triangle: each on the face or at its rim, and no two of a kind at one place."""
    for housing in family.housings:
        face = housing.face
        assert face.marks, (family.code, housing.ways)
        reach = max(face.width_mm, face.height_mm) / 2 + max(face.width_mm, face.height_mm) * 0.6
        seen = set()
        for mark in face.marks:
            assert abs(mark.x_mm) <= reach
            assert abs(mark.y_mm) <= reach
            assert mark.width_mm > 0
            assert mark.height_mm > 0
            key = (mark.kind, round(mark.x_mm, 2), round(mark.y_mm, 2))
            assert key not in seen
            seen.add(key)


def test_relay_contacts_have_the_numbers_of_their_standard():
    """DIN 72552: 30 common, 85 and 86 coil, 87 made, 87a broken."""
    held = places("RBLK", 5)
    assert set(held) == {"30", "85", "86", "87", "87a"}
    # The coil lies across from itself, and 87a between the others.
    assert held["85"][1] == pytest.approx(held["86"][1], abs=0.01)
    assert held["87a"] == min(held.values(), key=lambda p: math.hypot(*p))


def test_letters_that_look_like_figures_or_each_other_are_left_out():
    """MIL-STD-1560, from memory: inserts with letters have no I, O or Q."""
    for code in ("CM16", "CM20", "CM8"):
        for housing in CATALOGUE.connectors[code].housings:
            assert not {"I", "O", "Q"} & set(housing.face.cavities), (code, housing.ways)
            assert next(iter(housing.face.cavities)) == "A"
