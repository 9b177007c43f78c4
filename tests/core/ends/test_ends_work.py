"""Ends at work: what meets what, pinouts, neighbours, families ranked, splices, tools."""

from __future__ import annotations

import copy
import itertools
from dataclasses import replace

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from inkthread.catalogue import shipped_catalogue
from inkthread.core.document.draft import LineError
from inkthread.core.ends.adjacent import Way, bridge, propose, standing
from inkthread.core.ends.detail import end_detail, hand_steps
from inkthread.core.ends.faces import face_view
from inkthread.core.ends.fit import holds_together
from inkthread.core.ends.joints import JointWire, choose_joint
from inkthread.core.ends.mating import Half, how_misplaced, mating_half, why_apart
from inkthread.core.ends.pinout import PinoutError, clear, give_out, swap
from inkthread.core.ends.rank import rank_families
from inkthread.core.quantity import parse_gauge
from inkthread.core.shop import OwnedTool, ProvenNest, Shop
from inkthread.storage.patches import apply_with_inverse
from tests.conftest import HarnessBuilder
from tests.core.scenarios import half, pump, sensor_on, through, two_halves, two_lamps, zoned

CATALOGUE = shipped_catalogue()


# --- what meets what -------------------------------------------------------


@pytest.mark.parametrize("code", sorted(CATALOGUE.connectors))
def test_a_half_meets_its_mate_and_the_mate_meets_it(code):
    from inkthread.core.document.choices import Connector

    family = CATALOGUE.connectors[code]
    if family.group in ("ignition", "flying lead", "terminal", "terminal block", "fuse and relay", "coax"):
        return
    ways = family.housings[0].ways
    there = Half(
        code, ways, "receptacle", "pin" if family.genders.get("receptacle") != "socket" else "socket", ""
    )
    here = mating_half(CATALOGUE, there)
    assert mating_half(CATALOGUE, here) == there
    one, two = (
        Connector(1, h.family, h.ways, shell=h.shell, contact_gender=h.contact_gender) for h in (there, here)
    )
    assert why_apart(CATALOGUE, one, two) is None
    if not family.genderless:
        assert why_apart(CATALOGUE, one, one) is not None


def test_what_is_fitted_on_a_device_decides_both_genders():
    half_of = mating_half(CATALOGUE, Half("DSTD", 9, "plug", "pin", ""))
    assert (half_of.shell, half_of.contact_gender) == ("receptacle", "socket")
    like = mating_half(CATALOGUE, Half("GL50", 2, "plug", "socket", "red"))
    assert (like.family, like.shell, like.key) == ("GL50", "plug", "red")


@pytest.mark.parametrize(
    ("order", "how"),
    [
        ("1234", None),
        ("2143", "mirrored"),
        ("4321", "turned by 180 degrees"),
        ("2341", "shifted by one"),
        ("1324", "out of order"),
    ],
)
def test_a_pair_is_judged_way_by_way_and_the_mistake_is_named(order, how):
    found = [f for f in through(order).evaluate().findings if f.code == "pair-differs"]
    if how is None:
        assert not found
    else:
        assert how in found[0].what


@given(st.sampled_from(sorted(CATALOGUE.connectors)), st.data())
def test_an_undisturbed_face_is_never_called_misplaced(code, data):
    housing = data.draw(st.sampled_from(CATALOGUE.connectors[code].housings))
    face = housing.face
    assert how_misplaced(face, {c: c for c in face.cavities}) is None
    # Way n faces way n though the numbers run opposite ways round: each half seen from its wires.
    plug, other = (face_view(face, shell, "wire").cavities for shell in ("plug", "receptacle"))
    assert all(other[c] == (pytest.approx(-x), y) for c, (x, y) in plug.items())


@pytest.mark.parametrize("twist", ["mirrored", "turned by 180 degrees"])
def test_a_dozen_ways_mirrored_or_turned_are_told_apart(twist):
    face = CATALOGUE.connectors["SR16"].housing(12).face
    sign = -1 if twist == "turned by 180 degrees" else 1
    where = {(round(x, 2), round(y, 2)): c for c, (x, y) in face.cavities.items()}
    landed = {c: where[round(-x, 2) + 0.0, round(sign * y, 2) + 0.0] for c, (x, y) in face.cavities.items()}
    assert how_misplaced(face, landed) == twist


