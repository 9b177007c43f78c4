"""Answers of the bench put into a harness: what was asked is what stands there."""

from __future__ import annotations

import pytest

from inkthread.core.bench import CALCULATORS, BenchError, calculate, put_into
from inkthread.core.document import parse_document
from inkthread.storage.patches import apply_with_inverse
from tests.conftest import HarnessBuilder

_WIRE = {"family": "AS22759/32", "gauge": "12 AWG"}
ASKED = {
    "wire": {"practice": "vehicle", "amps": "3 A", "length": "1.5 m", "volts": "13.2 V", "ambient": "60 C"},
    "drop": {**_WIRE, "length": "4.2 m", "amps": "7.5 A", "volts": "13.2 V"},
    "ampacity": {**_WIRE, "ambient": "25 C"},
    "fuse": {"practice": "vehicle", "amps": "7.5 A", "rating": "15 A"},
    "bus": {"standard": "ISO11898-1M", "length": "12 m", "nodes": "4"},
    "short-time": {**_WIRE, "amps": "60 A", "seconds": "10 s", "rest": "2 A"},
    "convert": {"text": "18 AWG"},
}

NO_WIRE = {"fit", "splice", "kit", "lead", "cut", "bundle", "lay", "sleeve", "tape", "shrink", "label"}
"""What they answer is no wire of a harness."""


def put(builder: HarnessBuilder, calculator: str, **fields: str) -> HarnessBuilder:
    operations = put_into(builder.plain, builder.catalogue, calculator, {**ASKED[calculator], **fields})
    builder.plain, _ = apply_with_inverse(builder.plain, operations)
    parse_document(builder.plain)
    return builder


def test_every_calculator_can_be_put_into_a_harness():
    assert set(ASKED) == {k for k, c in CALCULATORS.items() if c.puts}
    assert {k for k, c in CALCULATORS.items() if not c.puts} == NO_WIRE
    with pytest.raises(BenchError, match="no place"):
        put_into(
            HarnessBuilder("vehicle").plain,
            HarnessBuilder().catalogue,
            "kit",
            {"housings": "4", "contacts": "3"},
        )


@pytest.mark.parametrize("calculator", ASKED)
@pytest.mark.parametrize("begun", [False, True])
def test_what_was_asked_stands_in_the_harness(calculator, begun, request):
    builder = request.getfixturevalue("pump") if begun else HarnessBuilder("vehicle")
    before = builder.evaluate().tally.wires
    e = put(builder, calculator).evaluate()
    assert e.tally.wires > before
    assert not [f for f in e.findings if f.code in ("no-feed", "no-return", "route-broken", "end-not-placed")]


def test_the_drop_of_the_bench_is_the_drop_in_the_harness():
    """4.2 m each way on the asked gauge, and a short lead to the fuse as thick."""
    e = put(HarnessBuilder("vehicle"), "drop").evaluate()
    asked = calculate(HarnessBuilder().catalogue, "drop", ASKED["drop"]).figures["drop_v"]
    (loop,) = e.wire.loops.values()
    wires = sum(e.wire.wires[w].loss_v for w in loop.wires)
    assert {e.wire.wires[w].gauge for w in loop.wires if e.wire.wires[w].fixed} == {"12 AWG"}
    # Contacts, slack and the fuse's own lead come on top; the bench knows of none.
    assert asked * 0.95 < wires < asked * 1.35


def test_the_gauge_of_the_bench_is_the_gauge_in_the_harness():
    e = put(HarnessBuilder("vehicle"), "wire").evaluate()
    asked = calculate(HarnessBuilder().catalogue, "wire", ASKED["wire"]).figures["gauge"]
    assert asked in {w.gauge for w in e.wire.wires.values()}


def test_a_bus_is_a_chain_of_nodes_within_its_length():
    e = put(HarnessBuilder("vehicle"), "bus")
    branches = e.plain["route"]["branches"].values()
    assert sum(b["length_mm"] for b in branches) == pytest.approx(12_000)
    (made,) = e.plain["circuits"]["buses"].values()
    assert len(made["circuits"]) == 2
    assert len(made["terminators"]) == 2


def test_what_has_no_answer_is_not_put_in():
    with pytest.raises(BenchError):
        put(HarnessBuilder("vehicle"), "wire", amps="")
    with pytest.raises(BenchError, match="Only a gauge"):
        put(HarnessBuilder("vehicle"), "convert", text="9 1/4 in")
