"""The order of work: nothing before what it waits for, the shop's habits, cards, settings, moves."""

from __future__ import annotations

import itertools

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from inkthread.core.build import plan_build, steps_of
from inkthread.core.shop import ProvenNest, Shop
from inkthread.demo import DEMOS, demo_document
from tests.conftest import HarnessBuilder
from tests.core.build.test_checks import clamped, seals
from tests.core.dress.test_dress import rule
from tests.core.scenarios import cabled, pump

WORKED = {name: HarnessBuilder(plain=demo_document(name)).workings() for name in DEMOS}
HABITS = list(itertools.product((1, 2), (1, 2), (1, 2)))


def planned(builder: HarnessBuilder):
    rooms = builder.workings().rooms
    return plan_build(rooms, steps_of(rooms))


def with_habits(builder: HarnessBuilder, habits: tuple[int, int, int]) -> HarnessBuilder:
    for name, value in zip(("work_by", "branch_first", "crimps_together"), habits, strict=True):
        rule(builder, name, value)
    return builder


@pytest.mark.parametrize("name", DEMOS)
@pytest.mark.parametrize("habits", HABITS)
def test_nothing_is_done_before_what_it_waits_for(name, habits):
    """By the list itself, no graph: each step comes after every one that it names."""
    plan = planned(with_habits(HarnessBuilder(plain=demo_document(name)), habits))
    at = {step: n for n, step in enumerate(plan.order)}
    assert sorted(at) == sorted(plan.operations)
    assert plan.broken == ()
    for step, own in plan.operations.items():
        assert all(at[before] < at[step] for before in own.after)
    assert [step for card in plan.cards for step in card.steps] == list(plan.order)


@pytest.mark.parametrize("name", DEMOS)
def test_every_piece_end_splice_and_cover_has_its_steps(name):
    """Counted from the rooms before: what is cut, ended, joined, covered, held and labelled."""
    w = WORKED[name]
    steps = steps_of(w.rooms).values()

    def count(*works: str) -> int:
        return sum(own.work in works for own in steps)

    assert count("cut-wire") == sum(not c.cable for c in w.cut.cuts)
    assert count("cut-cable") == len(w.cut.cables)
    assert count("crimp-splice") == count("tug-splice") == len(w.ends.splices)
    made = [c for c in w.ends.contacts.values() if not c.factory and c.strip_mm]
    assert count("strip") == count("crimp", "solder", "clamp") == count("tug", "strands") == len(made)
    assert count("thread-seal") == len(w.ends.seals)
    assert count("shrink-barrel") == sum(s.count for s in w.dress.shrinks if s.over_barrel)
    assert count("sleeve") == sum(bool(c.code) for c in w.dress.covers)
    assert count("hold") == len(w.dress.holds)
    labels = w.dress.labels.labels
    assert count("thread-label") == sum(x.of in w.wire.wires for x in labels)
    assert count("shrink-label") == count("thread-connector-label")
    assert count("open-lock") == count("close-lock")


def test_a_sealed_end_by_hand():
    """Usual end of the trade guide: seal on, strip, contact, look and tug, into its cavity, tug, lock."""
    steps = steps_of(pump().workings().rooms)
    at_m1 = [own for own in steps.values() if own.end == "M1.+"]
    works = [own.work for own in at_m1]
    assert works == ["thread-seal", "strip", "crimp", "tug", "insert", "home"]
    by_work = {own.work: own for own in at_m1}
    assert by_work["thread-seal"].id in by_work["crimp"].after
    assert by_work["strip"].id in by_work["crimp"].after
    assert "open-lock M1" in by_work["insert"].after
    assert by_work["home"].id in steps["close-lock M1"].after


def test_a_clamped_end_is_opened_and_looked_at_and_nothing_is_crimped():
    works = [own.work for own in steps_of(clamped().workings().rooms).values() if own.place == "M1"]
    assert {"open-clamp", "clamp", "strands"} <= set(works)
    assert not {"crimp", "insert", "open-lock"} & set(works)


def test_cores_wait_for_their_cable_to_be_prepared_at_both_ends():
    steps = steps_of(cabled().workings().rooms)
    prepared = {s for s in steps if s.startswith("prepare-cable")}
    assert len(prepared) == 2
    cores = steps["cut-cable G"].wires
    for own in steps.values():
        if own.work == "strip" and own.wires[0] in cores:
            assert prepared <= set(own.after)


