"""A contact belongs to a wire's end: what is fitted, stripped, billed and named follows each wire.

Strip lengths and ranges are the catalogue's own data; what is held here is that each wire gets its own.
"""

from __future__ import annotations

from collections import Counter

import pytest

from inkthread.core.ends.detail import end_detail
from inkthread.core.ends.fit import holds_together
from tests.conftest import HarnessBuilder


def fix(builder: HarnessBuilder, key: str, gauge: str, family: str | None = None) -> HarnessBuilder:
    return builder.set(f"wire/fixed/{key}", {"order": 1, "reason": "tried", "gauge": gauge, "family": family})


def on_one_stud() -> HarnessBuilder:
    """Four heaters fed from one stud by wires of three gauges: home runs, a lug each."""
    builder = (
        HarnessBuilder("vehicle")
        .feed("B1 battery > F1 fuse > R1 heater 2 A > B1")
        .run("B1 100 > F1 400 > R1")
    )
    for n in range(2, 5):
        builder.feed(f"F1.out > R{n} heater 2 A > B1").run(f"R1 100 > R{n}")
    builder.plain["ends"]["connectors"]["F1"].update(family="RING", shell="none", stud="M6")
    (out,) = [k for k, c in builder.plain["circuits"]["circuits"].items() if "F1.out" in c["ends"]]
    builder.plain["circuits"]["circuits"][out].update(threading="home runs", hub="F1")
    for n, gauge in enumerate(("20 AWG", "20 AWG", "14 AWG", "8 AWG"), 1):
        fix(builder, f"{out}:R{n}.+", gauge)
    return builder


def test_every_wire_on_a_stud_has_its_own_lug_and_strip():
    builder = on_one_stud()
    w = builder.workings()
    here = [c for c in w.evaluation.ends.connectors["F1"].cavities if c.pin == "F1.out"]
    assert len(here) == 4
    by_gauge = {w.wire.wires[c.wire].gauge: c for c in here}
    assert len({c.contact for c in by_gauge.values()}) == 3, "three gauges, three kinds of lug"
    data = {c.code: c for c in builder.catalogue.connectors["RING"].contacts}
    for c in here:
        assert data[c.contact].conductor_min_mm2 <= w.wire.wires[c.wire].area_mm2
        assert w.wire.wires[c.wire].area_mm2 <= data[c.contact].conductor_max_mm2
        cut = next(x for x in w.evaluation.cut.cuts if x.wire == c.wire)
        at_f1 = cut.a.strip_mm if "F1" in cut.from_text else cut.b.strip_mm
        assert at_f1 == data[c.contact].strip_mm == c.strip_mm
    billed = Counter({x.code: int(x.quantity) for x in w.evaluation.parts.lines if x.group == "terminal"})
    fitted = Counter(
        c.contact for e in w.evaluation.ends.connectors.values() for c in e.cavities
        if e.family in ("RING", "RINGI", "TAB63", "TAB48", "TAB28") and c.contact
    )  # fmt: skip
    assert billed == fitted
    assert by_gauge["8 AWG"].strip_mm > by_gauge["20 AWG"].strip_mm


def test_the_weakest_link_is_reckoned_with_each_wires_own_contact():
    """The 20 AWG's lug, not the 8 AWG's that is on the same stud, holds what is behind the fuse."""
    builder = on_one_stud()
    w = builder.workings()
    data = {c.code: c for c in builder.catalogue.connectors["RING"].contacts}
    here = {c.wire: c for c in w.evaluation.ends.connectors["F1"].cavities if c.pin == "F1.out"}
    for key, cavity in here.items():
        assert cavity.contact_a == pytest.approx(
            data[cavity.contact].current_a(w.wire.wires[key].area_mm2) * w.wire.derating_by_connector["F1"]
        )


def tapped(first: str, second: str) -> HarnessBuilder:
    """Two wires on one push-on terminal: home runs from a lamp to the fuse and to the next lamp."""
    builder = HarnessBuilder("vehicle").feed(
        "B1 battery > F1 fuse > E1 lamp 1 A > B1", "F1.out > E2 lamp 1 A > B1"
    )
    builder.run("B1 100 > F1 400 > E1 100 > E2")
    for k in ("E1", "E2"):
        builder.plain["ends"]["connectors"][k].update(family="TAB63", shell="none")
    (out,) = [k for k, c in builder.plain["circuits"]["circuits"].items() if "F1.out" in c["ends"]]
    builder.plain["circuits"]["circuits"][out].update(threading="home runs", hub="E1")
    for key, gauge in ((f"{out}:F1.out", first), (f"{out}:E2.+", second)):
        fix(builder, key, gauge)
    return builder


