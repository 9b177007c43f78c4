"""Peaks that pull neighbours down, and the structure as return."""

from __future__ import annotations

import pytest

from tests.conftest import HarnessBuilder
from tests.oracles import Nodal, loads_of


def stated(builder: HarnessBuilder, **source: object) -> HarnessBuilder:
    builder.set("brief/supply_working_v", 13.2)
    base = {"order": 1, "device": "B1", "supply_pin": "+", "return_pin": "-", "kind": "battery"}
    return builder.set("circuits/sources/B1", {**base, **source})


def fix_all(builder: HarnessBuilder, gauge: str) -> HarnessBuilder:
    for key in builder.evaluate().wire.wires:
        builder.set(f"wire/fixed/{key}", {"order": 1, "reason": "tried", "gauge": gauge})
    return builder


def load(builder: HarnessBuilder, device: str, **values: object) -> HarnessBuilder:
    for name, value in values.items():
        builder.set(f"circuits/loads/{device}/{name}", value)
    return builder


def winch(**source: float) -> HarnessBuilder:
    """A winch that stalls at 8 A beside a receiver that needs 6 V, on one battery and one trunk."""
    builder = HarnessBuilder("model").feed(
        "B1 battery > F1 fuse > M1 winch 1.5 A > B1", "F1.out > A1 radio 0.3 A > B1"
    )
    builder.run("B1 200 > F1 800 > mid 300 > M1", "mid 300 > A1")
    for name, value in (("nominal", 7.4), ("working", 7.4), ("least", 7.0)):
        builder.set(f"brief/supply_{name}_v", value)
    builder.set("circuits/sources/B1", {
        "order": 1, "device": "B1", "supply_pin": "+", "return_pin": "-", "kind": "battery", **source,
    })  # fmt: skip
    load(builder, "M1", kind="constant current", peak_a=8.0, peak_s=1.0)
    return load(builder, "A1", kind="constant current", least_v=6.0)


@pytest.mark.parametrize("kind", ["constant current", "constant power", "resistive"])
@pytest.mark.parametrize("internal_mohm", [0.0, 45.0])
def test_a_stall_pulls_down_its_neighbour_through_shared_wire_and_source(kind, internal_mohm):
    builder = fix_all(winch(internal_mohm=internal_mohm), "22 AWG")
    load(builder, "A1", kind=kind, rated_v=7.4)
    w = builder.workings()
    rest = Nodal(w, {"B1": 7.0})
    loads = loads_of(w, 7.4)
    _, at_rest = rest.settle(loads)
    given_a = sum(abs(a) for k, a in at_rest.items() if k == "F1.1")
    # The least supply is what the terminals give at rest current.
    peak = Nodal(w, {"B1": 7.0 + given_a * internal_mohm / 1000}, {"B1": internal_mohm / 1000})
    across, _ = peak.settle(loads, {"M1": 8.0})
    assert across["A1"] < 6.0
    (found,) = [b for b in w.wire.brown_outs if b.load == "A1"]
    assert found.peaks == ("M1",)
    assert found.gets_v == pytest.approx(across["A1"], abs=2e-3)
    told = [f.what for f in w.evaluation.findings if f.code == "brown-out-at-peak"]
    assert any(f"{across['A1']:.2f} V" in t and "M1 winch" in t and "A1 radio" in t for t in told)


def test_a_load_is_held_against_its_own_least_volts_at_its_own_start():
    """A start of 300 A from 11.88 V through 10.27 mohm: 11.88 - 300 x 0.01027 = 8.8 V of the 9 it needs."""
    builder = HarnessBuilder("vehicle").feed("B1 battery > M1 motor 100 A > B1").run("B1 50 > M1")
    for device in ("B1", "M1"):
        builder.plain["ends"]["connectors"][device].update(family="RING", shell="none", stud="M8")
    builder.set("brief/supply_least_v", 11.88).set("wire/family", "J1127-SGX")
    stated(builder, internal_mohm=1.0)
    load(builder, "M1", kind="constant current", current_a=0.0, inrush_a=300.0, inrush_s=0.2, least_v=9.0)
    fix_all(builder, "2/0 AWG")
    w = builder.workings()
    ohm = sum(float(w.wire.tables.row_ohm[i]) for i in range(len(w.wire.tables.keys)))
    more = (11.88 - 8.8) / 300 - ohm
    assert more > 0
    stated(builder, internal_mohm=more * 1000)
    (found,) = builder.workings().wire.brown_outs
    assert (found.load, found.peaks) == ("M1", ("M1",))
    assert found.gets_v == pytest.approx(8.8, abs=2e-3)
    load(builder, "M1", least_v=8.7)
    assert not builder.workings().wire.brown_outs


