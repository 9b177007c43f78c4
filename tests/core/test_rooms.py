"""Behaviour at the rooms' faces, on small harnesses written as a builder would type them."""

from __future__ import annotations

import itertools

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from inkthread.core.cut import round_up_mm
from inkthread.core.document.draft import LineError
from inkthread.core.ends import face_view
from inkthread.core.wire import LIMITS
from inkthread.core.wire.drop import DropProblem, least_copper, loop_volts
from tests.conftest import HarnessBuilder


def wire(evaluation, text):
    """The wire one of whose ends begins with the text."""
    return next(
        w
        for w in evaluation.wire.wires.values()
        if w.from_text.startswith(text) or w.to_text.startswith(text)
    )


# Circuits


def test_currents_are_summed_from_the_loads_back_to_the_source():
    e = (
        HarnessBuilder()
        .feed("B1 battery > F1 fuse > M1 pump 5 A > B1", "F1.out > E1 lamp 2 A > B1")
        .run("B1 200 > F1 500 > mid 300 > M1", "mid 200 > E1")
        .evaluate()
    )
    carries = {k: c.carries_a for k, c in e.circuits.circuits.items()}
    assert wire(e, "F1-1").carries_a == pytest.approx(7.0)
    assert wire(e, "M1-1").carries_a == pytest.approx(5.0)
    assert wire(e, "E1-1").carries_a == pytest.approx(2.0)
    assert wire(e, "B1-2").carries_a == pytest.approx(7.0), "the shared return carries the sum"
    assert max(carries.values()) == pytest.approx(7.0)


def test_current_crosses_a_device_only_along_a_declared_path():
    builder = HarnessBuilder().feed("B1 battery > F1 fuse > M1 pump 5 A > B1").run("B1 200 > F1 300 > M1")
    assert "no-feed" not in builder.codes()
    builder.set("circuits/devices/F1/paths", {})
    assert "no-feed" in builder.codes()


def test_a_feed_without_a_fuse_stops():
    builder = HarnessBuilder().feed("B1 battery > M1 pump 5 A > B1").run("B1 300 > M1")
    finding = next(f for f in builder.evaluate().findings if f.code == "feed-unprotected")
    assert finding.severity == "stop"
    assert "M1" in finding.what
    assert finding.remedies


def test_a_line_may_stop_at_a_load_and_go_on_from_it():
    whole = HarnessBuilder().feed("B1 battery > F1 fuse > M1 pump 5 A > B1")
    parts = HarnessBuilder().feed("B1 battery > F1 fuse", "F1 > M1 pump 5 A", "M1 > B1")
    joined = [
        {frozenset(c["ends"]) for c in b.plain["circuits"]["circuits"].values()} for b in (whole, parts)
    ]
    assert joined[0] == joined[1] == {
        frozenset({"B1.+", "F1.in"}), frozenset({"F1.out", "M1.+"}), frozenset({"M1.-", "B1.-"})
    }  # fmt: skip


def test_a_feed_joined_to_its_return_stops():
    builder = HarnessBuilder().feed("B1 battery > F1 fuse > M1 pump 5 A > B1")
    assert "short-circuit" not in builder.codes()
    builder.feed("F1.out > B1.-")
    finding = next(f for f in builder.evaluate().findings if f.code == "short-circuit")
    assert finding.severity == "stop"
    assert "B1.+" in finding.what


def test_a_load_that_draws_nothing_is_asked_about():
    assert "load-not-stated" in HarnessBuilder().feed("B1 battery > F1 fuse > M1 pump > B1").codes()


def test_a_low_side_output_cannot_feed():
    builder = HarnessBuilder().feed("B1 battery > F1 fuse > A1 controller 0.5 A > B1", "E1 lamp 1 A")
    builder.feed("A1.O1 > E1.+", "E1.- > B1.-")
    assert "low-side-as-supply" in builder.codes()


def test_a_low_side_output_returns_a_load():
    builder = HarnessBuilder().feed(
        "B1 battery > F1 fuse > A1 controller 0.5 A > B1", "F1.out > E1 lamp 1 A > A1.O1"
    )
    builder.run("B1 200 > F1 300 > A1 250 > E1")
    e = builder.evaluate()
    assert not {"no-return", "low-side-as-supply"} & {f.code for f in e.findings}
    assert e.wire.loops["E1"].drop_v > 0