def test_dry_contacts_may_go_either_way_round_and_a_sensor_may_not():
    wrong = sensor_on("M12S", 4, supply="3", ground="1", signal="4")
    assert "polarity-swapped" in wrong.codes()
    right = sensor_on("M12S", 4, supply="1", ground="3", signal="4")
    assert "polarity-swapped" not in right.codes()
    for pin in wrong.plain["circuits"]["devices"]["S1"]["pins"].values():
        pin["role"] = "dry_contact"
    assert "polarity-swapped" not in wrong.codes()


def test_a_servo_plug_the_wrong_way_round_is_called_that():
    servo = HarnessBuilder("model").feed(
        "B1 battery > F1 fuse > M1 servo 0.4 A > B1", "A1 controller", "M1.s > A1.I1"
    )
    servo.run("B1 100 > F1 100 > M1 200 > A1")
    half(servo, "M1", family="SV3", ways=3)
    for pin, cavity in (("s", "1"), ("+", "2"), ("-", "3")):
        servo.set(f"ends/pinout/M1.{pin}", {"order": 1, "connector": "M1", "cavity": cavity})
    assert "polarity-swapped" not in servo.codes()
    servo.set("ends/pinout/M1.s/cavity", "3").set("ends/pinout/M1.-/cavity", "1")
    found = next(f for f in servo.evaluate().findings if f.code == "polarity-swapped")
    assert "wrong way round" in found.what


def contradictory() -> HarnessBuilder:
    """A servo plug on the wrong ways, in the wrong half, with an accessory of another family."""
    servo = HarnessBuilder("model").feed(
        "B1 battery > F1 fuse > M1 servo 0.4 A > B1", "A1 controller", "M1.s > A1.I1"
    )
    servo.run("B1 100 > F1 100 > M1 200 > A1")
    half(servo, "M1", family="SV3", ways=3, contact_gender="pin", shell="plug")
    for pin, cavity in (("s", "3"), ("+", "2"), ("-", "1")):
        servo.set(f"ends/pinout/M1.{pin}", {"order": 1, "connector": "M1", "cavity": cavity})
    return servo


def test_what_contradicts_itself_at_a_connector_is_put_right_as_one_act():
    builder = contradictory()
    wrong = {"gender-muddle", "polarity-swapped"}
    assert wrong <= set(builder.codes())
    builder._act_about("settle", "", "M1")
    assert not wrong & set(builder.codes())
    way = {r: e["cavity"] for r, e in builder.plain["ends"]["pinout"].items() if r.startswith("M1.")}
    assert way == {"M1.s": "1", "M1.+": "2", "M1.-": "3"}
    with pytest.raises(LineError, match="by itself"):
        builder._act_about("settle", "", "M1")
    with pytest.raises(LineError, match="no connector"):
        builder._act_about("settle", "", "Q9")


@pytest.mark.parametrize("order", ["2143", "4321", "2341", "1324"])
def test_a_pair_that_differs_is_given_the_ways_of_its_mate(order):
    builder = through(order)
    (found,) = [f for f in builder.evaluate().findings if f.code == "pair-differs"]
    at = found.places[0].id
    builder._act_about("settle", "", at)
    assert "pair-differs" not in builder.codes()


def test_genderless_contacts_lie_the_same_way_up_and_the_housing_is_bought_in_its_colour():
    """Common practice, no source: turned over in one half, two alike do not mate."""
    apart = two_halves(turned_over=True, key="red")
    found = apart.evaluate()
    (finding,) = [f for f in found.findings if f.code == "contacts-turned-over"]
    assert {p.id for p in finding.places} == {"B1", "M1"}
    assert "the other way up" in found.ends.connectors["M1"].sentence
    assert "hooked end up" in found.ends.connectors["B1"].sentence
    for x in apart.plain["ends"]["connectors"].values():
        x["turned_over"] = x["family"] == "GL50"
    assert "contacts-turned-over" not in apart.codes()
    bought = {x.colour for x in found.parts.lines if x.code == "GL50-H"}
    assert bought == {"red", "colour not said"}
    keyed = half(family="DSTD", ways=9, key="")
    assert {x.colour for x in keyed.evaluate().parts.lines if x.code.startswith("DSTD")} == {""}


