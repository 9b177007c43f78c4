"""Wires in rings, braid, tape and shrink tube, against geometry that is worked out another way."""

from __future__ import annotations

import math
from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from inkthread.catalogue import shipped_catalogue
from inkthread.core.catalogue.coverings import Ladder
from inkthread.core.physics.coverings import (
    WIDEST_DEG,
    braid_cut_factor,
    outer_growth_mm,
    tube_cut_mm,
    tube_wall_mm,
    wound_tape,
)
from inkthread.core.physics.lay import lay_up, ring_takes
from inkthread.core.physics.packing import least_around, pack
from inkthread.core.physics.twist import twist_factor
from tests.reference.test_packing import KNOWN_RATIO


def _helix_mm(pitch_mm: float, lay_mm: float, turns: float) -> float:
    """Length of a helix by adding up 20,000 chords."""
    angle = np.linspace(0, 2 * np.pi * turns, 20_001)
    points = np.stack(
        [pitch_mm / 2 * np.cos(angle), pitch_mm / 2 * np.sin(angle), lay_mm * angle / (2 * np.pi)]
    )
    return float(np.linalg.norm(np.diff(points, axis=1), axis=0).sum())


@pytest.mark.parametrize(("pitch", "lay"), [(1.5, 30.0), (5.08, 76.2), (12.0, 95.0), (8.0, 20.0)])
def test_a_twisted_wire_is_as_long_as_its_helix_added_up(pitch, lay):
    assert float(twist_factor(pitch, lay)) * lay * 3 == pytest.approx(_helix_mm(pitch, lay, 3), rel=1e-6)


@pytest.mark.parametrize(
    ("count", "rings"), [(7, (1, 6)), (19, (1, 6, 12)), (37, (1, 6, 12, 18)), (61, (1, 6, 12, 18, 24))]
)
def test_wires_all_alike_lie_as_concentric_strands(count, rings):
    """Concentric-lay conductors of 7, 19, 37 and 61 wires (ASTM B8, from memory)."""
    laid = lay_up((1.27,) * count, 12)
    assert tuple(len(ring.wires) for ring in laid.rings) == rings
    assert laid.fillers == 0
    assert laid.diameter_mm == pytest.approx(1.27 * (2 * len(rings) - 1))


@pytest.mark.parametrize("core", [1, 2, 3, 4, 5])
def test_each_ring_takes_six_more_than_the_one_below(core):
    """Ring counts of concentric strand, six more each time (ASTM B8 class, from memory)."""
    wide = KNOWN_RATIO[core - 1]
    taken = [ring_takes(wide + 2 * n, 1.0, 12 * (wide + 2 * n + 2)) for n in range(4)]
    assert all(after - before in (6, 7) for before, after in pairwise(taken))


def test_rings_turn_against_each_other_and_take_up_what_their_helix_does():
    laid = lay_up((1.27,) * 19, 12)
    assert [ring.turns for ring in laid.rings] == ["", "left", "right"]
    for ring in laid.rings[1:]:
        pitch = ring.inside_mm + 1.27
        assert ring.factors[0] * ring.lay_mm == pytest.approx(_helix_mm(pitch, ring.lay_mm, 1), rel=1e-6)
    assert laid.rings[0].factors == (1.0,)


def test_what_a_ring_lacks_is_filled():
    laid = lay_up((1.0,) * 17, 12)
    assert [len(ring.wires) for ring in laid.rings] == [1, 6, 10]
    assert [ring.fillers for ring in laid.rings] == [0, 0, 2]


@settings(max_examples=60, deadline=None)
@given(st.lists(st.sampled_from([0.8, 1.1, 1.27, 1.9, 2.6, 4.0]), min_size=1, max_size=50), st.floats(8, 40))
def test_every_wire_lies_in_one_ring_and_no_ring_is_overfull(diameters, factor):
    laid = lay_up(tuple(diameters), factor)
    assert sorted(w for ring in laid.rings for w in ring.wires) == list(range(len(diameters)))
    for ring in laid.rings[1:]:
        # Side by side on the core the ring's wires cover no more angle than there is (slack of 2 %).
        angle = sum(
            2 * math.asin(min(diameters[w] / (ring.inside_mm + diameters[w]) / 1.02, 1)) for w in ring.wires
        )
        assert angle <= 2 * math.pi * 1.08
        assert all(factor_ >= 1 for factor_ in ring.factors)
    assert laid.diameter_mm >= least_around(tuple(diameters)) * 0.97


def test_no_packing_is_below_its_least_and_the_least_is_no_idle_bound():
    for count in range(1, 38):
        least = least_around((2.0,) * count) / 2
        assert least <= KNOWN_RATIO[count - 1] + 1e-7
        assert least >= KNOWN_RATIO[count - 1] * 0.87
    mixed = (3.1, 2.4, 2.4, 1.9, 1.27, 1.27, 1.1, 0.8)
    assert least_around(mixed) <= pack(mixed).diameter


@pytest.mark.parametrize("opened", [0.7, 1.0, 1.3, 1.5])
def test_a_braid_keeps_the_length_of_its_yarns(opened):
    """One yarn unrolled: with the same turns and the same length, what is left goes along the bundle."""
    turns, relaxed, angle = 5.0, 10.0, 38.0
    along = turns * math.pi * relaxed / math.tan(math.radians(angle))
    yarn = math.hypot(along, turns * math.pi * relaxed)
    covered = math.sqrt(yarn**2 - (turns * math.pi * relaxed * opened) ** 2)
    assert braid_cut_factor(relaxed * opened, relaxed, angle) == pytest.approx(along / covered, rel=1e-9)


