"""What lies where it may not, and what builders differ on: rules at their edges, views with their effect."""

from __future__ import annotations

import pytest

from inkthread.core.brief import brief_room
from inkthread.core.brief.ready_made import make_or_buy
from inkthread.core.document import DocumentError, parse_document
from inkthread.core.document.against_catalogue import require_known_parts
from inkthread.core.document.starter import new_document, practices
from inkthread.core.ends.joints import BY_RULE, JointWire, choose_joint
from inkthread.core.ends.tools import strippers_for
from inkthread.core.shop import OwnedTool
from inkthread.core.text import read_text
from inkthread.core.wire.by_zone import coarse_strands
from tests.conftest import HarnessBuilder
from tests.core.scenarios import caught, pump, ruled, two_lamps, zoned


def codes(builder: HarnessBuilder) -> set[str]:
    return set(builder.codes())


# Presets as they are practised

PRACTISED = [
    ("marine", "drop_limit_critical_percent", 3), ("marine", "drop_limit_continuous_percent", 10),
    ("marine", "drop_limit_intermittent_percent", 10), ("equipment", "drop_limit_continuous_percent", 5),
    ("equipment", "drop_limit_intermittent_percent", 5), ("aviation", "least_area_moving_mm2", 0.5),
    ("marine", "unprotected_mm", 177.8), ("marine", "unprotected_sheathed_mm", 1016),
    ("marine", "unprotected_battery_mm", 1828.8), ("equipment", "unprotected_mm", 3000),
    ("vehicle", "default_ambient_c", 60), ("equipment", "lined_covers", 0),
]  # fmt: skip
"""ABYC E-11 from memory: 3 % and 10 %; 7, 40 and 72 in. Others common practice, no source."""


@pytest.mark.parametrize(("practice", "rule", "value"), PRACTISED)
def test_presets_are_those_of_the_trade(catalogue, practice, rule, value):
    assert catalogue.rules[rule].values[practice] == value


def test_moving_wire_is_never_thinner_than_still(catalogue):
    still, moving = (catalogue.rules[r].values for r in ("least_area_mm2", "least_area_moving_mm2"))
    assert all(moving[p] >= still[p] for p in practices())


def test_where_it_shakes_the_least_size_changes_gauges():
    """Aviation 20 AWG where it shakes, 22 where it does not (common practice, no source)."""
    builder = (
        HarnessBuilder("aviation")
        .feed("B1 battery > F1 fuse > T1 compass 0.05 A > B1")
        .run("B1 100 > F1 300 > T1")
    )
    still = {w.gauge for w in builder.evaluate().wire.wires.values()}
    shaken = {w.gauge for w in zoned(builder, vibration=True).evaluate().wire.wires.values()}
    assert still == {"22 AWG"}
    assert shaken == {"20 AWG"}


@pytest.mark.parametrize(
    ("practice", "family", "plating"),
    [("marine", "BOAT-5", "tin"), ("model", "SILICONE", "tin"), ("aviation", "AS22759/16", "tin")],
)
def test_each_practice_has_its_own_wire(catalogue, practice, family, plating):
    assert catalogue.preset_families[practice] == family
    assert catalogue.wires[family].plating == plating


def test_boat_cable_is_class_5_tinned(catalogue):
    """IEC 60228 class 5, metal-coated, largest resistance at 20 °C, from memory."""
    most = {"1.5 mm²": 13.7, "2.5 mm²": 8.21, "4 mm²": 5.09, "6 mm²": 3.39, "10 mm²": 1.95, "16 mm²": 1.24}
    family = catalogue.wires["BOAT-5"]
    assert {g: family.size(g).resistance_ohm_per_km for g in most} == most
    assert not any(coarse_strands(s.area_mm2, s.strand_diameter_mm) for s in family.sizes)
    assert family.temperature_c == 105


@pytest.mark.parametrize(("line", "works"), [("supply 28 V", 27.5), ("supply 14 V", 13.8)])
def test_an_aircraft_with_a_generator_works_above_its_battery(catalogue, line, works):
    brief = read_text(f"[brief]\npractice aviation\n{line}\n", catalogue).document["brief"]
    assert brief["supply_working_v"] == works
    assert new_document("x", "aviation")["brief"]["supply_working_v"] == 13.8


# Rules that are choices


def test_a_choice_takes_no_figure_between_and_says_what_there_is(catalogue):
    builder = pump().set("brief/house_rules/splice_kind", {"order": 1, "value": 2.5, "reason": "a habit"})
    with pytest.raises(DocumentError) as refused:
        require_known_parts(parse_document(builder.plain), catalogue)
    assert "open-barrel overlap" in str(refused.value)


