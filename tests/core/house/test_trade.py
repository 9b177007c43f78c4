"""Wholes side by side are what the harness comes to when it is really made so; differences add up."""

from __future__ import annotations

import pytest

from inkthread.catalogue import shipped_catalogue
from inkthread.core.build import standard_times, steps_of
from inkthread.core.differences import differences
from inkthread.core.document import dump_document, parse_document
from inkthread.core.evaluate import work_out
from inkthread.core.shop import OwnedTool, Shop
from inkthread.core.trade import AT_ONCE, trade_study, wholes_offered
from inkthread.storage.patches import apply_with_inverse
from tests.core.reckoning.test_one_truth import WORKED
from tests.core.scenarios import pump


@pytest.mark.parametrize("name", ["larkspur", "mushroom"])
def test_what_stands_in_a_column_is_what_its_edit_makes(name):
    w = WORKED[name]
    offered = wholes_offered(w)
    kinds = {o.kind for o in offered}
    assert {"wire", "connectors", "covers", "tools"} <= kinds
    ids = [next(o.id for o in offered if o.kind == kind) for kind in ("wire", "connectors", "covers")]
    wholes = trade_study(w, ids)
    assert [x.id for x in wholes] == ["now", *ids]
    assert (wholes[0].parts_cost, wholes[0].mass_g) == (w.parts.cost_total, round(w.parts.mass_each_g, 1))
    for whole in wholes[1:]:
        assert whole.operations
        plain, _ = apply_with_inverse(dump_document(w.stated), list(whole.operations))
        made = work_out(parse_document(plain), w.catalogue_given, w.context.shop)
        assert whole.parts_cost == made.parts.cost_total
        assert whole.tooling == made.parts.tooling_total
        assert (whole.stops, whole.fixes) == (made.evaluation.tally.stops, made.evaluation.tally.fixes)
        quantity = made.document.brief.quantity
        assert whole.cost_each == pytest.approx((whole.parts_cost + whole.tooling) / quantity, abs=0.006)


def test_no_more_than_four_stand_side_by_side_and_what_is_not_offered_is_passed_over():
    w = pump().workings()
    ids = [o.id for o in wholes_offered(w)]
    assert len(trade_study(w, ids[:6])) == AT_ONCE
    assert [x.id for x in trade_study(w, ["wire NO-SUCH", "cover 99", ids[0], ids[0]])] == ["now", ids[0]]


def test_only_with_owned_tools_asks_for_no_crimper_that_is_not_owned():
    """A pump's sealed contacts want T-OB-M: with another crimper owned it goes into what that one makes."""
    builder = pump()
    need = {t.code for t in builder.workings().parts.tools if t.kind != "stripper"}
    every = {t for t in shipped_catalogue().tools if t not in need}
    builder.shop = Shop({code: OwnedTool(code, certified=True) for code in every})
    w = builder.workings()
    assert [t for t in w.parts.tools if not t.owned]
    _, owned = trade_study(w, ["owned"])
    assert owned.tooling < w.parts.tooling_total
    plain, _ = apply_with_inverse(dump_document(w.stated), list(owned.operations))
    made = work_out(parse_document(plain), w.catalogue_given, builder.shop)
    crimpers = {c.tool for c in made.ends.crimps.values()}
    told = " ".join(owned.words)
    for tool in crimpers - set(builder.shop.tools):
        assert tool in told, "what is still to buy is said"


def test_with_every_tool_owned_that_whole_is_not_offered():
    builder = pump()
    builder.shop = Shop({code: OwnedTool(code, certified=True) for code in shipped_catalogue().tools})
    assert "owned" not in {o.id for o in wholes_offered(builder.workings())}


def test_a_lead_bought_ready_made_costs_what_it_costs_and_says_whether_it_reaches():
    builder = pump().set("brief/quantity", 3)
    need = builder.evaluate().brief.make_or_buy.needed_mm
    builder.set(
        "brief/ready_made",
        {
            "L1": {"order": 1, "length_mm": need + 10, "price": 11.0},
            "L2": {"order": 2, "length_mm": need - 10, "price": 5.0},
        },
    )
    _, fits, short = trade_study(builder.workings(), ["bought L1", "bought L2"])
    assert (fits.parts_cost, fits.cost_each, fits.stops, fits.minutes) == (33.0, 11.0, 0, 0.0)
    assert short.stops == 1
    assert "too short" in short.words[0]


def test_standard_minutes_by_hand_of_a_pump():
    """From the counts of a pump's wires: pieces, ends, contacts put in, all times the minutes of one."""
    w = pump().workings()
    lines = {x.operation: x for x in standard_times(steps_of(w.rooms).values())}
    pieces = [c for c in w.cut.cuts if not c.cable]
    inside = [c for e in w.ends.connectors.values() for c in e.cavities if c.wire and c.seal]
    counts = {"cut a piece": len(pieces), "strip an end": 2 * len(pieces), "insert a contact": len(inside)}
    for operation, count in counts.items():
        assert lines[operation].count == count > 0
        assert lines[operation].minutes == pytest.approx(count * w.catalogue.minutes[operation])
    tubes = sum(piece.count for piece in w.dress.shrinks)
    assert lines["shrink a piece of tube"].count == tubes + len(w.ends.splices)


def test_differences_are_none_of_the_same_and_add_up_of_another():
    w = WORKED["larkspur"]
    same = differences(w, w)
    assert (same.bill, same.cuts) == ((), ())
    assert same.same_cuts == len([c for c in w.cut.cuts if not c.cable]) + len(w.cut.cables)
    plain = dump_document(w.stated)
    branch = max(plain["route"]["branches"], key=lambda b: plain["route"]["branches"][b]["length_mm"])
    plain["route"]["branches"][branch]["length_mm"] += 100
    longer = work_out(parse_document(plain), w.catalogue_given, w.context.shop)
    told = differences(w, longer)
    crossing = {
        c.wire for c in longer.cut.cuts if not c.cable and branch in longer.route.sections[c.wire].branches
    }
    assert crossing
    changed = {d.label for d in told.cuts}
    assert {longer.wire.wires[k].label for k in crossing} <= changed
    assert sum(d.cost for d in told.bill) == pytest.approx(
        (longer.parts.cost_total - w.parts.cost_total) / w.document.brief.quantity,
        abs=0.005 * len(told.bill) + 0.01,
    )
    back = differences(longer, w)
    assert {(d.code, d.colour, -d.cost) for d in back.bill} == {(d.code, d.colour, d.cost) for d in told.bill}


def test_a_wire_that_is_new_and_one_that_has_gone_are_told():
    one = pump().workings()
    two = pump().feed("F1.out > E1 lamp 1 A > B1").run("M1 200 > E1").workings()
    told = differences(one, two)
    assert any(d.before_mm == 0 and d.after_mm > 0 for d in told.cuts)
    assert any(d.after_mm == 0 for d in differences(two, one).cuts)
