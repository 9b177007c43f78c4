"""The bench's calculators of what is cut and what goes over it, on the command line."""

from __future__ import annotations

import json

import pytest

from inkthread.catalogue import shipped_catalogue
from inkthread.cli import main
from inkthread.core.bench import BenchError, calculate
from inkthread.core.catalogue.tubes import choose_tube
from inkthread.core.dress.choose import choose_sleeve, make_label

COVERINGS = shipped_catalogue().coverings


def reckon(capsys: pytest.CaptureFixture[str], *arguments: str) -> dict:
    assert main(["reckon", *arguments, "--json"]) == 0
    return json.loads(capsys.readouterr().out)


@pytest.mark.parametrize(
    ("finished", "allowance", "mm", "text"),
    [
        ("9 1/4 in", "3/4 in", 273.05, "10 3/4 in"),
        ("8 in", "3/4 in", 241.3, "9 1/2 in"),
        ("11 3/8 in", "5/8 in", 320.675, "12 5/8 in"),
        ("235 mm", "19 mm", 273, "273 mm"),
    ],
)
def test_a_lead_is_cut_longer_by_both_its_ends(capsys, finished, allowance, mm, text):
    """Ignition leads, 9 1/4 + 2 x 3/4 = 10 3/4 in and 8 + 2 x 3/4 = 9 1/2 in (common practice, no source)."""
    figures = reckon(capsys, "lead", "--finished", finished, "--allowance", allowance)
    assert figures["cut_mm"] == pytest.approx(mm)
    assert figures["cut_text"] == text


def test_with_a_factory_end_all_falls_on_the_open_one(capsys):
    figures = reckon(
        capsys, "lead", "--finished", "9 1/4 in", "--allowance", "3/4 in", "--other-allowance", "0 in"
    )
    assert figures["cut_text"] == "10 in"


def test_a_step_rounds_up_and_what_is_left_long_counts(capsys):
    figures = reckon(
        capsys, "lead", "--finished", "301 mm", "--allowance", "8", "--surplus", "150 mm", "--step", "5 mm"
    )
    assert figures["cut_mm"] == 470


def test_a_bundle_is_packed_between_its_bounds(capsys):
    figures = reckon(capsys, "bundle", "--od", "1.27mmx12", "--od", "2.1mmx3")
    assert figures["wires"] == 15
    assert figures["method"] == "packed"
    assert figures["lower_bound_mm"] < figures["diameter_mm"] < figures["loose_mm"]
    assert figures["loose_mm"] == pytest.approx(figures["diameter_mm"] * 1.08, abs=1e-3)
    many = reckon(capsys, "bundle", "--od", "1.27mm x 61")
    assert many["method"] == "by area"


def test_nineteen_wires_are_laid_up_as_a_strand_is(capsys):
    figures = reckon(capsys, "lay", "--od", "1.27mmx19", "--lay-factor", "12")
    assert [ring["wires"] for ring in figures["layers"]] == [1, 6, 12]
    assert figures["diameter_mm"] == pytest.approx(6.35)
    assert figures["layers"][2]["lay_mm"] == pytest.approx(12 * 6.35)


def test_shrink_passes_and_closes_or_says_what_would(capsys):
    figures = reckon(capsys, "shrink", "--over", "9.5mm", "--onto", "4.2mm", "--ratio", "any")
    assert figures["supplied_mm"] > 9.5
    assert figures["recovered_mm"] < 4.2
    asked = ["reckon", "shrink", "--over", "9.5mm", "--onto", "4.2mm", "--ratio", "2:1", "--json"]
    assert main(asked) == 1
    figures = json.loads(capsys.readouterr().out)
    assert (figures["passes"], figures["closes"], figures["fits"]) == (True, False, False)
    assert "passes and closes" in figures["instead"]


@pytest.mark.parametrize("tube", COVERINGS.tubes())
def test_a_tube_fits_up_to_its_bores_and_not_at_them(tube):
    """Expanded bore above the largest passed, recovered bore below the smallest gripped (common practice)."""
    hair = 1e-6
    assert choose_tube([tube], tube.supplied_mm - hair, tube.recovered_mm + hair).fits
    assert not choose_tube([tube], tube.supplied_mm, tube.recovered_mm + hair).passes
    assert not choose_tube([tube], tube.supplied_mm - hair, tube.recovered_mm).closes


def test_the_narrowest_tube_that_passes_is_taken():
    for over in (1.0, 2.5, 5.9, 6.1, 11.0, 30.0):
        choice = choose_tube(COVERINGS.tubes(), over, over * 0.8)
        assert choice.fits
        assert choice.tube is not None
        narrower = [
            t
            for t in COVERINGS.tubes()
            if over < t.supplied_mm < choice.tube.supplied_mm and t.recovered_mm < over * 0.8
        ]
        assert not narrower


def test_where_no_tube_does_another_order_is_offered():
    """Over a shell of 60 mm onto 4 mm: no tube shrinks so far; put on before, one closes on the bundle."""
    choice = choose_tube(COVERINGS.tubes(), 60, 4)
    assert not choice.fits
    assert "before" in choice.instead


