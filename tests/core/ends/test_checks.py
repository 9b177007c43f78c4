"""Every check of the room has a harness that sets it off, and a wording that names its place."""

from __future__ import annotations

import pytest

from tests.conftest import HarnessBuilder
from tests.core.checks import says_plainly
from tests.core.scenarios import (
    caught,
    distributor,
    elbows,
    extension,
    fanned,
    fixed,
    gone,
    half,
    hot,
    ignition,
    no_tool,
    no_turn,
    owned,
    ports,
    pump,
    ruled,
    same_colour,
    sensor_on,
    singles,
    sized_for_ends,
    soldered,
    source,
    thread,
    three_lamps,
    through,
    turned,
    two_halves,
    two_lamps,
    without,
    zoned,
)
from tests.core.wire.test_groups import shielded

SCENARIOS = {
    "contact-overloaded": lambda: pump(amps=20, end=" (SR16)"),
    "conductor-outside-contact": lambda: fixed(pump(), "M1", gauge="10 AWG"),
    "insulation-too-thick": sized_for_ends,
    "insulation-too-thin": lambda: fixed(
        pump("motorsport", 0.5).set("brief/house_rules", {}), "M1", gauge="20 AWG"
    ),
    "cavity-used-twice": lambda: pump().set("ends/pinout/M1.-/cavity", "1"),
    "end-not-placed": lambda: without(pump(), "ends/pinout/M1.+"),
    "connector-not-placed": lambda: pump().set("ends/connectors/M1/point", None),
    "colour-repeats": same_colour,
    # Circuits
    "ignition-in-low-voltage": ignition,
    "lead-end-elsewhere": lambda: distributor().set("ends/connectors/X1-2/family", "IGN8"),
    "pair-split": lambda: (
        shielded().set("ends/connectors/A1xc/family", "SS15").set("ends/pinout/A1.cR/cavity", "4")
    ),
    "too-many-in-one": lambda: thread(two_lamps("vehicle", 900), "home runs"),
    "gender-muddle": lambda: half(contact_gender="pin"),
    "halves-do-not-mate": lambda: half(meets="F1"),
    "contacts-turned-over": lambda: two_halves(turned_over=True),
    "pair-differs": lambda: through("2143"),
    "extension-differs": extension,
    "polarity-swapped": lambda: sensor_on("SV3", 3, supply="2", ground="1", signal="3"),
    "may-shake-loose": lambda: zoned(pump(), vibration=True),
    "not-tight-enough": lambda: zoned(half(family="LN21"), wet=True),
    "fluid-not-stood": lambda: hot(pump(), 40).set("brief/zones/z/fluids", "fuel, brake fluid"),
    "connector-voltage": lambda: source(half(family="SN06"), nominal_v=72.0),
    "accessory-does-not-fit": lambda: half(accessories={"DSTD-BS9": {"order": 1}}),
    "spare-left-open": lambda: zoned(half(ways=3, spares={"3": {"order": 1, "state": "open"}}), wet=True),
    "live-pins-swing": lambda: half(shell="receptacle", contact_gender="pin"),
    "row-of-singles": singles,
    "look-alikes": lambda: (
        HarnessBuilder("vehicle")
        .feed("B1 battery > F1 fuse > E1 lamp 1 A > B1", "B1.+ > F2 fuse > E2 lamp 1 A > B1")
        .run("B1 100 > F1 300 > E1 100 > E2", "B1 100 > F2")
    ),
    "elbows-not-clocked": elbows,
    "tool-not-on-record": no_tool,
    "solid-in-crimp": lambda: pump().set("wire/family", "SOLID-HOOKUP"),
    "tool-worn": lambda: owned(result="failed", gauged_on="2026-02-03"),
    "tool-unverified": owned,
    "part-gone": gone,
    "fan-out-too-long": lambda: fanned(26.0),
    "fan-out-short": lambda: fanned(13.0),
    "mate-not-known": lambda: pump().set("brief/job", "extension"),
    "port-not-named": ports,
    "contacts-turned-apart": lambda: turned(0.0, 90.0),
    "contact-turn-not-known": no_turn,
    "cable-outside-entry": lambda: sensor_on("M12S", 4, supply="1", ground="3", signal="4"),
    # What a harness of lines in tests/catches sets off too
    "lug-soldered": lambda: soldered(pump(amps=60, end=" (RING)"), "B1.+"),
    "joint-unsuitable": lambda: pump().set("ends/pinout/M1.+/joint", "clamped"),
    "contact-soldered-shakes": lambda: zoned(soldered(pump(), "M1.+"), vibration=True),
    "unlined-in-wet": lambda: zoned(half(connector="B1", family="RINGI", stud="M6"), wet=True),
    "crimp-not-seen": lambda: half(connector="B1", family="RINGI", stud="M6"),
    "doubled-wires": lambda: ruled(thread(three_lamps(), "home runs"), doubled_wires=0.0),
    "tool-undated": lambda: owned(result="passed"),
    "tool-gauged-long-ago": lambda: owned(result="passed", gauged_on="2019-02-03"),
    "tool-barred": lambda: owned("aviation"),
    "extension-ends-not-said": lambda: without(caught("C38", twin=True), "ends/connectors/E1/same_as"),
}


@pytest.mark.parametrize("code", SCENARIOS)
def test_check_is_set_off_and_speaks_plainly(code):
    says_plainly(SCENARIOS[code](), code)