def test_a_splice_waits_for_its_tube_and_its_wires_wait_for_it():
    steps = steps_of(seals().workings().rooms)
    splice = next(own for own in steps.values() if own.work == "crimp-splice")
    of = splice.id.removeprefix("crimp-splice ")
    assert f"thread-splice {of}" in splice.after
    assert f"second-pass {of}" in steps[f"tug-splice {of}"].after
    ends = [own for own in steps.values() if own.work == "strip" and own.wires[0] in splice.wires]
    assert ends
    assert all(f"shrink-splice {of}" in own.after for own in ends)
    once = steps_of(rule(seals(), "splice_passes", 2).workings().rooms)
    assert f"second-pass {of}" not in once


def test_the_furthest_connector_is_filled_first_or_the_innermost():
    def order(habit: int) -> list[str]:
        plan = planned(rule(seals(), "branch_first", habit))
        return list(
            dict.fromkeys(plan.operations[s].place for s in plan.order if plan.operations[s].work == "insert")
        )

    assert order(1) == ["M3", "M1", "M2"], "1500, 1400, 1360 mm from the fuse"
    assert order(2) == ["M2", "M1", "M3"]


def test_wire_by_wire_makes_both_ends_of_a_wire_before_the_next():
    plan = planned(rule(rule(pump(), "work_by", 2), "crimps_together", 2))
    wires = [plan.operations[s].wires[0] for s in plan.order if plan.operations[s].work == "crimp"]
    assert [key for key, _ in itertools.groupby(wires)] == list(dict.fromkeys(wires))


@pytest.mark.parametrize("name", DEMOS)
def test_crimps_of_one_setting_together_set_a_tool_no_more_often_than_there_are_settings(name):
    """The least there can be: each tool and setting of the ends once, of the splices once."""
    plan = planned(rule(HarnessBuilder(plain=demo_document(name)), "crimps_together", 1))
    ends = {(o.tool, o.setting) for o in plan.operations.values() if o.work == "crimp" and o.tool}
    joints = {(o.tool, o.setting) for o in plan.operations.values() if o.work == "crimp-splice"}
    crimps = [plan.operations[s] for s in plan.order if plan.operations[s].work == "crimp"]
    runs = [key for key, _ in itertools.groupby((o.tool, o.setting) for o in crimps)]
    assert len(runs) == len(ends)
    assert plan.settings <= len(ends) + 2 * len(joints) + len(WORKED[name].ends.splices)
    each = planned(rule(HarnessBuilder(plain=demo_document(name)), "crimps_together", 2))
    assert plan.settings <= each.settings


def test_one_spool_is_loaded_once():
    plan = planned(HarnessBuilder(plain=demo_document("larkspur")))
    cuts = [plan.operations[s] for s in plan.order if plan.operations[s].work == "cut-wire"]
    spools = [key for key, _ in itertools.groupby(o.card for o in cuts)]
    assert len(spools) == len(set(spools))


def test_a_step_that_is_moved_comes_next_after_the_one_it_names():
    builder = pump()
    plan = planned(builder)
    step, then = "hold clamp R2", "cut-wire C2"
    assert {step, then} <= set(plan.order)
    builder.plain["build"] = {"steps": {step: {"order": 1, "after": then}}}
    moved = planned(builder)
    assert moved.order[moved.order.index(then) + 1] == step
    assert [s for s in moved.order if s != step] == [s for s in plan.order if s != step]
    assert [(b.step, b.left_out) for b in moved.broken] == [(step, False)] * len(moved.broken)


def test_a_step_may_be_moved_to_the_start():
    builder = pump()
    last = planned(builder).order[-1]
    builder.plain["build"] = {"steps": {last: {"order": 1, "after": "start"}}}
    assert planned(builder).order[0] == last
    assert planned(builder).lost == ()


def test_minutes_are_those_of_what_is_done():
    builder = pump()
    plan = planned(builder)
    assert plan.minutes == pytest.approx(sum(c.minutes for c in plan.cards), abs=0.1)
    step = next(s for s in plan.order if s.startswith("hold"))
    builder.plain["build"] = {"steps": {step: {"order": 1, "left_out": True}}}
    less = planned(builder)
    assert less.minutes == pytest.approx(plan.minutes - plan.operations[step].minutes)
    assert less.left_out == (step,)