def test_a_sleeve_holds_the_bundle_and_passes_the_largest(capsys):
    figures = reckon(capsys, "sleeve", "--bundle", "7.2mm", "--length", "420mm", "--kind", "braid")
    assert figures["least_mm"] <= 7.2 <= figures["most_mm"]
    assert figures["cut_mm"] != 420
    solid = reckon(capsys, "sleeve", "--bundle", "7.2mm", "--length", "420mm", "--kind", "braid", "--solid")
    assert solid["nominal_mm"] > figures["nominal_mm"], "one size up for solid cores (common practice)"
    fat = choose_sleeve(COVERINGS.sleeves, "braid", 7.2, 40)
    assert fat.passes
    assert not fat.holds


def test_a_braid_that_is_opened_is_cut_longer_and_one_drawn_out_shorter(capsys):
    opened = reckon(capsys, "sleeve", "--bundle", "11.9mm", "--length", "420mm", "--over", "12mm")
    assert opened["code"] == "BR-12"
    drawn = reckon(capsys, "sleeve", "--bundle", "5.3mm", "--length", "420mm")
    assert drawn["cut_mm"] < 420 < 420 * 8 / 5.3


def test_tape_is_twice_the_area_at_half_overlap(capsys):
    figures = reckon(
        capsys, "tape", "--bundle", "7.2mm", "--length", "420mm", "--width", "19mm", "--overlap", "50%",
        "--end-turns", "0",
    )  # fmt: skip
    assert figures["tape_mm"] == pytest.approx(3.14159265 * 7.2 * 420 * 2 / 19, abs=0.1)
    open_ = reckon(capsys, "tape", "--bundle", "7.2mm", "--length", "420mm", "--width", "9mm", "--gap", "9mm")
    assert open_["tape_mm"] < figures["tape_mm"]


def test_a_label_fits_its_wire_and_can_be_read(capsys):
    figures = reckon(capsys, "label", "--text", "C12 F1-3", "--od", "1.9mm")
    assert figures["fits"]
    assert figures["readable"]
    assert figures["length_mm"] >= 8 * figures["height_mm"] * 0.6
    assert figures["labels_per_cassette"] > 1
    long = make_label(COVERINGS.labels, COVERINGS.lettering, "C12 F1-3 fuel pump feed", 8)
    assert len(long.lines) == 2
    small = make_label(COVERINGS.labels, COVERINGS.lettering, "C12", 1.9, height_mm=1.9)
    assert not small.readable


def test_pieces_come_off_spools_and_less_waste_is_not_possible(capsys):
    figures = reckon(
        capsys, "cut", "--spool", "10 m", "--spool", "4.2 m", "--piece", "1.2 m x5", "--piece", "0.8 m x7"
    )
    cuts = [mm for spool in figures["pieces"] for mm in spool["cuts_m"]]
    assert sorted(cuts) == [0.8] * 7 + [1.2] * 5
    assert (figures["waste_m"], figures["lower_bound_m"], figures["proved_optimal"]) == (0, 0, True)
    left = sum(spool["left_m"] for spool in figures["pieces"])
    assert left + sum(cuts) == pytest.approx(sum(spool["spool_m"] for spool in figures["pieces"]))
    assert main(["reckon", "cut", "--spool", "2 m", "--piece", "1.5 m x2", "--json"]) == 1
    assert json.loads(capsys.readouterr().out)["short_m"] == [1.5]


@pytest.mark.parametrize(
    ("calculator", "fields", "wrong", "said"),
    [
        ("lead", {"finished": "0 mm", "allowance": "8"}, "finished", "out of range"),
        ("lead", {"finished": "-5 mm", "allowance": "8"}, "finished", "Finished length"),
        ("lead", {"finished": "20 mm", "allowance": "3/4 in"}, "allowance", "more than the lead"),
        ("bundle", {"od": "0 mm x3"}, "od", "out of range"),
        ("bundle", {"od": "1.27 mm x0"}, "od", "0 times"),
        ("bundle", {"od": ","}, "od", "name 1 to 5000"),
        ("lay", {"od": "1.27 mm", "lay_factor": "2"}, "lay_factor", "out of range"),
        ("shrink", {"over": "4 mm", "onto": "9 mm"}, "onto", "change them over"),
        ("shrink", {"over": "4 mm", "onto": "3 mm", "ratio": "5:1"}, "ratio", "choose one of"),
        ("sleeve", {"bundle": "7 mm", "length": "60 mm", "gap": "35 mm"}, "gap", "leaves nothing"),
        ("tape", {"bundle": "2 mm", "length": "1 m", "width": "19 mm"}, "width", "too wide"),
        ("label", {"text": "C12 F1-3", "od": "1.9 mm", "length": "10 mm"}, "text", "Shorten"),
        ("cut", {"spool": "1 m", "piece": "1.2 m"}, "spool", "Name a spool"),
        ("cut", {"spool": "1 m", "piece": "-1.2 m"}, "piece", "Pieces"),
        ("cut", {"spool": "1 m", "piece": "ten"}, "piece", "Pieces"),
    ],
)  # fmt: skip
def test_what_is_wrong_is_said_at_its_field(calculator, fields, wrong, said):
    with pytest.raises(BenchError) as caught:
        calculate(shipped_catalogue(), calculator, fields)
    assert caught.value.field == wrong
    assert said in str(caught.value)