@pytest.mark.parametrize(
    ("code", "words"),
    [
        ("SCT", ("0.5 N m", "tinned", "day later")),
        ("CGT", ("cage opens", "Take the driver out")),
        ("SPL", ("ferrule", "lever")),
        ("M12S", ("0.2 N m",)),
        ("SR16", ("one click",)),
    ],
)
def test_screw_cage_lever_and_crimp_have_words_of_their_own(code, words):
    family = CATALOGUE.connectors[code]
    steps = " ".join(hand_steps(family.contacts[0], family))
    assert all(word in steps for word in words)
    assert ("click" in steps) == (code == "SR16")


def test_a_wire_in_a_screw_strip_says_what_it_is_tightened_to():
    builder = HarnessBuilder("equipment").feed("G1 power supply 5 A > F1 fuse > M1 fan (SCT) 0.5 A > G1")
    builder.run("G1 200 > F1 400 > M1")
    w = builder.workings()
    detail = end_detail(w.document, w.catalogue, w.wire, w.ends, "M1.+")
    assert (detail.kind, detail.joint, detail.torque_nm) == ("screw", "clamp", 0.5)
    assert detail.pull_n is not None


# --- pinouts ---------------------------------------------------------------


def box(pins: dict[str, str], family: str = "SR16", ways: int = 12) -> HarnessBuilder:
    """One device with these pins (id to role), all of them in circuits of their own."""
    builder = pump()
    made = {p: {"order": n, "role": r, "name": f"{r} {p}"} for n, (p, r) in enumerate(pins.items())}
    builder.set("circuits/devices/N1", {"order": 9, "name": "box", "pins": made})
    connector = {"order": 9, "family": family, "ways": ways, "point": "M1", "shell": "plug"}
    builder.set("ends/connectors/N1", connector)
    for n, p in enumerate(pins):
        builder.set(f"circuits/circuits/N{p}", {"order": 50 + n, "ends": {f"N1.{p}": {"order": 1}}})
    return builder


def given_out(builder: HarnessBuilder, rule: str) -> dict[str, str]:
    w = builder.workings()
    operations = give_out(w.document, w.catalogue, w.circuits, "N1", rule)  # type: ignore[arg-type]
    builder.plain, _ = apply_with_inverse(builder.plain, operations)
    return {r: e["cavity"] for r, e in builder.plain["ends"]["pinout"].items() if e["connector"] == "N1"}


PINS = {"3": "signal", "1": "supply_in", "X": "data", "2": "ground", "7": "signal"}


def test_ways_follow_the_devices_own_numbers():
    assert given_out(box(PINS), "as the device") == {
        "N1.3": "3",
        "N1.1": "1",
        "N1.2": "2",
        "N1.7": "7",
        "N1.X": "4",
    }


def test_power_goes_apart_from_signals_with_a_way_between():
    got = given_out(box(PINS), "power apart")
    power = {got["N1.1"], got["N1.2"]}
    assert power == {"1", "2"}
    assert "3" not in got.values()
    assert set(got.values()) == {"1", "2", "4", "5", "6"}


def test_by_name_counts_numbers_as_numbers():
    got = given_out(box({"b": "signal", "a": "signal"} | {"10": "signal", "9": "signal"}), "by name")
    assert sorted(got, key=lambda r: int(got[r])) == ["N1.9", "N1.10", "N1.a", "N1.b"]


@pytest.mark.slow
@settings(max_examples=40, deadline=None)
@given(
    st.permutations(list(PINS)),
    st.sampled_from(["as the device", "pairs together", "power apart", "by name", "by port"]),
)
def test_every_rule_gives_each_pin_a_way_of_its_own_and_leaves_what_is_locked(order, rule):
    builder = box({p: PINS[p] for p in order})
    builder.set("ends/pinout/N1.X", {"order": 1, "connector": "N1", "cavity": "9", "locked": True})
    builder.set("ends/connectors/N1/spares", {"1": {"order": 1, "state": "reserved", "reason": "later"}})
    got = given_out(builder, rule)
    assert set(got) == {f"N1.{p}" for p in PINS}
    assert len(set(got.values())) == len(PINS)
    assert got["N1.X"] == "9"
    assert "1" not in got.values()
    # Doing it again changes nothing.
    again = builder.workings()
    assert give_out(again.document, again.catalogue, again.circuits, "N1", rule) == []


def test_too_few_ways_are_refused_and_nothing_is_lost():
    builder = box(PINS, "SR16", 4)
    w = builder.workings()
    with pytest.raises(PinoutError, match="4 ways to give and 5 pins"):
        give_out(w.document, w.catalogue, w.circuits, "N1", "by port")