def test_structure_returns_a_load_where_the_source_is_tied_to_it():
    builder = HarnessBuilder().feed("B1 battery > F1 fuse > E1 lamp 3 A > G1 ground stud")
    builder.run("B1 200 > F1 300 > E1 100 > G1")
    assert "no-return" in builder.codes(), "the battery is not tied to the structure yet"
    builder.feed("G2 ground stud", "B1.- > G2.1").run("B1 400 > G2")
    e = builder.evaluate()
    assert "no-return" not in [f.code for f in e.findings]
    strap = wire(e, "G2-1")
    assert strap.carries_a == pytest.approx(3.0), "the strap carries what comes back through the structure"
    assert strap.key in e.wire.loops["E1"].wires


def test_derived_fuse_is_the_smallest_that_its_load_keeps_within_its_share():
    fuse = HarnessBuilder().feed("B1 battery > F1 fuse > M1 pump 8 A > B1").evaluate().circuits.fuses["F1.1"]
    assert (fuse.load_a, fuse.rating_a, fuse.fixed) == (8.0, 10.0, False)
    fuse = (
        HarnessBuilder().feed("B1 battery > F1 fuse > M1 pump 8.1 A > B1").evaluate().circuits.fuses["F1.1"]
    )
    assert fuse.rating_a == 15.0


# Route


def test_a_circuit_with_more_than_two_ends_gets_a_splice_at_each_branching_place():
    builder = HarnessBuilder().feed(
        "B1 battery > F1 fuse > M1 pump 3 A > B1",
        "F1.out > E1 lamp 2 A > B1",
        "F1.out > E2 lamp 1 A > B1",
    )
    builder.run("B1 100 > F1 500 > near 400 > far 300 > M1", "near 200 > E1", "far 250 > E2")
    e = builder.evaluate()
    feed = wire(e, "F1-2").circuit
    splices = {s.point for s in e.route.splices.values() if s.circuit == feed}
    assert splices == {"near", "far"}
    sections = {w.key: w.carries_a for w in e.wire.wires.values() if w.circuit == feed}
    assert sections[f"{feed}:far~near"] == pytest.approx(4.0)
    assert sections[f"{feed}:F1.out"] == pytest.approx(6.0)
    lengths = {c.wire: c.route_mm for c in e.cut.cuts}
    # Each splice lies on the longest branch about its place, clear of it: 20 mm and half a cover.
    assert {s.point: (s.branch, s.offset_mm) for s in e.route.splices.values() if s.circuit == feed} == {
        "near": ("R2", 40),
        "far": ("R3", 40),
    }
    assert lengths[f"{feed}:far~near"] == 400
    assert lengths[f"{feed}:F1.out"] == 460


def test_a_splice_of_two_pins_of_one_connector_is_kept_clear_of_it():
    builder = HarnessBuilder().feed("B1 battery > F1 fuse > M1 pump 3 A > B1", "F1.out > E1 lamp 2 A > B1")
    builder.run("B1 100 > F1 600 > M1")
    builder.set("ends/connectors/E1/point", "M1")
    e = builder.evaluate()
    splice = next(s for s in e.route.splices.values() if s.point == "M1")
    assert splice.offset_mm == 70, "50 clear of the connector and half of its cover"
    lengths = sorted(c.route_mm for c in e.cut.cuts if c.wire.startswith(f"{splice.circuit}:"))
    assert lengths[:2] == [70, 70]
    assert sum(lengths) == pytest.approx(600 - 70 + 140)


def test_what_has_no_place_is_a_finding_and_the_rest_is_evaluated(pump):
    pump.feed("F1.out > E1 lamp 1 A > B1")
    codes = pump.codes()
    assert "connector-not-placed" in codes
    assert pump.evaluate().tally.wires >= 2
    pump.run("E1 100 > island")
    assert "route-broken" in pump.codes()


@pytest.mark.parametrize(
    ("line", "says"),
    [
        ("B1 300", "two points"),
        ("B1 > M1", "How far"),
        ("B1 300 > M1 200", "leads nowhere"),
        ("B1 x300 > M1", "How far"),
        ("B1 300 parsecs > M1", "not a length"),
        ("B1 300 > M1 > ", "nothing between"),
        ("B1 100 > M1", "loop"),
    ],
)
def test_a_run_that_is_not_understood_says_what_to_type(pump, line, says):
    with pytest.raises(LineError, match=says):
        pump.run(line)


