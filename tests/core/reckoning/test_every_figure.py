"""Every figure of every demo harness can be asked why, and what it says adds up."""

from __future__ import annotations

import re

import pytest

from inkthread.catalogue import shipped_catalogue
from inkthread.core.document import parse_document
from inkthread.core.evaluate import work_out
from inkthread.core.reckoning import Reckoning, reckon
from inkthread.core.workings import Workings
from inkthread.demo import demo_document

DEMOS = ("larkspur", "dawdler", "glider", "mushroom")
METRIC = ("larkspur", "dawdler", "mushroom")
WORKED: dict[str, Workings] = {}


def worked(name: str) -> Workings:
    if name not in WORKED:
        WORKED[name] = work_out(parse_document(demo_document(name)), shipped_catalogue())
    return WORKED[name]


def figures(w: Workings) -> dict[str, list[str]]:
    """Every id that each kind of reckoning can be asked for."""
    e = w.evaluation
    return {
        "gauge": list(e.wire.wires),
        "ampacity": list(e.wire.wires),
        "cut": [c.wire for c in e.cut.cuts],
        "drop": list(e.wire.loops),
        "fuse": list(e.circuits.fuses),
        "contact": [c.pin for k in e.ends.connectors.values() for c in k.cavities if c.contact and c.pin],
        "bill": [f"{x.group} {x.code} {x.colour}" for x in e.parts.lines],
        "branch": list(e.route.branches),
        "mass": ["harness"],
    }


def words(r: Reckoning) -> list[str]:
    return [r.title, r.conclusion, r.subject, *(t for s in r.steps for t in (s.label, s.working, s.result))]


KINDS = ("gauge", "ampacity", "cut", "drop", "fuse", "contact", "bill", "branch", "mass")


@pytest.mark.parametrize("kind", KINDS)
@pytest.mark.parametrize("name", DEMOS)
def test_every_figure_explains_itself(name, kind):
    w = worked(name)
    asked = figures(w)[kind]
    assert asked, f"{name} has something to ask"
    for figure in asked:
        found = reckon(w, kind, figure)
        assert found.title.startswith("Why "), figure
        assert found.title.endswith("?"), figure
        assert found.conclusion, figure
        assert found.steps, figure
        for text in words(found):
            assert not re.search(r"\bnan\b|\binf\b|None|\{|\}", text), (figure, text)
            assert "  " not in text, (figure, text)


@pytest.mark.parametrize("name", DEMOS)
def test_the_gauge_that_is_explained_is_the_one_in_the_grid(name):
    w = worked(name)
    for key, wire in w.evaluation.wire.wires.items():
        found = reckon(w, "gauge", key)
        assert wire.gauge in found.title
        chosen = [c for c in found.candidates if c.chosen]
        assert [c.gauge for c in chosen] == [wire.gauge], key


@pytest.mark.parametrize("name", DEMOS)
def test_a_gauge_that_nobody_fixed_is_not_larger_than_it_must_be(name):
    """The next smaller one fails something that is named, or there is no smaller one."""
    w = worked(name)
    for key, wire in w.evaluation.wire.wires.items():
        if wire.fixed:
            continue
        candidates = reckon(w, "gauge", key).candidates
        at = next(n for n, c in enumerate(candidates) if c.chosen)
        if at > 0:
            below = candidates[at - 1]
            assert below.fails or max(below.limits) > 0.7, (key, below)


def number(text: str, unit: str) -> float:
    return float(text.removesuffix(unit).replace(" ", "").replace("−", "-"))