def test_two_wires_in_one_terminal_are_one_terminal_on_the_bill():
    """The barrel that holds the copper of both, bought once; each wire is stripped for it."""
    builder = tapped("20 AWG", "18 AWG")
    w = builder.workings()
    here = [c for c in w.evaluation.ends.connectors["E1"].cavities if c.pin == "E1.+"]
    areas = [w.wire.wires[c.wire].area_mm2 for c in here]
    assert [c.shared for c in here] == [False, True]
    (code,) = {c.contact for c in here}
    contact = next(c for c in builder.catalogue.connectors["TAB63"].contacts if c.code == code)
    assert contact.conductor_min_mm2 <= sum(areas) <= contact.conductor_max_mm2
    ends = [c for e in w.evaluation.ends.connectors.values() for c in e.cavities]
    line = next(x for x in w.evaluation.parts.lines if x.code == code)
    assert line.quantity == sum(c.contact == code and not c.shared for c in ends)
    assert "too-many-in-one" not in [f.code for f in w.evaluation.findings]


def test_two_wires_with_more_copper_than_any_barrel_takes_are_told():
    assert "too-many-in-one" in tapped("10 AWG", "12 AWG").codes()


@pytest.mark.parametrize(
    ("off", "holds"), [(0.0, True), (0.159, True), (0.161, False), (-0.159, True), (-0.161, False)]
)
def test_doubled_wires_may_be_a_sixth_off_the_listed_copper(catalogue, off, holds):
    """House rule; the list of this contact has two of 0.081 mm2."""
    contact = next(c for c in catalogue.connectors["HD1"].contacts if c.doubled)
    listed = contact.doubled[0]
    assert holds_together(contact, [listed[0] * (1 + off), listed[1]]) is holds


def own_solid(builder: HarnessBuilder, strands: int) -> HarnessBuilder:
    size = {
        "order": 1, "gauge": "18 AWG", "area_mm2": 0.823, "od_mm": 2.0, "conductor_mm": 1.03,
        "resistance_mohm_per_m": 21.0, "strands": strands,
    }  # fmt: skip
    family = {
        "order": 1, "name": "bell wire", "insulation": "PVC", "temperature_c": 105.0, "source": "measured",
        "sizes": {"a": size},
    }  # fmt: skip
    builder.set("wire/own_families/BELL", family)
    return builder.set("wire/family", "BELL")


@pytest.mark.parametrize(("strands", "told"), [(1, True), (2, False), (16, False)])
def test_a_solid_conductor_is_one_strand_whatever_its_family(strands, told):
    builder = (
        HarnessBuilder("vehicle").feed("B1 battery > F1 fuse > M1 pump 1 A > B1").run("B1 100 > F1 900 > M1")
    )
    builder.set("brief/zones/z", {"order": 1, "name": "Bay", "ambient_c": 40.0, "vibration": True})
    for branch in builder.plain["route"]["branches"].values():
        branch["zone"] = "z"
    codes = own_solid(builder, strands).codes()
    assert ("solid-in-motion" in codes) is told
    assert ("solid-in-crimp" in codes) is told


def test_an_ignition_lead_with_its_winding_is_not_solid(catalogue):
    (size, *_) = catalogue.wires["IGNITION-8"].sizes
    assert size.strands == 1
    assert not size.solid


def sampled(builder: HarnessBuilder, **measured: float) -> HarnessBuilder:
    w = next(iter(builder.evaluate().wire.wires.values()))
    key = next(k for k, x in builder.evaluate().wire.wires.items() if "M1" in x.to_text + x.from_text)
    w = builder.evaluate().wire.wires[key]
    fix(builder, key, w.gauge)
    return builder.set("wire/samples/s", {"order": 1, "family": w.family, "gauge": w.gauge, **measured})


