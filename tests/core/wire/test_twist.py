"""Wires twisted by hand are longer than what they run along, and that is cut and reckoned."""

from __future__ import annotations

import math

import numpy as np
import pytest

from inkthread.core.physics.twist import pitch_diameter_mm, twist_factor
from inkthread.core.quantity import QuantityError, parse_for_field
from tests.conftest import HarnessBuilder


def pair(
    kind: str = "pair", length_m: float = 20.0, lay_mm: float | None = None, gauge: str = "20 AWG"
) -> HarnessBuilder:
    builder = HarnessBuilder("vehicle").feed(
        "B1 battery > F1 fuse > E1 lamp 0.5 A > B1", "A1 controller 0.1 A"
    )
    builder.feed("T1 level sensor", "A1.I1 > T1 > A1.N1").run(
        f"B1 100 > F1 300 > E1 200 > A1 {length_m} m > T1"
    )
    members = [
        k for k, c in builder.plain["circuits"]["circuits"].items() if any("T1." in r for r in c["ends"])
    ]
    for branch in builder.plain["route"]["branches"].values():
        branch["slack_mm"] = 0.0
    for key in members:
        builder.set(f"wire/fixed/{key}", {"order": 1, "reason": "tried", "gauge": gauge})
    if kind:
        group = {"order": 1, "kind": kind, "members": {k: {"order": n} for n, k in enumerate(members)}}
        builder.set("circuits/groups/G", {**group, "lay_mm": lay_mm})
    return builder


def sensor_cut(builder: HarnessBuilder):
    e = builder.evaluate()
    return next(c for c in e.cut.cuts if "T1" in c.from_text + c.to_text), e


def test_ten_turns_a_foot_of_20_awg_take_33_cm_in_20_m():
    """AC 43.13-1B: ten turns a foot (from memory). By hand: sqrt(1 + (pi 1.78 / 30.48)^2) = 1.0167."""
    cut, e = sensor_cut(pair(lay_mm=30.48))
    made = e.wire.wires[cut.wire]
    factor = math.sqrt(1 + (math.pi * made.od_mm / 30.48) ** 2)
    assert made.od_mm == pytest.approx(1.78, abs=0.01)
    assert factor == pytest.approx(1.0167, abs=2e-4)
    assert cut.twist_mm == pytest.approx(20_000 * (factor - 1), rel=1e-3)
    assert cut.twist_mm == pytest.approx(333, abs=5)
    straight, _ = sensor_cut(pair(kind=""))
    assert straight.twist_mm == 0
    assert cut.cut_mm - straight.cut_mm == pytest.approx(cut.twist_mm, abs=6)


def test_a_lay_that_nobody_states_is_the_handbooks_by_gauge():
    """Twists a foot for two wires: 22 and 20 AWG 10, 18 AWG 9, 16 AWG 8 (AC 43.13-1B, from memory)."""
    for gauge, turns in (("20 AWG", 10), ("18 AWG", 9), ("16 AWG", 8)):
        cut, e = sensor_cut(pair(gauge=gauge))
        od = e.wire.wires[cut.wire].od_mm
        expected = math.sqrt(1 + (math.pi * od * turns / 304.8) ** 2)
        assert cut.finished_mm == pytest.approx(20_000 * expected, rel=1e-4), gauge


def test_the_longer_copper_is_in_the_drop_too():
    tight, loose = pair(lay_mm=10.0), pair(lay_mm=1000.0)
    w = {name: b.workings() for name, b in (("tight", tight), ("loose", loose))}
    key = next(k for k, x in w["tight"].wire.wires.items() if "T1" in x.from_text + x.to_text)
    i = w["tight"].wire.tables.at[key]
    ohm = {n: float(x.wire.tables.row_ohm[i]) - float(x.wire.tables.termination_ohm[i]) for n, x in w.items()}
    od = w["tight"].wire.wires[key].od_mm
    ratio = math.sqrt(1 + (math.pi * od / 10) ** 2) / math.sqrt(1 + (math.pi * od / 1000) ** 2)
    assert ohm["tight"] / ohm["loose"] == pytest.approx(ratio, rel=1e-4)


def test_cores_of_a_cable_are_twisted_as_it_is_made(catalogue):
    builder = pair()
    builder.plain["circuits"]["groups"]["G"]["family"] = "TWISTED-PAIR"
    for fixed in builder.plain["wire"]["fixed"].values():
        fixed["gauge"] = None
    cut, _ = sensor_cut(builder)
    assert cut.twist_mm == 0


@pytest.mark.parametrize("wires", [2, 3])
@pytest.mark.parametrize("lay", [8.0, 30.48, 200.0])
def test_the_helix_against_walking_along_it(wires, lay):
    """The middle of a wire on its circle, walked in small steps through five turns."""
    od = 1.78
    # Two wires touch at the middle; three stand on a circle through the corners of a triangle.
    radius = od / 2 if wires == 2 else od / math.sqrt(3)
    angle = np.linspace(0, 10 * np.pi, 200_001)
    walk = np.stack([radius * np.cos(angle), radius * np.sin(angle), lay * angle / (2 * np.pi)])
    length = np.sqrt((np.diff(walk, axis=1) ** 2).sum(axis=0)).sum()
    assert float(twist_factor(pitch_diameter_mm(od, wires), lay)) == pytest.approx(
        length / (5 * lay), rel=1e-6
    )


@pytest.mark.parametrize(
    ("text", "mm"),
    [("10 turns/ft", 30.48), ("10 per foot", 30.48), ("33 turns per m", 30.303), ("25 mm", 25)],
)
def test_a_twist_is_typed_as_turns_or_as_its_lay(text, mm):
    assert parse_for_field("lay_mm", text) == pytest.approx(mm, rel=1e-4)


def test_no_turns_at_all_are_refused():
    with pytest.raises(QuantityError, match="turns"):
        parse_for_field("lay_mm", "0 turns/ft")
