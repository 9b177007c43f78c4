"""Side by side: headroom, ways of threading, families of wire; and the schematic."""

from __future__ import annotations

import pytest

from inkthread.core.circuits import draw_schematic
from inkthread.core.compare import compare_families, compare_threading, future_cost
from inkthread.core.headroom import headroom
from tests.conftest import HarnessBuilder

pytestmark = pytest.mark.slow


def lamp(amps: float, run_mm: int = 500) -> HarnessBuilder:
    builder = HarnessBuilder("vehicle").feed(f"B1 battery > F1 fuse > E1 lamp {amps} A > B1")
    builder.shaded()
    return builder.run(f"B1 100 > F1 {run_mm} > E1")


def of(rows, place: str):
    return [r for r in rows if r.place == place]


def test_headroom_of_a_fuse_is_up_to_its_share_of_the_rating():
    """80 % of 4 A is 3.2 A (house rule): a 3 A lamp on a short run has 0.2 A left, then the fuse grows."""
    (fuse,) = of(headroom(lamp(3.0).workings()), "fuse")
    assert fuse.more_a == pytest.approx(0.2, abs=0.02)
    assert any("from 4 to 5 A" in c for c in fuse.changes)


@pytest.mark.parametrize("run_mm", [500, 2500])
def test_headroom_is_what_an_evaluation_would_say(run_mm):
    """Just within it nothing changes; just beyond, with the wires as they are, something does."""
    builder = lamp(3.0, run_mm)
    before = builder.evaluate()
    (fuse,) = of(headroom(builder.workings()), "fuse")
    for key, wire in before.wire.wires.items():
        builder.set(f"wire/fixed/{key}", {"order": 1, "reason": "as made", "gauge": wire.gauge})

    def same(amps: float) -> bool:
        e = builder.set("circuits/loads/E1/current_a", amps).evaluate()
        return e.circuits.fuses["F1.1"].rating_a == before.circuits.fuses["F1.1"].rating_a and all(
            r <= 1 + 1e-9 for w in e.wire.wires.values() for r in w.limits
        )

    assert same(3.0)
    assert same(3.0 + fuse.more_a)
    assert not same(3.0 + fuse.more_a + max(0.01 * fuse.more_a, 0.02))


@pytest.mark.parametrize("name", ["chassis", "larkspur"])
def test_headroom_of_every_fuse_is_what_evaluations_say(name, request):
    """The study judges arrays of wires as made; here the whole harness is evaluated, every wire fixed."""
    builder = request.getfixturevalue(name)
    w = builder.workings()
    before = w.evaluation
    own = builder.plain["wire"].get("fixed", {})
    builder.plain["wire"]["fixed"] = {
        key: {
            "order": 1, "reason": "as made", "colour": None, **own.get(key, {}),
            "gauge": wire.gauge, "family": wire.family,
        }
        for key, wire in before.wire.wires.items()
    }  # fmt: skip

    def changed(load: str, amps: float) -> bool:
        stated = builder.plain["circuits"]["loads"][load]
        usual = stated["current_a"]
        stated["current_a"] = amps
        e = builder.evaluate()
        stated["current_a"] = usual
        rated = any(f.rating_a != before.circuits.fuses[k].rating_a for k, f in e.circuits.fuses.items())
        return rated or any(
            then > 1 >= now
            for key, wire in e.wire.wires.items()
            for then, now in zip(wire.limits, before.wire.wires[key].limits, strict=True)
        )

    rows = [r for r in of(headroom(w), "fuse") if r.more_a is not None]
    assert len(rows) > 2
    loads = w.document.circuits.loads
    for row in rows:
        behind = [x for x in w.circuits.loops if row.id in x.fuses and not x.charging and x.load in loads]
        load = max(behind, key=lambda x: (x.current_a, x.load)).load
        amps = loads[load].current_a
        assert not changed(load, amps + row.more_a), row
        assert changed(load, amps + row.more_a + max(0.01 * row.more_a, 0.02)), row


def test_drop_is_named_where_it_comes_first():
    """On a long run the volts run out before the fuse is asked for more."""
    found = [of(headroom(lamp(3.0, mm).workings()), "fuse")[0] for mm in range(3000, 9000, 500)]
    assert any("voltage drop" in c for f in found for c in f.changes)
    assert all(0 <= f.more_a <= 0.21 for f in found)


def test_headroom_of_a_limited_source_is_what_it_gives_less_what_is_asked():
    builder = lamp(3.0).feed("G1 alternator", "G1.+ > B1.+", "G1.- > B1.-").run("F1 300 > G1")
    builder.set("circuits/sources/G1/limit_a", 20.0)
    rows = {r.id: r for r in of(headroom(builder.workings()), "source")}
    assert rows["G1.+"].more_a == pytest.approx(17.0)
    assert rows["B1.+"].more_a is None


def test_headroom_of_a_branch_ends_where_its_insulation_does():
    w = lamp(3.0).workings()
    for row in of(headroom(w), "branch"):
        if row.more_a is None:
            continue
        wires = w.evaluation.route.wires[row.id]
        if len(wires) == 1:
            i = w.wire.tables.at[wires[0]]
            free = float(w.wire.builder.free_a[i, w.wire.tables.chosen[i]])
            assert row.carries_a + row.more_a == pytest.approx(free, rel=0.02)
        else:
            assert row.more_a > 0