def test_two_ways_are_exchanged_one_may_be_free_and_locked_ones_stay():
    builder = box(PINS)
    given_out(builder, "as the device")
    w = builder.workings()
    builder.plain, inverse = apply_with_inverse(builder.plain, swap(w.document, w.catalogue, "N1", "3", "12"))
    assert builder.plain["ends"]["pinout"]["N1.3"]["cavity"] == "12"
    builder.plain, _ = apply_with_inverse(builder.plain, inverse)
    builder.set("ends/pinout/N1.1/locked", True)
    w = builder.workings()
    with pytest.raises(PinoutError, match="locked"):
        swap(w.document, w.catalogue, "N1", "1", "2")
    with pytest.raises(PinoutError, match="no way"):
        swap(w.document, w.catalogue, "N1", "1", "99")
    builder.plain, _ = apply_with_inverse(builder.plain, clear(w.document, "N1"))
    left = [r for r, e in builder.plain["ends"]["pinout"].items() if e["connector"] == "N1"]
    assert left == ["N1.1"]


# --- neighbours --------------------------------------------------------------


def test_supply_beside_a_signal_scores_worse_than_signal_beside_signal():
    builder = box({"1": "supply_in", "2": "signal", "3": "signal"}, "SS15", 3)
    given_out(builder, "as the device")
    builder.set("circuits/circuits/C1/ends/N1.1", {"order": 9})
    del builder.plain["circuits"]["circuits"]["N1"]
    w = builder.workings()
    now = standing(w.document, w.catalogue, w.circuits, "N1")
    assert [(b.a, b.b) for b in now.bridges] == [("1", "2"), ("2", "3")]
    assert now.bridges[0].score > now.bridges[1].score
    assert "input" in now.bridges[0].words


@pytest.mark.parametrize(
    "change", [{"ways": 11}, {"family": "RING", "shell": "none", "stud": "M6", "ways": 3}]
)
def test_where_no_housing_is_made_or_ends_are_loose_nothing_lies_side_by_side(change):
    builder = box({"1": "supply_in", "2": "signal", "3": "signal"})
    given_out(builder, "as the device")
    w = builder.workings()
    assert standing(w.document, w.catalogue, w.circuits, "N1").bridges
    builder.plain["ends"]["connectors"]["N1"].update(change)
    builder.gone = True
    w = builder.workings()
    assert standing(w.document, builder.catalogue, w.circuits, "N1").bridges == ()


def test_bridges_rank_by_what_they_do():
    """Common practice, no source: what burns or kills before what only reads wrongly; scores are our own."""

    def score(a: str, b: str, *, fused: bool = True, circuit: str = "C2") -> float:
        return bridge(Way(a, "C1", fused), Way(b, circuit, fused))[0]

    worst = score("ignition", "signal")
    assert worst == score("supply", "ground", fused=False) == 10.0
    order = [
        score("supply", "data"), score("supply", "reference"), score("supply", "ground"),
        score("ground", "data"), score("ground", "signal"), score("signal", "signal"),
    ]  # fmt: skip
    assert order == [9, 8, 5, 4, 3, 2]
    assert all(score(k, "ignition") == worst for k in ("supply", "ground", "reference", "data"))
    assert score("ground", "ignition", circuit="C1") == 0, "two ways of one circuit are one wire"


def test_a_proposal_does_better_keeps_every_pin_and_moves_nothing_that_is_locked():
    pins = {"1": "supply_in", "2": "signal", "3": "supply_in", "4": "signal", "5": "signal"}
    builder = box(pins, "SR16", 12)
    given_out(builder, "as the device")
    for n, p in enumerate(("1", "3")):
        builder.plain["circuits"]["circuits"]["C1"]["ends"][f"N1.{p}"] = {"order": 9 + n}
        del builder.plain["circuits"]["circuits"][f"N{p}"]
    builder.set("ends/pinout/N1.2/locked", True)
    w = builder.workings()
    before = standing(w.document, w.catalogue, w.circuits, "N1")
    better = propose(w.document, w.catalogue, w.circuits, "N1")
    assert better is not None
    assert better.score < before.score
    assert set(better.cavities) == {f"N1.{p}" for p in pins}
    assert len(set(better.cavities.values())) == len(pins)
    assert better.cavities["N1.2"] == "2"
    for ref, cavity in better.cavities.items():
        builder.plain["ends"]["pinout"][ref]["cavity"] = cavity
    w = builder.workings()
    assert standing(w.document, w.catalogue, w.circuits, "N1").score == better.score