def test_a_run_typed_again_measures_anew(pump):
    pump.run("mid 450 > M1")
    assert sorted(b["length_mm"] for b in pump.plain["route"]["branches"].values()) == [100, 450, 900]


@pytest.mark.parametrize(
    ("line", "says"),
    [
        ("M9.x > B1", "no device"),
        ("M1.q > B1", "no pin"),
        ("M1 fan > B1", "there already"),
        ("B1 > > M1", "nothing between"),
    ],
)
def test_a_feed_that_is_not_understood_says_what_to_type(pump, line, says):
    with pytest.raises(LineError, match=says):
        pump.feed(line)


# Wire


def test_governing_limit_is_one_that_the_next_smaller_size_fails(chassis):
    from inkthread.core.reckoning import candidates_of
    from inkthread.core.wire import LIMITS

    workings = chassis.workings()
    for key, made in workings.evaluation.wire.wires.items():
        candidates = candidates_of(workings, key)
        n = next(i for i, c in enumerate(candidates) if c.chosen)
        assert not candidates[n].fails
        if n:
            below = candidates[n - 1]
            assert made.governs in below.fails
            worst = max(below.limits[LIMITS.index(f)] for f in below.fails)
            assert below.limits[LIMITS.index(made.governs)] == worst


def brute_force(problem: DropProblem) -> float:
    best = np.inf
    ranges = [range(a, b + 1) for a, b in zip(problem.lowest, problem.highest, strict=True)]
    for sizes in itertools.product(*ranges):
        chosen = np.array(sizes)
        if (loop_volts(problem, chosen) <= problem.limits_v + 1e-12).all():
            best = min(best, problem.copper[np.arange(len(chosen)), chosen].sum())
    return float(best)


@pytest.mark.slow
@given(st.data())
@settings(max_examples=60, deadline=None)
def test_least_copper_holds_every_loop_and_is_near_the_true_least(data):
    """Against trying everything: feasible where anything is, at most 12 % above, seldom 1 %."""
    n = data.draw(st.integers(2, 5))
    area = np.array([0.35, 0.56, 0.81, 1.23, 1.94])
    length = np.array([data.draw(st.floats(0.2, 4)) for _ in range(n)])
    amps = np.array([data.draw(st.floats(0.5, 10)) for _ in range(n)])
    volts = amps[:, None] * length[:, None] * 0.0185 / area[None, :]
    copper = length[:, None] * area[None, :] * 1000
    loops = [
        np.array(sorted(data.draw(st.sets(st.integers(0, n - 1), min_size=1, max_size=n))))
        for _ in range(data.draw(st.integers(1, 3)))
    ]
    least_possible = np.array([volts[loop, -1].sum() for loop in loops])
    limits = least_possible * data.draw(st.floats(1.02, 4))
    problem = DropProblem(
        volts, copper, np.zeros(n, dtype=np.intp), np.full(n, 4, dtype=np.intp), loops, limits
    )
    chosen = least_copper(problem)
    assert (loop_volts(problem, chosen) <= limits + 1e-9).all()
    found = copper[np.arange(n), chosen].sum()
    assert found <= brute_force(problem) * 1.12 + 1e-9


def test_every_loop_holds_its_drop_limit_and_uses_each_sections_own_current(chassis):
    w = chassis.workings()
    for loop in w.evaluation.wire.loops.values():
        assert loop.drop_v <= loop.limit_v
        assert loop.drop_v == pytest.approx(
            sum(w.evaluation.wire.wires[k].loss_v for k in loop.wires) + loop.devices_v, abs=1e-5
        )
    pump_loop = w.evaluation.wire.loops["M1"]
    trunk = [w.evaluation.wire.wires[k].carries_a for k in pump_loop.wires]
    assert max(trunk) == pytest.approx(5.2), "the trunk drops by its own current, not the pump's"


def test_where_nothing_fits_the_largest_is_kept_and_a_stop_says_so():
    builder = (
        HarnessBuilder("vehicle")
        .feed("B1 battery > F1 fuse > M1 winch 90 A > B1")
        .run("B1 200 > F1 3000 > M1")
    )
    e = builder.evaluate()
    assert all(w.gauge == "8 AWG" for w in e.wire.wires.values())
    assert "nothing-fits" in [f.code for f in e.findings]
    assert e.parts.lines