def test_a_view_is_typed_by_its_own_words(catalogue):
    begun = "[brief]\npractice vehicle\nrule splice_kind"
    read = read_text(f"{begun} solder sleeve because no crimper\n", catalogue)
    assert read.problems == ()
    assert read.document["brief"]["house_rules"]["splice_kind"]["value"] == 3
    bad = read_text(f"{begun} twisted because so\n", catalogue)
    assert "solder sleeve" in bad.problems[0].says


def test_every_choice_says_who_holds_it_and_why_and_every_preset_is_one_of_them(catalogue):
    for name, rule in catalogue.rules.items():
        if rule.choices:
            assert len(rule.choices) > 1, name
            assert all(c.why and c.label for c in rule.choices), name
            assert all(rule.choice(v) is not None for v in rule.values.values()), name


def test_a_rule_of_ones_own_asks_for_its_reason_until_it_has_one():
    builder = pump().set("brief/house_rules/least_area_mm2", {"order": 1, "value": 1.0, "reason": ""})
    e = builder.evaluate()
    assert "rule-without-reason" in {f.code for f in e.findings}
    assert e.brief.rules["least_area_mm2"].reason == "", "never the practice's"
    builder.set("brief/house_rules/least_area_mm2/reason", "it is handled")
    assert "rule-without-reason" not in codes(builder)


# Schools


@pytest.mark.parametrize(
    ("value", "form"),
    [(1, "open barrel"), (2, "closed barrel"), (3, "solder sleeve"), (4, "sub-miniature"), (5, "lined butt")],
)
def test_splices_are_made_as_the_house_makes_them(value, form):
    e = ruled(two_lamps("vehicle", 900), splice_kind=float(value)).workings()
    made = {j.part.form for j in e.ends.joints.values()}
    assert form in made
    kind, asked = BY_RULE[value]
    assert all(j.part.kind == kind for j in e.ends.joints.values())
    assert asked in (None, form)


@pytest.mark.parametrize(
    ("rule", "value", "way"),
    [("returns", 1.0, "cascade"), ("returns", 2.0, "block"), ("returns", 3.0, "home runs"),
     ("splices_in_run", 3.0, "block"), ("splices_in_run", 2.0, "home runs")],
)  # fmt: skip
def test_returns_and_runs_join_as_the_house_has_it(rule, value, way):
    w = ruled(two_lamps("vehicle", 900), **{rule: value}).workings()
    back = next(c for c, f in w.circuits.circuits.items() if f.role == "ground")
    assert w.route.threadings[back] == way
    if rule == "returns":
        assert "return-join-not-said" not in {f.code for f in w.evaluation.findings}


def test_a_return_of_several_loads_is_asked_for_and_one_of_a_single_load_is_not():
    assert "return-join-not-said" in codes(two_lamps("vehicle", 900))
    assert "return-join-not-said" not in codes(pump())


def test_what_meets_at_a_stud_has_its_lug_there_up_to_four():
    """Four lugs on a stud at most (AC 43.13-1B practice, from memory); a fifth wire goes to a splice."""
    for many, splices in ((4, 0), (5, 1)):
        builder = HarnessBuilder("vehicle")
        for n in range(1, many + 1):
            feed = "B1 battery" if n == 1 else "B1.+"
            builder.feed(f"{feed} > F{n} fuse > E{n} lamp 1 A > G{n} ground stud")
        builder.run(*(f"B1 {100 + 10 * n} > F{n} 500 > E{n} 100 > G{n}" for n in range(1, many + 1)))
        w = builder.workings()
        feed = next(c for c, x in builder.plain["circuits"]["circuits"].items() if "B1.+" in x["ends"])
        assert sum(s.circuit == feed for s in w.route.splices.values()) == splices


@pytest.mark.parametrize(("rule", "asked"), [(0, set()), (1, {"salt"}), (2, {"salt", "wet"})])
def test_bare_copper_is_judged_as_the_house_has_it(rule, asked):
    for where in ("salt", "wet"):
        builder = ruled(zoned(pump(), **{where: True}), tinned_copper=float(rule))
        assert (f"bare-copper-in-{where}" in codes(builder)) == (where in asked)
    tinned = zoned(pump("marine"), salt=True)
    assert "bare-copper-in-salt" not in codes(ruled(tinned, tinned_copper=float(rule)))