def test_starts_that_coincide_are_reckoned_together():
    builder = fix_all(winch(internal_mohm=20.0), "18 AWG")
    builder.feed("F1.out > M2 servo 0.5 A > B1").run("mid 100 > M2")
    fix_all(builder, "18 AWG")
    for device in ("M1", "M2"):
        load(builder, device, kind="constant current", peak_a=4.0, peak_s=1.0)
    alone = {b.peaks for b in builder.workings().wire.brown_outs}
    assert not alone
    load(builder, "A1", least_v=6.35)
    for device in ("M1", "M2"):
        load(builder, device, starts_with="hoist")
    found = builder.workings().wire.brown_outs
    assert {b.peaks for b in found} == {("M1", "M2")}
    assert "together take 8 A" in " ".join(f.what for f in builder.evaluate().findings)


def test_a_peak_behind_a_regulator_is_felt_before_it():
    """5 A more at 5 V through a converter of 80 %: 5 x 5 / 0.8 / 12 = 2.60 A more at its input."""
    builder = HarnessBuilder("equipment").feed("B1 battery > F1 fuse > V1 converter", "V1.g > B1.-")
    builder.feed("V1.out > A1 radio 1 A", "A1.- > V1.g", "F1.out > A2 radio 0.2 A > B1")
    builder.run("B1 100 > F1 6000 > V1 100 > A1", "V1 100 > A2")
    for name in ("nominal", "working", "least"):
        builder.set(f"brief/supply_{name}_v", 12.0)
    inner = next(iter(builder.plain["circuits"]["devices"]["V1"]["paths"].values()))
    inner.update(out_v=5.0, efficiency_percent=80.0)
    for device in ("A1", "A2"):
        load(builder, device, kind="constant current", rated_v=5.0 if device == "A1" else 12.0)
    load(builder, "A1", peak_a=6.0, peak_s=1.0)
    fix_all(builder, "1 mm²")
    load(builder, "A2", least_v=11.99)
    w = builder.workings()
    rest = w.wire.loops["A2"].least_gets_v
    load(builder, "A2", least_v=rest - 0.01)
    (found,) = [b for b in builder.workings().wire.brown_outs if b.load == "A2"]
    shared = [
        k for k, s in w.route.sections.items()
        if k in w.wire.loops["V1~1"].wires and k in w.wire.loops["A2"].wires
    ]  # fmt: skip
    ohm = sum(float(w.wire.tables.row_ohm[w.wire.tables.at[k]]) for k in shared) + w.wire.tables.path_ohm.get(
        "F1.1", 0.0
    )
    assert rest - found.gets_v == pytest.approx(5.0 * 5.0 / 0.8 / 12.0 * ohm, rel=0.1)


def test_the_structure_carries_the_sum_of_what_comes_to_a_stud():
    """Two 15 A loads on one stud of 10 mohm lose 0.3 V there, not 0.15."""
    builder = HarnessBuilder("vehicle").feed("B1 battery > F1 fuse > R1 heater 15 A > G1 ground stud")
    builder.feed("G2 ground stud", "B1.- > G2.1", "B1.+ > F2 fuse > R2 heater 15 A > G1.1")
    builder.run("B1 100 > F1 400 > R1 100 > G1", "B1 100 > F2", "R1 100 > R2", "B1 200 > G2")
    builder.plain["circuits"]["devices"]["G1"]["structure_mohm"] = 10.0
    for device in ("R1", "R2"):
        load(builder, device, kind="constant current")
    stated(builder)
    w = builder.workings()
    across, _ = Nodal(w, {"B1": 13.2}).settle(loads_of(w, 13.2))
    for device in ("R1", "R2"):
        assert w.wire.loops[device].drop_v == pytest.approx(13.2 - across[device], abs=2e-5)
    assert w.wire.through_a["stud G1.1"] == pytest.approx(30.0)
    before = w.wire.loops["R1"].drop_v
    builder.plain["circuits"]["devices"]["G1"]["structure_mohm"] = 0.0
    again = fix_as(builder, w).workings()
    assert before - again.wire.loops["R1"].drop_v == pytest.approx(0.3, abs=1e-4)


def fix_as(builder: HarnessBuilder, w) -> HarnessBuilder:
    for key, made in w.evaluation.wire.wires.items():
        builder.set(f"wire/fixed/{key}", {"order": 1, "reason": "as before", "gauge": made.gauge})
    return builder
