"""Which families a wire may be made in: fixed, of its group, of its circuit, an ignition lead's, the harness's."""

from __future__ import annotations

from inkthread.core.document import parse_document
from inkthread.core.wire.families import FamiliesAsked
from tests.conftest import HarnessBuilder


def asked(builder: HarnessBuilder, lead: str | None = "LEAD") -> FamiliesAsked:
    return FamiliesAsked(parse_document(builder.plain), "HARNESS", lead)


def lamp() -> tuple[HarnessBuilder, str]:
    builder = HarnessBuilder("vehicle").feed("B1 battery > F1 fuse").feed("F1.out > E1 lamp 1 A > B1")
    circuits = builder.plain["circuits"]["circuits"]
    return builder, next(k for k, c in circuits.items() if "E1.+" in c["ends"])


def test_the_harness_family_then_those_that_are_used_too():
    builder, circuit = lamp()
    assert asked(builder).of(circuit, f"{circuit}:E1.+") == ("HARNESS",)
    builder.set("wire/also/SECOND", {"order": 2}).set("wire/also/FIRST", {"order": 1})
    builder.set("wire/also/HARNESS", {"order": 0})
    assert asked(builder).of(circuit, circuit) == ("HARNESS", "FIRST", "SECOND")


def test_what_is_nearer_to_the_wire_goes_before():
    builder, circuit = lamp()
    other = next(k for k in builder.plain["circuits"]["circuits"] if k != circuit)
    builder.set(f"circuits/circuits/{circuit}/family", "OF-CIRCUIT")
    assert asked(builder).of(circuit, "w") == ("OF-CIRCUIT",)
    group = {"order": 1, "name": "", "kind": "pair", "family": "OF-GROUP"}
    group["members"] = {circuit: {"order": 1}, other: {"order": 2}}
    builder.set("circuits/groups/G1", group)
    assert asked(builder).of(circuit, "w") == ("OF-GROUP",)
    assert asked(builder).of(circuit, "w", alone=True) == ("OF-CIRCUIT",)
    builder.set("circuits/groups/G2", {**group, "order": 2, "family": "LATER"})
    assert asked(builder).of(circuit, "w") == ("OF-GROUP",), "the first group that names one"
    builder.set("wire/fixed/w", {"order": 1, "reason": "", "family": "FIXED", "gauge": None, "colour": None})
    assert asked(builder).of(circuit, "w") == ("FIXED",)
    assert asked(builder).of(circuit, "another") == ("OF-GROUP",)


def test_an_ignition_lead_is_made_as_one_unless_somebody_says_otherwise():
    builder, circuit = lamp()
    builder.plain["circuits"]["devices"]["E1"]["pins"]["+"]["role"] = "ignition"
    assert asked(builder).of(circuit, "w") == ("LEAD",)
    assert asked(builder, None).of(circuit, "w") == ("HARNESS",)
    builder.set(f"circuits/circuits/{circuit}/family", "OF-CIRCUIT")
    assert asked(builder).of(circuit, "w") == ("OF-CIRCUIT",)