@pytest.mark.parametrize("name", METRIC)
def test_the_parts_of_every_cut_length_add_up(name):
    w = worked(name)
    for cut in w.evaluation.cut.cuts:
        steps = reckon(w, "cut", cut.wire).steps
        labels = [s.label for s in steps]
        lengths = [number(s.result, "mm") for s in steps]
        finished = labels.index("finished")
        assert lengths[finished] == pytest.approx(sum(lengths[:finished]), abs=0.6), cut.wire
        assert lengths[-1] == pytest.approx(cut.cut_mm), cut.wire
        # Rounded up, never down, by less than one step; a core of a cable then as long as the longest.
        alone = labels.index("cut")
        before = lengths[finished] + sum(lengths[finished + 1 : alone])
        assert -0.6 <= lengths[alone] - before < 26, cut.wire
        assert labels[alone + 1 :] in ([], ["cable"])
        if labels[-1] == "cable":
            assert cut.cable
            assert lengths[-1] > lengths[alone]


@pytest.mark.parametrize("name", DEMOS)
def test_the_parts_of_every_drop_add_up(name):
    w = worked(name)
    for load, loop in w.evaluation.wire.loops.items():
        steps = reckon(w, "drop", load).steps
        parts = sum(number(s.result, "mV") for s in steps if s.result.endswith("mV"))
        # Each part is rounded to a tenth of a millivolt.
        assert parts / 1000 == pytest.approx(loop.drop_v, abs=0.0001 * len(steps)), load


@pytest.mark.parametrize("name", DEMOS)
def test_the_groups_weigh_what_the_harness_does(name):
    w = worked(name)
    *groups, total = reckon(w, "mass", "harness").steps
    assert sum(number(s.result, "g") for s in groups) == pytest.approx(number(total.result, "g"), abs=1.5)
    assert number(total.result, "g") == pytest.approx(w.evaluation.tally.grams, abs=1)


@pytest.mark.parametrize("name", DEMOS)
def test_every_contact_holds_the_wire_it_is_explained_for(name):
    w = worked(name)
    for connector in w.evaluation.ends.connectors.values():
        for cavity in connector.cavities:
            if cavity.wire is None or cavity.contact is None or not cavity.fits:
                continue
            wire = w.evaluation.wire.wires[cavity.wire]
            low, high = cavity.conductor_window_mm2 or (0.0, 0.0)
            assert low <= wire.area_mm2 <= high, (connector.id, cavity.cavity)
            if cavity.seal_window_mm is not None:
                assert cavity.seal_window_mm[0] <= wire.od_mm <= cavity.seal_window_mm[1]


@pytest.mark.parametrize("name", DEMOS)
def test_the_bill_buys_what_the_ends_use(name):
    e = worked(name).evaluation
    quantity = demo_document(name)["brief"]["quantity"]
    used: dict[str, int] = {}
    for connector in e.ends.connectors.values():
        for cavity in connector.cavities:
            for code in (cavity.contact, cavity.seal, cavity.cavity_plug):
                if code is not None:
                    used[code] = used.get(code, 0) + quantity
    bought: dict[str, float] = {}
    for line in e.parts.lines:
        if line.group in ("contact", "terminal", "seal", "cavity plug"):
            bought[line.code] = bought.get(line.code, 0) + line.quantity
    assert bought == pytest.approx(used)


@pytest.mark.parametrize("name", DEMOS)
def test_the_bill_buys_the_wire_that_is_cut(name):
    e = worked(name).evaluation
    quantity = demo_document(name)["brief"]["quantity"]
    single = sum(c.cut_mm for c in e.cut.cuts if not c.cable) + sum(c.cut_mm for c in e.cut.cables)
    metres = sum(x.quantity for x in e.parts.lines if x.group == "wire")
    assert metres == pytest.approx(single / 1000 * quantity, abs=0.001 * len(e.cut.cuts) * quantity)


@pytest.mark.parametrize("name", DEMOS)
def test_a_branch_says_how_hot_it_is_as_the_tag_does(name):
    w = worked(name)
    for branch, view in w.evaluation.route.branches.items():
        found = reckon(w, "branch", branch)
        assert f"{view.wires} wires" in found.conclusion, branch
        if view.hottest_c is None:
            assert "empty" in found.conclusion
        assert f"{w.evaluation.dress.bundles[branch].tight_mm:.1f} mm" in found.title