def test_a_fixed_gauge_is_judged_as_strictly_as_the_programs_own(pump):
    key = next(k for k, w in pump.evaluate().wire.wires.items() if w.to_text.startswith("M1"))
    pump.set(f"wire/fixed/{key}", {"order": 1, "reason": "spool at hand", "gauge": "22 AWG"})
    e = pump.evaluate()
    assert e.wire.wires[key].gauge == "22 AWG"
    assert e.wire.wires[key].fixed
    finding = next(f for f in e.findings if f.code == "fixed-fails")
    assert finding.remedies[0].operations[0]["op"] == "remove"


def test_colours_do_not_repeat_inside_a_connector(chassis):
    e = chassis.evaluate()
    for connector in e.ends.connectors.values():
        circuits = {}
        for c in connector.cavities:
            if c.wire:
                made = e.wire.wires[c.wire]
                circuits.setdefault(made.colour, set()).add(made.circuit)
        assert all(len(x) == 1 for x in circuits.values()), connector.id


@pytest.mark.slow
@given(st.floats(0.1, 12), st.floats(0.1, 6))
@settings(max_examples=25, deadline=None)
def test_more_current_never_asks_for_less_copper(low, more):
    def copper(amps: float) -> float:
        builder = HarnessBuilder("vehicle").feed(f"B1 battery > F1 fuse > M1 pump {amps:.3f} A > B1")
        # One fuse for all: a larger one loses less, and leaves more of the drop to the wires.
        builder.set("circuits/devices/F1/paths/1/rating_a", 25.0)
        e = builder.run("B1 200 > F1 1500 > M1").evaluate()
        return sum(w.area_mm2 * c.finished_mm for c in e.cut.cuts for w in [e.wire.wires[c.wire]])

    assert copper(low + more) >= copper(low) / 1.06, "in all; single wires may trade places"


# Ends


def test_a_face_and_its_mate_agree_way_by_way(catalogue):
    """Way n faces way n across a mated pair, though the numbers run opposite ways round."""
    for family in catalogue.connectors.values():
        for housing in family.housings:
            plug_wire = face_view(housing.face, "plug", "wire").cavities
            plug_mating = face_view(housing.face, "plug", "mating").cavities
            other_mating = face_view(housing.face, "receptacle", "mating").cavities
            for way, (x, y) in plug_mating.items():
                assert plug_wire[way] == (-x + 0.0, y), "two sides of one half are mirror images"
                assert other_mating[way] == (-x + 0.0, y), "the mate, turned to face it, meets way by way"


def test_contact_and_seal_hold_the_wire_they_are_given(chassis, catalogue):
    w = chassis.workings()
    checked = 0
    for connector in w.evaluation.ends.connectors.values():
        for c in connector.cavities:
            if c.wire is None:
                continue
            made = w.evaluation.wire.wires[c.wire]
            size = w.wire.size(made.key)
            low, high = c.conductor_window_mm2
            assert low <= made.area_mm2 <= high
            if c.seal_window_mm:
                assert c.seal_window_mm[0] <= size.od_min_mm
                assert size.od_max_mm <= c.seal_window_mm[1]
            checked += 1
    assert checked == 32


def test_insulation_is_judged_from_both_sides():
    thin = HarnessBuilder("aviation").set("wire/family", "AS22759/32")
    thin.feed("B1 battery > F1 fuse > M1 pump 0.5 A > B1").run("B1 100 > F1 200 > M1")
    key = next(k for k, w in thin.evaluate().wire.wires.items() if w.to_text.startswith("M1"))
    thin.set(f"wire/fixed/{key}", {"order": 1, "reason": "light", "gauge": "20 AWG"})
    assert "insulation-too-thin" in thin.codes()
    thick = (
        HarnessBuilder("equipment")
        .set("wire/family", "PVC-GENERAL")
        .feed("T1 level sensor", "A1 controller 0.1 A", "A1.I1 > T1 > A1.N1")
    )
    thick.run("A1 400 > T1")
    assert "insulation-too-thick" in thick.codes()


def test_a_gauge_that_fits_its_ends_is_taken_before_a_thinner_one_that_does_not(catalogue):
    """22 AWG is too thin for the seal; whatever is taken instead must fit as a whole."""
    builder = (
        HarnessBuilder("motorsport")
        .feed("B1 battery > F1 fuse > E1 lamp 1 A > B1")
        .run("B1 200 > F1 400 > E1")
    )
    e = builder.evaluate()
    assert all(c.fits for c in e.ends.connectors["E1"].cavities)
    assert not [f for f in e.findings if f.places[0].room == "ends"]


