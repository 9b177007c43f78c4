"""What is cut of each wire, term by term."""

from __future__ import annotations

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from inkthread.core.cut import cut_length_mm, round_up_mm
from inkthread.core.cut.lengths import folded_strip_mm, round_mm
from inkthread.core.reckoning import reckon
from inkthread.demo import DEMOS, demo_document
from tests.conftest import HarnessBuilder
from tests.core.cut.test_checks import contact_of, end, measured
from tests.core.scenarios import pump as pumped


def piece(builder: HarnessBuilder, to: str = "M1"):
    return next(c for c in builder.evaluate().cut.cuts if c.to_text.startswith(to))


def test_cut_length_is_route_slack_and_allowances_rounded_up(pump):
    e = pump.evaluate()
    cut = piece(pump)
    assert cut.route_mm == 1300
    assert cut.slack_mm == 40, "two branches of 20 mm"
    assert cut.lay_mm == 0
    assert cut.finished_mm == 1340
    assert cut.cut_mm == 1380, "1340 and 20 at each end, on the 5 mm step"
    assert [c.cut_mm for c in e.cut.cuts] == sorted((c.cut_mm for c in e.cut.cuts), reverse=True)
    pump.set("brief/units", "inch")
    assert piece(pump).cut_mm == pytest.approx(1384.3), "the next quarter inch above 1380"


@given(st.floats(0, 50_000), st.sampled_from([5.0, 6.35, 1.0, 10.0]))
def test_rounding_is_up_by_less_than_a_step(length, step):
    rounded = round_up_mm(length, step)
    assert length - 1e-4 * step <= rounded < length + step + 1e-3
    assert round_up_mm(rounded, step) == pytest.approx(rounded)
    assert abs(round_mm(length, step, "nearest") - length) <= step / 2 + 1e-3


def test_lengths_go_to_the_nearest_step_where_the_house_says_so():
    rule = {"order": 1, "value": 2, "reason": "tidy"}
    builder = pumped().set("brief/house_rules/cut_rounding", rule)
    exact = piece(builder).finished_mm + 40
    assert piece(builder).cut_mm == round(exact / 5) * 5
    assert (cut_length_mm(1002.5, 0, 0, step_mm=5, rounding="nearest"), 1002.4) == (1005, 1002.4)
    assert cut_length_mm(1002.4, 0, 0, step_mm=5, rounding="nearest") == 1000


def test_what_a_branch_may_be_off_by_is_carried_through():
    """100 mm and 900 mm known to 3 and 4 mm: the wire along both to 5 mm (root of the sum of squares)."""
    builder = pumped()
    for branch, unsure in zip(builder.plain["route"]["branches"].values(), (3.0, 4.0), strict=True):
        branch["uncertainty_mm"] = unsure
    both = next(c for c in builder.evaluate().cut.cuts if c.route_mm == 1000)
    assert both.unsure_mm == 5.0
    alone = next(c for c in builder.evaluate().cut.cuts if c.route_mm == 100)
    assert alone.unsure_mm == 3.0


def test_a_wire_that_ends_on_the_way_carries_its_share_of_a_branch():
    builder = HarnessBuilder("vehicle").feed(
        "B1 battery > F1 fuse > M1 pump 3 A > B1", "F1 > M2 pump 3 A > B1"
    )
    builder.run("B1 100 > F1 1000 > mid 400 > M1", "mid 500 > M2")
    measured(builder, uncertainty_mm=10.0)
    e = builder.evaluate()
    route = builder.workings().route
    for c in e.cut.cuts:
        by_hand = math.sqrt(
            sum(
                (10.0 * (high - low) / builder.plain["route"]["branches"][b]["length_mm"]) ** 2
                for b, low, high in route.sections[c.wire].spans
            )
        )
        assert c.unsure_mm == pytest.approx(by_hand, abs=0.06)
    assert any(0 < c.unsure_mm < 10 for c in e.cut.cuts)


def test_wires_in_rings_are_longer_by_their_helix():
    """Motorsport lays in rings: a ring of six 1.27 mm wires on one, 12 diameters a turn, takes up 1.5 %."""
    builder = pumped("motorsport")
    w = builder.workings()
    branch = next(b for b, lay in w.dress.lays.items() if len(lay.rings) == 1)
    ring = w.dress.lays[branch].rings[0]
    assert len(ring.things) == 2
    for cut in w.cut.cuts:
        by_hand = 0.0
        for b, low, high in w.route.sections[cut.wire].spans:
            lay = w.dress.lays.get(b)
            if lay is None:
                continue
            ring = next(r for r in lay.rings if cut.wire in r.things)
            own = w.wire.wires[cut.wire].od_mm
            pitch = ring.outside_mm - own
            if ring.lay_mm:
                by_hand += (high - low) * (math.hypot(1, math.pi * pitch / ring.lay_mm) - 1)
        assert cut.lay_mm == pytest.approx(by_hand, abs=0.01)
    side_by_side = builder.set("brief/house_rules/lay", {"order": 1, "value": 1, "reason": "quick"})
    assert all(c.lay_mm == 0 for c in side_by_side.evaluate().cut.cuts)


