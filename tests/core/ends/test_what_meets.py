"""What meets what, way by way."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from inkthread.catalogue import shipped_catalogue
from inkthread.core.document.draft import LineError
from inkthread.core.ends.detail import end_detail, hand_steps
from inkthread.core.ends.faces import face_view
from inkthread.core.ends.mating import Half, mating_half, why_apart
from inkthread.core.ends.misplaced import how_misplaced
from tests.conftest import HarnessBuilder
from tests.core.scenarios import half, sensor_on, through, two_halves

CATALOGUE = shipped_catalogue()


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
