"""Reckonings: every figure that a person might doubt explains itself, with a source."""

from __future__ import annotations

import pytest

from inkthread.core.reckoning import UnknownFigure, reckon


@pytest.mark.parametrize(
    ("kind", "figure", "title"),
    [
        ("gauge", "C2", "Why 16 AWG?"),
        ("ampacity", "C2", "Why 20"),
        ("cut", "C2", "Why 1450 mm?"),
        ("drop", "M1", "Why 2.99 %?"),
        ("fuse", "F1.1", "Why 5 A?"),
        ("contact", "M1.+", "Why R16T-S-A?"),
        ("bill", "contact R16T-S-A ", "Why 23?"),
        ("bill", "wire AS22759/32 18 AWG BK", "Why 1.1"),
        ("mass", "harness", "Why 348 g?"),
    ],
)
def test_each_kind_gives_steps_and_sources(chassis, kind, figure, title):
    found = reckon(chassis.workings(), kind, figure)
    assert found.title.startswith(title)
    assert found.conclusion
    assert found.steps
    assert all(s.result for s in found.steps)
    assert found.sources
    assert all(len(s) > 10 for s in found.sources)


def test_drop_steps_add_up_to_the_drop(chassis):
    found = reckon(chassis.workings(), "drop", "M1")
    millivolts = sum(float(s.result.removesuffix(" mV")) for s in found.steps if s.result.endswith("mV"))
    total = next(s for s in found.steps if s.label == "around the loop")
    assert millivolts / 1000 == pytest.approx(float(total.result.removesuffix(" V")), abs=0.003)


def test_cut_steps_add_up_before_rounding(chassis):
    found = reckon(chassis.workings(), "cut", "C2")
    figures = [float(s.result.removesuffix(" mm").replace(" ", "")) for s in found.steps]
    names = [s.label for s in found.steps]
    finished = figures[names.index("finished")]
    assert finished == pytest.approx(sum(figures[: names.index("finished")]), abs=0.6)
    ends = sum(f for f, name in zip(figures, names, strict=True) if name in ("allowance", "left long"))
    assert -0.6 <= figures[-1] - (finished + ends) < 5.6


def test_masses_add_up_to_the_harness(chassis):
    *groups, total = reckon(chassis.workings(), "mass", "harness").steps
    grams = sum(float(s.result.removesuffix(" g")) for s in groups)
    assert grams == pytest.approx(float(total.result.removesuffix(" g")), abs=1)


def test_an_unknown_figure_is_named(chassis):
    for kind in ("gauge", "drop", "ampacity", "cut", "fuse", "contact", "bill", "mass", "branch"):
        with pytest.raises(UnknownFigure, match="nope"):
            reckon(chassis.workings(), kind, "nope")
    with pytest.raises(UnknownFigure, match="nope"):
        reckon(chassis.workings(), "nope", "C1")
