"""Tube over barrels, and clamps by what each of them carries."""

from __future__ import annotations

import math

import pytest

from tests.conftest import HarnessBuilder
from tests.core.dress.test_checks import in_zone, shrink
from tests.core.dress.test_dress import rule
from tests.core.scenarios import pump


def barrels(builder: HarnessBuilder) -> list:
    return [s for s in builder.workings().dress.shrinks if s.over_barrel]


def three_rings(practice: str = "vehicle") -> HarnessBuilder:
    """Three wires on the stud of one battery, two of them alike."""
    builder = HarnessBuilder(practice).feed(
        "B1 battery > F1 fuse > M1 pump 4 A > B1", "B1.+ > F2 fuse > M2 pump 4 A > B1.-"
    )
    return builder.run("B1 100 > F1 900 > M1", "F1 50 > F2", "F1 700 > M2")


def test_every_bare_barrel_has_a_piece_that_passes_and_closes():
    w = three_rings().workings()
    families = w.catalogue.connectors
    bare = [
        (ref, key)
        for ref, key in w.ends.contacts
        if families[w.document.ends.connectors[w.document.ends.pinout[ref].connector].family].group
        == "terminal"
    ]
    pieces = [s for s in w.dress.shrinks if s.over_barrel]
    assert sum(s.count for s in pieces) == len(bare) > 2
    tubes = {t.code: t for t in w.catalogue.coverings.tubes()}
    for piece in pieces:
        assert piece.fits
        assert tubes[piece.code].recovered_mm < piece.onto_mm <= piece.over_mm < tubes[piece.code].supplied_mm
    widest = max(w.wire.wires[key].od_mm for _, key in bare)
    assert max(s.onto_mm for s in pieces) == pytest.approx(widest, abs=0.01)


@pytest.mark.parametrize(
    ("value", "zone", "lined"),
    [
        (1, {}, set()), (1, {"wet": True}, set()), (2, {}, {False, True}), (2, {"wet": True}, {True}),
        (2, {"salt": True}, {True}), (2, {"jets": True}, {True}), (3, {}, {True}),
    ],
)  # fmt: skip
def test_barrels_are_lined_by_the_house_rule_and_the_water(value, zone, lined):
    """Dry: plain but where none passes 3.2 mm and closes on 1.98 (2:1 is too little)."""
    pieces = barrels(rule(in_zone(pump(), **zone), "barrel_tube", value))
    assert {s.lined for s in pieces} == lined
    if value == 2 and not zone:
        assert {s.over_mm for s in pieces if s.lined} == {3.2}
        assert all(s.because == "plain would not close" for s in pieces if s.lined)


def test_a_barrel_is_as_long_as_its_strip_and_what_lies_on_the_insulation():
    builder = rule(pump(), "barrel_onto_mm", 17)
    w = builder.workings()
    (contact,) = [c for (ref, _), c in w.ends.contacts.items() if ref == "B1.+"]
    (piece,) = [s for s in barrels(builder) if s.place == "B1" and s.over_mm == contact.insulation_max_mm]
    assert piece.finished_mm == contact.strip_mm + 17


def test_what_the_builder_has_there_goes_before_the_rule():
    assert {s.place for s in barrels(shrink(pump(), "B1", left_out=True))} == {"F1"}
    assert {s.lined for s in barrels(shrink(pump(), "B1", lined=True)) if s.place == "B1"} == {True}


def test_pre_insulated_terminals_have_their_own():
    builder = pump().set("ends/connectors/B1/family", "RINGI")
    assert {s.place for s in barrels(builder)} == {"F1"}


def test_pieces_are_billed_each():
    w = three_rings().workings()
    pieces = [s for s in w.dress.shrinks if s.over_barrel]
    assert any(s.count > 1 for s in pieces)
    for code in {s.code for s in pieces}:
        cut_m = sum(s.cut_mm * s.count for s in w.dress.shrinks if s.code == code) / 1000
        billed = sum(x.quantity for x in w.evaluation.parts.lines if x.code == code)
        assert billed == pytest.approx(cut_m, abs=1e-3)


def supports(builder: HarnessBuilder, branch: str = "R2"):
    return builder.workings().dress.bundles[branch]


def mass_g(builder: HarnessBuilder, branch: str = "R2") -> float:
    """Wires of a bare branch by the catalogue's mass a metre: a second way to the same figure."""
    w = builder.workings()
    length_m = w.document.route.branches[branch].length_mm / 1000
    through = {s.key for s in w.route.sections.values() if branch in s.branches}
    return sum(w.wire.size(key).mass_g_per_m for key in through) * length_m


@pytest.mark.parametrize("share", [1 / 1.01, 1 / 1.999, 1 / 2.001, 1 / 7.5])
def test_clamps_stand_as_close_as_what_one_carries(share):
    """Spans by mass, hand-worked: so many that none is heavier than one clamp carries."""
    builder = rule(rule(pump(), "cover", 1), "support_mm", 5000)
    carries_g = mass_g(builder) * share
    bundle = supports(rule(builder, "support_g", carries_g))
    spans = math.ceil(1 / share - 1e-9)
    assert bundle.clamps + 1 == spans
    assert bundle.clamp_every_mm == pytest.approx(900 / spans, abs=0.06)
    assert bundle.clamped_by_mass


def test_the_nearer_of_distance_and_mass_decides_and_what_is_fitted_goes_before_both():
    builder = rule(rule(pump(), "cover", 1), "support_mm", 300)
    light, heavy = rule(builder, "support_g", 5000), None
    assert (supports(light).clamps, supports(light).clamped_by_mass) == (2, False)
    heavy = rule(builder, "support_g", mass_g(builder) / 10)
    assert (supports(heavy).clamps, supports(heavy).clamped_by_mass) == (9, True)
    heavy.plain["route"]["branches"]["R2"]["support_mm"] = 450.0
    assert (supports(heavy).clamps, supports(heavy).clamped_by_mass) == (1, False)


def test_a_cover_counts_in_what_a_clamp_carries():
    bare = rule(rule(pump(), "cover", 1), "support_mm", 5000)
    limit = mass_g(bare) * 1.001
    covered = rule(rule(rule(pump(), "cover", 3), "support_mm", 5000), "support_g", limit)
    assert supports(rule(bare, "support_g", limit)).clamps == 0
    assert supports(covered).clamps > 0