def test_a_solid_wire_that_moves_wants_a_reason_of_its_own():
    builder = zoned(pump("equipment").set("wire/family", "SOLID-HOOKUP"), flex=True)
    assert "solid-in-motion" in codes(builder)
    assert "solid-in-motion" not in codes(ruled(builder, solid_where_it_moves=1.0))


# Places


@pytest.mark.parametrize(("span_mm", "told"), [(300.0, False), (301.0, True)])
def test_clamps_stand_as_close_as_the_rule(span_mm, told):
    builder = pump().set("route/branches/R2/support_mm", span_mm)
    assert ("span-unheld" in codes(builder)) == told, "vehicle 300 mm"


@pytest.mark.parametrize("edge", ["bare metal", "grommet", "soft"])
def test_a_bare_edge_wants_clearance_or_a_grommet(edge):
    """AC 43.13-1B, from memory: 3/8 in from the edge of a cut-out, else a grommet."""
    builder = caught("C21").set("route/points/hole/edge", edge)
    outside = builder.workings().dress.outside_mm()
    thick = max(
        outside[b]
        for b, x in builder.plain["route"]["branches"].items()
        if "hole" in (x["from_point"], x["to_point"])
    )
    for clear_mm, told in ((9.4, True), (9.6, False)):
        builder.set("route/points/hole/opening_mm", thick + 2 * clear_mm)
        assert ("edge-bare" in codes(builder)) == (told and edge == "bare metal")


@pytest.mark.parametrize(("between_mm", "told"), [(19.0, True), (20.0, False)])
def test_a_clamp_keeps_clear_of_an_edge(between_mm, told):
    builder = caught("C21").set("route/branches/R3/length_mm", between_mm)
    assert ("clamp-at-edge" in codes(builder)) == told


@pytest.mark.parametrize(
    ("area_mm2", "strand_mm", "coarse"),
    [(0.5, 0.21, False), (0.5, 0.22, True), (1.5, 0.26, False), (1.5, 0.27, True), (4.0, 0.31, False),
     (10.0, 0.41, False), (10.0, 0.5, True)],
)  # fmt: skip
def test_strands_are_no_thicker_than_a_flexible_conductors(area_mm2, strand_mm, coarse):
    """IEC 60228, class 5, table 3, from memory."""
    assert coarse_strands(area_mm2, strand_mm) == coarse


@pytest.mark.parametrize(("dry_mm", "told"), [(None, True), (500, False)])
def test_a_breaker_at_the_edge_of_the_wet_stays_dry_behind_it(dry_mm, told):
    """A branch leads out of the wet zone where it sits: it is not in it."""
    builder = HarnessBuilder("marine").feed("B1 battery > Q1 breaker > E1 cabin lamp 1 A > B1")
    builder._act("zone", "bilge, 30 C, wet")
    builder.run("B1 100 > Q1 900 > E1")
    for b in builder.plain["route"]["branches"].values():
        b["zone"] = "bilge" if dry_mm is None or "E1" in (b["from_point"], b["to_point"]) else None
    wet = [f for f in builder.evaluate().findings if f.code == "not-tight-enough" and "Q1" in f.what]
    assert bool(wet) == told


@pytest.mark.parametrize(("apart_mm", "told"), [(None, True), (99.0, True), (100.0, False)])
def test_distance_that_is_noted_quiets_what_it_keeps_apart(apart_mm, told):
    from tests.core.scenarios import ignition

    builder = ignition()
    for branch in builder.plain["route"]["branches"].values():
        branch["apart_mm"] = apart_mm
    assert ("signal-beside-ignition" in codes(builder)) == told
    combs = ignition()
    for branch in combs.plain["route"]["branches"].values():
        branch["separators"] = True
    assert not {"signal-beside-ignition", "ignition-together"} & codes(combs)


@pytest.mark.parametrize(("sheath", "mm", "told"), [
    ("none", 150.0, False), ("none", 190.0, True), ("enclosure", 900.0, False), ("enclosure", 1100.0, True),
    ("sheath", 1750.0, False), ("sheath", 1900.0, True),
])  # fmt: skip
def test_wire_before_its_first_fuse_is_as_long_as_its_cover_lets_it(sheath, mm, told):
    """ABYC E-11, from memory: 7 in, 40 in in an enclosure, 72 in in a sheath from the battery."""
    builder = (
        HarnessBuilder("marine")
        .feed("B1 battery > F1 fuse > E1 cabin lamp 1 A > B1")
        .run(f"B1 {mm - 25} > F1 900 > E1")
    )
    builder.set("route/branches/R1/sheath", sheath)
    assert ("unprotected-too-long" in codes(builder)) == told


