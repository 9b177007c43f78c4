"""Where ways lie side by side, current divides as in the real network."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.conftest import HarnessBuilder
from tests.oracles import Nodal, loads_of


def stated(builder: HarnessBuilder, **source: object) -> HarnessBuilder:
    builder.set("brief/supply_working_v", 13.2)
    base = {"order": 1, "device": "B1", "supply_pin": "+", "return_pin": "-", "kind": "battery"}
    return builder.set("circuits/sources/B1", {**base, **source})


def load(builder: HarnessBuilder, device: str, **values: object) -> HarnessBuilder:
    for name, value in values.items():
        builder.set(f"circuits/loads/{device}/{name}", value)
    return builder


def carries(evaluation, *devices: str) -> float:
    return next(
        w.carries_a for w in evaluation.wire.wires.values()
        if all(any(f"{d}-" in t for t in (w.from_text, w.to_text)) for d in devices)
    )  # fmt: skip


def two_fuses(long_mm: float = 900.0) -> HarnessBuilder:
    """One load fed over two fuses whose far ends are joined."""
    builder = HarnessBuilder("vehicle").feed("B1 battery > F1 fuse > R1 heater 20 A > B1", "B1.+ > F2 fuse")
    builder.feed("F2.out > R1.+")
    builder.run("B1 100 > F1 600 > R1", f"B1 {long_mm} > F2")
    load(builder, "R1", kind="constant current")
    return stated(builder)


@pytest.mark.parametrize("long_mm", [100.0, 900.0, 4000.0])
def test_current_divides_between_ways_side_by_side_as_in_the_real_network(long_mm):
    w = two_fuses(long_mm).workings()
    across, currents = Nodal(w, {"B1": 13.2}).settle(loads_of(w, 13.2))
    assert w.wire.loops["R1"].drop_v == pytest.approx(13.2 - across["R1"], abs=2e-4)
    assert currents["F1.1"] + currents["F2.1"] == pytest.approx(20.0, abs=1e-3)
    for fuse in ("F1.1", "F2.1"):
        assert w.wire.through_a[fuse] == pytest.approx(abs(currents[fuse]), abs=0.02)
        assert w.circuits.fuses[fuse].load_a == pytest.approx(10.0), "alike, until the wires are known"
    for key, made in w.evaluation.wire.wires.items():
        assert made.carries_a == pytest.approx(abs(currents[key]), abs=0.02), key


def test_two_fuses_side_by_side_stop_unless_they_are_meant():
    builder = two_fuses()
    (told,) = [f for f in builder.evaluate().findings if f.code == "fuses-in-parallel"]
    assert told.severity == "stop"
    assert "F1" in told.what
    assert "F2" in told.what
    for device in ("F1", "F2"):
        builder.plain["circuits"]["devices"][device]["paths"]["1"]["parallel"] = "heater"
    assert "fuses-in-parallel" not in builder.codes()
    builder.plain["circuits"]["devices"]["F2"]["paths"]["1"]["parallel"] = "other"
    assert "fuses-in-parallel" in builder.codes()


def test_a_fuse_that_gets_more_than_its_share_of_a_load_is_told():
    """Alike each would carry 10 A and be 15 A; the short way carries more than 80 % of that."""
    builder = two_fuses(4000.0)
    w = builder.workings()
    assert w.wire.through_a["F1.1"] > 12.0
    told = [f for f in w.evaluation.findings if f.code == "fuse-below-load"]
    assert any("F1" in f.what for f in told)


def test_two_switches_side_by_side_each_carry_all_of_it():
    """Either may be the one that is closed: nothing is halved."""
    builder = HarnessBuilder("vehicle").feed("B1 battery > F1 fuse > S1 switch > E1 lamp 6 A > B1")
    builder.feed("F1.out > S2 switch", "S2.2 > E1.+")
    builder.run("B1 100 > F1 300 > S1 300 > E1", "F1 300 > S2")
    e = load(builder, "E1", kind="constant current").evaluate()
    for switch in ("S1", "S2"):
        here = [w.carries_a for w in e.wire.wires.values() if f"{switch}-" in w.from_text + w.to_text]
        assert max(here) == pytest.approx(6.0), switch
    assert "fuses-in-parallel" not in [f.code for f in e.findings]


@pytest.mark.slow
@settings(max_examples=25, deadline=None)
@given(st.data())
def test_random_networks_with_ways_side_by_side_agree_with_nodal_analysis(data):
    """Feeds joined downstream, links between ground blocks, studs beside wires: to the millivolt."""
    n = data.draw(st.integers(2, 4), "loads")
    builder = (
        HarnessBuilder("vehicle")
        .feed("B1 battery > F1 fuse > R1 heater 5 A > B1")
        .run("B1 150 > F1 500 > R1")
    )
    for k in range(2, n + 1):
        source = data.draw(st.sampled_from(["B1.+", f"F{k - 1}.out"]))
        builder.feed(f"{source} > F{k} fuse > R{k} heater {data.draw(st.integers(1, 9))} A > B1")
        at = data.draw(st.sampled_from(["B1", f"R{k - 1}"]))
        builder.run(f"{at} {data.draw(st.integers(100, 900))} > F{k} 300 > R{k}")
    if data.draw(st.booleans(), "joined downstream"):
        builder.feed(f"F{n}.out > R1.+")
    if data.draw(st.booleans(), "structure beside the return"):
        builder.feed("G1 ground stud", "R1.- > G1.1", "G2 ground stud", "B1.- > G2.1")
        builder.run("R1 100 > G1", "B1 100 > G2")
        builder.plain["circuits"]["devices"]["G1"]["structure_mohm"] = float(data.draw(st.integers(1, 40)))
    for k in range(1, n + 1):
        load(
            builder, f"R{k}", kind=data.draw(st.sampled_from(["constant current", "resistive"])), rated_v=13.2
        )
    w = stated(builder).workings()
    across, currents = Nodal(w, {"B1": 13.2}).settle(loads_of(w, 13.2))
    for name, loop in w.wire.loops.items():
        if name in across:
            assert loop.drop_v == pytest.approx(13.2 - across[name], abs=1e-3), name
    row = {k: i for i, k in enumerate(w.wire.tables.keys)}
    drawn = np.array([[w.wire.loops[x.load].drawn_a] for x in w.circuits.loops])
    solved = w.wire.tables.flow.currents_a(drawn)[:, 0]
    for key, i in row.items():
        assert abs(solved[i]) == pytest.approx(abs(currents[key]), abs=2e-3), key