def test_a_braid_opens_no_farther_than_its_yarns_let_it():
    edge = 10.0 * math.sin(math.radians(WIDEST_DEG)) / math.sin(math.radians(38))
    assert braid_cut_factor(edge * 0.999, 10.0, 38.0) > 2
    with pytest.raises(ValueError, match="does not open"):
        braid_cut_factor(edge * 1.001, 10.0, 38.0)


@pytest.mark.parametrize(("overlap", "width"), [(0.5, 19.0), (0.0, 9.0), (-0.5, 9.0), (0.25, 19.0)])
def test_tape_covers_the_bundle_as_often_as_its_overlap_says(overlap, width):
    """Area of tape over area of bundle is 1 / (1 - overlap): 2 at half overlap (arithmetic of areas)."""
    wound = wound_tape(7.2, 420, width, overlap, end_turns=0)
    assert wound.length_mm * width == pytest.approx(math.pi * 7.2 * 420 / (1 - overlap), rel=1e-9)
    # Its own helix, a turn of it added up by chords.
    turn = _helix_mm(7.2, wound.advance_mm, 1)
    assert wound.length_mm == pytest.approx(turn * wound.turns, rel=1e-6)


def test_tape_wider_than_its_bundle_is_round_cannot_be_wound():
    assert wound_tape(7.2, 100, 22.6, 0.0).angle_deg > 80
    with pytest.raises(ValueError, match="too wide"):
        wound_tape(7.2, 100, 22.7, 0.0)


@given(st.floats(0.5, 30), st.floats(0.2, 4), st.floats(1, 3.9))
def test_a_tube_keeps_its_area(recovered, wall, opened):
    bore = recovered * opened
    thin = tube_wall_mm(recovered, wall, bore)
    assert (bore + 2 * thin) ** 2 - bore**2 == pytest.approx((recovered + 2 * wall) ** 2 - recovered**2)


def test_a_tube_is_cut_longer_than_it_ends():
    assert tube_cut_mm(100, -5) * 0.95 == pytest.approx(100)
    assert tube_cut_mm(100, -5, share=0) == 100


def test_the_outside_of_a_bend_is_longer_by_its_arc():
    assert (100 + 5) * math.pi / 2 - 100 * math.pi / 2 == pytest.approx(outer_growth_mm(90, 5))


# AMS-DTL-23053/5 class 1, inches as supplied and recovered (from memory).
PUBLISHED_2_TO_1 = {
    "3/64": (0.046, 0.023), "1/16": (0.063, 0.031), "3/32": (0.093, 0.046), "1/8": (0.125, 0.062),
    "3/16": (0.187, 0.093), "1/4": (0.25, 0.125), "3/8": (0.375, 0.187), "1/2": (0.5, 0.25),
    "3/4": (0.75, 0.375), "1": (1.0, 0.5), "1-1/2": (1.5, 0.75), "2": (2.0, 1.0), "3": (3.0, 1.5),
    "4": (4.0, 2.0),
}  # fmt: skip
# AMS-DTL-23053/4 dual wall (from memory).
PUBLISHED_DUAL = {
    "1/8": (0.125, 0.023), "3/16": (0.187, 0.060), "1/4": (0.25, 0.08), "3/8": (0.375, 0.135),
    "1/2": (0.5, 0.195), "3/4": (0.75, 0.313), "1": (1.0, 0.4),
}  # fmt: skip


@pytest.mark.parametrize(("code", "published"), [("HS2", PUBLISHED_2_TO_1), ("HD4", PUBLISHED_DUAL)])
def test_shrink_tube_is_as_its_standard_says(code, published):
    ladder = next(x for x in shipped_catalogue().coverings.ladders if x.code == code)
    assert {name for name, *_ in ladder.sizes} == set(published)
    for name, supplied, recovered, _ in ladder.sizes:
        assert supplied == pytest.approx(published[name][0] * 25.4, abs=0.001)
        assert recovered == pytest.approx(published[name][1] * 25.4, abs=0.001)


@pytest.mark.parametrize(("code", "ratio"), [("HL3", 3), ("HL4", 4)])
def test_lined_tube_shrinks_by_its_ratio(code, ratio):
    """Typical metric ladders, from memory: no single standard fixes them, makers differ by 5 to 10 %."""
    ladder = next(x for x in shipped_catalogue().coverings.ladders if x.code == code)
    for _, supplied, recovered, _ in ladder.sizes:
        assert supplied / recovered == pytest.approx(ratio, rel=0.1)


@pytest.mark.parametrize(
    ("sizes", "said"),
    [
        ((("a", 6.0, 2.0, 1.0), ("b", 3.0, 1.0, 1.0)), "X b: 3 mm comes after 6;"),
        ((("a", 6.0, 6.0, 1.0),), "X a: 6 mm as supplied shrinks to 6 mm"),
        ((("a", 6.0, 2.0, 0.0),), "wall of 0 mm"),
    ],
)
def test_a_ladder_out_of_order_is_refused(sizes, said):
    with pytest.raises(ValueError, match=said):
        Ladder("X", "3:1", True, -10, 125, 1.0, 0.1, sizes, "from memory")