def test_the_weakest_link_of_a_fuse_is_named(chassis):
    chassis.set("circuits/loads/M1/current_a", 11.0)
    finding = next(f for f in chassis.evaluate().findings if f.code == "fuse-above-weakest")
    assert "15 A" in finding.what
    assert "contact in M1-1" in finding.what


def test_a_cavity_used_twice_a_pin_left_and_an_overloaded_contact_are_found(pump):
    pump.set("ends/pinout/M1.-/cavity", "1")
    pump.set("circuits/loads/M1/current_a", 16.0)
    pump.set("circuits/devices/M1/pins/x", {"order": 9, "role": "signal", "name": "tacho"})
    assert {"cavity-used-twice", "pin-unconnected", "contact-overloaded"} <= set(pump.codes())


def test_a_zone_hotter_than_wire_or_connector_is_found(pump):
    pump.set("brief/zones", {"hot": {"order": 1, "name": "Exhaust", "ambient_c": 130}})
    for branch in pump.plain["route"]["branches"].values():
        branch["zone"] = "hot"
    found = [f for f in pump.evaluate().findings if f.code == "zone-too-hot"]
    assert {f.places[0].room for f in found} == {"brief", "ends"}


def test_air_above_the_rating_is_told_once_and_everything_else_is_still_worked_out(pump):
    pump.shaded()
    cool = pump.evaluate()
    pump.set("brief/zones", {"hot": {"order": 1, "name": "Exhaust", "ambient_c": 130}})
    pump.plain["route"]["branches"][next(reversed(pump.plain["route"]["branches"]))]["zone"] = "hot"
    found = pump.evaluate()
    told = [f for f in found.findings if f.code == "zone-too-hot" and f.places[0].room == "brief"]
    assert len(told) == 1
    assert "rated 125 °C" in told[0].what
    # It says what would do: the least heat-proof family that stands it.
    named = told[0].remedies[0].text.partition("such as ")[2].partition(",")[0]
    assert pump.catalogue.wires[named].temperature_c > 130
    # No size helps there: none is made larger than its hot copper loses volts, and nothing is said twice.
    assert {f.code for f in found.findings} - {f.code for f in cool.findings} <= {"zone-too-hot"}
    for hot, before in zip(found.wire.wires.values(), cool.wire.wires.values(), strict=True):
        assert hot.area_mm2 <= 1.7 * before.area_mm2
        assert hot.limits[LIMITS.index("drop")] <= 1
    ambient_above_rating = [w for w in found.wire.wires.values() if w.temperature_c >= 130]
    assert ambient_above_rating
    assert all(w.limits[LIMITS.index("current")] > 1 for w in ambient_above_rating if w.carries_a)


def test_wires_that_stand_the_air_are_sized_there_as_if_the_others_were_not(pump):
    pump.set("brief/zones", {"hot": {"order": 1, "name": "Exhaust", "ambient_c": 130}})
    for branch in pump.plain["route"]["branches"].values():
        branch["zone"] = "hot"
    circuits = pump.plain["circuits"]["circuits"]
    for c in circuits.values():
        c["family"] = "AS22759/11"
    proof = {w.circuit: w.gauge for w in pump.evaluate().wire.wires.values()}
    last = list(circuits)[-1]
    circuits[last]["family"] = None
    mixed = pump.evaluate()
    assert {w.circuit: w.gauge for w in mixed.wire.wires.values() if w.circuit != last} == {
        k: v for k, v in proof.items() if k != last
    }
    assert "branch-too-hot" not in {f.code for f in mixed.findings}


def test_a_circuit_with_one_end_and_a_load_without_return_are_found(pump):
    pump.plain["circuits"]["circuits"]["C9"] = {"order": 9, "name": "stray", "ends": {}}
    pump.set("circuits/devices/M1/pins/x", {"order": 9, "role": "signal", "name": "tacho"})
    pump.set("circuits/circuits/C9/ends", {"M1.x": {"order": 1}})
    back = next(c for c in pump.plain["circuits"]["circuits"].values() if "B1.-" in c["ends"])
    del back["ends"]["B1.-"]
    assert {"circuit-one-end", "no-return"} <= set(pump.codes())


# Cut and parts


