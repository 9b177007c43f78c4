"""Practices and house rules: each does what it says, and says where it comes from."""

from __future__ import annotations

import pytest

from inkthread.core.document.starter import practices
from tests.conftest import HarnessBuilder


def lamp(practice: str) -> HarnessBuilder:
    builder = HarnessBuilder(practice).feed("B1 battery > F1 fuse > E1 lamp 1 A > B1")
    return builder.run("B1 300 > F1 700 > mid 500 > E1")


def rule(builder: HarnessBuilder, name: str, value: float) -> HarnessBuilder:
    return builder.set(f"brief/house_rules/{name}", {"order": 1, "value": value, "reason": "test"})


@pytest.mark.parametrize("practice", practices())
def test_every_practice_gives_a_whole_harness_in_its_own_family(practice, catalogue):
    e = lamp(practice).evaluate()
    assert e.brief.family == catalogue.preset_families[practice]
    assert e.brief.family_origin == "practice"
    assert e.tally.wires == 3
    assert len(e.brief.cautions) >= 3
    least = e.brief.rules["least_area_mm2"].value
    assert all(w.area_mm2 >= least for w in e.wire.wires.values())
    assert e.wire.loops["E1"].drop_v <= e.wire.loops["E1"].limit_v
    assert not [f for f in e.findings if f.severity == "stop"]


def test_every_rule_has_a_value_or_a_table_for_every_practice_and_a_source(catalogue):
    for name, r in catalogue.rules.items():
        assert set(r.values) == set(practices()), name
        assert r.source
        assert r.why
        by_table = [p for p, v in r.values.items() if v is None]
        assert by_table in ([], ["aviation"]), name
        if by_table:
            assert "drop_limit" in name


def test_a_house_rule_is_shown_as_the_builders_own_with_the_preset_beside_it():
    e = rule(lamp("vehicle"), "drop_limit_continuous_percent", 1.0).evaluate()
    shown = e.brief.rules["drop_limit_continuous_percent"]
    assert (shown.value, shown.origin, shown.preset_value, shown.reason) == (1.0, "house", 3, "test")


def test_a_tighter_drop_limit_asks_for_more_copper():
    loose = lamp("vehicle").set("circuits/loads/E1/current_a", 3.0)
    tight = rule(
        lamp("vehicle").set("circuits/loads/E1/current_a", 3.0), "drop_limit_continuous_percent", 1.5
    )
    loose_e, tight_e = loose.evaluate(), tight.evaluate()
    assert tight_e.wire.loops["E1"].drop_percent < loose_e.wire.loops["E1"].drop_percent
    assert tight_e.tally.grams > loose_e.tally.grams


def test_intermittent_service_has_its_own_limit():
    builder = lamp("vehicle").set("circuits/loads/E1/service", "intermittent")
    assert builder.evaluate().wire.loops["E1"].limit_v == pytest.approx(0.792), "6 % of 13.2 V"
    assert lamp("vehicle").evaluate().wire.loops["E1"].limit_v == pytest.approx(0.396), "3 %"


@pytest.mark.parametrize(
    ("name", "critical", "limit_v"),
    [
        ("cabin lamp", None, 1.28), ("cabin lamp", True, 0.384), ("bilge lamp", None, 0.384),
        ("navigation light", None, 0.384), ("navigation light", False, 1.28),
    ],
)  # fmt: skip
def test_a_boat_goes_by_what_a_load_is_not_by_how_long_it_is_on(name, critical, limit_v):
    """ABYC E-11, from memory: 3 % for what one relies on, navigation lights and bilge blowers among it;
    10 % elsewhere. 12.8 V x 3 % = 0.384 V."""
    for service in ("continuous", "intermittent"):
        builder = lamp("marine").set("circuits/loads/E1/service", service)
        builder.set("circuits/devices/E1/name", name).set("circuits/loads/E1/critical", critical)
        assert builder.evaluate().wire.loops["E1"].limit_v == pytest.approx(limit_v)


def test_aviation_by_table_unless_the_house_says_otherwise():
    assert lamp("aviation").evaluate().wire.loops["E1"].limit_v == 0.5
    own = rule(lamp("aviation"), "drop_limit_continuous_percent", 2.0)
    assert own.evaluate().wire.loops["E1"].limit_v == pytest.approx(0.276), "2 % of 13.8 V"


def test_least_area_decides_where_nothing_else_does():
    e = rule(lamp("vehicle"), "least_area_mm2", 1.9).evaluate()
    assert {w.gauge for w in e.wire.wires.values()} == {"14 AWG"}
    assert {w.governs for w in e.wire.wires.values()} == {"strength"}


