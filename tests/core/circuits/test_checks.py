"""Every check of the room has a harness that sets it off, and a wording that names its place."""

from __future__ import annotations

import pytest

from tests.conftest import HarnessBuilder
from tests.core.checks import says_plainly
from tests.core.scenarios import (
    bare_coils,
    bus,
    cabled,
    caught,
    crossed,
    distributor,
    fixed,
    ignition,
    outputs_joined,
    pump,
    replacing,
    sensor,
    shared_return,
    source,
    switching,
    thread,
    two_feeds,
    two_lamps,
    without,
    wooden,
    zoned,
)
from tests.core.wire.test_groups import shielded

SCENARIOS = {
    "feed-unprotected": lambda: HarnessBuilder().feed("B1 battery > M1 pump 5 A > B1").run("B1 300 > M1"),
    "fuse-above-weakest": lambda: pump().set("circuits/devices/F1/paths/1/rating_a", 30.0),
    "fuse-none-large-enough": lambda: pump(amps=290),
    "drop-over-limit": lambda: fixed(pump(), "M1", gauge="20 AWG").set("route/branches/R2/length_mm", 9000.0),
    "pin-unconnected": lambda: pump().feed("A1 controller 1 A"),
    "circuit-one-end": lambda: without(pump(), "circuits/circuits/C3/ends/B1.-"),
    "no-feed": lambda: pump().feed("E1 lamp 1 A > B1"),
    "load-of-other-volts": lambda: pump().set("circuits/loads/M1/rated_v", 24.0),
    "no-return": lambda: without(pump(), "circuits/circuits/C3"),
    "short-circuit": lambda: pump().feed("F1.out > B1.-"),
    "load-not-stated": lambda: pump(amps=0),
    "cable-without-part": lambda: cabled(family=None),
    "cable-parts-ways": lambda: cabled(apart=True),
    "low-side-as-supply": lambda: pump().feed(
        "A1 controller 1 A", "E1 lamp 1 A", "A1.O1 > E1.+", "E1.- > B1.-"
    ),
    "group-apart": lambda: (
        pump().set("circuits/devices/M1/pins/+/group", "a").set("circuits/devices/M1/pins/-/group", "a")
    ),
    "pin-source-missing": sensor,
    "pin-page-missing": lambda: pump().set("circuits/devices/M1/pin_data", "document"),
    "data-on-power": lambda: pump().feed("A2 dash node 0.2 A", "A2.H > B1.-"),
    "outputs-joined": outputs_joined,
    "sources-in-parallel": lambda: pump().feed("B2 battery", "B2.+ > B1.+", "B2.- > B1.-"),
    "fed-from-both-ends": lambda: pump().feed("B2 battery", "B2.+ > B1.+", "B2.- > B1.-"),
    "device-loop": lambda: pump().feed("F2 fuse", "F1.out > F2.in", "F2.out > F1.in"),
    "path-bypassed": lambda: pump().feed("F2 fuse", "F1.out > F2.in", "F1.out > F2.out"),
    "structure-absent": wooden,
    "fuse-never-clears": lambda: source(pump(amps=3), kind="limited supply", limit_a=5.0),
    "fuse-cannot-interrupt": lambda: source(pump(), internal_mohm=4.0),
    "fuse-voltage": lambda: source(pump(), nominal_v=48.0, internal_mohm=100.0),
    "fuse-opens-at-inrush": lambda: (
        pump().set("circuits/loads/M1/inrush_a", 60.0).set("circuits/loads/M1/inrush_s", 0.2)
    ),
    "switch-underrated": lambda: (
        HarnessBuilder("aviation")
        .feed("B1 battery > F1 fuse > S1 switch > M1 fan 5 A > B1")
        .set("circuits/devices/S1/paths/1/contact_a", 8.0)
    ),
    "kill-leaves-alive": lambda: (
        HarnessBuilder()
        .feed(
            "B1 battery > F1 fuse > S1 kill > M1 pump 5 A > B1", "G1 alternator", "G1.+ > M1.+", "G1.- > B1.-"
        )
        .run("B1 100 > F1 500 > S1 500 > M1 100 > G1")
    ),
    # Route
    "splices-in-run": lambda: thread(two_lamps("aviation", 2000), "cascade"),
    "ignition-together": ignition,
    "signal-beside-ignition": ignition,
    "signal-in-noise": lambda: zoned(sensor(), noisy=True),
    "data-crossed": crossed,
    "engine-bond-not-said": distributor,
    "bus-over-budget": lambda: bus("ISO11898-1M", 60_000.0),
    "bus-terminators": lambda: bus("ISO11898-1M", 900.0),
    # Wire
    "brown-out": lambda: pump().set("circuits/loads/M1/least_v", 12.5),
    "duty-without-cycle": lambda: pump().set("circuits/loads/M1/duty_percent", 25.0),
    "fuses-in-parallel": lambda: pump().feed("B1.+ > F2 fuse", "F2.out > M1.+").run("B1 500 > F2"),
    "feed-over-its-fuse": lambda: HarnessBuilder("vehicle").feed(
        "W1 machine feed fuse 5 A > E1 lamp 4.5 A > W1"
    ),
    "fuse-below-load": lambda: pump(amps=9).set("circuits/devices/F1/paths/1/rating_a", 10.0),
    "brown-out-at-peak": lambda: (
        source(two_lamps("vehicle", 300), internal_mohm=200.0)
        .set("circuits/loads/E1/peak_a", 20.0)
        .set("circuits/loads/E2/least_v", 10.0)
    ),
    "supply-collapses": lambda: (
        fixed(pump(amps=14), "M1", gauge="22 AWG")
        .set("circuits/loads/M1/kind", "constant power")
        .set("route/branches/R2/length_mm", 60_000.0)
    ),
    "sensor-return-shared": shared_return,
    "peak-too-hot": lambda: (
        pump().set("circuits/loads/M1/peak_a", 300.0).set("circuits/loads/M1/peak_s", 10.0)
    ),
    "fault-too-weak": lambda: fixed(pump(), "M1", gauge="22 AWG").set(
        "route/branches/R2/length_mm", 60_000.0
    ),
    "fault-melts-wire": lambda: fixed(
        source(pump().set("circuits/devices/F1/paths/1/rating_a", 40.0), internal_mohm=5.0),
        "M1",
        gauge="22 AWG",
    ).set("route/branches/R2/length_mm", 300.0),
    "unprotected-too-long": lambda: pump().set("route/branches/R1/length_mm", 900.0),
    "leads-bare": lambda: (
        pump().set("circuits/devices/M1/fitted", "flying leads").set("circuits/devices/M1/lead_mm", 200.0)
    ),
    # Pairs, shields, cables
    "shield-broken": lambda: shielded(tub={"shield": None}),
    "shield-landing": lambda: shielded(bay={"shield_rule": "both ends"}, tub={"shield_rule": "both ends"}),
    "shield-missing": lambda: shielded(tub={"shield": None}),
    "pair-apart": lambda: bus("ISO11898-1M", 900.0),
    "cable-too-few-cores": lambda: shielded(tub={"members": {c: {"order": 1} for c in ("S1", "R1", "D1")}}),
    # Ends and dress
    "coil-kicks": bare_coils,
    "switching-differs": switching,
    "old-wires-alike": lambda: replacing("brown", "brown"),
    "nothing-to-go-by": lambda: pump().set("brief/job", "replacement"),
    "sensor-miswired": lambda: caught("C10"),
    "polarity-not-known": lambda: caught("C11"),
    "polarity-demanded": lambda: without(caught("C11", twin=True), "circuits/devices/S1/polarised"),
    "switch-bypassed": lambda: caught("C07"),
    "fed-twice": lambda: two_feeds("F1 > S1 switch > M1.+", "F2 > S2 switch > M1.+"),
    "instrument-in-noise": lambda: caught("C24"),
    "bus-not-declared": lambda: caught("C35"),
    "return-join-not-said": lambda: two_lamps("vehicle", 900),
}


@pytest.mark.parametrize("code", SCENARIOS)
def test_check_is_set_off_and_speaks_plainly(code):
    says_plainly(SCENARIOS[code](), code)


@pytest.mark.parametrize(
    ("rated_v", "found"),
    [(13.2 * 1.25, False), (13.2 * 1.2501, True), (13.2 * 0.75, False), (13.2 * 0.7499, True), (12, False)],
)
def test_a_load_may_be_stated_for_its_source_s_volts_give_or_take_a_quarter(rated_v, found):
    """Common practice, no source: 12 V things run on 14.4 V while the battery is charged."""
    builder = pump("vehicle").set("circuits/loads/M1/rated_v", rated_v)
    assert builder.plain["brief"]["supply_working_v"] == 13.2
    assert ("load-of-other-volts" in builder.codes()) is found
