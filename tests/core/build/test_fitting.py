"""Fitting day: the order in which a harness is laid, what passes holes, what is joined and trimmed."""

from __future__ import annotations

import pytest

from inkthread.core.build import fitting_steps
from inkthread.demo import DEMOS, demo_document
from tests.conftest import HarnessBuilder
from tests.core.build.test_checks import seals

WORKED = {name: HarnessBuilder(plain=demo_document(name)).workings() for name in DEMOS}


def of(builder: HarnessBuilder):
    return fitting_steps(builder.workings().rooms)


def places(steps, kind):
    return [s.place for s in steps if s.kind == kind]


@pytest.mark.parametrize("name", DEMOS)
def test_every_branch_is_laid_once_and_nothing_before_what_leads_to_it(name):
    w = WORKED[name]
    steps = fitting_steps(w.rooms)
    branches = w.document.route.branches
    assert sorted(places(steps, "lay")) == sorted(branches)
    reached: set[str] = set()
    for branch_id in places(steps, "lay"):
        ends = {branches[branch_id].from_point, branches[branch_id].to_point}
        near = {
            p
            for b in branches.values()
            for p in (b.from_point, b.to_point)
            if w.rooms.route.tree.parent[p] is None
        }
        assert ends & (reached | near) or not reached
        reached |= ends
    joined = places(steps, "join")
    wired = [k for k, c in w.ends.connectors.items() if c.used and w.document.ends.connectors[k].point]
    assert sorted(joined) == sorted(wired)


def test_what_passes_a_hole_is_said_before_the_branch_behind_it_is_laid():
    builder = seals().set("route/points/mid/opening_mm", 20.0).set("route/points/mid/edge", "grommet")
    steps = of(builder)
    hole = next(n for n, s in enumerate(steps) if s.kind == "through")
    assert "before its connectors are put on" in steps[hole].words
    assert "M1, M2 and M3 go on beyond it" in steps[hole].words
    assert "Grommet GR-" in steps[hole].words
    assert steps[hole + 1].kind == "lay"
    assert "to mid" in steps[hole + 1].words
    after = of(builder.set("route/points/mid/after_terminating", value=True))
    assert any("with M1, M2 and M3 on" in s.words for s in after)


def test_a_bare_edge_asks_for_a_grommet_first():
    steps = of(seals().set("route/points/mid/opening_mm", 20.0).set("route/points/mid/edge", "bare metal"))
    assert any(s.kind == "through" and "put in a grommet first" in s.words for s in steps)


def test_stations_of_clamps_are_counted_from_where_the_branch_begins():
    """1,000 mm with supports each 250 mm at most (as fitted): three clamps, at 250, 500 and 750."""
    builder = (
        seals()
        .set("brief/house_rules/held_by", {"order": 1, "value": 1})
        .set("route/branches/R2/support_mm", 250.0)
    )
    hold = next(s for s in of(builder) if s.kind == "hold" and s.place == "R2")
    assert "at 250 mm, 500 mm and 750 mm from fuse" in hold.words


def test_a_connector_that_is_joined_at_every_use_stays_in_reach():
    assert not any("every use" in s.words for s in of(seals()))
    steps = of(seals().set("ends/connectors/M1/joined", "at every use"))
    assert [s.place for s in steps if "every use" in s.words] == ["M1"]


def test_look_alikes_are_named_at_each_other():
    steps = of(seals())
    said = next(s.words for s in steps if s.kind == "join" and s.place == "M1")
    assert "Looks like M2 and M3" in said


def test_an_end_left_long_is_cut_to_fit_and_typed_back():
    builder = seals()
    wire = next(iter(builder.workings().rooms.wire.wires))
    piece = next(p for p in builder.workings().rooms.cut.cuts if p.wire == wire)
    pin = piece.a.pin or piece.b.pin
    cut = {"order": 1, "state": "trimmed at fitting", "surplus_mm": 80.0}
    builder.plain.setdefault("cut", {}).setdefault("ends", {})[pin] = cut
    trims = [s for s in of(builder) if s.kind == "trim"]
    assert len(trims) == 1
    assert "80 mm long" in trims[0].words
    assert "type back" in trims[0].words


def test_leads_of_a_replacement_are_swapped_one_by_one():
    plain = demo_document("larkspur")
    assert not places(fitting_steps(WORKED["larkspur"].rooms), "swap")
    plain["brief"]["job"] = "replacement"
    w = HarnessBuilder(plain=plain).workings()
    leads = {k for k, x in w.wire.wires.items() if w.wire.families[x.family].resistance_max_ohm_per_m}
    assert set(places(fitting_steps(w.rooms), "swap")) == leads
    assert leads


def test_nothing_routed_is_nothing_to_fit():
    assert of(HarnessBuilder("vehicle").feed("B1 battery > F1 fuse > M1 pump 3 A > B1")) == ()