def test_hot_neighbours_leave_a_wire_less_current():
    """Same wires, same sizes: only how long the heaters beside it are on changes."""
    builder = lamp("vehicle")
    for n in range(6):
        builder.feed(f"B1.+ > F{n + 2} fuse > R{n + 1} heater 12 A > B1")
        builder.set(f"ends/connectors/F{n + 2}/point", "F1").set(f"ends/connectors/R{n + 1}/point", "E1")
    for key, wire in builder.evaluate().wire.wires.items():
        builder.set(f"wire/fixed/{key}", {"order": 1, "reason": "test", "gauge": wire.gauge})

    def allowed_a(duty: float) -> float:
        for n in range(6):
            builder.set(f"circuits/loads/R{n + 1}/duty_percent", duty)
            builder.set(f"circuits/loads/R{n + 1}/cycle_s", 0.5)
        w = builder.workings()
        key = next(k for k, x in w.evaluation.wire.wires.items() if x.to_text.startswith("E1"))
        return float(w.wire.tables.judgement.allowed_a[w.wire.tables.keys.index(key), -1])

    assert allowed_a(10.0) > allowed_a(50.0) > allowed_a(100.0) > 0


def test_the_fuse_share_moves_the_rating():
    builder = rule(lamp("vehicle"), "default_ambient_c", 40).set("circuits/loads/E1/current_a", 4.0)
    assert builder.evaluate().circuits.fuses["F1.1"].rating_a == 5
    assert rule(builder, "fuse_load_share_percent", 70).evaluate().circuits.fuses["F1.1"].rating_a == 7.5


def test_slack_and_step_change_the_cut_list():
    longest = lamp("vehicle").evaluate().cut.cuts[0]
    assert (longest.route_mm, longest.slack_mm) == (1500, 60)
    e = rule(rule(lamp("vehicle"), "slack_per_branch_mm", 100), "cut_step_mm", 50).evaluate()
    assert (e.cut.cuts[0].slack_mm, e.cut.cuts[0].cut_mm % 50) == (300, 0)
    own = lamp("vehicle").set("route/branches/R1/slack_mm", 0.0).evaluate()
    assert own.cut.cuts[0].slack_mm == 40, "a branch's own slack goes before the rule"


def test_default_ambient_serves_branches_without_a_zone():
    cool, warm = (rule(lamp("vehicle"), "default_ambient_c", t).evaluate() for t in (20, 80))
    assert max(b.hottest_c for b in cool.route.branches.values()) < 25
    assert min(b.hottest_c for b in warm.route.branches.values()) > 80


def test_a_hotter_zone_never_lowers_a_temperature_nor_raises_an_allowance():
    previous = None
    for ambient in (0, 40, 85, 110):
        builder = rule(lamp("vehicle"), "default_ambient_c", ambient)
        w = builder.workings()
        temperature = max(x.temperature_c for x in w.evaluation.wire.wires.values())
        allowed = float(w.wire.tables.judgement.allowed_a[0, 3])
        if previous is not None:
            assert temperature > previous[0]
            assert allowed < previous[1]
        previous = (temperature, allowed)


def test_splices_keep_the_clearance_of_the_practice():
    for practice, clear in (("motorsport", 50 + 20), ("aviation", 305 + 22.5)):
        builder = HarnessBuilder(practice).feed(
            "B1 battery > F1 fuse > M1 pump 1 A > B1", "F1.out > E1 lamp 1 A > B1"
        )
        builder.run("B1 100 > F1 900 > M1").set("ends/connectors/E1/point", "M1")
        splices = builder.evaluate().route.splices.values()
        assert min(s.offset_mm for s in splices if s.point == "M1") == clear


def test_the_chosen_family_is_used_everywhere_and_named_as_chosen():
    e = lamp("vehicle").set("wire/family", "ISO6722-THIN").evaluate()
    assert e.brief.family_origin == "chosen"
    assert {w.family for w in e.wire.wires.values()} == {"ISO6722-THIN"}
    assert all(w.gauge.endswith("mm²") for w in e.wire.wires.values())
    assert all(line.code.startswith("ISO6722-THIN") for line in e.parts.lines if line.group == "wire")


def test_fuses_are_counted_in_the_drop_unless_the_house_says_no():
    """A blade fuse of 4 A loses about a tenth of a volt at 3 A; wires keep their own losses."""
    builder = lamp("vehicle").set("circuits/loads/E1/current_a", 3.0)
    counted = builder.evaluate().wire.loops["E1"]
    left_out = rule(builder, "fuse_drop", 0).evaluate().wire.loops["E1"]
    assert counted.devices_v > 0.03
    assert left_out.devices_v == 0
    assert left_out.drop_v < counted.drop_v
    stated = builder.set("circuits/devices/F1/paths/1/resistance_mohm", 20.0).evaluate().wire.loops["E1"]
    assert stated.devices_v == pytest.approx(0.020 * stated.drawn_a, rel=1e-3), "what is stated always counts"


def test_wires_of_a_device_that_moves_are_thick_enough_to_bend():
    """Least copper for what shakes or bends; only the wires that end there, not the rest of the harness."""
    builder = rule(rule(lamp("vehicle"), "least_area_mm2", 0.5), "least_area_moving_mm2", 1.5)
    still = builder.evaluate()
    assert max(w.area_mm2 for w in still.wire.wires.values()) < 1.5
    moved = builder.set("circuits/devices/E1/moving", True).evaluate()
    for w in moved.wire.wires.values():
        assert (w.area_mm2 >= 1.5) == ("E1-" in w.from_text + w.to_text)
