"""The bench calculator against arithmetic that can be done on paper."""

from __future__ import annotations

import pytest

from inkthread.core.bench import reckon_wire
from inkthread.core.physics.conductor import awg_area_mm2


def test_drop_of_a_bench_wire_is_ohms_law_with_warm_copper(catalogue):
    found = reckon_wire(catalogue, "motorsport", "J1128-TXL", 9.0, 4200, 13.2, 60.0, drop_limit="3 %")
    best = next(c for c in found.candidates if c.gauge == found.gauge)
    size = catalogue.wires["J1128-TXL"].size(found.gauge)
    warm = size.resistance_ohm_per_km / 1000 * (1 + 0.00393 * (best.temperature_c - 20))
    assert found.drop_v == pytest.approx(9.0 * 8.4 * warm, rel=1e-3)
    assert found.governs == "drop"
    assert found.gauge == "10 AWG"
    below = found.candidates[found.candidates.index(best) - 1]
    assert "drop" in below.fails


def test_a_structure_return_halves_the_loop(catalogue):
    wired, structure = (
        reckon_wire(
            catalogue, "motorsport", "J1128-TXL", 9.0, 4200, 13.2, 60.0, return_path=r, drop_limit="3 %"
        )
        for r in ("wired", "structure")
    )
    assert [c.drop_v for c in structure.candidates] == pytest.approx(
        [c.drop_v / 2 for c in wired.candidates], rel=1e-3
    )
    assert structure.area_mm2 < wired.area_mm2


@pytest.mark.parametrize(("amps", "feet", "allowed"), [(10, 20, 0.36), (5, 30, 1.2), (15, 12, 0.36)])
def test_marine_drop_formula_agrees_on_the_gauge_it_asks_for(catalogue, amps, feet, allowed):
    """ABYC E-11: circular mils = 10.75 I L / E, L the round trip in feet. From memory.

    Ours takes the conductor's own area and working temperature, so the copper asked for may differ
    by a quarter, not by more.
    """
    found = reckon_wire(
        catalogue, "marine", "PVC-GENERAL", amps, feet / 2 * 304.8, 12.0, 30.0, drop_limit=f"{allowed} V"
    )
    need_mm2 = 10.75 * amps * feet / allowed * 5.067e-4
    smaller = [c for c in found.candidates if "drop" in c.fails]
    assert smaller[-1].area_mm2 < need_mm2 * 1.25
    passing = next(c for c in found.candidates if "drop" not in c.fails)
    assert passing.area_mm2 > need_mm2 * 0.95


@pytest.mark.parametrize(("practice", "least"), [("aviation", 22), ("marine", 16)])
def test_strength_minimum_by_practice(catalogue, practice, least):
    """Aviation 22 AWG, marine 16 AWG (ABYC E-11; SAE copper is 0.90 of AWG there). From memory."""
    found = reckon_wire(catalogue, practice, "PVC-GENERAL", 0.05, 500, 12.0, 30.0)
    assert found.gauge == f"{least} AWG"
    assert found.governs == "strength"
    assert found.area_mm2 >= awg_area_mm2(least) * 0.89


def test_aviation_takes_its_limit_from_the_table(catalogue):
    found = reckon_wire(catalogue, "aviation", "AS22759/16", 5, 3000, 13.8, 40.0)
    assert found.drop_limit_v == 0.5
    assert "11-6" in found.drop_limit_source


def test_where_no_size_fits_it_says_so_and_gives_the_largest(catalogue):
    found = reckon_wire(catalogue, "vehicle", "J1128-TXL", 150, 9000, 12.0, 80.0)
    assert not found.fits
    assert found.gauge == "8 AWG"