def test_ways_of_threading_side_by_side(chassis):
    w = chassis.workings()
    circuits = w.document.circuits.circuits
    wide = max(circuits, key=lambda c: len(circuits[c].ends))
    ways = {x.threading: x for x in compare_threading(w, wide)}
    ends = len(circuits[wide].ends)
    assert set(ways) == {"cascade", "star", "daisy chain", "block", "home runs"}
    assert [x.threading for x in ways.values() if x.chosen] == ["cascade"]
    assert ways["cascade"].cost == 0
    assert ways["cascade"].stops == 0
    assert ways["star"].splices == 1
    assert ways["home runs"].splices == 0
    assert ways["home runs"].wires == ends - 1
    assert ways["star"].wires == ends
    least = min(x.metres for x in ways.values())
    # Short tails to splices and their allowances may cost a few centimetres.
    assert ways["cascade"].metres <= least + 0.05 * ends
    for way, x in ways.items():
        e = chassis.set(f"circuits/circuits/{wide}/threading", way).evaluate()
        of_it = [c for c in e.cut.cuts if e.wire.wires[c.wire].circuit == wide]
        assert x.metres == pytest.approx(sum(c.cut_mm for c in of_it) / 1000, abs=1e-3)


def test_families_side_by_side(chassis):
    w = chassis.workings()
    rows = {x.family: x for x in compare_families(w, ["PVC-GENERAL", "AS22759/16", "no such family"])}
    assert set(rows) == {w.brief.family, "PVC-GENERAL", "AS22759/16"}
    own = rows[w.brief.family]
    assert own.chosen
    assert own.grams == w.evaluation.tally.grams
    assert own.stops == w.evaluation.tally.stops
    e = chassis.set("wire/family", "PVC-GENERAL").evaluate()
    assert rows["PVC-GENERAL"].largest_bundle_mm == max(b.loose_mm for b in e.dress.bundles.values())
    assert rows["PVC-GENERAL"].largest_bundle_mm > own.largest_bundle_mm, "thick walls, thick bundle"


@pytest.mark.parametrize("name", ["chassis", "larkspur"])
def test_the_schematic_shows_every_feed_and_joins_only_what_circuits_join(name, request):
    w = request.getfixturevalue(name).workings()
    drawn = draw_schematic(w.document, w.circuits)
    wanted = {x.load for x in w.circuits.loops if x.alternative == 0 and x.feed}
    assert {f.load for f in drawn.feeds} == wanted
    circuits = w.document.circuits.circuits
    for feed in drawn.feeds:
        for before, step in zip(feed.feed, feed.feed[1:], strict=False):
            joined = circuits[step.circuit].ends
            assert f"{before.device}.{before.out_pin}" in joined
            assert f"{step.device}.{step.in_pin}" in joined
        assert feed.feed[0].kind == "source"
        assert feed.feed[-1].kind in ("load", "charged", "structure")
        loop = next(x for x in w.circuits.loops if x.load == feed.load and x.alternative == 0)
        fuses = {s.device for s in feed.feed if s.kind in ("fuse", "breaker")}
        assert fuses == {w.circuits.fuses[k].device for k in loop.fuses}
    shown = {s.circuit for f in drawn.feeds for s in (*f.feed, *f.back)} | {s.circuit for s in drawn.signals}
    assert set(circuits) <= shown | {c.circuit for x in w.circuits.loops for c in (*x.feed, *x.back)}


def test_feeds_that_begin_alike_are_drawn_once(larkspur):
    w = larkspur.workings()
    drawn = draw_schematic(w.document, w.circuits)
    assert drawn.feeds[0].shared == 0
    for above, feed in zip(drawn.feeds, drawn.feeds[1:], strict=False):
        assert feed.feed[: feed.shared] == above.feed[: feed.shared]
    assert sum(f.shared > 0 for f in drawn.feeds) > len(drawn.feeds) / 2


def test_conductors_for_later_cost_what_they_add():
    builder = lamp(3.0)
    without = builder.evaluate().tally
    builder.feed("T1 spare sensor", "T2 spare reader").run("E1 400 > T1", "B1 300 > T2")
    builder.set(
        "circuits/circuits/X1",
        {"order": 9, "optional": True, "ends": {"T1.1": {"order": 1}, "T2.1": {"order": 2}}},
    )
    laid = builder.workings()
    cost = future_cost(laid)
    assert cost.circuits == ("X1",)
    assert cost.wires == 1
    assert cost.metres == pytest.approx(laid.evaluation.tally.metres - without.metres)
    assert cost.grams > 0 and cost.cost > 0  # noqa: PT018
    left_out = builder.set("circuits/future_in", False).workings()
    assert future_cost(left_out) == cost, "whichever way the switch stands"
    assert left_out.evaluation.tally.wires == without.wires
    assert future_cost(lamp(3.0).workings()).wires == 0