def test_a_measured_sample_is_reckoned_as_what_it_is(pump):
    """Copper-clad: 1.6 times the label's resistance makes 1.6 times the volts, less copper, and a thinner
    insulation lies where it was measured."""
    before = pump.workings()
    key = next(k for k, x in before.wire.wires.items() if "M1" in x.to_text + x.from_text)
    size = before.wire.size(key)
    builder = sampled(pump, resistance_mohm_per_m=size.resistance_ohm_per_km * 1.6, od_mm=size.od_mm - 0.3)
    after = builder.workings()
    made, was = after.wire.wires[key], before.wire.wires[key]
    joints = float(after.wire.tables.termination_ohm[after.wire.tables.at[key]])
    copper = [
        w.wire.loops["M1"].drop_v and x.loss_v - x.carries_a * joints
        for w, x in ((before, was), (after, made))
    ]
    assert copper[1] / copper[0] == pytest.approx(1.6, rel=0.02), "and a little for the warmer copper"
    assert made.area_mm2 == pytest.approx(was.area_mm2 / 1.6)
    assert made.od_mm == pytest.approx(was.od_mm - 0.3)
    assert "sample-thinner" in [f.code for f in after.evaluation.findings]
    here = next(
        c for e in after.evaluation.ends.connectors.values() for c in e.cavities if c.wire == key and c.pin
    )
    assert here.contact is not None
    assert (
        after.wire.tables.judgement.strength[
            after.wire.tables.at[key], after.wire.tables.chosen[after.wire.tables.at[key]]
        ]
        > (
            before.wire.tables.judgement.strength[
                before.wire.tables.at[key], before.wire.tables.chosen[before.wire.tables.at[key]]
            ]
        )
    )


def test_of_two_samples_of_one_size_the_worse_counts(pump):
    w = pump.workings()
    key = next(k for k, x in w.wire.wires.items() if "M1" in x.to_text + x.from_text)
    size, made = w.wire.size(key), w.wire.wires[key]
    for n, times in enumerate((1.0, 1.3)):
        pump.set(
            f"wire/samples/s{n}",
            {"order": n, "family": made.family, "gauge": made.gauge,
             "resistance_mohm_per_m": size.resistance_ohm_per_km * times},
        )  # fmt: skip
    family = pump.workings().wire.families[made.family]
    assert family.size(made.gauge).resistance_ohm_per_km == pytest.approx(size.resistance_ohm_per_km * 1.3)


def grounds() -> HarnessBuilder:
    """A receiver of 0.8 A and a heater of 17 A that come back on one ground tree."""
    builder = HarnessBuilder("vehicle").feed("B1 battery > F1 fuse > A1 radio 0.8 A > B1")
    builder.feed("B1.+ > F2 fuse > R1 heater 17 A > B1").run("B1 100 > F1 500 > mid 300 > A1", "mid 200 > R1")
    return builder.run("B1 100 > F2")


def test_every_link_is_held_against_the_current_through_it():
    """The receiver's ground contact carries 0.8 A, not the 17.8 A of the whole tree."""
    w = grounds().workings()
    ground = next(k for k, c in w.circuits.circuits.items() if c.role == "ground")
    link = w.ends.weakest.by_circuit()[ground]
    assert w.circuits.circuits[ground].carries_a == pytest.approx(17.8, rel=0.1)
    rows = []
    for key, made in w.wire.wires.items():
        section = w.route.sections[key]
        if section.circuit != ground:
            continue
        through = float(w.wire.tables.heating_a[w.wire.tables.at[key]])
        rows.append(
            through
            / float(
                w.wire.tables.judgement.allowed_a[
                    w.wire.tables.at[key], w.wire.tables.chosen[w.wire.tables.at[key]]
                ]
            )
        )
        for end in (section.a, section.b):
            contact = w.ends.contacts.get((end.id, key))
            if contact is not None:
                holds = contact.current_a(made.area_mm2) * w.wire.derating_by_connector[end.connector]
                rows.append(through / holds)
    assert link.carries_a / link.holds_a == pytest.approx(max(rows))
    assert link.carries_a < 17.8 * 1.2


@pytest.mark.parametrize("name", ["larkspur", "glider", "dawdler", "mushroom"])
def test_no_weakest_link_of_a_demo_is_over(name):
    from tests.core.reckoning.test_one_truth import WORKED

    for circuit, link in WORKED[name].ends.weakest.by_circuit().items():
        assert link.carries_a <= link.holds_a * 1.0005, (circuit, link)


@pytest.mark.parametrize("stud", ["M5", "M8", None])
def test_what_else_a_wires_end_may_take_is_for_the_same_stud(stud):
    builder = on_one_stud()
    builder.plain["ends"]["connectors"]["F1"]["stud"] = stud
    w = builder.workings()
    ring = builder.catalogue.connectors["RING"]
    studs = {c.code: c.stud for c in ring.contacts}
    found = end_detail(w.document, w.catalogue, w.wire, w.ends, "F1.out")
    assert found is not None
    assert studs[found.contact] == (stud or ring.usual_stud)
    assert {studs[c] for c in found.others} <= {stud or ring.usual_stud}