# --- families ranked --------------------------------------------------------


def test_every_family_is_either_ranked_or_rejected_with_a_reason(chassis):
    w = chassis.workings()
    for connector_id, connector in w.document.ends.connectors.items():
        family = w.catalogue.connectors[connector.family]
        if family.loose:
            continue
        ranking = rank_families(w.context, w.route, w.wire, connector_id)
        codes = [c.family for c in ranking.choices] + [c for c, _ in ranking.rejected]
        assert len(codes) == len(set(codes))
        assert all(reason for _, reason in ranking.rejected)
        assert connector.family in {c.family for c in ranking.choices}
        # By grade; what has many ways too many never leads.
        used = len([1 for e in w.document.ends.pinout.values() if e.connector == connector_id])
        order = [(c.spare > max(4, used), ("best", "better", "good").index(c.grade)) for c in ranking.choices]
        assert order == sorted(order)


def test_what_is_ranked_fits_when_it_is_taken(chassis):
    w = chassis.workings()
    for choice in rank_families(w.context, w.route, w.wire, "M1").choices:
        builder = HarnessBuilder(plain=copy.deepcopy(chassis.plain))
        half(
            builder,
            "M1",
            family=choice.family,
            ways=choice.ways,
            shell=choice.shell,
            contact_gender=choice.contact_gender,
        )
        cavities = list(w.catalogue.connectors[choice.family].housing(choice.ways).face.cavities)
        ours = [e for e in builder.plain["ends"]["pinout"].values() if e["connector"] == "M1"]
        for entry, cavity in zip(ours, cavities, strict=False):
            entry["cavity"] = cavity
        assert all(c.fits for c in builder.evaluate().ends.connectors["M1"].cavities), choice.family


def test_water_heat_and_shaking_rule_families_out():
    dry = pump().workings()
    wet = zoned(pump(), wet=True, vibration=True).workings()
    free = {c.family for c in rank_families(dry.context, dry.route, dry.wire, "M1").choices}
    ranking = rank_families(wet.context, wet.route, wet.wire, "M1")
    held = {c.family for c in ranking.choices}
    assert held < free
    assert all(CATALOGUE.connectors[f].sealed or CATALOGUE.connectors[f].studs for f in held)
    reasons = dict(ranking.rejected)
    assert "IP54" in reasons["LN21"]


def test_a_family_is_ranked_with_the_gauge_that_its_wires_would_have_with_it():
    """5 A over 16 m and back at 12.8 V and 3 %: 14 AWG loses more, and SR16 takes no thicker wire."""
    builder = HarnessBuilder("marine").feed("B1 battery > F1 fuse (RING) > M1 bilge pump 5 A (SR16) > B1")
    builder.run("B1 80 > F1 8 m > M1")
    w = builder.workings()
    assert "drop-over-limit" in builder.codes()
    ranking = rank_families(w.context, w.route, w.wire, "M1")
    refused = dict(ranking.rejected)
    assert "SR16" in refused
    assert "takes" in refused["SR16"]
    assert {"RING", "BLADE63"} & {c.family for c in ranking.choices}
    for choice in ranking.choices:
        taken = HarnessBuilder(plain=copy.deepcopy(builder.plain))
        taken._act("connector", f"M1 {choice.family}")
        found = taken.evaluate()
        made = [x for x in found.wire.wires.values() if "M1" in x.from_text + x.to_text]
        # Least copper may divide it otherwise between feed and return: within a size.
        told = [parse_gauge(g).area_mm2 for g in choice.gauges]
        for wire in made:
            assert min(told) / 1.8 <= wire.area_mm2 <= max(told) * 1.8, choice.family
        assert "drop-over-limit" not in {f.code for f in found.findings}, choice.family


def test_terminals_are_ranked_beside_connectors():
    w = (
        HarnessBuilder("vehicle")
        .feed("B1 battery > F1 fuse > M1 winch 45 A > B1")
        .run("B1 80 > F1 900 > M1")
        .workings()
    )
    ranking = rank_families(w.context, w.route, w.wire, "M1")
    groups = {w.catalogue.connectors[c.family].group for c in ranking.choices}
    assert {"terminal", "power"} & groups
    assert all("A is wanted" in why or "takes" in why or why for _, why in ranking.rejected)


