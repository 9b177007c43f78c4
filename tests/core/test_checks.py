"""Every check that ships has a harness that sets it off, and a wording that names its place."""

from __future__ import annotations

import pytest

from inkthread.catalogue import shipped_catalogue
from tests.conftest import Bench


def pump(practice: str = "vehicle", amps: float = 5) -> Bench:
    return Bench(practice).feed(f"B1 battery > F1 fuse > M1 pump {amps} A > B1").run("B1 200 > F1 900 > M1")


def fixed(bench: Bench, ends_at: str, **values: object) -> Bench:
    key = next(k for k, w in bench.evaluate().wire.wires.items() if w.to_text.startswith(ends_at))
    return bench.set(f"wire/fixed/{key}", {"order": 1, "reason": "", **values})


def hot(bench: Bench, ambient_c: float) -> Bench:
    bench.set("brief/zones", {"z": {"order": 1, "name": "Oven", "ambient_c": ambient_c}})
    for branch in bench.plain["route"]["branches"].values():
        branch["zone"] = "z"
    return bench


def without(bench: Bench, path: str) -> Bench:
    *parents, last = path.split("/")
    node = bench.plain
    for part in parents:
        node = node[part]
    del node[last]
    return bench


def same_colour() -> Bench:
    bench = pump()
    keys = [k for k, w in bench.evaluate().wire.wires.items() if "M1" in w.from_text + w.to_text]
    for n, key in enumerate(keys):
        bench.set(f"wire/fixed/{key}", {"order": n, "reason": "one spool", "colour": "PK"})
    return bench


def many_ways() -> Bench:
    """Six heavy feeds in one splice: more copper than any barrel takes."""
    bench = Bench("vehicle")
    for n in range(1, 7):
        bench.feed(f"{'B1 battery' if n == 1 else 'B1.+'} > F{n} fuse > R{n} heater 30 A > B1")
    bench.run("B1 400 > hub")
    for n in range(1, 7):
        bench.run(f"hub 600 > F{n} 900 > R{n}")
    return bench


def sized_for_ends() -> Bench:
    bench = Bench("equipment").set("wire/family", "PVC-GENERAL")
    return bench.feed("A1 controller 0.1 A", "T1 level sensor", "A1.I1 > T1 > A1.N1").run("A1 400 > T1")


SCENARIOS = {
    "feed-unprotected": lambda: Bench().feed("B1 battery > M1 pump 5 A > B1").run("B1 300 > M1"),
    "fuse-above-weakest": lambda: pump().set("circuits/devices/F1/paths/1/rating_a", 30.0),
    "fuse-none-large-enough": lambda: pump(amps=290),
    "drop-over-limit": lambda: fixed(pump(), "M1", gauge="20 AWG").set("route/branches/R2/length_mm", 9000.0),
    "contact-overloaded": lambda: pump(amps=20),
    "conductor-outside-contact": lambda: fixed(pump(), "M1", gauge="10 AWG"),
    "insulation-too-thick": sized_for_ends,
    "insulation-too-thin": lambda: fixed(
        pump("motorsport", 0.5).set("brief/house_rules", {}), "M1", gauge="20 AWG"
    ),
    "cavity-used-twice": lambda: pump().set("ends/pinout/M1.-/cavity", "1"),
    "pin-unconnected": lambda: pump().feed("A1 controller 1 A"),
    "circuit-one-end": lambda: without(pump(), "circuits/circuits/C3/ends/B1.-"),
    "no-feed": lambda: pump().feed("E1 lamp 1 A > B1"),
    "no-return": lambda: without(pump(), "circuits/circuits/C3"),
    "short-circuit": lambda: pump().feed("F1.out > B1.-"),
    "load-not-stated": lambda: pump(amps=0),
    "zone-too-hot": lambda: hot(pump(), 140),
    "low-side-as-supply": lambda: pump().feed(
        "A1 controller 1 A", "E1 lamp 1 A", "A1.O1 > E1.+", "E1.- > B1.-"
    ),
    "nothing-fits": lambda: hot(pump(amps=12), 122),
    "end-not-placed": lambda: without(pump(), "ends/pinout/M1.+"),
    "connector-not-placed": lambda: pump().set("ends/connectors/M1/point", None),
    "route-broken": lambda: without(pump(), "route/branches/R2"),
    "fixed-unknown": lambda: fixed(pump(), "M1", gauge="9 AWG"),
    "fixed-fails": lambda: fixed(pump(), "M1", gauge="22 AWG"),
    "fixed-orphan": lambda: pump().set("wire/fixed/C99", {"order": 1, "reason": "", "gauge": "18 AWG"}),
    "splice-none-fits": many_ways,
    "colour-repeats": same_colour,
}


@pytest.mark.parametrize("code", SCENARIOS)
def test_check_is_set_off_and_speaks_plainly(code):
    found = [f for f in SCENARIOS[code]().evaluate().findings if f.code == code]
    assert found, f"{code} was not set off"
    check = shipped_catalogue().checks[code]
    for f in found:
        assert f.severity == check.severity
        assert f.places
        assert f.remedies
        for text in (f.what, f.why, *(r.text for r in f.remedies)):
            assert text
            assert "{" not in text
            assert "  " not in text
            assert not text.endswith(" .")


def test_every_check_that_ships_is_tried_here():
    assert set(SCENARIOS) == set(shipped_catalogue().checks)


@pytest.mark.parametrize("code", ["fuse-above-weakest", "fixed-fails", "fixed-unknown", "fixed-orphan"])
def test_a_mechanical_remedy_removes_its_finding(code):
    from inkthread.storage.patches import apply_with_inverse

    bench = SCENARIOS[code]()
    finding = next(f for f in bench.evaluate().findings if f.code == code)
    remedy = next(r for r in finding.remedies if r.operations)
    bench.plain, _ = apply_with_inverse(bench.plain, list(remedy.operations))
    assert code not in bench.codes()


def test_a_sound_harness_sets_off_nothing(larkspur):
    assert larkspur.codes() == []
    assert pump().codes() == []