def test_cut_length_is_route_slack_and_allowances_rounded_up(pump):
    e = pump.evaluate()
    cut = next(c for c in e.cut.cuts if c.to_text.startswith("M1"))
    assert cut.route_mm == 1300
    assert cut.slack_mm == 40, "two branches of 20 mm"
    assert cut.finished_mm == 1340
    assert cut.cut_mm == 1380, "1340 and 20 at each end, on the 5 mm step"
    assert [c.cut_mm for c in e.cut.cuts] == sorted((c.cut_mm for c in e.cut.cuts), reverse=True)
    pump.set("brief/units", "inch")
    cut = next(c for c in pump.evaluate().cut.cuts if c.to_text.startswith("M1"))
    assert cut.cut_mm == pytest.approx(1384.3), "the next quarter inch above 1380"


@given(st.floats(0, 50_000), st.sampled_from([5.0, 6.35, 1.0, 10.0]))
def test_rounding_is_up_by_less_than_a_step(length, step):
    rounded = round_up_mm(length, step)
    assert length - 1e-4 * step <= rounded < length + step + 1e-3
    assert round_up_mm(rounded, step) == pytest.approx(rounded)


def test_bill_counts_what_the_ends_use_times_the_quantity(chassis):
    chassis.set("brief/quantity", 3)
    e = chassis.evaluate()
    quantity = {(line.group, line.code): line.quantity for line in e.parts.lines if line.group != "wire"}
    assert quantity["housing", "SR16-P12"] == 6
    assert quantity["contact", "R16T-S-A"] == 3 * (12 + 9 + 2)
    assert quantity["cavity plug", "SR16-B"] == 9, "three ways of the dash node are spare"
    assert quantity["seal", "SR16-G"] == 3 * 23
    assert quantity["lock", "SR16-WP02"] == 3
    assert quantity["splice", "OB-4"] == 3, "16 and three of 18 AWG: 4.1 mm² under the same wings"
    metres = sum(line.quantity for line in e.parts.lines if line.group == "wire")
    assert metres == pytest.approx(3 * e.cut.total_m)
    assert e.tally.cost == pytest.approx(e.parts.cost_total / 3, abs=0.01), "the tag is of one harness"
    assert all(line.cost == 0 for line in e.parts.lines if line.included)


# The demo's own promise


def test_larkspur_changes_as_its_builder_raises_the_pump_from_4_to_11_amperes(chassis):
    before = chassis.evaluate()
    assert (before.tally.stops, before.tally.fixes, before.tally.considers) == (0, 0, 0)
    counts = [
        len(x)
        for x in (
            before.ends.connectors,
            before.circuits.circuits,
            before.route.branches,
            before.route.splices,
        )
    ]
    assert counts == [6, 15, 10, 1]
    chassis.set("circuits/loads/M1/current_a", 11.0)
    after = chassis.evaluate()
    assert (before.wire.wires["C2"].gauge, after.wire.wires["C2"].gauge) == ("16 AWG", "14 AWG")
    assert (before.circuits.fuses["F1.1"].rating_a, after.circuits.fuses["F1.1"].rating_a) == (5, 15)
    contact = [next(c.contact for c in e.ends.connectors["M1"].cavities) for e in (before, after)]
    assert contact == ["R16T-S-A", "R16T-S-B"]
    assert {x.code for x in before.parts.lines} != {x.code for x in after.parts.lines}
    assert after.tally.grams > before.tally.grams
    assert after.tally.stops > 0


def test_the_second_demo_has_one_finding_of_each_severity():
    from inkthread.demo import demo_document

    t = HarnessBuilder(plain=demo_document("dawdler-sketch")).evaluate().tally
    assert (t.stops, t.fixes, t.considers) == (1, 1, 3)


@pytest.mark.slow
def test_evaluation_never_fails_on_a_valid_document(chassis):
    """Take things out one by one, as a builder would in the middle of an edit."""
    import copy

    whole = chassis.plain
    for path in (("ends", "pinout"), ("route", "branches"), ("circuits", "loads"), ("circuits", "circuits")):
        for key in list(whole[path[0]][path[1]]):
            changed = copy.deepcopy(whole)
            del changed[path[0]][path[1]][key]
            if path[1] == "circuits":
                changed["circuits"].update(buses={}, groups={})
            assert HarnessBuilder(plain=changed).evaluate().rooms["brief"].progress == "full"