def test_owned_tools_make_a_family_cheaper():
    w = pump().workings()
    bare = rank_families(w.context, w.route, w.wire, "M1")
    own = rank_families(replace(w.context, shop=Shop({"T-IND": OwnedTool("T-IND")})), w.route, w.wire, "M1")
    price = {c.family: c for c in bare.choices}["SR16"], {c.family: c for c in own.choices}["SR16"]
    assert price[0].tooling_cost > price[1].tooling_cost == 0
    assert price[1].total_each < price[0].total_each


def test_a_stamped_contact_is_taken_where_its_tool_is_the_one_owned():
    builder = pump()
    assert builder.evaluate().ends.connectors["M1"].cavities[0].contact.startswith("R16T-"), (
        "the tool is a tenth"
    )
    machined = {"order": 1, "value": 2.0, "reason": "set by depth"}
    builder.set("brief/house_rules/contact_kind", machined)
    assert builder.evaluate().ends.connectors["M1"].cavities[0].contact.startswith("R16-")
    del builder.plain["brief"]["house_rules"]["contact_kind"]
    builder.shop = Shop({"T-OB-M": OwnedTool("T-OB-M", certified=True)})
    made = builder.workings()
    (end,) = (x for x in made.ends.contacts if x[0] == "M1.+")
    assert made.ends.contacts[end].kind == "stamped"
    assert made.ends.crimps[end].owned
    assert not any(t.code == "T-IND" for t in made.parts.tools)


def test_a_nest_proven_here_goes_before_the_contacts_own_data():
    builder = pump()
    w = builder.workings()
    (end,) = (x for x in w.ends.contacts if x[0] == "M1.+")
    contact, crimp = w.ends.contacts[end], w.ends.crimps[end]
    size = w.wire.size(end[1])
    wire = f"{w.wire.tables.family.code} {size.gauge}"
    proven = ProvenNest(contact.code, wire, crimp.tool, "9", "deep", "held 12 kg")
    builder.shop = Shop({}, {(contact.code, wire): proven})
    again = builder.workings().ends.crimps[end]
    assert (again.nest, again.depth, again.proven) == ("9", "deep", "held 12 kg")


# --- splices -------------------------------------------------------------------


def wires(*areas: float) -> list[JointWire]:
    return [JointWire(a, 1.2 * a**0.5 + 0.7) for a in areas]


def test_an_overlap_counts_all_the_copper_and_a_butt_each_side():
    joint = choose_joint(CATALOGUE, wires(0.75, 0.75), wires(1.0), "overlap", lined=True)
    assert (joint.total_mm2, joint.larger_side_mm2, joint.part.code) == (2.5, 1.5, "OB-2")
    butt = choose_joint(CATALOGUE, wires(0.75), wires(1.0), "butt", lined=True)
    assert butt.part.kind == "butt"
    assert butt.part.area_min_mm2 <= 0.75 < 1.0 <= butt.part.area_max_mm2
    # 0.35 against 3 mm2: no closed barrel has both sides in its range, so it is an overlap, and said.
    far = choose_joint(CATALOGUE, wires(0.35), wires(3.0), "butt", lined=True)
    assert far.part.kind == "overlap"
    assert "No butt" in far.reasons[0]


@settings(deadline=None)
@given(
    st.lists(st.floats(0.15, 6), min_size=1, max_size=3),
    st.lists(st.floats(0.15, 6), min_size=1, max_size=3),
    st.sampled_from(["overlap", "butt", "sleeve"]),
    st.booleans(),
)
def test_whatever_is_chosen_holds_by_its_own_rule(one, other, kind, lined):
    joint = choose_joint(CATALOGUE, wires(*one), wires(*other), kind, lined=lined)
    part = joint.part
    total = sum(one) + sum(other)
    assert joint.fits == any(
        part is s and s.area_min_mm2 <= (total if s.kind != "butt" else sum(one)) <= s.area_max_mm2
        for s in CATALOGUE.splices
    )
    if joint.fits and part.kind == "butt":
        assert all(part.area_min_mm2 <= sum(side) <= part.area_max_mm2 for side in (one, other))
    if joint.cover is not None:
        assert joint.cover.supplied_mm > joint.over_all_mm
        assert joint.cover.lined or not lined
    if part.covered:
        assert joint.cover is None