@pytest.mark.parametrize(("hot_c", "stands_c"), [(60.0, 125), (130.0, 150), (160.0, 175)])
def test_a_splice_and_its_cover_stand_the_heat_they_lie_in(catalogue, hot_c, stands_c):
    wires = [JointWire(0.5, 1.5)]
    joint = choose_joint(
        catalogue, wires, wires * 2, "overlap", lined=False, free_sides=True, hottest_c=hot_c
    )
    assert joint.fits
    assert joint.part.temperature_c >= stands_c > hot_c
    assert joint.cover is None or joint.cover.temperature_c > hot_c


# Tools


@pytest.mark.parametrize(("insulation", "gauge", "notch"), [
    ("J1128-TXL", "18 AWG", "notch 18"), ("J1128-TXL", "20 AWG", "notch 20"),
    ("AS22759/32", "22 AWG", "notch 22"), ("IEC60228-5", "0.75 mm²", "notch 18"),
])  # fmt: skip
def test_a_stripper_has_its_notch(catalogue, insulation, gauge, notch):
    """Metric to AWG, never losing copper: 0.75 mm² to 18 (common practice)."""
    family = catalogue.wires[insulation]
    tool, said = strippers_for(catalogue, family, family.size(gauge))[0]
    assert said == notch
    assert tool.kind == "stripper"


@pytest.mark.parametrize(("day", "years"), [("2024-11-28", 2.0), ("2026-05-28", 0.5), ("", None)])
def test_how_long_ago_a_tool_was_gauged(day, years):
    ago = OwnedTool("T", gauged_on=day, result="passed").gauged_years_ago("2026-11-28")
    assert ago is None if years is None else ago == pytest.approx(years, abs=0.01)


# Make or buy


@pytest.mark.parametrize(
    ("length_mm", "fits"), [(999.0, False), (1000.0, True), (1300.0, True), (1301.0, False)]
)
def test_a_ready_made_lead_fits_from_the_length_wanted_to_what_may_be_stowed(length_mm, fits):
    builder = pump().set("brief/ready_made/L1", {"order": 1, "length_mm": length_mm, "price": 9.0})
    document = parse_document(builder.plain)
    found = make_or_buy(
        document, brief_room(document, builder.catalogue), 1000.0, cost_total=20.0, tooling_total=40.0
    )
    (offer,) = found.offers
    assert (offer.fits, offer.margin_mm) == (fits, length_mm - 1000)
    assert (found.make_each, found.make_each_with_tools) == (20.0, 60.0), "(materials + tools) / quantity"


def test_the_length_wanted_is_the_longest_run_with_its_slack():
    """B1 to M1 by hand: 100 + 900 + 400 and 20 of slack for each of three branches."""
    builder = (
        HarnessBuilder("vehicle")
        .feed("B1 battery > F1 fuse > M1 pump 5 A > B1")
        .run("B1 100 > F1 900 > mid 400 > M1")
    )
    assert builder.evaluate().brief.make_or_buy.needed_mm == 1460


# One cause, one finding


def test_an_overload_is_one_finding_with_what_follows_inside_it():
    builder = pump(amps=120, end=" (RING)")
    e = builder.evaluate()
    alone = [f for f in e.findings if f.follows is None and f.severity != "consider"]
    assert len(alone) == 1
    assert len(e.findings) > 4
    assert e.tally.stops + e.tally.fixes == 1
    assert all(e.findings[f.follows].follows is None for f in e.findings if f.follows is not None)


def test_two_causes_stay_two():
    builder = HarnessBuilder("vehicle").feed(
        "B1 battery > F1 fuse > R1 heater 120 A (RING) > B1", "B1 > F2 fuse 40 A > M1 pump 5 A > B1"
    )
    builder.run("B1 100 > F1 900 > R1", "B1 120 > F2 900 > M1")
    alone = {f.code for f in builder.evaluate().findings if f.follows is None and f.severity == "stop"}
    assert "nothing-fits" in alone
    assert "fuse-above-weakest" in alone


# Its own choice


def panel(run_mm: float) -> HarnessBuilder:
    """Instruments close together, and so much of loom before them."""
    builder = HarnessBuilder("aviation").feed(
        "B1 battery 12 Ah > F1 fuse > A1 radio 0.3 A > B1",
        "F1.out > A2 flight computer 0.4 A > B1",
        "F1.out > A3 variometer 0.4 A > B1",
    )
    return builder.run(f"B1 100 > F1 {run_mm} > A1 300 > A2 300 > A3")


