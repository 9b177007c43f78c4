"""Splices, doubled wires and the weakest link."""

from __future__ import annotations

from dataclasses import replace

from hypothesis import given, settings
from hypothesis import strategies as st

from inkthread.catalogue import shipped_catalogue
from inkthread.core.ends.fit import holds_together
from inkthread.core.ends.joints import JointWire, choose_joint
from tests.conftest import HarnessBuilder
from tests.core.scenarios import pump, two_lamps, zoned

CATALOGUE = shipped_catalogue()


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
    assert set(w.ends.weakest.by_circuit()) == {s.circuit for s in w.route.sections.values()}
    for circuit, link in w.ends.weakest.by_circuit().items():
        assert link.holds_a >= w.circuits.circuits[circuit].carries_a * 0.999
        assert link.name
    # A contact that carries less makes itself the weakest.
    family = w.catalogue.connectors["SR16"]
    poor = tuple(replace(c, current_by_area=((0.0, 0.4),)) for c in family.contacts)
    builder = pump()
    builder.catalogue = replace(
        builder.catalogue, connectors={**builder.catalogue.connectors, "SR16": replace(family, contacts=poor)}
    )
    links = builder.workings().ends.weakest.by_circuit().values()
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