def test_wet_places_get_lined_covers_whatever_the_house_rule():
    dry = two_lamps("aviation", 900).workings()
    # Under aviation practice covers may be plain where it is dry; the water overrules that.
    assert dry.brief.value("lined_covers") == 0
    wet = zoned(two_lamps("aviation", 900), wet=True).workings()
    assert all(j.cover.lined for j in wet.ends.joints.values() if j.cover)
    assert wet.ends.joints


def test_the_house_rule_picks_the_kind_of_splice():
    builder = two_lamps("vehicle", 900)
    assert {j.part.kind for j in builder.workings().ends.joints.values()} == {"overlap"}
    builder.set("brief/house_rules/splice_kind", {"order": 1, "value": 3.0, "reason": "light"})
    assert {j.part.kind for j in builder.workings().ends.joints.values()} == {"sleeve"}


# --- doubled wires, weakest links -----------------------------------------------


def test_doubled_wires_only_where_the_contacts_list_has_them():
    contact = next(c for c in CATALOGUE.connectors["HD1"].contacts if c.doubled)
    pair = list(contact.doubled[0])
    assert holds_together(contact, pair)
    assert not holds_together(contact, [pair[0], pair[0], pair[0]])
    assert not holds_together(contact, [pair[0], pair[0] * 3])
    machined = CATALOGUE.connectors["SR16"].contacts[0]
    assert not holds_together(machined, [0.5, 0.5])
    ring = CATALOGUE.connectors["RING"].contacts[0]
    assert all(holds_together(ring, [0.5] * n) for n in (2, 3, 4))
    assert not holds_together(ring, [0.5] * 5)


def test_the_weakest_link_of_every_circuit_is_named(chassis):
    w = chassis.workings()
    assert set(w.ends.weakest.by_circuit) == {s.circuit for s in w.route.sections.values()}
    for circuit, link in w.ends.weakest.by_circuit.items():
        assert link.holds_a >= w.circuits.circuits[circuit].carries_a * 0.999
        assert link.name
    # A contact that carries less makes itself the weakest.
    family = w.catalogue.connectors["SR16"]
    poor = tuple(replace(c, current_by_area=((0.0, 0.4),)) for c in family.contacts)
    builder = pump()
    builder.catalogue = replace(
        builder.catalogue, connectors={**builder.catalogue.connectors, "SR16": replace(family, contacts=poor)}
    )
    links = builder.workings().ends.weakest.by_circuit.values()
    assert {x.kind for x in links if x.holds_a <= 0.4} == {"contact"}


def test_more_loaded_ways_leave_each_contact_less():
    shares = []
    for loads in (1, 6):
        builder = HarnessBuilder("vehicle").feed("B1 battery > F1 fuse > N1 pump 5 A > B1")
        for n in range(2, loads + 1):
            builder.feed(f"B1.+ > F{n} fuse > N{n} pump 5 A > B1")
            for pin in "+-":
                way = f"{2 * n if pin == '-' else 2 * n - 1}"
                builder.set(f"ends/pinout/N{n}.{pin}", {"order": n, "connector": "N1", "cavity": way})
        builder.set("ends/connectors/N1/ways", 12)
        w = builder.run("B1 100 > F1 300 > N1", *(f"F1 50 > F{n}" for n in range(2, loads + 1))).workings()
        shares.append(w.wire.derating_by_connector["N1"])
    assert shares == [1.0, 0.8]
    hot = pump()
    hot.set("brief/zones", {"z": {"order": 1, "name": "hot", "ambient_c": 110.0}})
    for branch in hot.plain["route"]["branches"].values():
        branch["zone"] = "z"
    assert (
        hot.workings().wire.derating_by_connector["M1"] < pump().workings().wire.derating_by_connector["M1"]
    )


def test_pairs_lie_together_by_the_rule_that_says_so():
    builder = box({str(n): "signal" for n in range(1, 9)}, "SR16", 12)
    members = {"N1": {"order": 1}, "N5": {"order": 2}}
    builder.set("circuits/groups/g", {"order": 1, "kind": "pair", "members": members})
    got = given_out(builder, "as the device")
    assert "pair-split" in builder.codes()
    got = given_out(builder, "pairs together")
    assert "pair-split" not in builder.codes()
    assert len(set(got.values())) == 8
    assert list(itertools.islice(got, 1)) == ["N1.1"]
