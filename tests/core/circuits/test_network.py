"""The harness as an electrical network, solved by nodal analysis, against our walk around loops.

The oracle knows nothing of feeds, returns or loops: it takes every wire as a resistor, every source as
an ideal one, every load as a current, and solves Kirchhoff's equations (textbook nodal analysis).
"""

from __future__ import annotations

import numpy as np
import pytest

from inkthread.core.workings import Workings
from tests.conftest import HarnessBuilder


class Network:
    """Nodes are device pins and splices; wires, and paths that have a resistance, are resistors."""

    def __init__(self, w: Workings) -> None:
        self.w = w
        self.merged: dict[str, str] = {}
        inside = []
        for device_id, device in w.document.circuits.devices.items():
            for path_id, inner in device.paths.items():
                key = f"{device_id}.{path_id}"
                ends = (f"{device_id}.{inner.from_pin}", f"{device_id}.{inner.to_pin}")
                if w.wire.tables.path_ohm.get(key):
                    inside.append((key, *ends, w.wire.tables.path_ohm[key]))
                else:
                    self.merge(*ends)
        self.wires = [(key, self.node(a), self.node(b), ohms) for key, a, b, ohms in inside]
        for i, key in enumerate(w.wire.tables.keys):
            s = w.route.sections[key]
            metres = (s.length_mm + s.slack_mm) / 1000
            ohms = float(w.wire.tables.resistance_ohm_per_m[i, w.wire.tables.chosen[i]]) * metres + float(
                w.wire.tables.termination_ohm[i]
            )
            self.wires.append((key, self.node(s.a.id), self.node(s.b.id), ohms))

    def node(self, name: str) -> str:
        while name in self.merged:
            name = self.merged[name]
        return name

    def merge(self, a: str, b: str) -> None:
        a, b = self.node(a), self.node(b)
        if a != b:
            self.merged[b] = a

    def solve(self) -> tuple[dict[str, float], dict[str, float]]:
        """Node potentials in V and wire currents in A."""
        supply = self.w.document.brief.supply_working_v
        fixed: dict[str, float] = {}
        for device_id, device in self.w.document.circuits.devices.items():
            roles = {p.role for p in device.pins.values()}
            if "supply_out" in roles and "supply_in" not in roles:
                for pin, p in device.pins.items():
                    fixed[self.node(f"{device_id}.{pin}")] = supply if p.role == "supply_out" else 0.0
        touched = {n for _, a, b, _ in self.wires for n in (a, b)}
        names = sorted(touched - set(fixed))
        at = {n: i for i, n in enumerate(names)}
        matrix = np.zeros((len(names), len(names)))
        right = np.zeros(len(names))
        for _, a, b, ohms in self.wires:
            for here, other in ((a, b), (b, a)):
                if here not in at:
                    continue
                matrix[at[here], at[here]] += 1 / ohms
                if other in at:
                    matrix[at[here], at[other]] -= 1 / ohms
                else:
                    right[at[here]] += fixed[other] / ohms
        for load in self.w.document.circuits.loads.values():
            for pin, sign in ((load.supply_pin, -1), (load.return_pin, 1)):
                node = self.node(f"{load.device}.{pin}")
                if node in at:
                    right[at[node]] += sign * load.current_a
        # Signal wires float: least squares settles them without touching the rest.
        volts = np.linalg.lstsq(matrix, right, rcond=None)[0]
        potential = {**{n: float(volts[i]) for n, i in at.items()}, **fixed}
        currents = {key: abs(potential[a] - potential[b]) / ohms for key, a, b, ohms in self.wires}
        return potential, currents


def cases() -> dict[str, HarnessBuilder]:
    one = (
        HarnessBuilder("vehicle")
        .feed("B1 battery > F1 fuse > M1 pump 5 A > B1")
        .run("B1 200 > F1 900 > mid 400 > M1")
    )
    shared = (
        HarnessBuilder("motorsport")
        .feed(
            "B1 battery > F1 fuse > M1 pump 3 A > B1",
            "F1.out > E1 lamp 2 A > B1",
            "F1.out > R1 heater 4 A > B1",
        )
        .run("B1 150 > F1 600 > near 500 > far 700 > M1", "near 300 > E1", "far 250 > R1")
    )
    low_side = (
        HarnessBuilder("equipment")
        .feed(
            "B1 battery > F1 fuse > A1 controller 0.5 A > B1",
            "F1.out > Y1 valve 0.8 A > A1.O1",
            "B1.+ > F2 fuse > M1 fan 1.5 A > B1",
        )
        .run("B1 200 > F1 300 > A1 900 > Y1", "B1 250 > F2 1200 > M1")
    )
    relay = (
        HarnessBuilder("vehicle")
        .feed(
            "B1 battery > F1 fuse > K1 relay > M1 fan 9 A > B1",
            "F1.out > K1.86",
            "K1.85 > B1.-",
        )
        .set("circuits/loads/K1/current_a", 0.15)
        .run("B1 100 > F1 400 > K1 800 > M1")
    )
    found = {"one load": one, "shared trunk": shared, "low side": low_side, "relay": relay}
    for builder in found.values():
        for load in builder.plain["circuits"]["loads"].values():
            load["kind"] = "constant current"
    return found


@pytest.mark.parametrize("name", cases())
def test_currents_and_drops_agree_with_nodal_analysis(name):
    builder = cases()[name]
    w = builder.workings()
    network = Network(w)
    potential, currents = network.solve()
    supply = w.document.brief.supply_working_v
    assert w.wire.loops.keys() == w.document.circuits.loads.keys()
    for load_id, loop in w.wire.loops.items():
        load = w.document.circuits.loads[load_id]
        across = (
            potential[network.node(f"{load.device}.{load.supply_pin}")]
            - potential[network.node(f"{load.device}.{load.return_pin}")]
        )
        assert supply - across == pytest.approx(loop.drop_v, abs=2e-5)
    for key, made in w.wire.wires.items():
        assert currents[key] == pytest.approx(made.carries_a, abs=1e-5)


def test_larkspur_agrees_with_nodal_analysis(chassis):
    w = chassis.workings()
    potential, currents = Network(w).solve()
    supply = w.document.brief.supply_working_v
    pump = supply - (potential["M1.+"] - potential["M1.-"])
    assert pump == pytest.approx(w.wire.loops["M1"].drop_v, abs=2e-5)
    assert currents["C2"] == pytest.approx(4.0, abs=1e-6)
    assert currents["C5:B1.-"] == pytest.approx(5.2, abs=1e-6)