def test_a_splice_of_the_programs_own_goes_where_there_is_room():
    """305 mm clear of every connector (AC 43.13-1B, 12 in): there is none between the instruments."""
    assert "splice-crowded" not in codes(panel(900.0))
    assert "splice-crowded" in codes(panel(500.0)), "no branch has room: told, for the builder to choose"
    chosen = panel(900.0)
    for circuit in chosen.plain["circuits"]["circuits"].values():
        circuit.update(threading="star", hub="A2")
    assert "splice-crowded" in codes(chosen), "what the builder chose is judged"


def test_a_splice_that_no_cover_closes_on_is_made_another_way(catalogue):
    """One thin wire to two thick ones: no plain tube closes on the thin side, a sealed crimp needs none."""
    from dataclasses import replace

    bare = replace(catalogue, covers=())
    wires = [JointWire(0.6, 1.6)]
    joint = choose_joint(bare, wires, wires, "overlap", lined=False, free_sides=True)
    assert joint.part.covered
    assert "No cover closes" in joint.reasons[0]


def test_colours_that_the_program_gave_are_not_asked_about():
    builder = HarnessBuilder("equipment").feed("G1 power supply 5 A > A1 controller 0.1 A > G1")
    pins = builder.plain["circuits"]["devices"]["A1"]["pins"]
    for n in range(14):
        pins[f"S{n}"] = {"order": 30 + n, "role": "signal", "name": f"s{n}"}
        builder.feed(f"T{n + 1} reed switch", f"A1.S{n} > T{n + 1}.1")
    builder.set("wire/family", "IEC60228-5")
    assert "colour-repeats" not in codes(builder)


def test_how_much_shows_past_the_tabs_is_the_terminals_own_with_its_source():
    """Ignition: 5/64 or 1/8 in, by the terminal (common practice, no source)."""
    from inkthread.core.reckoning import reckon

    w = caught("C23", twin=True).workings()
    card = reckon(w, "contact", "X2.1")
    step = next(s for s in card.steps if s.label == "insulation past the tabs")
    assert step.result == "2 to 3.2 mm"
    assert any("1/8 in" in s for s in card.sources)


@pytest.mark.parametrize(("value", "family"), [(1.0, "TAB63"), (2.0, "RBLK"), (3.0, "RBLKW")])
@pytest.mark.parametrize("said", ["", " coil 0.15 A, contact 30 A"])
def test_a_new_relay_is_joined_as_the_house_joins_relays(value, family, said):
    builder = ruled(HarnessBuilder("vehicle"), relay_joined=value)
    builder.feed(f"B1 battery 60 Ah > F1 fuse > K1 relay{said} > M1 pump 5 A > B1")
    assert builder.plain["ends"]["connectors"]["K1"]["family"] == family
    on_base = {e["cavity"] for r, e in builder.plain["ends"]["pinout"].items() if r.startswith("K1.")}
    assert value == 1.0 or on_base == {"30", "87", "86", "85"}
    named = ruled(HarnessBuilder("vehicle"), relay_joined=value)
    named.feed("B1 battery > F1 fuse > K1 relay (SR16) > M1 pump 5 A > B1")
    assert named.plain["ends"]["connectors"]["K1"]["family"] == "SR16", "what is said goes before the rule"


def test_every_house_rule_is_read_somewhere(catalogue):
    """A control that does nothing is not there."""
    from pathlib import Path

    import inkthread.core

    root = Path(inkthread.core.__file__).parent
    source = "\n".join(p.read_text(encoding="utf-8") for p in root.rglob("*.py"))
    by_service = {f"drop_limit_{s}_percent" for s in ("continuous", "intermittent", "critical")}
    worded = set(catalogue.hand_works.by_rule)
    assert [r for r in catalogue.rules if f'"{r}"' not in source and r not in by_service | worded] == []


def test_a_solid_wire_fixed_with_its_reason_is_accepted():
    builder = zoned(pump("equipment"), flex=True)
    for reason, told in (("", True), ("a shaped run, held at both ends", False)):
        for n, key in enumerate(builder.evaluate().wire.wires):
            builder.set(f"wire/fixed/{key}", {"order": n, "reason": reason, "family": "SOLID-HOOKUP"})
        assert ("solid-in-motion" in codes(builder)) == told