def test_side_by_side_the_outside_of_a_bend_is_longer():
    """Two wires side by side, bent by 180° in all: half a turn at half the other's diameter from the axis."""
    builder = measured(pumped(), bend_deg=180.0)
    w = builder.workings()
    along = next(c for c in w.cut.cuts if c.route_mm == 1000)
    by_hand = 0.0
    for b in w.route.sections[along.wire].branches:
        tight = w.dress.bundles[b].tight_mm
        by_hand += math.pi * (tight - w.wire.wires[along.wire].od_mm) / 2
    assert along.lay_mm == pytest.approx(by_hand, abs=0.02)
    assert along.lay_mm > 0


def test_an_end_trimmed_at_fitting_is_left_long_and_says_why():
    """A copied lead's far end, about 6 in (150 mm) over (common practice, no source)."""
    plain = piece(pumped())
    long = piece(end(pumped(), "M1", state="trimmed at fitting", reason="the pump moves yet"))
    assert long.b.surplus_mm == 150
    assert long.cut_mm == plain.cut_mm + 150
    assert long.b.left_long == "the pump moves yet"
    assert long.finished_mm == plain.finished_mm
    own = piece(end(pumped(), "M1", state="trimmed at fitting", surplus_mm=40.0))
    assert own.cut_mm == plain.cut_mm + 40
    # What is said of a pin goes before what is said of its connector.
    both = end(end(pumped(), "M1", state="trimmed at fitting"), "M1.+", state="final")
    assert piece(both).b.surplus_mm in (0, 150)
    by_pin = {c.to_text[:4]: c.b.surplus_mm for c in both.evaluate().cut.cuts if c.to_text.startswith("M1")}
    assert 0 in by_pin.values()


def test_an_allowance_that_is_known_here_goes_before_the_contacts():
    plain, own = piece(pumped()), piece(end(pumped(), "M1", allowance_mm=61.0))
    assert own.b.allowance_mm == 61
    assert own.cut_mm - plain.cut_mm == pytest.approx(61 - plain.b.allowance_mm, abs=5)


def test_a_fold_takes_half_its_strip_off_its_neighbours():
    """3/8 in folded leaves 3/16 in bare and takes as much off the others; measured, 1/8 in goes before
    (common practice, no source)."""
    assert folded_strip_mm(9.525) == (pytest.approx(4.7625), pytest.approx(4.7625))
    builder = end(pumped(), "M1.+", fold=True, strip_mm=9.525)
    ends = [
        (ref, mine)
        for c in builder.workings().cut.cuts
        for ref, mine in zip(_refs(builder, c.wire), (c.a, c.b), strict=True)
    ]
    by_ref = {ref: mine for ref, mine in ends if ref.startswith("M1.")}
    assert by_ref["M1.+"].bare_mm == pytest.approx(4.7625)
    assert by_ref["M1.+"].trim_mm == 0
    assert by_ref["M1.-"].trim_mm == pytest.approx(4.7625)
    end(builder, "M1.+", fold=True, strip_mm=9.525, trim_mm=3.175)
    again = builder.workings()
    other = next(c for c in again.cut.cuts if "M1.-" in _refs(builder, c.wire))
    assert 3.175 in (other.a.trim_mm, other.b.trim_mm)


def _refs(builder: HarnessBuilder, key: str) -> tuple[str, str]:
    section = builder.workings().route.sections[key]
    return section.a.id, section.b.id


def test_how_often_an_end_can_be_made_again_is_slack_by_strip():
    """Slack over what is cut off each time, strip and 5 mm of barrel; at the edge, and just below it."""
    contact = contact_of(pumped(), "M1.+")
    each = contact.strip_mm + 5
    for times in (0, 1, 3):
        for off, expected in ((0.0, times), (each - 0.1, times), (-0.1, times - 1)):
            if times * each + off < 0:
                continue
            builder = measured(pumped(), slack_mm=0.0)
            builder.plain["route"]["points"]["M1"]["slack_mm"] = times * each + off
            assert piece(builder).b.remakes == max(expected, 0)


def test_where_nothing_is_said_the_end_gets_the_slack_that_the_rule_asks():
    builder = measured(pumped("motorsport"), slack_mm=0.0)
    cut = piece(builder)
    contact = contact_of(builder, "M1.+")
    assert cut.b.service_mm == 2 * (contact.strip_mm + 5)
    assert cut.b.remakes == 2
    assert "made-again-seldom" not in {f.code for f in builder.evaluate().findings}