@settings(max_examples=25, deadline=None)
@given(st.data())
def test_whatever_is_moved_each_break_is_named_and_no_other(data):
    """Against every pair looked at one by one."""
    builder = pump()
    steps = steps_of(builder.workings().rooms)
    names = sorted(steps)
    moves = data.draw(
        st.lists(
            st.tuples(st.sampled_from(names), st.sampled_from(names)).filter(lambda m: m[0] != m[1]),
            max_size=4,
        )
    )
    left_out = data.draw(st.lists(st.sampled_from(names), max_size=2))
    chosen = {a: {"order": n, "after": b} for n, (a, b) in enumerate(moves)}
    chosen |= {s: {"order": 90, "left_out": True} for s in left_out}
    builder.plain["build"] = {"steps": chosen}
    plan = planned(builder)
    at = {step: n for n, step in enumerate(plan.order)}
    expected = {
        (step, before, before not in at)
        for step in plan.order
        for before in steps[step].after
        if before not in at or at[before] > at[step]
    }
    assert {(b.step, b.waits_for, b.left_out) for b in plan.broken} == expected
    assert set(plan.order) == set(steps) - set(left_out)


@pytest.mark.parametrize(
    ("what", "old", "new"),
    [
        ("devices", "M1", "M77"), ("devices", "A1", "ECU"), ("connectors", "J1a", "J9x"), ("points", "mid", "middle"),
        ("points", "box", "fusebox"), ("branches", "R3", "R99"), ("circuits", "C16", "C216"),
        ("circuits", "C60", "bus"),
    ],
)  # fmt: skip
def test_what_was_said_of_a_step_goes_along_when_a_thing_is_renamed(what, old, new):
    """Everything said of every step of the demo, and then an id changed: no step is lost."""
    builder = HarnessBuilder(plain=demo_document("larkspur"))
    steps = list(steps_of(WORKED["larkspur"].rooms))
    chosen = {step: {"order": n, "reason": "as here"} for n, step in enumerate(steps)}
    chosen[steps[0]]["after"] = steps[1]
    builder.plain["build"] = {"steps": chosen}
    builder._act_about("rename", new, f"{what}/{old}")
    assert [f.what for f in builder.evaluate().findings if f.code == "step-gone"] == []
    assert set(steps_of(builder.workings().rooms)) != set(steps)


@pytest.mark.parametrize(
    ("rule_name", "work", "words"),
    [("twist_strands", "strip", "Twist"), ("strip_with", "strip", "cutters"), ("heat_with", "shrink-barrel", "flame")],
)  # fmt: skip
def test_a_house_rule_adds_its_words_to_the_step(rule_name, work, words):
    def looks(value: int) -> str:
        steps = steps_of(rule(pump(), rule_name, value).workings().rooms).values()
        return next(own.look for own in steps if own.work == work)

    assert words not in looks(1)
    assert words in looks(2)


def test_a_nest_that_was_proved_here_is_told_on_the_step():
    builder = pump()
    crimp = next(c for (ref, _), c in builder.workings().ends.crimps.items() if ref == "M1.+")
    contact = builder.workings().ends.contacts["M1.+", "C2"].code
    wire = builder.evaluate().wire.wires["C2"]
    part = f"{wire.family} {wire.gauge}"
    builder.shop = Shop(proven={(contact, part): ProvenNest(contact, part, crimp.tool, crimp.nest)})
    steps = steps_of(builder.workings().rooms)
    assert ", proved here, full stroke" in steps["crimp C2 at M1.+"].words
    assert "proved" not in steps["crimp C3 at B1.-"].words


def test_the_card_of_an_end_says_its_wire_by_its_label_and_its_cavity():
    w = pump().workings()
    titles = {card.title for card in plan_build(w.rooms, steps_of(w.rooms)).cards if card.kind == "end"}
    labels = {wire.label for wire in w.wire.wires.values()}
    assert titles
    for title in titles:
        label, _, place = title.partition(" at ")
        assert label in labels
        assert place.partition("-")[0] in w.document.ends.connectors