@pytest.mark.parametrize("first", ["longest", "wire part", "connector", "furthest"])
def test_the_list_is_in_the_builders_order(first):
    builder = HarnessBuilder("vehicle").feed(
        "B1 battery > F1 fuse > M1 pump 3 A > B1", "F1 > M2 pump 9 A > B1"
    )
    builder.run("B1 100 > F1 1000 > mid 400 > M1", "mid 1500 > M2").set("cut/first", first)
    w = builder.workings()
    cuts = w.cut.cuts
    assert {c.wire for c in cuts} == set(w.wire.wires)
    if first == "longest":
        assert [c.cut_mm for c in cuts] == sorted((c.cut_mm for c in cuts), reverse=True)
    elif first == "wire part":
        spools = [(c.part, c.colour) for c in cuts]
        assert len(set(spools)) == sum(a != b for a, b in zip([None, *spools], spools, strict=False))
    elif first == "furthest":
        away = {"B1": 0, "F1": 100, "mid": 1100, "M1": 1500, "M2": 2600}
        far = [
            max(away.get(e.point, 0) for e in (w.route.sections[c.wire].a, w.route.sections[c.wire].b))
            for c in cuts
        ]
        assert far == sorted(far, reverse=True)
    else:
        firsts = [
            min(e.connector or "~" for e in (w.route.sections[c.wire].a, w.route.sections[c.wire].b))
            for c in cuts
        ]
        assert firsts == sorted(firsts)


@pytest.mark.parametrize("name", DEMOS)
def test_every_term_stands_on_the_card(name):
    """On the card of any piece of the demos, the terms add up to the finished length and to the cut."""
    w = HarnessBuilder(plain=demo_document(name)).workings()
    for cut in w.cut.cuts:
        labels = [s.label for s in reckon(w, "cut", cut.wire).steps]
        assert "finished" in labels
        assert "cut" in labels
        assert (cut.lay_mm > 0) == ("lay" in labels)
        assert ("service" in labels) == bool(cut.a.service_mm or cut.b.service_mm)
        straight = cut.route_mm + cut.slack_mm + cut.lay_mm
        assert straight + cut.twist_mm == pytest.approx(cut.finished_mm, abs=0.01)


def test_a_jacket_is_taken_off_as_prepared_else_as_its_gland_asks_else_as_is_usual():
    """Fan-out for the four-way circular, 19 to 25 mm, nearer 25 (common practice, no source)."""
    lines = HarnessBuilder("equipment").feed(
        "G1 power supply 2 A > F1 fuse > T1 proximity 0.1 A > G1",
        "F1 > A1 controller 0.1 A > G1",
        "T1.4 > A1.I1",
    )
    lines.run("G1 100 > F1 200 > T1 400 > A1")
    circuits = lines.plain["circuits"]["circuits"]
    members = {
        c: {"order": n}
        for n, (c, x) in enumerate(circuits.items())
        if any(r.startswith("T1.") for r in x["ends"])
    }
    lines.set("circuits/groups/G", {"order": 1, "kind": "cable", "family": "JACKETED-4", "members": members})

    def at_t1():
        ends = [e for c in lines.workings().cut.cables for e in c.ends]
        return next((e.jacket_mm, e.by) for e in ends if e.at == "T1")

    assert at_t1() == (25.0, "its gland")
    lines.set("ends/connectors/T1/fan_out_mm", 22.0)
    assert at_t1() == (22.0, "as prepared")


@pytest.mark.parametrize("name", DEMOS)
def test_a_shield_is_landed_where_its_circuit_ends_and_insulated_elsewhere(name):
    """Told again from the pinout: a shield that ends at a place has a pigtail there, on whichever part."""
    w = HarnessBuilder(plain=demo_document(name)).workings()
    connectors, pinout = w.document.ends.connectors, w.document.ends.pinout
    billed = {line.code for line in w.evaluation.parts.lines}
    for cable in (c for c in w.cut.cables if c.shield is not None):
        shield = w.document.circuits.groups[cable.group].shield
        lands = {
            connectors[p.connector].point: f"{p.connector}-{p.cavity}"
            for ref, p in pinout.items()
            if ref in w.document.circuits.circuits[shield].ends
        }
        for e in cable.ends:
            at = lands.get(connectors[e.at].point)
            folded = connectors[e.at].shield == shield
            if not folded:
                assert e.shield == ("cut back and insulated" if at is None else f"pigtail to {at}")
            assert e.piece_mm > 0
            assert folded or e.part in billed


def test_a_connector_is_made_again_as_often_as_its_end_with_the_least_slack():
    from inkthread.demo import DEMOS, demo_document

    for name in DEMOS:
        e = HarnessBuilder(plain=demo_document(name)).workings()
        by_connector: dict[str, list[int]] = {}
        for cut in e.cut.cuts:
            for own in (cut.a, cut.b):
                if own.pin in e.document.ends.pinout and own.remakes is not None:
                    by_connector.setdefault(e.document.ends.pinout[own.pin].connector, []).append(own.remakes)
        assert e.evaluation.cut.made_again == {c: min(many) for c, many in by_connector.items()}
